"""Cut-outs and clips along edges that coincide.

Coverage says how much of a px two shapes cover, not which part. Where the edge of a cut-out or clip runs along an edge
of what it cuts, half of half a px would be left standing as a pale line that is nowhere hit. Such px are painted again,
finely.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.painter.compose import FORMAT
from chalcedon.painter.parts import Target, extent_of
from chalcedon.painter.planes import pixels

CUT_FINE, CLIP_FINE = 8, 4
"""Fine px along a px. A clip has more edges than a cut-out, and is wrong by a sixteenth at most."""
TILE = 32
"""Px painted again at once, along a side."""
CROSSING = 3
"""So few px in a tile are edges that cross: there the product of coverages is right."""


Again = Callable[[QImage, Affine], None]
"""Paints what is being mended onto another picture, by a map from scene px to its px."""


class Among:
    """Nodes, those that an image shows found quickly."""

    def __init__(self, nodes: Sequence[Node]) -> None:
        self._nodes = nodes
        self._boxes = np.array([extent_of(n) for n in nodes]).reshape(-1, 4)

    def seen(self, image: QImage, view: Affine) -> list[Node]:
        """The nodes that may leave paint on an image, by a map from scene px to its px."""
        back = view.inverse()
        if back is None:
            return []
        left, top, right, bottom = back.map_box((0.0, 0.0, image.width(), image.height()))
        x0, y0, x1, y1 = self._boxes.T
        shown = (x0 <= right) & (x1 >= left) & (y0 <= bottom) & (y1 >= top)
        return [self._nodes[i] for i in np.flatnonzero(shown).tolist()]


def mend_cut(canvas: Target, area: QRect, before: QImage, again: Again) -> None:
    """Paints px of a canvas again where a cut-out left a part of a partly covered px.

    `before` is what `area` of the canvas held before the cut; `again` paints all up to the cut.
    """
    was = pixels(before)[:, :, 3]
    now = canvas.image.copy(area)
    left = pixels(now)[:, :, 3]
    if _mend(now, (left > 0) & (left < was) & (was < 255), area.topLeft(), canvas.view, again, CUT_FINE):
        canvas.painter.resetTransform()
        canvas.painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        canvas.painter.drawImage(area.topLeft(), now)
        canvas.painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)


def mend_clip(image: QImage, view: Affine, before: QImage, mask: QImage, again: Again) -> None:
    """Paints px of a clipped picture again where the mask covers a part of a partly covered px.

    `before` is what the picture held before it was clipped; `again` paints all of it, clipped.
    """
    was, kept = pixels(before)[:, :, 3], pixels(mask)[:, :, 3]
    _mend(image, (kept > 0) & (kept < 255) & (was > 0) & (was < 255), QPoint(0, 0), view, again, CLIP_FINE)


def _mend(now: QImage, partly: np.ndarray, corner: QPoint, view: Affine, again: Again, fine: int) -> bool:
    """Paints some px of a picture finely, whose top left px is `corner` by the view. Whether there were any."""
    px = pixels(now)
    height, width = partly.shape
    mended = False
    for y in range(0, height, TILE):
        for x in range(0, width, TILE):
            part = partly[y : y + TILE, x : x + TILE]
            if np.count_nonzero(part) > CROSSING:
                tile = QRect(corner.x() + x, corner.y() + y, part.shape[1], part.shape[0])
                image = _finely(view, tile, again, fine)
                px[y : y + TILE, x : x + TILE][part] = pixels(image)[part]
                mended = True
    return mended


def _finely(view: Affine, tile: QRect, again: Again, fine: int) -> QImage:
    """A tile of a canvas painted at `fine` times the size, and brought back to its own."""
    image = QImage(tile.size() * fine, FORMAT)
    image.fill(Qt.GlobalColor.transparent)
    again(image, Affine.scale(fine, fine).after(Affine.translate(-tile.x(), -tile.y())).after(view))
    return image.scaled(tile.size(), Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
