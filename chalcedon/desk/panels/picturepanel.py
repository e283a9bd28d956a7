"""Writing a picture: of what, how large, with what."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.looks.buttons import Button, Switch
from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.asking import file_to_write
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.formula import calculate
from chalcedon.painter.pictures import KINDS, Wanted, area_of, shown
from chalcedon.problems import ValueProblem

FILTER = ";;".join(f"{kind} pictures (*{suffix})" for suffix, kind in KINDS.items())


class PicturePanel(Panel):
    """A popup. `write` is given the file and what is wanted, once both are known."""

    def __init__(self, session: Session, owner: QWidget, write: Callable[[Path, Wanted], object]) -> None:
        super().__init__("Write a picture", session, owner)
        self._owner, self._write = owner, write
        self.only = Switch("Only what is selected")
        self.clear = Switch("Without the page's paint")
        self.outlines = Switch("Text as outlines (SVG)")
        self.scale = QLineEdit("2")
        self.scale.setFixedWidth(70)
        self.scale.setAccessibleName("Px of the picture for each of the scene's")
        self.scale.textChanged.connect(lambda _text: self._say_size())
        self.measures = Label("")
        self.choose = Button("Write…")
        self.choose.clicked.connect(lambda: self._choose())
        self.scale.returnPressed.connect(self._choose)
        row = QHBoxLayout()
        for widget in (Label("px for each of the scene's"), self.scale, self.measures):
            row.addWidget(widget)
        row.addStretch()
        switches = QHBoxLayout()
        switches.setSpacing(16)
        for button in (self.only, self.clear, self.outlines):
            button.toggled.connect(lambda _on: self._say_size())
            switches.addWidget(button)
        switches.addStretch()
        self.about = Label("PNG and WebP are of px; SVG and PDF keep outlines. The name's ending says which.")
        foot = QHBoxLayout()
        foot.addWidget(self.choose)
        foot.addStretch()
        self.column.addLayout(row)
        self.column.addLayout(switches)
        self.column.addWidget(self.about)
        self.column.addWidget(self.complaint)
        self.column.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        for label in (self.about, self.measures):
            label.setStyleSheet(f"color: {theme().muted};")

    def open_at(self, spot: QPoint) -> None:
        """Opens it below a place on the screen."""
        self.only.setChecked(False)
        self.show_at(spot)
        self.scale.setFocus()
        self.scale.selectAll()

    def refresh(self) -> None:
        self.only.setEnabled(bool(self.session.selection))
        self._say_size()

    def wanted(self) -> Wanted:
        """What is wanted as it stands there. Raises ChalcedonError."""
        scale = calculate(self.scale.text())
        if not 0.0 < scale <= 1000.0:
            raise ValueProblem("that makes no picture.", hint="Give a number above 0, such as 2.")
        only = tuple(self.session.selection) if self.only.isChecked() else ()
        return Wanted(scale, only, self.clear.isChecked(), self.outlines.isChecked())

    def _say_size(self) -> None:
        self.show_measure(self._size, self.measures, self.choose)

    def _size(self) -> str:
        wanted = self.wanted()
        nodes = shown(self.session.display, wanted.only)
        x0, y0, x1, y1 = area_of(self.session.display, nodes if wanted.only else None)
        return f"{(x1 - x0) * wanted.scale:.0f} × {(y1 - y0) * wanted.scale:.0f} px"

    def _choose(self) -> None:
        if not self.choose.isEnabled():
            return
        wanted = self.wanted()
        self.close()
        start = self.session.folder / f"{self.session.title}.png"
        target = file_to_write(self._owner, "Write a picture", start, FILTER, KINDS)
        if target is not None:
            self._write(target, wanted)
