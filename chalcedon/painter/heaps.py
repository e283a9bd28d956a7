"""Areas made of very many pieces that lie over one another.

The toolkit's antialiased filling takes quadratic time in the edges that cross one row of px: a wide stroke of a tightly
curled line, or one with a thousand short dashes, would hold the window up for seconds. Such an area is filled a few
pieces at a time, without antialiasing, on a mask several times as fine, which is then brought to its size.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from PySide6.QtCore import QRect, Qt
from PySide6.QtGui import QBrush, QImage, QPainter, QPainterPath, QTransform

from chalcedon.geometry import Outline
from chalcedon.painter.compose import FORMAT

MOST_EDGES = 400
"""Edges across a row, on average, above which an area is a heap."""
BUNCH = 16
"""Pieces filled at once."""
FINE = 8
"""Rows and columns of the mask along a px."""
BLOCK = 256
"""Px along a side that are made at once: it bounds the mask's memory."""
_WHITE = QBrush(Qt.GlobalColor.white)


def bunches(path: Outline) -> list[Outline]:
    """The pieces of an outline, all of them in one path, or in bunches where they are a heap.

    Every subpath is a piece, and all turn the same way, so that bunches filled one by one cover the same area."""
    pieces = path.verbs.split("M")[1:]
    if 2 * len(pieces) <= MOST_EDGES:
        return [path]
    out, rows, first = [], 0.0, 0
    for i in range(0, len(pieces), BUNCH):
        coords: list[float] = []
        for piece in pieces[i : i + BUNCH]:
            last = first + 2 + 2 * piece.count("L") + 4 * piece.count("Q") + 6 * piece.count("C")
            own = path.coords[first:last]
            rows += 2.0 * (max(own[1::2]) - min(own[1::2]))
            coords += own
            first = last
        out.append(Outline("M" + "M".join(pieces[i : i + BUNCH]), tuple(coords)))
    ys = path.coords[1::2]  # with control points, which lie near enough: exact bounds would take as long as the rest
    return out if rows > MOST_EDGES * (max(ys) - min(ys)) else [path]


def fill_heap(painter: QPainter, target: QImage, paths: Sequence[QPainterPath], brush: QBrush, m: QTransform) -> None:
    """Fills paths as one area, with the painter's opacity. `m` maps their px to those of the target that is painted."""
    placed = [(m.mapRect(path.boundingRect()).toAlignedRect().adjusted(-1, -1, 1, 1), path) for path in paths]
    whole = QRect()
    for box, _path in placed:
        whole |= box
    whole &= target.rect()
    if painter.hasClipping():
        painter.resetTransform()
        whole &= painter.clipBoundingRect().toAlignedRect()
    for block in _blocks(whole):
        reached = [path for box, path in placed if box.intersects(block)]
        if reached:
            sheet = _painted(block, brush, m)
            masking = QPainter(sheet)
            masking.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationIn)
            masking.drawImage(0, 0, _mask(block, reached, m))
            masking.end()
            painter.resetTransform()
            painter.drawImage(block.topLeft(), sheet)


def _blocks(area: QRect) -> Iterator[QRect]:
    for y in range(area.top(), area.bottom() + 1, BLOCK):
        for x in range(area.left(), area.right() + 1, BLOCK):
            yield QRect(x, y, BLOCK, BLOCK) & area


def _painted(block: QRect, brush: QBrush, m: QTransform) -> QImage:
    """A block of a target filled with a brush whose own space is mapped by `m`."""
    image = QImage(block.size(), FORMAT)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    paint = QBrush(brush)
    paint.setTransform(brush.transform() * m * QTransform.fromTranslate(-block.x(), -block.y()))
    painter.fillRect(image.rect(), paint)
    painter.end()
    return image


def _mask(block: QRect, paths: Sequence[QPainterPath], m: QTransform) -> QImage:
    fine = QImage(block.size() * FINE, QImage.Format.Format_Alpha8)
    fine.fill(0)
    painter = QPainter(fine)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(_WHITE)
    painter.setTransform(m * QTransform.fromTranslate(-block.x(), -block.y()) * QTransform.fromScale(FINE, FINE))
    for path in paths:
        painter.drawPath(path)
    painter.end()
    kept, smooth = Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation
    return fine.scaled(block.size(), kept, smooth)
