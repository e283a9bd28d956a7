"""Bars and planes on which fractions are set by hand: of a colour, and of a gradient's stops."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPoint, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QColor,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
)
from PySide6.QtWidgets import QWidget

from chalcedon.desk.looks.plain import set_tip
from chalcedon.desk.looks.theme import theme
from chalcedon.scene.color import RGBA
from chalcedon.view.guarded import Guarded


class Bar(Guarded, QWidget):
    """One or two fractions set by pressing, dragging or arrow keys."""

    moved = Signal(float, float)

    def __init__(self, width: int, height: int, name: str, plane: bool = False) -> None:
        super().__init__()
        self.setMinimumWidth(width)
        self.setFixedHeight(height)
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


class StopBar(Guarded, QWidget):
    """The stops of a gradient along a bar. A press on a stop takes hold of it, one beside the stops adds one; Delete
    takes the stop away, the arrow keys move it, Page Up and Page Down go to the next."""

    moved = Signal(int, float)
    added = Signal(float)
    removed = Signal(int)
    chosen = Signal(int)
    SIDE = 7

    def __init__(self, width: int) -> None:
        super().__init__()
        self.setMinimumWidth(width)
        self.setFixedHeight(40)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Stops of the gradient")
        set_tip(self, "Click adds a stop · drag moves it · Delete takes it away")
        self.stops: list[tuple[float, RGBA]] = []
        self.current = 0

    def set(self, stops: list[tuple[float, RGBA]], current: int) -> None:
        self.stops, self.current = stops, current
        self.update()

    def _x(self, offset: float) -> float:
        return self.SIDE + offset * (self.width() - 2 * self.SIDE)

    def _offset(self, x: float) -> float:
        return round(min(1.0, max(0.0, (x - self.SIDE) / (self.width() - 2 * self.SIDE))), 3)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        x = event.position().x()
        near = [i for i, (o, _) in enumerate(self.stops) if abs(self._x(o) - x) <= self.SIDE]
        if near:
            self.current = min(near, key=lambda i: abs(self._x(self.stops[i][0]) - x))
            self.chosen.emit(self.current)
        else:
            self.added.emit(self._offset(x))
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.moved.emit(self.current, self._offset(event.position().x()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.stops:
            step = 0.01 if key == Qt.Key.Key_Right else -0.01
            self.moved.emit(self.current, round(min(1.0, max(0.0, self.stops[self.current][0] + step)), 3))
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit(self.current)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and self.stops:
            way = 1 if key == Qt.Key.Key_PageDown else -1
            self.chosen.emit((self.current + way) % len(self.stops))
        elif key == Qt.Key.Key_Plus:
            self.added.emit(0.5)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bar = QRectF(self.SIDE, 3, self.width() - 2 * self.SIDE, 18)
        painter.setPen(QPen(t.color("line"), 1))
        painter.setBrush(QBrush(QColor("#ffffff")))
        painter.drawRoundedRect(bar, 3, 3)
        ramp = QLinearGradient(bar.topLeft(), bar.topRight())
        for offset, color in self.stops:
            ramp.setColorAt(offset, QColor(*color))
        painter.setBrush(ramp)
        painter.drawRoundedRect(bar, 3, 3)
        for i, (offset, color) in enumerate(self.stops):
            self._draw_stop(painter, self._x(offset), color, i == self.current)
        if self.hasFocus():
            painter.setPen(QPen(t.color("carnelian"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 4, 4)
        painter.end()

    def _draw_stop(self, painter: QPainter, x: float, color: RGBA, current: bool) -> None:
        t = theme()
        painter.setPen(QPen(t.color("carnelian" if current else "ink"), 2 if current else 1))
        painter.setBrush(QColor(*color[:3]))
        spots = [(x, 19), (x + 6, 25), (x + 6, 36), (x - 6, 36), (x - 6, 25)]
        painter.drawPolygon(QPolygonF([QPointF(*p) for p in spots]))
