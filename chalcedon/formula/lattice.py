"""What chance that repeats is made from: shares by key, and the lattice of coherent noise."""

from __future__ import annotations

from functools import lru_cache
from hashlib import blake2b
from typing import Any

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


@lru_cache(maxsize=64)
def table(seed: int) -> tuple[int, ...]:
    """The numbers 0 to 255 in an order that belongs to a seed."""
    return tuple(sorted(range(256), key=lambda n: share(seed, ("lattice", n))))
