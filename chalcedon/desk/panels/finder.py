"""Find anything: commands, shapes and properties by name, from the keyboard."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QPainter
from PySide6.QtWidgets import (
    QFrame,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
)

from chalcedon.desk.commands import COMMANDS
from chalcedon.desk.looks.theme import font, theme
from chalcedon.scene.synonyms import other_names
from chalcedon.view.guarded import Guarded

if TYPE_CHECKING:
    from PySide6.QtCore import QModelIndex, QPersistentModelIndex

    from chalcedon.desk.window import Window

MOST = 60
ENTRY = Qt.ItemDataRole.UserRole


class Entry:
    """Something that can be found. `side` is shown muted at the right; `also` are other words for it."""

    def __init__(
        self, text: str, side: str, act: Callable[[], object], usable: bool = True, keys: bool = False, also: str = ""
    ) -> None:
        self.text, self.side, self.act, self.usable, self.keys, self.also = text, side, act, usable, keys, also


class _Look(Guarded, QStyledItemDelegate):
    def paint(
        self, painter: QPainter, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex
    ) -> None:
        super().paint(painter, option, index)
        entry = index.data(ENTRY)
        painter.save()
        painter.setFont(font(13))
        painter.setPen(theme().color("muted"))
        box = option.rect
        painter.drawText(
            QRectF(box).adjusted(0, 0, -12, 0), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, entry.side
        )
        painter.restore()

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex | QPersistentModelIndex) -> QSize:
        return QSize(100, 30)


class _Entry(Guarded, QLineEdit):
    def __init__(self, owner: Finder) -> None:
        super().__init__()
        self.owner = owner

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            row = self.owner.list.currentRow() + (1 if key == Qt.Key.Key_Down else -1)
            self.owner.list.setCurrentRow(max(0, min(self.owner.list.count() - 1, row)))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.owner.choose()
        elif key == Qt.Key.Key_Escape:
            self.owner.close_finder()
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.owner.hide()


class Finder(Guarded, QFrame):
    """A panel over the window. Enter does or goes to what is chosen; Escape goes back to where the person was."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.desk = window
        self._before: object = None
        self.entry = _Entry(self)
        self.entry.setPlaceholderText("A command, a shape or a property")
        self.entry.setAccessibleName("Find anything")
        self.entry.setFont(font(15))
        self.entry.setMinimumHeight(32)
        self.list = QListWidget()
        self.list.setItemDelegate(_Look(self.list))
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setFrameShape(QFrame.Shape.NoFrame)
        self.list.itemClicked.connect(lambda _item: self.choose())
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.addWidget(self.entry)
        layout.addWidget(self.list)
        self.entry.textChanged.connect(self._fill)
        self.hide()

    def open(self, text: str = "") -> None:
        t = theme()
        self.setStyleSheet(
            f"Finder {{ background: {t.panel}; border: 1px solid {t.muted}; border-radius: 6px; }}"
            f"QListWidget {{ border: none; }}"
        )
        self._before = self.desk.focusWidget()
        width = min(560, self.desk.width() - 40)
        self.setGeometry(self.desk.width() - width - 12, 4, width, min(430, self.desk.height() - 60))
        self.entry.setText(text)
        self._fill()
        self.show()
        self.raise_()
        self.entry.setFocus()

    def close_finder(self) -> None:
        self.hide()
        if self._before is not None:
            self._before.setFocus()  # type: ignore[attr-defined]

    def entries(self) -> list[Entry]:
        w = self.desk
        out = []
        for c in COMMANDS:
            side = f"{c.keys[0]}   {c.menu}" if c.keys else c.menu
            usable = c.when is None or c.when(w)
            also = " ".join(other_names(c.name.removeprefix("shape.")))
            out.append(Entry(c.title(w).strip(), side, partial(w.run_command, c.name), usable, bool(c.keys), also))
        current = w.ledger.several or w.ledger.opened
        if current is not None:
            for name, prop in current.properties.items():
                act = partial(w.shelving.then, partial(w.ledger.acts.open_value, current, name))
                out.append(Entry(f"{prop.word} of {current.id}", prop.help, act))
        for shape in w.session.scene.walk():
            label = f"  {shape.label}" if shape.label else ""
            out.append(Entry(f"{shape.id}{label}", shape.kind, partial(w.shelving.then, partial(w.go_to, shape))))
        return out

    def _fill(self, *_: object) -> None:
        words = self.entry.text().lower().split()
        keys_only = bool(words) and words[0] == "keys"
        if keys_only:
            words = words[1:]
        ranked = []
        for i, e in enumerate(self.entries()):
            if keys_only and not e.keys:
                continue
            score = _score(words, e)
            if score is not None:
                ranked.append((not e.usable, score, i, e))
        ranked.sort(key=lambda r: r[:3])
        self.list.clear()
        for _usable, _s, _i, e in ranked[:MOST]:
            item = QListWidgetItem(e.text)
            item.setData(ENTRY, e)
            if not e.usable:
                item.setFlags(Qt.ItemFlag.ItemIsSelectable)
            self.list.addItem(item)
        if not ranked:
            nothing = QListWidgetItem("Nothing has that name.")
            nothing.setData(ENTRY, Entry("", "", lambda: None, False))
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.list.addItem(nothing)
        self.list.setCurrentRow(0)
        most = min(430, self.desk.height() - 60)
        self.resize(self.width(), min(most, 68 + 30 * self.list.count()))

    def choose(self) -> None:
        item = self.list.currentItem()
        if item is None:
            return
        entry: Entry = item.data(ENTRY)
        if not entry.usable:
            if entry.text:
                self.desk.session.say(f"{entry.text} can't be done now: nothing fitting is selected.", "problem")
            return
        self.close_finder()
        entry.act()


def _score(words: list[str], e: Entry) -> int | None:
    """Lower is better; None when a word is not in it at all."""
    text = e.text.lower()
    total = 0
    for word in words:
        if text.startswith(word):
            continue
        at = text.find(word)
        if at > 0 and not text[at - 1].isalnum():
            total += 1
        elif at >= 0:
            total += 2
        elif word in e.side.lower() or word in e.also:
            total += 4
        else:
            return None
    return total
