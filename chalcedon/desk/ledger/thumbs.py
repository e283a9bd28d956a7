"""Small live pictures of shapes, one a row, painted again only when the shape looks different."""

from __future__ import annotations

import math
import time

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPixmap

from chalcedon.desk.looks.glyphs import glyph
from chalcedon.desk.looks.theme import theme
from chalcedon.evaluate import DisplayList, Node
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import inflate, is_empty, union
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.scene import Shape

SIDE = 18
FAINT = 6
"""A picture of which so little is painted, of 255, would seem empty: the glyph of the kind is shown."""
ALIKE = 0.2
"""What is about as light as the ground is shown on another."""
MOST = 60
"""A group of more shapes is shown by its glyph."""


KEPT, LEAST = 5000, 200
"""How many pictures are kept, and how many there are before those of shapes that are gone are looked for."""


class Thumbs:
    def __init__(self, display: DisplayList, ratio: float) -> None:
        self.display = display
        self.ratio = ratio
        self.hurried = True
        """Whether a frame waits for new pictures only so long. Whoever takes a picture of the window waits for all."""
        self._left = math.inf
        self.behind: list[Shape] = []
        """Shapes whose pictures were not painted in this frame."""
        self._known: dict[Node, tuple[object, QPixmap]] = {}
        self._room = LEAST

    def begin(self, seconds: float) -> None:
        """Begins a frame in which new pictures may take so long; one is painted in any case."""
        self._left = seconds if self.hurried else math.inf
        self.behind = []
        if len(self._known) > self._room:
            self._known = {node: known for node, known in self._known.items() if node.alive}
            if len(self._known) > KEPT:
                self._known.clear()
            self._room = max(LEAST, 2 * len(self._known))

    def of(self, node: Node) -> QPixmap | None:
        """The picture of a shape or a group, SIDE widget px wide. Without time left, the one that it had; its shape is
        then noted as `behind`."""
        leaves = node.walk_leaves() if node.group else [node]
        if node.group and (len(leaves) > MOST or not leaves):
            return glyph("group", theme().muted, SIDE, self.ratio)
        if node.cuts:
            return glyph(node.shape.kind, theme().muted, SIDE, self.ratio)
        if not node.kind.paints and not node.group:
            return glyph("unknown", theme().muted, SIDE, self.ratio)
        # the shape may move as a whole without looking different: positions count relative to the first
        x, y = leaves[0].world[4:]
        state: object = (
            theme().name,
            tuple(
                (
                    leaf.outline_version,
                    leaf.paint_version,
                    leaf.world[:4],
                    round(leaf.world.e - x, 2),
                    round(leaf.world.f - y, 2),
                )
                for leaf in leaves
            ),
        )
        known = self._known.get(node)
        if known is None or known[0] != state:
            if self._left <= 0:
                self.behind.append(node.shape)
                return known[1] if known is not None else None
            start = time.perf_counter()
            known = self._known[node] = (state, self._paint(node, leaves))
            self._left -= time.perf_counter() - start
        return known[1]

    def _paint(self, node: Node, leaves: list[Node]) -> QPixmap:
        left, top, right, bottom = union(map(_extent, leaves))
        pixels = round(SIDE * self.ratio)
        image = QImage(pixels, pixels, FORMAT)
        image.fill(Qt.GlobalColor.transparent)
        if left <= right:
            scale = (pixels - 2) / max(right - left, bottom - top, 1.0)
            view = Affine(
                scale, 0.0, 0.0, scale, pixels / 2 - (left + right) / 2 * scale, pixels / 2 - (top + bottom) / 2 * scale
            )
            PaintJob(self.display, leaves, image, view).run()
        mean = image.scaled(1, 1, mode=Qt.TransformationMode.SmoothTransformation).pixelColor(0, 0)
        if mean.alpha() < FAINT:
            return glyph(node.shape.kind, theme().muted, SIDE, self.ratio)
        lost = abs(_lightness(mean) - _lightness(ground())) < ALIKE
        out = QPixmap.fromImage(_on_its_opposite(image) if lost else image)
        out.setDevicePixelRatio(self.ratio)
        return out


def _extent(leaf: Node) -> Box:
    """About what a shape covers, shadows and the tips of miters left out: to find those takes longer than to paint."""
    box = leaf.bounds()
    if leaf.stroke is None or leaf.pen is None or leaf.manner.align == "inside" or is_empty(box):
        return box
    return inflate(box, leaf.pen.width / 2 * (1.0 if leaf.manner.steady else leaf.world.stretch))


def ground() -> QColor:
    """What the pictures lie on."""
    return theme().color("desk") if theme().name == "plaster" else QColor("#59636A")


def _lightness(color: QColor) -> float:
    return 0.3 * color.redF() + 0.59 * color.greenF() + 0.11 * color.blueF()


def _on_its_opposite(image: QImage) -> QImage:
    """A picture on a ground that is dark where the usual one is light."""
    out = QImage(image.size(), FORMAT)
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#3C464C" if theme().name == "plaster" else "#DAD5CB"))
    painter.drawRoundedRect(out.rect(), 4, 4)
    painter.drawImage(0, 0, image)
    painter.end()
    return out
