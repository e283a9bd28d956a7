"""The core's fills and stroke regions against Qt's path engine, on random shapes, transforms and points."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainterPath, QPainterPathStroker, QTransform
from shapely import LineString, Point
from strategies import leaves

from chalcedon.evaluate import DisplayList
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.geometry.path import subpaths
from chalcedon.hit.parts import part_at
from chalcedon.hit.tester import HitTester
from chalcedon.painter.convert import CAPS, JOINS
from chalcedon.painter.outlines import painter_path
from chalcedon.scene import Circle, Group, Rect, Scene

NEAR = 0.1
POINTS = 60


def edges_of(path: QPainterPath) -> list[tuple[float, float, float, float]]:
    """Qt's own flattening, enlarged first so that it is finer than what is tested."""
    out = []
    for polygon in path.toSubpathPolygons(QTransform.fromScale(64, 64)):
        points = [(p.x() / 64, p.y() / 64) for p in polygon]
        out += [(*a, *b) for a, b in zip(points, points[1:] + points[:1], strict=True)]
    return out


def stroked(node) -> QPainterPath:
    pen, stroker = node.pen, QPainterPathStroker()
    stroker.setWidth(pen.width)
    stroker.setCapStyle(CAPS[pen.cap])
    stroker.setJoinStyle(JOINS[pen.join])
    stroker.setMiterLimit(pen.miter_limit)
    stroker.setCurveThreshold(0.001)
    return stroker.createStroke(painter_path(node.outline))


def swept(node, x: float, y: float, generous: bool = True) -> bool:
    """Whether a line of the stroke's width, moved along the outline at a right angle to it, goes over a point.

    That is the definition of a stroke without its joins and caps. Qt's stroker, which offsets the outline, leaves
    holes in it where the outline bends tighter than half the width.
    """
    half = node.pen.width / 2
    for line in flatten(node.outline, 0.002):
        for x0, y0, x1, y1 in edges([line]):
            length = math.hypot(x1 - x0, y1 - y0)
            if (
                length
                and 0 <= ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / length <= length
                and abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) / length <= half
            ):
                return True
        for v in line.vertices if generous else ():  # in a curve the right angle turns on smoothly from edge to edge
            smooth = v.arrive[0] * v.leave[0] + v.arrive[1] * v.leave[1] > 0.9999
            inside = line.closed or v not in (line.vertices[0], line.vertices[-1])
            if smooth and inside and math.hypot(x - v.x, y - v.y) <= half:
                return True
    return False


def joined(node, x: float, y: float) -> bool:
    """Whether a join covers a point, each corner taken by itself and stroked by shapely.

    Qt's stroker leaves joins out where the edge after the corner is much shorter than the pen is wide.
    """
    pen = node.pen
    for line in flatten(node.outline, 0.002):
        inner = line.vertices if line.closed else line.vertices[1:-1]
        for v in inner:
            (ax, ay), (bx, by) = v.arrive, v.leave
            half_turn = math.sqrt(max(0.0, (1 + ax * bx + ay * by) / 2))
            sharp = half_turn <= 1e-6 or 1 / half_turn > pen.miter_limit
            style = "bevel" if pen.join == "miter" and sharp else {"miter": "mitre"}.get(pen.join, pen.join)
            elbow = LineString([(v.x - ax / 100, v.y - ay / 100), (v.x, v.y), (v.x + bx / 100, v.y + by / 100)])
            if elbow.buffer(pen.width / 2, cap_style="flat", join_style=style, mitre_limit=1000).covers(Point(x, y)):
                return True
    return False


def capped(node, x: float, y: float) -> bool:
    """Whether the cap of an end covers a point."""
    half, cap = node.pen.width / 2, node.pen.cap
    for line in flatten(node.outline, 0.002):
        if line.closed or cap == "butt":
            continue
        first, last = line.vertices[0], line.vertices[-1]
        for v, (ox, oy) in ((first, (-first.leave[0], -first.leave[1])), (last, last.arrive)):
            ahead, aside = (x - v.x) * ox + (y - v.y) * oy, abs((x - v.x) * oy - (y - v.y) * ox)
            if math.hypot(ahead, aside) <= half if cap == "round" else 0 <= ahead <= half >= aside:
                return True
    return False


def dotted(node, x: float, y: float) -> bool:
    """Whether the dot of a subpath without length covers a point (SVG 2, 13.5.4); Qt leaves some of them out."""
    half, cap = node.pen.width / 2, node.pen.cap
    for sub in subpaths(node.outline):
        (ax, ay), places = sub.coords[:2], set(zip(sub.coords[::2], sub.coords[1::2], strict=True))
        dx, dy = abs(x - ax), abs(y - ay)
        if len(places) == 1 and cap != "butt" and (math.hypot(dx, dy) if cap == "round" else max(dx, dy)) <= half:
            return True
    return False


def check(node, rule: str, local: QPainterPath, seed: int) -> None:
    """Compares at random points around the shape, half of them close to the edge."""
    node.state = node.state._replace(pointer=rule)
    t = QTransform(*node.world)
    path = t.map(local)
    path.setFillRule(local.fillRule())
    border = edges_of(path)
    if not border or node.inverse is None:
        return
    chance = random.Random(seed)
    box = path.boundingRect().adjusted(-5, -5, 5, 5)
    for i in range(POINTS):
        if i % 2:
            a = chance.choice(border)
            k = chance.random()
            x = a[0] + (a[2] - a[0]) * k + chance.gauss(0, 0.6)
            y = a[1] + (a[3] - a[1]) * k + chance.gauss(0, 0.6)
        else:
            x, y = chance.uniform(box.left(), box.right()), chance.uniform(box.top(), box.bottom())
        ours = part_at(node, x, y) is not None
        theirs = path.contains(QPointF(x, y))
        if ours != theirs:
            local_spot = node.inverse.map(x, y)
            if rule == "stroke" and ours and any(told(node, *local_spot) for told in (swept, joined, dotted)):
                continue
            if (
                rule == "stroke"
                and not ours
                and not (swept(node, *local_spot, False) or joined(node, *local_spot) or capped(node, *local_spot))
            ):
                continue  # where the outline bends tightly, Qt's goes beyond its ends
            away = distance_to_edges(border, x, y)
            assert away <= NEAR, f"{rule} at {x}, {y}: ours {ours}, Qt {theirs}, {away:.3f} px from the edge"


@settings(max_examples=150)
@given(leaves, st.integers(0, 10**6))
def test_fills_agree_with_qt(shape, seed):
    node = DisplayList(Scene([Group(at=(3, 4), steps=[{"rotate": 20}], children=[shape])])).node(shape)
    check(node, "fill", painter_path(node.outline, node.even_odd), seed)


@settings(max_examples=250)
@given(leaves, st.integers(0, 10**6))
def test_strokes_agree_with_qt(shape, seed):
    node = DisplayList(Scene([Group(at=(3, 4), steps=[{"scale": [1.5, 0.8]}], children=[shape])])).node(shape)
    local = stroked(node)
    local.setFillRule(local.fillRule().WindingFill)
    check(node, "stroke", local, seed)


def test_a_disagreement_would_be_seen():
    """The comparison itself: a circle held against one that is half a px larger must fail."""
    shape = Circle(radius=40)
    node = DisplayList(Scene([shape])).node(shape)
    wrong = QPainterPath()
    wrong.addEllipse(QPointF(0, 0), 40.5, 40.5)
    try:
        check(node, "fill", wrong, 1)
    except AssertionError:
        return
    raise AssertionError("half a px went unnoticed")


@pytest.mark.parametrize("radius", [0.5, 19, 21, 999, 1001, 10_000])
def test_round_outlines_are_exact_to_a_hundredth_of_a_px(radius):
    """By the equation of the circle: fills, strokes, and the corners of rects."""
    circle = Circle(radius=radius, fill="red", stroke="#000", stroke_width=radius / 4)
    corner = Rect(at=(3 * radius, 0), anchor="center", size=(2 * radius, 2 * radius), corners=(radius,), fill="red")
    scene = Scene([circle, corner])
    tester = HitTester(scene)
    for i in range(360):
        a = math.radians(i * 1.03)
        for r, part in (
            (radius * 7 / 8 - 0.01, "fill"),
            (radius * 7 / 8 + 0.01, "stroke"),
            (radius * 9 / 8 - 0.01, "stroke"),
            (radius * 9 / 8 + 0.01, ""),
        ):
            hits = tester.hit_test(r * math.cos(a), r * math.sin(a), only={circle}, first=True)
            assert (hits[0].part if hits else "") == part, (i, r)
        for off in (-0.01, 0.01):
            x, y = 3 * radius + (radius + off) * math.cos(a), (radius + off) * math.sin(a)
            assert bool(tester.hit_test(x, y, only={corner})) is (off < 0)
