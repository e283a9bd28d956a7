"""A place to choose a paint: a plane of lightness and chroma, a bar of hues, alpha, the colours in use, CSS text."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPoint, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from chalcedon.desk.theme import font, theme
from chalcedon.problems import ValueProblem
from chalcedon.scene import Scene
from chalcedon.scene.color import rgba, to_hex

MOST_USED = 24


class _Bar(QWidget):
    """One or two fractions set by pressing, dragging or arrow keys."""

    moved = Signal(float, float)

    def __init__(self, width: int, height: int, name: str, plane: bool = False) -> None:
        super().__init__()
        self.setFixedSize(width, height)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.across = self.down = 0.0
        self.plane = plane
        self.painter_of: Callable[[QPainter, QRectF], None] = lambda p, r: None

    def set(self, x: float, y: float = 0.0) -> None:
        self.across, self.down = x, y
        self.update()

    def _point(self, event: QMouseEvent) -> None:
        self.across = min(1.0, max(0.0, (event.position().x() - 6) / (self.width() - 12)))
        self.down = min(1.0, max(0.0, (event.position().y() - 6) / (self.height() - 12))) if self.plane else 0.0
        self.update()
        self.moved.emit(self.across, self.down)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._point(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._point(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way = step.get(Qt.Key(event.key()))
        if way is None or (way[1] and not self.plane):
            super().keyPressEvent(event)
            return
        self.across = min(1.0, max(0.0, self.across + way[0] * 0.01))
        self.down = min(1.0, max(0.0, self.down + way[1] * 0.01))
        self.update()
        self.moved.emit(self.across, self.down)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        inner = QRectF(self.rect()).adjusted(6, 6, -6, -6)
        self.painter_of(painter, inner)
        at = QPoint(
            round(inner.left() + self.across * inner.width()),
            round(inner.top() + self.down * inner.height()) if self.plane else round(inner.center().y()),
        )
        for width, color in ((4, QColor("white")), (2, QColor("#22292e"))):
            painter.setPen(QPen(color, width))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(at, 5, 5)
        if self.hasFocus():
            painter.setPen(QPen(theme().color("carnelian"), 1.4))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        painter.end()


class ColorPicker(QFrame):
    """A popup. Emits `picked` with CSS text, or None for no paint, while the person tries colours out."""

    picked = Signal(object)
    closed = Signal()

    def __init__(self, scene: Scene, value: str | None, title: str, allow_none: bool = True) -> None:
        super().__init__(None, Qt.WindowType.Popup)
        t = theme()
        self.setStyleSheet(f"ColorPicker {{ background: {t.panel}; border: 1px solid {t.line}; }}")
        self.setAccessibleName(f"Colour of {title}")
        self._value = value
        start = QColor(*rgba(value)) if value is not None else QColor("#d97b4a")
        self._hue, self._sat, self._val, self._alpha = _hsva(start)
        self.plane = _Bar(232, 150, "Saturation and brightness", plane=True)
        self.plane.painter_of = self._paint_plane
        self.plane.moved.connect(self._plane_moved)
        self.hues = _Bar(232, 24, "Hue")
        self.hues.painter_of = self._paint_hues
        self.hues.moved.connect(self._hue_moved)
        self.alphas = _Bar(232, 24, "Opacity of the colour")
        self.alphas.painter_of = self._paint_alphas
        self.alphas.moved.connect(self._alpha_moved)
        self.text = QLineEdit(value or "none")
        self.text.setAccessibleName("Colour as CSS text")
        self.text.textEdited.connect(self._typed)
        self.text.returnPressed.connect(self.close)
        self.complaint = QLabel("")
        self.complaint.setWordWrap(True)
        self.complaint.setStyleSheet(f"color: {t.carnelian}")
        self.complaint.setFont(font(12))
        self.complaint.hide()
        head = QLabel(title)
        head.setFont(font(13, bold=True))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 10)
        layout.setSpacing(4)
        for part in (head, self.plane, self.hues, self.alphas):
            layout.addWidget(part)
        row = QHBoxLayout()
        row.addWidget(self.text)
        if allow_none:
            none = QPushButton("none")
            none.clicked.connect(self._none)
            row.addWidget(none)
        layout.addLayout(row)
        layout.addWidget(self.complaint)
        self._add_swatches(layout, scene)
        self._show_color()

    def _add_swatches(self, layout: QVBoxLayout, scene: Scene) -> None:
        used: dict[str, int] = {}
        for shape in scene.walk():
            for name in ("fill", "stroke"):
                color = shape.plain_values().get(name)
                if isinstance(color, str):
                    used[color] = used.get(color, 0) + 1
        if not used:
            return
        label = QLabel("in this scene")
        label.setFont(font(12))
        label.setStyleSheet(f"color: {theme().muted}")
        layout.addWidget(label)
        most = sorted(used, key=lambda c: -used[c])[:MOST_USED]
        for first in range(0, len(most), 12):
            row = QHBoxLayout()
            row.setSpacing(3)
            for color in most[first : first + 12]:
                button = QPushButton()
                button.setFixedSize(16, 16)
                button.setToolTip(color)
                button.setAccessibleName(color)
                r, g, b, a = rgba(color)
                button.setStyleSheet(
                    f"QPushButton {{ background: rgba({r},{g},{b},{a}); padding: 0; border-radius: 3px;"
                    f" border: 1px solid {theme().line}; }}"
                    f"QPushButton:focus {{ border: 2px solid {theme().carnelian}; }}"
                )
                button.clicked.connect(lambda _=False, c=color: self._swatch(c))
                row.addWidget(button)
            row.addStretch()
            layout.addLayout(row)

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
        color = QColor.fromHsvF(self._hue, self._sat, self._val, self._alpha)
        self._value = to_hex((color.red(), color.green(), color.blue(), color.alpha()))
        self.text.setText(self._value)
        self.complaint.hide()
        self._show_color()
        self.picked.emit(self._value)

    def _typed(self, text: str) -> None:
        text = text.strip()
        if text in ("", "none"):
            self.picked.emit(None)
            return
        try:
            color = QColor(*rgba(text))
        except ValueProblem as problem:
            self.complaint.setText(str(problem))
            self.complaint.show()
            self.adjustSize()
            return
        self.complaint.hide()
        self._hue, self._sat, self._val, self._alpha = _hsva(color)
        self._show_color()
        self.picked.emit(text)

    def _swatch(self, color: str) -> None:
        self.text.setText(color)
        self._typed(color)

    def _none(self) -> None:
        self.text.setText("none")
        self.picked.emit(None)

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

    def closeEvent(self, event: object) -> None:
        self.closed.emit()

    def open_at(self, spot: QPoint) -> None:
        """Shows the popup with its corner at a screen point, kept on the screen."""
        self.adjustSize()
        screen = self.screen().availableGeometry()
        size = self.sizeHint()
        self.move(
            max(screen.left(), min(spot.x(), screen.right() - size.width())),
            max(screen.top(), min(spot.y(), screen.bottom() - size.height())),
        )
        self.show()
        self.text.setFocus()
        self.text.selectAll()


def _hsva(color: QColor) -> tuple[float, float, float, float]:
    return max(0.0, color.hsvHueF()), color.hsvSaturationF(), color.valueF(), color.alphaF()
