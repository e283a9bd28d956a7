"""A value of the opened row found by typing its name."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from chalcedon.craft.descriptions import describe
from chalcedon.desk.ledger.details import Find
from chalcedon.desk.ledger.folds import called

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger

CHORDS = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.MetaModifier
MOST = 8
"""So many of the values found are shown."""


def is_plain(event: QKeyEvent) -> bool:
    """Whether a key gives a character to be typed."""
    return bool(event.text()) and event.text().isprintable() and not event.modifiers() & CHORDS


class Naming:
    """What is typed while a row, and none of its values, is in focus; None while nothing is."""

    def __init__(self, ledger: Ledger) -> None:
        self.ledger = ledger
        self.find: Find | None = None

    def begins(self, event: QKeyEvent) -> bool:
        """Whether a key begins a name, or goes on with it."""
        if self.ledger.opened is None or self.ledger.focus_key is not None or not is_plain(event):
            return False
        return event.text().isalpha() or self.find is not None

    def press(self, event: QKeyEvent) -> bool:
        """Takes a key; False when it has nothing to do with a name."""
        if self.begins(event):
            self._look((self.find.text if self.find is not None else "") + event.text())
            return True
        if self.find is None:
            return False
        key = event.key()
        if key == Qt.Key.Key_Backspace:
            self._look(self.find.text[:-1])
        elif key == Qt.Key.Key_Escape:
            self.end()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right):
            way = 1 if key in (Qt.Key.Key_Down, Qt.Key.Key_Right) else -1
            self._show(self.find.text, self.find.chosen + way)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
        else:
            return False
        return True

    def _look(self, text: str) -> None:
        if text.strip():
            self._show(text, 0)
        else:
            self.end()

    def _show(self, text: str, chosen: int) -> None:
        shape, session = self.ledger.opened, self.ledger.session
        assert shape is not None
        several = self.ledger.several
        described = several is None and session.display.find(shape) is not None
        words = [d.word for d in describe(session.node(shape))] if described else []
        found = tuple(m for m in called(shape, text, words) if several is None or m.name in several.properties)[:MOST]
        self.find = Find(text, found, chosen % len(found) if found else 0)
        self.ledger.show_details()
        self.ledger.reveal(shape)
        self.ledger.setAccessibleDescription(
            f"find {text}: {found[self.find.chosen].word}" if found else f"find {text}: nothing is called that"
        )

    def take(self) -> None:
        """Puts the chosen value into focus, unfolded."""
        find, shape = self.find, self.ledger.opened
        if find is None or not find.found or shape is None:
            return
        meant = find.found[find.chosen]
        self.end()
        self.ledger.acts.open_value(self.ledger.several or shape, meant.name, meant.number)

    def end(self) -> None:
        if self.find is not None:
            self.find = None
            self.ledger.show_details()
