"""Points of lines, polylines and paths, edited wherever the shapes stand: the outline on the page is what counts."""

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from strategies import lines, paths, polylines, smooth

from chalcedon.craft import points
from chalcedon.evaluate import DisplayList
from chalcedon.geometry.along import Along
from chalcedon.geometry.path import subpaths
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Line, Path, Polyline, Scene

bent = st.one_of(lines, polylines, paths)
MANY = settings(max_examples=60, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
PLACES = {"at", "anchor", "pivot", "points", "data", "to", "closed", "curve"}


def placed(*shapes):
    scene = Scene([Group(id="g", at=(30, -20), steps=[{"rotate": 25}, {"scale": [1.5, 0.8]}], children=list(shapes))])
    return scene, DisplayList(scene)


def on_page(display, shape):
    display.update()
    node = display.node(shape)
    if not 0.2 < abs(node.world.a * node.world.d - node.world.b * node.world.c) < 50:
        assume(False)
    return node.outline.mapped(node.world)


def far(one, other):
    """The farthest that points along an outline lie from another, in px."""
    way, target = Along(one), Along(other)
    spots = [way.at(way.length * i / 24) for i in range(25)]
    found = [(s, target.nearest(s.x, s.y)) for s in spots if s is not None]
    return max((near[1] if near else 1e9 for _s, near in found), default=0.0)


def alike(one, other, shape=None):
    """An arc becomes cubics within 1/4000 of its radii, which are enlarged where its ends lie too far apart; those of
    its parts are others."""
    within = 0.5 if isinstance(shape, Path) and "A" in shape.data else 0.05
    return far(one, other) < within and far(other, one) < within


def looks(shape):
    return {n: v for n, v in shape._values.items() if n not in PLACES}


@MANY
@given(bent, st.integers(0, 9), st.floats(0.05, 0.95))
def test_a_point_more_changes_nothing_that_is_seen(shape, which, t):
    shape.id = "it"
    scene, display = placed(shape)
    all_ = points.contours(shape)
    c = next(i for i, contour in enumerate(all_) if contour.segments)
    segment = c, which % len(all_[c].segments)
    before, paint, count = on_page(display, shape), looks(shape), len(all_[c].knots)
    assume(all_[c].knots[segment[1]] != all_[c].end_of(segment[1]))
    spot = points.point_on(shape, segment, t)
    new, knot = points.add_point(display, shape, segment, t)
    assert looks(new) == paint and new.id == "it" and alike(before, on_page(display, new), shape)
    assert isinstance(new, Polyline if isinstance(shape, Line) else type(shape))
    assert len(points.contours(new)[c].knots) == count + 1
    if not isinstance(new, Path):
        x, y = points.contours(new)[c].knots[knot[1]]
        first, began = points.contours(new)[c].knots[0], all_[c].knots[0]
        assert (x - first[0], y - first[1]) == pytest.approx((spot[0] - began[0], spot[1] - began[1]), abs=0.02)
    back = points.delete_points(display, new, [knot])
    if isinstance(shape, Polyline):
        assert alike(before, on_page(display, back))
    while scene.undo():
        pass
    assert alike(before, on_page(display, scene["it"])) and type(scene["it"]) is type(shape)


@MANY
@given(st.one_of(bent, smooth))
def test_reversing_runs_the_same_outline_from_its_end(shape):
    _scene, display = placed(shape)
    before = on_page(display, shape)
    ends = [Along(s).at(0.0) for s in subpaths(before)], [Along(s).at(Along(s).length) for s in subpaths(before)]
    (new,) = points.reverse(display, [shape])
    after = on_page(display, new)
    assert alike(before, after)
    if "Z" not in before.verbs and len(ends[0]) == 1:
        first, last = Along(after).at(0.0), Along(after).at(Along(after).length)
        assert (first.x, first.y) == pytest.approx((ends[1][0].x, ends[1][0].y), abs=0.05)
        assert (last.x, last.y) == pytest.approx((ends[0][0].x, ends[0][0].y), abs=0.05)


@MANY
@given(st.one_of(polylines, paths), st.integers(0, 9))
def test_splitting_parts_the_line_and_joining_makes_it_one_again(shape, which):
    scene, display = placed(shape)
    all_ = points.contours(shape)
    assume(len(all_) == 1 and len(all_[0].knots) > 2)
    knot, before, paint = which % len(all_[0].knots), on_page(display, shape), looks(shape)
    try:
        parts = points.split(display, shape, (0, knot))
    except ValueProblem:
        assert knot in (0, len(all_[0].knots) - 1) and not all_[0].closed
        return
    assert len(parts) == (1 if all_[0].closed else 2) and all(looks(p) == paint for p in parts)
    pieces = [on_page(display, p) for p in parts]
    assert sum(Along(p).length for p in pieces) == pytest.approx(Along(before).length, rel=1e-3, abs=0.1)
    assert all(far(p, before) < 0.05 for p in pieces)
    one = points.close(display, parts[0], 0.5) if len(parts) == 1 else points.join(display, parts)
    assert far(before, on_page(display, one)) < 0.05 and far(on_page(display, one), before) < 0.05
    assert len(list(scene.walk())) == 2


@pytest.mark.parametrize("which", range(3))
@pytest.mark.parametrize("closed", ["", " Z"])
def test_splitting_one_contour_of_several_leaves_the_others(which, closed):
    data = " ".join(f"M{x} 0 L{x + 30} 0 L{x + 30} {x + 10} L{x} 20{closed}" for x in (0, 50, 100))
    shape = Path(id="vine", data=data, stroke="#204060")
    _scene, display = placed(shape)
    before, all_ = on_page(display, shape), points.contours(shape)
    parts = points.split(display, shape, (which, 1))
    assert sum(len(points.contours(p)) for p in parts) == 3 + len(parts) - 1
    assert [c.closed for p in parts for c in points.contours(p)].count(True) == (2 if closed else 0)
    pieces = [on_page(display, p) for p in parts]
    assert sum(Along(p).length for p in pieces) == pytest.approx(Along(before).length)
    assert all(far(p, before) < 0.05 for p in pieces) and len(all_) == 3


def test_joining_bridges_what_is_apart_and_says_when_there_is_nothing_to_join():
    left, right = (
        Line(id="left", to=(40, 0), stroke="#204060"),
        Polyline(id="right", at=(60, 10), points=[(0, 0), (30, 5)]),
    )
    scene, display = placed(left, right)
    gap = [on_page(display, s) for s in (left, right)]
    one = points.join(display, [right, left], within=0.5)
    assert one.id == "left" and one.stroke == "#204060" and len(one.points) == 4 and "right" not in scene
    assert all(far(g, on_page(display, one)) < 0.05 for g in gap)
    with pytest.raises(ValueProblem, match="two open outlines"):
        points.join(display, [one])
    with pytest.raises(ValueProblem, match="no points of its own"):
        points.contours(Circle())
    assert points.delete_points(display, one, [(0, i) for i in range(3)]) is None and "left" not in scene


@MANY
@given(polylines.filter(lambda s: len(set(s.points)) == len(s.points) > 2), st.integers(0, 6))
def test_smooth_and_corner_are_each_other_s_way_back(shape, which):
    _scene, display = placed(shape)
    before, knot = on_page(display, shape), which % len(shape.points)
    round_one = points.smooth(display, shape, [(0, knot)])
    again = points.corner(display, round_one, [(0, knot)])
    assert alike(before, on_page(display, again))


def test_the_second_part_lies_right_in_front_of_the_first():
    scene = Scene([Line(id="low"), Path(id="vine", data="M0 0 L40 0 L40 40 L80 40"), Line(id="high")])
    display = DisplayList(scene)
    first, second = points.split(display, scene["vine"], (0, 1))
    assert [s.id for s in scene.shapes] == ["low", first.id, second.id, "high"]
