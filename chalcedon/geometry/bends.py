"""How tightly an outline bends: the least radius of curvature of its curves."""

from __future__ import annotations

import math

from chalcedon.geometry.curves import Cubic, cubic_point, cubic_slope, raise_quadratic
from chalcedon.geometry.path import Outline

DEEPEST = 7
"""How often a curve is halved while a bend in it is looked for."""
STRAIGHT = 0.02
"""Radians of turn between two points of a curve below which it counts as straight."""


def bends_within(path: Outline, radius: float) -> bool:
    """Whether any curve of an outline has a radius of curvature under `radius` (local px), where it turns at all."""
    px = py = 0.0
    for verb, c in path.segments():
        if verb == "C":
            if _cubic_bends((px, c[0], c[2], c[4]), (py, c[1], c[3], c[5]), radius):
                return True
        elif verb == "Q" and _cubic_bends(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]), radius):
            return True
        if c:
            px, py = c[-2:]
    return False


def _cubic_bends(xs: Cubic, ys: Cubic, radius: float) -> bool:
    """Halves the curve until the turn between two points is small: length by turn is the radius there."""
    if max(xs) - min(xs) + max(ys) - min(ys) == 0.0:
        return False
    a, b = _at(xs, ys, 0.0), _at(xs, ys, 1.0)
    stack = [(0.0, a, 1.0, b, 0)]
    while stack:
        t0, a, t1, b, depth = stack.pop()
        turn = abs(math.atan2(a[2] * b[3] - a[3] * b[2], a[2] * b[2] + a[3] * b[3]))
        if depth >= 2 and turn < STRAIGHT:
            continue
        if depth >= 2 and (turn < 0.4 or depth == DEEPEST):
            if math.hypot(b[0] - a[0], b[1] - a[1]) < 1.02 * radius * turn:
                return True
            continue
        t = (t0 + t1) / 2
        middle = _at(xs, ys, t)
        stack += [(t0, a, t, middle, depth + 1), (t, middle, t1, b, depth + 1)]
    return False


def _at(xs: Cubic, ys: Cubic, t: float) -> tuple[float, float, float, float]:
    """Point and derivative of a cubic; where the derivative vanishes, that a little further on."""
    dx, dy = cubic_slope(xs, t), cubic_slope(ys, t)
    if dx == 0.0 and dy == 0.0:
        near = t + 1e-4 if t < 0.5 else t - 1e-4
        dx, dy = cubic_slope(xs, near), cubic_slope(ys, near)
    return cubic_point(*xs, t), cubic_point(*ys, t), dx, dy
