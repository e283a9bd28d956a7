"""Chance that repeats: numbers by key, and coherent noise. The same seed gives the same, everywhere."""

from __future__ import annotations

import math
from typing import Any

from chalcedon.formula.lattice import GRADIENTS, OFFSET, share, table
from chalcedon.formula.table import function


@function("chance", needs=("seed",))
def random(seed: int, key: Any, low: float = 0, high: float = 1) -> float:
    """A number between low and high by chance: the same for the same key, at every run."""
    return low + (high - low) * share(seed, key)


def _column(*args: Any, **named: Any) -> Any:
    from chalcedon.formula.noisecolumns import noise_column  # NumPy, only where it is needed

    return noise_column(*args, **named)


@function("chance", needs=("seed",), column=_column)
def noise(seed: int, x: float, y: float = 0, z: float = 0, wavelength: float = 100, amplitude: float = 1) -> float:
    """Coherent noise: neighbours are alike. It goes from -amplitude to amplitude, and changes over about half a
    wavelength, in the unit of x, y and z."""
    if wavelength == 0:
        raise ZeroDivisionError
    a, b, c = OFFSET
    return amplitude * raw_noise(x / wavelength + a, y / wavelength + b, z / wavelength + c, seed)


def raw_noise(x: float, y: float, z: float, seed: int = 0) -> float:
    """Gradient noise in three dimensions with a lattice of 1, -1 to 1; 0 at its corners."""
    fx, fy, fz = math.floor(x), math.floor(y), math.floor(z)
    p = table(seed)
    i, j, k = fx & 255, fy & 255, fz & 255
    x, y, z = x - fx, y - fy, z - fz
    u, v, w = (t * t * t * (t * (t * 6 - 15) + 10) for t in (x, y, z))
    corners = []
    for di in (0, 1):
        a = p[(i + di) & 255]
        for dj in (0, 1):
            b = p[(a + j + dj) & 255]
            for dk in (0, 1):
                gx, gy, gz = GRADIENTS[p[(b + k + dk) & 255] & 15]
                corners.append(gx * (x - di) + gy * (y - dj) + gz * (z - dk))
    c000, c001, c010, c011, c100, c101, c110, c111 = corners
    near = _mix(_mix(c000, c001, w), _mix(c010, c011, w), v)
    far = _mix(_mix(c100, c101, w), _mix(c110, c111, w), v)
    return min(max(_mix(near, far, u), -1.0), 1.0)


def _mix(a: float, b: float, t: float) -> float:
    return a + t * (b - a)
