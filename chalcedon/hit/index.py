"""The broad phase: which shapes have a box at a point.

Two ways, chosen by what the scene is doing. At rest, a uniform grid of plain lists (a few µs a query). While
much of the scene moves, a linear scan of NumPy columns (25 µs for 10,000 boxes), which need no upkeep
but being filled.
"""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Iterator
from typing import Any

from chalcedon.evaluate import Changes, DisplayList, Node
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import union

PER_CELL = 6
LARGE = 64
"""A box over more cells than this is kept in a list of its own that every query reads."""
MOVING = 0.05
"""When more than this share of the shapes changed at once, the grid is dropped until the scene rests."""
SPARE = 1000
"""Rows of the columns for shapes that come."""
PATIENCE = 3
"""Queries without a change in between after which the grid is built again."""


class HitIndex:
    """Boxes of a display list, by place. Call `follow` with every non-empty Changes of the list."""

    def __init__(self, display: DisplayList) -> None:
        self.display = display
        self._grid: _Grid | None = None
        self._building: Iterator[None] | None = None
        self._columns: Any = None
        self._stale: set[int] | None = None  # slots whose columns are old; None: all of them
        self._calm = PATIENCE

    def follow(self, changes: Changes) -> None:
        """Takes in what an update of the display list changed."""
        if not (changes.nodes or changes.order):
            return
        self._building = None
        count = len(self.display.order)
        if changes.order or len(changes.nodes) > max(64, count * MOVING):
            if len(changes.nodes) > max(64, count * MOVING) or self._grid is None:
                self._grid, self._calm = None, 0
                self._carried(changes)
                return
            self._grid.drop(changes.left)
        if self._stale is not None:  # slots may have been given to other shapes
            self._stale.update(n.slot for n in (*changes.nodes, *changes.left) if n.slot >= 0)
        if self._grid is not None:
            for node in changes.nodes:
                self._grid.put(node)

    def _carried(self, changes: Changes) -> None:
        """Takes in where much of the scene is now: as columns, where these are known."""
        herds = changes.herds
        known = sum(len(herd.moved) for herd in herds)
        if (
            changes.order
            or self._stale is None
            or self._columns is None
            or not all(herd.valid for herd in herds)
            or len(changes.nodes) - known > max(64, len(self.display.order) * MOVING)
        ):
            self._stale = None
            return
        for herd in herds:
            self._columns.put(herd.moved, *herd.moved_culls)
        if known < len(changes.nodes):
            ids = {id(node) for herd in herds for node in herd.nodes}
            self._stale.update(n.slot for n in changes.nodes if id(n) not in ids)

    def settle(self, seconds: float) -> bool:
        """Builds the grid for at most about so long. True when it stands."""
        if self._grid is not None:
            return True
        if self._building is None:
            self._building = self._build()
        end = time.perf_counter() + seconds
        for _ in self._building:
            if time.perf_counter() > end:
                return False
        self._building = None
        return True

    def _build(self) -> Iterator[None]:
        grid = _Grid(self.display)
        for i, node in enumerate(self.display.order):
            grid.put(node)
            if i % 256 == 255:
                yield
        self._grid = grid

    def at(self, x: float, y: float) -> list[Node]:
        """The shapes whose box holds (x, y), front to back."""
        if self._grid is None:
            self._calm += 1
            if self._calm > PATIENCE:
                self.settle(math.inf)
        if self._grid is None:
            return self.within((x, y, x, y))
        found = [n for n in self._grid.cell(x, y) if n.cull[0] <= x <= n.cull[2] and n.cull[1] <= y <= n.cull[3]]
        if len(found) > 1:
            rank = self.display.rank
            found.sort(key=lambda n: -rank[n.slot])
        return found

    def within(self, box: Box) -> list[Node]:
        """The shapes whose box meets `box`, front to back."""
        slots = self.display.slots
        rank = self.display.rank
        if len(self.display.order) < 256:
            a, b, c, d = box
            return [
                n
                for n in reversed(self.display.order)
                if n.cull[0] <= c and n.cull[2] >= a and n.cull[1] <= d and n.cull[3] >= b
            ]
        if self._grid is not None:
            near = self._grid.near(box)
            if near is not None:
                near.sort(key=lambda n: -rank[n.slot])
                return near
        found = self._scan(box)
        found.sort(key=rank.__getitem__, reverse=True)
        return [slots[s] for s in found]  # type: ignore[misc]

    def _scan(self, box: Box) -> list[int]:
        import numpy as np  # after the first frame: the import is slow

        slots = self.display.slots
        if self._columns is None or self._stale is None or len(self._columns.left) < len(slots):
            boxes = [n.cull if n is not None and self.display.rank[n.slot] >= 0 else None for n in slots]
            self._columns = _Columns(boxes + [None] * SPARE)
        elif self._stale:
            self._columns.refresh({s: slots[s] for s in self._stale})
        self._stale = set()
        c = self._columns
        np.less_equal(c.left, box[2], out=c.mask)
        np.greater_equal(c.right, box[0], out=c.other)
        np.logical_and(c.mask, c.other, out=c.mask)
        np.less_equal(c.top, box[3], out=c.other)
        np.logical_and(c.mask, c.other, out=c.mask)
        np.greater_equal(c.bottom, box[1], out=c.other)
        np.logical_and(c.mask, c.other, out=c.mask)
        return c.mask.nonzero()[0].tolist()


class _Columns:
    """Boxes as four float32 columns, rounded outward."""

    def __init__(self, boxes: list[Box | None]) -> None:
        import numpy as np

        none = (math.inf, math.inf, -math.inf, -math.inf)
        rows = np.array([none if b is None else b for b in boxes], dtype=np.float64).reshape(-1, 4)
        self.left, self.top, self.right, self.bottom = _outward(*rows.T)
        empty = rows[:, 0] > rows[:, 2]
        self.left[empty], self.right[empty] = np.inf, -np.inf
        self.mask = np.empty(len(boxes), dtype=bool)
        self.other = np.empty(len(boxes), dtype=bool)

    def put(self, keys: Any, left: Any, top: Any, right: Any, bottom: Any) -> None:
        """Takes boxes that aren't empty, as columns too, of some slots."""
        both = zip((self.left, self.top, self.right, self.bottom), _outward(left, top, right, bottom), strict=True)
        for mine, new in both:
            mine[keys] = new

    def refresh(self, nodes: dict[int, Node | None]) -> None:
        keys = list(nodes)
        part = _Columns([None if n is None else n.cull for n in nodes.values()])
        for mine, new in (
            (self.left, part.left),
            (self.top, part.top),
            (self.right, part.right),
            (self.bottom, part.bottom),
        ):
            mine[keys] = new


def _outward(left: Any, top: Any, right: Any, bottom: Any) -> tuple[Any, Any, Any, Any]:
    """Columns as float32, rounded so that the boxes grow."""
    import numpy as np

    low, high = np.float32(-np.inf), np.float32(np.inf)
    near, far = [v.astype(np.float32) for v in (left, top)], [v.astype(np.float32) for v in (right, bottom)]
    return (*(np.nextafter(v, low) for v in near), *(np.nextafter(v, high) for v in far))


class _Grid:
    """Equal cells over the bulk of the scene. Boxes beyond its rim are listed in the cells at the rim."""

    def __init__(self, display: DisplayList) -> None:
        boxes = [n.cull for n in display.order if n.cull[0] <= n.cull[2]]
        page = (0.0, 0.0, *display.scene.size)
        extent = union([page, *boxes[:: max(1, len(boxes) // 1000)]])
        # far outliers must not make every cell huge
        width, height = (min(extent[2] - extent[0], 16 * page[2]), min(extent[3] - extent[1], 16 * page[3]))
        self.x0, self.y0 = max(extent[0], -8 * page[2]), max(extent[1], -8 * page[3])
        cells = max(1.0, len(boxes) / PER_CELL)
        size = max(1e-3, math.sqrt(width * height / cells))
        self.per_px = 1.0 / size
        self.columns = max(1, min(1000, math.ceil(width / size)))
        self.rows = max(1, min(1000, math.ceil(height / size)))
        self.cells: list[list[Node]] = [[] for _ in range(self.columns * self.rows)]
        self.large: list[Node] = []
        self.where: dict[Node, tuple[int, int, int, int] | None] = {}

    def _span(self, box: Box) -> tuple[int, int, int, int]:
        right, bottom = self.columns - 1, self.rows - 1
        k, x0, y0 = self.per_px, self.x0, self.y0
        return (
            min(right, max(0, int((box[0] - x0) * k))),
            min(bottom, max(0, int((box[1] - y0) * k))),
            min(right, max(0, int((box[2] - x0) * k))),
            min(bottom, max(0, int((box[3] - y0) * k))),
        )

    def put(self, node: Node) -> None:
        box = node.cull
        span = self._span(box) if box[0] <= box[2] else None
        if node in self.where:
            if span is not None and self.where[node] == span:
                return
            self._take(node)
        if span is None:
            return
        c0, r0, c1, r1 = span
        if (c1 - c0 + 1) * (r1 - r0 + 1) > LARGE:
            self.large.append(node)
            self.where[node] = None
            return
        self.where[node] = span
        if c0 == c1 and r0 == r1:
            self.cells[r0 * self.columns + c0].append(node)
            return
        for r in range(r0, r1 + 1):
            for i in range(r * self.columns + c0, r * self.columns + c1 + 1):
                self.cells[i].append(node)

    def _take(self, node: Node) -> None:
        span = self.where.pop(node)
        if span is None:
            self.large.remove(node)
            return
        c0, r0, c1, r1 = span
        for r in range(r0, r1 + 1):
            for i in range(r * self.columns + c0, r * self.columns + c1 + 1):
                self.cells[i].remove(node)

    def drop(self, nodes: Iterable[Node]) -> None:
        """Takes nodes out, those that are in it."""
        for node in nodes:
            if node in self.where:
                self._take(node)

    def near(self, box: Box) -> list[Node] | None:
        """The shapes whose box meets a small one; None for a box over so many cells that a scan is quicker."""
        c0, r0, c1, r1 = self._span(box)
        if (c1 - c0 + 1) * (r1 - r0 + 1) > LARGE:
            return None
        found = set(self.large)
        for r in range(r0, r1 + 1):
            for i in range(r * self.columns + c0, r * self.columns + c1 + 1):
                found.update(self.cells[i])
        a, b, c, d = box
        return [n for n in found if n.cull[0] <= c and n.cull[2] >= a and n.cull[1] <= d and n.cull[3] >= b]

    def cell(self, x: float, y: float) -> list[Node]:
        c = min(self.columns - 1, max(0, int((x - self.x0) * self.per_px)))
        r = min(self.rows - 1, max(0, int((y - self.y0) * self.per_px)))
        found = self.cells[r * self.columns + c]
        return found + self.large if self.large else found
