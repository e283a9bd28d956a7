"""What formulas ask of outlines, against shapely."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.affinity import affine_transform
from shapely.geometry import LineString, Point, Polygon

from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.scene import Circle, Group, Polyline, Scene, Step, Text

whole = st.integers(-40, 40)
spots = st.tuples(whole, whole)
lines = st.tuples(st.lists(spots, min_size=2, max_size=5, unique=True), st.booleans(), spots, st.integers(0, 359))


def made(id, line):
    points, closed, at, turn = line
    return Polyline(id=id, points=points, closed=closed, at=at, steps=[Step("rotate", turn)], pivot="origin")


def solid(node, line):
    """The line or the area that a node covers."""
    points, closed, *_ = line
    ring = LineString([*points, points[0]] if closed else points)
    m = node.world
    return affine_transform(ring, (m.a, m.c, m.b, m.d, m.e, m.f))


@given(lines, lines, spots)
def test_gap_overlap_inside_and_places_are_those_of_shapely(one, two, spot):
    scene = Scene([made("a", one), Group(id="bay", at=(7, -3), children=[made("b", two)], steps=[Step("scale", 2, 1)])])
    asked = "{gap(a, b):.9f} {overlaps(a, b)} {length_of(a):.9f} {along(a, 0.3).x:.9f} {along(a, 0.3).y:.9f}"
    scene.add(Circle(id="pin", at=spot, radius=1))
    told = scene.add(Text(id="told", content=Formula(f'f"{asked} {{inside(pin.center, a)}}"')))
    display = DisplayList(scene)
    gap, overlaps, length, x, y, inside = told.content.split()
    a, b = (solid(display.node(scene[id]), line) for id, line in (("a", one), ("b", two)))
    assert float(gap) == pytest.approx(a.distance(b), abs=1e-6)
    assert float(length) == pytest.approx(a.length, abs=1e-6)
    on = a.interpolate(0.3, normalized=True)
    assert (float(x), float(y)) == pytest.approx((on.x, on.y), abs=1e-6)
    if all(line.is_ring and line.is_simple for line in (a, b)):
        assert (overlaps == "True") == Polygon(a).intersects(Polygon(b))
    if a.is_ring and a.is_simple and a.distance(Point(spot)) > 1e-6:
        assert (inside == "True") == Polygon(a).contains(Point(spot))
