"""What several shapes have in common, and changes of all of them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.craft.several import MIXED, Several
from chalcedon.evaluate import DisplayList
from chalcedon.files import scene_bytes
from chalcedon.formula import Formula, relative
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Ellipse, Rect, Scene, Text
from tests.strategies import decorated


def harbour():
    return Scene(
        [
            Circle(id="near", at=(10, 20), radius=8, fill="#d97b4a"),
            Circle(id="far", at=(40, 20), radius=5, fill="#d97b4a", opacity=0.5),
            Rect(id="crate", at=(60, 20), size=(10, 10), fill="#7fa3b8"),
        ]
    )


def test_what_is_equal_is_told_number_by_number():
    scene = harbour()
    both = Several(scene.shapes[:2])
    assert both.stated("at") == (MIXED, 20) and both.stated("radius") is MIXED
    assert both.stated("fill") == "#d97b4a" and both.stated("opacity") is MIXED and both.stated("stroke") is None
    every = Several(scene.shapes)
    assert "radius" not in every.properties and "size" not in every.properties and every.stated("fill") is MIXED
    with pytest.raises(ValueProblem, match="not all of 3 shapes have radius"):
        every.stated("at"), every.declared("radius")
    assert "size" not in Several([Text(), Rect()]).properties, "a size of letters is none of a box"
    assert "steps" not in every.properties


def test_all_are_set_or_changed_by_what_they_are():
    scene = harbour()
    display = DisplayList(scene)
    both = Several(scene.shapes[:2])
    both.change(display, "radius", (), relative("*1.5"))
    assert [s.radius for s in scene.shapes[:2]] == [12, 7.5]
    both.set(display, "at", (100, MIXED))
    assert [s.at for s in scene.shapes[:2]] == [(100, 20), (100, 20)]
    both.change(display, "opacity", (), relative("+0.4"))
    assert [s.opacity for s in scene.shapes[:2]] == [1, 0.9], "a number stops at its limit"
    both.change(display, "radius", (), relative("*0"))
    assert [s.radius for s in scene.shapes[:2]] == [0, 0]
    both.change(display, "radius", (), relative("*-1"))
    assert [s.radius for s in scene.shapes[:2]] == [0, 0]
    for _ in range(5):
        scene.undo()
    assert scene_bytes(scene) == scene_bytes(harbour())


def test_what_one_cannot_take_none_takes():
    scene = harbour()
    with pytest.raises(ValueProblem, match=r"near\.fill: .*not a CSS colour"):
        Several(scene.shapes).set(DisplayList(scene), "fill", "blurple")
    assert scene_bytes(scene) == scene_bytes(harbour()) and not scene.history.done
    with pytest.raises(ValueProblem, match="no shapes"):
        Several([])


def test_another_anchor_moves_nothing():
    scene = harbour()
    display = DisplayList(scene)
    boxes = [display.node(s).bounds() for s in scene.shapes]
    Several(scene.shapes).set(display, "anchor", "bottom-right")
    display.update()
    assert [display.node(s).bounds() for s in scene.shapes] == boxes
    assert scene["crate"].at == (70, 30)


def test_a_formula_takes_the_change_into_its_text():
    scene = Scene([Ellipse(id="a", radii=(Formula("tide * 3", 6), 4)), Ellipse(id="b", radii=(10, 4))])
    both = Several(scene.shapes)
    both.change(DisplayList(scene), "radii", (0,), relative("*2"))
    assert scene["a"].stated("radii")[0] == Formula("(tide * 3) * 2", 12) and scene["b"].radii == (20, 4)
    Several(scene.shapes).change(DisplayList(scene), "radii", (0,), relative("+5"))
    assert scene["a"].stated("radii")[0] == Formula("(tide * 3) * 2 + 5", 17)


@given(st.lists(decorated(), min_size=1, max_size=5), st.data())
def test_what_is_not_mixed_is_what_each_states(shapes, data):
    """And giving all of them what they have in common changes nothing."""
    scene = Scene(shapes)
    display = DisplayList(scene)
    several = Several(scene.shapes)
    for name in several.properties:
        value = several.stated(name)
        each = [s.stated(name) for s in scene.shapes]
        if value is not MIXED and not (isinstance(value, tuple) and MIXED in value):
            assert all(v == value for v in each)
        else:
            assert any(v != each[0] for v in each)
    name = data.draw(st.sampled_from(sorted(set(several.properties) - {"anchor", "pivot"})))
    before = scene_bytes(scene)
    several.set(display, name, several.stated(name))
    assert scene_bytes(scene) == before


@pytest.mark.parametrize(
    "text, value",
    [("*1.2", 12), ("× 2", 20), ("/4", 2.5), ("÷ 3", 3.333333333), ("+10", 20), ("+-4", 6), ("* (1+1)", 20)],
)
def test_a_number_by_what_it_was(text, value):
    assert relative(text)(10) == value


def test_what_is_no_change_is_said():
    assert relative("12") is None and relative("-3") is None and relative("") is None
    for text in ("*", "/0", "*x", "+ 1 2"):
        with pytest.raises(ValueProblem):
            relative(text)
