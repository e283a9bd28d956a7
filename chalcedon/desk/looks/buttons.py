"""Buttons that Enter presses as the space does. The toolkit's own know Enter only in dialogs, which there are none of
here, so that the button with the focus would stay silent. Every button of the window is made here."""

from __future__ import annotations

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QCheckBox, QPushButton, QToolButton, QWidget

from chalcedon.desk.looks.theme import theme
from chalcedon.view.guarded import Guarded


class Button(QPushButton):
    """A button with words."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setAutoDefault(True)


SIDE = 14
"""Px of a switch's box."""


class Switch(Guarded, QCheckBox):
    """Something that is so or not. The toolkit's own box is hardly seen in the dark."""

    def paintEvent(self, event: QPaintEvent) -> None:
        t, middle = theme(), self.height() / 2
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.hasFocus():
            painter.setPen(QPen(t.color("carnelian"), 1.0))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4.0, 4.0)
        on, usable = self.isChecked(), self.isEnabled()
        painter.setOpacity(1.0 if usable else 0.55)
        painter.setPen(QPen(t.color("carnelian" if on else "muted"), 1.2))
        painter.setBrush(t.color("carnelian" if on else "panel"))
        left, top = 5.0, middle - SIDE / 2
        painter.drawRoundedRect(QRectF(left, top, SIDE, SIDE), 2.5, 2.5)
        if on:
            painter.setPen(QPen(t.color("panel"), 2.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            tick = ((3.5, 7.2), (6.0, 9.8), (10.6, 4.4))
            painter.drawPolyline([QPointF(left + x, top + y) for x, y in tick])
        painter.setPen(t.color("ink" if usable else "muted"))
        painter.setOpacity(1.0)
        words = self.rect().adjusted(SIDE + 12, 0, 0, 0)
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.end()

    def hitButton(self, spot: QPoint) -> bool:
        return self.rect().contains(spot)

    def sizeHint(self) -> QSize:
        words = self.fontMetrics().size(0, self.text())
        return QSize(words.width() + SIDE + 18, max(26, words.height() + 6))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)


class ToolButton(QToolButton):
    """A small button, with a picture or a word."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)
