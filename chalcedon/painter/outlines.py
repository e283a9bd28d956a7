"""Outlines and maps as the toolkit has them."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainterPath, QTransform

from chalcedon.geometry import Affine, Outline


class _Builder:
    """A geometry pen that draws into a QPainterPath."""

    def __init__(self, path: QPainterPath) -> None:
        self.move = path.moveTo
        self.line = path.lineTo
        self.quadratic = path.quadTo
        self.cubic = path.cubicTo
        self.close = path.closeSubpath


def painter_path(path: Outline, even_odd: bool = False) -> QPainterPath:
    """The same outline as a QPainterPath, filled by the nonzero rule unless the other is asked for."""
    out = QPainterPath()
    out.setFillRule(Qt.FillRule.OddEvenFill if even_odd else Qt.FillRule.WindingFill)
    path.draw(_Builder(out))
    return out


def transform(m: Affine) -> QTransform:
    """An affine map as the toolkit's."""
    return QTransform(m.a, m.b, m.c, m.d, m.e, m.f)
