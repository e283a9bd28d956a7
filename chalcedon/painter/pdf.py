"""A page as PDF: outlines stay outlines; what fades, blends or is masked as one is a picture of its own."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF, QSizeF
from PySide6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from chalcedon.evaluate import DisplayList, Node
from chalcedon.evaluate.order import Layer
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import is_empty, overlap, union
from chalcedon.painter.convert import prepared
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.painter.outlines import transform
from chalcedon.painter.parts import Target, paint_special
from chalcedon.painter.render import paint_page
from chalcedon.problems import ChalcedonError
from chalcedon.scene.paints import GradientLook, Pattern, Picture

POINTS = 0.75
"""Points of PDF that a px takes: a px is a 96th of an inch (CSS)."""
FINE = 3.0
"""Px of a picture for each of the scene's."""
LARGEST = 14_400.0
"""Points of a page's sides (PDF 1.7, annex C)."""


def pdf_bytes(display: DisplayList, nodes: Sequence[Node], area: Box, page: bool = True) -> bytes:
    """Some nodes, back to front, on a page that is an area in scene px. Raises ChalcedonError."""
    width, height = area[2] - area[0], area[3] - area[1]
    if not (0.0 < width * POINTS <= LARGEST and 0.0 < height * POINTS <= LARGEST):
        raise ChalcedonError(f"a PDF page of {width:g} x {height:g} px can't be made.")
    data = QBuffer()
    data.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(data)
    writer.setResolution(96)
    writer.setCreator("Chalcedon")
    size = QPageSize(
        QSizeF(width * POINTS, height * POINTS), QPageSize.Unit.Point, "", QPageSize.SizeMatchPolicy.ExactMatch
    )
    writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    painter = QPainter(writer)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setRenderHint(QPainter.RenderHint.LosslessImageRendering)
    _Page(display, painter, Affine.translate(-area[0], -area[1]), area).paint(nodes, page)
    painter.end()
    return bytes(data.data().data())


class _Page:
    def __init__(self, display: DisplayList, painter: QPainter, view: Affine, area: Box) -> None:
        self._display, self._painter, self._view, self._area = display, painter, view, area

    def paint(self, nodes: Sequence[Node], page: bool) -> None:
        if page:
            self._painter.setTransform(transform(self._view))
            paint_page(self._painter, self._display, 1.0)
        rank = self._display.rank
        at = 0
        while at < len(nodes):
            layer = self._layer(rank[nodes[at].slot])
            last = at + 1
            if layer is not None:
                while last < len(nodes) and rank[nodes[last].slot] < layer.last:
                    last += 1
                self._as_picture(nodes[at:last])
            elif overlap(nodes[at].cull, self._area):
                self._one(nodes[at])
            at = last

    def _layer(self, rank: int) -> Layer | None:
        """The outermost group around that is painted as one."""
        return next((layer for layer in self._display.layers if layer.first <= rank < layer.last), None)

    def _one(self, node: Node) -> None:
        if not _by_outlines(node):
            self._as_picture([node])
            return
        ready = prepared(node)
        if not ready.plain:
            paint_special(Target(self._painter, QImage(1, 1, FORMAT), self._view, self._display.scene.folder), node)
            return
        self._painter.setTransform(transform(self._view.after(node.world)))
        self._painter.setPen(ready.pen)
        self._painter.setBrush(ready.brush)
        self._painter.drawPath(ready.path)

    def _as_picture(self, nodes: Sequence[Node]) -> None:
        boxes = [n.cull for n in nodes if not is_empty(n.cull)]
        if not boxes:
            return
        x0, y0, x1, y1 = union(boxes)
        left, top, right, bottom = self._area
        x0, y0, x1, y1 = max(x0, left), max(y0, top), min(x1, right), min(y1, bottom)
        if x0 >= x1 or y0 >= y1:
            return
        image = QImage(max(1, int((x1 - x0) * FINE) + 1), max(1, int((y1 - y0) * FINE) + 1), FORMAT)
        if image.isNull():
            raise ChalcedonError("there is no memory for a part of the page that is a picture.")
        image.fill(0)
        PaintJob(self._display, nodes, image, Affine(FINE, 0.0, 0.0, FINE, -x0 * FINE, -y0 * FINE)).run()
        self._painter.setTransform(transform(self._view))
        self._painter.drawImage(QRectF(x0, y0, image.width() / FINE, image.height() / FINE), image)


def _by_outlines(node: Node) -> bool:
    """Whether a shape is painted by outlines alone, one over the other."""
    stroked = node.stroke is not None and node.pen is not None and node.pen.width > 0.0
    parts = (node.fill is not None) + stroked + (node.picture is not None)
    if isinstance(node.fill, Pattern):
        return False
    if node.opacity < 1.0 and (isinstance(node.fill, GradientLook) or isinstance(node.stroke, GradientLook)):
        return False  # the toolkit loses the one or the other transparency
    together = node.shadow is not None or node.blend != "normal" or node.cuts or (node.opacity < 1.0 and parts > 1)
    return not (together or node.manner.align != "center" or isinstance(node.stroke, Pattern | Picture))
