"""Writing the frames of a run: from when to when, how many, how large."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, cut
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.asking import file_to_write
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.formula import calculate
from chalcedon.painter.frames import SUFFIXES, Take

FILTER = "GIF that moves (*.gif);;WebP that moves (*.webp);;Numbered PNG pictures (*.png)"
FIELDS = (
    ("from", "0", "s of the run"),
    ("to", "2", "s"),
    ("frames a second", "30", "up to 60"),
    ("px for each of the scene's", "1", ""),
)


class FramesPanel(Panel):
    """A popup. `write` is given the file, which frames, and the path of a recording or ""."""

    def __init__(self, session: Session, owner: QWidget, write: Callable[[Path, Take, str], object]) -> None:
        super().__init__("Write the frames of a run", session, owner)
        self._owner, self._write = owner, write
        self._recording = ""
        self.fields: list[QLineEdit] = []
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        self._quiet: list[Label] = []
        for row, (name, value, unit) in enumerate(FIELDS):
            field = QLineEdit(value)
            field.setFixedWidth(80)
            field.setAccessibleName(f"{name} {unit}".strip())
            field.textChanged.connect(lambda _text: self._say_size())
            field.returnPressed.connect(self._choose)
            self.fields.append(field)
            after = Label(unit)
            self._quiet.append(after)
            grid.addWidget(Label(name), row, 0)
            grid.addWidget(field, row, 1)
            grid.addWidget(after, row, 2)
        grid.setColumnStretch(2, 1)
        self.recording = Button("With a recording…")
        self.recording.clicked.connect(lambda: self._choose_recording())
        self.of = Label("Nothing comes in: the pointer stays away.")
        line = QHBoxLayout()
        line.addWidget(self.recording)
        line.addWidget(self.of, 1)
        self.measures = Label("")
        self.choose = Button("Write…")
        self.choose.clicked.connect(lambda: self._choose())
        foot = QHBoxLayout()
        foot.addWidget(self.choose)
        foot.addWidget(self.measures, 1)
        self.column.addLayout(grid)
        self.column.addLayout(line)
        self.column.addWidget(self.complaint)
        self.column.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        for label in (self.of, self.measures, *self._quiet):
            label.setStyleSheet(f"color: {theme().muted};")

    def open_at(self, spot: QPoint) -> None:
        """Opens it below a place on the screen."""
        self.show_at(spot)
        self.fields[1].setFocus()
        self.fields[1].selectAll()

    def refresh(self) -> None:
        self._say_size()

    def take(self) -> Take:
        """The frames as they stand there. Raises ChalcedonError."""
        take = Take(*(calculate(field.text()) for field in self.fields))
        take.check(self.session.scene.size)
        return take

    def _say_size(self) -> None:
        self.show_measure(self._size, self.measures, self.choose)

    def _size(self) -> str:
        take = self.take()
        width, height = self.session.scene.size
        count = len(take.steps())
        return f"{count} frame{'s' * (count != 1)} of {width * take.scale:.0f} × {height * take.scale:.0f} px"

    def _choose_recording(self) -> None:
        self.close()
        folder = str(self.session.folder)
        name, _ = QFileDialog.getOpenFileName(self._owner, "With a recording", folder, "*.jsonl")
        self._recording = name or ""
        self.of.setText(
            cut(f"With what {Path(name).name} has come in.", 80)
            if name
            else "Nothing comes in: the pointer stays away."
        )
        self.show_at(self.pos())

    def _choose(self) -> None:
        if not self.choose.isEnabled():
            return
        take = self.take()
        self.close()
        start = self.session.folder / f"{self.session.title}.gif"
        target = file_to_write(self._owner, "Write the frames of a run", start, FILTER, SUFFIXES)
        if target is not None:
            self._write(target, take, self._recording)
