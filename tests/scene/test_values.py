"""Values: what each kind takes, keeps and writes; colours against the standard."""

import json

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtGui import QColor

from chalcedon.exact import DEEPEST, require_json
from chalcedon.formula import Formula, plus, rename_in
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene import KINDS, OFFERED, Circle, Polyline, Rect, Scene, Step
from chalcedon.scene.color import names, rgba, to_hex
from chalcedon.scene.history import History, UndoStep
from chalcedon.scene.ids import free_id
from chalcedon.scene.paints import Gradient, Paint, evenly
from chalcedon.scene.stepvalue import StepValue
from chalcedon.scene.tidy import signed
from chalcedon.scene.values import (
    ANCHORS,
    Anchor,
    Choice,
    Corners,
    Flag,
    Many,
    Number,
    TextValue,
    Tuple,
    place_in,
    same,
)

KINDS_OF_VALUE = [
    (Number(low=0, high=10), [0, 10, 2.5], [-1, 11, "3", None, True, [1], float("nan"), float("inf"), 10**400]),
    (Tuple("x", "y"), [[1, 2], [1.5, -2e8]], [[1], [1, 2, 3], "12", 5, [1, None], {"x": 1}, [True, 2]]),
    (Many(Number(), 1, 3), [[1], [1, 2, 3]], [[], [1, 2, 3, 4], 5, "1", [None], {"a": 1}]),
    (Corners(), [5, [5], [1, 2, 3, 4]], [[1, 2], -1, [], "5", None, [1, 2, 3, -4]]),
    (Flag(), [True, False], [0, 1, "yes", None]),
    (Choice("a", "b"), ["a", "b"], ["c", "", None, 1, ["a"]]),
    (TextValue(), ["", "a\nb", "é😀"], [None, 1, ["a"], "\ud800"]),
    (
        Paint(),
        [None, "none", "#abc", "red", "hsl(20 65% 57%)", [217, 123, 74], 0xD97B4A],
        ["", "#ab", "#ggg", "redd", -5, [1, 2], [256, 0, 0], "currentcolor"],
    ),
    (Anchor(), ["center", "origin", [0.5, 1]], ["middle", [1], [1, 2, 3], 5, None, [9999, 0]]),
    (
        StepValue(),
        [{"rotate": 3}, {"scale": 2}, {"matrix": [1, 0, 0, 1, 5, 6]}, {"translate": [1, 2], "off": True}],
        [
            {},
            {"rotate": 3, "scale": 2},
            {"turn": 1},
            5,
            {"rotate": "3"},
            {"matrix": [1]},
            {"rotate": 1, "off": 1},
            {"rotate": 1, "about": 5},
        ],
    ),
]


@pytest.mark.parametrize(("kind", "good", "bad"), KINDS_OF_VALUE, ids=lambda v: type(v).__name__)
def test_what_each_kind_takes_and_refuses(kind, good, bad):
    schema = jsonschema.Draft202012Validator(kind.schema())
    for raw in good:
        stored = kind.read(raw)
        hash(stored)  # stored forms can't be changed behind an edit's back
        written = kind.write(stored)
        assert kind.read(json.loads(json.dumps(written))) == stored
        assert schema.is_valid(json.loads(json.dumps(written))), written
    for raw in bad:
        with pytest.raises(ValueProblem) as problem:
            kind.read(raw)
        assert str(problem.value).strip() and len(str(problem.value)) < 400
    assert kind.describe()


@pytest.mark.parametrize(
    "kind", [Number(), Tuple("x", "y"), Flag(), Choice("a"), TextValue(), Paint(), Anchor(), Many(Number())]
)
def test_any_value_may_be_a_formula(kind):
    last = {
        "Number": 3,
        "Tuple": [1, 2],
        "Flag": True,
        "Choice": "a",
        "TextValue": "t",
        "Paint": "red",
        "Anchor": "left",
        "Many": [1],
    }[type(kind).__name__]
    stored = kind.read({"formula": "f(x)", "last": last})
    assert isinstance(stored, Formula) and kind.formulas(stored) == [stored]
    assert kind.plain(stored) == kind.plain(kind.read(last))
    assert kind.write(stored) == {"formula": "f(x)", "last": kind.write(kind.read(last))}
    unknown = kind.read({"formula": "f(x)"})
    assert kind.read(kind.plain(unknown)) == unknown.last, "what stands for a value that isn't known yet is one"
    for bad in (
        {"formula": 3, "last": last},
        {"formula": "x", "last": last, "more": 1},
        {"formula": "x", "last": {"formula": "y", "last": last}},
    ):
        with pytest.raises(ValueProblem):
            kind.read(bad)


def test_formulas_stand_for_components_too():
    shape = Polyline(points=[(0, 0), ({"formula": "tide", "last": 4}, 2)])
    assert shape.points == ((0, 0), (4, 2)) and shape.stated("points")[1][0] == Formula("tide", 4)
    assert shape.formulas() == {"points": [Formula("tide", 4)]}
    shape.points = [(0, 0), (1, 1)]
    assert shape.formulas() == {} and shape._formulas is None


@pytest.mark.parametrize(
    ("text", "by", "out"),
    [
        ("pointer.x - 130", 10, "pointer.x - 120"),
        ("pointer.x - 130", 130, "pointer.x"),
        ("pointer.x", -4, "pointer.x - 4"),
        ("a * 2 + 1", 2, "a * 2 + 3"),
        ("a if b else c", 1, "(a if b else c) + 1"),
        ("a > b", 1, "(a > b) + 1"),
        ("half (", 1, "(half () + 1"),
        ("2 - 3", 5, "2 + 2"),
    ],
)
def test_numbers_added_to_formulas(text, by, out):
    assert plus(text, by) == out


def test_names_in_formulas():
    assert (
        rename_in("moon.x + moonlit + f(moon) + 'moon' + x.moon", "moon", "luna")
        == "luna.x + moonlit + f(luna) + 'moon' + x.moon"
    )
    assert rename_in("é + moon.x", "moon", "luna") == "é + luna.x", "columns count bytes, names don't"
    assert rename_in("moon.x +", "moon", "luna") == "luna.x +", "half a formula follows word by word"


@given(st.tuples(*[st.integers(0, 255)] * 4))
def test_hex_colours_round_trip(color):
    assert rgba(to_hex(color)) == color


def test_colours_are_those_of_css():
    for name in names():
        if name not in ("transparent", "rebeccapurple"):
            assert rgba(name) == QColor(name).getRgb(), name
    assert rgba("transparent") == (0, 0, 0, 0) and rgba("rebeccapurple") == (102, 51, 153, 255)
    assert rgba("#F80") == rgba("#ff8800") == rgba("rgb(255, 136, 0)") == rgba("rgb(100% 53.333% 0%)")
    assert rgba("rgb(10 20 30 / 50%)") == (10, 20, 30, 128)
    assert rgba("hsl(120 100% 25%)") == (0, 128, 0, 255) and rgba("hwb(0 100% 0%)") == (255, 255, 255, 255)
    # the standard's own examples and round values, CSS Color 4
    for text, color in (
        ("oklch(62.7955% 0.257683 29.2339)", (255, 0, 0)),
        ("oklab(100% 0 0)", (255, 255, 255)),
        ("lab(54.2917 80.8125 69.8851)", (255, 0, 0)),
        ("lch(29.5683 131.201 301.364)", (0, 0, 255)),
        ("color(display-p3 1 1 1)", (255, 255, 255)),
        ("color(srgb-linear 0.5 0.5 0.5)", (188, 188, 188)),
        ("color(xyz 0.9505 1 1.089)", (255, 255, 255)),
        ("color(display-p3 0 1 0)", (0, 255, 0)),
        ("color(rec2020 1 1 1)", (255, 255, 255)),
        ("color(a98-rgb 0 0 0)", (0, 0, 0)),
        ("color(prophoto-rgb 1 1 1)", (255, 255, 255)),
    ):
        assert rgba(text)[:3] == pytest.approx(color, abs=1), text


def test_places_in_a_box():
    box = (10, 20, 30, 60)
    assert place_in(box, "center") == (20, 40) and place_in(box, "bottom-right") == (30, 60)
    assert place_in(box, (0.25, 2)) == (15, 100) and place_in(box, "origin") == (0, 0)
    assert place_in((1, 1, -1, -1), "center") == (0, 0), "an empty box has only its origin"


def test_sameness():
    assert same((1, (2, 3.0)), (1.0, (2, 3))) and not same(1, True) and not same((1,), (1, 2)) and not same("1", 1)


def test_words_for_messages():
    assert nearest("radus", ["radius", "fill"]) == "Did you mean radius?"
    assert nearest("zzz", [f"k{i}" for i in range(20)]).endswith(", ...")
    assert len(shorten("x" * 500)) == 40


def test_defaults_are_not_stored_and_copies_are_independent():
    shape = Rect(size=(120, 80), fill="#d97b4a", steps=[Step("rotate", (3,))])
    assert set(shape._values) == {"steps"}
    twin = shape.copy()
    twin.size = (1, 1)
    twin.extra["a"] = 1
    assert shape.size == (120, 80) and not shape._extra and twin.steps == shape.steps
    for kind in OFFERED:
        cls = KINDS[kind]
        for name, prop in cls.properties.items():
            assert prop.kind.read(prop.kind.write(prop.default)) == prop.default, f"{kind}.{name}"


def test_free_ids():
    assert free_id("buoy", {"moon"}) == "buoy" and free_id("buoy", {"buoy", "buoy_2"}) == "buoy_3"
    assert free_id("buoy_2", {"buoy_2"}) == "buoy_3" and free_id("time", ()) == "time_2"
    scene = Scene([Circle(id=f"c_{i}") for i in range(2, 150)])
    assert scene.free_id("c") == "c" and scene.add(Circle(id="c")).id == "c"
    assert [scene.add(Circle(id=scene.free_id("c"))).id for _ in range(3)] == ["c_150", "c_151", "c_152"]


def test_what_counts_as_changed():
    history = History()
    assert not history.changed
    scene = Scene([Circle(id="c")])
    scene["c"].radius = 1
    scene.history.mark_saved()
    scene["c"].radius = 2
    assert scene.history.changed
    scene.undo()
    assert not scene.history.changed, "back at what was saved"
    scene.undo()
    assert scene.history.changed
    scene["c"].radius = 3
    assert scene.history.changed and scene.undo() and scene.history.changed, "what was saved can't be reached any more"
    history.push(UndoStep("nothing"))
    assert not history.done, "a step without edits is none"


def test_a_gesture_does_not_reach_over_a_save():
    scene = Scene([Circle(id="c")])
    for value in (1, 2):
        with scene.step("Drag", gesture="g"):
            scene["c"].radius = value
    scene.history.mark_saved()
    with scene.step("Drag", gesture="g"):
        scene["c"].radius = 3
    assert scene.history.changed and scene.undo() == "Drag"
    assert scene["c"].radius == 2 and not scene.history.changed


def test_whole_numbers_are_integers_and_others_stay_as_they_are():
    whole, any_number = Number(low=1, high=9, whole=True), Number(low=1, high=9)
    assert (whole.check(5.0), type(whole.check(5.0))) == (5, int) and type(whole.read(3)) is int
    assert any_number.check(2.5) == 2.5 and type(any_number.check(3.0)) is float
    for bad in (2.5, 0, 10, float("nan"), float("inf"), 10**400, True, "3", None):
        with pytest.raises(ValueProblem):
            whole.check(bad)
    with pytest.raises(ValueProblem, match="Try 2"):
        whole.check(2.4)


@given(st.tuples(*[st.floats(-50, 50)] * 4), st.sampled_from(sorted(ANCHORS)))
def test_named_places_are_where_their_names_say(box, name):
    left, top, right, bottom = min(box[0], box[2]), min(box[1], box[3]), max(box[0], box[2]), max(box[1], box[3])
    x, y = place_in((left, top, right, bottom), name)
    across = left if "left" in name else right if "right" in name else (left + right) / 2
    down = top if "top" in name else bottom if "bottom" in name else (top + bottom) / 2
    assert (x, y) == pytest.approx((across, down), abs=1e-9)


@pytest.mark.parametrize("deeper", [lambda v: [v], lambda v: {"in": v}, lambda v: [{"in": [v]}]])
def test_data_nests_so_deep_and_no_deeper(deeper):
    levels = str(deeper(0)).count("[") + str(deeper(0)).count("{")
    value = 1
    for _ in range(DEEPEST // levels):
        value = deeper(value)
    require_json(value)
    with pytest.raises(ValueProblem, match="nests deeper"):
        require_json(deeper(deeper(value)))


def test_whole_numbers_are_kept_whole_and_others_as_they_are():
    assert Number().check(5.7) == 5.7 and Number(whole=True).check(5.0) == 5
    assert type(Number(whole=True).check(5.0)) is int and type(Number().check(5.0)) is float


def test_colours_at_equal_distances():
    assert evenly("linear", ["#a00", "#0b0", "#00c", "#ddd"]).line == (0, 0.5, 1, 0.5)
    steep = evenly("linear", ["#a00", "#0b0", "#00c", "#ddd"], 90)
    assert steep.line == (0.5, 0, 0.5, 1) and [s[0] for s in steep.stops] == [0, 0.333333, 0.666667, 1]
    assert evenly("linear", ["#a00", "#0b0"], 30).line == (-0.091506, 0.158494, 1.091506, 0.841506)
    assert evenly("radial", ["#a00"]) == Gradient("radial", (0.5, 0.5, 0.5), ((0, "#a00"),))


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("-12°", "−12°"),
        ("x -.5, -3", "x −.5, −3"),
        ("12-3", "12-3"),
        ("p[0]-1 and f(2)-1", "p[0]-1 and f(2)-1"),
        ("top-left -", "top-left -"),
        ("(-1)", "(−1)"),
    ],
)
def test_a_hyphen_before_a_number_is_shown_as_a_minus(text, shown):
    assert signed(text) == shown
