"""Several shapes sized, turned and mirrored as one: outlines are where a map of the page puts them."""

import math

import orjson
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.craft.together import Together, mirror, size, turn
from chalcedon.evaluate import DisplayList
from chalcedon.files import scene_bytes
from chalcedon.formula import Formula
from chalcedon.geometry import Affine
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Ellipse, Group, Polyline, Rect, Scene, Star, Text
from chalcedon.source import print_shapes
from tests.each import page
from tests.strategies import groups, leaves, point, texts

few = st.lists(st.one_of(leaves, texts, groups(st.one_of(leaves, groups(leaves)))), min_size=1, max_size=2)
FACTOR = st.floats(0.3, 3).map(lambda v: round(v, 2))


def drawn(display):
    """The outlines of a scene as edges in scene px, shape by shape."""
    return [edges(flatten(n.outline.mapped(n.world), 0.02)) for n in display.order]


def assert_mapped(before, after, m):
    """Every outline is what the map makes of what it was."""
    for one, two in zip(before, after, strict=True):
        moved = [(*m.map(x, y), *m.map(x2, y2)) for x, y, x2, y2 in one]
        within = 0.06 + 2e-3 * max([1.0, *(abs(v) for e in moved for v in e)])
        for a, b in ((moved, two), (two, moved)):
            assert all(distance_to_edges(b, x, y) < within for x, y, *_ in a)


@settings(max_examples=40)
@given(few, point, st.floats(-180, 180).map(lambda v: round(v, 1)))
def test_turned_shapes_are_the_turned_picture(shapes, about, degrees):
    scene = Scene(shapes)
    display = DisplayList(scene)
    before = drawn(display)
    turn(display, scene.shapes, degrees, about)
    display.update()
    assert_mapped(before, drawn(display), Affine.rotate(degrees).about(*about))
    scene.undo()
    display.update()
    assert drawn(display) == before


@settings(max_examples=40)
@given(few, st.sampled_from("xy"), st.integers(-100, 100))
def test_mirrored_shapes_are_the_picture_in_a_mirror(shapes, axis, at):
    scene = Scene(shapes)
    display = DisplayList(scene)
    before = drawn(display)
    mirror(display, scene.shapes, axis, at)
    display.update()
    m = Affine(-1, 0, 0, 1, 2 * at, 0) if axis == "x" else Affine(1, 0, 0, -1, 0, 2 * at)
    assert_mapped(before, drawn(display), m)
    mirror(display, scene.shapes, axis, at)
    display.update()
    assert_mapped(before, drawn(display), Affine())


@settings(max_examples=40)
@given(few, point, FACTOR)
def test_shapes_made_larger_are_the_larger_picture(shapes, fixed, factor):
    scene = Scene([s for s in shapes if s.kind != "text"] or [Circle()])
    display = DisplayList(scene)
    before = drawn(display)
    both = Together(display, scene.shapes)
    both.apply(both.sized(fixed, factor, factor), "Size")
    display.update()
    assert_mapped(before, drawn(display), Affine(factor, 0, 0, factor, 0, 0).about(*fixed))


@settings(max_examples=40)
@given(few, point, st.floats(-180, 180).map(lambda v: round(v, 1)), FACTOR)
def test_a_drag_counts_from_where_it_began(shapes, about, degrees, factor):
    """Whatever was shown on the way."""
    straight, by_way = (Scene([s.copy() for s in shapes]) for _ in range(2))
    for change in (
        lambda both, part: both.turned(about, degrees * part),
        lambda both, part: both.sized(about, factor**part, factor, strokes=True),
    ):
        for scene, parts in ((straight, (1,)), (by_way, (0.3, 0.7, 1))):
            display = DisplayList(scene)
            both = Together(display, scene.shapes)
            for part in parts:
                both.apply(change(both, part), "Change", "gesture")
                display.update()
    assert orjson.loads(scene_bytes(by_way)) == orjson.loads(scene_bytes(straight))


@settings(max_examples=40)
@given(few, point, FACTOR, FACTOR)
def test_there_and_back_is_where_it_was(shapes, fixed, sx, sy):
    scene = Scene(shapes)
    display = DisplayList(scene)
    kept = scene_bytes(scene)
    both = Together(display, scene.shapes)
    for a, b in ((sx, sy), (1e-9, 5), (0, 0), (1, 1)):
        both.apply(both.sized(fixed, a, b, strokes=True), "Size", "gesture")
        display.update()
    assert orjson.loads(scene_bytes(scene)) == orjson.loads(kept)


def test_numbers_follow_as_their_nature_is():
    scene = Scene(
        [
            Circle(id="buoy", at=(20, 20), radius=10, stroke="#000", stroke_width=2, dash=(4, 2)),
            Rect(id="crate", at=(40, 10), size=(20, 10), corners=3),
            Ellipse(id="pool", at=(80, 20), radii=(10, 5), steps=[{"rotate": 90}]),
            Group(id="rig", at=(100, 40), children=[Star(id="vane", at=(10, 0), outer=8, inner=4)]),
            Text(id="name", at=(0, 60), content="Linnet", size=20),
        ]
    )
    display = DisplayList(scene)
    both = Together(display, scene.shapes)
    both.apply(both.sized((0, 0), 2, 1), "Wider")
    assert (scene["buoy"].at, scene["buoy"].radius, scene["buoy"].stroke_width) == ((40, 20), 10, 2)
    assert (scene["crate"].at, scene["crate"].size, scene["crate"].corners) == ((80, 10), (40, 10), (3,))
    assert (scene["pool"].at, scene["pool"].radii, scene["pool"].steps[0].values) == ((160, 20), (10, 10), (90,))
    assert (scene["rig"].at, scene["vane"].at, scene["vane"].outer) == ((200, 40), (20, 0), 8)
    scene.undo()
    size(display, scene.shapes, 2, strokes=True)
    assert (scene["buoy"].radius, scene["buoy"].stroke_width, scene["buoy"].dash) == (20, 4, (8, 4))
    assert (scene["vane"].outer, scene["vane"].inner, scene["name"].size) == (16, 8, 40)
    scene.undo()
    mirror(display, [scene["crate"], scene["rig"]], "x", 64)
    assert scene["crate"].steps == () and scene["crate"].at == (68, 10)
    assert [s.op for s in scene["rig"].steps] == ["scale"], "a group is mirrored by a step"
    mirror(display, [scene["crate"], scene["rig"]], "x", 64)
    assert scene["rig"].steps == () and scene["rig"].at == (100, 40)
    scene["buoy"].dash = ()  # a turned dash is seen
    turn(display, [scene["buoy"], scene["crate"]], 90, (0, 0))
    assert scene["buoy"].steps == () and scene["buoy"].at == (-20, 20), "nothing is seen of a turned circle"
    assert scene["crate"].steps[0].values == (90,)


def test_what_cannot_be_changed_stays_and_is_said():
    held = Circle(id="held", at=(Formula("pointer.x", 10), 5))
    scene = Scene([held, Rect(id="fixed", locked=True), Polyline(id="free", at=(1, 1), points=[(0, 0), (4, 4)])])
    display = DisplayList(scene)
    both = Together(display, scene.shapes)
    assert both.shapes == [held, scene["free"]]
    both.apply(both.sized((0, 0), 2, 2), "Size")
    assert isinstance(held.stated("at")[0], Formula) and scene["fixed"].at == (0, 0)
    assert scene["free"].at == (2, 2)
    for factor in (0, -1, math.inf, math.nan):
        with pytest.raises(ValueProblem, match="not a factor"):
            size(display, [scene["free"]], factor)
    with pytest.raises(ValueProblem, match="nothing that has a size"):
        size(display, [scene["fixed"]], 2)
    with pytest.raises(ValueProblem, match="not an axis"):
        mirror(display, [scene["free"]], "z")


@pytest.mark.parametrize("way", ["down", "up"])
@pytest.mark.parametrize("anchor", ["origin", "center"])
def test_a_turn_by_nothing_and_a_size_that_stays_change_no_number(way, anchor):
    scene = page(way)
    scene["rig"].anchor = scene["deep"].anchor = anchor
    before = print_shapes(scene.shapes)
    for shape in list(scene.walk()):
        display = DisplayList(scene)
        size(display, [shape], 1.0)
        turn(display, [shape], 0.0)
        assert print_shapes(scene.shapes) == before, shape
