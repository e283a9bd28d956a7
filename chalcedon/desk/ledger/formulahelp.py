"""Help while a formula is written in a cell: names and functions to choose from, and references picked by a click."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from chalcedon.desk.looks.theme import font
from chalcedon.formula.syntax import looks_like_formula
from chalcedon.scene import Shape
from chalcedon.source.answerhints import answer_hint
from chalcedon.source.formulahints import formula_hint, reference_to

if TYPE_CHECKING:
    from chalcedon.desk.ledger.editor import CellEditor

MOST_SHOWN = 8
WIDTH = 560


class FormulaHelp:
    """Belongs to one editor, and goes with it."""

    def __init__(self, editor: CellEditor) -> None:
        self.editor = editor
        self._start = 0
        self.list = QListWidget(editor.window())
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setFont(font(13))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.setAccessibleName("Names and functions")
        self.list.itemPressed.connect(lambda _item: self.complete())
        self.list.hide()
        editor.destroyed.connect(self.list.deleteLater)

    @property
    def writes_formula(self) -> bool:
        """Whether what stands in the editor is a formula, or the beginning of one."""
        text = self.editor.text().strip()
        return text.startswith("=") or looks_like_formula(text) or text[-1:] in tuple("+-*/(,<>")

    def refresh(self) -> None:
        """Offers what could stand at the cursor."""
        editor, owner = self.editor, self.editor.subject
        text = editor.text()
        hints = answer_hint if editor.is_response else formula_hint if editor.may_be_formula else None
        if hints is None or not editor.hasFocus():
            self.list.hide()
            return
        hint = hints(editor.session.scene, owner, text, editor.cursorPosition())
        self._start = hint.start
        editor.usage.emit(hint.usage)
        self.list.clear()
        if not hint.candidates:
            self.list.hide()
            return
        for word, meaning in hint.candidates:
            item = QListWidgetItem(f"{word}    {meaning}")
            item.setData(Qt.ItemDataRole.UserRole, word)
            self.list.addItem(item)
        self.list.setCurrentRow(-1)
        self._place()

    def _place(self) -> None:
        editor, host = self.editor, self.editor.window()
        height = min(MOST_SHOWN, self.list.count()) * self.list.sizeHintForRow(0) + 6
        spot = editor.mapTo(host, QPoint(0, editor.height() + 2))
        if spot.y() + height > host.height():
            spot = editor.mapTo(host, QPoint(0, -height - 2))
        self.list.setGeometry(spot.x(), spot.y(), min(WIDTH, host.width() - spot.x() - 8), height)
        self.list.show()
        self.list.raise_()

    def press(self, event: QKeyEvent) -> bool:
        """Takes a key while the list is shown; False when it is the editor's."""
        if not self.list.isVisible():
            if self.editor.is_response and event.key() == Qt.Key.Key_Down:
                self.refresh()
                return self.list.isVisible()
            return False
        key, row = event.key(), self.list.currentRow()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            way, count = (1 if key == Qt.Key.Key_Down else -1), self.list.count()
            self.list.setCurrentRow((row + way) % count if row >= 0 else (0 if way > 0 else count - 1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and row >= 0:
            self.complete()
        elif key == Qt.Key.Key_Escape:
            self.list.hide()
        else:
            return False
        return True

    def complete(self) -> bool:
        """Puts the chosen word in, or the first. False when none is offered."""
        if not self.list.isVisible() or not self.list.count():
            return False
        item = self.list.currentItem() or self.list.item(0)
        self.insert(str(item.data(Qt.ItemDataRole.UserRole)), self._start)
        return True

    def insert(self, word: str, start: int | None = None) -> None:
        """Puts a word at the cursor, in the place of what stands from `start` on."""
        editor = self.editor
        text, cursor = editor.text(), editor.cursorPosition()
        start = cursor if start is None else start
        editor.setText(text[:start] + word + text[cursor:])
        editor.setCursorPosition(start + len(word))
        editor.take_text()
        self.refresh()

    def pick(self, shape: Shape, name: str = "", index: int = -1) -> None:
        """Puts in a reference to a shape that was clicked, or to one of its values."""
        editor, scene = self.editor, self.editor.session.scene
        if editor.subject is shape and name in ("", editor.cell.name):
            return  # it can't follow itself
        self._replace_selected()
        self.insert(reference_to(scene, self._asked(), shape, name, index))
        self.list.hide()  # it is all that was meant

    def _replace_selected(self) -> None:
        editor = self.editor
        if editor.hasSelectedText():
            start = editor.selectionStart()
            text = editor.text()
            editor.setText(text[:start] + text[start + len(editor.selectedText()) :])
            editor.setCursorPosition(start)

    def _asked(self) -> str:
        """What is being written: at.x for a number of a point, else the name of the property."""
        cell = self.editor.cell
        labels = self.editor.subject.properties[cell.name].kind.labels
        if cell.path and len(cell.path) == 1 and len(labels) == 2:
            return f"{cell.name}.{'xy'[cell.path[0]]}"
        return cell.name
