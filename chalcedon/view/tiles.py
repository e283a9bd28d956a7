"""The picture of the scene as tiles, repainted only where it changed, in slices that never hold up the hand."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QRect, QRectF, QSize
from PySide6.QtGui import QColor, QImage, QPainter, QRegion, QTransform

from chalcedon.evaluate import Changes, DisplayList, Node
from chalcedon.geometry import Affine, Box
from chalcedon.hit import HitIndex
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.painter.render import background, paint_page, paint_reference
from chalcedon.view.place import View

if TYPE_CHECKING:
    from chalcedon.painter.stamps import Laid, Stamps

SIZE = 256
AT_ONCE = 600
"""Shapes that are repainted on the spot; more are painted in slices."""
MOST_TILES = 400
FAR = 1e8
"""Device px within what QRect can hold."""
OPAQUE = QImage.Format.Format_RGB32
"""Tiles cover all of their ground, so they are shown by copying instead of blending."""
VEIL = 176
"""How strongly what lies off the page is covered, of 255."""

Key = tuple[int, int]


class Colors(NamedTuple):
    """What lies around the page, and under a page without a paint: CSS colours."""

    ground: str = "#d6d1c8"
    page: str = "#f7f5f1"


class _Tile:
    """Invariant: `image` is right everywhere outside `dirty`. A running job paints the whole of `fresh`."""

    __slots__ = ("again", "dirty", "fresh", "image", "job")

    def __init__(self) -> None:
        self.image: QImage | None = None
        self.dirty: QRect | None = QRect(0, 0, SIZE, SIZE)
        self.job: PaintJob | None = None
        self.fresh: QImage | None = None
        self.again: QRect | None = None  # what became dirty while the job ran

    def drop_job(self) -> None:
        if self.job is not None:
            self.job.close()
        self.job = self.fresh = self.again = None


class Tiles:
    """Tiles of one zoom. `look` is the display list they show; all rectangles are in device px."""

    def __init__(self, display: DisplayList, index: HitIndex, colors: Callable[[], Colors]) -> None:
        self.display = display
        self._colors = colors
        self.index = index
        self.scale = 0.0
        self.tiles: dict[Key, _Tile] = {}
        self._backdrop: QImage | None = None
        self._backdrop_box: Box = (0.0, 0.0, 0.0, 0.0)
        self.painted = 0  # shapes painted since the start, for benchmarks and tests
        self._stamps: Stamps | None = None
        self._laid: Laid | None = None  # the ready pictures of what only moves
        self._shown: Box = (0.0, 0.0, 0.0, 0.0)  # what the widget showed last
        self._unshown: dict[Key, QRect] = {}  # parts of tiles, in their own px, that are new since they were shown

    # what changed

    def close(self) -> None:
        """Gives up all tiles and the jobs that paint them."""
        for tile in self.tiles.values():
            tile.drop_job()
        self.tiles.clear()
        self._unshown.clear()

    def forget(self) -> None:
        """Everything is to be painted anew; old tiles are shown until then."""
        for tile in self.tiles.values():
            tile.drop_job()
            tile.dirty = QRect(0, 0, SIZE, SIZE)

    def follow(self, changes: Changes, lively: bool = False) -> list[QRect]:
        """Marks what the changes touch; returns the touched areas of the scene in device px. `lively` allows ready
        pictures where many shapes only move; `rest` is to be called when they don't any more."""
        if changes.page:
            self.forget()
        if not lively:
            self._stamps = None  # they have to hear of every change
        stopped = self._stamp(changes, lively) if lively or self._laid is not None else []
        if changes.order or changes.layers:
            # ranks changed under the running jobs
            for tile in self.tiles.values():
                if tile.job is not None:
                    tile.drop_job()
                    tile.dirty = QRect(0, 0, SIZE, SIZE)
        out = []
        s = self.scale
        boxes = [*changes.boxes, *stopped] if stopped else changes.boxes
        if len(boxes) > 400:  # that much at once: by their union is good enough
            boxes = [_around(boxes)]
        for box in boxes:
            if box[0] > box[2] or s <= 0:
                continue
            area = _area(box, s)
            out.append(area)
            self._mark(area)
        return out

    def _stamp(self, changes: Changes, lively: bool) -> list[Box]:
        """Has those that only moved be shown by ready pictures. Gives the boxes of those that are so no more."""
        before, self._laid = self._laid, None
        if lively and self.scale > 0.0:
            if self._stamps is None or self._stamps.worn:
                from chalcedon.painter.stamps import Stamps  # NumPy, after the first frame

                self._stamps = Stamps(self.scale)
            self._laid = self._stamps.frame(changes, self.display.slots, self._shown)
        return self._boxes_of(before.gone(self._laid)) if before is not None else []

    def _boxes_of(self, slots: Sequence[int]) -> list[Box]:
        return [node.cull for node in (self.display.slots[s] for s in slots) if node is not None]

    @property
    def moving(self) -> bool:
        """Whether anything is shown by ready pictures."""
        return self._laid is not None

    def rest(self) -> None:
        """Has what was shown by ready pictures be painted itself: nothing moves any more."""
        laid, self._laid = self._laid, None
        for box in self._boxes_of(laid.gone(None)) if laid is not None else ():
            if box[0] <= box[2] and self.scale > 0:
                self._mark(_area(box, self.scale))

    def _mark(self, area: QRect) -> None:
        across = range(area.left() // SIZE, area.right() // SIZE + 1)
        down = range(area.top() // SIZE, area.bottom() // SIZE + 1)
        if len(across) * len(down) > len(self.tiles):
            touched = [k for k in self.tiles if k[0] in across and k[1] in down]
        else:
            touched = [(i, j) for j in down for i in across if (i, j) in self.tiles]
        for i, j in touched:
            tile = self.tiles[i, j]
            part = area.translated(-i * SIZE, -j * SIZE) & QRect(0, 0, SIZE, SIZE)
            if tile.job is not None:
                tile.again = part if tile.again is None else tile.again | part
            else:
                tile.dirty = part if tile.dirty is None else tile.dirty | part

    def zoom_to(self, scale: float, view: View, width: int, height: int) -> None:
        """Another zoom: what is shown becomes the backdrop, the tiles are made anew."""
        if scale == self.scale:
            return
        if self.scale > 0.0 and self.tiles:
            self._keep_backdrop(view, width, height)
        self.close()
        self.scale = scale
        self._stamps = self._laid = None

    def _keep_backdrop(self, view: View, width: int, height: int) -> None:
        # the old view is gone; the picture is kept in scene coordinates around what the new one shows
        left, top = view.to_scene(0, 0)
        right, bottom = view.to_scene(width, height)
        pad_x, pad_y = (right - left) / 2, (bottom - top) / 2
        area = (left - pad_x, top - pad_y, right + pad_x, bottom + pad_y)
        factor = min(
            1.0, 2400 / max(1.0, (area[2] - area[0]) * self.scale), 1800 / max(1.0, (area[3] - area[1]) * self.scale)
        )
        image = QImage(
            max(1, int((area[2] - area[0]) * self.scale * factor)),
            max(1, int((area[3] - area[1]) * self.scale * factor)),
            FORMAT,
        )
        image.fill(QColor(self._colors().ground))
        painter = QPainter(image)
        painter.setTransform(
            QTransform.fromScale(factor, factor).translate(-area[0] * self.scale, -area[1] * self.scale)
        )
        self._paint_backdrop(painter, QTransform.fromScale(self.scale, self.scale))
        for (i, j), tile in self.tiles.items():
            if tile.image is not None:
                painter.drawImage(i * SIZE, j * SIZE, tile.image)
        painter.end()
        self._backdrop, self._backdrop_box = image, area

    def _paint_backdrop(self, painter: QPainter, scene: QTransform) -> None:
        if self._backdrop is not None:
            a, b, c, d = self._backdrop_box
            painter.save()
            painter.setTransform(scene, True)
            painter.drawImage(QRectF(a, b, c - a, d - b), self._backdrop)
            painter.restore()

    # showing

    def visible(self, view: View, width: int, height: int) -> list[Key]:
        """The tiles that a widget of this size shows, from its middle outward."""
        r = view.ratio
        x, y = round(view.x * r), round(view.y * r)
        keys = [
            (i, j)
            for j in range(-y // SIZE, (int(height * r) - y) // SIZE + 1)
            for i in range(-x // SIZE, (int(width * r) - x) // SIZE + 1)
        ]
        cx, cy = (width * r / 2 - x) / SIZE - 0.5, (height * r / 2 - y) / SIZE - 0.5
        keys.sort(key=lambda k: (k[0] - cx) ** 2 + (k[1] - cy) ** 2)
        return keys

    def paint(self, painter: QPainter, view: View, region: QRegion, size: QSize, seconds: float) -> bool:
        """Shows what of the picture is in `region`, widget px, after bringing up to date what fits in so many seconds.

        False when something visible is still old; `refine` goes on with it.
        """
        width, height = size.width(), size.height()
        done = self.refine(view, width, height, seconds)
        r = view.ratio
        x, y = round(view.x * r), round(view.y * r)
        self._shown = -x, -y, width * r - x, height * r - y
        painter.save()
        painter.setTransform(QTransform.fromScale(1 / r, 1 / r), True)
        painter.translate(x, y)
        keys = self.visible(view, width, height)
        if any(k not in self.tiles or self.tiles[k].image is None for k in keys):
            painter.fillRect(
                painter.transform().inverted()[0].mapRect(QRectF(0, 0, width * r, height * r)),
                QColor(self._colors().ground),
            )
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            self._paint_page(painter, QTransform.fromScale(self.scale, self.scale))
            self._paint_backdrop(painter, QTransform.fromScale(self.scale, self.scale))
        for i, j in keys:
            tile = self.tiles.get((i, j))
            place = _on_widget((i, j), QRect(0, 0, SIZE, SIZE), view)
            if tile is not None and tile.image is not None and region.intersects(place):
                painter.drawImage(i * SIZE, j * SIZE, tile.image)
        painter.restore()
        for key in keys:
            part = self._unshown.get(key)
            if part is not None and QRegion(_on_widget(key, part, view)).subtracted(region).isEmpty():
                del self._unshown[key]
        return done

    def unshown(self, view: View) -> list[QRect]:
        """Where, in widget px, the picture is new and was not in the `region` of a `paint` since."""
        out = [_on_widget(key, part, view) for key, part in self._unshown.items()]
        self._unshown.clear()
        return out

    def refine(self, view: View, width: int, height: int, seconds: float) -> bool:
        """Brings visible tiles up to date for about so many seconds. True when all are."""
        deadline = time.perf_counter() + seconds
        keys = self.visible(view, width, height)
        if len(self.tiles) > MOST_TILES:
            for key in [k for k in self.tiles if k not in set(keys)]:
                self.tiles.pop(key).drop_job()
                self._unshown.pop(key, None)
        # small repairs first: they are what the hand is waiting for
        for key in sorted(keys, key=lambda k: k not in self.tiles or self.tiles[k].image is None):
            tile = self.tiles.setdefault(key, _Tile())
            while tile.dirty is not None or tile.job is not None:
                if not self._work(key, tile, deadline) or time.perf_counter() > deadline:
                    return (
                        tile.dirty is None
                        and tile.job is None
                        and all(
                            k in self.tiles and self.tiles[k].dirty is None and self.tiles[k].job is None for k in keys
                        )
                    )
        return True

    def _work(self, key: Key, tile: _Tile, deadline: float) -> bool:
        """A step toward a tile that is up to date. False when the time is over."""
        if tile.job is None:
            assert tile.dirty is not None
            area = tile.dirty
            tile.dirty = None
            nodes = self._nodes(key, area)
            self.painted += len(nodes)
            at_once = len(nodes) <= AT_ONCE and tile.image is not None
            image = tile.image if at_once else QImage(SIZE, SIZE, OPAQUE)
            assert image is not None
            if not at_once and area != QRect(0, 0, SIZE, SIZE):
                area = QRect(0, 0, SIZE, SIZE)
                nodes = self._nodes(key, area)
            view = Affine(self.scale, 0.0, 0.0, self.scale, -key[0] * SIZE, -key[1] * SIZE)
            self._clear(image, area, view)
            job = PaintJob(self.display, nodes, image, view, area, self._laid)
            if at_once:
                job.run()
                self._veil(image, area, view)
                self._unshown[key] = self._unshown.get(key, area) | area
                return True
            tile.job, tile.fresh = job, image
        if not tile.job.run(deadline):
            return False
        assert tile.fresh is not None
        self._veil(
            tile.fresh,
            QRect(0, 0, SIZE, SIZE),
            Affine(self.scale, 0.0, 0.0, self.scale, -key[0] * SIZE, -key[1] * SIZE),
        )
        tile.image, tile.dirty = tile.fresh, tile.again
        tile.job = tile.fresh = tile.again = None
        self._unshown[key] = QRect(0, 0, SIZE, SIZE)
        return True

    def picture(self, view: Affine, width: int, height: int, nodes: Sequence[Node]) -> QImage:
        """A picture of its own of the page with some of its shapes (back to front), as the tiles would show it."""
        image = QImage(max(1, width), max(1, height), OPAQUE)
        self._clear(image, image.rect(), view)
        PaintJob(self.display, nodes, image, view).run()
        self._veil(image, image.rect(), view)
        return image

    def _nodes(self, key: Key, area: QRect) -> list[Node]:
        s = self.scale
        x, y = key[0] * SIZE + area.left(), key[1] * SIZE + area.top()
        found = self.index.within(((x - 1) / s, (y - 1) / s, (x + area.width() + 1) / s, (y + area.height() + 1) / s))
        found.reverse()
        return found

    def _clear(self, image: QImage, area: QRect, view: Affine) -> None:
        painter = QPainter(image)
        painter.setClipRect(area)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
        painter.fillRect(area, QColor(self._colors().ground))
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        self._paint_page(painter, QTransform(view.a, 0.0, 0.0, view.d, view.e, view.f))
        painter.end()

    def _paint_page(self, painter: QPainter, scene: QTransform) -> None:
        width, height = self.display.scene.size
        page = scene.mapRect(QRectF(0, 0, width, height))
        if background(self.display) is None:
            painter.fillRect(page, QColor(self._colors().page))
        painter.save()
        painter.setTransform(scene, True)
        paint_page(painter, self.display, scene.m11())
        paint_reference(painter, self.display.scene, scene.m11())
        painter.restore()

    def _veil(self, image: QImage, area: QRect, view: Affine) -> None:
        """Covers what lies off the page, so that it shows but doesn't count."""
        width, height = self.display.scene.size
        page = QRectF(view.e, view.f, width * view.a, height * view.d)
        if page.contains(QRectF(area)):
            return
        painter = QPainter(image)
        painter.setClipRect(area)
        veil = QColor(self._colors().ground)
        veil.setAlpha(VEIL)
        whole = QRectF(image.rect())
        for part in (
            QRectF(0, 0, whole.width(), page.top()),
            QRectF(0, page.bottom(), whole.width(), whole.height() - page.bottom()),
            QRectF(0, page.top(), page.left(), page.height()),
            QRectF(page.right(), page.top(), whole.width() - page.right(), page.height()),
        ):
            if part.width() > 0 and part.height() > 0:
                painter.fillRect(part & whole, veil)
        painter.end()


def _on_widget(key: Key, part: QRect, view: View) -> QRect:
    """A part of a tile, in its own px, in those of the widget."""
    r = view.ratio
    x, y = round(view.x * r) + key[0] * SIZE + part.x(), round(view.y * r) + key[1] * SIZE + part.y()
    return QRectF(x / r, y / r, part.width() / r, part.height() / r).toAlignedRect()


def _around(boxes: Sequence[Box]) -> Box:
    """The box of many, without those that are empty."""
    left = top = math.inf
    right = bottom = -math.inf
    for x0, y0, x1, y1 in boxes:
        if x0 <= x1:
            left, top = x0 if x0 < left else left, y0 if y0 < top else top
            right, bottom = x1 if x1 > right else right, y1 if y1 > bottom else bottom
    return left, top, right, bottom


def _area(box: Box, scale: float) -> QRect:
    """The device px that a box in scene px may touch."""
    return _rect((box[0] * scale - 1.0, box[1] * scale - 1.0, box[2] * scale + 1.0, box[3] * scale + 1.0))


def _rect(box: Box) -> QRect:
    """The whole px around a box, within what QRect can hold."""
    x0, y0, x1, y1 = (max(-FAR, min(FAR, v)) for v in box)
    left, top = math.floor(x0), math.floor(y0)
    return QRect(left, top, max(0, math.ceil(x1) - left), max(0, math.ceil(y1) - top))
