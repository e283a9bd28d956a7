"""The simple pieces that a stroke is made of: a band along every edge, a wedge or miter at every corner, a cap at every
end. A point is in the stroke when it is in any of them, however the outline crosses itself."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from typing import NamedTuple

from chalcedon.geometry.boxes import EMPTY, Box, union
from chalcedon.geometry.curves import cubic_point, cubic_slope
from chalcedon.geometry.dash import Part
from chalcedon.geometry.flatten import Point, Vertex
from chalcedon.geometry.path import PathBuilder

SMOOTH = math.cos(math.radians(0.5))
"""Tangents closer than half a degree are one curve, not a corner."""

FINER = (1 / 256, 1 / 64, 1 / 16, 1 / 4, 1 / 2, 3 / 4, 15 / 16, 63 / 64, 255 / 256)
"""Where an edge that turns is cut beside an end of the line."""
HALVED = (1 / 2,)
"""And where one is cut whose band would reach over the end from farther off."""


class Pen(NamedTuple):
    """How an outline is stroked. Lengths in local px; names and meaning as in SVG."""

    width: float = 1.0
    cap: str = "butt"
    join: str = "miter"
    miter_limit: float = 4.0
    dash: tuple[float, ...] = ()
    dash_offset: float = 0.0

    def reach(self) -> float:
        """No part of the stroke is farther than this from the outline."""
        half = self.width / 2
        reach = half
        if self.join == "miter":
            reach = max(reach, half * max(1.0, self.miter_limit))
        if self.cap == "square":
            reach = max(reach, half * math.sqrt(2))
        return reach


Polygon = list[Point]
Wedge = tuple[float, float, float, float, float, float]
"""A sector: centre, then the two unit directions that bound it (less than a half turn apart)."""


class Pieces:
    """Pieces of a stroke, made of parts of its line. After the last `add` it can be drawn, and asked."""

    def __init__(self, pen: Pen, tolerance: float) -> None:
        self.pen = pen
        self.half = pen.width / 2
        self.tolerance = tolerance
        self.polygons: list[Polygon] = []
        self.wedges: list[Wedge] = []
        self._bands: list[list[tuple[float, float, float, float, object]]] = []
        self._box: Box = EMPTY
        self._short = 0.0  # the shorter of the two edges at the vertex in hand

    # building

    def add(self, part: Part) -> None:
        """Adds the pieces of a part of a line."""
        v = self._with_true_ends(part)
        if len(v) == 1:
            self.dot(v[0])
            return
        ways: list[Point] = []
        lengths: list[float] = []
        for a, b in itertools.pairwise(v):
            length = math.hypot(b.x - a.x, b.y - a.y) or 1e-300
            way = ((b.x - a.x) / length, (b.y - a.y) / length)
            ways.append(way)
            lengths.append(length)
            self._band(a, b, way)
        if part.before is not None:
            x, y = v[0].x - part.before.x, v[0].y - part.before.y
            length = math.hypot(x, y) or 1e-300
            self._short = min(length, lengths[0])
            self.corner(v[0], v[0].arrive if _is_sharp(v[0]) else (x / length, y / length), ways[0])
        for i in range(1, len(v) - 1):
            self._short = min(lengths[i - 1], lengths[i])
            self.corner(v[i], ways[i - 1], ways[i])
        self._short = min(lengths[0], lengths[-1])
        if part.begins:
            self.cap(v[0], (-v[0].leave[0], -v[0].leave[1]), (-ways[0][0], -ways[0][1]))
        if part.ends:
            self.cap(v[-1], v[-1].arrive, ways[-1])

    def _with_true_ends(self, part: Part) -> list[Vertex]:
        """The vertices such that the edges at ends and corners leave along the true tangents.

        A cap stands at a right angle to the curve, but a band at a right angle to its chord. Under a thick pen the
        two differ visibly, so edges that turn are cut finer there, as are those before whose bands would reach over
        the end.
        """
        v = part.vertices
        last = len(v) - 1
        sharp = [*map(_is_sharp, v)]
        finer: list[Sequence[float]] = [()] * (last + 1)  # where each edge is cut; the last stands for none
        for i, corner in enumerate(sharp):
            if corner or (i == 0 and part.begins) or (i == last and part.ends):
                finer[i - 1] = finer[i] = FINER
                if not ((i == 0 or sharp[i - 1]) and (i == last or sharp[i + 1])):
                    for edge in self._over(v, i):
                        finer[edge] = finer[edge] or HALVED
        out = v[:1]  # a list of its own
        for i, (a, b) in enumerate(itertools.pairwise(v)):
            if finer[i]:
                out += self._cut_finer(a, b, finer[i])
            out.append(b)
        return out

    def _over(self, v: list[Vertex], end: int) -> set[int]:
        """The edges before and after a vertex, not those beside it, whose bands reach over the line across it. What
        lies behind another corner is that one's."""
        out = set()
        e = v[end]
        for step, (tx, ty) in ((-1, e.arrive), (1, (-e.leave[0], -e.leave[1]))):
            near, far = end + step, end + 2 * step
            while 0 <= far < len(v) and not _is_sharp(v[near]):
                if math.hypot(v[near].x - e.x, v[near].y - e.y) >= self.half:
                    break
                x, y = v[near].x - v[far].x, v[near].y - v[far].y
                across = abs(x * ty - y * tx) / (math.hypot(x, y) or 1e-300)
                before = (e.x - v[near].x) * tx + (e.y - v[near].y) * ty
                if across * self.half > before + self.tolerance:
                    out.add(min(near, far))
                near, far = far, far + step
        return out

    def _cut_finer(self, a: Vertex, b: Vertex, places: Sequence[float]) -> list[Vertex]:
        """Points of the curve between two vertices, as the cubic with their tangents; none where it runs straight."""
        length = math.hypot(b.x - a.x, b.y - a.y)
        turn = abs(a.leave[0] * b.arrive[1] - a.leave[1] * b.arrive[0])
        if turn * self.half <= self.tolerance:
            return []
        k = length / 3
        xs = a.x, a.x + a.leave[0] * k, b.x - b.arrive[0] * k, b.x
        ys = a.y, a.y + a.leave[1] * k, b.y - b.arrive[1] * k, b.y
        out = []
        for t in places:
            dx, dy = cubic_slope(xs, t), cubic_slope(ys, t)
            size = math.hypot(dx, dy)
            if size > 0.0:
                way = (dx / size, dy / size)
                out.append(Vertex(cubic_point(*xs, t), cubic_point(*ys, t), way, way, False))
        return out

    def _band(self, a: Vertex, b: Vertex, way: Point) -> None:
        nx, ny = -way[1] * self.half, way[0] * self.half
        self.polygons.append([(a.x + nx, a.y + ny), (b.x + nx, b.y + ny), (b.x - nx, b.y - ny), (a.x - nx, a.y - ny)])

    def corner(self, v: Vertex, before: Point, after: Point) -> None:
        """Fills between the bands: chord to tangent, the join proper, tangent to chord."""
        if not _is_sharp(v):
            self._wedge(v, before, after)
            return
        self._wedge(v, before, v.arrive)
        self._wedge(v, v.leave, after)
        self._join(v, v.arrive, v.leave)

    def _wedge(self, v: Vertex, before: Point, after: Point) -> None:
        turn = before[0] * after[1] - before[1] * after[0]
        ahead = before[0] * after[0] + before[1] * after[1]
        if turn == 0.0 and ahead > 0.0:
            return
        side = -1.0 if turn > 0.0 else 1.0  # the outer side of the turn
        d0 = (-before[1] * side, before[0] * side)
        d1 = (-after[1] * side, after[0] * side)
        if ahead < 0.0:  # more than a quarter turn: two wedges, so that each stays convex
            mx, my = (before[0] - after[0]), (before[1] - after[1])
            length = math.hypot(mx, my)
            middle = (mx / length, my / length)
            self._sector(v, d0, middle)
            self._sector(v, middle, d1)
        else:
            self._sector(v, d0, d1)
            if abs(turn) * self.half > self._short:
                # the pen is wider than the bend: past the centre of curvature the bands come apart again
                self._sector(v, (-d0[0], -d0[1]), (-d1[0], -d1[1]))

    def _sector(self, v: Vertex, d0: Point, d1: Point) -> None:
        if d0[0] * d1[1] - d0[1] * d1[0] < 0.0:
            d0, d1 = d1, d0
        self.wedges.append((v.x, v.y, *d0, *d1))

    def _join(self, v: Vertex, before: Point, after: Point) -> None:
        pen = self.pen
        if pen.join == "round":
            self._wedge(v, before, after)
            return
        turn = before[0] * after[1] - before[1] * after[0]
        ahead = before[0] * after[0] + before[1] * after[1]
        side = -self.half if turn > 0.0 else self.half
        p0 = (v.x - before[1] * side, v.y + before[0] * side)
        p1 = (v.x - after[1] * side, v.y + after[0] * side)
        polygon = [(v.x, v.y), p0, p1]
        # miter ratio = 1 / sin(theta / 2), theta the angle between the segments
        sine = math.sqrt(max(0.0, (1.0 + ahead) / 2))  # cos of half the turning angle = sin(theta / 2)
        if pen.join == "miter" and sine > 1e-9 and 1.0 / sine <= pen.miter_limit:
            mx, my = p0[0] + p1[0] - 2 * v.x, p0[1] + p1[1] - 2 * v.y
            length = math.hypot(mx, my)
            if length > 0.0:
                reach = self.half / sine
                polygon = [(v.x, v.y), p0, (v.x + mx / length * reach, v.y + my / length * reach), p1]
        self.polygons.append(polygon)

    def cap(self, v: Vertex, out: Point, chord: Point) -> None:
        """`out` points away from the line at its end (true tangent), `chord` the same for the last band."""
        cap = self.pen.cap
        if cap == "round":
            self._half_disc(v, chord)
            return
        if out != chord:
            self._wedge(v, chord, out)
        if cap == "square":
            h = self.half
            nx, ny, ox, oy = -out[1] * h, out[0] * h, out[0] * h, out[1] * h
            self.polygons.append(
                [
                    (v.x + nx, v.y + ny),
                    (v.x + nx + ox, v.y + ny + oy),
                    (v.x - nx + ox, v.y - ny + oy),
                    (v.x - nx, v.y - ny),
                ]
            )

    def _half_disc(self, v: Vertex, out: Point) -> None:
        left = (-out[1], out[0])
        self._sector(v, left, out)
        self._sector(v, out, (-left[0], -left[1]))

    def dot(self, v: Vertex) -> None:
        """A subpath of zero length shows only its caps (SVG 2, section 13.5.5)."""
        way, back = v.leave, (-v.leave[0], -v.leave[1])
        if self.pen.cap == "round":
            self._half_disc(v, way)
            self._half_disc(v, back)
        elif self.pen.cap == "square":
            self.cap(v, way, way)
            self.cap(v, back, back)

    # asking

    def _sort(self) -> None:
        """Lists every piece in each horizontal band it touches, so that a query reads few of them."""
        half = self.half
        boxes = [*map(_polygon_box, self.polygons), *(_wedge_box(w, half) for w in self.wedges)]
        self._box = union(boxes)
        count = max(1, min(128, len(boxes) // 6))
        top, bottom = self._box[1], self._box[3]
        self._per_band = count / (bottom - top) if bottom > top and boxes else 0.0
        self._bands = [[] for _ in range(count)]
        pieces = [*(_half_planes(p) for p in self.polygons), *self.wedges]
        for box, piece in zip(boxes, pieces, strict=True):
            first = int((box[1] - top) * self._per_band)
            last = int((box[3] - top) * self._per_band)
            for i in range(max(0, first), min(count - 1, last) + 1):
                self._bands[i].append((*box, piece))

    @property
    def box(self) -> Box:
        """The box around all pieces."""
        if not self._bands:
            self._sort()  # what is only drawn does without
        return self._box

    def contains(self, x: float, y: float) -> bool:
        """Whether (x, y), local px, is in any piece."""
        if not self._bands:
            self._sort()
        box = self._box
        if not (box[0] <= x <= box[2] and box[1] <= y <= box[3]):
            return False
        band = min(len(self._bands) - 1, int((y - box[1]) * self._per_band))
        square = self.half * self.half
        for left, top, right, bottom, piece in self._bands[band]:
            if not (left <= x <= right and top <= y <= bottom):
                continue
            if isinstance(piece, tuple):
                cx, cy, ax, ay, bx, by = piece
                qx, qy = x - cx, y - cy
                if qx * qx + qy * qy <= square and ax * qy - ay * qx >= -1e-12 and bx * qy - by * qx <= 1e-12:
                    return True
            elif _in_planes(piece, x, y):
                return True
        return False

    def draw(self, pen: PathBuilder) -> None:
        """Draws all pieces, turning the same way: filled by the nonzero rule, they are the region."""
        for points in self.polygons:
            ring = points if _area(points) >= 0.0 else points[::-1]
            pen.move(*ring[0])
            for p in ring[1:]:
                pen.line(*p)
            pen.close()
        for wedge in self.wedges:
            _draw_wedge(pen, wedge, self.half)


def _is_sharp(v: Vertex) -> bool:
    """Whether the line has a corner there, to be joined."""
    return v.corner and v.arrive[0] * v.leave[0] + v.arrive[1] * v.leave[1] <= SMOOTH


def _polygon_box(points: Polygon) -> Box:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _area(points: Polygon) -> float:
    return sum(a[0] * b[1] - a[1] * b[0] for a, b in zip(points, points[1:] + points[:1], strict=True)) / 2


def _half_planes(points: Polygon) -> list[tuple[float, float, float, float]]:
    """Edges of a convex polygon as (x, y, dx, dy), turned so that the inside is on their left."""
    ring = points if _area(points) >= 0.0 else points[::-1]
    return [(a[0], a[1], b[0] - a[0], b[1] - a[1]) for a, b in zip(ring, ring[1:] + ring[:1], strict=True)]


def _in_planes(planes: object, x: float, y: float) -> bool:
    return all(dx * (y - py) - dy * (x - px) >= 0.0 for px, py, dx, dy in planes)  # type: ignore[attr-defined]


def _wedge_box(w: Wedge, radius: float) -> Box:
    cx, cy, ax, ay, bx, by = w
    xs, ys = [0.0, ax, bx], [0.0, ay, by]
    for ux, uy in ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0)):
        if ax * uy - ay * ux >= 0.0 and ux * by - uy * bx >= 0.0 and ax * ux + ay * uy + bx * ux + by * uy > 0.0:
            xs.append(ux)
            ys.append(uy)
    return cx + min(xs) * radius, cy + min(ys) * radius, cx + max(xs) * radius, cy + max(ys) * radius


def _draw_wedge(pen: PathBuilder, w: Wedge, radius: float) -> None:
    """A sector with its arc as cubics, which stay within 4e-6 of the radius."""
    cx, cy, ax, ay, bx, by = w
    start = math.atan2(ay, ax)
    sweep = math.atan2(ax * by - ay * bx, ax * bx + ay * by)
    count = max(1, math.ceil(sweep / (math.pi / 4) - 1e-9))
    k = 4 / 3 * math.tan(sweep / count / 4) * radius
    pen.move(cx, cy)
    x, y, dx, dy = cx + ax * radius, cy + ay * radius, -ay * k, ax * k
    pen.line(x, y)
    for i in range(1, count + 1):
        c, s = (math.cos(start + sweep * i / count), math.sin(start + sweep * i / count)) if i < count else (bx, by)
        tx, ty = cx + c * radius, cy + s * radius
        pen.cubic(x + dx, y + dy, tx + s * k, ty - c * k, tx, ty)
        x, y, dx, dy = tx, ty, -s * k, c * k
    pen.close()
