"""Length, place, nearest place and area along an outline, against numeric integration, shapely and Qt."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from shapely.geometry import LineString, Point, Polygon

from chalcedon.geometry import PathBuilder
from chalcedon.geometry.along import Along, area
from chalcedon.geometry.crossings import crossings
from chalcedon.geometry.fit import single_cubic, with_fewer_curves
from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.heads import subpaths, with_heads
from chalcedon.geometry.primitives import ellipse, polyline
from chalcedon.geometry.spline import through

number = st.floats(-100, 100).map(lambda v: round(v, 2))
spot = st.tuples(number, number)


@st.composite
def outlines(draw, closed=None, least=1):
    pen = PathBuilder()
    pen.move(*draw(spot))
    for _ in range(draw(st.integers(least, 5))):
        kind = draw(st.sampled_from("LQC"))
        points = [v for _ in range("LQC".index(kind) + 1) for v in draw(spot)]
        {"L": pen.line, "Q": pen.quadratic, "C": pen.cubic}[kind](*points)
    if draw(st.booleans()) if closed is None else closed:
        pen.close()
    return pen.path()


def fine(path):
    """Points along a path, close together."""
    out = []
    for line in flatten(path, 1e-4):
        points = [(v.x, v.y) for v in line.vertices]
        out.append([*points, points[0]] if line.closed and len(points) > 1 else points)
    return out


@given(st.tuples(spot, spot, spot, spot))
def test_a_length_is_the_integral_of_the_speed(p):
    pen = PathBuilder()
    pen.move(*p[0])
    pen.cubic(*p[1], *p[2], *p[3])
    xs, ys = ([q[i] for q in p] for i in (0, 1))

    def speed(t):
        s = 1 - t
        return math.hypot(
            *(3 * (s * s * (v[1] - v[0]) + 2 * s * t * (v[2] - v[1]) + t * t * (v[3] - v[2])) for v in (xs, ys))
        )

    expected = sum(quad(speed, a, a + 0.125, limit=200)[0] for a in np.arange(0, 1, 0.125))
    assert Along(pen.path()).length == pytest.approx(expected, rel=1e-6, abs=1e-6)


@settings(max_examples=60)
@given(outlines(), st.floats(0, 1))
def test_a_place_lies_on_the_outline_as_far_along_as_it_says(path, share):
    along = Along(path)
    place = along.at(along.length * share)
    line = fine(path)[0]
    if len(line) < 2:
        return
    flat = LineString(line)
    assert flat.distance(Point(place.x, place.y)) < 1e-3
    assert along.length == pytest.approx(flat.length, rel=1e-3, abs=1e-3)
    assert math.hypot(*place.tangent) == pytest.approx(1)
    assert place.normal == pytest.approx((-place.tangent[1], place.tangent[0]))
    step = along.length * 1e-4
    back, on = along.at(max(0.0, place.distance - step)), along.at(min(along.length, place.distance + step))
    ahead = on.x - back.x, on.y - back.y
    size = math.hypot(*ahead)
    if size > 1.99 * step and 0 < share < 1:  # no corner near: then the tangent is the difference, by its definition
        assert (ahead[0] * place.tangent[0] + ahead[1] * place.tangent[1]) / size > 0.99
    before, after = along.part(0, place.distance), along.part(place.distance, along.length)
    assert Along(before).length + Along(after).length == pytest.approx(along.length, rel=1e-6, abs=1e-6)


@settings(max_examples=60)
@given(outlines(), spot)
def test_the_nearest_place_is_that_of_shapely(path, point):
    place, away = Along(path).nearest(*point)
    lines = [LineString(part) if len(part) > 1 else Point(part[0]) for part in fine(path)]
    assert away == pytest.approx(min(line.distance(Point(point)) for line in lines), abs=2e-3)
    assert math.dist((place.x, place.y), point) == pytest.approx(away, abs=1e-6)


@settings(max_examples=60)
@given(outlines(closed=True, least=2))
def test_the_area_is_that_of_the_polygon(path):
    ring = fine(path)[0]
    x, y = np.array(ring).T
    shoelace = float(np.dot(x[:-1], y[1:]) - np.dot(x[1:], y[:-1])) / 2
    assert area(path) == pytest.approx(shoelace, rel=1e-3, abs=0.5)


@given(st.lists(st.tuples(st.integers(-9, 9), st.integers(-9, 9)), min_size=2, max_size=3), st.integers(0, 3))
def test_where_a_curve_stands_still_its_tangent_is_that_close_by(spots, doubled):
    first, last = spots[0], spots[-1]
    middle = [first] * (doubled & 1) + spots[1:-1] + [last] * (doubled >> 1)
    one, two = [*middle, last, last][:2]
    pen = PathBuilder()
    pen.move(*first)
    pen.cubic(*one, *two, *last)
    along = Along(pen.path())
    if along.length < 1e-9:
        return
    for at, close in ((0.0, along.length * 1e-5), (along.length, along.length * (1 - 1e-5))):
        here, there = along.at(at).tangent, along.at(close).tangent
        assert here[0] * there[0] + here[1] * there[1] == pytest.approx(1, abs=5e-3)


def test_round_numbers():
    circle = Along(ellipse(50, 50))
    assert circle.length == pytest.approx(100 * math.pi, rel=1e-4)
    assert abs(area(ellipse(50, 50))) == pytest.approx(2500 * math.pi, rel=1e-4)
    square = Along(polyline([(0, 0), (10, 0), (10, 10), (0, 10)], True))
    assert square.length == 40
    corner = square.at(25)
    assert (corner.x, corner.y, corner.angle) == pytest.approx((5, 10, 180))
    assert Along(polyline([])).at(0) is None and Along(polyline([])).nearest(0, 0) is None


def test_the_nearest_place_of_a_curve_with_a_straight_control_polygon():
    # its third differences vanish, so that the quintic has fewer than six coefficients
    pen = PathBuilder()
    pen.move(0, 0)
    pen.cubic(10, 0, 20, 0, 30, 0)
    place, away = Along(pen.path()).nearest(12, 5)
    assert (place.x, place.y, away) == pytest.approx((12, 0, 5))


# smooth curves


@given(st.lists(spot, min_size=2, max_size=8, unique=True), st.booleans(), st.sampled_from([0.0, 0.5, 1.0]))
def test_a_smooth_curve_goes_through_its_points(points, closed, curve):
    path = through(points, closed, curve)
    ends = {tuple(c[-2:]) for _, c in path.segments() if c}
    assert set(points) <= ends
    if curve == 0:
        straight = LineString([*points, points[0]] if closed and len(points) > 2 else points)
        assert all(straight.distance(Point(p)) < 1e-6 for part in fine(path) for p in part)


@given(st.lists(spot, min_size=4, max_size=7, unique=True))
def test_a_smooth_curve_turns_without_corners(points):
    pieces = Along(through(points, False, 1.0)).pieces
    for a, b in itertools.pairwise(pieces):
        out = np.array([a.xs[3] - a.xs[2], a.ys[3] - a.ys[2]])
        into = np.array([b.xs[1] - b.xs[0], b.ys[1] - b.ys[0]])
        size = np.hypot(*out) * np.hypot(*into)
        if size > 1e-6:
            assert float(out @ into) / size == pytest.approx(1, abs=1e-6)


# fewer curves


@settings(max_examples=60)
@given(outlines(least=2), st.sampled_from([0.01, 0.1]))
def test_fewer_curves_stay_within_the_tolerance(path, tolerance):
    pieces = Along(path)
    cut = PathBuilder()  # every segment in four, so that there is something to join
    cut.move(pieces.pieces[0].xs[0], pieces.pieces[0].ys[0])
    for i in range(4 * len(pieces.pieces)):
        piece = pieces.pieces[i // 4]
        part = Along(
            pieces.part(piece.start + piece.length * (i % 4) / 4, piece.start + piece.length * (i % 4 + 1) / 4)
        )
        for p in part.pieces[-1:]:
            if piece.straight:
                cut.line(p.xs[3], p.ys[3])
            else:
                cut.cubic(p.xs[1], p.ys[1], p.xs[2], p.ys[2], p.xs[3], p.ys[3])
    many = cut.path()
    fewer = with_fewer_curves(many, tolerance)
    assert fewer.verbs.count("C") <= many.verbs.count("C")
    line = LineString(fine(many)[0]) if len(fine(many)[0]) > 1 else None
    if line is not None:
        assert all(line.distance(Point(p)) < tolerance * 1.5 + 1e-3 for part in fine(fewer) for p in part)


def test_a_circle_of_many_quadratics_becomes_few_cubics():
    pen = PathBuilder()
    count = 64
    pen.move(100, 0)
    half = math.pi / count
    for i in range(count):
        middle, end = 2 * half * i + half, 2 * half * (i + 1)
        r = 100 / math.cos(half)
        pen.quadratic(r * math.cos(middle), r * math.sin(middle), 100 * math.cos(end), 100 * math.sin(end))
    pen.close()
    fewer = with_fewer_curves(pen.path(), 0.02)
    assert fewer.verbs.count("C") <= 6
    assert area(fewer) == pytest.approx(math.pi * 1e4, rel=1e-4)


def test_one_cubic_for_two_halves_is_the_whole():
    pen = PathBuilder()
    pen.move(0, 0)
    pen.cubic(10, 40, 60, -20, 90, 30)
    along = Along(pen.path())
    first, second = along.part(0, along.length / 2), along.part(along.length / 2, along.length)
    halves = type(first)(first.verbs + second.verbs[1:], first.coords + second.coords[2:])
    xs, ys = single_cubic(halves)
    assert xs == pytest.approx((0, 10, 60, 90), abs=0.1) and ys == pytest.approx((0, 40, -20, 30), abs=0.1)


# crossings and heads


@settings(max_examples=80)
@given(st.lists(spot, min_size=4, max_size=7, unique=True))
def test_a_ring_crosses_itself_when_shapely_says_it_is_not_simple(points):
    path = polyline(points, True)
    found = crossings(path, 0.01)
    ring = LineString([*points, points[0]])
    if Polygon(points).is_valid:
        assert found == []
    for x, y in found:
        assert ring.distance(Point(x, y)) < 1e-6


def test_the_crossings_of_a_five_pointed_line_are_five():
    tips = [(math.cos(a), math.sin(a)) for a in (4 * math.pi * k / 5 for k in range(5))]
    assert len(crossings(polyline([(90 * x, 90 * y) for x, y in tips], True), 0.1)) == 5
    assert crossings(ellipse(30, 20), 0.1) == []


@pytest.mark.parametrize("kind", ["triangle", "barb", "dot", "bar", "diamond"])
def test_heads_sit_on_the_ends_and_shorten_the_line(kind):
    line = polyline([(0, 0), (100, 0)])
    headed = with_heads(line, 10, "none", kind)
    box = headed.heads.bounds()
    assert box[0] >= 85 and box[2] <= 110 and box[1] == pytest.approx(-box[3])
    assert Along(headed.line).length <= 100
    both = with_heads(line, 10, kind, kind)
    assert len(subpaths(both.heads)) == 2
    assert with_heads(ellipse(10, 10), 10, kind, kind).heads.verbs == ""


def test_a_part_keeps_whole_subpaths_closed():
    square = [(0, 0), (10, 0), (10, 10), (0, 10)]
    two = PathBuilder()
    for dx in (0, 30):
        two.move(dx, 0)
        for x, y in square[1:]:
            two.line(x + dx, y)
        two.close()
    along = Along(two.path())
    assert along.part(0, 80).verbs.count("Z") == 2
    assert along.part(0, 55).verbs.count("Z") == 1 and along.part(5, 80).verbs.count("Z") == 1
    assert along.part(5, 75).verbs.count("Z") == 0
