"""What a pattern repeats, how it is turned, and how large it is."""

from __future__ import annotations

import math

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.formula import calculate
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene, Step
from chalcedon.scene.paints import PAINT, Pattern
from chalcedon.scene.steps import compose
from chalcedon.scene.tidy import tidy

MOST = 500


class PatternFields(QWidget):
    """Says `changed` with the pattern."""

    changed = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.complaint = Label("")
        self.complaint.setWordWrap(True)
        self.complaint.setStyleSheet(f"color: {theme().carnelian}")
        self.complaint.setFont(font(12))
        both = QVBoxLayout(self)
        both.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        both.addLayout(row)
        both.addWidget(self.complaint)
        row.setSpacing(6)
        self.shape = QComboBox()
        self.shape.setEditable(True)
        self.shape.setAccessibleName("The shape that is repeated")
        set_tip(self.shape, "The shape that is repeated; its box is the tile. It may be hidden.")
        self.shape.textActivated.connect(lambda _text: self._say())
        self.angle, self.factor = QLineEdit(), QLineEdit()
        row.addWidget(self.shape, 1)
        for label, field, name in (("°", self.angle, "Angle of the tiles"), ("×", self.factor, "Size of the tiles")):
            field.setFixedWidth(52)
            field.setAccessibleName(name)
            field.editingFinished.connect(self._say)
            row.addWidget(field)
            row.addWidget(Label(label))

    def show_pattern(self, pattern: Pattern, scene: Scene) -> None:
        """Shows a pattern, and what else of a scene could be repeated."""
        ids = [s.id for _, s in zip(range(MOST), scene.walk(), strict=False)]
        self.shape.blockSignals(True)
        self.shape.clear()
        self.shape.addItems(ids)
        self.shape.setCurrentText(pattern.shape)
        self.shape.blockSignals(False)
        m = compose((0.0, 0.0), (0.0, 0.0), pattern.steps)
        self.angle.setText(in_full(tidy(math.degrees(math.atan2(m.b, m.a)))))
        self.factor.setText(in_full(tidy(math.hypot(m.a, m.b))))
        self._shown, self._steps = self._texts(), pattern.steps
        self._complain("")

    def _complain(self, text: str) -> None:
        self.complaint.setText(text)
        self.complaint.setVisible(bool(text))

    def _texts(self) -> tuple[str, str, str]:
        return self.shape.currentText(), self.angle.text(), self.factor.text()

    def _say(self) -> None:
        shape, *numbers = self._texts()
        if (shape, *numbers) == self._shown:
            return
        try:
            steps = self._steps  # those that are more than an angle and a size stay as they are with another shape
            if tuple(numbers) != self._shown[1:]:
                angle, size = map(calculate, numbers)
                turned = [Step("rotate", angle)] if angle else []
                steps = (*turned, *([Step("scale", size, size)] if size != 1 else []))
            pattern = PAINT.read(Pattern(shape.strip(), steps))
        except ChalcedonError as problem:
            self._complain(problem.sentence)
            return
        self._complain("")
        self._shown, self._steps = self._texts(), pattern.steps
        self.changed.emit(pattern)
