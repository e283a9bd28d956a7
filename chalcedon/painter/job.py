"""Painting a run of the display list onto an image, in slices if need be."""

from __future__ import annotations

import math
import time
from bisect import bisect_left
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QBrush, QImage, QPainter, QPen, QTransform

from chalcedon.evaluate import DisplayList, Node
from chalcedon.evaluate.edges import upward
from chalcedon.evaluate.order import Layer
from chalcedon.geometry import Affine
from chalcedon.geometry.boxes import is_empty
from chalcedon.painter.compose import FORMAT, Sheet, device_area, keep_inside
from chalcedon.painter.convert import prepared
from chalcedon.painter.parts import Target, area_of, clip, extent_of, grown, lay, paint_special, shadowed
from chalcedon.painter.shadow import coarse

if TYPE_CHECKING:
    from chalcedon.painter.stamps import Laid

__all__ = ["FORMAT", "PaintJob"]

DEEPEST, MOST_INNER = 12, 2000
"""How many masks and tiles are within one another, and how many of them a job paints: files can multiply them."""
HEAVY, AFAR = 100, 24
"""Segments of an outline whose stroke takes long; scene px of a shadow that does."""
LOOK_AT_CLOCK = 8
"""Shapes between two looks at the clock."""


class PaintJob:
    """Paints `nodes` (back to front) onto `image`, with `view` mapping scene px to image px.

    `run` may be called again and again with a deadline until it returns True. Between calls the painters
    stay open, so `close` must be called when a job is given up. A job is for one version of the display
    list: after an update, give it up and begin anew.
    """

    def __init__(
        self,
        display: DisplayList,
        nodes: Sequence[Node],
        image: QImage,
        view: Affine,
        within: QRect | None = None,
        laid: Laid | None = None,
        inner: Inner | None = None,
    ) -> None:
        """`laid` holds the ready pictures that are laid down instead of some shapes; they are made for the scale of
        `view`, which then neither turns nor mirrors, and moves by whole px. `inner` is given when the nodes are those
        of a mask or a tile."""
        self._display = display
        self._inner = inner or Inner(display)
        self._all_layers = display.layers
        if inner is not None:
            self._all_layers = [layer for layer in display.layers if inner.around[-1] in upward(layer.group)]
        self._nodes = nodes
        self._within = within
        self._strip = laid.among(nodes) if laid is not None and nodes else None
        self._next = 0
        self._next_layer = 0
        self._matrix = QTransform()
        self._layers: list[tuple[Layer, Sheet, Target]] = []
        self._mends = True
        self._tools: tuple[QPen | None, QBrush | None] = (None, None)  # what the painter has
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if within is not None:
            painter.setClipRect(within)
        self._base = Target(painter, image, view, display.scene.folder, self._inner)

    def run(self, deadline: float = float("inf")) -> bool:
        """Paints until done (True) or until the clock (time.perf_counter) passes the deadline (False)."""
        try:
            return self._run(deadline)
        except BaseException:
            for _layer, sheet, _canvas in self._layers:
                sheet.end()
            self._layers.clear()
            self.close()
            raise

    def _run(self, deadline: float) -> bool:
        count = len(self._nodes)
        for first, last, page in self._strip.runs if self._strip is not None else ((0, count, -1),):
            while self._next < last:
                self._next = self._go_on(max(first, self._next), last, page)
                if self._next < count and time.perf_counter() > deadline:
                    return False
        self.close()
        return True

    def _go_on(self, first: int, last: int, page: int) -> int:
        """Paints some of the nodes [first, last), or lays down the pictures on a page for them. Gives the number of the
        next."""
        if page >= 0:
            return self._lay(first, last, page)
        stop = min(last, first + LOOK_AT_CLOCK)
        self._paint(self._nodes[first:stop])
        return stop

    def _paint(self, nodes: Sequence[Node]) -> None:
        """Paints some nodes, one after another."""
        layered = bool(self._all_layers)
        canvas = self._layers[-1][2] if self._layers else self._base
        painter = canvas.painter
        va, vb, vc, vd, ve, vf = canvas.view
        plain = vb == 0.0 and vc == 0.0
        matrix = self._matrix
        set_matrix = matrix.setMatrix
        pen, brush = self._tools
        for node in nodes:
            if layered:
                now = self._switch_layers(self._display.rank[node.slot])
                if now is not canvas:
                    canvas, painter = now, now.painter
                    va, vb, vc, vd, ve, vf = canvas.view
                    pen = brush = None
            ready = node.scratch  # as `prepared` does, without the call: this is the innermost loop
            if (
                ready is None
                or ready.outline_version != node.outline_version
                or ready.paint_version != node.paint_version
            ):
                ready = prepared(node)
            if not ready.plain:
                if node.cuts and self._layers and self._mends:
                    self._cut(canvas, node)
                else:
                    paint_special(canvas, node)
                pen = brush = None
                continue
            a, b, c, d, e, f = node.world
            if plain:
                set_matrix(va * a, vd * b, 0.0, va * c, vd * d, 0.0, va * e + ve, vd * f + vf, 1.0)
            else:
                set_matrix(
                    va * a + vc * b,
                    vb * a + vd * b,
                    0.0,
                    va * c + vc * d,
                    vb * c + vd * d,
                    0.0,
                    va * e + vc * f + ve,
                    vb * e + vd * f + vf,
                    1.0,
                )
            painter.setTransform(matrix)
            if ready.pen is not pen:
                pen = ready.pen
                painter.setPen(pen)
            if ready.brush is not brush:
                brush = ready.brush
                painter.setBrush(brush)
            path = ready.path
            painter.drawPath(path)
            if ready.first:
                path.setElementPositionAt(0, *ready.first)  # drops what it would keep (see Prepared)
        self._tools = pen, brush

    def _lay(self, first: int, last: int, page: int) -> int:
        """Lays down ready pictures for the nodes [first, last), or up to the first that is on another layer."""
        nodes, rank, canvas = self._nodes, self._display.rank, self._base
        if self._all_layers:
            before = len(self._layers), self._next_layer
            canvas = self._switch_layers(rank[nodes[first].slot])
            if before != (len(self._layers), self._next_layer):
                self._tools = None, None
            last = bisect_left(nodes, self._next_change(), first + 1, last, key=lambda n: rank[n.slot])
        canvas.painter.resetTransform()
        assert self._strip is not None
        self._strip.draw(canvas.painter, first, last, page, canvas.view[4:])
        return last

    def _next_change(self) -> float:
        """The rank from which on another layer is painted on."""
        layers = self._all_layers
        begins = layers[self._next_layer].first if self._next_layer < len(layers) else math.inf
        return min(begins, self._layers[-1][0].last) if self._layers else begins

    def _cut(self, canvas: Target, node: Node) -> None:
        """Has a cut-out take away what is behind it in its group."""
        from chalcedon.painter.seams import mend_cut  # NumPy, which few scenes need

        area = device_area(extent_of(node), canvas.view, canvas.image.rect())
        if area.isEmpty():
            return
        before = canvas.image.copy(area)
        paint_special(canvas, node)
        layer = self._layers[-1][0]
        if self._is_heavy(layer):
            return
        mend_cut(canvas, area, before, self._again(layer, self._display.rank[node.slot] + 1))

    def _clip(self, canvas: Target, image: QImage, layer: Layer, before: QImage) -> None:
        """Keeps of a layer's picture what lies in its clip. `before` is the picture without its shadow."""
        by = layer.group.clip
        assert by is not None
        if layer.group.mask:
            self._mask(canvas, image, by, layer.group.mask)
            return
        covered = before.copy() if image is before and self._mends and not self._is_heavy(layer) else None
        mask = clip(image, canvas.view, by)
        if covered is None:
            return
        from chalcedon.painter.seams import mend_clip

        inside = self._again(layer, layer.last)

        def again(fine: QImage, view: Affine) -> None:
            inside(fine, view)
            clip(fine, view, by)

        mend_clip(image, canvas.view, covered, mask, again)

    def _mask(self, canvas: Target, image: QImage, by: Node, kind: str) -> None:
        """Keeps as much of a layer's picture as the picture of its mask lets through."""
        if by in self._inner.around:
            return  # it is within its own mask
        sheet = Sheet(QRect(QPoint(0, 0), image.size()))
        sheet.end()
        canvas.draw(by, sheet.image, canvas.view)
        if kind == "luminance":
            from chalcedon.painter.planes import to_luminance  # NumPy, which few scenes need

            to_luminance(sheet.image)
        keep_inside(image, sheet.image)

    def _is_heavy(self, layer: Layer) -> bool:
        """Whether a layer has strokes that are a heap of very many pieces, or shadows from afar: painting these again,
        finely, to mend an edge would take seconds."""
        return any(
            (len(n.outline.verbs) > HEAVY and prepared(n).area is not None)
            or any(max(abs(s.x), abs(s.y), s.blur) > AFAR for s in (*n.shades, *((n.shadow,) if n.shadow else ())))
            for n in self._inside(layer)
        )

    def _inside(self, layer: Layer, last: float = math.inf) -> Sequence[Node]:
        """What is painted in a layer, up to a rank."""
        rank, nodes, last = self._display.rank, self._nodes, min(last, layer.last)
        if self._inner.around:  # those of a mask come in the order of the list
            return [n for n in nodes if layer.first <= rank[n.slot] < last]
        first = bisect_left(nodes, layer.first, key=lambda n: rank[n.slot])
        return nodes[first : bisect_left(nodes, last, first, key=lambda n: rank[n.slot])]

    def _again(self, layer: Layer, last: int) -> Callable[[QImage, Affine], None]:
        """What paints the inside of a layer, up to a rank, onto other images: small ones, many times."""
        from chalcedon.painter.seams import Among

        among = Among(self._inside(layer, last))
        inner = self._all_layers.index(layer) + 1

        def again(image: QImage, view: Affine) -> None:
            job = PaintJob(
                self._display, among.seen(image, view), image, view, inner=self._inner if self._inner.around else None
            )
            job._mends, job._next_layer = False, inner
            job.run()

        return again

    def close(self) -> None:
        """Composes what is open and ends every painter. An active painter at exit would crash the process."""
        self._next = len(self._nodes)
        while self._layers:
            self._close_layer()
        if self._base.painter.isActive():
            self._base.painter.end()

    def _switch_layers(self, rank: int) -> Target:
        """The canvas for the shape at `rank`: layers that ended are laid down, those that begin are opened."""
        while self._layers and self._layers[-1][0].last <= rank:
            self._close_layer()
        layers = self._all_layers
        while self._next_layer < len(layers) and layers[self._next_layer].first <= rank:
            layer = layers[self._next_layer]
            self._next_layer += 1
            if layer.last > rank:
                self._open_layer(layer)
        return self._layers[-1][2] if self._layers else self._base

    def _open_layer(self, layer: Layer) -> None:
        below = self._layers[-1][2] if self._layers else self._base
        area = self._within if self._within is not None and not self._layers else below.image.rect()
        if layer.group.shadow is not None:
            area = grown(area, layer.group, below.view)
        else:
            area = area_of(self._inside(layer), area, below.view)
        sheet = Sheet(area)
        self._layers.append((layer, sheet, below.onto(sheet)))

    def _close_layer(self) -> None:
        layer, sheet, canvas = self._layers.pop()
        sheet.end()
        below = self._layers[-1][2] if self._layers else self._base
        group = layer.group
        caster = None
        if group.shadow is not None:
            caster = coarse(sheet.image, sheet.origin, group.shadow, below.view.stretch)
        image = shadowed(below, sheet, group, caster)
        if group.clip is not None:
            self._clip(canvas, image, layer, sheet.image)
        lay(below, sheet, group, image)


class Inner:
    """Paints masks and tiles for a job, and for the jobs that paint those: seen or not, none within itself, and no more
    than is sensible. It doesn't know the job: what a job paints on knows this."""

    def __init__(self, display: DisplayList, around: tuple[Node, ...] = (), of: Inner | None = None) -> None:
        self._display, self.around = display, around
        self.tiles: dict[object, QImage] = {} if of is None else of.tiles
        self._count: list[int] = [0] if of is None else of._count

    def __call__(self, node: Node, image: QImage, view: Affine) -> None:
        if node in self.around or len(self.around) >= DEEPEST or self._count[0] >= MOST_INNER:
            return
        self._count[0] += 1
        leaves = [leaf for leaf in node.shown_leaves() if not is_empty(leaf.extent())]
        PaintJob(self._display, leaves, image, view, inner=Inner(self._display, (*self.around, node), self)).run()
