"""The reference picture: an image under the scene to draw by, placed, scaled and dimmed. It is never exported."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.session import Session
from chalcedon.files.images import image_size, source_for
from chalcedon.formula import calculate
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ValueProblem
from chalcedon.scene.axes import across
from chalcedon.scene.tidy import tidy

FIELDS = (
    ("x", "reference_at", 0, "px"),
    ("y", "reference_at", 1, "px"),
    ("width", "reference_width", None, "px; 0 is its own size"),
    ("opacity", "reference_opacity", None, "0 to 1"),
)
FILTER = "Images (*.png *.jpg *.jpeg *.webp *.gif)"


class ReferencePanel(Panel):
    """A popup. `measured` gives the line measured last on the canvas: its start and its length."""

    def __init__(
        self, session: Session, measured: Callable[[], tuple[tuple[float, float], float] | None], owner: QWidget
    ) -> None:
        super().__init__("Reference picture", session, owner)
        self.measured = measured
        layout = self.column
        self.about = Label("")
        self.about.setWordWrap(True)
        layout.addWidget(self.about)
        grid = QGridLayout()
        self.fields: dict[str, QLineEdit] = {}
        for i, (word, name, part, unit) in enumerate(FIELDS):
            entry = QLineEdit()
            entry.setFixedWidth(90)
            entry.setAccessibleName(f"Reference {word}")
            entry.editingFinished.connect(partial(self._typed, word, name, part))
            grid.addWidget(Label(word), i, 0)
            grid.addWidget(entry, i, 1)
            grid.addWidget(Label(unit), i, 2)
            self.fields[word] = entry
        layout.addLayout(grid)
        self.real = QLineEdit()
        self.real.setFixedWidth(90)
        self.real.setAccessibleName("What the measured line is long, in px of the scene")
        self.scale = Button("Scale so that the measured line is this long")
        self.scale.clicked.connect(self._scale)
        self.measure_row = QHBoxLayout()
        self.measure_row.addWidget(self.real)
        self.measure_row.addWidget(self.scale)
        layout.addLayout(self.measure_row)
        layout.addWidget(self.complaint)
        foot = QHBoxLayout()
        self.choose = Button("Choose a file…")
        self.choose.clicked.connect(self._choose)
        self.away = Button("Take it away")
        self.away.clicked.connect(lambda: self.attempt(lambda: self.show_file("")))
        for button in (self.choose, self.away):
            foot.addWidget(button)
        foot.addStretch()
        layout.addLayout(foot)

    def restyle(self) -> None:
        super().restyle()
        self.about.setStyleSheet(f"color: {theme().muted};")

    def refresh(self) -> None:
        scene = self.session.scene
        there = bool(scene.reference)
        name = "embedded" if scene.reference.startswith("data:") else scene.reference
        self.about.setText(
            f"{name}: under the shapes while you work, not in what is written out."
            if there
            else "An image to trace and to measure by. Choose one; it lies under the shapes, dimmed."
        )
        for word, name, part, _unit in FIELDS:
            value = getattr(scene, name)
            self.fields[word].setText(in_full(value if part is None else value[part]))
            self.fields[word].setEnabled(there)
        line = self.measured()
        for widget in (self.real, self.scale):
            widget.setVisible(there and line is not None)
        if line is not None and not self.real.text():
            self.real.setText(in_full(tidy(line[1], 3)))
        self.away.setVisible(there)
        self.complaint.setVisible(bool(self.complaint.text()))
        self.adjustSize()

    # acts

    def _typed(self, word: str, name: str, part: int | None) -> None:
        scene = self.session.scene

        def put() -> None:
            value: Any = calculate(self.fields[word].text())
            if part is not None:
                pair = list(scene.stated(name))
                pair[part] = value
                value = tuple(pair)
            scene.set(scene, name, value)

        if scene.reference:
            self.attempt(put)

    def _choose(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Reference picture", str(self.session.folder), FILTER)
        if path:
            self.attempt(lambda: self.show_file(path))

    def show_file(self, path: str) -> None:
        """Lays the image of a file under the scene, as wide as the page; an empty path takes it away."""
        scene = self.session.scene
        source = source_for(path, scene.folder) if path else ""
        if source:
            image_size(source, scene.folder)
        with scene.step("Lay a reference picture under the scene" if path else "Take the reference picture away"):
            scene.set(scene, "reference", source)
            if source:
                scene.set(scene, "reference_at", across(scene, 0, 0))
                scene.set(scene, "reference_width", scene.size[0])

    def _scale(self) -> None:
        """Makes the measured line as long as was typed; its start stays where it is."""
        line = self.measured()
        if line is None:
            return
        (x, y), length = line

        def act() -> None:
            scene = self.session.scene
            real = calculate(self.real.text())
            if real <= 0 or length <= 0:
                raise ValueProblem("a length above 0 is needed.", hint="Measure a line of the picture first.")
            k = real / length
            width = scene.reference_width or image_size(scene.reference, scene.folder)[0]
            rx, ry = across(scene, *scene.reference_at)
            with scene.step("Scale the reference picture"):
                scene.set(scene, "reference_width", round(width * k, 3))
                left, top = across(scene, x + (rx - x) * k, y + (ry - y) * k)
                scene.set(scene, "reference_at", (round(left, 3), round(top, 3)))

        self.attempt(act)

    def open_at(self, spot: QPoint) -> None:
        self.real.clear()
        self.show_at(spot)
        (self.fields["opacity"] if self.session.scene.reference else self.choose).setFocus()
