"""Many shapes carried by the hand: their picture moves at once, they themselves when they are put down."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.painter.job import FORMAT, PaintJob

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

MANY = 400
"""Shapes from which on they are carried as a picture: to move each at every event takes too long for a frame."""


class Carried:
    """Two pictures of what the canvas shows: what stays, and what is carried. While it is carried it lies in front."""

    def __init__(self, canvas: Canvas, nodes: Sequence[Node]) -> None:
        self.offset = (0.0, 0.0)
        """How far it has been carried, in scene px."""
        self._zoom = canvas.view.zoom
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
    def are_many(nodes: Sequence[Node]) -> bool:
        """Whether so many shapes are carried as a picture."""
        return sum(len(n.walk_leaves()) if n.group else 1 for n in nodes) >= MANY

    def draw(self, painter: QPainter) -> None:
        painter.drawImage(0, 0, self._rest)
        painter.drawImage(QPointF(self.offset[0] * self._zoom, self.offset[1] * self._zoom), self._moved)
