"""The curve of keyframes below a row: drawn, and changed by dragging its frames."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from chalcedon.desk.ledger.cells import Cell
from chalcedon.desk.ledger.parts import part, show, with_part
from chalcedon.desk.looks.lettering import write
from chalcedon.desk.looks.theme import theme
from chalcedon.formula import Formula
from chalcedon.source.curves import Curve, curve_of, next_easing, with_frame

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger

TALL = 74
"""Px that a curve is high."""
MOST_WIDE = 260
EDGE = 9
NEAR = 9


class Scale:
    """Between times and values and px of a cell."""

    def __init__(self, curve: Curve, cell: Cell, top: float) -> None:
        self.area = area_of(cell, top).adjusted(EDGE, EDGE, -EDGE, -EDGE)
        times = [f.time for f in curve.frames]
        values = [curve.value(times[0] + (times[-1] - times[0]) * i / 60) for i in range(61)]
        values += [f.value for f in curve.frames]
        self.first, self.long = times[0], (times[-1] - times[0]) or 1.0
        self.low, self.span = min(values), (max(values) - min(values)) or 1.0

    def at(self, time: float, value: float) -> QPointF:
        """The place of a value at a time."""
        x = self.area.left() + (time - self.first) / self.long * self.area.width()
        return QPointF(x, self.area.bottom() - (value - self.low) / self.span * self.area.height())

    def back(self, x: float, y: float) -> tuple[float, float]:
        """The time and the value at a place, as exact as a px there."""
        time = self.first + (x - self.area.left()) / self.area.width() * self.long
        value = self.low + (self.area.bottom() - y) / self.area.height() * self.span
        return _round(time, self.long / self.area.width()), _round(value, self.span / self.area.height())


def _round(value: float, step: float) -> float:
    return round(value, max(0, -math.floor(math.log10(step)))) + 0.0


def area_of(cell: Cell, top: float) -> QRectF:
    """Where a curve is drawn; what is right of it is words."""
    return QRectF(cell.x, top + cell.y + 3, min(cell.w - 90, MOST_WIDE), TALL - 6)


def draw_curve(painter: QPainter, cell: Cell, top: float) -> None:
    """The curve, its frames, and between which values it goes."""
    t, curve = theme(), cell.value
    assert isinstance(curve, Curve)
    area, scale = area_of(cell, top), Scale(curve, cell, top)
    painter.setPen(QPen(t.color("line"), 1))
    painter.setBrush(t.color("panel"))
    painter.drawRoundedRect(area, 4, 4)
    steps = max(2, int(area.width() / 2))
    times = [scale.first + scale.long * i / steps for i in range(steps + 1)]
    painter.setPen(QPen(t.color("chrysoprase"), 1.6))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(QPolygonF([scale.at(time, curve.value(time)) for time in times]))
    for frame in curve.frames:
        free = frame.time_at is not None
        painter.setPen(QPen(t.color("chrysoprase"), 1.4))
        painter.setBrush(t.color("panel" if free else "chrysoprase"))
        painter.drawEllipse(scale.at(frame.time, frame.value), *((4.0, 4.0) if free else (2.5, 2.5)))
    ends = (curve.frames[0], curve.frames[-1])
    low, high = (show(round(v, 3)) for v in (scale.low, scale.low + scale.span))
    words = (f"{show(ends[0].time)} to {show(ends[1].time)} s", f"{low} to {high}")
    for i, word in enumerate(words if curve.frames[0].time_at is not None else (curve.frames[-1].ease,)):
        write(painter, area.right() + 8, area.top() + 4 + 18 * i, 18, word, t.color("muted"), 12)


class CurveHold:
    """A press on a curve: on a frame it is dragged, between two the easing becomes the next one."""

    def __init__(self, ledger: Ledger, cell: Cell, top: float, x: float, y: float) -> None:
        assert isinstance(cell.value, Curve)
        self._ledger, self._cell, self._curve = ledger, cell, cell.value
        self._scale = Scale(self._curve, cell, top)
        self.gesture = object()
        self.frame = -1
        for i, frame in enumerate(self._curve.frames):
            at = self._scale.at(frame.time, frame.value)
            if frame.time_at is not None and math.hypot(at.x() - x, at.y() - y) <= NEAR:
                self.frame = i
        if self.frame < 0 and self._scale.area.left() <= x <= self._scale.area.right():
            time = self._scale.back(x, y)[0]
            after = [i for i, f in enumerate(self._curve.frames) if i and f.time >= time]
            if after:
                self._put(next_easing(self._curve, after[0]))

    def move(self, x: float, y: float) -> None:
        """The pointer is elsewhere."""
        if self.frame >= 0:
            self._put(with_frame(self._curve, self.frame, *self._scale.back(x, y)))

    def _put(self, text: str) -> None:
        owner, name, path = self._cell.owner, self._cell.name, self._cell.path
        assert owner is not None
        stated = owner.stated(name)
        formula = part(stated, path)
        if isinstance(formula, Formula) and formula.text != text and curve_of(text) is not None:
            self._ledger.acts.put(owner, name, with_part(stated, path, Formula(text, formula.last)), self.gesture)
            self._ledger.keys.tell_focus()

    def end(self) -> None:
        """The hand lets go."""
        self._ledger.session.end_gesture()
