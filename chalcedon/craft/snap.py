"""Snapping: where a point, or a box that is moved, would line up with what is near it, and with what.

All in scene px. Boxes are those of outlines. A `Snapper` is made when a gesture begins; the shapes that the gesture
changes are left out of it.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

from chalcedon.craft.align import corners_of
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.geometry import Box
from chalcedon.geometry.along import Along
from chalcedon.scene.axes import across
from chalcedon.scene.grips import Point

NEAR = 64
"""So many of the nearest shapes are snapped to."""
AROUND = 1500
"""So many shapes are around a box; among these the nearest are sought while it is moved a little."""
TO_OUTLINE = 8
"""Of so many shapes under the point the outline is asked."""
SEGMENTS = 400
"""Segments from which on an outline isn't snapped to: to find its nearest place takes too long for a frame."""
AXES = (("left", "centre", "right"), ("top", "centre", "bottom"))
SAME = 1e-6


class Mark(NamedTuple):
    """What was snapped to: in words, and as lines to be drawn; `spot` is where the words belong."""

    words: str
    lines: tuple[tuple[Point, Point], ...]
    spot: Point


class Snapped(NamedTuple):
    """How far to move, and why; `x` and `y` say which of the two was snapped."""

    dx: float
    dy: float
    marks: tuple[Mark, ...] = ()
    x: bool = False
    y: bool = False


class _Place(NamedTuple):
    """A line across the page at a place on an axis, or a length; `low` and `high` are how far what it belongs to
    reaches along the line."""

    at: float
    words: str
    low: float
    high: float
    gaps: tuple[tuple[Point, Point], ...] = ()


class _Near(NamedTuple):
    """A shape that can be snapped to."""

    name: str
    box: Box
    node: Node


class Snapper:
    """What can be snapped to. `guides` are places on the x and the y axis, `grid` the distance of its lines."""

    def __init__(
        self,
        display: DisplayList,
        without: Iterable[Node] = (),
        guides: tuple[Sequence[float], Sequence[float]] = ((), ()),
        grid: float | None = None,
        view: Box | None = None,
    ) -> None:
        left_out = {id(leaf) for n in without for leaf in (n.walk_leaves() if n.group else [n])}
        self._nodes = [
            n
            for n in display.order
            if id(n) not in left_out and n.cull[0] <= n.cull[2] and (view is None or _meet(n.cull, view))
        ]
        self._culls = np.array([n.cull for n in self._nodes], dtype=float).reshape(-1, 4)
        self._around = np.arange(len(self._nodes))
        self._from: Box | None = None
        self._beyond = math.inf
        self._boxes: dict[int, Box] = {}
        self._along: dict[int, Along] = {}
        self._known: dict[int, list[Point]] = {}
        self._scene = display.scene
        width, height = display.scene.size
        self._page: Box = (0.0, 0.0, width, height)
        self._guides, self._grid = guides, grid

    # what is near

    def _near(self, box: Box) -> list[_Near]:
        """The shapes nearest to a box, nearest first."""
        if not self._nodes:
            return []
        if self._from is None and len(self._nodes) > AROUND:
            self._look_around(box)
        near, away = self._nearest_of(self._around, box, NEAR)
        if self._from is not None:
            # whatever isn't around was farther off than `_beyond`, and has come no nearer than the box has gone
            x, y = (max(abs(box[i] - self._from[i]), abs(box[i + 2] - self._from[i + 2])) for i in (0, 1))
            if away > self._beyond - (x + y + max(x, y)):
                near, _ = self._nearest_of(self._look_around(box), box, NEAR)
        return [_Near(self._nodes[i].shape.id, self._box(int(i)), self._nodes[i]) for i in near]

    def _look_around(self, box: Box) -> np.ndarray:
        """Of very many shapes, those among which the nearest are sought until the box is far from here."""
        found, self._beyond = self._nearest_of(np.arange(len(self._nodes)), box, AROUND)
        self._around, self._from = np.sort(found), box
        return self._around

    def _nearest_of(self, some: np.ndarray, box: Box, count: int) -> tuple[np.ndarray, float]:
        """The nearest of some shapes to a box, nearest first, and how far off the last of them is."""
        c = self._culls[some] if len(some) < len(self._culls) else self._culls
        dx = np.maximum(np.maximum(c[:, 0] - box[2], box[0] - c[:, 2]), 0.0)
        dy = np.maximum(np.maximum(c[:, 1] - box[3], box[1] - c[:, 3]), 0.0)
        # beside one another counts more than apart in both ways: that is where things line up
        away = dx + dy + np.minimum(dx, dy)
        first = np.argpartition(away, count)[:count] if len(away) > count else np.arange(len(away))
        order = first[np.argsort(away[first], kind="stable")]
        return some[order], float(away[order[-1]])

    def _box(self, index: int) -> Box:
        if index not in self._boxes:
            self._boxes[index] = self._nodes[index].bounds()
        return self._boxes[index]

    def _corners(self, node: Node) -> list[Point]:
        if id(node) not in self._known:
            few = node.kind.text is False and len(node.outline.verbs) <= SEGMENTS
            self._known[id(node)] = corners_of(node) if few else []
        return self._known[id(node)]

    def _lines(self, axis: int, near: Sequence[_Near], own: Sequence[float], reach: float) -> Iterator[_Place | None]:
        """For each of some places the nearest that it can line up with on an axis: guides, the page, then shapes."""
        other = 1 - axis
        first = [
            _Place(at, f"guide at {across(self._scene, at, at)[axis]:g}", self._page[other], self._page[other + 2])
            for at in self._guides[axis]
        ]
        for i, part in enumerate(AXES[axis]):
            at = self._page[axis] + (self._page[axis + 2] - self._page[axis]) * i / 2
            first.append(_Place(at, f"{part} of the page", self._page[other], self._page[other + 2]))
        edges = np.array([(n.box[axis], n.box[axis + 2]) for n in near]).reshape(-1, 2)
        places = (edges[:, :1] + (edges[:, 1:] - edges[:, :1]) * (0.0, 0.5, 1.0)).ravel()
        for at in own:
            best = _nearest(first, at, reach)
            away = np.abs(places - at)
            least = away.min() if near else math.inf
            if least <= reach and (best is None or least < abs(best.at - at) - SAME):
                i = int(np.argmax(away <= least + SAME))  # of equally near ones the first
                name, box, _node = near[i // 3]
                best = _Place(float(places[i]), f"{AXES[axis][i % 3]} of {name}", box[other], box[other + 2])
            yield best

    # a point

    def point(self, x: float, y: float, reach: float, fixed: Point | None = None, radial: bool = False) -> Snapped:
        """Where a point snaps to within a distance: corners, centres and points of shapes, guides and lines of the page
        that cross; else a place on each axis, a size that another shape has, counted from `fixed`, or an outline; else
        the grid. With `radial` the size is the distance from `fixed`."""
        near = self._near((x, y, x, y))
        spot = self._spot(x, y, reach, near)
        if spot is not None:
            return spot
        if radial and fixed is not None:
            ring = _ring(x, y, reach, fixed, near)
            if ring is not None:
                return ring
        found = [self._axis(axis, (x, y), reach, near, None if radial else fixed) for axis in (0, 1)]
        if found[0] is None and found[1] is None:
            on = self._outline(x, y, reach, near)
            if on is not None:
                return on
        return self._with_grid((x, y), found, reach)

    def _spot(self, x: float, y: float, reach: float, near: Sequence[_Near]) -> Snapped | None:
        best: tuple[float, Point, str] | None = None
        for at, words in self._spots(near, x, y, reach):
            away = math.hypot(at[0] - x, at[1] - y)
            if away <= reach and (best is None or away < best[0] - SAME):
                best = away, at, words
        if best is None:
            return None
        _, at, words = best
        return Snapped(at[0] - x, at[1] - y, (Mark(words, (), at),), True, True)

    def _spots(self, near: Sequence[_Near], x: float, y: float, reach: float) -> Iterator[tuple[Point, str]]:
        for gx in self._guides[0]:
            for gy in self._guides[1]:
                yield (gx, gy), "where guides cross"
        left, top, right, bottom = self._page
        for corner in ((left, top), (right, top), (right, bottom), (left, bottom)):
            yield corner, "corner of the page"
        yield ((left + right) / 2, (top + bottom) / 2), "centre of the page"
        for name, box, node in near:
            if not (box[0] - reach <= x <= box[2] + reach and box[1] - reach <= y <= box[3] + reach):
                continue
            yield ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2), f"centre of {name}"
            for corner in self._corners(node):
                yield corner, f"{'point' if node.shape.kind in ('polyline', 'path', 'line') else 'corner'} of {name}"

    def _axis(
        self, axis: int, at: Point, reach: float, near: Sequence[_Near], fixed: Point | None
    ) -> tuple[float, Mark] | None:
        """The nearest line on one axis, or the nearest size of another shape."""
        (best,) = self._lines(axis, near, at[axis : axis + 1], reach)
        step = _nearest(_steps(axis, at, reach, near), at[axis], reach)
        if step is not None and (best is None or abs(step.at - at[axis]) <= abs(best.at - at[axis])):
            best = step
        if fixed is not None:
            length = abs(at[axis] - fixed[axis])
            side = 1.0 if at[axis] >= fixed[axis] else -1.0
            sizes = _sizes(axis, near, fixed[axis], side)
            equal = _nearest(sizes, at[axis], reach) if length > reach else None
            if equal is not None and (best is None or abs(equal.at - at[axis]) < abs(best.at - at[axis]) - SAME):
                best = equal
        return None if best is None else (best.at - at[axis], _mark(axis, best, at[1 - axis], at[1 - axis]))

    def _outline(self, x: float, y: float, reach: float, near: Sequence[_Near]) -> Snapped | None:
        best: tuple[float, Point, str] | None = None
        asked = 0
        for name, box, node in near:
            if not (box[0] - reach <= x <= box[2] + reach and box[1] - reach <= y <= box[3] + reach):
                continue
            if node.kind.text or len(node.outline.verbs) > SEGMENTS:
                continue
            asked += 1
            if asked > TO_OUTLINE:
                break
            if id(node) not in self._along:
                self._along[id(node)] = Along(node.outline.mapped(node.world))
            found = self._along[id(node)].nearest(x, y)
            if found is not None and found[1] <= reach and (best is None or found[1] < best[0]):
                best = found[1], (found[0].x, found[0].y), name
        if best is None:
            return None
        _, spot, name = best
        return Snapped(spot[0] - x, spot[1] - y, (Mark(f"on {name}", (), spot),), True, True)

    def _with_grid(self, at: Point, found: list[tuple[float, Mark] | None], reach: float) -> Snapped:
        off, marks, which = [0.0, 0.0], [], [False, False]
        for axis, one in enumerate(found):
            if one is None and self._grid:
                first = across(self._scene, 0.0, 0.0)[axis]
                step = first + round((at[axis] - first) / self._grid) * self._grid - at[axis]
                if abs(step) <= reach:
                    off[axis], which[axis] = step, True
            elif one is not None:
                off[axis], which[axis] = one[0], True
                marks.append(one[1])
        if not marks and any(which):
            marks = [Mark("grid", (), (at[0] + off[0], at[1] + off[1]))]
        return Snapped(off[0], off[1], tuple(marks), which[0], which[1])

    # a box

    def box(self, box: Box, reach: float) -> Snapped:
        """How far a moved box has to go so that an edge or the centre lines up, or the gaps beside it are equal."""
        near = self._near(box)
        found: list[tuple[float, Mark] | None] = [self._box_axis(axis, box, reach, near) for axis in (0, 1)]
        return self._with_grid((box[0], box[1]), found, reach)

    def _box_axis(self, axis: int, box: Box, reach: float, near: Sequence[_Near]) -> tuple[float, Mark] | None:
        low, high, other = box[axis], box[axis + 2], 1 - axis
        best: tuple[float, _Place] | None = None
        places = tuple(dict.fromkeys((low, (low + high) / 2, high)))
        for own, place in zip(places, self._lines(axis, near, places, reach), strict=True):
            if place is not None and (best is None or abs(place.at - own) < abs(best[0]) - SAME):
                best = place.at - own, place
        gap = _nearest(_gaps(axis, box, near), low, reach)
        if gap is not None and (best is None or abs(gap.at - low) < abs(best[0]) - SAME):
            best = gap.at - low, gap
        return None if best is None else (best[0], _mark(axis, best[1], box[other], box[other + 2]))


def _nearest(places: Iterable[_Place], at: float, reach: float) -> _Place | None:
    """The nearest place within reach; of equally near ones the first."""
    best = None
    for place in places:
        away = abs(place.at - at)
        if away <= reach:
            best, reach = place, max(0.0, away - SAME)
    return best


def _mark(axis: int, place: _Place, low: float, high: float) -> Mark:
    """A line through what was snapped and what it was snapped to."""
    if place.gaps:
        (a, b) = place.gaps[-1]
        return Mark(place.words, place.gaps, ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2))
    low, high = min(low, place.low), max(high, place.high)
    ends = ((place.at, low), (place.at, high)) if axis == 0 else ((low, place.at), (high, place.at))
    return Mark(place.words, (ends,), ends[0])


def _sizes(axis: int, near: Sequence[_Near], fixed: float, side: float) -> Iterator[_Place]:
    """Where an edge would be for the size of another shape."""
    word = ("wide", "tall")[axis]
    for name, box, _node in near:
        size = box[axis + 2] - box[axis]
        if size > 0:
            other = box[3 - axis]
            ends = (box[axis], other), (box[axis + 2], other)
            line = (ends[0], ends[1]) if axis == 0 else ((other, box[1]), (other, box[3]))
            yield _Place(fixed + side * size, f"as {word} as {name}, {size:.4g}", 0.0, 0.0, (line,))


def _ring(x: float, y: float, reach: float, fixed: Point, near: Sequence[_Near]) -> Snapped | None:
    """The radius of another round shape."""
    radius = math.hypot(x - fixed[0], y - fixed[1])
    if radius <= reach:
        return None
    best: tuple[float, str, Box] | None = None
    for name, box, node in near:
        if node.shape.kind not in ("circle", "regular_polygon", "star", "annulus"):
            continue
        own = max((box[2] - box[0]) / 2, (box[3] - box[1]) / 2) if node.shape.kind == "circle" else _outer(node)
        if abs(own - radius) <= reach and (best is None or abs(own - radius) < abs(best[0] - radius) - SAME):
            best = own, name, box
    if best is None:
        return None
    own, name, box = best
    factor = own / radius
    middle = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    line = middle, (middle[0] + own, middle[1])
    mark = Mark(f"as large as {name}, radius {own:.4g}", (line,), line[1])
    return Snapped((x - fixed[0]) * (factor - 1), (y - fixed[1]) * (factor - 1), (mark,), True, True)


def _outer(node: Node) -> float:
    value = node.value("radius") if "radius" in node.shape.properties else node.value("outer")
    return float(value) * node.world.stretch


def _gaps(axis: int, box: Box, near: Sequence[_Near]) -> Iterator[_Place]:
    """Where a box would begin for the gaps beside it to be equal: between two, or beyond a pair as far as they are from
    each other. Only shapes beside it count, those that it meets when it is moved along the axis."""
    other = 1 - axis
    size = box[axis + 2] - box[axis]
    beside = [n for n in near if n.box[other] < box[other + 2] and box[other] < n.box[other + 2]]
    beside.sort(key=lambda n: n.box[axis])
    line = (max(box[other], 0.0) + box[other + 2]) / 2 if box[other + 2] > 0 else box[other]

    def across(a: float, b: float) -> tuple[Point, Point]:
        return ((a, line), (b, line)) if axis == 0 else ((line, a), (line, b))

    for one, two in itertools.pairwise(beside):
        low, high = one.box[axis + 2], two.box[axis]
        gap = high - low
        if gap <= SAME:
            continue
        words = f"equal gaps, {{:.4g}}: {one.name}, {two.name}"
        if gap > size:
            part = (gap - size) / 2
            yield _Place(low + part, words.format(part), 0, 0, (across(low, low + part), across(high - part, high)))
        after, before = two.box[axis + 2] + gap, one.box[axis] - gap - size
        yield _Place(after, words.format(gap), 0, 0, (across(low, high), across(two.box[axis + 2], after)))
        yield _Place(before, words.format(gap), 0, 0, (across(low, high), across(before + size, one.box[axis])))


def _steps(axis: int, at: Point, reach: float, near: Sequence[_Near]) -> Iterator[_Place]:
    """Where a centre would be as far from the next one as that is from the one after, in a line with both."""
    other = 1 - axis
    middles = [(((n.box[0] + n.box[2]) / 2, (n.box[1] + n.box[3]) / 2), n.name) for n in near]
    row = sorted((m for m in middles if abs(m[0][other] - at[other]) <= reach), key=lambda m: m[0][axis])

    def across(a: float, b: float, level: float) -> tuple[Point, Point]:
        return ((a, level), (b, level)) if axis == 0 else ((level, a), (level, b))

    for (one, name), (two, next_name) in itertools.pairwise(row):
        a, b, level = one[axis], two[axis], one[other]
        if b - a <= SAME:
            continue
        words = f"equal steps, {{:.4g}}: {name}, {next_name}"
        for to, step in ((2 * b - a, b - a), ((a + b) / 2, (b - a) / 2), (2 * a - b, b - a)):
            ends = sorted((a, b, to))
            lines = tuple(across(p, q, level) for p, q in itertools.pairwise(ends))
            yield _Place(to, words.format(step), 0, 0, lines)


def _meet(a: Box, b: Box) -> bool:
    return a[0] <= b[2] and b[0] <= a[2] and a[1] <= b[3] and b[1] <= a[3]
