"""A board of the shelf with its heading."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, LineLabel, cut, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.shelf.board import Board
from chalcedon.desk.shelf.entries import Entry, from_home


class Section(QWidget):
    """`folder` is "" for what isn't one of the chosen folders."""

    dropped = Signal()
    sought = Signal()

    def __init__(self, name: str, folder: str) -> None:
        super().__init__()
        self.folder = folder
        self.board = Board(name)
        self.head = Label(cut(name, 80))
        self.where = LineLabel(folder)
        self.remark = Label("")
        self.remark.setWordWrap(True)
        self.seek = Button("Find it…")
        self.seek.clicked.connect(lambda: self.sought.emit())
        self.drop = Button("Take off the shelf")
        self.drop.clicked.connect(lambda: self.dropped.emit())
        set_tip(self.drop, "The folder itself stays as it is.")
        line = QHBoxLayout()
        line.setSpacing(10)
        line.addWidget(self.head)
        line.addWidget(self.where, 1)
        line.addWidget(self.seek)
        line.addWidget(self.drop)
        self.drop.setVisible(bool(folder))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 10, 0, 0)
        column.setSpacing(4)
        column.addLayout(line)
        column.addWidget(self.remark)
        column.addWidget(self.board)
        self.restyle()

    def restyle(self) -> None:
        """Takes the colours of the theme."""
        t = theme()
        self.head.setFont(font(15, bold=True))
        self.where.setFont(font(12))
        for label in (self.where, self.remark):
            label.setStyleSheet(f"color: {t.muted};")
        for button in (self.seek, self.drop):
            button.setFont(font(12))
            button.setStyleSheet(
                f"QPushButton {{ color: {t.muted}; border-color: transparent; background: transparent; }}"
                f"QPushButton:hover {{ color: {t.ink}; background: {t.sunken}; }}"
                f"QPushButton:focus {{ border-color: {t.carnelian}; }}"
            )
        self.board.viewport().update()

    def show_entries(self, entries: Sequence[Entry], all_of_it: int, remark: str, missing: bool) -> None:
        """Shows those of its entries that are sought, of so many; `missing`: the folder isn't there."""
        t = theme()
        some = f"{len(entries)} of {all_of_it}" if len(entries) != all_of_it else f"{all_of_it}"
        if self.folder:
            folder = from_home(self.folder)
            self.where.setText(f"{some} · {folder}" if all_of_it else folder)
        self.head.setStyleSheet(f"color: {t.muted if missing else t.ink};")
        text = "The folder is not there any more." if missing else remark
        self.remark.setText(text)
        self.remark.setVisible(bool(text))
        self.seek.setVisible(missing)
        self.board.show_entries(entries)
        self.board.setVisible(bool(entries))
