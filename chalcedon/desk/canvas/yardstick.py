"""Measuring between two points: distance, angle, and how far across and down."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.bypoints import held_to
from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import Tool
from chalcedon.scene.axes import way
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

Point = tuple[float, float]
MOST = 400
"""Corners that are looked at for one to snap to."""


class MeasureTool(Tool):
    """Changes nothing in the scene. The last measure stays until the next, or until Escape."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.start: Point | None = None
        self.end: Point | None = None
        self.word = ""

    @property
    def hint(self) -> str:  # type: ignore[override]
        if self.start is not None and self.end is not None:
            return f"{self.said()} · drag again, Shift holds to 15° · Esc leaves"
        return "Drag from one point to another · corners and centres are caught · Shift holds to 15° · Esc leaves"

    def said(self) -> str:
        """The measure in words."""
        if self.start is None or self.end is None:
            return ""
        dx, dy = self.end[0] - self.start[0], self.end[1] - self.start[1]
        angle = math.degrees(math.atan2(dy, dx))
        return f"distance {_n(math.hypot(dx, dy))}, angle {_n(angle)}°, dx {_n(dx)}, dy {_n(dy)}"

    @property
    def distance(self) -> float:
        return math.dist(self.start, self.end) if self.start is not None and self.end is not None else 0.0

    def _caught(self, p: Pointer) -> Point:
        """What the pointer snaps to, else where it is."""
        p = self.canvas.snapping.point(p)
        digits = EXACT if p.snapped else self.canvas.view.digits
        return tidy(p.sx, digits), tidy(p.sy, digits)

    def press(self, p: Pointer) -> None:
        self.start, self.end = self._caught(p), None
        self.canvas.tool_changed()

    def move(self, p: Pointer, down: bool) -> None:
        spot = self._caught(p)
        if down and self.start is not None:
            self.end = held_to(self.start, spot) if p.shift else spot
            self.word = f"{_n(self.distance)}"
            self.canvas.hint_changed.emit(self.hint)
        self.canvas.update()

    def release(self, p: Pointer) -> None:
        self.word = ""
        if self.end is not None:
            self.session.say(f"{self.said()}.")
        self.canvas.tool_changed()

    def cancel(self) -> bool:
        self.canvas.set_kind("")
        return True

    def draw(self, painter: QPainter) -> None:
        to = self.canvas.view.to_widget
        if self.start is None or self.end is None:
            return
        a, b = QPointF(*to(*self.start)), QPointF(*to(*self.end))
        corner = QPointF(b.x(), a.y())
        color = QColor("#B8482A")
        for pen in (QPen(QColor(255, 255, 255, 210), 3), QPen(color, 1)):
            if pen.width() == 1:
                pen.setDashPattern([3, 3])
            painter.setPen(pen)
            painter.drawPolyline([a, corner, b])
        for pen in (QPen(QColor(255, 255, 255, 210), 4), QPen(color, 1.8)):
            painter.setPen(pen)
            painter.drawLine(a, b)
        for spot in (a, b):
            overlay.draw_handle(painter, spot.x(), spot.y(), "edge", False)
        dx, dy = way(self.canvas.session.scene, self.end[0] - self.start[0], self.end[1] - self.start[1])
        room = self.canvas.rect().toRectF()
        middle = (a + b) / 2
        angle = math.degrees(math.atan2(dy, dx))
        # on the other side of the line than the two legs
        x = middle.x() - 120 if corner.x() > middle.x() else middle.x() + 12
        y = middle.y() + 10 if corner.y() < middle.y() else middle.y() - 34
        overlay.draw_tag(painter, x, y, f"{_n(self.distance)}  ∠ {_n(angle)}°", room)
        if abs(corner.x() - a.x()) > 30:
            overlay.draw_tag(painter, (a.x() + corner.x()) / 2 - 20, a.y() - 26, f"dx {_n(dx)}", room)
        if abs(b.y() - corner.y()) > 30:
            overlay.draw_tag(painter, b.x() + 8, (corner.y() + b.y()) / 2 - 10, f"dy {_n(dy)}", room)


def _n(value: float) -> str:
    return f"{tidy(value, 2):g}"
