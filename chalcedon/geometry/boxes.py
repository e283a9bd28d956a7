"""Axis-aligned boxes as plain tuples (left, top, right, bottom); empty when left > right."""

from __future__ import annotations

import math
from collections.abc import Iterable

Box = tuple[float, float, float, float]
EMPTY: Box = (math.inf, math.inf, -math.inf, -math.inf)


def is_empty(box: Box) -> bool:
    """Whether a box holds no point."""
    return box[0] > box[2] or box[1] > box[3]


def union(boxes: Iterable[Box]) -> Box:
    """The smallest box holding all of them; EMPTY when there are none."""
    left, top, right, bottom = EMPTY
    for a, b, c, d in boxes:
        if a < left:
            left = a
        if b < top:
            top = b
        if c > right:
            right = c
        if d > bottom:
            bottom = d
    return left, top, right, bottom


def inflate(box: Box, by: float) -> Box:
    """A box grown by `by` on every side."""
    return box[0] - by, box[1] - by, box[2] + by, box[3] + by


def overlap(a: Box, b: Box) -> bool:
    """Whether two boxes share at least a point."""
    return a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]


def holds(box: Box, x: float, y: float) -> bool:
    """Whether a point is in a box, its edges included."""
    return box[0] <= x <= box[2] and box[1] <= y <= box[3]


def from_corners(ax: float, ay: float, bx: float, by: float) -> Box:
    """A box from any two opposite corners, in any order."""
    return min(ax, bx), min(ay, by), max(ax, bx), max(ay, by)
