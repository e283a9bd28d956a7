"""Dashes: the stretches of a flattened subpath that a dash pattern shows, by length (SVG 2, section 13.5.6)."""

from __future__ import annotations

import bisect
import itertools
import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from chalcedon.geometry.flatten import FlatLine, Vertex

MAX_DASHES = 20_000
"""An outline that would fall into more dashes is stroked whole: they could not be told apart."""


class Dash(NamedTuple):
    """A stretch of a line that is stroked, from one length to another. It `begins` and `ends` there with a cap, unless
    it goes on around the closing point."""

    start: float
    end: float
    begins: bool = True
    ends: bool = True


class Dashes:
    """Where a pattern is on along a line of some length, in its px.

    An odd pattern is repeated to an even one; the offset is where in the pattern the line begins. A pattern that sums
    to nothing, or would make more than MAX_DASHES, shows the whole line. A dash of no length is a dot. Where a dash
    runs over the closing point of a closed line, it is one dash.
    """

    def __init__(self, pattern: Sequence[float], offset: float, length: float, closed: bool) -> None:
        self._lengths = list(pattern) if len(pattern) % 2 == 0 else [*pattern, *pattern]
        self._period = sum(self._lengths)
        self._length = length
        self._closed = closed
        self.whole = self._period <= 0.0 or length / self._period * len(self._lengths) > MAX_DASHES
        """Whether the line is stroked from end to end."""
        self._over: tuple[Dash, Dash] | None = None
        """The two halves of a dash that runs over the closing point."""
        if self.whole:
            return
        self._phase = math.fmod(offset, self._period)
        if self._phase < 0.0:
            self._phase += self._period
        if closed:
            self._join_over_the_closing_point()

    def _join_over_the_closing_point(self) -> None:
        firsts = [end for start, end in self._touching(0.0, 0.0) if start <= 0.0 < end]
        lasts = [start for start, end in self._touching(self._length, self._length) if start < self._length <= end]
        if not firsts or not lasts:
            return
        if min(lasts) <= 0.0:
            self.whole = True
        else:
            ahead = Dash(min(lasts), self._length, True, False)
            self._over = ahead, Dash(0.0, max(firsts), False, True)

    def between(self, low: float, high: float) -> Iterator[Dash]:
        """The dashes that touch the stretch from `low` to `high`, cut to the line."""
        if self.whole:
            yield Dash(0.0, self._length, not self._closed, not self._closed)
            return
        for half in self._over or ():
            if half.end >= low and half.start <= high:
                yield half
        for start, end in self._touching(low, high):
            if self._over is not None and (start <= 0.0 < end or start < self._length <= end):
                continue
            # one that ends where the line begins, or begins where it ends, isn't there
            if (end > 0.0 or start == end == 0.0) and start < self._length:
                yield Dash(max(0.0, start), min(self._length, end))

    def dot(self) -> bool:
        """Whether a line without length lies on a dash, and shows its caps."""
        return self.whole or any(start <= 0.0 < end or start == end == 0.0 for start, end in self._touching(0.0, 0.0))

    def _touching(self, low: float, high: float) -> Iterator[tuple[float, float]]:
        turn = math.floor((low + self._phase) / self._period) - 1
        while True:
            start = turn * self._period - self._phase
            if start > high:
                return
            for i, size in enumerate(self._lengths):
                end = start + size
                if i % 2 == 0 and end >= low and start <= high:
                    yield start, end
                start = end
            turn += 1


class Part(NamedTuple):
    """What of a dash lies on some edges: its vertices, and whether it begins and ends there. Where it comes from
    another edge, `before` is a vertex back on the line."""

    vertices: list[Vertex]
    begins: bool
    ends: bool
    before: Vertex | None


class Ruler:
    """A subpath with the length from its start to every vertex. The ring of a closed one repeats its first vertex."""

    def __init__(self, line: FlatLine) -> None:
        v = line.vertices
        self.closed = line.closed and len(v) > 1
        self.ring = [*v, v[0]] if self.closed else v
        steps = (math.hypot(b.x - a.x, b.y - a.y) for a, b in itertools.pairwise(self.ring))
        self.at = [0.0, *itertools.accumulate(steps)]
        """The lengths, one a vertex of the ring."""

    def part(self, dash: Dash, first: int, last: int) -> Part | None:
        """What of a dash lies on the edges [first, last); None when nothing does."""
        low, high = self.at[first], self.at[last]
        a, b = max(dash.start, low), min(dash.end, high)
        if a > b or (a == b and dash.start != dash.end):
            return None
        # by number where it goes on over an end of these edges: an edge may be too short to show in the lengths
        i = first if a <= low else max(first, min(last - 1, bisect.bisect_right(self.at, a) - 1))
        vertices = [self._vertex(i, a)]
        if a < b < high:
            while i + 1 < last and self.at[i + 1] < b:
                i += 1
                vertices.append(self.ring[i])
            vertices.append(self._vertex(i, b))
        elif a < b:
            vertices += self.ring[i + 1 : last + 1]
        begins = dash.begins and dash.start >= low
        before = None
        if not begins:
            before = self._vertex(first - 1, max(dash.start, self.at[first - 1])) if first > 0 else self.ring[-2]
        return Part(vertices, begins, dash.ends and dash.end <= high, before)

    def _vertex(self, i: int, s: float) -> Vertex:
        """The point at a length on edge `i`: a vertex of the line at its ends, else a cut along the curve's tangent."""
        a, b = self.ring[i], self.ring[i + 1]
        low, high = self.at[i], self.at[i + 1]
        if s <= low:
            return a
        if s >= high:
            return b
        t = (s - low) / (high - low)
        bent = (a.leave[0] + (b.arrive[0] - a.leave[0]) * t, a.leave[1] + (b.arrive[1] - a.leave[1]) * t)
        size = math.hypot(*bent)
        if size > 0.5:
            way = (bent[0] / size, bent[1] / size)
        else:
            way = ((b.x - a.x) / (high - low), (b.y - a.y) / (high - low))
        return Vertex(a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t, way, way, False)
