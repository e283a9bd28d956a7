"""Pointer and keys of the canvas, on their way into the run."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QEventPoint, QKeyEvent, QMouseEvent, QTabletEvent, QTouchEvent, QWheelEvent

from chalcedon.desk.live.player import Player
from chalcedon.view.sceneview import SceneView

KEYS = {
    Qt.Key.Key_Left: "ArrowLeft",
    Qt.Key.Key_Right: "ArrowRight",
    Qt.Key.Key_Up: "ArrowUp",
    Qt.Key.Key_Down: "ArrowDown",
    Qt.Key.Key_Return: "Enter",
    Qt.Key.Key_Enter: "Enter",
    Qt.Key.Key_Escape: "Escape",
    Qt.Key.Key_Tab: "Tab",
    Qt.Key.Key_Backspace: "Backspace",
    Qt.Key.Key_Delete: "Delete",
    Qt.Key.Key_Insert: "Insert",
    Qt.Key.Key_Home: "Home",
    Qt.Key.Key_End: "End",
    Qt.Key.Key_PageUp: "PageUp",
    Qt.Key.Key_PageDown: "PageDown",
    Qt.Key.Key_Shift: "Shift",
    Qt.Key.Key_Control: "Control",
    Qt.Key.Key_Alt: "Alt",
    Qt.Key.Key_Meta: "Meta",
    Qt.Key.Key_Space: " ",
}
"""Keys by their names of W3C UI Events KeyboardEvent key values; others are the text that they give."""
BUTTONS = {Qt.MouseButton.LeftButton: 0, Qt.MouseButton.MiddleButton: 1, Qt.MouseButton.RightButton: 2}
PEN, FINGERS = 2, 10
"""Numbers of the pointers that a pen and the fingers are; the mouse is 1."""
TOUCHES = (QEvent.Type.TouchBegin, QEvent.Type.TouchUpdate, QEvent.Type.TouchEnd, QEvent.Type.TouchCancel)
PENS = (QEvent.Type.TabletPress, QEvent.Type.TabletMove, QEvent.Type.TabletRelease)
FELT = frozenset((*TOUCHES, *PENS))
CURSORS = {
    "default": Qt.CursorShape.ArrowCursor,
    "auto": Qt.CursorShape.ArrowCursor,
    "none": Qt.CursorShape.BlankCursor,
    "pointer": Qt.CursorShape.PointingHandCursor,
    "help": Qt.CursorShape.WhatsThisCursor,
    "wait": Qt.CursorShape.WaitCursor,
    "crosshair": Qt.CursorShape.CrossCursor,
    "text": Qt.CursorShape.IBeamCursor,
    "move": Qt.CursorShape.SizeAllCursor,
    "grab": Qt.CursorShape.OpenHandCursor,
    "grabbing": Qt.CursorShape.ClosedHandCursor,
    "not-allowed": Qt.CursorShape.ForbiddenCursor,
    "ew-resize": Qt.CursorShape.SizeHorCursor,
    "ns-resize": Qt.CursorShape.SizeVerCursor,
    "nesw-resize": Qt.CursorShape.SizeBDiagCursor,
    "nwse-resize": Qt.CursorShape.SizeFDiagCursor,
    "zoom-in": Qt.CursorShape.CrossCursor,
    "zoom-out": Qt.CursorShape.CrossCursor,
}


def key_name(event: QKeyEvent) -> str:
    """The W3C name of a key."""
    named = KEYS.get(Qt.Key(event.key()))
    if named is not None:
        return named
    if Qt.Key.Key_F1 <= event.key() <= Qt.Key.Key_F35:
        return f"F{event.key() - Qt.Key.Key_F1 + 1}"
    return event.text()


class Playing:
    """Takes what the pointer and the keys do on a picture to the run, while the scene lives and Alt isn't held."""

    def __init__(self, picture: SceneView, player_of: Callable[[], Player]) -> None:
        picture.setAttribute(Qt.WidgetAttribute.WA_AcceptTouchEvents)
        self._picture, self._player_of = picture, player_of
        self._keys: set[int] = set()  # that went down here

    @property
    def player(self) -> Player:
        return self._player_of()

    def takes(self, event: QMouseEvent | QKeyEvent | QWheelEvent) -> bool:
        """Whether an event is the scene's. With Alt held it is the desk's."""
        return self.player.live is not None and not event.modifiers() & Qt.KeyboardModifier.AltModifier

    def _place(self, event: QMouseEvent | QWheelEvent) -> tuple[float, float]:
        at = event.position()
        return self.player.display.across(self._picture.view.to_scene(at.x(), at.y()))

    def press(self, event: QMouseEvent) -> None:
        self.player.take("pointer_down", *self._place(event), BUTTONS.get(event.button(), 0))

    def move(self, event: QMouseEvent) -> None:
        self.player.take("pointer_move", *self._place(event))

    def release(self, event: QMouseEvent) -> None:
        self.player.take("pointer_up", *self._place(event), BUTTONS.get(event.button(), 0))

    def touch(self, event: QTouchEvent) -> bool:
        """Every finger is a pointer of its own. False when the scene doesn't live, and fingers are the desk's mouse."""
        if self.player.live is None:
            return False
        if event.type() == QEvent.Type.TouchCancel:
            for finger in event.points():
                self.player.take("pointer_cancel", FINGERS + finger.id())
            return True
        for finger in event.points():
            at = finger.position()
            place = self.player.display.across(self._picture.view.to_scene(at.x(), at.y()))
            state, pointer = finger.state(), FINGERS + finger.id()
            if state == QEventPoint.State.Pressed:
                self.player.take("pointer_down", *place, 0, pointer, "touch")
            elif state == QEventPoint.State.Updated:
                self.player.take("pointer_move", *place, pointer, "touch", finger.pressure())
            elif state == QEventPoint.State.Released:
                self.player.take("pointer_up", *place, 0, pointer, "touch")
                self.player.take("pointer_leave", pointer)
        return True

    def pen(self, event: QTabletEvent) -> bool:
        """A pen, with how hard it is pressed. False when the scene doesn't live, and it is the desk's mouse."""
        if self.player.live is None or event.modifiers() & Qt.KeyboardModifier.AltModifier:
            return False
        at = event.position()
        place = self.player.display.across(self._picture.view.to_scene(at.x(), at.y()))
        button = BUTTONS.get(event.button(), 0)
        if event.type() == QEvent.Type.TabletPress:
            self.player.take("pointer_down", *place, button, PEN, "pen")
        elif event.type() == QEvent.Type.TabletRelease:
            self.player.take("pointer_up", *place, button, PEN, "pen")
        else:
            self.player.take("pointer_move", *place, PEN, "pen", event.pressure())
        return True

    def other(self, event: QEvent) -> bool:
        """Takes what fingers and pens do; False for any other event."""
        if isinstance(event, QTouchEvent) and event.type() in TOUCHES:
            return self.touch(event)
        return isinstance(event, QTabletEvent) and event.type() in PENS and self.pen(event)

    def wheel(self, event: QWheelEvent) -> bool:
        """Whether the scene answers the wheel; else it pans."""
        live = self.player.live
        if live is None or not live.watching.answers("wheel"):
            return False
        turned = event.angleDelta()
        self.player.take("wheel", *self._place(event), -turned.y(), -turned.x())
        return True

    def leave(self) -> None:
        self.player.take("pointer_leave")

    def key(self, event: QKeyEvent, down: bool) -> None:
        name = key_name(event)
        if not name or event.isAutoRepeat() or not (down or event.key() in self._keys):
            return  # one that the desk had comes up
        (self._keys.add if down else self._keys.discard)(event.key())
        self.player.take("key_down" if down else "key_up", name)

    def cursor(self) -> Qt.CursorShape:
        """What the pointer looks like on what it is on."""
        live = self.player.live
        return CURSORS[live.cursor] if live is not None else Qt.CursorShape.ArrowCursor
