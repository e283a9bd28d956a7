"""The hit map: which shape the pointer would hit at every px, and which shapes it never would."""

from __future__ import annotations

import math
import time
from collections.abc import Container, Iterator
from functools import lru_cache

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from chalcedon.evaluate import DisplayList, Node
from chalcedon.evaluate.strokes import PLAIN
from chalcedon.geometry import IDENTITY, Affine
from chalcedon.geometry.contain import Cells
from chalcedon.geometry.stroke import Pen
from chalcedon.hit.parts import has_fill, lets, stops
from chalcedon.painter.convert import NO_BRUSH, NO_PEN, make_pen, prepared
from chalcedon.painter.hittint import tint_of
from chalcedon.painter.outlines import painter_path, transform
from chalcedon.painter.strokes import AreaPaths, needs_area
from chalcedon.scene import Shape

BUNCH = 12
"""Shapes drawn between two looks at the clock."""
LEAST = 1.001
"""Px that a stroke is wide at least: the toolkit mixes the colour of a thinner one with what is there; here a colour
is a number."""
TINT = 150
"""How strongly, of 255, a region is tinted."""


@lru_cache(maxsize=65536)
def _translucent(number: int) -> int:
    """The premultiplied colour of a shape in the map, as a px has it."""
    c = tint_of(number)
    r, g, b = (round(v * TINT / 255) for v in (c.red(), c.green(), c.blue()))
    return TINT << 24 | r << 16 | g << 8 | b


class HitMap:
    """What is hit where, for a view of a scene. `work` paints it in slices; then `numbers` has the slot of the shape
    that is hit at the middle of every px, -1 for none."""

    def __init__(self, display: DisplayList, view: Affine, width: int, height: int) -> None:
        self.display = display
        self._view = view
        self._image = QImage(max(1, width), max(1, height), QImage.Format.Format_RGB32)
        self._image.fill(0)
        self._painter = QPainter()
        self._steps: Iterator[None] = self._paint()
        self._pens: dict[tuple[Pen, float], QPen] = {}
        self._matrix, self._number = QTransform(), QColor()  # set anew for each plain shape, not made
        self.done = False
        self._found: np.ndarray | None = None
        self._shown: list[Node] = []

    def work(self, seconds: float) -> bool:
        """Paints for so long; whether all of it is painted."""
        end = time.perf_counter() + seconds
        if self.done or seconds <= 0.0:
            return self.done
        # ended with every slice: a map that is dropped half done must not leave a painter on its image
        self._painter.begin(self._image)
        try:
            while not self.done and time.perf_counter() < end:
                self.done = next(self._steps, "end") == "end"
        finally:
            self._painter.end()
        return self.done

    @property
    def numbers(self) -> np.ndarray:
        """Slots of what is hit, shape (height, width); -1 where nothing is."""
        image = self._image
        rows = np.frombuffer(image.constBits(), np.uint32).reshape(image.height(), image.bytesPerLine() // 4)
        return (rows[:, : image.width()] & 0xFFFFFF).astype(np.int64) - 1

    def reached(self) -> set[Shape]:
        """The shapes that are hit somewhere in the view."""
        slots = self.display.slots
        found = (slots[i - 1] for i in np.flatnonzero(self._present()) if i)
        return {n.shape for n in found if n is not None}

    def _present(self) -> np.ndarray:
        """Whether each slot, after one for nothing, stands somewhere in the map. Found once, when all is painted."""
        if self._found is not None:
            return self._found
        present = np.zeros(len(self.display.slots) + 1, bool)
        present[self.numbers + 1] = True
        if self.done:
            self._found = present
        return present

    def unreached(self) -> list[Shape]:
        """The shapes that paint within the view and are hit nowhere in it, in paint order; but for cut-outs and those
        that the pointer is to leave alone."""
        there = self._present().tolist()
        cutters = {id(n) for n, _, _ in self.display.cutters}
        lost = [n for n in self._shown if not there[n.slot + 1]]
        able = [n for n in lost if n.visible and n.pointer != "none" and id(n) not in cutters]
        shapes = dict.fromkeys(n.shape for n in able)
        return [s for s in shapes if not any(there[n.slot + 1] for n in self.display.nodes(s))]

    def tinted(self) -> QImage:
        """The map as a translucent picture, each region in the colour of its shape."""
        places = self.numbers + 1
        colors = np.zeros(len(self.display.slots) + 1, np.uint32)
        for place in np.flatnonzero(self._present()):
            if place:
                colors[place] = _translucent(int(place) - 1)
        pixels = colors[places]
        height, width = pixels.shape
        data = pixels.tobytes()
        return QImage(data, width, height, width * 4, QImage.Format.Format_ARGB32_Premultiplied).copy()

    # painting

    def _paint(self) -> Iterator[None]:
        display = self.display
        cutters = {id(n): (a, b) for n, a, b in display.cutters}
        firsts = {a for a, _ in cutters.values()}
        before: dict[int, QImage] = {}  # the map as it was where a group with cut-outs begins
        painter = self._painter
        self._shown = self._in_view(cutters)
        for i, node in enumerate(self._shown):
            if i % BUNCH == 0:
                yield
            if firsts:
                rank = display.rank[node.slot]
                for first in [f for f in firsts if f <= rank and f not in before]:
                    before[first] = self._image.copy()
            if not node.clips and node.pointer == "painted" and not node.cuts and self._draw_plain(painter, node):
                pass
            elif node.visible and node.inverse is not None:
                if id(node) in cutters:
                    self._draw(painter, node, QBrush(before[cutters[id(node)][0]]), "painted")
                elif node.pointer != "none":
                    self._draw(painter, node, QBrush(QColor.fromRgb(0xFF000000 | (node.slot + 1))), node.pointer)

    def _in_view(self, cutters: Container[int]) -> list[Node]:
        """The shapes whose boxes meet the map, in paint order, and all cut-outs."""
        order = self.display.order
        if not order:
            return []
        back = self._view.inverse() or IDENTITY
        left, top, right, bottom = back.map_box((0.0, 0.0, self._image.width(), self._image.height()))
        x0, y0, x1, y1 = np.array([n.cull for n in order]).T
        meets = ((x0 <= right) & (x1 >= left) & (y0 <= bottom) & (y1 >= top)).tolist()
        return [n for n, there in zip(order, meets, strict=True) if there or id(n) in cutters]

    def _draw_plain(self, painter: QPainter, node: Node) -> bool:
        """Draws a shape of one fill and one stroke, as nearly all are, with as few objects as possible; whether it is
        such a shape."""
        ready = prepared(node)
        if not ready.plain or not node.visible or node.kind.text:
            return False
        va, vb, vc, vd, ve, vf = self._view
        a, b, c, d, e, f = node.world
        a, b, c, d = va * a + vc * b, vb * a + vd * b, va * c + vc * d, vb * c + vd * d
        number = self._number
        number.setRgba(0xFF000000 | (node.slot + 1))
        if ready.pen is NO_PEN:
            painter.setPen(NO_PEN)
        else:
            style = node.pen
            assert style is not None
            even = a == d and b == -c
            scale = math.hypot(a, b) if even else Affine(a, b, c, d).shrink
            if style.width * scale < LEAST and not even:
                return False
            wide = max(style.width, LEAST / scale)
            pen = self._pens.get((style, wide))
            if pen is None:
                pen = self._pens[style, wide] = make_pen(QBrush(number), style)
                pen.setWidthF(wide)
            pen.setColor(number)
            painter.setPen(pen)
        if ready.brush is NO_BRUSH:
            painter.setBrush(NO_BRUSH)
        else:
            painter.setBrush(number)
        self._matrix.setMatrix(a, b, 0.0, c, d, 0.0, va * e + vc * f + ve, vb * e + vd * f + vf, 1.0)
        painter.setTransform(self._matrix)
        painter.drawPath(ready.path)
        return True

    def _draw(self, painter: QPainter, node: Node, brush: QBrush, rule: str) -> None:
        place = self._view.after(node.world)
        painter.setTransform(transform(place))
        if node.cuts:
            brush.setTransform(transform(place).inverted()[0])  # the picture lies in px of the map
        if node.clips:
            painter.save()
            painter.resetTransform()
            for group in node.clips:
                painter.setClipPath(self._clip(group), Qt.ClipOperation.IntersectClip)
            painter.setTransform(transform(place))
        painter.setBrush(brush)
        filled = rule in ("fill", "all") or (rule == "painted" and has_fill(node))
        stroked = rule in ("stroke", "all") or (rule == "painted" and node.stroke is not None)
        stroked = stroked and node.pen is not None and node.pen.width > 0.0
        if rule == "box":
            left, top, right, bottom = node.box
            painter.setPen(NO_PEN)
            painter.drawRect(QRectF(left, top, right - left, bottom - top))
        elif filled and stroked and node.manner == PLAIN and not node.kind.text and _by_toolkit(node, place):
            assert node.pen is not None
            painter.setPen(self._pen(brush, node.pen, place))
            painter.drawPath(prepared(node).path)
        else:
            painter.setPen(NO_PEN)
            if filled:
                self._fill(painter, node)
            if stroked:
                self._stroke(painter, node, brush, place)
        if node.clips:
            painter.restore()

    def _clip(self, group: Node) -> QPainterPath:
        out = QPainterPath()
        assert group.clip is not None
        if group.mask:
            return self._mask(group.clip, group.mask)
        for leaf in group.clip.walk_leaves():
            out = out.united(transform(self._view.after(leaf.world)).map(painter_path(leaf.outline, leaf.even_odd)))
        return out

    def _mask(self, by: Node, kind: str) -> QPainterPath:
        """What of a mask lets anything through, from its back to its front."""
        out = QPainterPath()
        for leaf in by.shown_leaves():
            for part in ("fill", "stroke"):
                look = leaf.fill if part == "fill" else leaf.stroke
                drawn = has_fill(leaf) if part == "fill" else look is not None and leaf.pen is not None
                if not drawn or leaf.opacity <= 0.0:
                    continue
                if part == "fill":
                    area, place = painter_path(leaf.outline, leaf.even_odd), leaf.world
                else:
                    area = painter_path(leaf.stroke_area.outline())
                    place = IDENTITY if leaf.manner.steady else leaf.world
                area = transform(self._view.after(place)).map(area)
                if leaf.cuts or stops(look, kind, leaf.opacity):
                    out = out.subtracted(area)
                elif lets(look, kind):
                    out = out.united(area)
        return out

    @staticmethod
    def _fill(painter: QPainter, node: Node) -> None:
        region = node.fill_region
        if isinstance(region, Cells):  # letters are hit on the boxes of their characters
            for left, top, right, bottom in region.boxes:
                painter.drawPolygon(
                    QPolygonF([QPointF(left, top), QPointF(right, top), QPointF(right, bottom), QPointF(left, bottom)])
                )
        else:
            painter.drawPath(prepared(node).path)

    def _stroke(self, painter: QPainter, node: Node, brush: QBrush, place: Affine) -> None:
        pen = node.pen
        assert pen is not None
        painter.save()
        path = prepared(node).path
        if node.manner.align == "inside":
            painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
        elif node.manner.align == "outside":
            around = QPainterPath()
            around.addRect(path.boundingRect().adjusted(*(s * 2 * pen.reach() for s in (-1, -1, 1, 1))))
            painter.setClipPath(around.subtracted(path), Qt.ClipOperation.IntersectClip)
        if node.manner.steady or not _by_toolkit(node, place):
            view = place.after(node.world.inverse() or Affine()) if node.manner.steady else place
            painter.setTransform(transform(view))
            if pen.width * view.shrink < 1.0:
                edge = QPen(brush, LEAST)  # a px along its edges, so that what is thinner is there at all
                edge.setCosmetic(True)
                painter.setPen(edge)
            # filled without antialiasing, an area that lies over itself can lack a px inside: the toolkit rounds its
            # edges to 1/64 px. Of edges that lie otherwise it is another px.
            for scale in (view.stretch, 4 * view.stretch):
                for part in AreaPaths().of(node, scale):
                    painter.drawPath(part)
        else:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(self._pen(brush, pen, place))
            painter.drawPath(path)
        painter.restore()

    def _pen(self, brush: QBrush, pen: Pen, place: Affine) -> QPen:
        out = make_pen(brush, pen)
        shrink = place.shrink
        if pen.width * shrink < LEAST:
            out.setWidthF(LEAST / max(shrink, 1e-9))
        return out


UNEVEN = 1.3
"""From this ratio of its largest to its smallest scale on, a pen made a px wide one way is too wide the other."""


def _by_toolkit(node: Node, place: Affine) -> bool:
    """Whether the toolkit's stroke of a node is the right one."""
    a, b, c, d, _, _ = place
    even = b == -c and a == d  # usual, and soon seen
    thin = not even and node.pen is not None and node.pen.width * place.shrink < 1.0
    if thin and place.stretch > UNEVEN * place.shrink:
        return False
    ready = prepared(node)
    return ready.area is None if node.stroke is not None else not needs_area(node)
