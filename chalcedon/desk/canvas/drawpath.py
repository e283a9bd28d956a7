"""Drawing a path: a click a corner, press and drag for a curve. The closing segment is shown."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.bypoints import ByPoints, held_to
from chalcedon.desk.canvas.tool import DRAG
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.session import NextPaint
from chalcedon.geometry.pathdata import Segment, print_path
from chalcedon.scene import Group, Path
from chalcedon.scene.axes import way
from chalcedon.scene.painted import INK
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

Point = tuple[float, float]


class LaidKnot(NamedTuple):
    """A point of the path in scene px, with the control that leaves it; the one that arrives is its mirror image."""

    at: Point
    out: Point | None = None

    @property
    def arriving(self) -> Point | None:
        return None if self.out is None else (2 * self.at[0] - self.out[0], 2 * self.at[1] - self.out[1])


class PathTool(ByPoints):
    least = 2

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.knots: list[LaidKnot] = []
        self._down: Pointer | None = None
        self._closing = False

    @property
    def placed(self) -> list[Any]:
        return self.knots

    def place_of(self, index: int) -> Point:
        return self.knots[index].at

    def put(self, point: Point) -> None:
        self.knots.append(LaidKnot(point))

    @property
    def hint(self) -> str:  # type: ignore[override]
        if not self.knots:
            return f"{self.into()}Click for a corner, press and drag for a curve · Esc selects again"
        closes = " · Enter or the first point closes" if len(self.knots) > 1 else " · typed numbers say how far"
        return f"Click adds a corner, a drag a curve{closes} · Backspace takes the last back · Esc ends it open"

    def press(self, p: Pointer) -> None:
        self._down = p
        self._closing = self.near_first(p)
        if self._closing:
            return
        point = self.rounded(self.snapped(p))
        self.begin()
        if not self.knots or point != self.knots[-1].at:
            self.knots.append(LaidKnot(point))
        self.canvas.tool_changed()

    def move(self, p: Pointer, down: bool) -> None:
        bending = self._down is not None and down
        p = p if bending else self.snapped(p)
        self._now = p.sx, p.sy
        if self._down is not None and down and self.knots:
            if math.hypot(p.x - self._down.x, p.y - self._down.y) >= DRAG:
                self._bend(p)
        elif self.knots:
            self.tell(p, self._now)
        self.canvas.update()

    def _bend(self, p: Pointer) -> None:
        """The curve leaves the knot that was pressed toward the pointer, and arrives from the other side."""
        index = 0 if self._closing else -1
        digits = self.canvas.view.digits
        knot = self.knots[index]
        out = tidy(p.sx, digits), tidy(p.sy, digits)
        if p.shift:
            out = held_to(knot.at, out)
        self.knots[index] = LaidKnot(knot.at, out)
        dx, dy = way(self.session.scene, out[0] - knot.at[0], out[1] - knot.at[1])
        self.word = f"curve {dx:+g}, {dy:+g}"

    def release(self, p: Pointer) -> None:
        if self._down is not None and self._closing:
            self.finish(closed=True)
        self._down = None
        self.word = ""

    def finish(self, closed: bool, stay: bool = False) -> None:
        knots, self.knots, self.word, self._down = self.knots, [], "", None
        if len(knots) >= 2:
            group = self.canvas.target_group()
            back = self.session.node(group).world.inverse()

            def local(p: Point) -> Point:
                return back.map(*p) if back is not None else p

            segments = [_mapped(s, local) for s in segments_of(knots, closed)]
            add_path(self.canvas, group, segments, closed, self.paint)
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
            knots.append(LaidKnot(self._now))
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


def segments_of(knots: list[LaidKnot], closed: bool) -> list[Segment]:
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


def _mapped(segment: Segment, local: Callable[[Point], Point]) -> Segment:
    n = segment.numbers
    return segment._replace(numbers=tuple(v for i in range(0, len(n), 2) for v in local((n[i], n[i + 1]))))


def add_path(
    canvas: Canvas, group: Group, segments: Sequence[Segment], closed: bool, paint: NextPaint | None = None
) -> None:
    """Adds the path of segments in the space of a group, and selects it. What is open is seen by its stroke."""
    ox, oy = (tidy(v, 3) for v in segments[0].numbers)

    def relative(s: Segment) -> Segment:
        return s._replace(numbers=tuple(tidy(tidy(v, 3) - (oy if i % 2 else ox)) for i, v in enumerate(s.numbers)))

    session = canvas.session
    paint = paint or session.next_paint
    shape = Path(at=(ox, oy), data=print_path(map(relative, segments)))
    session.dress(shape, paint)
    if not closed and shape.stroke is None:
        shape.stroke, shape.stroke_width, shape.fill = shape.fill or INK, paint.width, None
    session.add(shape, group, len(group._children))
