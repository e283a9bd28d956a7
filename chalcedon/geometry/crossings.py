"""Where an outline crosses itself."""

from __future__ import annotations

import numpy as np

from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.path import Outline

MOST_EDGES = 3000
"""Outlines of more straight edges than this are not searched; every edge is held against every other."""
PARALLEL = 1e-6
"""Edges that meet at a smaller angle, in radians, run along each other: which of them is where is left to rounding."""


def crossings(path: Outline, tolerance: float, most: int = 50) -> list[tuple[float, float]]:
    """Points where an outline, open subpaths closed as filling closes them, crosses itself properly.

    Touching without crossing, and corners, don't count. At most `most` points; none for outlines too long to search.
    """
    a, b, follows = _edges(path, tolerance)
    count = len(a)
    if count > MOST_EDGES:
        return []
    out: list[tuple[float, float]] = []
    d = b - a
    size = np.hypot(d[:, 0], d[:, 1])
    low, high = np.minimum(a, b), np.maximum(a, b)
    for i in range(count - 1):
        near = np.flatnonzero(((low[i + 1 :] <= high[i]) & (high[i + 1 :] >= low[i])).all(axis=1)) + i + 1
        if not len(near):
            continue
        p = a[near] - a[i]
        det = d[i, 0] * d[near, 1] - d[i, 1] * d[near, 0]
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (p[:, 0] * d[near, 1] - p[:, 1] * d[near, 0]) / det
            u = (p[:, 0] * d[i, 1] - p[:, 1] * d[i, 0]) / det
        across = np.abs(det) > PARALLEL * size[i] * size[near]
        inside = across & (t > 1e-9) & (t < 1 - 1e-9) & (u > 1e-9) & (u < 1 - 1e-9)
        for k in np.flatnonzero(inside):
            j = int(near[k])
            if follows[i] != j and follows[j] != i:
                x, y = a[i] + t[k] * d[i]
                out.append((float(x), float(y)))
                if len(out) >= most:
                    return out
    return out


def _edges(path: Outline, tolerance: float) -> tuple[np.ndarray, np.ndarray, list[int]]:
    """Starts and ends of the straight edges, and for each the number of the edge that follows it."""
    starts: list[tuple[float, float]] = []
    ends: list[tuple[float, float]] = []
    follows: list[int] = []
    for line in flatten(path, tolerance):
        points = [(v.x, v.y) for v in line.vertices]
        if len(points) > 2 and points[0] == points[-1]:
            points.pop()
        if len(points) < 3:
            continue
        first = len(starts)
        starts += points
        ends += [*points[1:], points[0]]
        follows += [first + (i + 1) % len(points) for i in range(len(points))]
    return np.array(starts).reshape(-1, 2), np.array(ends).reshape(-1, 2), follows
