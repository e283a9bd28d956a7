"""Affine maps of the plane, in the order of the SVG matrix(a b c d e f)."""

from __future__ import annotations

import math
from typing import NamedTuple

from chalcedon.geometry.boxes import Box


class Affine(NamedTuple):
    """x' = a x + c y + e;  y' = b x + d y + f."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    @staticmethod
    def translate(x: float, y: float) -> Affine:
        """Moves by x, y."""
        return Affine(1.0, 0.0, 0.0, 1.0, x, y)

    @staticmethod
    def scale(x: float, y: float) -> Affine:
        """Scales about 0, 0."""
        return Affine(x, 0.0, 0.0, y, 0.0, 0.0)

    @staticmethod
    def rotate(degrees: float) -> Affine:
        """Turns the positive x axis toward the positive y axis. Quarter turns are exact."""
        quarter, rest = divmod(degrees, 90.0)
        if rest == 0.0:
            cos, sin = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
        else:
            cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        return Affine(cos, sin, -sin, cos, 0.0, 0.0)

    @staticmethod
    def skew(x_degrees: float, y_degrees: float) -> Affine:
        """SVG skewX and skewY together: x leans by the first angle, y by the second."""
        return Affine(1.0, math.tan(math.radians(y_degrees)), math.tan(math.radians(x_degrees)), 1.0, 0.0, 0.0)

    def after(self, first: Affine) -> Affine:
        """The map that applies `first`, then this one."""
        a, b, c, d, e, f = self
        a2, b2, c2, d2, e2, f2 = first
        return Affine(
            a * a2 + c * b2, b * a2 + d * b2, a * c2 + c * d2, b * c2 + d * d2, a * e2 + c * f2 + e, b * e2 + d * f2 + f
        )

    def about(self, x: float, y: float) -> Affine:
        """This map with (x, y) as its fixed point instead of the origin (translation kept)."""
        a, b, c, d, e, f = self
        return Affine(a, b, c, d, e + x - a * x - c * y, f + y - b * x - d * y)

    def map(self, x: float, y: float) -> tuple[float, float]:
        """The point that (x, y) becomes."""
        a, b, c, d, e, f = self
        return a * x + c * y + e, b * x + d * y + f

    def map_vector(self, x: float, y: float) -> tuple[float, float]:
        """A direction: the translation does not count."""
        return self.a * x + self.c * y, self.b * x + self.d * y

    def map_box(self, box: Box, by: float = 0.0) -> Box:
        """The box of the mapped box (not of what was inside it), grown by `by` on every side before that."""
        left, top, right, bottom = box
        if left > right or top > bottom:
            return box
        if by:
            left, top, right, bottom = left - by, top - by, right + by, bottom + by
        a, b, c, d, e, f = self
        if b == 0.0 and c == 0.0:
            x0, x1, y0, y1 = a * left + e, a * right + e, d * top + f, d * bottom + f
            return (x0, y0, x1, y1) if x0 <= x1 and y0 <= y1 else (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
        cx, cy, hx, hy = (left + right) / 2, (top + bottom) / 2, (right - left) / 2, (bottom - top) / 2
        mx, my = a * cx + c * cy + e, b * cx + d * cy + f
        ex, ey = abs(a) * hx + abs(c) * hy, abs(b) * hx + abs(d) * hy
        return mx - ex, my - ey, mx + ex, my + ey

    @property
    def determinant(self) -> float:
        """How much areas grow; below 0 when the map mirrors."""
        return self.a * self.d - self.b * self.c

    def inverse(self) -> Affine | None:
        """The inverse map, or None when the map flattens the plane (scale 0)."""
        a, b, c, d, e, f = self
        det = a * d - b * c
        size = max(abs(a), abs(b), abs(c), abs(d))
        if not abs(det) > size * size * 1e-12:
            return None
        return Affine(d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det)

    @property
    def stretch(self) -> float:
        """The largest factor by which any length grows (the larger singular value)."""
        a, b, c, d = self[:4]
        return (math.hypot(a + d, b - c) + math.hypot(a - d, b + c)) / 2

    @property
    def shrink(self) -> float:
        """The smallest factor by which any length grows (the smaller singular value)."""
        a, b, c, d = self[:4]
        return abs(math.hypot(a + d, b - c) - math.hypot(a - d, b + c)) / 2


IDENTITY = Affine()
MIRROR = Affine(1.0, 0.0, 0.0, -1.0, 0.0, 0.0)
"""Upside down, about the x axis."""
