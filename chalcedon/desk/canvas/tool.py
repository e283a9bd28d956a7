"""The protocol of a tool."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QPainter

from chalcedon.desk.canvas.typed import Typed
from chalcedon.scene import Shape
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

DRAG = 3.0
"""Widget px that the pointer must travel before a press is a drag."""
GRAB = 8.0
"""Widget px within which a handle is taken hold of."""
TOUCH = 4.0
"""Widget px within which the nearest shape is picked when nothing is hit."""


class Tool:
    """The protocol of a tool. `hint` says what a click does next."""

    hint = ""
    cursor = Qt.CursorShape.ArrowCursor

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas
        self.session = canvas.session
        self.typed = Typed()

    def into(self) -> str:
        """Which group the next shape goes into, when it isn't simply the page."""
        group = self.canvas.target_group()
        return f"Goes into {group.id} · " if group.id else ""

    @property
    def dragging(self) -> bool:
        """Whether numbers that are typed now belong to what is under way."""
        return False

    @property
    def held(self) -> bool:
        """Whether the pressed pointer is changing something."""
        return False

    def value_at(self, p: Pointer) -> tuple[Shape, str] | None:
        """The value that a handle at the pointer changes."""
        return None

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

    def refresh(self) -> None:
        """The scene has changed, perhaps not by this tool: what is half done on a shape that is gone ends."""

    def spots(self) -> list[tuple[float, float]]:
        """Widget px of what is drawn and may lie away from the selection, so that it is repainted as it moves."""
        return []

    def draw(self, painter: QPainter) -> None: ...
