"""What the pointer does on the canvas: select and change, or make a new shape."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPen, QPolygonF

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.handles import Handle, handles_of, move_pivot, pivot_point, turn
from chalcedon.desk.theme import theme
from chalcedon.evaluate.arrange import move_by
from chalcedon.evaluate.hold import Change, Start
from chalcedon.evaluate.tidy import tidy
from chalcedon.scene import KINDS, Group, Shape
from chalcedon.scene.order import names_of
from chalcedon.scene.shapes import ancestry

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

DRAG = 3.0
"""Widget px that the pointer must travel before a press is a drag."""
GRAB = 8.0
"""Widget px within which a handle is taken hold of."""
TOUCH = 4.0
"""Widget px within which the nearest shape is picked when nothing is hit."""


@dataclass(frozen=True, slots=True)
class Pointer:
    """A pointer event: widget px, scene px, and the modifiers."""

    x: float
    y: float
    sx: float
    sy: float
    shift: bool = False
    ctrl: bool = False
    alt: bool = False


class Tool:
    """The protocol of a tool. `hint` says what a click does next."""

    hint = ""
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas
        self.session = canvas.session

    def press(self, p: Pointer) -> None: ...
    def move(self, p: Pointer, down: bool) -> None: ...
    def release(self, p: Pointer) -> None: ...
    def double(self, p: Pointer) -> None: ...
    def key(self, event: QKeyEvent) -> bool:
        return False

    def cancel(self) -> bool:
        """Takes back what is half done; False when there was nothing."""
        return False

    def leave(self) -> None:
        """Another tool is chosen."""

    def draw(self, painter: QPainter) -> None: ...


class SelectTool(Tool):
    """Selects by click, moves, and drags handles."""

    hint = "Click selects · drag moves · Alt-click reaches what lies beneath · Shift-drag selects what is inside"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self._down: Pointer | None = None
        self._hit: Shape | None = None
        self._doing = ""
        self._gesture: object = None
        self._moved = (0.0, 0.0)
        self._start: Start | None = None
        self._handle: Handle | None = None
        self._band: QRectF | None = None
        self.word = ""
        """What the drag comes to, shown beside the pointer."""
        self.hot: tuple[str, int] | None = None

    # handles

    def handles(self) -> tuple[Start, list[Handle]] | None:
        """The handles of the one selected shape, as it stands now."""
        shape = self.session.current
        if shape is None or len(self.session.selection) != 1 or shape.locked or self.session.display.find(shape) is None:
            return None
        node = self.session.node(shape)
        if node.box[0] > node.box[2] and not node.group:
            return None
        start = Start(node)
        return (start, handles_of(start)) if start.from_scene is not None else None

    def turn_spot(self, start: Start) -> tuple[float, float]:
        """Where the rotation handle stands, in widget px: above the shape's own top."""
        node = self.session.node(start.shape)
        left, top, right, bottom = node.bounds() if node.group else start.box
        raw = ((left + right) / 2, top)
        to_widget = self.canvas.view.to_widget
        if node.group:
            x, y = to_widget(*raw)
            return x, y - 28
        x, y = to_widget(*start.scene_of(raw))
        cx, cy = to_widget(*start.scene_of(((left + right) / 2, (top + bottom) / 2)))
        length = math.hypot(x - cx, y - cy)
        if length < 1e-6:
            return x, y - 28
        return x + (x - cx) / length * 28, y + (y - cy) / length * 28

    def _grab(self, p: Pointer) -> tuple[str, int] | None:
        """The handle within reach: (kind, index)."""
        found = self.handles()
        if found is None:
            return None
        start, handles = found
        to_widget = self.canvas.view.to_widget
        spots = [("handle", i, to_widget(*start.scene_of(h.raw))) for i, h in enumerate(handles)]
        spots.append(("turn", 0, self.turn_spot(start)))
        if start.steps:
            spots.append(("pivot", 0, to_widget(*start.scene_of(pivot_point(start)))))
        near = min(spots, key=lambda s: math.hypot(s[2][0] - p.x, s[2][1] - p.y))
        return (near[0], near[1]) if math.hypot(near[2][0] - p.x, near[2][1] - p.y) <= GRAB else None

    # pointer

    def press(self, p: Pointer) -> None:
        self._down, self._moved, self._gesture = p, (0.0, 0.0), object()
        grabbed = self._grab(p) if not (p.alt or p.ctrl or p.shift) or self.hot else None
        if grabbed is not None and (found := self.handles()) is not None:
            self._start = found[0]
            self._doing = grabbed[0]
            self._handle = found[1][grabbed[1]] if grabbed[0] == "handle" else None
            return
        self._doing = "press"
        radius = TOUCH / self.canvas.view.zoom
        hits = self.session.tester.hit_test(p.sx, p.sy, unlocked=True, radius=radius)
        shapes = [h.shape for h in hits]
        if p.alt and shapes:
            self._hit = _beneath(shapes, self.session.selection)
            self.session.select([self._hit])
            return
        self._hit = shapes[0] if shapes else None
        if p.ctrl and self._hit is not None:
            self._hit = _outermost_group(self._hit)
        if p.shift:
            return  # a click toggles, a drag draws the band: known at the release
        chosen = set(self.session.selection)
        if self._hit is not None and not any(g in chosen for g in ancestry(self._hit)):
            self.session.select([self._hit])

    def move(self, p: Pointer, down: bool) -> None:
        if not down or self._down is None:
            hot = self._grab(p)
            if hot != self.hot:
                self.hot = hot
                self.canvas.update()
            self.canvas.setCursor(Qt.CursorShape.PointingHandCursor if hot else Qt.CursorShape.ArrowCursor)
            return
        far = math.hypot(p.x - self._down.x, p.y - self._down.y) >= DRAG
        if self._doing == "press" and far:
            self._doing = "band" if self._down.shift or self._hit is None else "move"
        if self._doing == "move":
            self._move_selection(p)
        elif self._doing == "band":
            self._band = QRectF(QPointF(self._down.x, self._down.y), QPointF(p.x, p.y)).normalized()
            self.canvas.update()
        elif self._doing in ("handle", "turn", "pivot") and (far or self.word):
            self._drag_handle(p)

    def _move_selection(self, p: Pointer) -> None:
        assert self._down is not None
        digits = self.canvas.view.digits
        dx, dy = p.sx - self._down.sx, p.sy - self._down.sy
        if p.shift:
            dx, dy = (dx, 0.0) if abs(dx) > abs(dy) else (0.0, dy)
        total = tidy(dx, digits), tidy(dy, digits)
        step = total[0] - self._moved[0], total[1] - self._moved[1]
        if step == (0, 0):
            return
        self._moved = total
        with self.session.step(f"Move {names_of(self.session.selection)}", self._gesture):
            move_by(self.session.display, self.session.selection, *step, self._gesture)
        if self.session.repeat_offset is not None:
            ox, oy = self.session.repeat_offset
            self.session.repeat_offset = ox + step[0], oy + step[1]
        self.word = f"{total[0]:+g}, {total[1]:+g}"

    def _drag_handle(self, p: Pointer) -> None:
        start = self._start
        assert start is not None and self._down is not None
        shape = start.shape
        raw = start.raw_of(p.sx, p.sy)
        if raw is None:
            return
        if self._doing == "handle" and self._handle is not None:
            change = self._handle.drag(raw, self.canvas.view.digits, p.shift)
            verb = f"Change {_what(change)} of {shape.id}"
        elif self._doing == "turn":
            back = start.parent.inverse()
            if back is None:
                return
            change = turn(start, back.map(self._down.sx, self._down.sy), back.map(p.sx, p.sy), p.shift)
            verb = f"Rotate {shape.id}"
        else:
            change = move_pivot(start, raw)
            verb = f"Move the pivot of {shape.id}"
        self.word = change.word
        with self.session.step(verb, self._gesture):
            for name, value in start.settle(change).items():
                shape.assign(name, value)

    def release(self, p: Pointer) -> None:
        down, doing = self._down, self._doing
        self._reset()
        if down is None:
            return
        if doing == "press" and not down.alt:
            if down.shift:
                if self._hit is not None:
                    self.session.toggle(self._hit)
            elif self._hit is not None:
                self.session.select([self._hit])
            else:
                self.session.select([])
        elif doing == "band":
            box = (min(down.sx, p.sx), min(down.sy, p.sy), max(down.sx, p.sx), max(down.sy, p.sy))
            inside = self.session.tester.inside(box, unlocked=True)
            self.session.select([*self.session.selection, *inside] if down.shift else inside)
        self.session.end_gesture()
        self.canvas.update()

    def double(self, p: Pointer) -> None:
        """A double click goes one group outward."""
        current = self.session.current
        if current is not None and current.parent is not None and current.parent.parent is not None:
            self.session.select([current.parent])

    def _reset(self) -> None:
        self._down = self._start = self._handle = self._band = None
        self._doing = self.word = ""

    def cancel(self) -> bool:
        doing, gesture = self._doing, self._gesture
        self._reset()
        self.canvas.update()
        if doing and doing != "press":
            history = self.session.scene.history
            if history.done and history.done[-1].gesture is gesture:
                self.session.scene.undo()
                history.undone.pop()
                self.session.flush()
            return True
        return False

    def draw(self, painter: QPainter) -> None:
        t = theme()
        found = self.handles() if self._doing in ("", "press", "handle", "turn", "pivot") else None
        if found is not None:
            start, handles = found
            to_widget = self.canvas.view.to_widget
            tx, ty = self.turn_spot(start)
            if start.steps:
                overlay.draw_pivot(painter, *to_widget(*start.scene_of(pivot_point(start))), self.hot == ("pivot", 0))
            if not start.shape.kind == "line":
                node = self.session.node(start.shape)
                left, top, right, bottom = node.bounds() if node.group else start.box
                foot = to_widget((left + right) / 2, top) if node.group else \
                    to_widget(*start.scene_of(((left + right) / 2, top)))
                painter.setPen(QPen(t.color("carnelian", 150), 1))
                painter.drawLine(QPointF(*foot), QPointF(tx, ty))
                overlay.draw_handle(painter, tx, ty, "turn", self.hot == ("turn", 0))
                painter.setPen(QPen(t.color("carnelian"), 1.2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawArc(QRectF(tx - 8, ty - 8, 16, 16), 30 * 16, 120 * 16)
            for i, h in enumerate(handles[:400]):
                overlay.draw_handle(painter, *to_widget(*start.scene_of(h.raw)), h.role, self.hot == ("handle", i))
        if self._band is not None:
            painter.setPen(QPen(t.color("chalcedony"), 1.2))
            painter.setBrush(t.color("chalcedony", 50))
            painter.drawRect(self._band)


def _what(change: Change) -> str:
    return next(iter(change.values)).replace("_", " ")


def _beneath(shapes: list[Shape], selection: list[Shape]) -> Shape:
    """The shape beneath the selected one at this place; the front one when none is selected or it is the last."""
    for i, shape in enumerate(shapes):
        if shape in selection:
            return shapes[(i + 1) % len(shapes)]
    return shapes[0]


def _outermost_group(shape: Shape) -> Shape:
    while shape.parent is not None and shape.parent.parent is not None:
        shape = shape.parent
    return shape


class MakeTool(Tool):
    """Makes one shape by pressing and dragging; a mere click makes one of the usual size."""

    cursor = Qt.CursorShape.CrossCursor
    HINTS = {"line": "Press where it starts, drag to its end · Shift holds to 15°",
             "rect": "Press at one corner, drag to the other · Shift makes a square · Ctrl from the centre",
             "circle": "Press at the centre, drag to the edge",
             "ellipse": "Press at the centre, drag to a corner of its box · Shift makes it round"}

    def __init__(self, canvas: Canvas, kind: str) -> None:
        super().__init__(canvas)
        self.kind = kind
        self.hint = self.HINTS[kind] + " · Esc selects again"
        self._down: Pointer | None = None
        self._shape: Shape | None = None
        self._gesture: object = None
        self.word = ""

    def _local(self, p: Pointer, group: Group) -> tuple[float, float]:
        back = self.session.node(group).world.inverse()
        x, y = back.map(p.sx, p.sy) if back is not None else (p.sx, p.sy)
        digits = self.canvas.view.digits
        return tidy(x, digits), tidy(y, digits)

    def press(self, p: Pointer) -> None:
        self._down, self._gesture, self._shape = p, object(), None

    def move(self, p: Pointer, down: bool) -> None:
        if self._down is None or not down:
            return
        if self._shape is None and math.hypot(p.x - self._down.x, p.y - self._down.y) < DRAG:
            return
        group = self.canvas.target_group()
        a, b = self._local(self._down, group), self._local(p, group)
        values, self.word = self._values(a, b, p)
        if self._shape is None:
            self._shape = self._new(values)
            self.canvas.session.scene.history.done[-1].gesture = self._gesture
            return
        with self.session.step(f"Add {self._shape.id}", self._gesture):
            for name, value in values.items():
                self._shape.assign(name, value)

    def _values(self, a: tuple[float, float], b: tuple[float, float], p: Pointer) -> tuple[dict[str, object], str]:
        dx, dy = tidy(b[0] - a[0]), tidy(b[1] - a[1])
        if self.kind == "line":
            if p.shift:
                length = math.hypot(dx, dy)
                angle = math.radians(round(math.degrees(math.atan2(dy, dx)) / 15) * 15)
                dx, dy = tidy(length * math.cos(angle), 2), tidy(length * math.sin(angle), 2)
            return {"at": a, "to": (dx, dy)}, f"to {dx:g}, {dy:g}"
        if self.kind == "circle":
            radius = tidy(math.hypot(dx, dy), self.canvas.view.digits)
            return {"at": a, "radius": radius}, f"radius {radius:g}"
        w, h = abs(dx), abs(dy)
        if p.shift:
            w = h = max(w, h)
        if self.kind == "ellipse":
            return {"at": a, "radii": (w, h)}, f"radii {w:g}, {h:g}"
        if p.ctrl:
            return {"at": (tidy(a[0] - w), tidy(a[1] - h)), "size": (2 * w, 2 * h)}, f"size {2 * w:g} × {2 * h:g}"
        corner = a[0] - (w if dx < 0 else 0), a[1] - (h if dy < 0 else 0)
        return {"at": (tidy(corner[0]), tidy(corner[1])), "size": (w, h)}, f"size {w:g} × {h:g}"

    def _new(self, values: dict[str, object]) -> Shape:
        shape = KINDS[self.kind](**values)
        self.session.dress(shape)
        group = self.canvas.target_group()
        self.session.add(shape, group, len(group.children))
        return shape

    def release(self, p: Pointer) -> None:
        if self._down is None:
            return
        if self._shape is None:
            a = self._local(self._down, self.canvas.target_group())
            self._new({"at": a})
        self._down = self._shape = None
        self.word = ""
        self.session.end_gesture()
        self.canvas.made()

    def cancel(self) -> bool:
        if self._down is None:
            return False
        if self._shape is not None:
            self.session.scene.undo()
            self.session.scene.history.undone.pop()
            self.session.flush()
        self._down = self._shape = None
        self.word = ""
        return True

    def leave(self) -> None:
        self.cancel()


class PolylineTool(Tool):
    """A click a point. The closing segment is shown, so that it's plain what Enter would do."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.points: list[tuple[float, float]] = []  # scene px
        self._now: tuple[float, float] | None = None
        self.word = ""

    @property
    def hint(self) -> str:  # type: ignore[override]
        if not self.points:
            return "Click where it starts · Esc selects again"
        if len(self.points) < 3:
            return "Click adds a point · Backspace takes the last back · Esc ends it here"
        return "Click adds a point · click the first point or Enter closes · Backspace takes the last back · Esc ends it open"

    def press(self, p: Pointer) -> None:
        digits = self.canvas.view.digits
        if len(self.points) >= 3 and self._near_first(p):
            self._finish(closed=True)
            return
        point = tidy(p.sx, digits), tidy(p.sy, digits)
        if p.shift and self.points:
            point = _held_to(self.points[-1], point)
        if not self.points or point != self.points[-1]:
            self.points.append(point)
        self._now = point
        self.canvas.tool_changed()

    def _near_first(self, p: Pointer) -> bool:
        x, y = self.canvas.view.to_widget(*self.points[0])
        return math.hypot(p.x - x, p.y - y) <= GRAB

    def move(self, p: Pointer, down: bool) -> None:
        point = p.sx, p.sy
        self._now = _held_to(self.points[-1], point) if p.shift and self.points else point
        if self.points:
            dx, dy = self._now[0] - self.points[-1][0], self._now[1] - self.points[-1][1]
            closes = len(self.points) >= 3 and self._near_first(p)
            self.word = "closes" if closes else f"{tidy(dx, self.canvas.view.digits):+g}, {tidy(dy, self.canvas.view.digits):+g}"
            self.canvas.update()

    def key(self, event: QKeyEvent) -> bool:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._finish(closed=len(self.points) >= 3 and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        elif event.key() in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and self.points:
            self.points.pop()
            self.canvas.tool_changed()
        else:
            return False
        return True

    def cancel(self) -> bool:
        if not self.points:
            return False
        self._finish(closed=False)
        return True

    def leave(self) -> None:
        if self.points:
            self._finish(closed=False, stay=True)

    def _finish(self, closed: bool, stay: bool = False) -> None:
        points, self.points, self.word = self.points, [], ""
        if len(points) >= 2:
            group = self.canvas.target_group()
            back = self.session.node(group).world.inverse()
            local = [tuple(tidy(v, 3) for v in back.map(*q)) for q in points] if back is not None else points
            ox, oy = local[0]
            shape = KINDS["polyline"](at=(ox, oy), points=[(tidy(x - ox), tidy(y - oy)) for x, y in local], closed=closed)
            self.session.dress(shape)
            self.session.add(shape, group, len(group.children))
        elif points:
            self.session.say("A polyline needs two points; one click was not enough to keep.")
        if not stay:
            self.canvas.made()

    def draw(self, painter: QPainter) -> None:
        if not self.points:
            return
        t = theme()
        spots = [QPointF(*self.canvas.view.to_widget(*p)) for p in self.points]
        now = QPointF(*self.canvas.view.to_widget(*self._now)) if self._now is not None else spots[-1]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for pen in (QPen(t.color("panel", 210), 3.4), QPen(t.color("carnelian"), 1.6)):
            painter.setPen(pen)
            painter.drawPolyline(QPolygonF([*spots, now]))
        if len(spots) >= 2:
            dashed = QPen(t.color("carnelian"), 1.2)
            dashed.setDashPattern([3, 4])
            painter.setPen(dashed)
            painter.drawLine(now, spots[0])
        for i, spot in enumerate(spots):
            overlay.draw_handle(painter, spot.x(), spot.y(), "point", i == 0 and len(spots) >= 3)


def _held_to(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    """`b` turned about `a` to the nearest multiple of 15 degrees."""
    length = math.hypot(b[0] - a[0], b[1] - a[1])
    angle = math.radians(round(math.degrees(math.atan2(b[1] - a[1], b[0] - a[0])) / 15) * 15)
    return tidy(a[0] + length * math.cos(angle), 2), tidy(a[1] + length * math.sin(angle), 2)
