"""Flattening many curves at once, in NumPy columns. For outlines of many segments, such as those of text."""

from __future__ import annotations

import numpy as np

from chalcedon.geometry.curves import raise_quadratic
from chalcedon.geometry.flatten import MAX_PIECES, edges, flatten
from chalcedon.geometry.path import Outline

WORTH = 40
"""Segments from which on a batch is faster than one by one."""


def flatten_cubics(controls: np.ndarray, tolerance: float) -> tuple[np.ndarray, np.ndarray]:
    """Cubics as points within `tolerance` of the true curves.

    `controls` has shape (n, 4, 2), in px. Returns the points of all curves one after another, shape (m, 2), both ends
    of each curve included, and how many belong to each, shape (n,). The number of pieces follows from the second
    differences of the controls (Wang's bound), rounded up to a power of two, so that curves alike go together.
    """
    bend = np.hypot(*np.moveaxis(controls[:, :-2] - 2 * controls[:, 1:-1] + controls[:, 2:], 2, 0)).max(axis=1)
    need = np.sqrt(0.75 * bend / tolerance)
    power = np.ceil(np.log2(np.clip(need, 1.0, MAX_PIECES))).astype(np.intp)
    counts = (1 << power) + 1
    ends = np.cumsum(counts)
    out = np.empty((int(ends[-1]) if len(ends) else 0, 2))
    for p in np.unique(power):
        which = np.flatnonzero(power == p)
        pieces = (1 << int(p)) + 1
        t = np.linspace(0.0, 1.0, pieces)
        s = 1.0 - t
        basis = np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=1)
        points = np.matmul(basis, controls[which])  # (k, pieces, 2)
        places = (ends[which] - pieces)[:, None] + np.arange(pieces)
        out[places.ravel()] = points.reshape(-1, 2)
    return out, counts


def controls_of(path: Outline) -> np.ndarray:
    """Every segment of an outline as a cubic, shape (n, 4, 2), in order; closing segments included."""
    rows: list[tuple[float, ...]] = []
    px = py = sx = sy = 0.0
    for verb, c in path.segments():
        if verb == "M":
            px, py = sx, sy = c
            continue
        if verb == "Z":
            if (px, py) == (sx, sy):
                continue
            c = (sx, sy)
            verb = "L"
        if verb == "C":
            rows.append((px, py, *c))
        elif verb == "Q":
            xs, ys = raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3])
            rows.append((px, py, xs[1], ys[1], xs[2], ys[2], c[2], c[3]))
        else:
            x, y = c
            dx, dy = (x - px) / 3, (y - py) / 3
            rows.append((px, py, px + dx, py + dy, x - dx, y - dy, x, y))
        px, py = c[-2], c[-1]
    return np.array(rows).reshape(-1, 4, 2)


def edges_of(path: Outline, tolerance: float) -> list[tuple[float, float, float, float]]:
    """The straight edges of a flattened outline, closing edges included."""
    if len(path.verbs) < WORTH:
        return edges(flatten(path, tolerance))
    points, counts = flatten_cubics(controls_of(path), tolerance)
    both = np.concatenate([points[:-1], points[1:]], axis=1)
    within = np.ones(len(both), bool)
    within[np.cumsum(counts)[:-1] - 1] = False  # from the end of one curve to the start of the next
    return list(map(tuple, both[within].tolist()))
