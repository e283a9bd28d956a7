"""The foot of the shelf: what is chosen, told in a line, and what can be done with it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import LineLabel, cut, in_menu
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.shelf.entries import Entry

_HOW = "Enter opens what is chosen; Ctrl and a click chooses several; letters search."


class Foot(QWidget):
    """`elsewhere` gives the file that something which has gone may have become, or ""."""

    opened = Signal()
    moved = Signal(str)
    sought = Signal()
    forgotten = Signal()
    sheet = Signal()

    def __init__(self, elsewhere: Callable[[Entry], str]) -> None:
        super().__init__()
        self.setObjectName("shelf_foot")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(48)
        self._elsewhere = elsewhere
        self._place = ""
        self._chosen: list[str] = []
        self._said = False
        """Whether something else is said than what is chosen."""
        self.told = LineLabel("")
        self.open = Button("Open")
        self.there = Button()
        self.seek = Button("Find it…")
        self.forget = Button("Take it off the list")
        self.make_sheet = Button("Contact sheet…")
        self.open.clicked.connect(lambda: self.opened.emit())
        self.there.clicked.connect(lambda: self.moved.emit(self._place))
        self.seek.clicked.connect(lambda: self.sought.emit())
        self.forget.clicked.connect(lambda: self.forgotten.emit())
        self.make_sheet.clicked.connect(lambda: self.sheet.emit())
        line = QHBoxLayout(self)
        line.setContentsMargins(24, 0, 24, 0)
        line.setSpacing(8)
        line.addWidget(self.told, 1)
        for button in (self.there, self.seek, self.forget, self.make_sheet, self.open):
            line.addWidget(button)

    def restyle(self) -> None:
        """Takes the colours of the theme."""
        t = theme()
        self.setStyleSheet(f"QWidget#shelf_foot {{ background: {t.panel}; border-top: 1px solid {t.line}; }}")
        self.told.setStyleSheet(f"color: {t.muted};")

    def say(self, text: str, wrong: bool) -> None:
        """Says something else, until something is chosen. What has no room is in the tip."""
        self._said = True
        self.told.setStyleSheet(f"color: {theme().carnelian if wrong else theme().ink};")
        self.told.setText(text)

    def show_chosen(self, chosen: Sequence[Entry]) -> None:
        """Says what is chosen, and what can be done with it."""
        one = chosen[0] if len(chosen) == 1 else None
        before, self._chosen = self._chosen, [e.path for e in chosen]
        self._said = self._said and self._chosen == before  # a folder that is looked at again chooses nothing
        if not self._said:
            self.told.setStyleSheet(f"color: {theme().muted};")
            many = f"{len(chosen)} are chosen." if chosen else _HOW
            self.told.setText(many if one is None else one.told())
        gone = one is not None and one.gone
        self.open.setVisible(one is not None and not gone)
        self.make_sheet.setVisible(bool(chosen) and all(e.kind != "new" and not e.gone for e in chosen))
        self.seek.setVisible(gone)
        self.forget.setVisible(gone)
        self._place = self._elsewhere(one) if one is not None and gone else ""
        self.there.setVisible(bool(self._place))
        if self._place:
            self.there.setText(in_menu(cut(f"Open the one in {Path(self._place).parent.name}", 60)))
