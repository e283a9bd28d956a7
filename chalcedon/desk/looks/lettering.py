"""Words of the lists, laid out once: Qt would lay a text out anew whenever it is drawn, which takes far longer than to
draw it."""

from __future__ import annotations

import math
from functools import lru_cache

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QStaticText, QTransform

from chalcedon.desk.looks.theme import font

KEPT = 4000
"""Texts whose layout is remembered."""


def write(
    painter: QPainter,
    x: float,
    y: float,
    height: float,
    text: str,
    color: QColor,
    size: int = 14,
    bold: bool = False,
    italic: bool = False,
    room: float | None = None,
) -> None:
    """A line of text from `x` on, in the middle of a band that begins at `y`. One longer than `room` is cut short with
    an ellipsis."""
    laid, width, tall, face = _laid(text, size, bold, italic)
    if room is not None and width > room:
        laid, _, tall, face = _laid(_cut(text, size, bold, italic, int(room)), size, bold, italic)
    painter.setFont(face)
    painter.setPen(color)
    painter.drawStaticText(QPointF(x, math.floor(y + (height - tall) / 2 + 0.5)), laid)


@lru_cache(maxsize=KEPT)
def _laid(text: str, size: int, bold: bool, italic: bool) -> tuple[QStaticText, float, float, QFont]:
    """A text with its width, height and font."""
    out, face = QStaticText(text), font(size, bold, italic)
    out.setTextFormat(Qt.TextFormat.PlainText)
    out.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    out.prepare(QTransform(), face)
    return out, out.size().width(), out.size().height(), face


@lru_cache(maxsize=KEPT)
def _cut(text: str, size: int, bold: bool, italic: bool, room: int) -> str:
    return QFontMetricsF(font(size, bold, italic)).elidedText(text, Qt.TextElideMode.ElideRight, room)
