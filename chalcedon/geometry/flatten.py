"""Outlines as polylines that keep to the curve within a tolerance, and keep their true tangents."""

from __future__ import annotations

import math
from typing import NamedTuple

from chalcedon.geometry.curves import Cubic, raise_quadratic
from chalcedon.geometry.path import Outline

Point = tuple[float, float]

MOST_EDGES = 200_000
"""Edges of one outline beyond which it is flattened more coarsely: only what is larger than any page has as many."""
MAX_PIECES = 2000
"""The most pieces a curve is cut into, whatever the tolerance asks."""


class Vertex(NamedTuple):
    """A point of a flattened subpath with the directions in which the outline arrives and leaves.

    `corner` is false inside a curve, where the two agree by construction.
    """

    x: float
    y: float
    arrive: Point
    leave: Point
    corner: bool


class FlatLine(NamedTuple):
    """One flattened subpath without repeated points; a closed one doesn't repeat its first vertex."""

    vertices: list[Vertex]
    closed: bool


def flatten(path: Outline, tolerance: float) -> list[FlatLine]:
    """Subpaths as polylines within `tolerance` (local px) of the true curves.

    The number of pieces follows from the second differences of the control points (Wang's bound), so it
    never depends on sampling. A subpath of zero length gives a single vertex with direction (1, 0).
    """
    out: list[FlatLine] = []
    current: _Subpath | None = None
    for verb, c in path.segments():
        if verb == "M":
            if current is not None and current.drawn:  # a move alone draws nothing
                out.append(current.finish(False))
            current = _Subpath(c[0], c[1])
        elif current is None:
            continue
        elif verb == "Z":
            out.append(current.finish(True))
            current = None
        elif verb == "L":
            current.line(c[0], c[1])
        elif verb == "Q":
            px, py = current.x, current.y
            current.cubic(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]), tolerance)
        else:
            current.cubic((current.x, c[0], c[2], c[4]), (current.y, c[1], c[3], c[5]), tolerance)
    if current is not None and current.drawn:
        out.append(current.finish(False))
    return out


def count_pieces(path: Outline, tolerance: float) -> int:
    """How many edges `flatten` would make, without making them."""
    count = 0
    px = py = 0.0
    for verb, c in path.segments():
        if verb == "L" or verb == "Z":
            count += 1
        elif verb == "Q":
            count += _pieces_of(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]), tolerance)
        elif verb == "C":
            count += _pieces_of((px, c[0], c[2], c[4]), (py, c[1], c[3], c[5]), tolerance)
        if c:
            px, py = c[-2:]
    return count


def affordable(path: Outline, tolerance: float, most: int = MOST_EDGES) -> float:
    """The tolerance, or one so much coarser that `flatten` makes at most about so many edges of an outline."""
    if len(path.verbs) * MAX_PIECES <= most:
        return tolerance  # it can't have more, and most haven't nearly as many
    while count_pieces(path, tolerance) > most and len(path.verbs) < most:
        tolerance *= 4.0  # half as many
    return tolerance


def _pieces_of(xs: Cubic, ys: Cubic, tolerance: float) -> int:
    """Edges for a cubic, by the largest second difference of its controls (Wang's bound)."""
    (x0, x1, x2, x3), (y0, y1, y2, y3) = xs, ys
    bend = max(math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2), math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3))
    return min(MAX_PIECES, max(1, math.ceil(math.sqrt(0.75 * bend / tolerance))))


class _Subpath:
    def __init__(self, x: float, y: float) -> None:
        self.x, self.y = x, y
        self.points: list[Point] = [(x, y)]
        self.arrive: list[Point] = [(0.0, 0.0)]
        self.leave: list[Point] = [(0.0, 0.0)]
        self.corner: list[bool] = [True]
        self.drawn = False

    def line(self, x: float, y: float) -> None:
        self.drawn = True
        way = _unit(x - self.x, y - self.y)
        if way is not None:
            self._add(x, y, way, way, True)

    def _add(self, x: float, y: float, leave_before: Point, arrive: Point, corner: bool) -> None:
        self.leave[-1] = leave_before
        self.points.append((x, y))
        self.arrive.append(arrive)
        self.leave.append(arrive)
        self.corner.append(corner)
        self.x, self.y = x, y

    def cubic(self, xs: Cubic, ys: Cubic, tolerance: float) -> None:
        self.drawn = True
        (x0, x1, x2, x3), (y0, y1, y2, y3) = xs, ys
        start = _unit(x1 - x0, y1 - y0) or _unit(x2 - x0, y2 - y0) or _unit(x3 - x0, y3 - y0)
        end = _unit(x3 - x2, y3 - y2) or _unit(x3 - x1, y3 - y1) or _unit(x3 - x0, y3 - y0)
        if start is None or end is None:
            return
        count = _pieces_of(xs, ys, tolerance)
        leave = start
        for i in range(1, count + 1):
            if i == count:
                if (x3, y3) != (self.x, self.y):  # a curve out and back, flat within the tolerance, is no edge
                    self._add(x3, y3, leave, end, True)
                break
            t = i / count
            s = 1.0 - t
            x = s * s * s * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t * t * t * x3
            y = s * s * s * y0 + 3 * s * s * t * y1 + 3 * s * t * t * y2 + t * t * t * y3
            way = (
                _unit(
                    s * s * (x1 - x0) + 2 * s * t * (x2 - x1) + t * t * (x3 - x2),
                    s * s * (y1 - y0) + 2 * s * t * (y2 - y1) + t * t * (y3 - y2),
                )
                or leave
            )
            if (x, y) != (self.x, self.y):
                self._add(x, y, leave, way, False)
                leave = way

    def finish(self, closed: bool) -> FlatLine:
        points, arrive, leave, corner = self.points, self.arrive, self.leave, self.corner
        if len(points) == 1:
            return FlatLine([Vertex(*points[0], (1.0, 0.0), (1.0, 0.0), True)], closed)
        if closed:
            if points[0] == points[-1]:
                arrive[0] = arrive[-1]
                del points[-1], arrive[-1], leave[-1], corner[-1]
            else:
                way = _unit(points[0][0] - points[-1][0], points[0][1] - points[-1][1])
                assert way is not None
                leave[-1] = arrive[0] = way
        else:
            arrive[0] = leave[0]
        return FlatLine(
            [Vertex(p[0], p[1], a, b, c) for p, a, b, c in zip(points, arrive, leave, corner, strict=True)], closed
        )


def _unit(x: float, y: float) -> Point | None:
    length = math.hypot(x, y)
    return (x / length, y / length) if length > 0.0 else None


def edges(lines: list[FlatLine]) -> list[tuple[float, float, float, float]]:
    """The straight edges (x0, y0, x1, y1) of flattened subpaths, closing edges included."""
    out = []
    for line in lines:
        v = line.vertices
        last = len(v) if line.closed and len(v) > 1 else len(v) - 1
        for i in range(last):
            following = v[(i + 1) % len(v)]
            out.append((v[i].x, v[i].y, following.x, following.y))
        if len(v) == 1:
            out.append((v[0].x, v[0].y, v[0].x, v[0].y))
    return out


def distance_to_edges(lines: list[tuple[float, float, float, float]], x: float, y: float) -> float:
    """The distance from (x, y) to the nearest of the edges; inf when there are none."""
    best = math.inf
    reach = math.inf
    for x0, y0, x1, y1 in lines:
        # a box test first: most edges of a long outline can't be nearer than the best so far
        if (
            (x < x0 - reach and x < x1 - reach)
            or (x > x0 + reach and x > x1 + reach)
            or (y < y0 - reach and y < y1 - reach)
            or (y > y0 + reach and y > y1 + reach)
        ):
            continue
        dx, dy, qx, qy = x1 - x0, y1 - y0, x - x0, y - y0
        length = dx * dx + dy * dy
        t = (qx * dx + qy * dy) / length if length > 0.0 else 0.0
        t = 0.0 if t < 0.0 else 1.0 if t > 1.0 else t
        ex, ey = qx - t * dx, qy - t * dy
        d = ex * ex + ey * ey
        if d < best:
            best = d
            reach = math.sqrt(d)
    return reach
