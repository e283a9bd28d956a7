"""Small live pictures of shapes, one a row, painted again only when the shape looks different."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPixmap

from chalcedon.desk.glyphs import glyph
from chalcedon.desk.theme import theme
from chalcedon.evaluate import DisplayList, Node
from chalcedon.geometry import Affine
from chalcedon.painter.job import FORMAT, PaintJob

SIDE = 18
MOST = 60
"""A group of more shapes is shown by its glyph."""


class Thumbs:
    def __init__(self, display: DisplayList, ratio: float) -> None:
        self.display = display
        self.ratio = ratio
        self._known: dict[int, tuple[object, QPixmap]] = {}

    def of(self, node: Node) -> QPixmap:
        """The picture of a shape or a group, SIDE widget px wide."""
        leaves = node.walk_leaves() if node.group else [node]
        if node.group and (len(leaves) > MOST or not leaves):
            return glyph("group", theme().muted, SIDE, self.ratio)
        if not node.kind.paints and not node.group:
            return glyph("unknown", theme().muted, SIDE, self.ratio)
        # the shape may move as a whole without looking different: positions count relative to the first
        x, y = leaves[0].world[4:]
        state: object = tuple(
            (
                leaf.outline_version,
                leaf.paint_version,
                leaf.world[:4],
                round(leaf.world.e - x, 2),
                round(leaf.world.f - y, 2),
            )
            for leaf in leaves
        )
        known = self._known.get(id(node))
        if known is None or known[0] != state:
            if len(self._known) > 5000:
                self._known.clear()
            known = self._known[id(node)] = (state, self._paint(node, leaves))
        return known[1]

    def _paint(self, node: Node, leaves: list[Node]) -> QPixmap:
        left, top, right, bottom = node.painted_bounds()
        pixels = round(SIDE * self.ratio)
        image = QImage(pixels, pixels, FORMAT)
        image.fill(Qt.GlobalColor.transparent)
        if left <= right:
            scale = (pixels - 2) / max(right - left, bottom - top, 1.0)
            view = Affine(
                scale, 0.0, 0.0, scale, pixels / 2 - (left + right) / 2 * scale, pixels / 2 - (top + bottom) / 2 * scale
            )
            PaintJob(self.display, leaves, image, view).run()
        out = QPixmap.fromImage(image)
        out.setDevicePixelRatio(self.ratio)
        return out
