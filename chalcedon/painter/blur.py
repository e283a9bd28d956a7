"""Blurring a plane of px, in NumPy: a library that does it takes longer to load than the window to open."""

from __future__ import annotations

import math

import numpy as np


def nudged(plane: np.ndarray, right: float, down: float) -> np.ndarray:
    """The plane moved by parts of a px from 0 to 1, by linear interpolation; its edges must be empty."""
    for part, axis in ((right, 1), (down, 0)):
        if part > 0.0:
            plane = plane * np.float32(1.0 - part) + np.roll(plane, 1, axis) * np.float32(part)
    return plane


def blurred(plane: np.ndarray, deviation: float) -> np.ndarray:
    """The plane convolved with a Gaussian of a standard deviation in px, cut off at three of them; beyond its edges
    there is nothing (Filter Effects 1, feGaussianBlur). Takes time as the deviation grows."""
    if deviation <= 0.0:
        return plane
    return _down(_down(plane, deviation).T, deviation).T


def _down(plane: np.ndarray, deviation: float) -> np.ndarray:
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
