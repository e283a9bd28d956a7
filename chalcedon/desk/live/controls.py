"""A control for each kind of input: slider with a number, switch, buttons or a list, chip, entry, pad."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QWidget

from chalcedon.desk.ledger.parts import show
from chalcedon.desk.looks.buttons import ToolButton
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.panel import dispose
from chalcedon.desk.picker.colorpicker import ColorPicker, chip_icon
from chalcedon.formula import calculate
from chalcedon.formula.types import NUMBER
from chalcedon.problems import ChalcedonError, ValueProblem, shorten
from chalcedon.scene import Scene
from chalcedon.scene.axes import across, way
from chalcedon.scene.inputs import KINDS, Input
from chalcedon.view.guarded import Guarded

Put = Callable[[str, Any, object], None]
"""Gives an input a value, as part of a gesture."""


class Hand(NamedTuple):
    """What a control works for: the scene whose input it sets, who gives the value, who says what is wrong with one."""

    scene: Callable[[], Scene]
    put: Put
    say: Callable[[str], object]


class Control(Guarded, QWidget):
    """The name of an input, and what sets it."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__()
        self.spec, self.hand, self.put = spec, hand, hand.put
        self.value: Any = spec.value
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(6)
        self.title = Label(spec.title)
        self.title.setFont(font(13))
        self.row.addWidget(self.title)
        set_tip(self, f"{spec.name}: an input of the scene. Formulas read it by this name.")

    def show_value(self, value: Any) -> None:
        """Shows what the input is now."""
        self.value = value

    def restyle(self) -> None:
        self.title.setStyleSheet(f"color: {theme().muted}; background: transparent;")


class Slide(Guarded, QWidget):
    """A line with a knob between two limits."""

    def __init__(self, control: NumberControl) -> None:
        super().__init__()
        self._control = control
        self._gesture: object = None
        self.setFixedSize(104, 24)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(control.spec.title)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._gesture = object()
            self._to(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._gesture is not None:
            self._to(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._gesture = None

    def _to(self, x: float) -> None:
        low, high = self._control.limits
        share = max(0.0, min(1.0, (x - 6) / (self.width() - 12)))
        self._control.give(low + (high - low) * share, self._gesture)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._control.nudge(1 if event.angleDelta().y() > 0 else -1, "wheel")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        more, less = (Qt.Key.Key_Right, Qt.Key.Key_Up), (Qt.Key.Key_Left, Qt.Key.Key_Down)
        low, high = self._control.limits
        if event.key() in (*more, *less):
            times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
            self._control.nudge(times if event.key() in more else -times, "keys")
        elif event.key() in (Qt.Key.Key_Home, Qt.Key.Key_End):
            gesture = "keys", self._control.spec.name
            self._control.give(low if event.key() == Qt.Key.Key_Home else high, gesture)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        low, high = self._control.limits
        share = 0.0 if high == low else (self._control.value - low) / (high - low)
        middle, x = self.height() / 2, 6 + max(0.0, min(1.0, share)) * (self.width() - 12)
        painter.setPen(QPen(t.color("line"), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(6, middle), QPointF(self.width() - 6, middle))
        painter.setPen(QPen(t.color("chrysoprase"), 3, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(6, middle), QPointF(x, middle))
        painter.setPen(QPen(t.color("carnelian" if self.hasFocus() else "chrysoprase"), 1.6))
        painter.setBrush(t.color("panel"))
        painter.drawEllipse(QPointF(x, middle), 5.5, 5.5)
        painter.end()


class NumberControl(Control):
    """A slider between the limits, if there are any, and the number, which can be typed."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.slide = Slide(self)
        self.row.addWidget(self.slide)
        self.entry = QLineEdit()
        self.entry.setFixedWidth(56)
        self.entry.setAccessibleName(spec.title)
        self.entry.editingFinished.connect(self._typed)
        self.row.addWidget(self.entry)
        if spec.unit:
            self.unit = Label(spec.unit)
            self.unit.setFont(font(13))
            self.row.addWidget(self.unit)
        self.show_value(spec.value)

    @property
    def limits(self) -> tuple[float, float]:
        """What the slider goes between: the limits, or a range around the value."""
        low, high = (getattr(v, "last", v) for v in (self.spec.low, self.spec.high))
        around = max(1.0, abs(self.spec.value) * 2)
        low = low if low is not None and abs(low) < 1e9 else min(0.0, -around if self.spec.value < 0 else 0.0)
        high = high if high is not None and abs(high) < 1e9 else max(low + 1, around)
        return float(low), float(high)

    @property
    def _step(self) -> float:
        low, high = self.limits
        if self.spec.step:
            return float(self.spec.step)
        power = 1.0
        while (high - low) / power < 100:
            power /= 10
        return power

    def give(self, value: float, gesture: object) -> None:
        """Sets the input to the nearest value that its step allows."""
        step = self._step
        value = round(round(value / step) * step, 9)
        low, high = self.limits
        value = min(max(value, low), high)
        value = int(value) if value == int(value) else value
        if value != self.value:
            self.put(self.spec.name, value, gesture)

    def nudge(self, steps: int, gesture: object) -> None:
        self.give(self.value + steps * self._step, (gesture, self.spec.name))

    def _typed(self) -> None:
        if self.entry.text() == show(self.value):
            return
        try:
            self.put(self.spec.name, calculate(self.entry.text()), None)
        except ChalcedonError as problem:
            self.hand.say(problem.sentence)
        self.entry.setText(show(self.value))

    def show_value(self, value: Any) -> None:
        super().show_value(value)
        self.slide.update()
        if not self.entry.hasFocus() or self.entry.text() == "":
            self.entry.setText(show(value))


class SwitchControl(Control):
    """A switch that is on or off."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.button = ToolButton()
        self.button.setCheckable(True)
        self.button.setAccessibleName(spec.title)
        self.button.clicked.connect(lambda on: self.put(spec.name, bool(on), None))
        self.row.addWidget(self.button)
        self.show_value(spec.value)

    def show_value(self, value: Any) -> None:
        super().show_value(value)
        self.button.setChecked(bool(value))
        self.button.setText("on" if value else "off")


class ChoiceControl(Control):
    """A few choices as buttons, more as a list."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.buttons: dict[str, ToolButton] = {}
        self.box: QComboBox | None = None
        if len(spec.choices) <= 4:
            for word in spec.choices:
                button = ToolButton()
                button.setText(word)
                button.setCheckable(True)
                button.clicked.connect(lambda _=False, w=word: self._choose(w))
                self.row.addWidget(button)
                self.buttons[word] = button
        else:
            self.box = QComboBox()
            self.box.addItems(list(spec.choices))
            self.box.setAccessibleName(spec.title)
            self.box.activated.connect(lambda i: self._choose(spec.choices[i]))
            self.row.addWidget(self.box)
        self.show_value(spec.value)

    def _choose(self, word: str) -> None:
        self.put(self.spec.name, word, None)
        self.show_value(self.value)

    def show_value(self, value: Any) -> None:
        super().show_value(value)
        for word, button in self.buttons.items():
            button.setChecked(word == value)
        if self.box is not None and value in self.spec.choices:
            self.box.setCurrentIndex(self.spec.choices.index(value))


class ColourControl(Control):
    """A chip that opens the picker."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.picker: ColorPicker | None = None
        self.chip = ToolButton()
        self.chip.setIconSize(QSize(18, 18))
        self.chip.setAccessibleName(spec.title)
        self.chip.clicked.connect(self._pick)
        self.row.addWidget(self.chip)
        self.show_value(spec.value)

    def _pick(self) -> None:
        dispose(self.picker)
        self.picker = picker = ColorPicker(self, Scene(), self.value, self.spec.title, False, True)
        gesture = object()
        picker.picked.connect(lambda paint: self.put(self.spec.name, paint, gesture))
        picker.open_at(self.mapToGlobal(QPoint(0, -picker.sizeHint().height())))

    def show_value(self, value: Any) -> None:
        if value != self.value or self.chip.icon().isNull():
            self.chip.setIcon(chip_icon(value, {}))
        super().show_value(value)


class TextControl(Control):
    """An entry."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.entry = QLineEdit(str(spec.value))
        self.entry.setFixedWidth(110)
        self.entry.setAccessibleName(spec.title)
        self._gesture: object = object()
        self.entry.textEdited.connect(lambda text: self.put(spec.name, text, self._gesture))
        self.row.addWidget(self.entry)

    def show_value(self, value: Any) -> None:
        super().show_value(value)
        if self.entry.text() != value and not self.entry.hasFocus():
            self.entry.setText(str(value))


class Pad(Guarded, QWidget):
    """The page of the scene, small: a point is dragged on it."""

    def __init__(self, control: PointControl) -> None:
        super().__init__()
        self._control = control
        self._gesture: object = None
        self.setFixedSize(48, 32)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(control.spec.title)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._gesture = object()
        self._to(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._gesture is not None:
            self._to(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._gesture = None

    def _to(self, at: QPointF) -> None:
        scene = self._control.hand.scene()
        x, y = (
            max(0.0, min(1.0, spot / room)) * size
            for spot, room, size in ((at.x(), self.width(), scene.size[0]), (at.y(), self.height(), scene.size[1]))
        )
        digits = 0 if min(scene.size) >= 100 else 3
        x, y = (round(v, digits) for v in across(scene, x, y))
        self._control.put(self._control.spec.name, (x, y), self._gesture)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        step = by.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
            return
        times = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        x, y = self._control.value
        name = self._control.spec.name
        dx, dy = way(self._control.hand.scene(), *step)
        self._control.put(name, (x + dx * times, y + dy * times), ("keys", name))

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(t.color("carnelian" if self.hasFocus() else "line"), 1.2))
        painter.setBrush(t.color("panel"))
        painter.drawRoundedRect(QRectF(0.5, 0.5, self.width() - 1, self.height() - 1), 3, 3)
        scene = self._control.hand.scene()
        x, y = across(scene, *self._control.value)
        spot = QPointF(
            max(3.0, min(self.width() - 3.0, x / scene.size[0] * self.width())),
            max(3.0, min(self.height() - 3.0, y / scene.size[1] * self.height())),
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("chrysoprase"))
        painter.drawEllipse(spot, 3.5, 3.5)
        painter.end()


class PointControl(Control):
    """A pad and the two numbers."""

    def __init__(self, spec: Input, hand: Hand) -> None:
        super().__init__(spec, hand)
        self.pad = Pad(self)
        self.row.addWidget(self.pad)
        self.entry = QLineEdit()
        self.entry.setFixedWidth(76)
        self.entry.setAccessibleName(spec.title)
        self.entry.editingFinished.connect(self._typed)
        self.row.addWidget(self.entry)
        self.show_value(spec.value)

    def _typed(self) -> None:
        if self.entry.text() == self._words():
            return
        parts = self.entry.text().replace(";", ",").split(",")
        try:
            if len(parts) != 2:
                raise ValueProblem(f"{shorten(self.entry.text())} is not a point.", hint="Type x, y, such as 120, 80.")
            self.put(self.spec.name, (calculate(parts[0]), calculate(parts[1])), None)
        except ChalcedonError as problem:
            self.hand.say(problem.sentence)
        self.entry.setText(self._words())

    def show_value(self, value: Any) -> None:
        super().show_value(value)
        self.pad.update()
        if not self.entry.hasFocus():
            self.entry.setText(self._words())

    def _words(self) -> str:
        return ", ".join(show(v) for v in self.value)


_MADE = {
    "number": NumberControl,
    "switch": SwitchControl,
    "choice": ChoiceControl,
    "colour": ColourControl,
    "text": TextControl,
    "point": PointControl,
}
assert _MADE.keys() == KINDS.keys() and KINDS["number"] == NUMBER


def make_control(spec: Input, hand: Hand) -> Control:
    """The control that suits an input."""
    control = _MADE[spec.kind](spec, hand)
    control.restyle()
    return control
