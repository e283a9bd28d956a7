"""Ready pictures of shapes that only move, one for each quarter of a px at which they can stand.

A picture laid down costs a tenth of painting the shape. While it moves a shape is an eighth of a px from its place at
most; what rests is painted itself. All shapes that look the same share their pictures.
"""

from __future__ import annotations

import math
from typing import Any

from PySide6.QtGui import QImage, QPainter, QTransform

from chalcedon.evaluate import Node
from chalcedon.painter.compose import FORMAT
from chalcedon.painter.convert import Prepared

MOST_MADE = 50
"""Pictures that one frame makes: making one takes as long as painting the shape twice."""
LARGEST = 150.0
"""Px: what is larger gains less, and its pictures are large."""
MOST_BYTES = 64 << 20
QUARTERS = 4


class Stamp:
    """The pictures of one look."""

    __slots__ = ("_height", "_linear", "_ready", "_width", "gone", "images", "left", "of", "top", "used")

    def __init__(self, of: Stamps, node: Node, ready: Prepared) -> None:
        a, b, c, d, e, f = node.world
        scale = of.scale
        self.of, self._ready, self._linear = of, ready, (a * scale, b * scale, c * scale, d * scale)
        x0, y0, x1, y1 = node.cull
        # from the whole px of the shape's origin to the pictures' corner
        self.left, self.top = math.floor((x0 - e) * scale) - 1, math.floor((y0 - f) * scale) - 1
        self._width = math.ceil((x1 - e) * scale) + 2 - self.left
        self._height = math.ceil((y1 - f) * scale) + 2 - self.top
        self.images: list[QImage | None] = [None] * QUARTERS**2
        """Those that are made, by quarters down and right."""
        self.used = 0
        """The frame that it was used in last."""
        self.gone = False

    def made(self, right: int, down: int) -> QImage | None:
        """Makes the picture for an origin so many quarters of a px right of and down from a whole px. None when there
        is no time for it in this frame."""
        if not self.of.left:
            return None
        self.of.left -= 1
        image = QImage(self._width, self._height, FORMAT)
        image.fill(0)
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        a, b, c, d = self._linear
        x, y = right / QUARTERS - self.left, down / QUARTERS - self.top
        painter.setTransform(QTransform(a, b, 0.0, c, d, 0.0, x, y, 1.0))
        painter.setPen(self._ready.pen)
        painter.setBrush(self._ready.brush)
        painter.drawPath(self._ready.path)
        painter.end()
        self.images[right + QUARTERS * down] = image
        return image

    @property
    def bytes(self) -> int:
        """What all its pictures take."""
        return self._width * self._height * 4 * QUARTERS**2

    def go(self) -> None:
        """Lets the pictures go."""
        self.gone, self.images = True, [None] * QUARTERS**2


class Stamps:
    """The stamps of one zoom. Those that no frame uses go when there is no room for others."""

    def __init__(self, scale: float) -> None:
        self.scale = scale
        self.left = 0
        """Pictures that this frame may still make."""
        self._found: dict[Any, Stamp] = {}
        self._bytes = self._frame = 0

    def begin(self) -> None:
        """A frame begins."""
        self._frame += 1
        self.left = MOST_MADE

    def of(self, node: Node) -> Stamp | None:
        """The stamp of a node that stands elsewhere than it was painted last and is otherwise the same; None for one
        that is to be painted itself."""
        ready: Prepared | None = node.scratch
        if (
            ready is None
            or ready.outline_version != node.outline_version
            or ready.paint_version != node.paint_version
            or not ready.plain
            or node.shades
        ):
            return None
        linear = node.world[:4]
        if ready.linear != linear:
            ready.linear, ready.stamp = linear, None
            return None  # it turned or grew, or is new
        stamp: Stamp | None = ready.stamp
        if stamp is None or stamp.gone or stamp.of is not self:
            stamp = ready.stamp = self._stamp(node, ready)
        if stamp is not None:
            stamp.used = self._frame
        return stamp

    def _stamp(self, node: Node, ready: Prepared) -> Stamp | None:
        x0, y0, x1, y1 = node.cull
        if x0 > x1 or max(x1 - x0, y1 - y0) * self.scale > LARGEST:
            return None
        outline = node.outline
        key = (outline.verbs, outline.coords, node.even_odd, node.fill, node.stroke, node.pen, node.world[:4])
        stamp = self._found.get(key)
        if stamp is None:
            stamp = Stamp(self, node, ready)
            if not self._room_for(stamp.bytes):
                return None
            self._found[key] = stamp
            self._bytes += stamp.bytes
        return stamp

    def _room_for(self, bytes: int) -> bool:
        if self._bytes + bytes > MOST_BYTES:
            for key in [k for k, s in self._found.items() if s.used < self._frame - 1]:
                old = self._found.pop(key)
                old.go()
                self._bytes -= old.bytes
        return self._bytes + bytes <= MOST_BYTES
