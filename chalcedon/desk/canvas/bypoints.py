"""What tools have in common that make a shape a point at a time."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import GRAB, Tool
from chalcedon.desk.canvas.typed import toward
from chalcedon.desk.session import NextPaint
from chalcedon.scene.axes import way
from chalcedon.scene.grips import held_direction, rounded_point
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

Point = tuple[float, float]


class ByPoints(Tool):
    """Enter, or a click on the first point, closes; Backspace takes the last point back; Escape ends it open."""

    cursor = Qt.CursorShape.CrossCursor
    least = 3
    """Points from which on the shape can be closed."""

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self._now: Point | None = None
        self.paint: NextPaint | None = None
        """What the next shape's paint was when the first point was placed."""
        self.word = ""

    # what each kind has of its own

    @property
    def placed(self) -> list[Any]:
        """What there is so far, one a point."""
        raise NotImplementedError

    def place_of(self, index: int) -> Point:
        """Where a placed point stands, in scene px."""
        raise NotImplementedError

    def put(self, point: Point) -> None:
        """A point more."""
        raise NotImplementedError

    def finish(self, closed: bool, stay: bool = False) -> None:
        """Makes the shape of what is placed; with `stay`, another tool has been chosen already."""
        raise NotImplementedError

    # what they share

    def begin(self) -> None:
        """To be called before a point is placed."""
        if not self.placed:
            self.paint = self.session.next_paint

    @property
    def dragging(self) -> bool:
        return bool(self.placed)

    def near_first(self, p: Pointer) -> bool:
        """Whether the pointer is on the first point, and a click there would close."""
        if len(self.placed) < self.least:
            return False
        x, y = self.canvas.view.to_widget(*self.place_of(0))
        return math.hypot(p.x - x, p.y - y) <= GRAB

    def snapped(self, p: Pointer) -> Pointer:
        """The pointer where it snaps to; not while Shift holds it to an angle, nor over the point that closes."""
        if p.shift or self.near_first(p):
            self.canvas.snapping.end()
            return p
        return self.canvas.snapping.point(p)

    def rounded(self, p: Pointer) -> Point:
        """The pointer's place in as many decimals as can be seen; held to 15 degrees from the last point by Shift."""
        digits = EXACT if p.snapped else self.canvas.view.digits
        point = tidy(p.sx, digits), tidy(p.sy, digits)
        return held_to(self.place_of(-1), point) if p.shift and self.placed else point

    def tell(self, p: Pointer, to: Point) -> None:
        """Beside the pointer: what was typed, or how far the next point is."""
        last, digits = self.place_of(-1), self.canvas.view.digits
        if self.typed.text:
            self.word = self.typed.word()
        elif self.near_first(p):
            self.word = "closes"
        else:
            dx, dy = way(self.canvas.session.scene, to[0] - last[0], to[1] - last[1])
            self.word = f"{tidy(dx, digits):+g}, {tidy(dy, digits):+g}"

    def key(self, event: QKeyEvent) -> bool:
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if self.placed and self.typed.take(event):
            self.word = self.typed.word() if self.typed.text else ""
            self.canvas.update()
        elif enter and self.placed and self.typed.numbers:
            last = self.place_of(-1)
            numbers = self.typed.numbers
            if len(numbers) > 1:
                numbers = list(way(self.canvas.session.scene, *numbers[:2]))
            self.put(next_point(last, self._now or last, numbers))
            self.typed.clear()
            self.word = ""
            self.canvas.tool_changed()
        elif enter:
            opened = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            self.finish(closed=len(self.placed) >= self.least and not opened)
        elif event.key() in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete) and self.placed:
            self.placed.pop()
            self.canvas.tool_changed()
        else:
            return False
        return True

    def cancel(self) -> bool:
        if not self.placed:
            return False
        self.finish(closed=False)
        return True

    def leave(self) -> None:
        if self.placed:
            self.finish(closed=False, stay=True)


def next_point(a: Point, b: Point, numbers: Sequence[float]) -> Point:
    """The point that typed numbers say: how far across and down from `a`, or how far toward `b`."""
    x, y = (a[0] + numbers[0], a[1] + numbers[1]) if len(numbers) > 1 else toward(a, b, numbers[0])
    return tidy(x, 3), tidy(y, 3)


def held_to(a: Point, b: Point) -> Point:
    """`b` turned about `a` to the nearest multiple of 15 degrees."""
    x, y = held_direction((b[0] - a[0], b[1] - a[1]), True)
    return rounded_point((a[0] + x, a[1] + y), 2)
