"""How far a stroke reaches in a direction, exactly, without its outline.

Along a curve the stroke's edge lies half the pen to either side, so it is farthest where the curve itself is (its
extrema), at the ends of segments, in a join or cap, or where the edge turns back since the curve bends as tightly as
half the pen is wide.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from typing import NamedTuple

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.boxes import EMPTY, Box
from chalcedon.geometry.curves import Cubic, cubic_bend, cubic_extrema, cubic_point, cubic_slope, raise_quadratic
from chalcedon.geometry.flatten import Point, Vertex
from chalcedon.geometry.path import Outline, subpaths
from chalcedon.geometry.pieces import Pen, Pieces


class _Piece(NamedTuple):
    """A segment with a length: its controls, and its directions at both ends."""

    xs: Cubic
    ys: Cubic
    leave: Point
    arrive: Point


def stroke_bounds(path: Outline, pen: Pen, world: Affine) -> Box:
    """The exact box of the stroke of an outline without dashes, both mapped by `world`; EMPTY when there is none."""
    across = _extent(path, pen, world.a, world.c)
    down = _extent(path, pen, world.b, world.d)
    if across is None or down is None:
        return EMPTY
    return across[0] + world.e, down[0] + world.f, across[1] + world.e, down[1] + world.f


def _extent(path: Outline, pen: Pen, ux: float, uy: float) -> tuple[float, float] | None:
    """The least and the greatest scalar product of (ux, uy) with a point of the stroke."""
    size = math.hypot(ux, uy)
    if size == 0.0:
        return 0.0, 0.0
    nx, ny = ux / size, uy / size
    low, high = math.inf, -math.inf
    for sub in subpaths(path.mapped(Affine(nx, -ny, ny, nx, 0.0, 0.0))):
        low, high = _farther(sub, pen, low, high)
    return (low * size, high * size) if low <= high else None


def _farther(sub: Outline, pen: Pen, low: float, high: float) -> tuple[float, float]:
    """The least and the greatest x of what came before and of the stroke of a subpath."""
    half = pen.width / 2
    parts = list(_pieces(sub))
    ends = _ends(sub, parts, pen)
    for x in (ends.box[0], ends.box[2]) if ends.box[0] <= ends.box[2] else ():
        low, high = min(low, x), max(high, x)
    for part in parts:
        for x in _usual(part, half):
            low, high = min(low, x), max(high, x)
    # all of a segment's stroke lies within half a pen of the box of its controls: where that is inside of what was
    # found, it needs no look; those that could reach farthest come first
    beyond = [(min(p.xs) - half, max(p.xs) + half, p) for p in parts]
    for reach in (sorted(beyond, key=lambda b: b[0]), sorted(beyond, key=lambda b: -b[1])):
        for left, right, part in reach:
            if left >= low and right <= high:
                break
            for x in _turning_points(part, half):
                low, high = min(low, x), max(high, x)
    return low, high


def _ends(sub: Outline, parts: list[_Piece], pen: Pen) -> Pieces:
    """The joins and caps of a subpath."""
    parts, ends = list(parts), Pieces(pen, 0.01)
    if not parts:
        if len(sub.verbs) > 1:
            ends.dot(Vertex(sub.coords[0], sub.coords[1], (1.0, 0.0), (1.0, 0.0), True))
    elif sub.verbs.endswith("Z"):
        parts.append(parts[0])
    else:
        first, last = parts[0], parts[-1]
        back = -first.leave[0], -first.leave[1]
        ends.cap(Vertex(first.xs[0], first.ys[0], first.leave, first.leave, True), back, back)
        ends.cap(Vertex(last.xs[3], last.ys[3], last.arrive, last.arrive, True), last.arrive, last.arrive)
    for before, after in itertools.pairwise(parts):
        spot = Vertex(after.xs[0], after.ys[0], before.arrive, after.leave, True)
        ends.corner(spot, before.arrive, after.leave)
    return ends


def _usual(part: _Piece, half: float) -> Iterator[float]:
    """x of the stroke's edge at the ends and the extrema of a segment."""
    for x, way in ((part.xs[0], part.leave), (part.xs[3], part.arrive)):
        yield x - way[1] * half
        yield x + way[1] * half
    for t in cubic_extrema(*part.xs):
        x = cubic_point(*part.xs, t)
        if cubic_slope(part.xs, max(0.0, t - _NEAR)) * cubic_slope(part.xs, min(1.0, t + _NEAR)) >= 0.0:
            continue  # it only slows down there
        if _turns_back(part.ys, t):
            yield x + half * (1.0 if x > (part.xs[0] + part.xs[3]) / 2 else -1.0)
        else:
            yield x - half
            yield x + half


_NEAR = 1e-5


def _turns_back(ys: Cubic, t: float) -> bool:
    """Whether a curve stands still in y where it does in x: it goes back the way it came, round a half disc."""
    return abs(cubic_slope(ys, t)) <= 3e-9 * (1.0 + max(map(abs, ys)))


_SAMPLES = 24


def _turning_points(part: _Piece, half: float) -> Iterator[float]:
    """x of the stroke's edge where its curve's radius of curvature is half the pen: there the inner edge turns back."""
    xs, ys = part.xs, part.ys
    if xs[1] == xs[0] and ys[1] == ys[0] and xs[2] == xs[3] and ys[2] == ys[3]:
        return  # straight

    def excess(t: float) -> float:
        """Positive where the curve bends more tightly than the pen."""
        dx, dy, ddx, ddy = cubic_slope(xs, t), cubic_slope(ys, t), cubic_bend(xs, t), cubic_bend(ys, t)
        return abs(dx * ddy - dy * ddx) * half - math.hypot(dx, dy) ** 3

    # a bend may be passed in no time where the curve is slow: there it is looked at more closely
    steps = [i / _SAMPLES for i in range(_SAMPLES + 1)]
    for _ in range(3):
        slow = min(range(len(steps)), key=lambda i: math.hypot(cubic_slope(xs, steps[i]), cubic_slope(ys, steps[i])))
        low, high = steps[max(0, slow - 1)], steps[min(len(steps) - 1, slow + 1)]
        steps = sorted({*steps, *(low + (high - low) * i / _SAMPLES for i in range(_SAMPLES + 1))})
    for a, b in itertools.pairwise(steps):
        at_a, at_b = excess(a), excess(b)
        if (at_a > 0.0) == (at_b > 0.0):
            continue
        for _ in range(40):
            t = (a + b) / 2
            a, b = (t, b) if (excess(t) > 0.0) == (at_a > 0.0) else (a, t)
        dx, dy = cubic_slope(xs, a), cubic_slope(ys, a)
        size = math.hypot(dx, dy)
        if size > 0.0:
            x = cubic_point(*xs, a)
            yield x - dy / size * half
            yield x + dy / size * half


def _pieces(sub: Outline) -> Iterator[_Piece]:
    px, py = start = sub.coords[:2]
    for verb, c in sub.segments():
        if verb == "M":
            continue
        if verb in "LZ":
            x, y = c or start
            xs, ys = (px, px, x, x), (py, py, y, y)
        elif verb == "Q":
            xs, ys = raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3])
        else:
            xs, ys = (px, c[0], c[2], c[4]), (py, c[1], c[3], c[5])
        px, py = xs[3], ys[3]
        leave = _way(xs[0], ys[0], xs[1:], ys[1:])
        arrive = _way(xs[3], ys[3], xs[2::-1], ys[2::-1])
        if leave is not None and arrive is not None:
            yield _Piece(xs, ys, leave, (-arrive[0], -arrive[1]))


def _way(x: float, y: float, xs: tuple[float, ...], ys: tuple[float, ...]) -> Point | None:
    """The direction from a point to the first of some others that lies elsewhere."""
    for tx, ty in zip(xs, ys, strict=True):
        size = math.hypot(tx - x, ty - y)
        if size > 0.0:
            return (tx - x) / size, (ty - y) / size
    return None
