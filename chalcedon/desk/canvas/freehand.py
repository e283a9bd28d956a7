"""Drawing freehand: press, drag and let go. What was drawn becomes a smooth path with few points."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from chalcedon.desk.canvas.drawpath import add_path
from chalcedon.desk.canvas.tool import DRAG, GRAB, Tool
from chalcedon.desk.looks.theme import theme
from chalcedon.geometry.pathdata import from_outline
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

TOLERANCE = 2.5
"""Screen px that the path may be off what was drawn: about the tremor of a hand."""


class FreehandTool(Tool):
    """A line that comes back to where it began is closed; with Shift it stays open, with Alt it keeps closer to the
    hand."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.drawn: list[tuple[float, float]] = []
        self.word = ""

    @property
    def hint(self) -> str:  # type: ignore[override]
        if self.drawn:
            return "Let go where it ends; back at the start closes it · Shift keeps it open · Alt follows more closely"
        return f"{self.into()}Press, draw and let go: it becomes a smooth path · Esc selects again"

    @property
    def held(self) -> bool:
        return bool(self.drawn)

    def press(self, p: Pointer) -> None:
        self.drawn = [(p.sx, p.sy)]
        self.paint = self.session.next_paint
        self.canvas.tool_changed()

    def move(self, p: Pointer, down: bool) -> None:
        if not self.drawn or not down:
            return
        self.drawn.append((p.sx, p.sy))
        self.word = "closes" if self._comes_back(p) else ""
        self.canvas.update()

    def _comes_back(self, p: Pointer) -> bool:
        x, y = self.canvas.view.to_widget(*self.drawn[0])
        way = sum(math.dist(a, b) for a, b in zip(self.drawn, self.drawn[1:], strict=False)) * self.canvas.view.zoom
        return not p.shift and way > 4 * GRAB and math.hypot(p.x - x, p.y - y) <= GRAB

    def release(self, p: Pointer) -> None:
        from chalcedon.geometry.freehand import smooth_through  # NumPy

        if not self.drawn:
            return
        closed = self._comes_back(p)
        drawn, self.drawn, self.word = self.drawn, [], ""
        if not closed:
            drawn.append((p.sx, p.sy))
        x, y = self.canvas.view.to_widget(*drawn[0])
        far = max(math.dist((x, y), self.canvas.view.to_widget(*q)) for q in drawn)
        if far < DRAG:
            self.session.say("Draw with the button held down; a click alone is nothing to keep.")
            self.canvas.tool_changed()
            return
        group = self.canvas.target_group()
        world = self.session.node(group).world
        back = world.inverse()
        local = [back.map(*q) for q in drawn] if back is not None else drawn
        tolerance = TOLERANCE * (0.4 if p.alt else 1.0) / self.canvas.view.zoom / max(world.stretch, 1e-9)
        digits = self.canvas.view.digits + 1
        segments = [
            s._replace(numbers=tuple(tidy(v, digits) for v in s.numbers))
            for s in from_outline(smooth_through(local, tolerance, closed))
        ]
        add_path(self.canvas, group, segments, closed, self.paint)
        self.canvas.made()

    def cancel(self) -> bool:
        if not self.drawn:
            return False
        self.drawn, self.word = [], ""
        self.canvas.tool_changed()
        return True

    def leave(self) -> None:
        self.drawn = []

    def draw(self, painter: QPainter) -> None:
        if len(self.drawn) < 2:
            return
        t = theme()
        line = QPolygonF([QPointF(*self.canvas.view.to_widget(*q)) for q in self.drawn])
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for pen in (QPen(t.color("panel", 210), 3.4), QPen(t.color("carnelian"), 1.6)):
            painter.setPen(pen)
            painter.drawPolyline(line)
