"""Round-joined strokes, dashes and distances against shapely's buffers of the flattened outline."""

import random

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, unary_union
from shapely.ops import substring
from strategies import leaves, length

from chalcedon.evaluate import DisplayList
from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.path import subpaths
from chalcedon.hit.parts import part_at
from chalcedon.scene import Scene

CAPS = {"butt": "flat", "round": "round", "square": "square"}


def lines_of(node):
    for line in flatten(node.outline, 0.001):
        points = [(v.x, v.y) for v in line.vertices]
        if line.closed:
            points.append(points[0])
        if len(points) > 1:
            yield points, line.closed


def compare(node, region, seed):
    chance = random.Random(seed)
    left, top, right, bottom = region.bounds
    for _ in range(40):
        x, y = chance.uniform(left - 3, right + 3), chance.uniform(top - 3, bottom + 3)
        ours = node.stroke_area.contains(x, y)
        spot = Point(x, y)
        if ours != region.contains(spot):
            away = region.boundary.distance(spot)
            assert away <= 0.05, f"at {x}, {y}: ours {ours}, {away:.3f} px from the edge"


@settings(max_examples=80)
@given(leaves, st.integers(0, 10**6))
def test_round_strokes(shape, seed):
    shape.join, shape.cap = "round", "round"
    node = DisplayList(Scene([shape])).node(shape)
    parts = []
    for points, closed in lines_of(node):
        # a ring without any area is buffered wrongly there: with round joins two lines make the same
        for line in (points[:-1], points[-2:]) if closed and len(points) > 2 else (points,):
            parts.append(LineString(line).buffer(node.pen.width / 2, quad_segs=64))
    if parts:
        compare(node, unary_union(parts), seed)


@settings(max_examples=80)
@given(leaves, st.lists(length, min_size=1, max_size=4), st.floats(-50, 50), st.integers(0, 10**6))
def test_dashes(shape, pattern, offset, seed):
    """Each dash, cut out by shapely and buffered, is a piece of the stroke."""
    shape.join, shape.cap, shape.dash, shape.dash_offset = "round", "round", pattern, offset
    node = DisplayList(Scene([shape])).node(shape)
    lengths = list(pattern) * (2 if len(pattern) % 2 else 1)
    parts = []
    for points, _closed in lines_of(node):
        line = LineString(points)
        at, i = -(offset % sum(lengths)), 0
        while at < line.length or at <= 0:  # of a line without length, its one place
            end = at + lengths[i % len(lengths)]
            if i % 2 == 0 and end > 0:
                piece = substring(line, max(at, 0), min(end, line.length))
                parts.append(piece.buffer(node.pen.width / 2, quad_segs=64))
            at, i = end, i + 1
    if parts:
        compare(node, unary_union(parts), seed)


@settings(max_examples=80)
@given(leaves, st.tuples(st.floats(-300, 300), st.floats(-300, 300)))
def test_distance_and_hit_agree(shape, spot):
    """The distance of a hit is that to the outline on the page, and `fill` is what lies inside it."""
    shape.pointer = "fill"
    node = DisplayList(Scene([shape])).node(shape)
    world = [LineString([node.world.map(*p) for p in points]) for points, _closed in lines_of(node)]
    found = part_at(node, *spot)
    if world:
        from chalcedon.geometry.flatten import distance_to_edges

        ours = distance_to_edges(node.edges, *spot)
        for sub in subpaths(node.outline):  # one without length is a place all the same
            if len(set(zip(sub.coords[::2], sub.coords[1::2], strict=True))) == 1:
                world.append(Point(node.world.map(*sub.coords[:2])))
        assert abs(ours - min(line.distance(Point(spot)) for line in world)) < 0.02 or (
            shape.kind == "polyline" and not shape.closed
        )
        assert found is None or found[0] == "fill"
