"""One-dimensional Bezier arithmetic: points, extrema, coefficients."""

from __future__ import annotations

import math

Cubic = tuple[float, float, float, float]
"""The control values of a cubic in one dimension."""


def cubic_point(p0: float, p1: float, p2: float, p3: float, t: float) -> float:
    """The coordinate at a parameter (Bernstein form)."""
    s = 1.0 - t
    return s * s * s * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t * t * t * p3


def cubic_slope(p: Cubic, t: float) -> float:
    """The first derivative."""
    s = 1.0 - t
    return 3 * (s * s * (p[1] - p[0]) + 2 * s * t * (p[2] - p[1]) + t * t * (p[3] - p[2]))


def cubic_bend(p: Cubic, t: float) -> float:
    """The second derivative."""
    return 6 * ((1.0 - t) * (p[0] - 2 * p[1] + p[2]) + t * (p[1] - 2 * p[2] + p[3]))


def quadratic_point(p0: float, p1: float, p2: float, t: float) -> float:
    """The coordinate at a parameter."""
    s = 1.0 - t
    return s * s * p0 + 2 * s * t * p1 + t * t * p2


def quadratic_extrema(p0: float, p1: float, p2: float) -> list[float]:
    """Parameters strictly inside (0, 1) where the coordinate turns."""
    bend = p0 - 2 * p1 + p2
    if bend == 0.0:
        return []
    t = (p0 - p1) / bend
    return [t] if 0.0 < t < 1.0 else []


def cubic_extrema(p0: float, p1: float, p2: float, p3: float) -> list[float]:
    """Parameters strictly inside (0, 1) where the coordinate turns, in rising order."""
    a = -p0 + 3 * p1 - 3 * p2 + p3
    b = p0 - 2 * p1 + p2
    c = p1 - p0
    # derivative / 3 = a t^2 + 2 b t + c
    if abs(a) < 1e-12 * (abs(b) + abs(c) + 1e-300):
        if b == 0.0:
            return []
        roots = [-c / (2 * b)]
    else:
        disc = b * b - a * c
        if disc <= 0.0:
            return []
        # the stable form: no cancellation between b and the root
        q = -(b + math.copysign(math.sqrt(disc), b))
        roots = [q / a, c / q if q else math.inf]
    return sorted(t for t in roots if 0.0 < t < 1.0)


def split_cubic(p: Cubic, t0: float, t1: float) -> Cubic:
    """The control values of the part of a cubic from t0 to t1 (blossoming)."""

    def blossom(u: float, v: float, w: float) -> float:
        a0, a1, a2 = (p[i] + (p[i + 1] - p[i]) * u for i in range(3))
        b0, b1 = a0 + (a1 - a0) * v, a1 + (a2 - a1) * v
        return b0 + (b1 - b0) * w

    return blossom(t0, t0, t0), blossom(t0, t0, t1), blossom(t0, t1, t1), blossom(t1, t1, t1)


def raise_quadratic(p0: float, p1: float, p2: float) -> Cubic:
    """The same quadratic as a cubic."""
    return p0, p0 + 2 * (p1 - p0) / 3, p2 + 2 * (p1 - p2) / 3, p2
