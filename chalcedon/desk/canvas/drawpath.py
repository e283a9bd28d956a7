"""Drawing a path: a click a corner, press and drag for a curve. The closing segment is shown."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPainterPath, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.make import held_to, next_point
from chalcedon.desk.canvas.tool import DRAG, GRAB, Pointer, Tool
from chalcedon.desk.theme import theme
from chalcedon.evaluate.tidy import tidy
from chalcedon.geometry.pathdata import Segment, print_path
from chalcedon.scene import Path

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

Point = tuple[float, float]


class Knot(NamedTuple):
    """A point of the path in scene px, with the control that leaves it; the one that arrives is its mirror image."""

    at: Point
    out: Point | None = None

    @property
    def arriving(self) -> Point | None:
        return None if self.out is None else (2 * self.at[0] - self.out[0], 2 * self.at[1] - self.out[1])


class PathTool(Tool):
    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.knots: list[Knot] = []
        self._down: Pointer | None = None
        self._now: Point | None = None
        self._closing = False
        self.word = ""

    @property
    def hint(self) -> str:  # type: ignore[override]
        if not self.knots:
            return "Click for a corner, press and drag for a curve · Esc selects again"
        closes = " · Enter or the first point closes" if len(self.knots) > 1 else ""
        return f"Click adds a corner, a drag a curve{closes} · Backspace takes the last back · Esc ends it open"

    def press(self, p: Pointer) -> None:
        self._down = p
        self._closing = len(self.knots) >= 2 and self._near_first(p)
        if self._closing:
            return
        digits = self.canvas.view.digits
        point = tidy(p.sx, digits), tidy(p.sy, digits)
        if p.shift and self.knots:
            point = held_to(self.knots[-1].at, point)
        if not self.knots or point != self.knots[-1].at:
            self.knots.append(Knot(point))
        self.canvas.tool_changed()

    def _near_first(self, p: Pointer) -> bool:
        x, y = self.canvas.view.to_widget(*self.knots[0].at)
        return math.hypot(p.x - x, p.y - y) <= GRAB

    def move(self, p: Pointer, down: bool) -> None:
        self._now = p.sx, p.sy
        if self._down is not None and down and self.knots:
            far = math.hypot(p.x - self._down.x, p.y - self._down.y) >= DRAG
            index = 0 if self._closing else -1
            if far:
                digits = self.canvas.view.digits
                out = tidy(p.sx, digits), tidy(p.sy, digits)
                if p.shift:
                    out = held_to(self.knots[index].at, out)
                if not self._closing:
                    self.knots[index] = Knot(self.knots[index].at, out)
                self.word = f"curve {out[0] - self.knots[index].at[0]:+g}, {out[1] - self.knots[index].at[1]:+g}"
        elif self.knots:
            last = self.knots[-1].at
            digits = self.canvas.view.digits
            closes = len(self.knots) >= 2 and self._near_first(p)
            self.word = "closes" if closes else f"{tidy(p.sx - last[0], digits):+g}, {tidy(p.sy - last[1], digits):+g}"
        self.canvas.update()

    def release(self, p: Pointer) -> None:
        if self._down is not None and self._closing:
            self._finish(closed=True)
        self._down = None
        self.word = ""

    @property
    def dragging(self) -> bool:
        return bool(self.knots)

    def key(self, event: QKeyEvent) -> bool:
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if self.knots and self.typed.take(event):
            self.word = self.typed.word() if self.typed.text else ""
            self.canvas.update()
        elif enter and self.typed.numbers and self.knots:
            last = self.knots[-1].at
            self.knots.append(Knot(next_point(last, self._now or last, self.typed.numbers)))
            self.typed.clear()
            self.word = ""
            self.canvas.tool_changed()
        elif enter:
            self._finish(closed=len(self.knots) >= 2 and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        elif event.key() in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and self.knots:
            self.knots.pop()
            self.canvas.tool_changed()
        else:
            return False
        return True

    def cancel(self) -> bool:
        if not self.knots:
            return False
        self._finish(closed=False)
        return True

    def leave(self) -> None:
        if self.knots:
            self._finish(closed=False, stay=True)

    def _finish(self, closed: bool, stay: bool = False) -> None:
        knots, self.knots, self.word, self._down = self.knots, [], "", None
        if len(knots) >= 2:
            group = self.canvas.target_group()
            back = self.session.node(group).world.inverse()

            def local(p: Point) -> Point:
                x, y = back.map(*p) if back is not None else p
                return tidy(x, 3), tidy(y, 3)

            ox, oy = local(knots[0].at)
            data = print_path(
                Segment(s.letter, tuple(_relative(s.numbers, local, ox, oy))) for s in segments_of(knots, closed)
            )
            shape = Path(at=(ox, oy), data=data)
            self.session.dress(shape)
            if not closed and shape.stroke is None:
                shape.stroke, shape.stroke_width, shape.fill = shape.fill or "#22292e", self.session.next_width, None
            self.session.add(shape, group, len(group.children))
        elif knots:
            self.session.say("A path needs two points; one click was not enough to keep.")
        if not stay:
            self.canvas.made()

    def draw(self, painter: QPainter) -> None:
        if not self.knots:
            return
        t = theme()
        to = self.canvas.view.to_widget
        knots = list(self.knots)
        if self._now is not None and self._down is None:
            knots.append(Knot(self._now))
        line = QPainterPath(QPointF(*to(*knots[0].at)))
        for s in segments_of(knots, False)[1:]:
            spots = [QPointF(*to(*s.numbers[i : i + 2])) for i in range(0, len(s.numbers), 2)]
            if s.letter == "L":
                line.lineTo(spots[0])
            else:
                line.cubicTo(*spots)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for pen in (QPen(t.color("panel", 210), 3.4), QPen(t.color("carnelian"), 1.6)):
            painter.setPen(pen)
            painter.drawPath(line)
        if len(knots) >= 3:
            dashed = QPen(t.color("carnelian"), 1.2)
            dashed.setDashPattern([3, 4])
            painter.setPen(dashed)
            closing = segments_of([knots[-1], knots[0]], False)[1]
            spots = [QPointF(*to(*closing.numbers[i : i + 2])) for i in range(0, len(closing.numbers), 2)]
            way = QPainterPath(QPointF(*to(*knots[-1].at)))
            way.cubicTo(*spots) if len(spots) == 3 else way.lineTo(spots[0])
            painter.drawPath(way)
        self._draw_controls(painter)
        for i, knot in enumerate(self.knots):
            x, y = to(*knot.at)
            overlay.draw_handle(painter, x, y, "point", i == 0 and len(self.knots) >= 2)

    def _draw_controls(self, painter: QPainter) -> None:
        knot = self.knots[-1]
        if knot.out is None or knot.arriving is None:
            return
        to = self.canvas.view.to_widget
        a, b = QPointF(*to(*knot.out)), QPointF(*to(*knot.arriving))
        painter.setPen(QPen(theme().color("chalcedony"), 1.4))
        painter.drawLine(a, b)
        for spot in (a, b):
            overlay.draw_handle(painter, spot.x(), spot.y(), "radius", False)


def segments_of(knots: list[Knot], closed: bool) -> list[Segment]:
    """The path through the knots: a line where neither end has a control, else a cubic."""
    out = [Segment("M", knots[0].at)]
    pairs = list(itertools.pairwise(knots))
    if closed:
        pairs.append((knots[-1], knots[0]))
    for a, b in pairs:
        if a.out is None and b.out is None:
            if b is not knots[0] or not closed:
                out.append(Segment("L", b.at))
        else:
            out.append(Segment("C", (*(a.out or a.at), *(b.arriving or b.at), *b.at)))
    if closed:
        out.append(Segment("Z", ()))
    return out


def _relative(numbers: tuple[float, ...], local: Callable[[Point], Point], ox: float, oy: float) -> list[float]:
    out: list[float] = []
    for i in range(0, len(numbers), 2):
        x, y = local((numbers[i], numbers[i + 1]))
        out += (tidy(x - ox), tidy(y - oy))
    return out
