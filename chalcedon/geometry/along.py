"""Along an outline: length, area, the point at a distance, the nearest point, a part of it."""

from __future__ import annotations

import bisect
import itertools
import math
from typing import NamedTuple

import numpy as np

from chalcedon.geometry.curves import Cubic, cubic_extrema, cubic_point, cubic_slope, raise_quadratic, split_cubic
from chalcedon.geometry.path import Outline, PathBuilder

_NODES, _WEIGHTS = (tuple(float(v) for v in a) for a in np.polynomial.legendre.leggauss(12))
EXACT = 1e-9
"""How far lengths may be off, relative to the length itself."""


class Spot(NamedTuple):
    """A place on an outline. `distance` is the way from the outline's start; `tangent` is the unit direction of
    travel, `normal` the tangent turned by 90 degrees from the x axis toward the y axis."""

    distance: float
    x: float
    y: float
    tangent: tuple[float, float]

    @property
    def normal(self) -> tuple[float, float]:
        """The tangent turned by a quarter, from the x axis toward the y axis."""
        return -self.tangent[1], self.tangent[0]

    @property
    def angle(self) -> float:
        """The direction of travel in degrees."""
        return math.degrees(math.atan2(self.tangent[1], self.tangent[0]))


class Piece(NamedTuple):
    """One segment as a cubic; `start` is the way to it, `length` its own; `straight` when it was a line."""

    xs: Cubic
    ys: Cubic
    start: float
    length: float
    straight: bool
    subpath: int


class Along:
    """An outline measured once. Subpaths follow one another; the way between them has no length."""

    def __init__(self, path: Outline) -> None:
        self.pieces: list[Piece] = []
        self.closed: list[bool] = []
        self.first: list[tuple[float, float]] = []
        way = 0.0
        for xs, ys, straight, subpath in _cubics(path, self.closed, self.first):
            length = math.hypot(xs[3] - xs[0], ys[3] - ys[0]) if straight else cubic_length(xs, ys)
            self.pieces.append(Piece(xs, ys, way, length, straight, subpath))
            way += length
        self.length = way
        self._starts = [p.start for p in self.pieces]

    def at(self, distance: float) -> Spot | None:
        """The place at a distance from the start, limited to the outline; None when it has no segments."""
        if not self.pieces:
            return None
        distance = min(max(distance, 0.0), self.length)
        i = max(0, bisect.bisect_right(self._starts, distance) - 1)
        while i > 0 and self.pieces[i].length == 0.0:
            i -= 1
        piece = self.pieces[i]
        return self._spot(piece, _parameter(piece, distance - piece.start), distance)

    def _spot(self, piece: Piece, t: float, distance: float) -> Spot:
        x, y = cubic_point(*piece.xs, t), cubic_point(*piece.ys, t)
        return Spot(distance, x, y, _tangent(piece, t))

    def nearest(self, x: float, y: float) -> tuple[Spot, float] | None:
        """The place of the outline nearest to a point, and how far it is; None when there are no segments."""
        best = self.nearest_parameter(x, y)
        if best is None:
            return None
        index, t, away = best
        piece = self.pieces[index]
        part = t * piece.length if piece.straight else cubic_length(*_part(piece, 0.0, t))
        return self._spot(piece, t, piece.start + part), away

    def nearest_parameter(self, x: float, y: float) -> tuple[int, float, float] | None:
        """The nearest place as the number of a piece and the parameter on it, and how far it is."""
        best: tuple[int, float, float] | None = None
        for index, piece in enumerate(self.pieces):
            for t in _nearest_parameters(piece, x, y):
                away = math.hypot(cubic_point(*piece.xs, t) - x, cubic_point(*piece.ys, t) - y)
                if best is None or away < best[2]:
                    best = index, t, away
        return best

    def part(self, start: float, end: float) -> Outline:
        """The outline from one distance to another; subpaths that are wholly inside stay closed."""
        pen = PathBuilder()
        current = -1
        for index, piece in enumerate(self.pieces):
            low, high = max(start, piece.start), min(end, piece.start + piece.length)
            if low > high or (low == high and piece.length > 0.0):
                continue
            t0 = _parameter(piece, low - piece.start) if low > piece.start else 0.0
            t1 = _parameter(piece, high - piece.start) if high < piece.start + piece.length else 1.0
            xs, ys = _part(piece, t0, t1)
            if piece.subpath != current:
                pen.move(xs[0], ys[0])
                current = piece.subpath
            if piece.straight:
                pen.line(xs[3], ys[3])
            else:
                pen.cubic(xs[1], ys[1], xs[2], ys[2], xs[3], ys[3])
            last = index + 1 == len(self.pieces) or self.pieces[index + 1].subpath != current
            if last and self.closed[current] and self._whole(current, start, end):
                pen.close()
        return pen.path()

    def _whole(self, subpath: int, start: float, end: float) -> bool:
        own = [p for p in self.pieces if p.subpath == subpath]
        return start <= own[0].start and end >= own[-1].start + own[-1].length


def measured(path: Outline) -> Along:
    """An outline measured, and kept with it."""
    if path.measured is None:
        path.measured = Along(path)
    found: Along = path.measured
    return found


def _cubics(path: Outline, closed: list[bool], first: list[tuple[float, float]]):  # type: ignore[no-untyped-def]
    """Every segment as controls of a cubic, closing segments included."""
    px = py = sx = sy = 0.0
    subpath = -1
    for verb, c in path.segments():
        if verb == "M":
            px, py = sx, sy = c
            subpath += 1
            closed.append(False)
            first.append((sx, sy))
            continue
        if verb == "Z":
            closed[subpath] = True
            c = (sx, sy)
            if (px, py) == c:
                continue
            verb = "L"
        if verb == "L":
            yield (
                (px, px + (c[0] - px) / 3, c[0] - (c[0] - px) / 3, c[0]),
                (py, py + (c[1] - py) / 3, c[1] - (c[1] - py) / 3, c[1]),
                True,
                subpath,
            )
        elif verb == "Q":
            yield raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]), False, subpath
        else:
            yield (px, c[0], c[2], c[4]), (py, c[1], c[3], c[5]), False, subpath
        px, py = c[-2], c[-1]


def cubic_length(xs: Cubic, ys: Cubic) -> float:
    """The length of a cubic by Gauss-Legendre quadrature, halved until two orders agree.

    It is cut where it turns in x or y: where it doubles back on itself the speed has a kink that no order sees.
    """
    chord = math.hypot(xs[3] - xs[0], ys[3] - ys[0])
    size = chord + sum(math.hypot(xs[i + 1] - xs[i], ys[i + 1] - ys[i]) for i in range(3))
    if size == 0.0:
        return 0.0
    cuts = [0.0, *sorted({*cubic_extrema(*xs), *cubic_extrema(*ys)}), 1.0]
    return sum(_length(xs, ys, a, b, _gauss(xs, ys, a, b), size * EXACT, 0) for a, b in itertools.pairwise(cuts))


def _length(xs: Cubic, ys: Cubic, a: float, b: float, whole: float, error: float, depth: int) -> float:
    m = (a + b) / 2
    left, right = _gauss(xs, ys, a, m), _gauss(xs, ys, m, b)
    if abs(left + right - whole) <= error or depth >= 20:
        return left + right
    return _length(xs, ys, a, m, left, error / 2, depth + 1) + _length(xs, ys, m, b, right, error / 2, depth + 1)


def _gauss(xs: Cubic, ys: Cubic, a: float, b: float) -> float:
    half, middle = (b - a) / 2, (a + b) / 2
    return half * sum(w * _speed(xs, ys, middle + half * n) for n, w in zip(_NODES, _WEIGHTS, strict=True))


def _speed(xs: Cubic, ys: Cubic, t: float) -> float:
    return math.hypot(cubic_slope(xs, t), cubic_slope(ys, t))


def _tangent(piece: Piece, t: float) -> tuple[float, float]:
    """The unit tangent; where the speed is nothing, the direction in which the curve leaves or arrives."""
    xs, ys = piece.xs, piece.ys
    dx, dy = cubic_slope(xs, t), cubic_slope(ys, t)
    size = math.hypot(dx, dy)
    scale = max(map(abs, (*xs, *ys)), default=0.0) + 1e-300
    if size <= scale * 1e-12:
        order = (1, 2, 3) if t < 0.5 else (2, 1, 0)
        for i in order:
            dx, dy = (xs[i] - xs[0], ys[i] - ys[0]) if t < 0.5 else (xs[3] - xs[i], ys[3] - ys[i])
            size = math.hypot(dx, dy)
            if size > 0.0:
                break
        else:
            return 1.0, 0.0
    return dx / size, dy / size


def _parameter(piece: Piece, distance: float) -> float:
    """The parameter at a way from the start of a piece: Newton's iteration, kept in a bracket."""
    if piece.length <= 0.0 or distance <= 0.0:
        return 0.0
    if distance >= piece.length:
        return 1.0
    t = distance / piece.length
    if piece.straight:
        return t
    low, high = 0.0, 1.0
    for _ in range(50):
        off = cubic_length(*_part(piece, 0.0, t)) - distance
        if abs(off) <= piece.length * EXACT:
            break
        low, high = (t, high) if off < 0.0 else (low, t)
        speed = _speed(piece.xs, piece.ys, t)
        following = t - off / speed if speed > 0.0 else low
        t = following if low < following < high else (low + high) / 2
    return t


def _part(piece: Piece, t0: float, t1: float) -> tuple[Cubic, Cubic]:
    if t0 == 0.0 and t1 == 1.0:
        return piece.xs, piece.ys
    return split_cubic(piece.xs, t0, t1), split_cubic(piece.ys, t0, t1)


def _nearest_parameters(piece: Piece, x: float, y: float) -> list[float]:
    """The ends, and where the way to (x, y) is at a right angle to the curve: the roots of a quintic."""
    if piece.straight:
        dx, dy = piece.xs[3] - piece.xs[0], piece.ys[3] - piece.ys[0]
        square = dx * dx + dy * dy
        t = ((x - piece.xs[0]) * dx + (y - piece.ys[0]) * dy) / square if square > 0.0 else 0.0
        return [min(1.0, max(0.0, t))]
    total = np.zeros(6)
    for p, q in ((piece.xs, x), (piece.ys, y)):
        power = np.array([p[3] - p[0] + 3 * (p[1] - p[2]), 3 * (p[0] - 2 * p[1] + p[2]), 3 * (p[1] - p[0]), p[0] - q])
        total += np.convolve(power, power[:3] * (3.0, 2.0, 1.0))  # times its derivative
    size = np.abs(total).max()
    total[np.abs(total) < 1e-13 * size] = 0.0  # noise of rounding, which would put roots anywhere
    roots = np.roots(total / size) if size > 0.0 else np.array([])
    return [0.0, 1.0, *(float(r.real) for r in roots if abs(r.imag) < 1e-6 and 0.0 < r.real < 1.0)]


def area(path: Outline) -> float:
    """The area that an outline encloses, open subpaths closed (Green's theorem, exact on curves).

    Parts turned round twice count twice, holes that run the other way are taken off. Positive when the outline runs
    from the x axis toward the y axis.
    """
    total = 0.0
    closed: list[bool] = []
    first: list[tuple[float, float]] = []
    last: dict[int, tuple[float, float]] = {}
    for xs, ys, _straight, subpath in _cubics(path, closed, first):
        for i, j in itertools.combinations(range(4), 2):
            total += _GREEN[i, j] * (xs[i] * ys[j] - xs[j] * ys[i])
        last[subpath] = xs[3], ys[3]
    for subpath, (x, y) in last.items():
        sx, sy = first[subpath]
        total += (x * sy - sx * y) / 2
    return total


_GREEN = {(0, 1): 3 / 10, (0, 2): 3 / 20, (0, 3): 1 / 20, (1, 2): 3 / 20, (1, 3): 3 / 20, (2, 3): 3 / 10}
"""1/2 of the integral of (B_i B_j' - B_j B_i') over a cubic's Bernstein polynomials."""
