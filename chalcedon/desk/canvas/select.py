"""Selecting, moving, and changing shapes by their handles."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen

from chalcedon.craft.arrange import move_by
from chalcedon.craft.hold import Start
from chalcedon.craft.together import box_around
from chalcedon.desk.canvas import boxhandles, overlay, spots
from chalcedon.desk.canvas.boxhold import BoxHold
from chalcedon.desk.canvas.bypoints import next_point
from chalcedon.desk.canvas.carried import Carried, waiting
from chalcedon.desk.canvas.editpoints import EDITABLE
from chalcedon.desk.canvas.gradienthandles import gradient_handles, gradient_of
from chalcedon.desk.canvas.handles import move_pivot, turn, turned_by
from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import DRAG, GRAB, TOUCH, Tool
from chalcedon.desk.canvas.typed import handle_at
from chalcedon.desk.looks.theme import theme
from chalcedon.evaluate.copies import Copy
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import is_empty
from chalcedon.scene import Shape, Text
from chalcedon.scene.axes import way
from chalcedon.scene.grips import Change, Handle
from chalcedon.scene.order import names_of
from chalcedon.scene.paints import plain_stops, resolve
from chalcedon.scene.shapes import ancestry
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas


class SelectTool(Tool):
    """Selects by click, moves, and drags handles."""

    hint = "Click selects · drag moves · Alt-click reaches what lies beneath · Shift-drag selects what is inside"

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self._down: Pointer | None = None
        self._last: Pointer | None = None
        self._hit: Shape | None = None
        self._copy: Copy = ()
        """Which copy of it was hit."""
        self._doing = ""
        self._moving: Carried | None = None
        self._from: Box | None = None
        """The box of the selection when its move began."""
        self._gesture: object = None
        self._moved = (0.0, 0.0)
        self._start: Start | None = None
        self._handle: Handle | None = None
        self._band: QRectF | None = None
        self.word = ""
        """What the drag comes to, shown beside the pointer."""
        self.hot: tuple[str, int] | None = None
        self.hold = BoxHold(canvas)

    @property
    def carried(self) -> Carried | None:
        """Many shapes that are moved, sized or turned, as a picture."""
        return self._moving or self.hold.carried

    # handles

    def handles(self) -> tuple[Start, list[Handle]] | None:
        """The handles of the one selected shape, as it stands now."""
        shape = self.session.current
        if shape is None or len(self.session.selection) != 1 or self.session.display.find(shape) is None:
            return None
        node = self.session.node(shape)
        if node.locked:
            return None
        if is_empty(node.bounds() if node.group else node.box):
            return None
        start = Start(node)
        if start.from_scene is None:
            return None
        focus = self.session.paint_focus
        if focus is not None and focus[0] is shape and (found := gradient_handles(start, focus[1])):
            return start, found
        return start, spots.with_room(start, start.handles(), self.canvas.view)

    def turn_stalk(self, start: Start) -> spots.Stalk:
        """The rotation handle."""
        return spots.turn_stalk(start, self.session.node(start.shape), self.canvas.view, self.canvas.area())

    def _grab(self, p: Pointer) -> tuple[str, int] | None:
        """The handle within reach: (kind, index)."""
        found = self.handles()
        if found is None:
            return None
        start, handles = found
        to_widget = self.canvas.view.to_widget
        places = [("handle", i, to_widget(*start.scene_of(h.raw))) for i, h in enumerate(handles)]
        places.append(("turn", 0, self.turn_stalk(start)[1:]))
        if (pivot := spots.pivot_spot(start, self.canvas.view)) is not None:
            places.append(("pivot", 0, pivot))
        near = min(places, key=lambda s: math.hypot(s[2][0] - p.x, s[2][1] - p.y))
        return (near[0], near[1]) if math.hypot(near[2][0] - p.x, near[2][1] - p.y) <= GRAB else None

    def _value_of(self, hot: tuple[str, int] | None) -> tuple[Shape, str] | None:
        """The property that a handle changes."""
        found = self.handles() if hot is not None else None
        if hot is None or found is None:
            return None
        start, handles = found
        if hot[0] != "handle":
            return start.shape, "steps" if hot[0] == "turn" else "pivot"
        handle = handles[hot[1]]
        return start.shape, next(iter(handle.drag(handle.raw, self.canvas.view.digits, False).values))

    def value_at(self, p: Pointer) -> tuple[Shape, str] | None:
        return self._value_of(self._grab(p))

    def refresh(self) -> None:
        if self._start is not None and self._start.shape.scene is not self.session.scene:
            self._reset()

    # pointer

    def press(self, p: Pointer) -> None:
        self._down, self._moved, self._gesture = p, (0.0, 0.0), object()
        self._last = None
        self.typed.clear()
        if not p.alt and (spot := self.hold.spot(p)) is not None:
            self._doing = self.hold.press(spot)
            return
        grabbed = self._grab(p) if not (p.alt or p.ctrl or p.shift) or self.hot else None
        if grabbed is not None and (found := self.handles()) is not None:
            self._start = found[0]
            self.canvas.snapping.begin([found[0].shape])
            self._doing = grabbed[0]
            self._handle = found[1][grabbed[1]] if grabbed[0] == "handle" else None
            return
        self._doing = "press"
        radius = TOUCH / self.canvas.view.zoom
        hits = self.session.tester.hit_test(p.sx, p.sy, unlocked=True, radius=radius, cuts=True)
        shapes = [h.shape for h in hits]
        self._copy = hits[0].copy if hits else ()
        if p.alt and shapes:
            self._hit = _beneath(shapes, self.session.selection)
            self._copy = next(h.copy for h in hits if h.shape is self._hit)
            self.session.select([self._hit], self._copy)
            return
        self._hit = shapes[0] if shapes else None
        if p.ctrl and self._hit is not None:
            self._hit, self._copy = _outermost_group(self._hit), ()
        if p.shift:
            return  # a click toggles, a drag draws the band: known at the release
        chosen = set(self.session.selection)
        if self._hit is not None and not any(g in chosen for g in ancestry(self._hit)):
            self.session.select([self._hit], self._copy)

    def move(self, p: Pointer, down: bool) -> None:
        if not down or self._down is None:
            hot = self.hold.spot(p) or self._grab(p)
            if hot != self.hot:
                self.hot = hot
                self.session.light_up(self._value_of(hot))
                self.canvas.update()
            self.canvas.setCursor(Qt.CursorShape.PointingHandCursor if hot else Qt.CursorShape.ArrowCursor)
            return
        far = math.hypot(p.x - self._down.x, p.y - self._down.y) >= DRAG
        self._last = p
        if self._doing == "press" and far:
            self._doing = "band" if self._down.shift or self._hit is None else "move"
        if self._doing == "move":
            self._move_selection(p)
        elif self._doing == "band":
            self._band = QRectF(QPointF(self._down.x, self._down.y), QPointF(p.x, p.y)).normalized()
            self.canvas.update()
        elif self._doing.startswith("box ") and (far or self.word):
            self._drag_box(p)
        elif self._doing in ("handle", "turn", "pivot") and self._start is not None and (far or self.word):
            self._drag_handle(p)

    @property
    def dragging(self) -> bool:
        return self._doing in ("move", "handle", "turn", "box size", "box turn")

    @property
    def held(self) -> bool:
        return self._doing not in ("", "press")

    def key(self, event: QKeyEvent) -> bool:
        """A number typed during a drag; Enter ends it there."""
        if not self.dragging or self._last is None:
            return False
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.release(self._last)
        elif self.typed.take(event):
            drag = {"move": self._move_selection, "box size": self._drag_box, "box turn": self._drag_box}
            drag.get(self._doing, self._drag_handle)(self._last)
            self.canvas.update()
        else:
            return False
        return True

    def _moved_to(self, p: Pointer) -> tuple[float, float]:
        """How far the selection is moved: by the pointer, and on to what it snaps to."""
        assert self._down is not None
        digits, snapping = self.canvas.view.digits, self.canvas.snapping
        dx, dy = p.sx - self._down.sx, p.sy - self._down.sy
        if p.shift:
            dx, dy = (dx, 0.0) if abs(dx) > abs(dy) else (0.0, dy)
        if self._from is None:
            nodes = [n for s in self.session.selection if (n := self.session.display.find(s)) is not None]
            self._from = box_around(nodes)
            self._moving = Carried(self.canvas, nodes) if Carried.are_many(nodes) else None
            snapping.begin(self.session.selection)
        if is_empty(self._from):
            return tidy(dx, digits), tidy(dy, digits)
        left, top, right, bottom = self._from
        (ox, oy), snapped = snapping.box((left + dx, top + dy, right + dx, bottom + dy), p)
        x = tidy(dx + ox, EXACT) if snapped[0] and not (p.shift and dx == 0) else tidy(dx, digits)
        y = tidy(dy + oy, EXACT) if snapped[1] and not (p.shift and dy == 0) else tidy(dy, digits)
        return x, y

    def _move_selection(self, p: Pointer) -> None:
        assert self._down is not None
        total = self._moved_to(p)
        dx, dy = total
        if numbers := self.typed.numbers:
            typed = way(self.session.scene, *numbers[:2]) if len(numbers) > 1 else None
            total = typed or next_point((0.0, 0.0), (dx, dy), numbers)
        step = total[0] - self._moved[0], total[1] - self._moved[1]
        if step == (0, 0):
            self.word = self.typed.word() if self.typed.text else self.word
            return
        self._moved = total
        if self._moving is not None:
            self._moving.way = Affine.translate(*total)
            self.word = self.typed.word() if self.typed.text else self._told(total)
            self.canvas.update()
            return
        with self.session.step(f"Move {names_of(self.session.selection)}", self._gesture):
            move_by(self.session.display, self.session.selection, *step, self._gesture)
        if self.session.repeat_offset is not None:
            ox, oy = self.session.repeat_offset
            self.session.repeat_offset = ox + step[0], oy + step[1]
        self.word = self.typed.word() if self.typed.text else self._told(total)

    def _told(self, total: tuple[float, float]) -> str:
        dx, dy = way(self.session.scene, *total)
        return f"{dx:+g}, {dy:+g}"

    def _put_down(self, dx: float, dy: float) -> None:
        """Moves what was carried as a picture."""
        with waiting(), self.session.step(f"Move {names_of(self.session.selection)}", self._gesture):
            move_by(self.session.display, self.session.selection, dx, dy, self._gesture)

    def _drag_box(self, p: Pointer) -> None:
        assert self._down is not None
        self.word = self.hold.drag(self._down, p, self.typed.numbers, self._gesture)
        if self.typed.text:
            self.word = self.typed.word()

    def _drag_handle(self, p: Pointer) -> None:
        start = self._start
        assert start is not None and self._down is not None
        shape = start.shape
        numbers = self.typed.numbers
        if self._doing == "handle" and self._handle is not None and not p.shift and not numbers:
            p = self._snap_handle(start, self._handle, p)
        raw = start.raw_of(p.sx, p.sy)
        if raw is None:
            return
        if self._doing == "handle" and self._handle is not None:
            left, top, right, bottom = start.box
            if numbers:
                raw = handle_at(self._handle, (right - left, bottom - top), numbers, raw)
            digits = EXACT if numbers or p.snapped else self.canvas.view.digits
            change = self._handle.drag(raw, digits, p.shift and not numbers)
            verb = f"Change {_what(change)} of {shape.id}"
        elif self._doing == "turn":
            back = start.parent.inverse()
            if back is None:
                return
            grabbed, now = back.map(self._down.sx, self._down.sy), back.map(p.sx, p.sy)
            if numbers:
                grabbed, now = turned_by(start, numbers[0])
            change = turn(start, grabbed, now, p.shift and not numbers)
            verb = f"Rotate {shape.id}"
        else:
            change = move_pivot(start, raw)
            verb = f"Move the pivot of {shape.id}"
        self.word = self.typed.word() if self.typed.text else change.word
        with self.session.step(verb, self._gesture):
            for name, value in start.settle(change).items():
                shape.assign(name, value)

    def step_handle(self, index: int, dx: float, dy: float) -> None:
        """Moves a handle of the selected shape by scene px, without a pointer. Steps on end are one undo step."""
        found = self.handles()
        if found is None or index >= len(found[1]):
            return
        start, handles = found
        x, y = start.scene_of(handles[index].raw)
        raw = start.raw_of(x + dx, y + dy)
        if raw is None:
            return
        change = handles[index].drag(raw, EXACT, False)
        with self.session.step(f"Change {_what(change)} of {start.shape.id}", ("step", id(start.shape), index)):
            for name, value in start.settle(change).items():
                start.shape.assign(name, value)

    def _snap_handle(self, start: Start, handle: Handle, p: Pointer) -> Pointer:
        """The pointer where a handle of a shape snaps to: a size counts from the opposite side, a radius from the
        centre."""
        left, top, right, bottom = start.box
        fixed: tuple[float, float] | None = None
        radial = handle.role == "radius" and start.shape.kind == "circle"
        if handle.role in ("size", "edge"):
            fixed = start.scene_of((left + right - handle.raw[0], top + bottom - handle.raw[1]))
        elif radial:
            fixed = start.scene_of((0.0, 0.0))
        return self.canvas.snapping.point(p, fixed, radial)

    def release(self, p: Pointer) -> None:
        down, doing, moving = self._down, self._doing, self._moving
        if doing.startswith("box "):
            self.hold.put_down(self._gesture)
        self._reset()
        if down is None:
            return
        if moving is not None and moving.way != Affine():
            self._put_down(moving.way.e, moving.way.f)
        if doing == "press" and not down.alt:
            if down.shift:
                if self._hit is not None:
                    self.session.toggle(self._hit)
            elif self._hit is not None:
                self.session.select([self._hit], self._copy)
            else:
                self.session.select([])
                under = self.session.tester.hit_test(p.sx, p.sy, first=True)
                if under:
                    self.session.say(f"{under[0].id} is locked, so it isn't picked here. Its row can be clicked.")
        elif doing == "band":
            box = (min(down.sx, p.sx), min(down.sy, p.sy), max(down.sx, p.sx), max(down.sy, p.sy))
            inside = self.session.tester.inside(box, unlocked=True)
            self.session.select([*self.session.selection, *inside] if down.shift else inside)
        self.session.end_gesture()
        self.canvas.update()

    def double(self, p: Pointer) -> None:
        """A double click opens what a text says and the points of a line or path; else it goes one group outward."""
        current = self.session.current
        if isinstance(current, Text):
            self.canvas.write(current)
            return
        if isinstance(current, EDITABLE):
            self.canvas.edit_points(current)
            return
        if current is not None and current.parent is not None and current.parent.parent is not None:
            self.session.select([current.parent])

    def _reset(self) -> None:
        self._down = self._start = self._handle = self._band = self._from = self._moving = None
        self.hold.drop()
        self._doing = self.word = ""
        self.typed.clear()

    def cancel(self) -> bool:
        doing, gesture = self._doing, self._gesture
        self._reset()
        self.canvas.update()
        if doing and doing != "press":
            self.session.take_back(gesture)
            return True
        return False

    def _shown(self) -> tuple[Start, list[Handle]] | None:
        """The handles that are drawn now: none while shapes are moved or chosen by a band."""
        return self.handles() if self._doing in ("", "press", "handle", "turn", "pivot") else None

    def spots(self) -> list[tuple[float, float]]:
        found = self._shown()
        if self._doing not in ("move", "band") and not is_empty(self.hold.box):
            return [(x + far, y) for _, (x, y) in self.hold.spots() for far in (-100, 100)]
        if found is None:
            return []
        start, handles = found
        return [self.canvas.view.to_widget(*start.scene_of(h.raw)) for h in handles]

    def draw(self, painter: QPainter) -> None:
        t = theme()
        found = self._shown()
        if found is not None:
            start, handles = found
            to_widget = self.canvas.view.to_widget
            if (pivot := spots.pivot_spot(start, self.canvas.view)) is not None:
                overlay.draw_pivot(painter, *pivot, self.hot == ("pivot", 0))
            if start.shape.kind != "line":
                foot, tx, ty = self.turn_stalk(start)
                painter.setPen(QPen(t.color("carnelian", 150), 1))
                painter.drawLine(QPointF(*foot), QPointF(tx, ty))
                overlay.draw_turn(painter, tx, ty, self.hot == ("turn", 0))
            for h in handles:
                if h.tether is not None:
                    painter.setPen(QPen(t.color("carnelian", 170), 1))
                    a, b = to_widget(*start.scene_of(h.tether)), to_widget(*start.scene_of(h.raw))
                    painter.drawLine(QPointF(*a), QPointF(*b))
            for i, h in enumerate(handles[:400]):
                x, y = to_widget(*start.scene_of(h.raw))
                if h.role.startswith("stop "):
                    self._draw_stop(painter, start, x, y, int(h.role[5:]), self.hot == ("handle", i))
                else:
                    overlay.draw_handle(painter, x, y, h.role, self.hot == ("handle", i))
        if not is_empty(self.hold.box) and self._doing not in ("move", "band"):
            box, carried = self.hold.box, self.hold.carried
            if carried is not None and self._doing == "box turn":
                return
            box = box if carried is None else carried.way.map_box(box)
            placed = self.hold.spots(box)
            boxhandles.draw(painter, box, self.canvas.view, placed, self.hot, self.session.strokes_grow)
        if self._band is not None:
            painter.setPen(QPen(t.color("chalcedony"), 1.2))
            painter.setBrush(t.color("chalcedony", 50))
            painter.drawRect(self._band)

    def _draw_stop(self, painter: QPainter, start: Start, x: float, y: float, index: int, hot: bool) -> None:
        """A stop of the gradient in focus: a disc of its colour."""
        focus = self.session.paint_focus
        gradient = gradient_of(start, focus[1]) if focus is not None else None
        if gradient is None or index >= len(gradient.stops):
            return
        color = resolve(plain_stops(gradient)[index][1], dict(self.session.scene.palette)) or (0, 0, 0, 0)
        for pen in (QPen(QColor("#FFFFFF"), 4), QPen(theme().color("carnelian" if hot else "ink"), 1.6)):
            painter.setPen(pen)
            painter.setBrush(QColor(*color))
            painter.drawEllipse(QPointF(x, y), 6.5, 6.5)


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
