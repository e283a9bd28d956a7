"""Editing the points of a line, polyline or path: choosing, moving, adding, deleting, smoothing, splitting."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen, QPolygonF

from chalcedon.craft import points as edit
from chalcedon.craft.hold import Start
from chalcedon.craft.points import Knot
from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import DRAG, GRAB, Tool
from chalcedon.desk.looks.theme import theme
from chalcedon.geometry import contours as change
from chalcedon.geometry.contours import Contour
from chalcedon.scene import Line, Path, Polyline, Shape
from chalcedon.scene.axes import way
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

EDITABLE = (Line, Polyline, Path)
REACH = 7.0
"""Widget px from the outline within which a click adds a point."""
ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


class Grip(NamedTuple):
    """What the pointer is on: a knot, a control of it (arriving or leaving), or a place of a segment."""

    what: str
    knot: Knot
    leaving: bool = False
    t: float = 0.0


class PointsTool(Tool):
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, canvas: Canvas, shape: Shape) -> None:
        super().__init__(canvas)
        self.id = shape.id
        self.chosen: set[Knot] = set()
        self.hot: Grip | None = None
        self.word = ""
        self._down: Pointer | None = None
        self._grip: Grip | None = None
        self._last: Pointer | None = None
        self._start: Start | None = None
        self._before: list[Contour] = []
        self._gesture: object = None
        self._band: QRectF | None = None

    @property
    def hint(self) -> str:  # type: ignore[override]
        if self.chosen:
            return (
                "Drag moves · Delete takes away · Shift+S smooth · Shift+C corner · double click changes between them"
            )
        return "Click a point to choose it · click the outline to add one · drag a box to choose several · Esc leaves"

    @property
    def shape(self) -> Shape | None:
        """The shape under its id: smoothing a polyline puts a path in its place."""
        found = self.session.scene.get(self.id)
        return found if isinstance(found, EDITABLE) else None

    def contours(self) -> list[Contour]:
        shape = self.shape
        return edit.contours(shape) if shape is not None else []

    def refresh(self) -> None:
        """Follows changes from elsewhere: knots that are gone are no longer chosen."""
        if self.shape is None:
            self.canvas.set_kind("")
            return
        sizes = [len(c.knots) for c in self.contours()]
        self.chosen = {(c, i) for c, i in self.chosen if c < len(sizes) and i < sizes[c]}

    # where things are

    def _started(self) -> Start | None:
        shape = self.shape
        if shape is None or self.session.display.find(shape) is None:
            return None
        start = Start(self.session.node(shape))
        return start if start.from_scene is not None else None

    def _spot(self, start: Start, raw: tuple[float, float]) -> QPointF:
        return QPointF(*self.canvas.view.to_widget(*start.scene_of(raw)))

    def _shown_controls(self, contours: list[Contour]) -> list[tuple[Knot, bool, tuple[float, float]]]:
        """The controls of the chosen knots, and the near ones of their neighbours."""
        wanted: set[tuple[Knot, bool]] = set()
        for c, i in self.chosen:
            count = len(contours[c].knots)
            wanted |= {((c, i), False), ((c, i), True), ((c, (i + 1) % count), False), ((c, (i - 1) % count), True)}
        out = []
        for (c, i), leaving in sorted(wanted):
            control = contours[c].controls(i)[leaving]
            if control is not None and control != contours[c].knots[i]:
                out.append(((c, i), leaving, control))
        return out

    def _grab(self, p: Pointer) -> Grip | None:
        start = self._started()
        if start is None:
            return None
        contours = self.contours()
        here = QPointF(p.x, p.y)
        near: list[tuple[float, Grip]] = []
        for knot, leaving, control in self._shown_controls(contours):
            near.append((_apart(self._spot(start, control), here), Grip("control", knot, leaving)))
        for c, contour in enumerate(contours):
            for i, raw in enumerate(contour.knots):
                near.append((_apart(self._spot(start, raw), here) - 0.5, Grip("knot", (c, i))))
        best = min(near, key=lambda n: n[0], default=None)
        if best is not None and best[0] <= GRAB:
            return best[1]
        raw_here = start.raw_of(p.sx, p.sy)
        shape = self.shape
        if raw_here is None or shape is None:
            return None
        found = edit.nearest_segment(shape, *raw_here)
        stretch = start.parent.after(start.to_parent).stretch * self.canvas.view.zoom
        if found is not None and found[2] * stretch <= REACH:
            return Grip("segment", found[0], t=found[1])
        return None

    # pointer

    def press(self, p: Pointer) -> None:
        self._down, self._gesture, self._before = p, object(), self.contours()
        self._start, self._last = self._started(), None
        self.canvas.snapping.begin([self.shape] if self.shape is not None else [])
        self.typed.clear()
        grip = self._grip = self._grab(p)
        shape = self.shape
        if grip is None or shape is None:
            return
        if grip.what == "segment":
            with self.session.step("", self._gesture):
                _shape, knot = edit.add_point(self.session.display, shape, grip.knot, grip.t)
                self.chosen = {knot}
                self._grip = Grip("knot", knot)
            if self.shape is not None:
                self.session.select([self.shape])  # a line with a point more is a polyline
            self._before, self._start = self.contours(), self._started()
        elif grip.what == "knot":
            if p.shift:
                self.chosen ^= {grip.knot}
            elif grip.knot not in self.chosen:
                self.chosen = {grip.knot}
        self.canvas.tool_changed()

    def move(self, p: Pointer, down: bool) -> None:
        if not down or self._down is None:
            hot = self._grab(p)
            if hot != self.hot:
                self.hot = hot
                self.canvas.update()
            cursor = Qt.CursorShape.PointingHandCursor if hot else Qt.CursorShape.ArrowCursor
            self.canvas.setCursor(Qt.CursorShape.CrossCursor if hot and hot.what == "segment" else cursor)
            return
        if math.hypot(p.x - self._down.x, p.y - self._down.y) < DRAG and not self.word and self._band is None:
            return
        if self._grip is None:
            self._band = QRectF(QPointF(self._down.x, self._down.y), QPointF(p.x, p.y)).normalized()
            self.canvas.update()
            return
        self._last = p
        self._drag(p, self._grip)

    def _drag(self, p: Pointer, grip: Grip) -> None:
        start, shape = self._start, self.shape
        assert self._down is not None
        if start is None or shape is None:
            return
        if grip.what == "knot" and not p.shift and not self.typed.numbers:
            knot = start.scene_of(self._before[grip.knot[0]].knots[grip.knot[1]])
            p = self.canvas.snapping.along(knot, self._down, p)
        a, b = start.raw_of(self._down.sx, self._down.sy), start.raw_of(p.sx, p.sy)
        if a is None or b is None:
            return
        dx, dy = b[0] - a[0], b[1] - a[1]
        if p.shift:
            dx, dy = (dx, 0.0) if abs(dx) > abs(dy) else (0.0, dy)
        if grip.what == "control":
            c, i = grip.knot
            old = self._before[c].controls(i)[grip.leaving]
            if old is None:
                return
            to = self._tidy((old[0] + dx, old[1] + dy))
            mirrored = change.is_smooth(self._before[c], i) and not p.alt
            moved = change.with_control(self._before[c], i, grip.leaving, to, mirrored)
            self._write([*self._before[:c], moved, *self._before[c + 1 :]], "Bend")
            self.word = f"control: {to[0]:g}, {to[1]:g}"
            return
        x, y = self._before[grip.knot[0]].knots[grip.knot[1]]
        to = (tidy(x + dx, EXACT), tidy(y + dy, EXACT)) if p.snapped else self._tidy((x + dx, y + dy))
        if numbers := self.typed.numbers:
            to = numbers[0], numbers[1] if len(numbers) > 1 else to[1]
        self._shift(to[0] - x, to[1] - y)
        self.word = self.typed.word() if self.typed.text else f"point {grip.knot[1] + 1}: {to[0]:g}, {to[1]:g}"

    def _tidy(self, point: tuple[float, float]) -> tuple[float, float]:
        digits = self.canvas.view.digits
        return tidy(point[0], digits), tidy(point[1], digits)

    def _shift(self, dx: float, dy: float) -> None:
        """Moves the chosen knots from where they were."""
        contours = list(self._before)
        for c, i in self.chosen:
            x, y = contours[c].knots[i]
            contours[c] = change.moved(contours[c], i, (x + dx, y + dy))
        self._write(contours, "Move" if len(self.chosen) == 1 else "Move points of")

    def _write(self, contours: list[Contour], verb: str) -> None:
        shape = self.shape
        if shape is not None:
            word = "Move a point of" if verb == "Move" else verb
            with self.session.step("", self._gesture):
                edit.write(self.session.display, shape, contours, f"{word} {shape.id}")

    def release(self, p: Pointer) -> None:
        if self._band is not None:
            self._choose_in(self._band, p.shift)
        elif self._grip is None and self._down is not None:
            self._click_beside(p)
        self._down = self._grip = self._band = None
        self.word = ""
        self.session.end_gesture()
        self.canvas.tool_changed()

    def _choose_in(self, band: QRectF, more: bool) -> None:
        start = self._started()
        if start is None:
            return
        inside = {
            (c, i)
            for c, contour in enumerate(self.contours())
            for i, raw in enumerate(contour.knots)
            if band.contains(self._spot(start, raw))
        }
        self.chosen = self.chosen | inside if more else inside

    def _click_beside(self, p: Pointer) -> None:
        """A click beside the outline gives the choice up; one on another shape leaves for it."""
        if self.chosen:
            self.chosen = set()
            return
        hits = self.session.tester.hit_test(p.sx, p.sy, first=True, unlocked=True)
        if not hits or hits[0].shape is not self.shape:
            self.canvas.set_kind("")
            self.session.select([hits[0].shape] if hits else [])

    def double(self, p: Pointer) -> None:
        """Smooth becomes corner, corner becomes smooth."""
        grip = self._grab(p)
        if grip is not None and grip.what == "knot":
            c, i = grip.knot
            self.chosen = {grip.knot}
            self.act("corner" if change.is_smooth(self.contours()[c], i) else "smooth")

    # acting on what is chosen

    def act(self, what: str) -> None:
        """Carries out smooth, corner, delete or split on the chosen knots."""
        shape = self.shape
        if shape is None:
            return
        if not self.chosen:
            self.session.say("No point is chosen. Click one, or drag a box around several.")
            return
        display = self.session.display
        after: Iterable[Knot] = self.chosen
        with self.session.step(""):
            if what == "smooth":
                edit.smooth(display, shape, self.chosen)
            elif what == "corner":
                edit.corner(display, shape, self.chosen)
            elif what == "delete":
                edit.delete_points(display, shape, self.chosen)
                after = ()
            else:
                edit.split(display, shape, min(self.chosen))
                after = ()
        self.chosen = set(after)
        if self.shape is not None:
            self.session.select([self.shape])
        self.canvas.tool_changed()

    @property
    def held(self) -> bool:
        return self._down is not None

    @property
    def dragging(self) -> bool:
        return self._grip is not None and self._last is not None

    def key(self, event: QKeyEvent) -> bool:
        if self._grip is not None and self._last is not None:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.release(self._last)
                return True
            if self.typed.take(event):
                self._drag(self._last, self._grip)
                self.canvas.update()
                return True
            return False
        key, shift = event.key(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self.chosen:
            self.act("delete")
        elif key in ARROWS and self.chosen:
            self._before, self._gesture = self.contours(), "nudge points"
            step = 10 if shift else 1
            self._shift(*way(self.session.scene, *(d * step for d in ARROWS[Qt.Key(key)])))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.canvas.set_kind("")
        else:
            return False
        return True

    def next(self, way: int) -> None:
        """Chooses the next knot along the outline."""
        knots = [(c, i) for c, contour in enumerate(self.contours()) for i in range(len(contour.knots))]
        if knots:
            at = knots.index(max(self.chosen)) + way if self.chosen else (0 if way > 0 else -1)
            self.chosen = {knots[at % len(knots)]}
            self.canvas.tool_changed()

    def cancel(self) -> bool:
        if self._down is not None:
            self.session.take_back(self._gesture)
            self._down = self._grip = self._band = None
            self.word = ""
            return True
        if self.chosen:
            self.chosen = set()
            self.canvas.tool_changed()
            return True
        self.canvas.set_kind("")
        return True

    # drawing

    def draw(self, painter: QPainter) -> None:
        start = self._started()
        if start is None:
            return
        t = theme()
        contours = self.contours()
        for (c, i), leaving, control in self._shown_controls(contours):
            a, b = self._spot(start, contours[c].knots[i]), self._spot(start, control)
            for pen in (QPen(QColor(255, 255, 255, 200), 2.6), QPen(t.color("carnelian"), 1)):
                painter.setPen(pen)
                painter.drawLine(a, b)
            hot = self.hot == Grip("control", (c, i), leaving)
            painter.setBrush(t.color("carnelian") if hot else QColor("#FFFFFF"))
            painter.drawEllipse(b, 3.4, 3.4)
        for contour in contours:
            self._draw_way(painter, start, contour)
        for c, contour in enumerate(contours):
            for i, raw in enumerate(contour.knots):
                knot = c, i
                self._draw_knot(painter, self._spot(start, raw), knot, change.is_smooth(contour, i))
        if self.hot is not None and self.hot.what == "segment" and self._down is None:
            self._draw_plus(painter, start, self.hot)
        if self._band is not None:
            painter.setPen(QPen(t.color("chalcedony"), 1.2))
            painter.setBrush(t.color("chalcedony", 50))
            painter.drawRect(self._band)

    def _draw_way(self, painter: QPainter, start: Start, contour: Contour) -> None:
        """An arrow at the first knot, the way the outline is drawn."""
        if not contour.segments:
            return
        a = self._spot(start, contour.knots[0])
        b = self._spot(start, contour.controls(0)[1] or contour.end_of(0))
        length = _apart(a, b)
        if length < 1.0:
            return
        way = (b - a) / length
        side = QPointF(-way.y(), way.x())
        tip = a + way * 20.0
        arrow = QPolygonF([tip, tip - way * 8.0 + side * 4.5, tip - way * 8.0 - side * 4.5])
        painter.setPen(QPen(QColor("#FFFFFF"), 1.2))
        painter.setBrush(theme().color("chrysoprase"))
        painter.drawPolygon(arrow)

    def _draw_knot(self, painter: QPainter, spot: QPointF, knot: Knot, smooth: bool) -> None:
        t = theme()
        hot = self.hot is not None and self.hot.what == "knot" and self.hot.knot == knot
        size = 5.0 if hot else 4.2
        painter.setPen(QPen(QColor("#FFFFFF") if knot in self.chosen else t.color("carnelian"), 1.6))
        painter.setBrush(t.color("carnelian") if knot in self.chosen else QColor("#FFFFFF"))
        if smooth:
            painter.drawEllipse(spot, size, size)
        else:
            painter.drawRect(QRectF(spot.x() - size, spot.y() - size, 2 * size, 2 * size))

    def _draw_plus(self, painter: QPainter, start: Start, grip: Grip) -> None:
        shape = self.shape
        if shape is None:
            return
        x, y = self._spot(start, edit.point_on(shape, grip.knot, grip.t)).toTuple()
        painter.setPen(QPen(QColor("#FFFFFF"), 1.4))
        painter.setBrush(theme().color("chrysoprase"))
        painter.drawEllipse(QPointF(x, y), 7, 7)
        painter.drawLine(QPointF(x - 3.5, y), QPointF(x + 3.5, y))
        painter.drawLine(QPointF(x, y - 3.5), QPointF(x, y + 3.5))


def _apart(a: QPointF, b: QPointF) -> float:
    return math.hypot(a.x() - b.x(), a.y() - b.y())
