"""Chance that repeats: numbers by key, and coherent noise. The same seed gives the same, everywhere."""

from __future__ import annotations

import math
from functools import lru_cache
from hashlib import blake2b
from typing import Any

from chalcedon.formula.table import function

GRADIENTS = tuple(
    (x, y, z) for x, y, z in ((1, 1, 0), (-1, 1, 0), (1, -1, 0), (-1, -1, 0), (1, 0, 1), (-1, 0, 1), (1, 0, -1),
                              (-1, 0, -1), (0, 1, 1), (0, -1, 1), (0, 1, -1), (0, -1, -1), (1, 1, 0), (-1, 1, 0),
                              (0, -1, 1), (0, -1, -1))
)  # fmt: skip
"""The sixteen directions of improved gradient noise (Perlin, Improving Noise, 2002)."""


OFFSET = (0.371, 0.683, 0.527)
"""Where 0, 0, 0 lies between the corners of the lattice: at the corners, and along many of its edges, noise is 0."""


@lru_cache(maxsize=65536)
def share(seed: int, key: Any) -> float:
    """A number from 0 up to 1 that belongs to a seed and a key."""
    digest = blake2b(f"{seed}:{_spelled(key)}".encode(), digest_size=8).digest()
    return (int.from_bytes(digest, "big") >> 11) / (1 << 53)


def _spelled(key: Any) -> str:
    """1 and 1.0 are one key, as they are equal."""
    if isinstance(key, tuple):
        return f"({','.join(map(_spelled, key))})"
    return repr(float(key)) if isinstance(key, int | float) else repr(key)


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


@lru_cache(maxsize=64)
def table(seed: int) -> tuple[int, ...]:
    """The numbers 0 to 255 in an order that belongs to a seed."""
    return tuple(sorted(range(256), key=lambda n: share(seed, ("lattice", n))))
