"""Accessible parts of a widget that are no widgets themselves: rows, cells, handles.

Qt asks through QAccessibleInterface whenever it likes, also for a part whose shape is gone: then the part is invalid
and says nothing. Invariant: a host keeps its parts as long as its widget lives, so that Qt never holds a freed one.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Hashable, Sequence
from typing import Any

from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import (
    QAccessible,
    QAccessibleActionInterface,
    QAccessibleEvent,
    QAccessibleInterface,
    QAccessibleValueInterface,
    QColor,
    QWindow,
)
from PySide6.QtWidgets import QAccessibleWidget, QWidget
from shiboken6 import VoidPtr, getCppPointer

Role, Said, Kind = QAccessible.Role, QAccessible.Text, QAccessible.InterfaceType
PRESS, FOCUS = QAccessibleActionInterface.pressAction(), QAccessibleActionInterface.setFocusAction()


FAR = 1_000_000.0
"""Px beyond which nothing is told apart: Qt counts in whole numbers of limited size."""


def box_of(left: float, top: float, right: float, bottom: float) -> QRect:
    """A box in px as Qt takes it, at least one px wide and tall."""
    x0, y0, x1, y1 = (round(min(max(v, -FAR), FAR)) for v in (left, top, right, bottom))
    return QRect(x0, y0, max(1, x1 - x0), max(1, y1 - y0))


def _safe(fallback: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """What Qt calls must not raise: a fault is told, and the fallback given."""

    def wrap(method: Callable[..., Any]) -> Callable[..., Any]:
        def call(self: Any, *args: Any) -> Any:
            try:
                return method(self, *args)
            except Exception:
                sys.excepthook(*sys.exc_info())
                return fallback() if callable(fallback) else fallback

        return call

    return wrap


class Part(QAccessibleInterface, QAccessibleActionInterface, QAccessibleValueInterface):
    """Subclasses say what it is by the methods of the first group."""

    def __init__(self, host: Host, above: Part | None = None) -> None:
        QAccessibleInterface.__init__(self)
        QAccessibleActionInterface.__init__(self)
        QAccessibleValueInterface.__init__(self)
        self.host, self.above = host, above

    # what a subclass says

    def stands(self) -> bool:
        """Whether what it speaks of is still there."""
        return True

    def what(self) -> QAccessible.Role:
        return Role.StaticText

    def name(self) -> str:
        return ""

    def value(self) -> str:
        return ""

    def help(self) -> str:
        return ""

    def place(self) -> QRect:
        """Where it is, in px of the widget."""
        return QRect()

    def parts(self) -> Sequence[Part]:
        return ()

    def tell_state(self, state: QAccessible.State) -> None:
        """Sets what of the state is so."""

    def acts(self) -> dict[str, Callable[[], object]]:
        """What can be done with it, by the names of actions."""
        return {}

    def number(self) -> float | None:
        return None

    def limits(self) -> tuple[float, float, float]:
        """Least, most, and one notch."""
        return 0.0, 0.0, 1.0

    def put(self, text: str) -> None:
        """Takes a value as it is typed."""

    # what Qt asks

    @_safe(False)
    def isValid(self) -> bool:
        return self.host.lives() and self.stands()

    def object(self) -> Any:
        return None

    @_safe(None)
    def window(self) -> QWindow | None:
        return self.host.shown.window().windowHandle() if self.isValid() else None

    @_safe(None)
    def parent(self) -> QAccessibleInterface:
        return self.above if self.above is not None else self.host

    @_safe(0)
    def childCount(self) -> int:
        return len(self.parts()) if self.isValid() else 0

    @_safe(None)
    def child(self, index: int) -> QAccessibleInterface | None:
        parts = self.parts() if self.isValid() else ()
        return parts[index] if 0 <= index < len(parts) else None

    @_safe(-1)
    def indexOfChild(self, part: QAccessibleInterface) -> int:
        return next((i for i, p in enumerate(self.parts()) if p is part), -1)

    @_safe(None)
    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:
        return next((p for p in self.parts() if p.rect().contains(x, y)), None)

    @_safe("")
    def text(self, which: QAccessible.Text) -> str:
        if not self.isValid():
            return ""
        said = {Said.Name: self.name, Said.Value: self.value, Said.Description: self.help}
        return said[which]() if which in said else ""

    @_safe(None)
    def setText(self, which: QAccessible.Text, text: str) -> None:
        if which == Said.Value and self.isValid():
            self.put(text)

    @_safe(QRect)
    def rect(self) -> QRect:
        if not self.isValid():
            return QRect()
        place = self.place()
        return QRect(self.host.shown.mapToGlobal(place.topLeft()), place.size())

    @_safe(Role.NoRole)
    def role(self) -> QAccessible.Role:
        return self.what()

    @_safe(QAccessible.State)
    def state(self) -> QAccessible.State:
        state = QAccessible.State()
        if not self.isValid():
            state.invalid = True
            return state
        state.selectable, state.focusable = bool(self.acts()), FOCUS in self.acts()
        state.offscreen = not self.place().intersects(self.host.shown.rect())
        self.tell_state(state)
        return state

    def foregroundColor(self) -> QColor:
        return QColor()

    def backgroundColor(self) -> QColor:
        return QColor()

    @_safe(lambda: VoidPtr(0))
    def interface_cast(self, kind: QAccessible.InterfaceType) -> VoidPtr:
        """The address of the base that speaks of actions or values. Qt takes it as it is: None would be taken for an
        address as well, and this object for its first base."""
        _, actions, values = getCppPointer(self)
        if kind == Kind.ActionInterface and self.isValid() and self.acts():
            return VoidPtr(actions)
        if kind == Kind.ValueInterface and self.isValid() and self.number() is not None:
            return VoidPtr(values)
        return VoidPtr(0)

    @_safe(list)
    def actionNames(self) -> list[str]:
        return list(self.acts())

    @_safe(None)
    def doAction(self, name: str) -> None:
        act = self.acts().get(name)
        if act is not None:
            act()

    def keyBindingsForAction(self, name: str) -> list[str]:
        return []

    @_safe(0.0)
    def currentValue(self) -> float:
        return self.number() or 0.0

    @_safe(None)
    def setCurrentValue(self, value: Any) -> None:
        self.put(repr(float(value)))

    @_safe(0.0)
    def minimumValue(self) -> float:
        return self.limits()[0]

    @_safe(0.0)
    def maximumValue(self) -> float:
        return self.limits()[1]

    @_safe(1.0)
    def minimumStepSize(self) -> float:
        return self.limits()[2]


class Host(QAccessibleWidget):
    """The interface of a widget with parts. They are made when asked for and known by a key."""

    def __init__(self, widget: QWidget, role: QAccessible.Role, name: str) -> None:
        super().__init__(widget, role, name)
        self.shown = widget
        self._known: dict[Hashable, Part] = {}
        self._alive = True
        widget.destroyed.connect(self._gone)

    def _gone(self) -> None:
        self._alive = False

    def lives(self) -> bool:
        """Whether the widget is still there."""
        return self._alive

    def part(self, key: Hashable, make: Callable[[], Part]) -> Part:
        """The part of a key, made the first time."""
        found = self._known.get(key)
        if found is None:
            found = self._known[key] = make()
            QAccessible.registerAccessibleInterface(found)
        return found

    # what a subclass says

    def count(self) -> int:
        """How many parts there are."""
        return 0

    def at(self, index: int) -> Part | None:
        """The part at an index in [0, count)."""
        return None

    def at_point(self, point: QPoint) -> Part | None:
        """The part at a place in px of the widget."""
        return None

    def focused(self) -> Part | None:
        """The part in focus."""
        return None

    # what Qt asks

    @_safe(0)
    def childCount(self) -> int:
        return self.count() if self._alive else 0

    @_safe(None)
    def child(self, index: int) -> QAccessibleInterface | None:
        return self.at(index) if self._alive and 0 <= index < self.count() else None

    @_safe(-1)
    def indexOfChild(self, part: QAccessibleInterface) -> int:
        return next((i for i in range(self.count()) if self.at(i) is part), -1)

    @_safe(None)
    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:
        point = self.shown.mapFromGlobal(QPoint(x, y)) if self._alive else QPoint(-1, -1)
        return self.at_point(point) if self._alive and self.shown.rect().contains(point) else None

    @_safe(None)
    def focusChild(self) -> QAccessibleInterface | None:
        return self.focused() if self._alive and self.shown.hasFocus() else None


def tell(widget: QWidget, what: QAccessible.Event) -> None:
    """Says that something happened to the part of a widget that is in focus, if anybody listens."""
    if not QAccessible.isActive():
        return
    interface = QAccessible.queryAccessibleInterface(widget)
    part = interface.focusChild() if interface is not None else None
    if part is not None:
        QAccessible.updateAccessibility(QAccessibleEvent(part, what))
