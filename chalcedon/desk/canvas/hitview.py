"""The hit map over the picture: made in idle slices, anew when scene or view change."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtGui import QBrush, QColor, QImage, QPainter

from chalcedon.desk.canvas import overlay

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas
    from chalcedon.painter.hitmap import HitMap

CARNELIAN = "#B8482A"
SLICE = 0.008
"""Seconds of work at a time: the window answers in between."""
NAMED = 5
"""So many of the shapes that are never hit are named."""


class HitView(QObject):
    """While the session shows the map, `session.unreached` are the shapes in view that the pointer never hits."""

    def __init__(self, canvas: Canvas) -> None:
        super().__init__(canvas)
        self.canvas = canvas
        self._state: object = None
        self._map: HitMap | None = None
        self._picture: QImage | None = None
        self._said = ""
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._work)

    def _wanted(self) -> object:
        view, session = self.canvas.view, self.canvas.session
        return session.display.version, view.zoom, view.x, view.y, self.canvas.size(), id(session.scene)

    def draw(self, painter: QPainter) -> None:
        """What there is of the map; begins it anew when it is old."""
        session = self.canvas.session
        if not session.hit_map:
            self._state = self._map = self._picture = None
            self._timer.stop()
            self._said = ""
            return
        wanted = self._wanted()
        if wanted != self._state:
            from chalcedon.painter.hitmap import HitMap  # NumPy, which would hold up the start

            self._state, self._picture = wanted, None
            self._map = HitMap(session.display, self.canvas.view.matrix, self.canvas.width(), self.canvas.height())
            self._timer.start()
        if self._picture is not None:
            painter.drawImage(0, 0, self._picture)
            for shape in session.unreached[:200]:
                node = session.display.find(shape)
                if node is not None:
                    path = overlay.outline_of(node, self.canvas.view)
                    painter.fillPath(path, QBrush(QColor(CARNELIAN), Qt.BrushStyle.BDiagPattern))
                    painter.setBrush(Qt.BrushStyle.NoBrush)
                    overlay.hairline(painter, path, QColor(CARNELIAN), True)

    def _work(self) -> None:
        if self._map is None or self._wanted() != self._state:
            self._timer.stop()
            self.canvas.update()
            return
        if not self._map.work(SLICE):
            return
        self._timer.stop()
        session = self.canvas.session
        self._picture = self._map.tinted()
        session.tell_unreached(self._map.unreached())
        self._map = None
        names = ", ".join(s.id for s in session.unreached[:NAMED])
        more = len(session.unreached) - NAMED
        text = f"The pointer never hits {names}{f' and {more} more' if more > 0 else ''} here." if names else ""
        if text != self._said:
            session.say(text or "The pointer hits every shape in view.")
        self._said = text
        self.canvas.update()
