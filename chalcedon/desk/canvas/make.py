"""Making shapes by hand: by a drag, or by a click a point."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPen, QPolygonF

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.bypoints import ByPoints, held_to
from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import DRAG, Tool
from chalcedon.desk.canvas.typed import end_of
from chalcedon.desk.looks.theme import theme
from chalcedon.problems import ChalcedonError
from chalcedon.scene import KINDS, Group, Shape
from chalcedon.scene.axes import is_up
from chalcedon.scene.grips import held_direction, rounded_point
from chalcedon.scene.roles import usual
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas


class MakeTool(Tool):
    """Makes one shape by pressing and dragging; a mere click makes one of the usual size."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, canvas: Canvas, kind: str) -> None:
        super().__init__(canvas)
        self.kind = kind
        self.hint = self.into() + KINDS[kind].hint + " · Esc selects again"
        self._down: Pointer | None = None
        self._shape: Shape | None = None
        self._last: Pointer | None = None
        self._gesture: object = None
        self._group: Group = canvas.target_group()  # where the press was made for; making a shape selects it
        self.word = ""

    def _local(self, p: Pointer) -> tuple[float, float]:
        node = self.session.display.find(self._group)
        back = node.world.inverse() if node is not None else None
        x, y = back.map(p.sx, p.sy) if back is not None else (p.sx, p.sy)
        digits = EXACT if p.snapped else self.canvas.view.digits
        return tidy(x, digits), tidy(y, digits)

    @property
    def held(self) -> bool:
        return self._down is not None

    @property
    def dragging(self) -> bool:
        return self._down is not None

    def key(self, event: QKeyEvent) -> bool:
        """A number typed during the drag; Enter ends it there."""
        if self._down is None:
            return False
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.release(self._last or self._down)
            return True
        if not self.typed.take(event):
            return False
        self._follow(self._last or self._down)
        return True

    def press(self, p: Pointer) -> None:
        self.canvas.snapping.begin()
        self._down, self._gesture, self._shape = self.canvas.snapping.point(p), object(), None
        self._last = None
        self.typed.clear()
        self._group = self.canvas.target_group()

    def move(self, p: Pointer, down: bool) -> None:
        if self._down is None or not down:
            self._show_snap(p)
            return
        if self._shape is None and math.hypot(p.x - self._down.x, p.y - self._down.y) < DRAG:
            return
        if not p.shift:
            radial = KINDS[self.kind].made_by == "centre"
            p = self.canvas.snapping.point(p, self._first(), radial)
        self._last = p
        self._follow(p)

    def _first(self) -> tuple[float, float]:
        """Where the press was, in scene px, as it is taken."""
        assert self._down is not None
        node = self.session.display.find(self._group)
        at = self._local(self._down)
        return node.world.map(*at) if node is not None else at

    def _show_snap(self, p: Pointer) -> None:
        """Shows where a press would snap to."""
        before = self.canvas.snapping.marks
        self.canvas.snapping.point(p)
        if before or self.canvas.snapping.marks:
            self.canvas.update()

    def _follow(self, p: Pointer) -> None:
        """Gives the shape the size that the pointer, or what was typed, says."""
        assert self._down is not None
        a, b = self._local(self._down), self._local(p)
        numbers = self.typed.numbers
        if numbers:
            b = end_of(KINDS[self.kind].made_by, a, b, numbers, p.ctrl)
            p = replace(p, shift=False, snapped=True)
        values, self.word = self._values(a, b, p)
        if self.typed.text:
            self.word = self.typed.word()
        if self._shape is None:
            self._shape = self._new(values)
            if self._shape is not None:
                self.session.scene.history.done[-1].gesture = self._gesture
            return
        with self.session.step(f"Add {self._shape.id}", self._gesture):
            for name, value in values.items():
                self._shape.assign(name, value)

    def _values(self, a: tuple[float, float], b: tuple[float, float], p: Pointer) -> tuple[dict[str, Any], str]:
        dx, dy = tidy(b[0] - a[0]), tidy(b[1] - a[1])
        made_by = KINDS[self.kind].made_by
        if made_by == "end":
            if p.shift:
                dx, dy = rounded_point(held_direction((dx, dy), True), 2)
            return {"at": a, "to": (dx, dy)}, f"to {dx:g}, {dy:g}"
        if made_by == "centre":
            radius = tidy(math.hypot(dx, dy), EXACT if p.snapped else self.canvas.view.digits)
            way = round(math.degrees(math.atan2(dy, dx)))
            drawn = KINDS[self.kind]().drawn(radius, round(way / 15) * 15 if p.shift else way)
            return {"at": a, **drawn}, f"radius {radius:g}"
        if made_by == "column":
            width = tidy(max(abs(dx), 1.0), self.canvas.view.digits)
            return {"at": (min(a[0], b[0]), self._top(a[1], b[1])), "width": width}, f"wraps at {width:g}"
        w, h = abs(dx), abs(dy)
        if p.shift:
            w = h = max(w, h)
        if made_by == "radii":
            return {"at": a, "radii": (w, h)}, f"radii {w:g}, {h:g}"
        if p.ctrl:
            top = self._top(a[1] - h, a[1] + h)
            return {"at": (tidy(a[0] - w), tidy(top)), "size": (2 * w, 2 * h)}, f"size {2 * w:g} × {2 * h:g}"
        top = self._top(a[1], a[1] + (h if dy > 0 else -h)) if dy else a[1]
        return {"at": (tidy(a[0] - (w if dx < 0 else 0)), tidy(top)), "size": (w, h)}, f"size {w:g} × {h:g}"

    def _top(self, *ys: float) -> float:
        """Of places on the y axis the one that is highest up on the page."""
        return max(ys) if is_up(self.session.scene) else min(ys)

    def refresh(self) -> None:
        scene = self.session.scene
        if self._down is not None and (
            self._group.scene is not scene or (self._shape is not None and self._shape.scene is not scene)
        ):
            self._down = self._shape = None
            self.word = ""

    def _new(self, values: dict[str, Any]) -> Shape | None:
        """The shape, added to the scene; None when it was refused, which has been said."""
        if self._group.scene is not self.session.scene:
            self._group = self.canvas.target_group()
        try:
            kind = KINDS[self.kind]
            shape = kind(**{**usual(kind, is_up(self.session.scene)), **values})
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return None
        self.session.dress(shape)
        self.session.add(shape, self._group, len(self._group._children))
        return shape if shape.scene is not None else None

    def release(self, p: Pointer) -> None:
        if self._down is None:
            return
        if self._shape is None:
            a = self._local(self._down)
            self._shape = self._new({"at": a})
        made = self._shape
        self._down = self._shape = None
        self.word = ""
        self.session.end_gesture()
        self.canvas.made()
        if made is None:
            return
        if self.kind == "text":
            self.session.edit_words.emit(made)
        elif self.kind == "image":
            self.session.choose_image.emit(made)

    def cancel(self) -> bool:
        if self._down is None:
            return False
        if self._shape is not None:
            self.session.take_back(self._gesture)
        self._down = self._shape = None
        self.word = ""
        return True

    def leave(self) -> None:
        self.cancel()


class PolylineTool(ByPoints):
    """A click a point. The closing segment is shown, so that it's plain what Enter would do."""

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.points: list[tuple[float, float]] = []  # scene px

    @property
    def placed(self) -> list[Any]:
        return self.points

    def place_of(self, index: int) -> tuple[float, float]:
        return self.points[index]

    def put(self, point: tuple[float, float]) -> None:
        self.points.append(point)

    @property
    def hint(self) -> str:  # type: ignore[override]
        if not self.points:
            return f"{self.into()}Click where it starts · Esc selects again"
        if len(self.points) < 3:
            return "Click adds a point · typed numbers say how far · Backspace takes the last back · Esc ends it here"
        return "Click adds a point · Enter or the first point closes · Backspace takes the last back · Esc ends it open"

    def press(self, p: Pointer) -> None:
        if self.near_first(p):
            self.finish(closed=True)
            return
        point = self.rounded(self.snapped(p))
        self.begin()
        if not self.points or point != self.points[-1]:
            self.points.append(point)
        self._now = point
        self.canvas.tool_changed()

    def move(self, p: Pointer, down: bool) -> None:
        p = self.snapped(p)
        point = p.sx, p.sy
        self._now = held_to(self.points[-1], point) if p.shift and self.points else point
        if self.points:
            self.tell(p, self._now)
        self.canvas.update()

    def finish(self, closed: bool, stay: bool = False) -> None:
        points, self.points, self.word = self.points, [], ""
        if len(points) >= 2:
            group = self.canvas.target_group()
            back = self.session.node(group).world.inverse()
            local = [tuple(tidy(v, 3) for v in back.map(*q)) for q in points] if back is not None else points
            ox, oy = local[0]
            shape = KINDS["polyline"](
                at=(ox, oy), points=[(tidy(x - ox), tidy(y - oy)) for x, y in local], closed=closed
            )
            self.session.dress(shape, self.paint)
            self.session.add(shape, group, len(group._children))
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
