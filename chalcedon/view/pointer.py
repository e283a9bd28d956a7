"""Where the pointer is, for whoever is told of it."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtGui import QMouseEvent

from chalcedon.view.place import View


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
    snapped: bool = False
    """Whether the place in scene px is one that was snapped to, to be taken as it is."""

    @classmethod
    def of(cls, event: QMouseEvent, view: View) -> Pointer:
        """What a mouse event says, in a view."""
        at, mods = event.position(), event.modifiers()
        held = Qt.KeyboardModifier
        return cls(
            at.x(),
            at.y(),
            *view.to_scene(at.x(), at.y()),
            bool(mods & held.ShiftModifier),
            bool(mods & held.ControlModifier),
            bool(mods & held.AltModifier),
        )
