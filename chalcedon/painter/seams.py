"""Cut-outs along edges that coincide.

Coverage says how much of a px two shapes cover, not which part. Where the edge of a cut-out runs along an edge of what
it cuts, half of half a px would be left standing as a pale line that is nowhere hit. Such px are painted again, finely.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.geometry import Affine
from chalcedon.painter.compose import FORMAT
from chalcedon.painter.parts import Target
from chalcedon.painter.planes import pixels

FINE = 8
"""Fine px along a px."""
TILE = 32
"""Px painted again at once, along a side."""
CROSSING = 3
"""So few px in a tile are edges that cross: there the product of coverages is right."""


def mend_seams(canvas: Target, area: QRect, before: QImage, paint: Callable[[QImage, Affine], None]) -> None:
    """Paints px of a canvas again where a cut-out left a part of a partly covered px.

    `before` is what `area` of the canvas held before the cut; `paint` paints all up to the cut onto another
    picture, by a map from scene px to its px.
    """
    was = pixels(before)[:, :, 3]
    now = canvas.image.copy(area)
    px = pixels(now)
    partly = (px[:, :, 3] > 0) & (px[:, :, 3] < was) & (was < 255)
    mended = False
    for y in range(0, area.height(), TILE):
        for x in range(0, area.width(), TILE):
            part = partly[y : y + TILE, x : x + TILE]
            if np.count_nonzero(part) > CROSSING:
                height, width = part.shape
                fine = _finely(canvas.view, QRect(area.x() + x, area.y() + y, width, height), paint)
                px[y : y + TILE, x : x + TILE][part] = pixels(fine)[part]
                mended = True
    if mended:
        canvas.painter.resetTransform()
        canvas.painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        canvas.painter.drawImage(area.topLeft(), now)
        canvas.painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)


def _finely(view: Affine, tile: QRect, paint: Callable[[QImage, Affine], None]) -> QImage:
    """A tile of a canvas painted at FINE times the size, and brought back to its own."""
    image = QImage(tile.size() * FINE, FORMAT)
    image.fill(Qt.GlobalColor.transparent)
    paint(image, Affine.scale(FINE, FINE).after(Affine.translate(-tile.x(), -tile.y())).after(view))
    return image.scaled(tile.size(), Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
