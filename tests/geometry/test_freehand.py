"""Lines drawn by hand become few smooth curves that keep to them."""

import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point

from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.freehand import smooth_through


def drawn(outline):
    (contour,) = flatten(outline, 0.01)
    spots = [(v.x, v.y) for v in contour.vertices]
    return LineString([*spots, spots[0]] if contour.closed else spots)


def counted(outline):
    return len(outline.verbs) - 1


@given(
    st.lists(st.tuples(st.integers(-300, 300), st.integers(-300, 300)), min_size=2, max_size=40),
    st.floats(0.5, 8),
    st.booleans(),
)
def test_no_point_is_farther_off_than_the_tolerance(points, tolerance, closed):
    outline = smooth_through(points, tolerance, closed)
    if len(set(points)) < 2:
        return
    line = drawn(outline) if outline.verbs != "M" and outline.verbs else Point(points[0])
    for x, y in points:
        assert line.distance(Point(x, y)) <= 1.51 * tolerance  # those left out lie half of it beside one that is in
    assert outline.coords[:2] == tuple(map(float, points[0])) or math.dist(points[0], points[-1]) <= tolerance


def test_a_trembling_circle_is_a_handful_of_curves():
    chance = random.Random(4)
    points = [
        (100 * math.cos(a / 40) + chance.gauss(0, 0.5), 100 * math.sin(a / 40) + chance.gauss(0, 0.5))
        for a in range(251)
    ]
    outline = smooth_through(points, 2.0, closed=True)
    assert outline.verbs.endswith("Z") and set(outline.verbs) == set("MCZ") and counted(outline) <= 10
    assert all(abs(math.hypot(*p) - 100) < 3 for p in drawn(outline).coords)


@pytest.mark.parametrize("step", [5, 20, 40, 80])
def test_corners_stay_corners_and_straight_stretches_are_lines(step):
    points = [(x, 0) for x in range(0, 100, step)] + [(100, y) for y in range(0, 81, step)]
    outline = smooth_through(points, 1.5)
    assert outline.verbs == "MLL" and outline.coords == (0, 0, 100, 0, 100, 80)


def test_curves_between_corners_leave_smoothly():
    points = [(t, 40 * math.sin(t / 25)) for t in range(0, 158, 3)]
    outline = smooth_through(points, 1.0)
    vertices = flatten(outline, 0.005)[0].vertices[1:-1]
    turns = [v.arrive[0] * v.leave[0] + v.arrive[1] * v.leave[1] for v in vertices]
    assert counted(outline) <= 6 and min(turns) > 0.98


@pytest.mark.parametrize("turn", [20, 45, 75, 130])
def test_a_closed_line_has_the_same_corners_wherever_it_was_begun(turn):
    """Two arcs meet in two tips, at which the line turns; it is begun at one of them."""
    radius, half = 300, math.radians(180 - turn) / 2
    arc = [(radius * math.cos(a), radius * math.sin(a)) for a in np.linspace(-half, half, 60)]
    dx = radius * math.cos(half)
    lens = [(x - dx, y) for x, y in arc[:-1]] + [(dx - x, -y) for x, y in arc[:-1]]
    for first in (0, 20, 59):
        run = flatten(smooth_through(lens[first:] + lens[:first], 1.0, closed=True), 0.005)[0]
        vertices = run.vertices[:-1] if math.dist(run.vertices[0][:2], run.vertices[-1][:2]) < 1e-9 else run.vertices
        tips = [min(vertices, key=lambda v: math.dist((v.x, v.y), tip)) for tip in (lens[0], lens[59])]
        for v in tips:
            sharp = v.arrive[0] * v.leave[0] + v.arrive[1] * v.leave[1] < 0.97
            assert sharp == (turn > 60), (first, turn)


def test_a_dot_is_nothing_to_draw():
    assert smooth_through([], 2).verbs == "" and smooth_through([(3, 4)], 2).verbs == ""
    assert smooth_through([(3, 4), (3.1, 4)], 2).verbs == ""
