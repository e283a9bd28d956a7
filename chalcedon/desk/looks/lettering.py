"""Words of the lists. One that is drawn often is laid out, once: Qt would lay it out anew each time. The first times it
is only drawn, since a number is often another before it is drawn again."""

from __future__ import annotations

import math
from collections.abc import Hashable
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
    if room is not None and advance(text, size, bold, italic) > room:
        text = _cut(text, size, bold, italic, int(room))
    face, tall, ascent = _face(size, bold, italic)
    painter.setFont(face)
    painter.setPen(color)
    top = math.floor(y + (height - tall) / 2 + 0.5)
    key = text, size, bold, italic
    plain = text.isascii() and text.isprintable()  # whose layout is that of plain letters
    if not plain or painter.device().devicePixelRatioF() != 1.0 or _drawn.often(key):  # where it rounds otherwise
        painter.drawStaticText(QPointF(x, top), _laid(*key))
        return
    painter.drawText(QPointF(x, top + ascent), text)


OFTEN = 3
"""Laying a text out takes about as long as drawing it as often: in its row, in the opened one, and once more."""


class Tally:
    """Counts how often things are drawn, so that only those are made ready that are drawn often."""

    def __init__(self, kept: int) -> None:
        self._times: dict[Hashable, int] = {}
        self._kept = kept

    def often(self, what: Hashable) -> bool:
        """Whether it was drawn OFTEN before; this time counts."""
        times = self._times.get(what, 0)
        if times < OFTEN:
            if len(self._times) >= self._kept:
                self._times.clear()
            self._times[what] = times + 1
        return times >= OFTEN

    def forget(self) -> None:
        self._times.clear()


_drawn = Tally(KEPT)


@lru_cache(maxsize=5 * KEPT)
def advance(text: str, size: int = 14, bold: bool = False, italic: bool = False) -> float:
    """How wide a text is, in widget px."""
    if text.strip(_NUMERALS):
        return _metrics(size, bold, italic).horizontalAdvance(text)
    wide, point = _numeral(size, bold, italic)
    points = text.count(".")
    return (len(text) - points) * wide + points * point


_NUMERALS = "0123456789−."
"""What numbers are written with: the font's digits and its minus are of one width, and nothing is kerned among them."""


@lru_cache
def _numeral(size: int, bold: bool, italic: bool) -> tuple[float, float]:
    """How wide a digit is, and a point."""
    metrics = _metrics(size, bold, italic)
    return metrics.horizontalAdvance("0"), metrics.horizontalAdvance(".")


@lru_cache
def _metrics(size: int, bold: bool, italic: bool) -> QFontMetricsF:
    return QFontMetricsF(font(size, bold, italic))


@lru_cache
def _face(size: int, bold: bool, italic: bool) -> tuple[QFont, float, float]:
    """A font, the height of a line that is laid out in it, and how far below its top the baseline is."""
    metrics = _metrics(size, bold, italic)
    return font(size, bold, italic), math.ceil(metrics.height()), metrics.ascent()


@lru_cache(maxsize=KEPT)
def _laid(text: str, size: int, bold: bool, italic: bool) -> QStaticText:
    out = QStaticText(text)
    out.setTextFormat(Qt.TextFormat.PlainText)
    out.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
    out.prepare(QTransform(), font(size, bold, italic))
    return out


@lru_cache(maxsize=KEPT)
def _cut(text: str, size: int, bold: bool, italic: bool, room: int) -> str:
    return _metrics(size, bold, italic).elidedText(text, Qt.TextElideMode.ElideRight, room)
