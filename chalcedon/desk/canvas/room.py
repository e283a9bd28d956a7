"""Where on the canvas something may stand without covering what it speaks of."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRectF, QSize

from chalcedon.desk.canvas.overlay import RULER
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import is_empty

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

MARGIN = 8


def free_corner(canvas: Canvas, boxes: Sequence[Box]) -> Callable[[QSize], QPoint]:
    """Gives, for the size of a panel, the screen point at which it stands in a corner of the canvas and covers least of
    some places in scene px."""
    seen = [canvas.view.matrix.map_box(b) for b in boxes if not is_empty(b)]
    taken = [QRectF(x0, y0, x1 - x0, y1 - y0) for x0, y0, x1, y1 in seen]

    def corner(size: QSize) -> QPoint:
        inner = canvas.rect().adjusted(RULER + MARGIN, RULER + MARGIN, -MARGIN, -MARGIN)
        right, bottom = inner.right() - size.width(), inner.bottom() - size.height()
        places = [QPoint(x, y) for y in (inner.top(), bottom) for x in (right, inner.left())]

        def covered(place: QPoint) -> float:
            overlaps = (QRectF(place, size).intersected(t) for t in taken)
            return sum(o.width() * o.height() for o in overlaps)

        return canvas.mapToGlobal(min(places, key=covered))

    return corner
