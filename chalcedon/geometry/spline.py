"""A smooth curve through points."""

from __future__ import annotations

import math
from collections.abc import Sequence

from chalcedon.geometry.path import Outline, PathBuilder

Point = tuple[float, float]


def through(points: Sequence[Point], closed: bool, curve: float) -> Outline:
    """Cubics through the points; `curve` is 0 for straight lines, 1 for the centripetal Catmull-Rom curve.

    The centripetal curve has no cusps or loops between neighbouring points, however unequal their distances (Yuksel,
    Schaefer and Keyser 2011). Repeated points count once.
    """
    kept = [p for i, p in enumerate(points) if i == 0 or p != points[i - 1]]
    if closed and len(kept) > 1 and kept[0] == kept[-1]:
        del kept[-1]
    pen = PathBuilder()
    if not kept:
        return pen.path()
    pen.move(*kept[0])
    count = len(kept)
    if count == 1 and len(points) > 1:
        pen.line(*kept[0])
    around = closed and count > 2
    for i in range(count if around else count - 1):
        a, b = kept[i], kept[(i + 1) % count]
        before = kept[i - 1] if i or around else a
        after = kept[(i + 2) % count] if around or i + 2 < count else b
        x1, y1 = _control(before, a, b, curve)
        x2, y2 = _control(after, b, a, curve)
        pen.cubic(x1, y1, x2, y2, *b)
    if closed:
        pen.close()
    return pen.path()


def _control(before: Point, a: Point, b: Point, curve: float) -> Point:
    """The control point next to `a` on the way from `a` to `b`."""
    d1, d2 = math.dist(before, a), math.dist(a, b)
    if d1 == 0.0:
        return a[0] + (b[0] - a[0]) * curve / 3, a[1] + (b[1] - a[1]) * curve / 3
    r1, r2 = math.sqrt(d1), math.sqrt(d2)
    # the tangent at `a` for knots spaced by the square roots of the distances, times a third of the piece
    k = curve / (3 * r1 * (r1 + r2))

    def along(p: float, q: float, r: float) -> float:
        return q + k * (d1 * r - d2 * p + (d2 - d1) * q)

    return along(before[0], a[0], b[0]), along(before[1], a[1], b[1])
