"""Coherent noise for NumPy columns: the same steps in the same order, so the same to the last bit."""

from __future__ import annotations

from typing import Any

import numpy as np

from chalcedon.formula.lattice import GRADIENTS, OFFSET, table


def noise_column(seed: int, x: Any, y: Any = 0, z: Any = 0, wavelength: Any = 100, amplitude: Any = 1) -> Any:
    """`noise` of formulas; any of its values may be a column of float64, which then all results are."""
    a, b, c = OFFSET
    return amplitude * raw_column(x / wavelength + a, y / wavelength + b, z / wavelength + c, seed)


def raw_column(x: Any, y: Any, z: Any, seed: int = 0) -> Any:
    """`raw_noise` of columns or numbers."""
    lattice = np.array(table(seed))
    turns = np.array(GRADIENTS, np.float64)
    whole = [np.floor(t) for t in (x, y, z)]
    i, j, k = (t.astype(np.int64) & 255 if isinstance(t, np.ndarray) else int(t) & 255 for t in whole)
    x, y, z = x - whole[0], y - whole[1], z - whole[2]
    u, v, w = (t * t * t * (t * (t * 6 - 15) + 10) for t in (x, y, z))
    corners = []
    for di in (0, 1):
        a = lattice[(i + di) & 255]
        for dj in (0, 1):
            b = lattice[(a + j + dj) & 255]
            for dk in (0, 1):
                g = turns[lattice[(b + k + dk) & 255] & 15]
                corners.append(g[..., 0] * (x - di) + g[..., 1] * (y - dj) + g[..., 2] * (z - dk))
    c000, c001, c010, c011, c100, c101, c110, c111 = corners
    near = _mix(_mix(c000, c001, w), _mix(c010, c011, w), v)
    far = _mix(_mix(c100, c101, w), _mix(c110, c111, w), v)
    return np.minimum(np.maximum(_mix(near, far, u), -1.0), 1.0)


def _mix(a: Any, b: Any, t: Any) -> Any:
    return a + t * (b - a)
