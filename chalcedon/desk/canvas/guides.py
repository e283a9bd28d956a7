"""Guides pulled out of the rulers with the pointer, moved, and put back."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt

from chalcedon.desk.canvas.overlay import RULER
from chalcedon.scene.axes import across
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

GRAB = 3.0
"""Widget px within which a guide is taken hold of, where nothing else is."""
NAMES = ("guides_x", "guides_y")


class Guides:
    """The guide in hand: axis and the places of the others. A press on the left ruler pulls out an upright one."""

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas
        self.axis: int | None = None
        self.word = ""
        self._others: tuple[float, ...] = ()
        self._gesture: object = None

    def press(self, p: Pointer, free: Callable[[], bool]) -> bool:
        """Takes hold of a guide: a new one on a ruler, or one that is there where the page is `free` of shapes (asked
        only then). False when there is none."""
        on_left, on_top = p.x < RULER, p.y < RULER
        if on_left != on_top:
            self.axis = 0 if on_left else 1
            self._others = getattr(self.canvas.session.scene, NAMES[self.axis])
        elif (found := self.near(p)) is None or not free():
            return False
        else:
            self.axis, index = found
            guides = getattr(self.canvas.session.scene, NAMES[self.axis])
            self._others = (*guides[:index], *guides[index + 1 :])
        self._gesture = object()
        return True

    def near(self, p: Pointer) -> tuple[int, int] | None:
        """Axis and number of the guide under the pointer."""
        scene, view = self.canvas.session.scene, self.canvas.view
        for axis, at in ((0, p.x), (1, p.y)):
            for i, place in enumerate(getattr(scene, NAMES[axis])):
                if abs(view.to_widget(*across(scene, place, place))[axis] - at) <= GRAB:
                    return axis, i
        return None

    def move(self, p: Pointer) -> None:
        """The guide follows the pointer; over its ruler it is gone."""
        assert self.axis is not None
        session = self.canvas.session
        away = (p.x, p.y)[self.axis] < RULER
        at = across(session.scene, *self.canvas.snapping.place((p.sx, p.sy), p))[self.axis]
        at = tidy(at, 4 if self.canvas.snapping.marks else self.canvas.view.digits)
        self.word = "" if away else f"{'xy'[self.axis]} {at:g}"
        guides = self._others if away else (*self._others, at)
        with session.step("Move a guide", self._gesture) as scene:
            scene.set(scene, NAMES[self.axis], guides)

    def release(self) -> None:
        self.axis, self.word = None, ""
        self.canvas.snapping.end()
        self.canvas.session.end_gesture()

    def cancel(self) -> bool:
        """Takes back what is under way."""
        if self.axis is None:
            return False
        self.canvas.session.take_back(self._gesture)
        self.release()
        return True

    def cursor(self, p: Pointer) -> Qt.CursorShape | None:
        """The cursor over a ruler or a guide."""
        if (p.x < RULER) != (p.y < RULER):
            return Qt.CursorShape.SplitHCursor if p.x < RULER else Qt.CursorShape.SplitVCursor
        return None
