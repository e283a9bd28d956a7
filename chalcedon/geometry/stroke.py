"""The region a stroke covers: its true outline, with joins, caps and dashes (SVG 2, section 13.7).

The region is a set of simple pieces (geometry/pieces.py), so that no boolean operations are needed. Those of a short
outline are made at once; of a long one, piece by piece where it is asked for, and dropped when they become too many.
"""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Iterator

from chalcedon.geometry.boxes import Box, inflate
from chalcedon.geometry.dash import Dashes, Ruler
from chalcedon.geometry.flatten import affordable, count_pieces, flatten
from chalcedon.geometry.path import Outline, PathBuilder, subpaths
from chalcedon.geometry.pieces import Pen, Pieces

__all__ = ["Pen", "StrokeRegion"]

SHORT = 300
"""Edges, or dashes, up to which the pieces of an outline are made at once."""
MANY, SHARE = 1000, 0.02
"""Dashes from which on their ends are made roughly; how far off they may be, as a share of the width."""
RUN = 24
"""Edges whose pieces are made together."""
KEPT = 200_000
"""Edges of a long outline that are kept flattened."""


class StrokeRegion:
    """The area covered by a stroked path, within `tolerance` (local px) of the true one."""

    def __init__(self, path: Outline, pen: Pen, tolerance: float) -> None:
        tolerance = affordable(path, tolerance)
        # the ends of very many dashes may be off by a share of the width: nobody sees it, and they are half of the work
        rough = max(tolerance, pen.width * SHARE) if dashes_at_most(path, pen) > MANY else tolerance
        self.pen, self.tolerance = pen, tolerance
        self._all: Pieces | None = None
        self._subs: list[_Sub] = []
        self._opened: OrderedDict[int, int] = OrderedDict()  # subpaths that are flattened, and how many edges that are
        if pen.width <= 0.0 or not path.verbs:
            self._all = Pieces(pen, rough)
        elif count_pieces(path, tolerance) <= SHORT and dashes_at_most(path, pen) <= SHORT:
            self._all = Pieces(pen, rough)
            for sub in subpaths(path):
                for run in _Line(sub, pen, tolerance).runs(10**9):
                    run.into(self._all)
        else:
            self._subs = [_Sub(sub, pen, tolerance, rough) for sub in subpaths(path)]
        if self._all is not None:
            self.contains = self._all.contains  # type: ignore[method-assign]

    def contains(self, x: float, y: float) -> bool:
        """Whether (x, y), local px, is in the stroke."""
        for i, sub in enumerate(self._subs):
            left, top, right, bottom = sub.box
            if left <= x <= right and top <= y <= bottom:
                self._open(i, sub)
                if sub.contains(x, y):
                    return True
        return False

    def _open(self, i: int, sub: _Sub) -> None:
        """Has a subpath flattened, and forgets those that were asked longest ago when they are too many."""
        self._opened.pop(i, None)
        self._opened[i] = sub.open()
        total = sum(self._opened.values())
        while total > KEPT and len(self._opened) > 1:
            other, edges = self._opened.popitem(last=False)
            self._subs[other].close()
            total -= edges

    def _pieces(self) -> Iterator[Pieces]:
        if self._all is not None:
            yield self._all
        for i, sub in enumerate(self._subs):
            self._open(i, sub)
            yield from sub.pieces()

    @property
    def short(self) -> bool:
        """Whether all the pieces are there, since they are few."""
        return self._all is not None

    def outline(self) -> Outline:
        """The region as an outline: fill it with the nonzero rule. Overlapping pieces, all turning one way."""
        pen = PathBuilder()
        for pieces in self._pieces():
            pieces.draw(pen)
        return pen.path()


class _Line:
    """A flattened subpath with its dashes."""

    def __init__(self, sub: Outline, pen: Pen, tolerance: float) -> None:
        lines = flatten(sub, tolerance)
        self.line = lines[0] if lines else None
        if self.line is None:
            return
        self.ruler = Ruler(self.line)
        pattern = pen.dash if any(pen.dash) else ()
        self.dashes = Dashes(pattern, pen.dash_offset, self.ruler.at[-1], self.ruler.closed)

    def runs(self, length: int) -> Iterator[_Run]:
        """The line in runs of so many edges."""
        if self.line is None:
            return
        count = len(self.ruler.ring) - 1
        if count == 0:
            yield _Run(self, 0, 0)
        for first in range(0, count, length):
            yield _Run(self, first, min(count, first + length))


class _Run:
    """Some edges of a line, [first, last), and their pieces once they are made."""

    __slots__ = ("_made", "first", "last", "line")

    def __init__(self, line: _Line, first: int, last: int) -> None:
        self.line, self.first, self.last = line, first, last
        self._made: Pieces | None = None

    def into(self, pieces: Pieces) -> None:
        ruler, dashes = self.line.ruler, self.line.dashes
        if self.last == self.first:
            if dashes.dot():
                pieces.dot(ruler.ring[0])
            return
        for dash in dashes.between(ruler.at[self.first], ruler.at[self.last]):
            part = ruler.part(dash, self.first, self.last)
            if part is not None:
                pieces.add(part)

    def made(self, pen: Pen, tolerance: float) -> Pieces:
        if self._made is None:
            self._made = Pieces(pen, tolerance)
            self.into(self._made)
        return self._made

    def box(self, reach: float) -> Box:
        ring = self.line.ruler.ring[self.first : self.last + 1]
        xs, ys = [v.x for v in ring], [v.y for v in ring]
        return inflate((min(xs), min(ys), max(xs), max(ys)), reach)


class _Sub:
    """A subpath of a long outline, flattened while it is asked about."""

    def __init__(self, path: Outline, pen: Pen, tolerance: float, rough: float) -> None:
        self._path, self._pen, self._tolerance, self._rough = path, pen, tolerance, rough
        self.box: Box = inflate(path.bounds(), pen.reach())
        self._runs: list[_Run] = []
        self._boxes: list[Box] = []
        self._rows: list[list[int]] = []
        self._per_row = 0.0

    def open(self) -> int:
        """Flattens it, if it isn't yet; gives how many edges it has."""
        if not self._runs:
            self._runs = list(_Line(self._path, self._pen, self._tolerance).runs(RUN))
            reach = self._pen.reach()
            self._boxes = [r.box(reach) for r in self._runs]
            count = max(1, min(256, len(self._runs) // 4))
            tall = self.box[3] - self.box[1]
            self._per_row = count / tall if tall > 0.0 else 0.0
            self._rows = [[] for _ in range(count)]
            for i, box in enumerate(self._boxes):
                for row in range(self._row(box[1]), self._row(box[3]) + 1):
                    self._rows[row].append(i)
        return len(self._runs) * RUN

    def close(self) -> None:
        self._runs, self._boxes, self._rows = [], [], []

    def _row(self, y: float) -> int:
        return max(0, min(len(self._rows) - 1, int((y - self.box[1]) * self._per_row)))

    def contains(self, x: float, y: float) -> bool:
        for i in self._rows[self._row(y)]:
            left, top, right, bottom = self._boxes[i]
            inside = left <= x <= right and top <= y <= bottom
            if inside and self._runs[i].made(self._pen, self._rough).contains(x, y):
                return True
        return False

    def pieces(self) -> Iterator[Pieces]:
        for run in self._runs:
            yield run.made(self._pen, self._rough)


def dashes_at_most(path: Outline, pen: Pen) -> float:
    """About how many dashes and gaps an outline has, by the lengths of its control polygons; 0 without a pattern."""
    period = sum(pen.dash)
    if period <= 0.0:
        return 0.0
    c = path.coords
    length = sum(math.hypot(c[i] - c[i - 2], c[i + 1] - c[i - 1]) for i in range(2, len(c), 2))
    return length / period * len(pen.dash)
