"""The fields in which a colour is set: a plane of saturation and brightness, hue, opacity, CSS text."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QLinearGradient, QPainter
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.picker.bars import Bar
from chalcedon.formula import Formula
from chalcedon.formula.syntax import looks_like_formula, parse
from chalcedon.problems import ValueProblem
from chalcedon.scene.color import RGBA, to_hex
from chalcedon.scene.paints import COLOR, color, resolve

WIDE = 248


def typed_color(text: str, now: str) -> str | Formula:
    """The colour, or the formula of one, that was typed where there is another `now`. Raises ValueProblem."""
    formula = text.strip().removeprefix("=").strip()
    try:
        if formula == text.strip():
            return color(formula)
    except ValueProblem:
        if not looks_like_formula(formula) or formula.isidentifier():  # a word that is no colour is a slip
            raise
    parse(formula)
    return Formula(formula, now)


class ColorFields(QWidget):
    """Emits `changed` with CSS text, or the formula of a colour, while the person tries colours out; `none` when none
    is typed."""

    changed = Signal(object)
    none = Signal()
    done = Signal()

    def __init__(self, palette: dict[str, str]) -> None:
        super().__init__()
        self._palette = palette
        self._hue = self._sat = self._val = 0.0
        self._alpha = 1.0
        self.plane = Bar(WIDE, 130, "Saturation and brightness", plane=True)
        self.plane.painter_of = self._paint_plane
        self.plane.moved.connect(self._plane_moved)
        self.hues = Bar(WIDE, 24, "Hue")
        self.hues.painter_of = self._paint_hues
        self.hues.moved.connect(self._hue_moved)
        self.alphas = Bar(WIDE, 24, "Opacity of the colour")
        self.alphas.painter_of = self._paint_alphas
        self.alphas.moved.connect(self._alpha_moved)
        self.text = QLineEdit()
        self.text.setAccessibleName("Colour as CSS text")
        self.text.textEdited.connect(self._typed)
        self.text.returnPressed.connect(self.done)
        self.complaint = Label("")
        self.complaint.setWordWrap(True)
        self.complaint.setStyleSheet(f"color: {theme().carnelian}")
        self.complaint.setFont(font(12))
        self.complaint.hide()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        for part in (self.plane, self.hues, self.alphas, self.text, self.complaint):
            layout.addWidget(part)

    def show_paint(self, paint: str | Formula | None) -> None:
        """Shows a colour, or that there is none, without telling of it."""
        text = COLOR.plain(paint)
        found = None if text is None else resolve(text, self._palette)
        self.text.setText(paint.text if isinstance(paint, Formula) else text or "none")
        self.complaint.hide()
        self._take(found or (217, 123, 74, 255))

    def _take(self, value: RGBA) -> None:
        self._hue, self._sat, self._val, self._alpha = _hsva(QColor(*value))
        self._show_color()

    # input

    def _plane_moved(self, x: float, y: float) -> None:
        self._sat, self._val = x, 1 - y
        self._emit()

    def _hue_moved(self, x: float, _y: float) -> None:
        self._hue = min(x, 0.9999)
        self._emit()

    def _alpha_moved(self, x: float, _y: float) -> None:
        self._alpha = x
        self._emit()

    def _emit(self) -> None:
        text = self._now()
        self.text.setText(text)
        self.complaint.hide()
        self._show_color()
        self.changed.emit(text)

    def _now(self) -> str:
        c = QColor.fromHsvF(self._hue, self._sat, self._val, self._alpha)
        return to_hex((c.red(), c.green(), c.blue(), c.alpha()))

    def _typed(self, text: str) -> None:
        text = text.strip()
        if not text:
            return  # another is about to be typed
        if text == "none":
            self.none.emit()
            return
        try:
            typed = typed_color(text, self._now())
            found = None if isinstance(typed, Formula) else resolve(typed, self._palette)
            if found is None and not isinstance(typed, Formula):
                raise ValueProblem(f"the palette has no colour {text}.")
        except ValueProblem as problem:
            self.complaint.setText(problem.sentence)
            self.complaint.show()
            return
        self.complaint.hide()
        if found is not None:
            self._take(found)
        self.changed.emit(typed)

    def _show_color(self) -> None:
        self.plane.set(self._sat, 1 - self._val)
        self.hues.set(self._hue)
        self.alphas.set(self._alpha)

    # painting

    def _paint_plane(self, painter: QPainter, area: QRectF) -> None:
        across = QLinearGradient(area.topLeft(), area.topRight())
        across.setColorAt(0, QColor("white"))
        across.setColorAt(1, QColor.fromHsvF(self._hue, 1, 1))
        painter.fillRect(area, across)
        down = QLinearGradient(area.topLeft(), area.bottomLeft())
        down.setColorAt(0, QColor(0, 0, 0, 0))
        down.setColorAt(1, QColor("black"))
        painter.fillRect(area, down)

    def _paint_hues(self, painter: QPainter, area: QRectF) -> None:
        strip = QImage(360, 1, QImage.Format.Format_RGB32)
        for i in range(360):
            strip.setPixelColor(i, 0, QColor.fromHsv(i, 255, 255))
        painter.drawImage(area, strip)

    def _paint_alphas(self, painter: QPainter, area: QRectF) -> None:
        painter.fillRect(area, QColor("white"))
        painter.setPen(Qt.PenStyle.NoPen)
        side = area.height() / 2
        for i in range(int(area.width() / side) + 1):
            box = QRectF(area.left() + i * side, area.top() + (i % 2) * side, side, side) & area
            painter.fillRect(box, QColor("#c9c4ba"))
        color = QColor.fromHsvF(self._hue, self._sat, self._val)
        clear = QColor(color)
        clear.setAlpha(0)
        ramp = QLinearGradient(area.topLeft(), area.topRight())
        ramp.setColorAt(0, clear)
        ramp.setColorAt(1, color)
        painter.fillRect(area, ramp)


def _hsva(color: QColor) -> tuple[float, float, float, float]:
    return max(0.0, color.hsvHueF()), color.hsvSaturationF(), color.valueF(), color.alphaF()
