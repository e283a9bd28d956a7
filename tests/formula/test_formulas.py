"""Formulas against Python's own evaluation, CSS's definitions and coloraide; and what may not get through."""

import ast
import math

import numpy as np
import pytest
from coloraide import Color
from hypothesis import assume, given
from hypothesis import strategies as st

import chalcedon.scene.colorwords  # noqa: F401, its functions are listed
from chalcedon.formula import Formula, FormulaProblem, plus, plus_point
from chalcedon.formula.chance import noise, raw_noise, share
from chalcedon.formula.easing import easing
from chalcedon.formula.memory import Memory
from chalcedon.formula.noisecolumns import noise_column
from chalcedon.formula.program import compiled
from chalcedon.formula.relative import less, minus, times
from chalcedon.formula.syntax import looks_like_formula, parse, parses
from chalcedon.formula.table import FUNCTIONS
from chalcedon.formula.types import LIST, NUMBER, POINT, SHAPE, SWITCH, TEXT
from chalcedon.problems import ValueProblem, nearest

KNOWN = {
    ("a",): (NUMBER, 3),
    ("b",): (NUMBER, -0.5),
    ("lit",): (SWITCH, True),
    ("name",): (TEXT, "Quay"),
    ("moon", "at"): (POINT, (7.0, -2.0)),
    ("moon",): (SHAPE, None),
    ("time",): (NUMBER, 0.25),
    ("", "seed"): (NUMBER, 4),
    ("", "keys"): (LIST, {"a"}),
}


class Names:
    def __init__(self, known=KNOWN):
        self.known = known

    def kind(self, path):
        if path in self.known:
            return self.known[path][0]
        raise ValueProblem(f"there is nothing called {path[0]}.", hint=nearest(path[0], [k[0] for k in self.known]))


def worked_out(text, known=KNOWN, memories=()):
    program = compiled(text, Names(known))
    return program.run([*(known[path][1] for path in program.reads), *memories])


numbers = st.one_of(st.integers(-20, 20), st.floats(-50, 50).map(lambda v: round(v, 3))).map(repr)
words = st.sampled_from(["a", "b", "lit"])


def grown(inner):
    pair = st.tuples(inner, inner)
    return st.one_of(
        st.tuples(st.sampled_from(["+", "-", "*", "/", "//", "%"]), pair).map(
            lambda v: f"({v[1][0]} {v[0]} {v[1][1]})"
        ),
        st.tuples(inner, st.integers(-3, 4)).map(lambda v: f"({v[0]}) ** {v[1]}"),
        st.tuples(st.sampled_from(["<", "<=", ">", ">=", "==", "!="]), pair, inner).map(
            lambda v: f"({v[1][0]} {v[0]} {v[1][1]} < {v[2]})"
        ),
        st.tuples(st.sampled_from(["and", "or"]), pair).map(lambda v: f"({v[1][0]} {v[0]} {v[1][1]})"),
        inner.map(lambda v: f"(not {v})"),
        inner.map(lambda v: f"(-{v})"),
        st.tuples(inner, inner, inner).map(lambda v: f"({v[0]} if {v[1]} else {v[2]})"),
        st.tuples(inner, inner, inner).map(lambda v: f"({v[0]} in ({v[1]}, {v[2]}))"),
        st.tuples(inner, inner).map(lambda v: f"max({v[0]}, {v[1]})"),
        inner.map(lambda v: f"abs({v})"),
    )


expressions = st.recursive(st.one_of(numbers, words), grown, max_leaves=12)


@given(expressions)
def test_a_formula_comes_to_what_python_makes_of_it(text):
    plain = {path[0]: value for path, (_kind, value) in KNOWN.items() if len(path) == 1}
    try:
        expected = eval(text, {"max": max, "abs": abs}, plain)
    except (ZeroDivisionError, OverflowError):
        with pytest.raises(FormulaProblem):
            worked_out(text)
        return
    assume(not isinstance(expected, complex))
    found = worked_out(text)
    assert found == expected or (math.isnan(found) and math.isnan(expected))


@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=2, max_size=2), st.floats(-9, 9))
def test_points_are_taken_number_by_number(points, k):
    known = {**KNOWN, ("p",): (POINT, points[0]), ("q",): (POINT, points[1]), ("k",): (NUMBER, k)}
    p, q = (np.array(v) for v in points)
    assert worked_out("p + q * k - (1, 2)", known) == pytest.approx(tuple(p + q * k - (1, 2)))
    assert worked_out("-p", known) == tuple(-p)
    assert worked_out("clamp(p, -5, 5)", known) == pytest.approx(tuple(np.clip(p, -5, 5)))
    assert worked_out("distance(p, q)", known) == pytest.approx(np.hypot(*(q - p)))
    turned = worked_out("turn(p, 90, q)", known)
    assert turned == pytest.approx((q[0] - (p[1] - q[1]), q[1] + (p[0] - q[0])))
    assert worked_out("(p + q).y", known) == pytest.approx(points[0][1] + points[1][1])


@pytest.mark.parametrize(
    "text",
    [
        "__import__('os').system('true')",
        "().__class__.__bases__",
        "moon.at.__class__",
        "moon._node",
        "name.format(a)",
        "'{0.__class__}'.format(a)",
        "f'{a!r}'",
        "f'{a:{b}}'",
        "f'{name:>99999999}'",
        "[x for x in (1, 2)]",
        "(x for x in (1, 2))",
        "{a: b}",
        "{a}",
        "lambda: a",
        "(y := 3)",
        "max(*(1, 2))",
        "max(**name)",
        "moon[0]",
        "await a",
        "yield a",
        "eval('a')",
        "open('x')",
        "getattr(moon, 'at')",
        "a.real",
        "abs.__self__",
        "b'bytes'",
        "1j",
        "...",
        "a; b",
        "import os",
        "a\nb",
        "a if b",
        "a is b",
        "a @ b",
        "a << 99999",
        "~a",
        "'x' * 9999999",
        "name * a",
        "name % a",
        "9 ** 9 ** 9 ** 9",
        "(" * 300 + "a" + ")" * 300,
        "+".join(["a"] * 1200),
        "not " * 500 + "a",
        "a + " * 250 + "a",
        "",
        "   ",
        "moon",
        "moon + 1",
        "time()",
        "abs(abs)",
        "f(a)",
        "nothing.at",
        "\ud800",
        "a\x00b",
    ],
)
def test_what_is_not_listed_does_not_get_through(text):
    with pytest.raises(FormulaProblem) as problem:
        worked_out(text)
    said = str(problem.value)
    assert said and len(said) < 400 and "Traceback" not in said


@pytest.mark.parametrize(
    ("text", "part", "said"),
    [
        ("a / (b + 0.5)", "a / (b + 0.5)", "divides by zero"),
        ("2 + sqrt(b)", "sqrt(b)", "X must not be negative"),
        ("litt + 1", "litt", "Did you mean lit?"),
        ("clampp(a, 0, 1)", "clampp", "Did you mean clamp?"),
        ("clamp(a, 0)", "clamp(a, 0)", "lacks high"),
        ("clamp(a, 0, 1, 2)", "2", "takes 3 values"),
        ("clamp(a, 0, high=1, hihg=2)", "hihg=2", "Did you mean high?"),
        ("clamp(a, 0, 1, x=2)", "x=2", "x twice"),
        ("sin(moon.at.x + name)", "name", "a text"),
        ("distance(a, moon.at)", "a", "is a point; this is a number"),
        ("mix(1, 2)", "mix(1, 2)", "lacks t"),
        ("a = 3", "= 3", "=="),
        ("(a + 1", "(a + 1", "A bracket is open"),
        ("a ^ 2", "a ^ 2", "**"),
        ("ease(b, 'easy')", "ease(b, 'easy')", "Did you mean ease?"),
        ("wave(0)", "wave(0)", "divides by zero"),
        ("é + lok", "é", "nothing called é"),
        ("'é' + name + 1", "'é' + name", "works with numbers"),
    ],
)
def test_mistakes_are_said_and_shown_where_they_are(text, part, said):
    known = {**KNOWN, ("moon", "at", "x"): (NUMBER, 7)}
    with pytest.raises(FormulaProblem) as problem:
        worked_out(text, known)
    assert said in str(problem.value)
    assert text[problem.value.first : problem.value.last].strip("() ") == part.strip("() ")


def test_texts_that_differ_in_numbers_share_one_code():
    first, second = compiled("a - 130", Names()), compiled("a  -  118.5", Names())
    assert first.code is second.code and (first.run([200]), second.run([200])) == (70, 81.5)
    assert compiled("a + 130", Names()).code is not first.code


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        ("120*2", False),
        ("1e3", False),
        ("-5", False),
        ("#d97b4a", False),
        ("moon.radius", True),
        ("tide", True),
        ("sin(", True),
        ("moon.", True),
        ("f'{1}'", True),
        ("12 px", False),
    ],
)
def test_a_text_with_a_name_is_meant_as_a_formula(typed, meant):
    assert looks_like_formula(typed) is meant


def bezier_by_roots(x1, y1, x2, y2, t):
    """The definition of CSS Easing Functions 1, solved by another way: the roots of a cubic."""
    roots = np.roots([1 + 3 * x1 - 3 * x2, 3 * x2 - 6 * x1, 3 * x1, -t])
    s = next(r.real for r in roots if abs(r.imag) < 1e-7 and -1e-9 <= r.real <= 1 + 1e-9)
    return 3 * y1 * s * (1 - s) ** 2 + 3 * y2 * s * s * (1 - s) + s**3


@given(
    *[st.floats(0, 1).map(lambda v: round(v, 3))] * 2,
    *[st.floats(-1, 2).map(lambda v: round(v, 3))] * 2,
    st.floats(0.01, 0.99),
)
def test_curves_ease_as_css_defines_them(x1, x2, y1, y2, t):
    found = easing(f"cubic-bezier({x1}, {y1}, {x2}, {y2})")(t)
    assert found == pytest.approx(bezier_by_roots(x1, y1, x2, y2, t), abs=2e-4)


@pytest.mark.parametrize(
    ("curve", "before", "after"),
    [
        ((0.25, 0.5, 0.75, 0.1), 2.0, 3.6),
        ((0, 0, 0.5, 1), 2.0, 0.0),
        ((0, 1, 0.5, 0.25), 0.0, 1.5),
        ((0.5, 0, 1, 1), 0.0, 2.0),
        ((0.5, 0.25, 1, 0.5), 0.5, 0.0),
        ((0, 0, 1, 1), 1.0, 1.0),
        ((1, 1, 1, 1), 1.0, 0.0),
    ],
)
def test_a_curve_goes_straight_on_beyond_its_ends(curve, before, after):
    """CSS Easing Functions 1, section 2.2: as its ends leave, by their control or, where that is none, the other."""
    ease = easing("cubic-bezier({}, {}, {}, {})".format(*curve))
    assert [ease(t) for t in (-1, -0.25, 0)] == pytest.approx([-before, -before / 4, 0])
    assert [ease(t) for t in (1, 1.25, 3)] == pytest.approx([1, 1 + after / 4, 1 + 2 * after])


@pytest.mark.parametrize(
    ("how", "at", "expected"),
    [
        ("linear", (0, 0.3, 1), (0, 0.3, 1)),
        ("steps(4)", (0, 0.24, 0.25, 0.99, 1), (0, 0, 0.25, 0.75, 1)),
        ("steps(4, jump-start)", (0, 0.24, 0.25, 1), (0.25, 0.25, 0.5, 1)),
        ("steps(2, jump-none)", (0, 0.49, 0.5, 1), (0, 0, 1, 1)),
        ("steps(2, jump-both)", (0, 0.5, 1), (1 / 3, 2 / 3, 1)),
        ("step-start", (0, 0.5), (1, 1)),
        ("step-end", (0.5, 1), (0, 1)),
        ("ease-in-out", (0, 0.5, 1), (0, 0.5, 1)),
    ],
)
def test_steps_ease_as_css_defines_them(how, at, expected):
    assert [easing(how)(t) for t in at] == pytest.approx(list(expected), abs=1e-9)


@pytest.mark.parametrize(("how", "fewest"), [("jump-start", 1), ("jump-end", 1), ("jump-both", 1), ("jump-none", 2)])
def test_steps_are_as_many_as_css_asks_for(how, fewest):
    """CSS Easing Functions 1, section 2.3: a positive number, and more than 1 for jump-none."""
    assert easing(f"steps({fewest}, {how})")(1.0) == 1
    with pytest.raises(ValueProblem, match="too few steps"):
        easing(f"steps({fewest - 1}, {how})")


@pytest.mark.parametrize("function", [f for f in FUNCTIONS.values() if any(not p.needed for p in f.params)])
def test_what_may_be_left_out_means_the_same_as_its_default(function):
    """Also where what is given is a point, which is taken number by number."""
    if "memory" in function.needs or any(p.kind & SHAPE or p.rest for p in function.params):
        return  # they ask what was before, or a scene
    samples = {"number": ["2.5", "a"], "point": ["(1.25, 3.5)", "moon.at"], "text": ["'red'"], "switch": ["lit"]}
    needed = [p for p in function.params if p.needed]
    optional = [p for p in function.params if not p.needed]
    for kind, values in samples.items():
        if any(kind not in p.kind for p in needed) and kind != "number":
            continue
        for value in values:
            own = [value if kind in p.kind else samples[next(iter(p.kind))][0] for p in needed]
            for count in range(len(optional) + 1):
                said = [repr(p.default) for p in optional[:count]]
                first = worked_out(f"{function.name}({', '.join(own)})")
                assert worked_out(f"{function.name}({', '.join([*own, *said])})") == first, (value, count)


def test_keyframes_and_waves():
    frames = "keyframes({}, (0, 10), (1, 60, 'ease-out'), (3, 0))"
    at = [worked_out(frames.format(t)) for t in (-1, 0, 1, 2, 3, 9)]
    assert at == pytest.approx([10, 10, 60, 30, 0, 0])
    assert worked_out(frames.format(0.5)) == pytest.approx(10 + 50 * easing("ease-out")(0.5))
    assert worked_out("keyframes(0.5, (0, (0, 4)), (1, (10, 8)))") == (5, 6)
    assert worked_out("keyframes(0.5, (0, 'quay'), (1, 'pier'))") == "quay"
    with pytest.raises(FormulaProblem, match="in order"):
        worked_out("keyframes(0, (2, 1), (1, 1))")
    for odd in ("(1,)", "(1, 60, 'ease', 3)", "(1, 60, 3)", "('dusk', 60)"):
        with pytest.raises(FormulaProblem, match="a frame is"):
            worked_out(f"keyframes(0, (0, 1), {odd})")
    forms = {"sine": 0.5, "triangle": 0.5, "square": 0, "saw": 0.25}
    for form, expected in forms.items():
        assert worked_out(f"wave(1, 0, 1, '{form}')") == pytest.approx(expected, abs=1e-9)
    assert [worked_out(f"pulse(0.5, {s})") for s in (0.4, 0.6)] == [0, 1]


@given(st.floats(-1e6, 1e6), st.floats(-1e6, 1e6), st.integers(0, 5))
def test_noise_is_coherent_bounded_and_repeatable(x, y, seed):
    here = raw_noise(x, y, 0.5, seed)
    assert -1 <= here <= 1 and here == raw_noise(x, y, 0.5, seed)
    assert abs(raw_noise(x + 0.001, y, 0.5, seed) - here) < 0.005, "neighbours are alike"


def test_noise_fills_its_range_and_seeds_differ():
    found = np.array([worked_out(f"noise({x}, wavelength=37, amplitude=10)") for x in range(0, 4000, 7)])
    assert abs(found.mean()) < 1.5 and 2 < found.std() < 6 and found.max() > 5 and found.min() < -5
    other = {**KNOWN, ("", "seed"): (NUMBER, 5)}
    assert [worked_out(f"noise({x})", other) for x in (3, 30)] != [worked_out(f"noise({x})") for x in (3, 30)]


def test_chance_belongs_to_a_key():
    drawn = np.array([share(4, ("buoy", i)) for i in range(2000)])
    assert drawn.min() >= 0 and drawn.max() < 1 and abs(drawn.mean() - 0.5) < 0.03 and len(set(drawn)) == 2000
    assert worked_out("random(1, 5, 6)") == worked_out("random(1.0, 5, 6)") and 5 <= worked_out("random(1, 5, 6)") < 6
    assert worked_out("random((1, 'a'))") != worked_out("random((2, 'a'))")


colours = st.tuples(*[st.integers(0, 255)] * 3).map(lambda c: "#{:02x}{:02x}{:02x}".format(*c))


def channels(text):
    return np.array([int(text[i : i + 2], 16) for i in (1, 3, 5)])


@given(colours, colours, st.floats(0, 1), st.floats(0, 360), st.floats(0, 100), st.floats(0, 100))
def test_colours_are_those_of_css(a, b, t, hue, s, light):
    found = channels(worked_out(f"mix('{a}', '{b}', {t!r})"))
    assert (
        np.abs(
            found - channels(Color(a).mix(b, t, space="oklab").convert("srgb").to_string(hex=True, fit="clip"))
        ).max()
        <= 1
    )
    css = Color("hsl", [hue, s / 100, light / 100]).convert("srgb").to_string(hex=True, fit="clip")
    assert np.abs(channels(worked_out(f"hsl({hue!r}, {s!r}, {light!r})")) - channels(css)).max() <= 1
    lch = Color("oklch", [light / 100, 0.1, hue]).convert("srgb").to_string(hex=True, fit="clip")
    assert np.abs(channels(worked_out(f"oklch({light / 100!r}, 0.1, {hue!r})")) - channels(lch)).max() <= 1
    assert worked_out(f"alpha('{a}', 0.5)") == f"{a}80"


def run_of(text, inputs, running=True):
    """What a formula of x comes to step by step."""
    program = compiled(text, Names({("x",): (NUMBER, 0)}))
    memories = [Memory() for _ in range(program.memories)]
    out = []
    for frame, x in enumerate(inputs):
        for memory in memories:
            memory.begin(frame, running, 1 / 60)
        found = [program.run([*([x] if program.reads else []), *memories]) for _ in range(2)]
        assert found[0] == found[1], "asked twice in a step, it is the same"
        out.append(found[0])
    return out


def test_what_remembers():
    steps = [0.0] + [10.0] * 120
    followed = run_of("follow(x, 0.5)", steps)
    assert followed[30] == pytest.approx(10 * (1 - math.exp(-1)), rel=1e-6) and followed[-1] < 10
    sprung = run_of("spring(x, 120, 4)", steps + [10.0] * 300)
    assert max(sprung) > 10.5 and sprung[-1] == pytest.approx(10, abs=0.05)
    assert max(run_of("spring(x, 1e9, 0)", steps)) < 100, "no spring is stiff enough to fly away"
    assert run_of("grow(6, 2, 0, 5)", [0] * 61)[-1] == 5 and run_of("grow(6)", [0] * 61)[-1] == pytest.approx(6)
    assert run_of("was(x)", [1, 2, 3]) == [1, 1, 2]
    assert run_of("held(x, x > 2)", [1, 3, 2, 5, 1]) == [1, 3, 3, 5, 5]
    assert run_of("count(x > 2)", [3, 3, 1, 3, 0, 4]) == [1, 1, 1, 2, 2, 3]
    assert run_of("follow(x) + grow(5)", [4, 9], running=False) == [4, 9], "in Build nothing moves"


def test_every_function_says_what_it_does():
    for function in FUNCTIONS.values():
        assert function.help.endswith(".") and function.signature.startswith(f"{function.name}(")
        assert function.name not in ("time", "frame", "pointer", "scene")
    assert parse("moon.at.x + f(moon.at)").paths() == [("moon", "at", "x"), ("moon", "at")]


@given(st.lists(st.tuples(st.floats(-1e5, 1e5), st.floats(-1e4, 1e4), st.floats(-99, 99)), min_size=1, max_size=20),
       st.floats(0.5, 500), st.integers(0, 9))  # fmt: skip
def test_noise_of_columns_is_that_of_numbers(places, wavelength, seed):
    x, y, z = (np.array(column) for column in zip(*places, strict=True))
    for column, one in (
        (noise_column(seed, x, y, z, wavelength, 3), [noise(seed, *p, wavelength, 3) for p in places]),
        (noise_column(seed, x, 4.5), [noise(seed, p[0], 4.5) for p in places]),
    ):
        assert column.tolist() == one


def grown(inner):
    pairs = st.tuples(inner, st.sampled_from(["+", "-", "*", " + ", " - ", " > ", " and "]), inner)
    return st.one_of(
        pairs.map("".join),
        inner.map("({})".format),
        inner.map("-{}".format),
        inner.map("not {}".format),
        st.tuples(inner, inner, inner).map(lambda p: f"{p[0]} if {p[1]} else {p[2]}"),
        st.tuples(inner, inner).map(lambda p: f"max({p[0]}, {p[1]})"),
        inner.map("({}\n)".format),
        inner.map("{} # + 3)".format),
        inner.map("({} # ' + 3)\n+ 1)".format),
    )


def comes(text, **names):
    return eval(f"({text}\n)", {"max": max, "tide": 3, "größe": 0.5, **names})


NUMBERS_IN = st.recursive(st.sampled_from(["tide", "größe", "7", "0.25", "(2)", "1_000"]), grown, max_leaves=6)
added = st.lists(st.integers(-(10**9), 10**9).map(lambda n: n / 10**4), min_size=1, max_size=4)


@given(NUMBERS_IN, added)
def test_what_a_hand_adds_to_a_formula_is_what_it_comes_to_more(text, numbers):
    value = comes(text) if parses(text) else None  # None with a remark in the middle of it
    for by in numbers:
        text = plus(text, by)
        if value is not None:
            value += by
            assert comes(text) == pytest.approx(value, abs=2e-6), text
    if value is not None:
        assert "\n" not in text or "#" in text
        once = plus(text, 0.5)
        assert "#" in text or "\n" in text or plus(plus(once, 2), -2) == once, "what is added stays one number"


@given(NUMBERS_IN, st.sampled_from(["-", "whole - "]), st.integers(-(10**6), 10**6))
def test_what_is_turned_or_multiplied_is_and_turned_twice_it_is_as_it_was(text, before, by):
    meant = parses(text)  # not with a remark in the middle of it
    value = float(comes(text)) if meant else 0.0

    def turned(formula):
        return minus(formula) if before == "-" else less(100.0, "whole", formula)

    formula = Formula(text, value)
    once = turned(formula)
    many = times(formula, by / 1000)
    if meant:
        assert comes(once.text, whole=100.0) == pytest.approx(once.last) == (0 if before == "-" else 100) - value
        assert comes(many.text) == pytest.approx(many.last) == value * by / 1000
        again = turned(once)
        assert again.text.replace("\n)", ")") == text.strip().replace("\n)", ")") and again.last == pytest.approx(value)


@given(st.one_of(st.sampled_from(["moon", "(moon)", "-moon", "moon + (3, 4)", "(moon + (1, 2))", "moon - (1, 2)",
                                  "moon if tide > 1 else (1, 2)", "(moon if tide else moon) + (2.5, -1)", "(tide, 7)",
                                  "tide, tide", "(moon\n+ moon)", "moon # + (1, 2)"])), added, added)  # fmt: skip
def test_what_a_hand_adds_to_the_formula_of_a_point(text, xs, ys):
    class Place(tuple):
        def __add__(self, other):
            return Place(a + b for a, b in zip(self, other, strict=True))

        def __sub__(self, other):
            return Place(a - b for a, b in zip(self, other, strict=True))

        def __neg__(self):
            return Place(-a for a in self)

    def at(text):
        tree = ast.parse(text.strip(), mode="eval")
        made = ast.fix_missing_locations(Points().visit(tree))
        return eval(compile(made, "", "eval"), {"moon": Place((30, 40)), "tide": 3, "Place": Place})

    x, y = at(text)
    for dx, dy in zip(xs, ys, strict=False):
        x, y, text = x + dx, y + dy, plus_point(text, dx, dy)
        assert at(text) == pytest.approx((x, y), abs=4e-6), text


class Points(ast.NodeTransformer):
    """Has the tuples of an expression be points, which can be added."""

    def visit_Tuple(self, node):
        return ast.Call(ast.Name("Place", ast.Load()), [node], [])
