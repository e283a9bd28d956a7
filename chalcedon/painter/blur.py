"""Moving and blurring a plane of px, in NumPy: a library that does it takes longer to load than the window to open."""

from __future__ import annotations

import math

import numpy as np

EXACT = 8.0
"""The standard deviation, in px, from which on three box blurs take the place of the Gaussian. They come within a
few per cent of it, at a cost that doesn't grow (Filter Effects 1, feGaussianBlur)."""


def moved(plane: np.ndarray, dx: float, dy: float) -> np.ndarray:
    """The plane moved by px, in fractions by linear interpolation; nothing comes in at its edges."""
    return _moved_down(_moved_down(plane, dy).T, dx).T


def _moved_down(plane: np.ndarray, by: float) -> np.ndarray:
    whole = math.floor(by)
    part = by - whole
    out = _shifted(plane, whole)
    return out if part == 0.0 else out * (1.0 - part) + _shifted(plane, whole + 1) * part


def _shifted(plane: np.ndarray, by: int) -> np.ndarray:
    out = np.zeros_like(plane)
    count = len(plane)
    if abs(by) < count:
        out[max(0, by) : count + min(0, by)] = plane[max(0, -by) : count - max(0, by)]
    return out


def blurred(plane: np.ndarray, deviation: float) -> np.ndarray:
    """The plane convolved with a Gaussian of a standard deviation in px; beyond its edges there is nothing."""
    if deviation <= 0.0:
        return plane
    down = _gaussian_down if deviation < EXACT else _boxes_down
    return down(down(plane, deviation).T, deviation).T


def _gaussian_down(plane: np.ndarray, deviation: float) -> np.ndarray:
    reach = math.ceil(3.0 * deviation)
    weights = np.exp(-0.5 * (np.arange(reach + 1) / deviation) ** 2)
    weights /= 2.0 * weights.sum() - weights[0]
    padded = np.pad(plane, ((reach, reach), (0, 0)))
    count = len(plane)
    out = plane * plane.dtype.type(weights[0])
    for i in range(1, reach + 1):
        both = padded[reach - i : reach - i + count] + padded[reach + i : reach + i + count]
        out += both * plane.dtype.type(weights[i])
    return out


def _boxes_down(plane: np.ndarray, deviation: float) -> np.ndarray:
    size = int(deviation * 3.0 * math.sqrt(2.0 * math.pi) / 4.0 + 0.5) | 1  # odd, so that every box has a middle
    reach = size // 2
    out = np.pad(
        plane, ((3 * reach + 1, 3 * reach), (0, 0))
    )  # what one blur spreads beyond the edge, the next brings back
    for _ in range(3):
        total = np.cumsum(out, axis=0, dtype=np.float64)
        out = ((total[size:] - total[:-size]) / size).astype(plane.dtype)
        out = np.pad(out, ((1, 0), (0, 0)))
    return out[1:]
