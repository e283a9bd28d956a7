"""Ready pictures of shapes that only move, one for each quarter of a px at which they can stand.

A picture laid down costs a tenth of painting the shape. While it moves a shape is an eighth of a px from its place at
most; what rests is painted itself. All shapes that look the same share their pictures. These lie side by side on pages,
so that many are laid down by one call.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

import numpy as np
from PySide6.QtGui import QPixmap, QTransform

from chalcedon.evaluate import Changes, Node
from chalcedon.evaluate.carrying import Herd
from chalcedon.geometry import Box
from chalcedon.painter.convert import Prepared
from chalcedon.painter.laid import FIELDS, Laid
from chalcedon.painter.pages import Pages, Plain, draw
from chalcedon.painter.stills import LARGEST, Stills

MOST_MADE = 50
"""Pictures that one frame makes: making one takes as long as painting the shape twice."""
QUARTERS = 4
FEWEST = 24
"""Shapes that only move from which on ready pictures are laid down."""
NOT_YET, NEVER = -1, -2


class Stamp(NamedTuple):
    """The pictures of one look. They lie in rows for quarters down, from a corner on a page."""

    page: int
    x: int
    y: int
    width: int
    height: int
    left: int
    """From the whole px of the shape's origin to a picture's corner."""
    top: int
    plain: Plain
    """Not what is prepared for a node, which knows the stamps in turn."""
    linear: tuple[float, float, float, float]

    def make(self, onto: QPixmap, right: int, down: int) -> None:
        """Makes the picture for an origin so many quarters of a px right of and down from a whole px."""
        x, y = self.x + right * self.width, self.y + down * self.height
        a, b, c, d = self.linear
        e, f = x - self.left + right / QUARTERS, y - self.top + down / QUARTERS
        draw(onto, (x, y, self.width, self.height), QTransform(a, b, 0.0, c, d, 0.0, e, f, 1.0), self.plain)


class Stamps:
    """The stamps of one zoom. When there is no room for others and some are `worn`, it is to be made anew."""

    def __init__(self, scale: float) -> None:
        self.scale = scale
        self._found: dict[Any, int] = {}
        self._pages = Pages()
        self._stills = Stills(scale, self._pages)
        self._herds: dict[int, tuple[Herd, Any]] = {}
        self._stamps: list[Stamp] = []
        self._made = np.zeros(0, bool)  # 16 to a stamp
        self._columns = np.zeros((7, 0), np.int64)

    def frame(self, changes: Changes, slots: Sequence[Node | None], shown: Box) -> Laid | None:
        """What only moved and is in a box in device px, as ready pictures, and what is still between that; None where
        little moved. `slots` are those of the display list."""
        self._stills.follow(changes, len(slots))
        self._pages.frame += 1
        found = [part for part in (*self._of_herds(changes), self._of_others(changes)) if part is not None]
        new = self._stamps[self._columns.shape[1] :]
        if new:
            self._made = np.concatenate((self._made, np.zeros(len(new) * QUARTERS**2, bool)))
            self._columns = np.concatenate((self._columns, np.array([s[:7] for s in new], np.int64).T), axis=1)
        if sum(len(part[0]) for part in found) < FEWEST:
            return None
        where, numbers = (np.concatenate([p[i] for p in found]) for i in (0, 2))
        quarters = np.rint(np.concatenate([p[1] for p in found], axis=1) * (self.scale * QUARTERS))
        x0, y0, x1, y1 = (
            (v + past) * QUARTERS for v, past in zip(shown, (-LARGEST,) * 2 + (LARGEST,) * 2, strict=True)
        )
        x, y = quarters
        near = (x >= x0) & (x <= x1) & (y >= y0) & (y <= y1) & (numbers >= 0)
        where, numbers, (x, y) = where[near], numbers[near], quarters[:, near].astype(np.int64)
        right, down = x & 3, y & 3
        cells = numbers * QUARTERS**2 + down * QUARTERS + right
        ready = self._ready(cells)
        if int(ready.sum()) < FEWEST:
            return None
        page, bx, by, width, height, left, top = self._columns[:, numbers[ready]]
        right, down = right[ready], down[ready]
        table = np.empty((len(page), FIELDS))
        table[:, 0], table[:, 1] = (x[ready] >> 2) + left + width / 2, (y[ready] >> 2) + top + height / 2
        table[:, 2], table[:, 3] = bx + right * width, by + down * height
        table[:, 4], table[:, 5], table[:, 6:] = width, height, (1.0, 1.0, 0.0, 1.0)
        still = self._stills.of(slots)
        where, page = np.concatenate((where[ready], still.slots)), np.concatenate((page, still.pages))
        for number in np.unique(page).tolist():
            self._pages.use(number)
        return Laid(where, np.concatenate((table, still.table)), page, self._pages.pixmaps, self._stills.seen)

    def _ready(self, cells: Any) -> Any:
        """Which pictures are there, after making some of those that are not."""
        ready = self._made[cells]
        for cell in np.unique(cells[~ready])[:MOST_MADE].tolist():
            number, quarter = divmod(cell, QUARTERS**2)
            stamp = self._stamps[number]
            stamp.make(self._pages.pixmaps[stamp.page], quarter % QUARTERS, quarter // QUARTERS)
            self._made[cell] = True
        return self._made[cells]

    def _of_herds(self, changes: Changes) -> Iterable[tuple[Any, Any, Any]]:
        kept, self._herds = self._herds, {}
        for herd in changes.herds:
            if not herd.valid:
                continue
            known = kept.get(id(herd))
            numbers = known[1] if known is not None else np.full(len(herd.nodes), NOT_YET)
            self._herds[id(herd)] = herd, numbers  # what is held here keeps its id
            for i in (numbers == NOT_YET).nonzero()[0].tolist():
                numbers[i] = self._number_of(herd.nodes[i])
            yield herd.moved, herd.moved_to, numbers[herd.picked]

    def _of_others(self, changes: Changes) -> tuple[Any, Any, Any] | None:
        nodes = changes.nodes
        herds = [herd for herd in changes.herds if herd.valid]
        if sum(len(herd.moved) for herd in herds) == len(nodes):
            return None
        of_herds = set().union(*(herd.ids for herd in herds))
        found = [(node, self._number_of(node)) for node in nodes if id(node) not in of_herds]
        found = [(node, number) for node, number in found if number >= 0]
        if not found:
            return None
        slots = np.array([node.slot for node, _number in found], np.intp)
        return slots, np.array([n.world[4:] for n, _number in found]).T, np.array([number for _node, number in found])

    def _number_of(self, node: Node) -> int:
        """The stamp of a node that stands elsewhere than it was painted last and is otherwise the same. NOT_YET for one
        that isn't known to be the same, NEVER for one that is to be painted itself."""
        ready: Prepared | None = node.scratch
        if ready is None or ready.outline_version != node.outline_version or ready.paint_version != node.paint_version:
            return NOT_YET
        if not ready.plain or node.shades:
            return NEVER
        linear = node.world[:4]
        if ready.linear != linear:
            ready.linear, ready.stamp = linear, None
            return NOT_YET  # it turned or grew, or is new
        if ready.stamp is None or ready.stamp[0] is not self:
            ready.stamp = self, self._stamp(node, ready)
        number: int = ready.stamp[1]
        return number

    def _stamp(self, node: Node, ready: Prepared) -> int:
        x0, y0, x1, y1 = node.cull
        if x0 > x1 or max(x1 - x0, y1 - y0) * self.scale > LARGEST:
            return NEVER
        outline = node.outline
        key = (outline.verbs, outline.coords, node.even_odd, node.fill, node.stroke, node.pen, node.world[:4])
        number = self._found.get(key)
        if number is None:
            stamp = self._made_for(node, ready)
            if stamp is None:
                return NEVER
            number = self._found[key] = len(self._stamps)
            self._stamps.append(stamp)
        return number

    def _made_for(self, node: Node, ready: Prepared) -> Stamp | None:
        a, b, c, d, e, f = node.world
        scale = self.scale
        x0, y0, x1, y1 = node.cull
        left, top = math.floor((x0 - e) * scale) - 1, math.floor((y0 - f) * scale) - 1
        # even, so that a middle is at a whole px
        width = (math.ceil((x1 - e) * scale) + 3 - left) // 2 * 2
        height = (math.ceil((y1 - f) * scale) + 3 - top) // 2 * 2
        placed = self._pages.place(width * QUARTERS, height * QUARTERS)
        if placed is None:
            return None
        linear = (a * scale, b * scale, c * scale, d * scale)
        return Stamp(*placed, width, height, left, top, Plain(ready.path, ready.pen, ready.brush), linear)

    @property
    def worn(self) -> bool:
        """Whether it is full of what isn't shown any more."""
        return self._pages.worn
