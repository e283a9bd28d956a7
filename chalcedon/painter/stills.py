"""Ready pictures of shapes that are still while others move over them, so that frame after frame repaints them.

A picture is made for the very place where its shape stands, so that it is the same to the px.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from PySide6.QtGui import QTransform

from chalcedon.evaluate import Changes, Node
from chalcedon.painter.convert import Prepared
from chalcedon.painter.laid import FIELDS
from chalcedon.painter.pages import Pages, Plain, draw

LARGEST = 150.0
"""Px: what is larger gains less, and its pictures are large."""
OFTEN = 6
"""Times that a shape was painted itself after which it gets a picture."""
MOST_MADE = 25
"""Pictures that one frame makes."""
NEVER = -(1 << 30)


class Still(NamedTuple):
    """The pictures that there are: slots of their nodes, pages, and rows of fragments."""

    slots: Any
    pages: Any
    table: Any


class Stills:
    """The still shapes of one zoom."""

    def __init__(self, scale: float, pages: Pages) -> None:
        self._scale, self._pages = scale, pages
        self.seen = np.zeros(0, np.int64)
        """By slot, how often a node was painted itself while it was the same; far below 0 for those that stay so."""
        self._rows: dict[int, tuple[int, list[float]]] = {}  # page and fragment, by slot
        self._still: Still | None = None

    def follow(self, changes: Changes, slots: int) -> None:
        """Takes in what an update changed. `slots` is how many the display list has."""
        if len(self.seen) != slots or changes.order:
            self.seen = np.zeros(slots, np.int64)
            self._rows, self._still = {}, None
            return
        changed = [node.slot for node in changes.nodes if node.slot >= 0]
        self.seen[changed] = 0
        if self._rows and not self._rows.keys().isdisjoint(changed):
            for slot in changed:
                self._rows.pop(slot, None)
            self._still = None

    def of(self, slots: Sequence[Node | None]) -> Still:
        """The pictures of those that have been painted often, after making some."""
        often = (self.seen >= OFTEN).nonzero()[0]
        if len(often):
            for slot in [s for s in often.tolist() if s not in self._rows][:MOST_MADE]:
                node = slots[slot]
                row = None if node is None else self._made(node)
                self.seen[slot] = NEVER if row is None else 0
                if row is not None:
                    self._rows[slot] = row
                    self._still = None
        if self._still is None:
            rows = self._rows
            table = np.array([row for _page, row in rows.values()], np.float64).reshape(-1, FIELDS)
            pages = np.array([page for page, _row in rows.values()], np.int64)
            self._still = Still(np.array(list(rows), np.intp), pages, table)
        return self._still

    def _made(self, node: Node) -> tuple[int, list[float]] | None:
        ready: Prepared | None = node.scratch
        x0, y0, x1, y1 = (v * self._scale for v in node.cull)
        if ready is None or not ready.plain or node.shades or x0 > x1 or max(x1 - x0, y1 - y0) > LARGEST:
            return None
        left, top = math.floor(x0) - 1, math.floor(y0) - 1
        width, height = (
            (math.ceil(x1) + 3 - left) // 2 * 2,
            (math.ceil(y1) + 3 - top) // 2 * 2,
        )  # a middle at a whole px
        placed = self._pages.place(width, height)
        if placed is None:
            return None
        page, x, y = placed
        a, b, c, d, e, f = (v * self._scale for v in node.world)
        matrix = QTransform(a, b, 0.0, c, d, 0.0, e + x - left, f + y - top, 1.0)
        draw(self._pages.pixmaps[page], (x, y, width, height), matrix, Plain(ready.path, ready.pen, ready.brush))
        return page, [left + width / 2, top + height / 2, x, y, width, height, 1.0, 1.0, 0.0, 1.0]
