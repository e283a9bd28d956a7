"""Places that light up once and fade, so that the eye finds what changed."""

from __future__ import annotations

import time
from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPen

from chalcedon.desk.looks.theme import theme
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import is_empty

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

SECONDS = 1.1
FRAME_MS = 33
MARGIN = 3.0
"""Widget px around a place."""


class Flash:
    """Ends by itself."""

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas
        self.boxes: list[Box] = []
        self._began = 0.0
        self._timer = QTimer(canvas)
        self._timer.setInterval(FRAME_MS)
        self._timer.timeout.connect(self._go_on)
        canvas.session.flashed.connect(self.start)

    def start(self, boxes: Sequence[Box]) -> None:
        """Lights up places in scene px."""
        self.boxes = [b for b in boxes if not is_empty(b)]
        self._began = time.monotonic()
        if self.boxes:
            self._timer.start()
        self.canvas.update()

    def _go_on(self) -> None:
        if time.monotonic() - self._began >= SECONDS:
            self._timer.stop()
            self.boxes = []
        self.canvas.update()

    def draw(self, painter: QPainter) -> None:
        """Draws them, fainter by the time that has passed."""
        left = max(0.0, 1.0 - (time.monotonic() - self._began) / SECONDS)
        for box in self.boxes:
            x0, y0, x1, y1 = self.canvas.view.matrix.map_box(box)
            place = QRectF(x0, y0, x1 - x0, y1 - y0).adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN)
            painter.setPen(QPen(theme().color("carnelian", round(255 * left)), 1.6))
            painter.setBrush(theme().color("carnelian", round(70 * left)))
            painter.drawRoundedRect(place, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
