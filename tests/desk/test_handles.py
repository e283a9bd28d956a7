"""Handles and measures, without a window: what a drag comes to, whatever anchor, pivot and steps there are."""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from strategies import annuli, arcs, leaves, point, texts, whatever

from chalcedon.craft.hold import Start
from chalcedon.desk.canvas.handles import move_pivot, turn
from chalcedon.desk.canvas.measure import measure
from chalcedon.desk.ledger.parts import moved, part, show, with_part
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Line,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
    Step,
    Text,
)
from chalcedon.view.place import LEAST, MOST, View


def placed(shape, **group):
    scene = Scene([Group(id="g", at=(12, -7), steps=[{"rotate": 25}], children=[shape], **group)])
    display = DisplayList(scene)
    return display, display.node(shape)


def apply(display, shape, values):
    for name, value in values.items():
        shape.assign(name, value)
    display.update()


def handles_of(start):
    return start.handles()


def taken(node, which):
    """A shape as a drag begins, and one of its handles."""
    start = Start(node)
    assume(start.from_scene is not None)
    handles = start.handles()
    assume(handles)
    return start, handles[which % len(handles)]


@settings(max_examples=100)
@given(whatever, st.integers(0, 20), point, point)
def test_a_drag_comes_to_the_same_wherever_it_went_before(shape, which, first, last):
    display, node = placed(shape)
    start, handle = taken(node, which)
    at_once = handle.drag(last, 3, False)
    apply(display, shape, start.settle(handle.drag(first, 3, False)))
    assert handle.drag(last, 3, False) == at_once
    assert start.settle(handle.drag(last, 3, False)) == start.settle(at_once)


@settings(max_examples=100)
@given(leaves, st.integers(0, 20), point)
def test_a_handle_goes_where_it_is_dragged_and_the_rest_stays(shape, which, to):
    display, node = placed(shape)
    start = Start(node)
    assume(start.from_scene is not None)
    handles = handles_of(start)
    handle = handles[which % len(handles)]
    fixed_before = {h.raw: start.scene_of(h.raw) for h in handles}
    change = handle.drag(to, 3, False)
    stays = start.scene_of(change.before)
    apply(display, shape, start.settle(change))
    after = Start(display.node(shape))
    assert after.scene_of(change.after) == pytest.approx(stays, abs=0.02), "what must stay stays"
    if handle.role in ("to", "start", "point", "size"):
        target = start.scene_of(to)
        spots = [after.scene_of(h.raw) for h in handles_of(after)]
        assert min(math.dist(s, target) for s in spots) < 0.05, "and the handle is under the pointer"
    assert change.word and fixed_before


@settings(max_examples=100)
@given(st.one_of(whatever, texts), st.integers(0, 20))
def test_a_handle_that_is_let_go_where_it_is_changes_nothing(shape, which):
    _start, handle = taken(placed(shape)[1], which)
    for name, value in handle.drag(handle.raw, 6, False).values.items():
        assume(name != "data")  # which is written anew
        stated = shape.stated(name)
        assume(stated != 0 or name != "width")  # a text that wraps nowhere gets a width
        assume(name != "corners" or max(flat(stated)) <= min(shape.size) / 2)  # else as large as fits
        within = 0.51 if name in ("facing", "start", "sweep") else 1e-3  # directions are whole degrees
        assert flat(value) == pytest.approx(flat(stated), abs=within), (handle.role, name)


def flat(value):
    return [n for v in value for n in flat(v)] if isinstance(value, tuple) else [value]


@settings(max_examples=80)
@given(leaves, point, st.booleans())
def test_turning_keeps_the_pivot_and_ends_in_one_rotate_step(shape, to, held):
    display, node = placed(shape)
    start = Start(node)
    assume(start.from_scene is not None)
    pivot = start.scene_of(start.pivot_point)
    steps = len(shape.steps)
    change = turn(start, (50, 0), to, held)
    apply(display, shape, start.settle(change))
    assert len(shape.steps) <= steps + 1
    if held and shape.steps and shape.steps[-1].op == "rotate" and len(shape.steps) > steps:
        assert shape.steps[-1].values[0] % 15 == 0
    again = Start(display.node(shape))
    assert again.scene_of(again.pivot_point) == pytest.approx(pivot, abs=0.05)


@settings(max_examples=60)
@given(leaves, point)
def test_moving_the_pivot_does_not_move_the_shape(shape, to):
    display, node = placed(shape)
    before = node.bounds()
    start = Start(node)
    assume(start.from_scene is not None and math.dist(before[:2], before[2:]) < 2000)
    left, top, right, bottom = start.box
    assume(right - left > 1 and bottom - top > 1 and abs(to[0]) < 900 and abs(to[1]) < 900)
    apply(display, shape, start.settle(move_pivot(start, to)))
    assert display.node(shape).bounds() == pytest.approx(before, abs=0.05)


@settings(max_examples=80)
@given(st.one_of(arcs, annuli), st.integers(-180, 180), st.booleans())
def test_dragging_one_end_of_an_arc_leaves_the_other(shape, degrees, first):
    display, node = placed(shape)
    start = Start(node)
    ends = [h for h in handles_of(start) if h.role == "angle"]
    assume(start.from_scene is not None and len(ends) == 2)
    other = start.scene_of(ends[1].raw) if first else start.scene_of(ends[0].raw)
    far = 3 * max(abs(v) for v in start.box)
    to = far * math.cos(math.radians(degrees)), far * math.sin(math.radians(degrees))
    change = ends[0 if first else 1].drag(to, 0, False)
    apply(display, shape, start.settle(change))
    after = Start(display.node(shape))
    now = [h for h in handles_of(after) if h.role == "angle"]
    assume(len(now) == 2 and abs(shape.sweep) < 360)
    assert after.scene_of(now[1 if first else 0].raw) == pytest.approx(other, abs=0.1)


def test_an_arc_never_goes_more_than_once_round():
    arc = Arc(radii=(10, 10), start=0, sweep=300.5)
    first, _last = (h for h in handles_of(Start(placed(arc)[1])) if h.role == "angle")
    values = first.drag((math.cos(math.radians(-60)) * 50, math.sin(math.radians(-60)) * 50), 0, False).values
    assert values == {"start": 300, "sweep": 0.5}, "rather than 360.5 from -60 on"
    values = first.drag((math.cos(math.radians(-59)) * 50, math.sin(math.radians(-59)) * 50), 0, False).values
    assert values == {"start": -59, "sweep": 359.5}


def test_corners_carry_radius_and_direction():
    handle = handles_of(Start(placed(RegularPolygon(sides=5, radius=10))[1]))[0]
    assert handle.drag((30, 41), 0, True).values == {"radius": 51, "facing": 60}
    tip, notch = handles_of(Start(placed(Star(tips=4, outer=10, inner=5, facing=170))[1]))
    assert tip.drag((-20, -1), 0, False).values == {"outer": 20, "facing": 183}, (
        "the direction goes on, it doesn't jump"
    )
    assert notch.drag((0, 7), 0, False).values == {"inner": 7}


def test_held_drags():
    start = Start(placed(Rect(size=(40, 20)))[1])
    corner = next(h for h in handles_of(start) if h.raw == (40, 20))
    assert corner.drag((70, 30), 0, True).values["size"] == (70, 35), "held to its proportions"
    assert next(h for h in handles_of(Start(placed(Rect(size=(0, 0)))[1]))).drag((9, 4), 0, True).values["size"] == (
        9,
        9,
    )
    assert corner.drag((-30, -10), 0, False).values["size"] == (30, 10)
    line = handles_of(Start(placed(Line(to=(10, 0)))[1]))[1]
    assert line.drag((30, 29), 0, True).values["to"] == (30, 30)
    ring = handles_of(Start(placed(Ellipse(radii=(10, 5)))[1]))[0]
    assert ring.drag((33, 0), 0, True).values["radii"] == (33, 16.5)
    radius = next(h for h in handles_of(start) if h.role == "corner")
    assert radius.drag((99, 99), 0, False).values["corners"] == (10,), "no more than half a side"
    formula = Polyline(points=[(0, 0), (Formula("time", 5), 6), (9, 9)])
    change = handles_of(Start(placed(formula)[1]))[2].drag((1, 2), 0, False)
    assert change.values["points"][1][0] == Formula("time", 0), "those of other points stay"


@pytest.mark.parametrize("anchor", ["top-left", "center", "bottom-right"])
@pytest.mark.parametrize(
    ("edge", "to", "size", "still"),
    [
        ((40, 10), (55, 3), (55, 20), 0),
        ((0, 10), (-5, 90), (45, 20), 2),
        ((20, 20), (1, 33), (40, 33), 1),
        ((20, 0), (3, -4), (40, 24), 3),
        ((40, 10), (-7, 3), (7, 20), None),
    ],
)
def test_an_edge_follows_in_its_own_direction_and_the_opposite_one_stays(edge, to, size, still, anchor):
    shape = Rect(at=(100, 50), size=(40, 20), anchor=anchor)
    display = DisplayList(Scene([shape]))
    start = Start(display.node(shape))
    edges = {h.raw: h for h in handles_of(start) if h.role == "edge"}
    assert set(edges) == {(40, 10), (0, 10), (20, 20), (20, 0)}
    before = display.node(shape).bounds()
    apply(display, shape, start.settle(edges[edge].drag(to, 3, False)))
    assert shape.size == size
    if still is not None:
        assert display.node(shape).bounds()[still] == pytest.approx(before[still])


def test_the_corner_handle_rounds_all_corners_or_the_first_of_four():
    """Counted from where it is taken: of a radius of 4 it stands 5.4 px in, so that it is not lost among others."""
    for corners, dragged in (((4,), (6,)), ((4, 1, 2, 3), (6, 1, 2, 3))):
        node = placed(Rect(size=(40, 30), corners=corners))[1]
        handle = next(h for h in handles_of(Start(node)) if h.role == "corner")
        assert handle.drag((7, 9), 0, False).values == {"corners": dragged}
        for i, at in enumerate([(0, 0), (40, 0), (40, 30), (0, 30)]):
            r = corners[i % len(corners)]
            m = measure(node, "corners", (i,) if len(corners) == 4 else (0,))
            assert m.label == f"radius {r}"
            centre = node.world.inverse().map(*m.firm[0][0])
            if len(corners) == 4:
                assert math.dist(centre, at) == pytest.approx(r * math.sqrt(2), abs=1e-6)


@given(st.lists(point, min_size=2, max_size=5, unique=True), st.integers(0, 4), point)
def test_a_held_point_of_a_line_goes_in_steps_from_the_one_before(points, which, to):
    line = Polyline(points=points)
    node = placed(line)[1]
    knots = [h for h in handles_of(Start(node)) if h.role == "point"]
    i = which % len(points)
    x, y = knots[i].drag(to, 6, True).values["points"][i]
    bx, by = points[i - 1]
    assume(math.dist((x, y), (bx, by)) > 1)
    turns = math.degrees(math.atan2(y - by, x - bx)) / 15
    assert turns == pytest.approx(round(turns), abs=1e-3)
    assert math.dist((x, y), (bx, by)) == pytest.approx(math.dist(to, (bx, by)), abs=1e-3)


def test_a_text_wraps_at_no_less_than_a_px_and_grows_with_its_height():
    node = placed(Text("quay side", size=20, width=80))[1]
    start = Start(node)
    edge, corner = handles_of(start)
    left, top, right, bottom = start.box
    assert edge.drag((left - 50, 0), 0, False).values == {"width": 1}
    assert edge.drag((left + 33.4, 0), 0, False).values == {"width": 33}
    twice = corner.drag((right, top + 2 * (bottom - top)), 3, False).values
    assert twice["size"] == pytest.approx(40, abs=0.01)


MEASURES = [
    (Rect(id="s", at=(10, 20), size=(30, 40)), "at", (0,), "x 10", 10),
    (Rect(id="s", at=(10, 20), size=(30, 40)), "at", (1,), "y 20", 20),
    (Rect(id="s", at=(10, 20), size=(30, 40)), "size", (0,), "width 30", 30),
    (Rect(id="s", at=(10, 20), size=(30, 40)), "size", (1,), "height 40", 40),
    (Rect(id="s", size=(30, 40), corners=(5,)), "corners", (0,), "radius 5", 5),
    (Circle(id="s", radius=7), "radius", (), "radius 7", 7),
    (Ellipse(id="s", radii=(7, 9)), "radii", (1,), "ry 9", 9),
    (Line(id="s", to=(3, -8)), "to", (1,), "y -8", 8),
    (Polyline(id="s", points=[(0, 0), (6, 2)]), "points", (1, 0), "x 6", 6),
    (Line(id="s", stroke_width=5), "stroke_width", (), "width 5", 5),
    (Annulus(id="s", inner=5, outer=9), "inner", (), "inner 5", 5),
    (Annulus(id="s", inner=5, outer=9, start=40, sweep=90), "outer", (), "outer 9", 9),
    (RegularPolygon(id="s", radius=8, facing=33), "radius", (), "radius 8", 8),
    (Star(id="s", tips=3, outer=9, inner=4), "inner", (), "inner 4", 4),
    (Arc(id="s", radii=(10, 10), start=0, sweep=180), "sweep", (), "sweep 180°", 12),
    (Arc(id="s", radii=(10, 10), start=90), "start", (), "start 90°", 6 * math.sqrt(2)),
    (Rect(id="s", steps=[{"translate": [3, 4]}]), "steps", (0, 0), "translate 3, 4", 5),
]


@pytest.mark.parametrize(("shape", "name", "path", "label", "long"), MEASURES)
def test_a_number_in_focus_draws_its_length(shape, name, path, label, long):
    shape = shape.copy()
    display = DisplayList(Scene([Group(at=(100, 50), steps=[{"scale": [2, 2]}], children=[shape])]))
    m = measure(display.node(shape), name, path)
    assert m.label == label
    (x0, y0), (x1, y1) = m.firm[0][0], m.firm[0][-1]
    assert math.hypot(x1 - x0, y1 - y0) == pytest.approx(2 * long, abs=0.01), "in the group's doubled space"


def test_angles_and_scales_are_drawn_too():
    shape = Rect(id="s", size=(30, 40), steps=[{"rotate": -90}, {"scale": [2, 1]}])
    display = DisplayList(Scene([shape]))
    arc = measure(display.node(shape), "steps", (0, 0))
    a, b = arc.firm[0][0], arc.firm[0][-1]
    assert a[1] == pytest.approx(20) and b[0] == pytest.approx(15) and b[1] < a[1], "from +x toward less y"
    before_after = measure(display.node(shape), "steps", (1, 0))
    assert before_after.firm and before_after.faint
    assert measure(display.node(shape), "opacity", ()) is None


def test_parts_of_values():
    steps = (Step("scale", (2, 3), (4, 5)), Step("rotate", (9,)))
    assert part(steps, (0, 1)) == 3 and part(steps, (0, -1, 1)) == 5
    assert with_part(steps, (0, -1, 0), 7)[0] == Step("scale", (2, 3), (7, 5))
    assert with_part(((1, 2), (3, 4)), (1, 0), 9) == ((1, 2), (9, 4))
    assert moved(1.5, 0.5) == 2 and isinstance(moved(1.5, 0.5), int)
    assert moved(Formula("tide * 3", 3), 2) == Formula("tide * 3 + 2", 5)
    assert [show(v) for v in (-3, 1 / 3, 2.0, -0.0001, 1e-9)] == ["−3", "0.333", "2", "0", "0"]


def test_the_view_keeps_points_under_the_pointer_and_within_its_limits():
    view = View()
    view.place(13, 27)
    for zoom in (0.3, 5, 1000, 1e-9):
        before = view.to_scene(200, 100)
        view.zoom_about(zoom, 200, 100)
        assert LEAST <= view.zoom <= MOST
        assert view.to_widget(*before) == pytest.approx((200, 100), abs=0.51)
        assert view.to_scene(*view.to_widget(3, 4)) == pytest.approx((3, 4))
    view.zoom = 0.75
    assert (view.step(1), view.step(-1)) == (1.0, 0.5)
    view.fit((0, 0, 100, 50), (20, 20, 420, 420), margin=0)
    assert view.zoom == 4 and view.to_widget(50, 25) == (220, 220)
