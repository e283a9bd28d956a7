"""Is a point inside an outline? Winding numbers on the true curves, without flattening.

Curves are split at their extrema in y, so that each piece crosses a horizontal ray at most once and the
crossing is found by a bracketed Newton iteration to full precision.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from chalcedon.geometry.boxes import Box
from chalcedon.geometry.curves import Cubic, cubic_extrema, raise_quadratic, split_cubic
from chalcedon.geometry.path import Outline


class Region:
    """The area an outline fills, by the nonzero or the even-odd rule. Open subpaths are closed, as SVG fills them."""

    __slots__ = ("_curves", "_lines", "even_odd")

    def __init__(self, path: Outline, even_odd: bool = False) -> None:
        self.even_odd = even_odd
        self._lines: list[tuple[float, float, float, float, int]] = []
        """(top, bottom, x at top, dx/dy, direction); horizontal edges don't count."""
        self._curves: list[tuple[float, float, float, float, int, Cubic, Cubic]] = []
        """(top, bottom, min x, max x, direction, x controls, y controls), monotone in y."""
        px = py = sx = sy = 0.0
        for verb, c in path.segments():
            if verb in "MZ":
                self._line(px, py, sx, sy)
                if verb == "M":
                    sx, sy = c
                px, py = sx, sy
                continue
            if verb == "L":
                self._line(px, py, c[0], c[1])
            elif verb == "Q":
                self._curve(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]))
            else:
                self._curve((px, c[0], c[2], c[4]), (py, c[1], c[3], c[5]))
            px, py = c[-2], c[-1]
        self._line(px, py, sx, sy)

    def _line(self, x0: float, y0: float, x1: float, y1: float) -> None:
        if y0 < y1:
            self._lines.append((y0, y1, x0, (x1 - x0) / (y1 - y0), 1))
        elif y1 < y0:
            self._lines.append((y1, y0, x1, (x0 - x1) / (y0 - y1), -1))

    def _curve(self, xs: Cubic, ys: Cubic) -> None:
        cuts = [0.0, *cubic_extrema(*ys), 1.0]
        here = ys[0]
        for t0, t1 in itertools.pairwise(cuts):
            px, py = (xs, ys) if len(cuts) == 2 else (split_cubic(xs, t0, t1), split_cubic(ys, t0, t1))
            # pieces meet at the very same height, and the last ends where the next segment begins: a ray between
            # two that were a rounding apart would pass both
            py = here, py[1], py[2], ys[3] if t1 == 1.0 else py[3]
            here = py[3]
            if py[0] == py[3]:
                continue
            top, bottom = min(py[0], py[3]), max(py[0], py[3])
            self._curves.append((top, bottom, min(px), max(px), 1 if py[0] < py[3] else -1, px, py))

    def winding(self, x: float, y: float) -> int:
        """How often the outline runs around (x, y), local px. A point on the outline may count either way."""
        turns = 0
        for top, bottom, x_top, slope, way in self._lines:
            if top <= y < bottom and x < x_top + (y - top) * slope:
                turns += way
        for top, bottom, left, right, way, xs, ys in self._curves:
            if top <= y < bottom and x < right and (x < left or x < _x_at(xs, ys, y)):
                turns += way
        return turns

    def contains(self, x: float, y: float) -> bool:
        """Whether (x, y), local px, is inside."""
        turns = self.winding(x, y)
        return bool(turns & 1) if self.even_odd else turns != 0


class Cells:
    """Boxes of which any may hold a point: where text is hit."""

    __slots__ = ("boxes",)

    def __init__(self, cells: Sequence[Box]) -> None:
        self.boxes = cells

    def contains(self, x: float, y: float) -> bool:
        """Whether (x, y), local px, is in any cell."""
        return any(a <= x <= c and b <= y <= d for a, b, c, d in self.boxes)


def _x_at(xs: Cubic, ys: Cubic, y: float) -> float:
    """x of a cubic, monotone in y, at height y."""
    y0, y1, y2, y3 = ys
    low, high = 0.0, 1.0
    rising = y3 > y0
    t = (y - y0) / (y3 - y0)
    c1, c2, c3 = 3 * (y1 - y0), 3 * (y0 - 2 * y1 + y2), y3 - y0 + 3 * (y1 - y2)
    for _ in range(60):
        off = ((c3 * t + c2) * t + c1) * t + y0 - y
        if (off < 0.0) == rising:
            low = t
        else:
            high = t
        slope = (3 * c3 * t + 2 * c2) * t + c1
        step = t - off / slope if slope else low
        following = step if low < step < high else (low + high) / 2
        if abs(following - t) < 1e-13:
            break
        t = following
    x0, x1, x2, x3 = xs
    s = 1.0 - t
    return s * s * s * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t * t * t * x3
