"""Words of the lists, laid out once: Qt would lay a text out anew whenever it is drawn, which takes far longer than to
draw it."""

from __future__ import annotations

import math
from functools import lru_cache

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QStaticText, QTransform

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
    if room is not None and _laid(text, size, bold, italic)[1] > room:
        text = _cut(text, size, bold, italic, int(room))
    laid, _width, tall = _laid(text, size, bold, italic)
    painter.setFont(font(size, bold, italic))
    painter.setPen(color)
    painter.drawStaticText(QPointF(x, math.floor(y + (height - tall) / 2 + 0.5)), laid)


@lru_cache(maxsize=KEPT)
def _laid(text: str, size: int, bold: bool, italic: bool) -> tuple[QStaticText, float, float]:
    """A text with its width and height."""
    out = QStaticText(text)
    out.setTextFormat(Qt.TextFormat.PlainText)
    out.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    out.prepare(QTransform(), font(size, bold, italic))
    return out, out.size().width(), out.size().height()


@lru_cache(maxsize=KEPT)
def _cut(text: str, size: int, bold: bool, italic: bool, room: int) -> str:
    return QFontMetricsF(font(size, bold, italic)).elidedText(text, Qt.TextElideMode.ElideRight, room)
