"""Dashes: a flattened subpath cut by length (SVG 2, section 13.5.6)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from chalcedon.geometry.flatten import Polyline, Vertex

MAX_DASHES = 20_000
"""An outline that would fall into more dashes is stroked whole: they could not be told apart."""


def dash(line: Polyline, pattern: Sequence[float], offset: float) -> list[Polyline]:
    """The dashes of one subpath. Lengths in local px; an odd pattern is repeated to an even one.

    Every dash is open and gets caps; corners inside a dash keep their joins. A pattern that sums to zero
    means no dashing (SVG 2).
    """
    lengths = list(pattern) if len(pattern) % 2 == 0 else [*pattern, *pattern]
    total = sum(lengths)
    vertices = line.vertices
    if total <= 0.0 or len(vertices) < 2:
        return [line]
    ring = [*vertices, vertices[0]] if line.closed else vertices
    whole = sum(math.hypot(b.x - a.x, b.y - a.y) for a, b in itertools.pairwise(ring))
    if whole / total * len(lengths) > MAX_DASHES:
        return [line]

    index, left = 0, math.fmod(offset, total)
    if left < 0.0:
        left += total
    while left > 0.0 and left >= lengths[index]:  # a dash of length 0 that starts here is a dot, not passed over
        left -= lengths[index]
        index = (index + 1) % len(lengths)
    left = lengths[index] - left  # what remains of the current dash or gap

    out: list[Polyline] = []
    on = index % 2 == 0
    current: list[Vertex] = [ring[0]] if on else []
    for a, b in itertools.pairwise(ring):
        length = math.hypot(b.x - a.x, b.y - a.y)
        way = ((b.x - a.x) / length, (b.y - a.y) / length)
        done = 0.0
        while length - done > left:
            done += left
            t = done / length
            bent = (a.leave[0] + (b.arrive[0] - a.leave[0]) * t, a.leave[1] + (b.arrive[1] - a.leave[1]) * t)
            size = math.hypot(*bent)
            along = (bent[0] / size, bent[1] / size) if size > 0.5 else way  # the curve's tangent, not the chord's
            cut = Vertex(a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t, along, along, False)
            if on:
                current.append(cut)
                out.append(_open(current))
                current = []
            else:
                current = [cut]
            on = not on
            index = (index + 1) % len(lengths)
            left = lengths[index]
        left -= length - done
        if on:
            current.append(b)
    if on and (len(current) > 1 or not out):
        out.append(_open(current))
    return out


def _open(vertices: list[Vertex]) -> Polyline:
    """An open subpath whose ends point along it, without repeated points (a dash of length 0 is a dot)."""
    kept = [vertices[0]]
    for v in vertices[1:]:
        if (v.x, v.y) != (kept[-1].x, kept[-1].y):
            kept.append(v)
    if len(kept) == 1:
        v = kept[0]
        return Polyline([Vertex(v.x, v.y, v.leave, v.leave, True)], False)
    return Polyline(kept, False)
