"""The ledger from the keyboard: rows up and down, values with Tab, typing over a value."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QKeyEvent

from chalcedon.desk.access.part import tell
from chalcedon.desk.ledger.cells import Cell
from chalcedon.desk.ledger.curvecell import TALL
from chalcedon.desk.ledger.naming import Naming, is_plain
from chalcedon.desk.ledger.parts import part
from chalcedon.evaluate.users import readers_of
from chalcedon.formula import Formula
from chalcedon.scene import Group
from chalcedon.source.curves import curve_of

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger


class LedgerKeys:
    """The keyboard of the ledger: which value is in focus, and what keys do."""

    def __init__(self, ledger: Ledger) -> None:
        self.ledger = ledger
        self.naming = Naming(ledger)
        self._told: object = None
        ledger.session.changed.connect(lambda _changes: self._follow())

    def focusable(self) -> list[Cell]:
        """The values of the opened row, in reading order; those of the scene where none is opened."""
        index = self.ledger.open_index()
        if index < 0:
            return [c for c in self.ledger.head_cells() if c.live]
        return [c for c in self.ledger.row_cells(index) if c.live and c.y > 0]

    def focused_cell(self) -> Cell | None:
        return next((c for c in self.focusable() if c.key == self.ledger.focus_key), None)

    def tell_focus(self) -> None:
        """Lets the canvas draw what the value in focus measures."""
        key, shape = self.ledger.focus_key, self.ledger.focus_owner
        paint = key is not None and shape is not None and key[0] in ("paint", "text") and key[1] in ("fill", "stroke")
        self.ledger.session.focus_paint((shape, key[1]) if paint and shape is not None and key is not None else None)
        if key is not None and shape is not None and key[0] == "number":
            self.ledger.session.focus_value((shape, key[1], key[2]))
            self.ledger.setAccessibleDescription(f"{shape.id} {key[1].replace('_', ' ')}")
        else:
            self.ledger.session.focus_value(None)
        lines = self.formula_lines()
        told = lines and shape is not None and key is not None and key[1] in (shape._formulas or ())
        self.ledger.session.focus_formula((shape, key[1]) if told and shape is not None and key is not None else None)
        if lines != self.ledger.formula_lines:
            self.ledger.formula_lines = lines
            self.ledger.show_details()
        tell(self.ledger, QAccessible.Event.Focus)

    def _follow(self) -> None:
        """Says of the value in focus what there is to say now, if it states something else."""
        self._tell_value()
        shape, key = self.ledger.focus_owner, self.ledger.focus_key
        stated = None if key is None or shape is None else shape._values.get(key[1])
        if stated is not self._told:
            self._told = stated
            self.tell_focus()

    def formula_lines(self) -> tuple[str, ...]:
        """What there is to say of the value in focus: the formula that gives it, and who reads it."""
        key, shape = self.ledger.focus_key, self.ledger.focus_owner
        if key is None or shape is None or key[1] not in shape.properties or shape.scene is None:
            return ()
        out = []
        if key[1] in (shape._formulas or ()):
            stated = part(shape.stated(key[1]), key[2])
            if isinstance(stated, Formula):
                out.append(f"= {stated.text}")
        users = readers_of(shape.scene, shape.id, key[1])
        if users:
            said = [f"{u.id}.{u.name}" if u.id else f"scene.{u.name}" for u in users[:6]]
            out.append(f"used by {', '.join(said)}" + (f" and {len(users) - 6} more" if len(users) > 6 else ""))
        return tuple(out)

    def curve(self) -> Cell | None:
        """The curve of the keyframes that give the value in focus."""
        key, shape = self.ledger.focus_key, self.ledger.focus_owner
        if not self.ledger.formula_lines or key is None or shape is None or key[1] not in (shape._formulas or ()):
            return None
        stated = part(shape.stated(key[1]), key[2])
        found = curve_of(stated.text) if isinstance(stated, Formula) else None
        return None if found is None else Cell(0, 0, 0, TALL, "curve", "", shape, key[1], key[2], found)

    def _tell_value(self) -> None:
        if self.ledger.focus_key is not None:
            tell(self.ledger, QAccessible.Event.ValueChanged)

    def go(self, way: int, edit: bool = False) -> bool:
        """The next or previous value of the opened row. False at its end."""
        cells = self.focusable()
        if not cells:
            return False
        keys = [c.key for c in cells]
        if self.ledger.focus_key in keys:
            at = keys.index(self.ledger.focus_key) + way
        else:
            at = 0 if way > 0 else len(keys) - 1
        if not 0 <= at < len(keys):
            self.ledger.focus_key = None
            self.tell_focus()
            self.ledger.viewport().update()
            return False
        self.ledger.focus_key = keys[at]
        self.tell_focus()
        self._show_cell(cells[at])
        if edit and cells[at].role in ("number", "text"):
            self.ledger.acts.open_editor(cells[at])
        self.ledger.viewport().update()
        return True

    def _show_cell(self, cell: Cell) -> None:
        box, bar = self.ledger.acts.box_of(cell), self.ledger.verticalScrollBar()
        if box.bottom() > self.ledger.viewport().height():
            bar.setValue(bar.value() + box.bottom() - self.ledger.viewport().height() + 8)
        elif box.top() < 0:
            bar.setValue(bar.value() + box.top() - 8)

    def focus_property(self, name: str, index: int = 0) -> bool:
        """Puts a number of a property of the opened shape into focus, or all of it. False when it isn't shown."""
        self.ledger.setFocus()
        cells = [c for c in self.focusable() if c.name == name and c.role != "offer"]
        cell = next((c for c in cells if c.path == (index,)), cells[0] if cells else None)
        if cell is None:
            return False
        self.ledger.focus_key = cell.key
        self._show_cell(cell)
        self.tell_focus()
        self.ledger.viewport().update()
        return True

    def overrides(self, event: QKeyEvent) -> bool:
        """What is typed over a value, or to find one by its name, goes there and not to a command with that key."""
        return self.naming.begins(event) or (self.focused_cell() is not None and is_plain(event))

    def press(self, event: QKeyEvent) -> bool:
        """Takes a key; False when it means nothing here."""
        key, mods = event.key(), event.modifiers()
        cell = self.focused_cell()
        text = event.text()
        if self.naming.press(event):
            return True
        if key == Qt.Key.Key_Escape:
            self._escape()
        elif (
            cell is not None
            and cell.role == "number"
            and key in (Qt.Key.Key_Up, Qt.Key.Key_Down)
            and not mods & Qt.KeyboardModifier.AltModifier
        ):
            self.ledger.acts.nudge(cell, 1 if key == Qt.Key.Key_Up else -1, mods, ("key", id(cell.owner), cell.key))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not mods & Qt.KeyboardModifier.AltModifier:
            self._step_row(1 if key == Qt.Key.Key_Down else -1, bool(mods & Qt.KeyboardModifier.ShiftModifier))
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and cell is None:
            self._fold_by_key(key == Qt.Key.Key_Right)
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End) and self.ledger.rows:
            self.ledger.session.select([self.ledger.rows[0 if key == Qt.Key.Key_Home else -1].shape], place=True)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and cell is not None:
            self.ledger.acts.activate(cell)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.go(1)
        elif key == Qt.Key.Key_F2:
            self.rename()
        elif cell is not None and _writes(cell, text, event):
            self.ledger.acts.open_editor(cell, text)
        else:
            return False
        return True

    def _escape(self) -> None:
        if self.ledger.pointer.take_back():
            return
        if self.ledger.focus_key is not None:
            self.ledger.focus_key = None
            self.tell_focus()
            self.ledger.viewport().update()
        else:
            self.ledger.session.select([])

    def rename(self) -> None:
        """Opens the id of the current shape for typing."""
        index = self.ledger.open_index()
        if index >= 0:
            self.ledger.reveal(self.ledger.rows[index].shape)
            self.ledger.acts.open_editor(next(c for c in self.ledger.row_cells(index) if c.role == "id"))

    def _step_row(self, way: int, extend: bool) -> None:
        if not self.ledger.rows:
            return
        current = self.ledger.session.current
        at = (
            self.ledger.index_of(current) + way
            if current is not None
            else (0 if way > 0 else len(self.ledger.rows) - 1)
        )
        at = max(0, min(len(self.ledger.rows) - 1, at))
        shape = self.ledger.rows[at].shape
        self.ledger.focus_key = None
        if extend and current is not None:
            others = [s for s in self.ledger.session.selection if s is not shape]
            self.ledger.session.select([*others, shape], place=True)
        else:
            self.ledger.session.select([shape], place=True)

    def _fold_by_key(self, unfold: bool) -> None:
        shape = self.ledger.session.current
        if isinstance(shape, Group) and (shape in self.ledger.folded) == unfold and shape.children:
            self.ledger.acts.toggle_fold(shape)
        elif unfold and isinstance(shape, Group) and shape.children:
            self.ledger.session.select([shape.children[-1 if self.ledger.front_first else 0]], place=True)
        elif not unfold and shape is not None and shape.parent is not None and shape.parent.parent is not None:
            self.ledger.session.select([shape.parent], place=True)


def _writes(cell: Cell, text: str, event: QKeyEvent) -> bool:
    """Whether a key begins to write over a value; = begins a formula, whatever the value is chosen with."""
    if text == "=":
        return cell.role in ("number", "text", "choice", "flag")
    return cell.role in ("number", "text") and is_plain(event)
