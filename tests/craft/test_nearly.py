"""Values that look like slips of the hand are pointed out, never changed."""

import pytest

from chalcedon import DisplayList, check_scene
from chalcedon.scene import Annulus, Circle, Ellipse, Rect, Scene, Star


def remarks(*shapes):
    scene = Scene(shapes, size=(4000, 3000))
    return scene, check_scene(scene)


def test_nearly_equal_numbers_are_offered_as_equal():
    scene, found = remarks(
        Rect(id="a", at=(0, 0), size=(200, 90)),
        Rect(id="b", at=(300, 0), size=(199.8, 60)),
        Ellipse(id="c", at=(900, 900), radii=(40.1, 40)),
    )
    assert [(r.shape.id, r.what) for r in found] == [("b", "nearly equal")]
    assert found[0].sentence == "a width of 199.8 is nearly 200, which a has; were they meant to be equal?"
    found[0].repairs[0].act(DisplayList(scene))
    assert scene["b"].size == (200, 60) and check_scene(scene) == []


@pytest.mark.parametrize("one, two", [(200, 190), (200, 201), (2, 2.01), (198.7, 199.3), (200, 200)])
def test_numbers_that_somebody_may_have_meant_are_left_alone(one, two):
    _, found = remarks(Circle(at=(300, 300), radius=one), Circle(at=(1500, 1500), radius=two))
    assert found == []


def test_many_different_numbers_were_not_chosen_one_by_one():
    shapes = [Circle(at=(i * 30, 100), radius=10 + i * 0.011, fill="#000000") for i in range(100)]
    assert not [r for r in remarks(*shapes)[1] if r.what == "nearly equal"]


def test_looks_of_a_stroke_without_one():
    scene, (remark,) = remarks(Rect(id="a", at=(50, 50), stroke_width=5, join="round"))
    assert str(remark) == "a: a width and join are given for the stroke, and there is none."
    for i, (stroke, width) in enumerate((("#22292e", 5), (None, 1))):
        remark.repairs[i].act(DisplayList(scene))
        assert (scene["a"].stroke, scene["a"].stroke_width) == (stroke, width) and check_scene(scene) == []
        scene.undo()


def test_equal_radii():
    _, found = remarks(Annulus(id="ring", at=(200, 200), inner=40, outer=40, stroke="#000000"))
    assert "the ring has no width" in found[0].sentence
    _, found = remarks(Star(id="star", at=(200, 200), inner=40, outer=40))
    assert "it has no tips" in found[0].sentence and found[0].repairs[0].words == "Half of it"


def test_what_cannot_be_seen_is_told_for_a_whole_scene():
    _, found = remarks(
        Circle(id="moon", at=(200, 200), radius=40),
        Rect(id="sea", at=(100, 100), size=(300, 300), fill="#15213a"),
        Circle(id="gull", at=(-500, 50)),
        Circle(id="meant", at=(200, 200), visible=False),
    )
    assert [str(r) for r in found] == ["moon: is covered by sea (100 %).", "gull: is 460 px left of the page."]


def test_a_check_up_of_many_leaves_nobody_listening():
    shapes = [Circle(id=f"c{i}", at=(i * 9, 100), radius=4, fill="#000000") for i in range(350)]
    scene = Scene([*shapes, Circle(id="away", at=(-500, 50))], size=(4000, 3000))
    display = DisplayList(scene)
    readers = len(display.readers)
    assert [str(r) for r in check_scene(display)] == ["away: is 460 px left of the page."]
    assert len(display.readers) == readers
