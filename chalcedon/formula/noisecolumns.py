"""Coherent noise for NumPy columns: the same steps in the same order, so the same to the last bit."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import numpy as np

from chalcedon.formula.lattice import GRADIENTS, OFFSET, table


def noise_column(seed: int, x: Any, y: Any = 0, z: Any = 0, wavelength: Any = 100, amplitude: Any = 1) -> Any:
    """`noise` of formulas; any of its values may be a column of float64, which then all results are."""
    a, b, c = OFFSET
    return amplitude * raw_column(x / wavelength + a, y / wavelength + b, z / wavelength + c, seed)


@lru_cache(maxsize=8)
def _tables(seed: int) -> tuple[Any, ...]:
    """The lattice three times over, so that sums of places need not be brought back into it; and, in the same order,
    the three parts of the directions there."""
    lattice = np.array(table(seed) * 3)
    turns = np.array(GRADIENTS, np.float64)[lattice & 15]
    return lattice, *(np.ascontiguousarray(turns[:, axis]) for axis in range(3))


def raw_column(x: Any, y: Any, z: Any, seed: int = 0) -> Any:
    """`raw_noise` of columns or numbers."""
    lattice, gx, gy, gz = _tables(seed)
    whole = [np.floor(t) for t in (x, y, z)]
    i, j, k = (t.astype(np.int64) & 255 if isinstance(t, np.ndarray) else int(t) & 255 for t in whole)
    x, y, z = x - whole[0], y - whole[1], z - whole[2]
    u, v, w = (t * t * t * (t * (t * 6 - 15) + 10) for t in (x, y, z))
    zs = z, z - 1
    corners = []
    for dx, a in ((x, lattice[i]), (x - 1, lattice[i + 1])):
        for dy, b in ((y, lattice[a + j]), (y - 1, lattice[a + j + 1])):
            for dk in (0, 1):
                at = b + k + dk
                corners.append(gx[at] * dx + gy[at] * dy + gz[at] * zs[dk])
    c000, c001, c010, c011, c100, c101, c110, c111 = corners
    near = _mix(_mix(c000, c001, w), _mix(c010, c011, w), v)
    far = _mix(_mix(c100, c101, w), _mix(c110, c111, w), v)
    return np.minimum(np.maximum(_mix(near, far, u), -1.0), 1.0)


def _mix(a: Any, b: Any, t: Any) -> Any:
    return a + t * (b - a)
