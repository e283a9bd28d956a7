"""Shapes as paths with true arcs, and as polylines at a tolerance: the outline is the same."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, MultiLineString

from chalcedon.craft.algebra import as_path, as_polyline
from chalcedon.evaluate import DisplayList
from chalcedon.geometry.flatten import flatten
from chalcedon.problems import ValueProblem
from chalcedon.scene import Annulus, Arc, Circle, Ellipse, Group, Polyline, Rect, Scene
from tests.strategies import leaves

SIZE = st.floats(1, 200).map(lambda v: round(v, 1))
TURN = st.floats(-360, 360).map(lambda v: round(v, 1))
round_ones = st.one_of(
    st.builds(Circle, radius=SIZE),
    st.builds(Ellipse, radii=st.tuples(SIZE, SIZE)),
    st.builds(Arc, radii=st.tuples(SIZE, SIZE), start=TURN, sweep=TURN, ends=st.sampled_from(["open", "chord", "pie"])),
    st.builds(Annulus, inner=SIZE, outer=SIZE, start=TURN, sweep=TURN),
    st.builds(Rect, size=st.tuples(SIZE, SIZE), corners=st.one_of(st.tuples(SIZE), st.tuples(*[st.floats(0, 90)] * 4))),
)


def edges(outline, tolerance):
    """The outline in straight lines, those of closed parts back to where they began."""
    flat = [f for f in flatten(outline, tolerance) if len(f.vertices) > 1]
    return MultiLineString(
        [LineString([(v.x, v.y) for v in (*f.vertices, *(f.vertices[:1] if f.closed else ()))]) for f in flat]
    )


def lines(display, shape):
    display.update()
    node = display.node(shape)
    return edges(node.outline.mapped(node.world), 0.005)


@given(round_ones, st.tuples(SIZE, SIZE), st.sampled_from(["center", "top-left", "right"]))
def test_a_round_shape_is_a_path_with_arcs_and_the_same_outline(shape, at, anchor):
    shape.at = at
    if "anchor" in shape.properties:
        shape.anchor = anchor
    scene = Scene([shape])
    display = DisplayList(scene)
    before = lines(display, shape)
    if before.is_empty:
        return
    path = as_path(scene, display.node(shape))
    assert "C" not in path.data and lines(display, path).hausdorff_distance(before) < 0.1


@settings(max_examples=60)
@given(leaves, st.floats(0.05, 10))
def test_a_polyline_keeps_to_the_outline_within_the_tolerance(shape, tolerance):
    scene = Scene([shape])
    display = DisplayList(scene)
    before = lines(display, shape)
    if before.is_empty or before.length < 1e-6:
        with pytest.raises(ValueProblem):
            as_polyline(scene, display.node(shape), tolerance)
        return
    outline = display.node(shape).outline
    new = as_polyline(scene, display.node(shape), tolerance)
    if new is shape:
        assert isinstance(shape, Polyline) and not shape.curve and not scene.undo_name, "it is one already"
        return
    assert isinstance(new, Polyline) or not set(new.data) & set("CQA")
    display.update()
    ours, true = edges(display.node(new).outline, 1), edges(outline, 0.001)
    assert ours.hausdorff_distance(true) <= tolerance + 0.01
    assert scene.undo() == f"Make {shape.id} a polyline"


def test_a_coarser_tolerance_takes_fewer_points_and_looks_stay():
    def made(tolerance):
        scene = Scene([Circle(id="buoy", at=(9, 9), radius=50, fill="red", stroke="blue", stroke_width=3)])
        return as_polyline(scene, DisplayList(scene).node(scene["buoy"]), tolerance)

    fine, rough = made(0.1), made(5)
    assert len(fine.points) > 2 * len(rough.points) >= 8 and rough.closed
    assert (rough.fill, rough.stroke, rough.stroke_width, rough.at) == ("red", "blue", 3, (9, 9))
    scene = Scene([Annulus(id="ring")])
    assert as_polyline(scene, DisplayList(scene).node(scene["ring"]), 1).data.count("Z") == 2


@pytest.mark.parametrize("shape", [Group(id="it"), Rect(id="it", size=(0, 5))])
def test_what_has_no_outline_says_so(shape):
    scene = Scene([shape])
    with pytest.raises(ValueProblem, match="no outline to go along"):
        as_polyline(scene, DisplayList(scene).node(shape), 1)
