"""Many shapes carried by the hand: their picture moves at once, they themselves when they are put down."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter

from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.painter.outlines import transform

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

MANY = 400
"""Shapes from which on they are carried as a picture: to move each at every event takes too long for a frame."""
FEW = 100
"""The same for sizing and turning, which take longer."""


@contextmanager
def waiting() -> Iterator[None]:
    """Shows that it takes a moment, while many shapes are put down."""
    QGuiApplication.setOverrideCursor(Qt.CursorShape.WaitCursor)
    try:
        yield
    finally:
        QGuiApplication.restoreOverrideCursor()


class Carried:
    """Two pictures of what the canvas shows: what stays, and what is carried. While it is carried it lies in front."""

    def __init__(self, canvas: Canvas, nodes: Sequence[Node]) -> None:
        self.way = Affine()
        """What is done to it so far: a map of scene px."""
        self._view = canvas.view.matrix
        mine = {id(leaf) for n in nodes for leaf in (n.walk_leaves() if n.group else [n])}
        display, ratio = canvas.session.display, canvas.devicePixelRatioF()
        view = Affine.scale(ratio, ratio).after(canvas.view.matrix)
        width, height = round(canvas.width() * ratio), round(canvas.height() * ratio)
        self._rest = canvas.tiles.picture(view, width, height, [n for n in display.order if id(n) not in mine])
        self._moved = QImage(width, height, FORMAT)
        self._moved.fill(Qt.GlobalColor.transparent)
        PaintJob(display, [n for n in display.order if id(n) in mine], self._moved, view).run()
        for image in (self._rest, self._moved):
            image.setDevicePixelRatio(ratio)

    @staticmethod
    def are_many(nodes: Sequence[Node], many: int = MANY) -> bool:
        """Whether so many shapes are carried as a picture."""
        return sum(len(n.walk_leaves()) if n.group else 1 for n in nodes) >= many

    def draw(self, painter: QPainter) -> None:
        painter.drawImage(0, 0, self._rest)
        back = self._view.inverse()
        painter.save()
        if back is not None:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.way[:4] != (1.0, 0.0, 0.0, 1.0))
            painter.setTransform(transform(self._view.after(self.way).after(back)), True)
        painter.drawImage(0, 0, self._moved)
        painter.restore()
