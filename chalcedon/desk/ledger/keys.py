"""The ledger from the keyboard: rows up and down, values with Tab, typing over a value."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent

from chalcedon.desk.ledger.cells import Cell
from chalcedon.scene import Group

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger


class LedgerKeys:
    """A part of Ledger: the keyboard."""

    def focusable(self: Ledger) -> list[Cell]:
        """The values of the opened row, in reading order."""
        index = self._open_index()
        return [c for c in self.row_cells(index) if c.live and c.y > 0] if index >= 0 else []

    def focused_cell(self: Ledger) -> Cell | None:
        return next((c for c in self.focusable() if c.key == self.focus_key), None)

    def tell_focus(self: Ledger) -> None:
        """Lets the canvas draw what the value in focus measures."""
        key, shape = self.focus_key, self.opened
        if key is not None and shape is not None and key[0] == "number":
            self.session.focus_value((shape, key[1], key[2]))
            self.setAccessibleDescription(f"{shape.id} {key[1].replace('_', ' ')}")
        else:
            self.session.focus_value(None)

    def go(self: Ledger, way: int, edit: bool = False) -> bool:
        """The next or previous value of the opened row. False at its end."""
        cells = self.focusable()
        if not cells:
            return False
        keys = [c.key for c in cells]
        if self.focus_key in keys:
            at = keys.index(self.focus_key) + way
        else:
            at = 0 if way > 0 else len(keys) - 1
        if not 0 <= at < len(keys):
            self.focus_key = None
            self.tell_focus()
            self.viewport().update()
            return False
        self.focus_key = keys[at]
        self.tell_focus()
        self._show_cell(cells[at])
        if edit and cells[at].role in ("number", "text"):
            self.open_editor(cells[at])
        self.viewport().update()
        return True

    def _show_cell(self: Ledger, cell: Cell) -> None:
        box, bar = self.box_of(cell), self.verticalScrollBar()
        if box.bottom() > self.viewport().height():
            bar.setValue(bar.value() + box.bottom() - self.viewport().height() + 8)
        elif box.top() < 0:
            bar.setValue(bar.value() + box.top() - 8)

    def focusNextPrevChild(self: Ledger, forward: bool) -> bool:
        if self.opened is not None and self.go(1 if forward else -1):
            return True
        return super().focusNextPrevChild(forward)  # type: ignore[safe-super]

    def focus_property(self: Ledger, name: str) -> None:
        """Puts the first value of a property of the opened shape into focus."""
        cell = next((c for c in self.focusable() if c.name == name), None)
        self.setFocus()
        if cell is None:
            self.session.say(f"{name.replace('_', ' ')} is not shown for this shape as it is now.")
            return
        self.focus_key = cell.key
        self._show_cell(cell)
        self.tell_focus()
        self.viewport().update()

    def event(self: Ledger, event: QEvent) -> bool:
        """Digits typed over a value go to the value, not to a command with that key."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) \
                and self.focused_cell() is not None and event.text().isprintable() and event.text() \
                and not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier):
            event.accept()
            return True
        return super().event(event)  # type: ignore[safe-super]

    def keyPressEvent(self: Ledger, event: QKeyEvent) -> None:
        key, mods = event.key(), event.modifiers()
        cell = self.focused_cell()
        text = event.text()
        if key == Qt.Key.Key_Escape:
            self._escape()
        elif cell is not None and cell.role == "number" and key in (Qt.Key.Key_Up, Qt.Key.Key_Down) \
                and not mods & Qt.KeyboardModifier.AltModifier:
            self.nudge(cell, 1 if key == Qt.Key.Key_Up else -1, mods, ("key", id(cell.owner), cell.key))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not mods & Qt.KeyboardModifier.AltModifier:
            self._step_row(1 if key == Qt.Key.Key_Down else -1, bool(mods & Qt.KeyboardModifier.ShiftModifier))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and cell is None:
            self._fold_by_key(key == Qt.Key.Key_Right)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End) and self.rows:
            self.session.select([self.rows[0 if key == Qt.Key.Key_Home else -1].shape])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and cell is not None:
            self.activate(cell)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.go(1)
        elif key == Qt.Key.Key_F2:
            self.rename()
        elif cell is not None and cell.role in ("number", "text") and text and text.isprintable() \
                and not mods & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier):
            self.open_editor(cell, text)
        else:
            super().keyPressEvent(event)  # type: ignore[misc]

    def _escape(self: Ledger) -> None:
        if self.cancel_drag():
            return
        if self.focus_key is not None:
            self.focus_key = None
            self.tell_focus()
            self.viewport().update()
        else:
            self.session.select([])

    def rename(self: Ledger) -> None:
        """Opens the id of the current shape for typing."""
        index = self._open_index()
        if index >= 0:
            self.reveal(self.rows[index].shape)
            self.open_editor(next(c for c in self.row_cells(index) if c.role == "id"))

    def _step_row(self: Ledger, way: int, extend: bool) -> None:
        if not self.rows:
            return
        current = self.session.current
        at = self.index_of(current) + way if current is not None else (0 if way > 0 else len(self.rows) - 1)
        at = max(0, min(len(self.rows) - 1, at))
        shape = self.rows[at].shape
        self.focus_key = None
        if extend and current is not None:
            others = [s for s in self.session.selection if s is not shape]
            self.session.select([*others, shape])
        else:
            self.session.select([shape])

    def _fold_by_key(self: Ledger, unfold: bool) -> None:
        shape = self.session.current
        if isinstance(shape, Group) and (shape in self.folded) == unfold and shape.children:
            self.toggle_fold(shape)
        elif unfold and isinstance(shape, Group) and shape.children:
            self.session.select([shape.children[-1 if self.front_first else 0]])
        elif not unfold and shape is not None and shape.parent is not None and shape.parent.parent is not None:
            self.session.select([shape.parent])
