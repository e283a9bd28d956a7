"""Patterns: another shape as a tile, painted once at the size it is shown at, and repeated."""

from __future__ import annotations

import math
from typing import Protocol

from PySide6.QtGui import QBrush, QImage, QTransform

from chalcedon.evaluate import Node
from chalcedon.evaluate.tiles import around, cell_of, placed, upright
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import is_empty
from chalcedon.painter.outlines import transform
from chalcedon.scene.paints import Pattern

MOST_PX = 2048
"""Px of a tile along a side."""


class Draw(Protocol):
    """Paints a node onto an image, by a map from scene px to its px. `tiles` keeps those that were painted."""

    tiles: dict[object, QImage]

    def __call__(self, node: Node, image: QImage, view: Affine) -> None: ...


class DrawNothing:
    """Where there are no tiles."""

    def __init__(self) -> None:
        self.tiles: dict[object, QImage] = {}

    def __call__(self, node: Node, image: QImage, view: Affine) -> None:
        pass


def tile_brush(tile: Node, pattern: Pattern, box: Box, scale: float, draw: Draw, over: bool = False) -> QBrush | None:
    """A brush of tiles for a box in local px, each of which takes `scale` device px. None where there is nothing."""
    cell, place = cell_of(tile), placed(pattern, box, over)
    back = around(tile).inverse()
    width, height = cell[2] - cell[0], cell[3] - cell[1]
    if is_empty(cell) or width <= 0.0 or height <= 0.0 or back is None or place.inverse() is None:
        return None
    fine = scale * place.stretch
    w, h = (min(MOST_PX, max(1, math.ceil(side * fine - 1e-6))) for side in (width, height))
    image = draw.tiles.get((tile.slot, id(tile), w, h))
    if image is None:
        image = QImage(w, h, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(0)
        # whole px, so that the tiles meet without a seam
        view = Affine.scale(w / width, h / height).after(upright(tile, cell)).after(back)
        draw(tile, image, view)
        draw.tiles[tile.slot, id(tile), w, h] = image
    brush = QBrush(image)
    brush.setTransform(QTransform.fromScale(width / w, height / h) * transform(place))
    return brush
