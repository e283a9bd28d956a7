"""Responses as sentences, and what is offered while a formula is written."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Scene
from chalcedon.scene.responses import DRAGS, POINTER, Responses
from chalcedon.source import parse_line
from chalcedon.source.answers import parse_response, print_response
from chalcedon.source.formulahints import formula_hint, reference_to

seconds = st.floats(1e-6, 50)
value = st.one_of(
    st.integers(-99, 99),
    st.sampled_from([0.5, "#fff2c4", "red", "bevel; tied", "it's", True, False, None, (3, 4), (-1.5, 2)]),
    st.sampled_from(["tide * 2", "(event.x, event.y)", "mix(a, b, 0.5)", "'x' if lit else 'y'"]).map(Formula),
)
eases = st.sampled_from(["ease-out", "steps(3)", "cubic-bezier(0.3, 0, 0.2, 1)"])
timed = st.fixed_dictionaries({}, optional={"over": seconds, "delay": seconds, "ease": eases})
targets = st.sampled_from(["lamp.fill", "self.at.x", "tide"])
words = value.filter(lambda v: not isinstance(v, tuple))
told = st.dictionaries(st.sampled_from(["x", "who"]), value, max_size=2)
act = st.one_of(
    st.tuples(targets, value, timed).map(lambda v: {"set": v[0], "to": v[1], **v[2]}),
    st.tuples(st.integers(-9, 9), timed).map(lambda v: {"add": "lamp.at.y", "by": v[0], **v[1]}),
    st.just({"toggle": "lit"}),
    st.lists(words, min_size=1, max_size=3).map(lambda v: {"next": "lamp.join", "of": v}),
    st.sampled_from(["front", "back", "quay"]).map(lambda v: {"order": "boat", "to": v}),
    st.tuples(st.floats(0.001, 4000), st.integers(1, 99)).map(
        lambda v: {"place": "drop", "at": Formula("(event.x, 3)"), "spacing": v[0], "most": v[1]}
    ),
    st.just({"remove": "boat"}),
    told.map(lambda v: {"emit": "lit", **({"values": v} if v else {})}),
    st.sampled_from([{"run": "stop"}, {"run": "speed", "speed": 1.23456789}, {"goto": "quay"}, {"stop": ""}]),
)
event = st.one_of(
    st.sampled_from([*POINTER, *DRAGS, "focus", "blur", "start", "step", "keydown"]).map(lambda v: {"on": v}),
    st.sampled_from(
        [
            {"on": "keyup", "key": "ArrowLeft"},
            {"on": "every", "seconds": 12345.0625},
            {"on": "when", "formula": "tide > 0.5"},
            {"on": "contact", "with": "quay"},
            {"on": "parting", "with": "quay"},
            {"on": "event", "name": "lit"},
        ]
    ),
)
condition = st.sampled_from([{}, {"if": "tide > 0.5"}, {"if": "lit and 'a:b' != name"}])


def test_a_shape_that_is_renamed_is_so_in_every_response_and_no_word_is():
    scene = Scene([Circle(id="lamp"), Circle(id="buoy")])
    scene.inputs.add("lit", True)
    before = (
        "when touching lamp if lamp.radius > 2: lamp.fill becomes 'lamp'",
        "when it becomes true that lamp.radius > lit: buoy goes past lamp; lamp goes to the front",
        "when clicked: put lamp at (lamp.center.x, 3) every 10 px; remove lamp; tell lamp with x = lamp.radius",
        "when lamp is told: toggle lamp.visible; lamp.content goes on through 'round', 'lamp'; add 5 to lamp.at.x",
    )
    scene["buoy"].responses = [parse_response(sentence) for sentence in before]
    scene.rename(scene["lamp"], "sun")
    after = [print_response(r) for r in scene["buoy"].responses]
    words = {"'lamp'", "tell lamp", "when lamp is told"}
    expected = [print_response(parse_response(s)).replace("lamp", "sun") for s in before]
    for word in words:
        expected = [s.replace(word.replace("lamp", "sun"), word) for s in expected]
    assert after == expected


@given(event, condition, st.lists(act, min_size=1, max_size=3))
def test_a_response_reads_back_from_its_sentence(on, when, do):
    response = Responses().read([{**on, **when, "do": do}])[0]
    assert parse_response(print_response(response)) == response, print_response(response)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("hello", "says no response"),
        ("when clickd: toggle lit", "Did you mean clicked?"),
        ("when clicked: lamp explode", "nothing to do"),
        ("when clicked: lamp.fill becomes 3 +", "isn't finished"),
        ("when clicked: lamp.fill becomes 3 over 1 s, slowly", "no easing"),
        ("when clicked: tell lit with 3", "values with names"),
        ("when clicked: toggle lit over 1.2.3 s", "nothing to do"),
        ("when clicked: toggle lit after . s", "nothing to do"),
        ("when 1..2 s have gone: toggle lit", "nothing that happens"),
        ("when clicked: clock speed 1.2.3", "nothing to do"),
        ("when clicked: put lamp at (1, 2) at most " + "9" * 1500, "isn't finished"),
        ("when clicked: " + "x" * 9000, "The most is"),
    ],
)
def test_a_sentence_that_says_none_is_explained(text, said):
    with pytest.raises(ValueProblem) as problem:
        parse_response(text)
    assert said in str(problem.value)


def test_what_could_stand_in_a_formula_is_offered():
    inner = Circle(id="dot", radius=3)
    scene = Scene([Circle(id="moon", label="the moon"), Group(id="bay", children=[inner])], palette={"tide": "#336699"})
    scene.inputs.add("swell", 0.4)
    scene.inputs.add("spot", (1, 2))

    def words(text):
        hint = formula_hint(scene, inner, text, len(text))
        return [c.word for c in hint.candidates], hint.start, hint.usage

    assert words("2 * mo")[0][:2] == ["moon", "mod("] and words("2 * mo")[1] == 4
    assert "radius" in words("moon.")[0] and words("moon.rad")[0] == ["radius"]
    assert words("moon.at.")[0] == ["x", "y"] == words("spot.")[0] and words("moon.center.y")[0] == []
    assert words("par")[0] == ["parent"] and words("palette.")[0] == ["tide"] and "down" in words("pointer.")[0]
    assert words("clamp(swell, ")[2].startswith("clamp(x, low, high): x kept between")
    assert words("ease(time, 'ease-i")[0] == ["ease-in", "ease-in-out"]
    assert words("")[0] == [] and words("nobody.")[0] == []
    assert reference_to(scene, "at.x", scene["moon"]) == "moon.center.x"
    assert reference_to(scene, "at", scene["moon"]) == "moon.center"
    assert reference_to(scene, "radius", scene["moon"]) == "moon.radius"
    assert reference_to(scene, "radius", scene["bay"]) == "bay.width"
    assert reference_to(scene, "radius", scene["moon"], "at", 1) == "moon.at.y"


@pytest.mark.parametrize(
    ("line", "stated"),
    [
        ("circle pointer.x pointer.y-20 4", {"at": (Formula("pointer.x", 0), Formula("pointer.y-20", 0)), "radius": 4}),
        ("circle {moon.center} 30", {"at": Formula("moon.center", (0, 0)), "radius": 30}),
        (
            "circle {1 + tide} 9 moon.radius*2",
            {"at": (Formula("1 + tide", 0), 9), "radius": Formula("moon.radius*2", 40)},
        ),
        ("circle 1 2 3 fill {lighter(paint)}", {"radius": 3, "fill": Formula("lighter(paint)", "#d97b4a")}),
        ("circle 1 2 3 visible {time < 2} label low", {"visible": Formula("time < 2", True), "label": "low"}),
        ("rect 0 0 100-tide 20", {"at": (0, 0), "size": (Formula("100-tide", 120), 20)}),
    ],
)
def test_lines_take_formulas(line, stated):
    shape = parse_line(line)
    assert {n: shape.stated(n) for n in stated} == stated


def test_a_formula_that_a_line_cannot_take_is_explained():
    for line, said in [("circle 1 2 wave(2)", "stands in braces: {wave(...)}"), ("circle 1 2 {3 +}", "isn't finished")]:
        with pytest.raises(ValueProblem) as problem:
            parse_line(line)
        assert said in str(problem.value)
