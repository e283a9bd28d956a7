"""Shape algebra against shapely on finely flattened outlines, and against the formulas of circles."""

import math

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st
from shapely import make_valid
from shapely.geometry import LineString, MultiLineString, MultiPolygon, Point, Polygon

from chalcedon.geometry import Affine, PathBuilder
from chalcedon.geometry.along import area
from chalcedon.geometry.booleans import OPERATIONS, Filled, combine, offset, stroke_outline
from chalcedon.geometry.contain import Region
from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.path import subpaths
from chalcedon.geometry.primitives import ellipse, polyline, rect
from chalcedon.geometry.round import annulus
from chalcedon.geometry.stroke import Pen

numbers = st.floats(-60, 60).map(lambda v: round(v, 2))


@st.composite
def blobs(draw):
    """Closed outlines of curves about the origin, simple or crossing themselves."""
    spots = draw(st.lists(st.tuples(numbers, numbers), min_size=3, max_size=5, unique=True))
    pen = PathBuilder()
    pen.move(*spots[0])
    for spot in [*spots[1:], spots[0]]:
        controls = draw(st.tuples(numbers, numbers, numbers, numbers))
        if draw(st.booleans()):
            pen.line(*spot)
        else:
            pen.cubic(*controls, *spot)
    pen.close()
    return Filled(pen.path(), draw(st.booleans()))


def contains(area, x, y):
    return Region(area.path, area.even_odd).contains(x, y)


def edges_of(areas):
    """The outlines as one flattened line work."""
    out = []
    for a in areas:
        for line in flatten(a.path, 0.01):
            points = [(v.x, v.y) for v in line.vertices]
            if line.closed:
                points.append(points[0])
            if len(points) > 1:
                out.append(points)
    return MultiLineString(out)


LOGIC = {
    "union": lambda a, b: a or b,
    "difference": lambda a, b: a and not b,
    "intersection": lambda a, b: a and b,
    "exclusion": lambda a, b: a != b,
}


@settings(max_examples=150, derandomize=True, phases=[Phase.generate])
@given(blobs(), blobs(), st.sampled_from(OPERATIONS), st.lists(st.tuples(numbers, numbers), min_size=20, max_size=20))
def test_a_point_is_in_the_result_when_logic_says_so(one, two, operation, points):
    result = combine(operation, [one, two])
    lines = edges_of([one, two])
    for x, y in points:
        if lines.distance(Point(x, y)) < 0.25:
            continue
        expected = LOGIC[operation](contains(one, x, y), contains(two, x, y))
        for even_odd in (False, True):
            assert contains(Filled(result, even_odd), x, y) == expected, (x, y)


def test_circles_stay_curves_and_their_lens_has_the_area_of_the_formula():
    one, two = Filled(ellipse(50, 50)), Filled(ellipse(50, 50).mapped(Affine.translate(50, 0)))
    lens = 2 * 2500 * math.acos(0.5) - 25 * math.sqrt(7500)
    circle = math.pi * 2500
    for operation, expected in (
        ("union", 2 * circle - lens),
        ("difference", circle - lens),
        ("intersection", lens),
        ("exclusion", 2 * circle - 2 * lens),
    ):
        result = combine(operation, [one, two])
        assert abs(area(result)) == pytest.approx(expected, rel=3e-4)
        assert "L" not in result.verbs and result.verbs.count("C") <= 16


@pytest.mark.parametrize("radius", [0.2, 20, 200, 5000])
def test_edges_that_are_the_same_but_for_their_cubics_leave_nothing_between(radius):
    disc, thin = Filled(ellipse(radius, radius)), Filled(rect(radius, radius * 1e-5))
    turned = Filled(disc.path.mapped(Affine.rotate(33)))
    around = Filled(annulus(radius / 2, radius, 0, 360))
    assert not combine("difference", [disc, turned]).verbs and not combine("exclusion", [disc, turned]).verbs
    for operation in ("difference", "exclusion"):
        (middle,) = subpaths(combine(operation, [disc, around]))
        assert area(middle) == pytest.approx(math.pi * radius**2 / 4, rel=1e-3)
    assert len(subpaths(combine("union", [turned, around, disc]))) == 1
    assert combine("union", [thin]).verbs, "what is given is thin itself"
    aside = Filled(thin.path.mapped(Affine.translate(2 * radius, 0)))
    assert len(subpaths(combine("union", [disc, aside]))) == 2


def shapely_of(path):
    parts = [[(v.x, v.y) for v in line.vertices] for line in flatten(path, 0.002)]
    out = MultiPolygon()
    for part in parts:
        if len(part) > 2:
            out = out.symmetric_difference(make_valid(Polygon(part)))
    return out


@pytest.mark.parametrize("join", ["miter", "round", "bevel"])
@pytest.mark.parametrize("cap", ["butt", "round", "square"])
def test_a_stroke_as_an_area_is_what_shapely_buffers(cap, join):
    points = [(0, 0), (60, 10), (20, 40), (90, 70)]
    ours = shapely_of(stroke_outline(polyline(points, False), Pen(8, cap, join, 10)))
    styles = {"butt": "flat", "miter": "mitre"}
    theirs = LineString(points).buffer(
        4,
        quad_segs=200,
        cap_style=styles.get(cap, cap),
        join_style=styles.get(join, join),
        mitre_limit=10,
    )
    assert ours.symmetric_difference(theirs).area < 0.3


@pytest.mark.parametrize("distance", [7, -7, 25, -25])
@pytest.mark.parametrize("join", ["miter", "round", "bevel"])
def test_an_offset_is_what_shapely_buffers(distance, join):
    outline = rect(120, 80, (10, 0, 30, 5))
    ours = shapely_of(offset(Filled(outline), distance, join, 10))
    theirs = shapely_of(outline).buffer(
        distance, quad_segs=200, join_style={"miter": "mitre"}.get(join, join), mitre_limit=10
    )
    assert ours.symmetric_difference(theirs).area < 0.005 * theirs.area


def test_a_stroke_wider_than_its_bends_has_no_hole():
    disc = stroke_outline(ellipse(20, 20), Pen(60))
    assert abs(area(disc)) == pytest.approx(math.pi * 2500, rel=1e-3)
    assert contains(Filled(disc), 0, 0) and contains(Filled(disc), 6, 6)
    assert offset(Filled(ellipse(20, 20)), -25).verbs == ""
