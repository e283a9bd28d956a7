"""Painting a run of the display list onto an image, in slices if need be."""

from __future__ import annotations

import time
from collections.abc import Sequence

from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QImage, QPainter, QTransform

from chalcedon.evaluate import DisplayList, Node
from chalcedon.geometry import Affine
from chalcedon.painter.convert import prepared

FORMAT = QImage.Format.Format_ARGB32_Premultiplied
LOOK_AT_CLOCK = 8
"""Shapes between two looks at the clock."""


class PaintJob:
    """Paints `nodes` (back to front) onto `image`, with `view` mapping scene px to image px.

    `run` may be called again and again with a deadline until it returns True. Between calls the painters
    stay open, so `close` must be called when a job is given up. A job is for one version of the display
    list: after an update, give it up and begin anew.
    """

    def __init__(
        self, display: DisplayList, nodes: Sequence[Node], image: QImage, view: Affine, clip: QRect | None = None
    ) -> None:
        self._display = display
        self._nodes = nodes
        self._view = view
        self._image = image
        self._clip = clip
        self._next = 0
        self._next_layer = 0
        self._matrix = QTransform()
        self._layers: list[tuple[int, float, QImage, QPainter]] = []
        self._painter = self._begin(image)

    def _begin(self, image: QImage) -> QPainter:
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._clip is not None:
            painter.setClipRect(self._clip)
        return painter

    def run(self, deadline: float = float("inf")) -> bool:
        """Paints until done (True) or until the clock (time.perf_counter) passes the deadline (False)."""
        nodes, count = self._nodes, len(self._nodes)
        layered = bool(self._display.layers)
        va, vb, vc, vd, ve, vf = self._view
        plain = vb == 0.0 and vc == 0.0
        set_matrix = self._matrix.setMatrix
        matrix = self._matrix
        painter = self._painter
        index = self._next
        pen = brush = None
        while index < count:
            stop = min(count, index + LOOK_AT_CLOCK)
            for node in nodes[index:stop]:
                if layered:
                    now = self._switch_layers(self._display.rank[node.slot])
                    if now is not painter:
                        painter = now
                        pen = brush = None
                ready = prepared(node)
                a, b, c, d, e, f = node.world
                if plain:
                    set_matrix(va * a, vd * b, 0.0, va * c, vd * d, 0.0, va * e + ve, vd * f + vf, 1.0)
                else:
                    set_matrix(
                        va * a + vc * b,
                        vb * a + vd * b,
                        0.0,
                        va * c + vc * d,
                        vb * c + vd * d,
                        0.0,
                        va * e + vc * f + ve,
                        vb * e + vd * f + vf,
                        1.0,
                    )
                if ready.faint:
                    self._paint_faint(painter, node)
                    pen = brush = None
                    continue
                painter.setTransform(matrix)
                if ready.pen is not pen:
                    pen = ready.pen
                    painter.setPen(pen)
                if ready.brush is not brush:
                    brush = ready.brush
                    painter.setBrush(brush)
                painter.drawPath(ready.path)
            index = stop
            if index < count and time.perf_counter() > deadline:
                self._next = index
                return False
        self.close()
        return True

    def close(self) -> None:
        """Composes what is open and ends every painter. An active painter at exit would crash the process."""
        self._next = len(self._nodes)
        while self._layers:
            self._close_layer()
        if self._painter.isActive():
            self._painter.end()

    def _paint_faint(self, painter: QPainter, node: Node) -> None:
        """A shape with an opacity of its own; with fill and stroke the two fade as one picture."""
        ready = prepared(node)
        target = painter
        image: QImage | None = None
        if ready.faint == 2:
            image = self._sheet()
            target = self._begin(image)
        else:
            painter.setOpacity(node.opacity)
        target.setTransform(self._matrix)
        target.setPen(ready.pen)
        target.setBrush(ready.brush)
        target.drawPath(ready.path)
        if image is not None:
            target.end()
            self._lay_down(painter, image, node.opacity)
        painter.setOpacity(1.0)

    def _sheet(self) -> QImage:
        image = QImage(self._image.size(), FORMAT)
        image.fill(Qt.GlobalColor.transparent)
        return image

    def _lay_down(self, painter: QPainter, image: QImage, opacity: float) -> None:
        painter.resetTransform()
        painter.setOpacity(opacity)
        painter.drawImage(0, 0, image)
        painter.setOpacity(1.0)

    def _switch_layers(self, rank: int) -> QPainter:
        """The painter for the shape at `rank`: layers that ended are laid down, those that begin are opened."""
        while self._layers and self._layers[-1][0] <= rank:
            self._close_layer()
        layers = self._display.layers
        while self._next_layer < len(layers) and layers[self._next_layer][0] <= rank:
            _first, last, opacity = layers[self._next_layer]
            self._next_layer += 1
            if last > rank:
                image = self._sheet()
                self._layers.append((last, opacity, image, self._begin(image)))
        return self._layers[-1][3] if self._layers else self._painter

    def _close_layer(self) -> None:
        _last, opacity, image, painter = self._layers.pop()
        painter.end()
        self._lay_down(self._layers[-1][3] if self._layers else self._painter, image, opacity)
