"""The colours of shapes in the hit map."""

from __future__ import annotations

import colorsys

from PySide6.QtGui import QColor

GOLDEN = 0.6180339887498949
"""Turned on by this part of a circle, hues never come near one another soon."""


def tint_of(number: int) -> QColor:
    """The colour of a shape in the map, by its number."""
    r, g, b = colorsys.hls_to_rgb(number * GOLDEN % 1.0, 0.45 + 0.2 * (number % 3), 0.65)
    return QColor.fromRgbF(r, g, b)
