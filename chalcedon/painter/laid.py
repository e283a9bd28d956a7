"""The ready pictures that one frame shows, many laid down by one call."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np
import shiboken6
from PySide6.QtGui import QPainter, QPixmap

from chalcedon.evaluate import Node

FIELDS = 10
"""Numbers of a QPainter.PixmapFragment: its middle x and y, left, top, width and height of what it shows, its scales
across and down, its turn, its opacity."""


class Laid:
    """The ready pictures that one frame shows: what goes where, in device px of the whole view."""

    def __init__(self, slots: Any, table: Any, pages: Any, pixmaps: list[QPixmap], seen: Any) -> None:
        """A row of the table is a fragment of a page, for the node of a slot. `seen` counts how often nodes are painted
        themselves, by slot."""
        self._seen = seen
        self.rows = np.full(len(seen), -1, np.int32)
        """By the slot of a node: which row is its; -1 for those that are painted themselves."""
        self.rows[slots] = np.arange(len(slots))
        self._slots, self._table, self._pages, self._pixmaps = slots, table, pages, pixmaps

    def gone(self, after: Laid | None) -> list[int]:
        """The slots of those that are laid down here and not in the next frame."""
        if after is None:
            return self._slots.tolist()
        return self._slots[after.rows[self._slots] < 0].tolist()

    def among(self, nodes: Iterable[Node]) -> Strip:
        """Those of some nodes, in their order."""
        slots = [node.slot for node in nodes]
        rows = self.rows[slots]
        mine = rows >= 0
        self._seen[np.array(slots)[~mine]] += 1
        pages = np.full(len(slots), -1, np.int32)
        pages[mine] = self._pages[rows[mine]]
        return Strip(self._table[rows[mine]], pages, np.cumsum(mine) - mine, self._pixmaps)


class Strip:
    """Ready pictures for a run of nodes. `runs` says which of them go together."""

    def __init__(self, table: Any, pages: Any, before: Any, pixmaps: list[QPixmap]) -> None:
        self._table, self._before, self._pixmaps = table, before, pixmaps
        self._address: int = table.__array_interface__["data"][0]
        ends = [*((pages[1:] != pages[:-1]).nonzero()[0] + 1).tolist(), len(pages)]
        starts = [0, *ends[:-1]]
        self.runs: list[tuple[int, int, int]] = [
            (a, b, int(pages[a])) for a, b in zip(starts, ends, strict=True) if a < b
        ]
        """The first, the one after the last, and the page of their pictures, -1 for what is painted itself."""

    def draw(self, painter: QPainter, first: int, last: int, page: int, moved: tuple[float, ...]) -> None:
        """Lays down the pictures of the nodes [first, last), all of one page, onto an image whose px count from a place
        `moved` by as many."""
        start = int(self._before[first])
        painter.translate(*moved)
        # the rows lie in memory as the fragments do that one call takes; the array outlives the call
        where = self._address + start * FIELDS * 8
        fragments: QPainter.PixmapFragment = shiboken6.wrapInstance(where, QPainter.PixmapFragment)  # type: ignore
        painter.drawPixmapFragments(fragments, last - first, self._pixmaps[page])
