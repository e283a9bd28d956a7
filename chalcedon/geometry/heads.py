"""Heads: outlines set on the ends of open subpaths, where the line is shortened so that it doesn't show beyond, and on
the points between."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.path import Outline, as_one, subpaths
from chalcedon.geometry.primitives import ellipse, polyline

LARGEST = 1.0
"""How far a head reaches from the end to the side or beyond it, in head lengths."""

# outlines for a length of 1, the end of the line at 0, 0, the line arriving along the x axis, all turning the same way;
# and how much the line is shortened, so that its corners stay inside
_HEADS: dict[str, tuple[Outline, float]] = {
    "triangle": (polyline([(0.0, 0.0), (-1.0, 0.42), (-1.0, -0.42)], True), 0.9),
    "barb": (polyline([(0.0, 0.0), (-1.0, 0.5), (-0.62, 0.0), (-1.0, -0.5)], True), 0.6),
    "dot": (ellipse(0.4, 0.4), 0.0),
    "bar": (polyline([(0.0, -0.5), (0.0, 0.5), (-0.25, 0.5), (-0.25, -0.5)], True), 0.1),
    "diamond": (polyline([(0.5, 0.0), (0.0, 0.5), (-0.5, 0.0), (0.0, -0.5)], True), 0.0),
}


Point = tuple[float, ...]


class Headed(NamedTuple):
    """The line that is left to be stroked, and the heads, to be filled with the paint of the stroke."""

    line: Outline
    heads: Outline


@lru_cache(maxsize=32)  # painting asks anew for every scale, and lengths along take time
def with_heads(path: Outline, length: float, start: str, end: str, mid: str = "none") -> Headed:
    """Puts heads (`none`, or one of the known) of a length in px on the ends of every open subpath, and on the points
    between two segments."""
    from chalcedon.geometry.along import Along

    lines, heads = [], []
    for sub in subpaths(path):
        if mid != "none" and length > 0.0:
            heads += [_HEADS[mid][0].mapped(Affine(c, s, -s, c, x, y)) for x, y, c, s in _corners(sub, length)]
        if sub.verbs.endswith("Z") or length <= 0.0:
            lines.append(sub)
            continue
        along = Along(sub)
        low, high = 0.0, along.length
        for kind, at_end in ((start, False), (end, True)):
            spot = along.at(along.length if at_end else 0.0)
            if kind == "none" or spot is None:
                continue
            outline, cut = _HEADS[kind]
            back = along.at(along.length - cut * length if at_end else cut * length)
            assert back is not None
            # on a bend the head lies along the chord, so that its back stays on the line
            dx, dy = spot.x - back.x, spot.y - back.y
            if cut == 0.0 or (dx == 0.0 and dy == 0.0):
                dx, dy = spot.tangent if at_end else (-spot.tangent[0], -spot.tangent[1])
            size = math.hypot(dx, dy)
            c, s = dx / size * length, dy / size * length
            # turned, never mirrored: all heads run around the way the pieces of strokes do
            heads.append(outline.mapped(Affine(c, s, -s, c, spot.x, spot.y)))
            if at_end:
                high -= cut * length
            else:
                low += cut * length
        if low < high:
            lines.append(along.part(low, high) if (low, high) != (0.0, along.length) else sub)
    return Headed(as_one(lines), as_one(heads))


def _corners(path: Outline, length: float) -> list[tuple[float, float, float, float]]:
    """The points of a subpath between two segments, each with the middle of the directions in which the line arrives
    and leaves (SVG 2, section 13.7.3), of a length."""
    closed = path.verbs.endswith("Z")
    sides: list[tuple[Point, Point, Point]] = []  # how each segment leaves, how it arrives, and where
    here = first = path.coords[:2]
    for verb, c in path.segments():
        if verb == "M":
            continue
        points = [here, *zip(c[::2], c[1::2], strict=True)] if verb != "Z" else [here, first]
        steps = [(b[0] - a[0], b[1] - a[1]) for a, b in pairwise(points)]
        steps = [s for s in steps if s != (0.0, 0.0)]
        here = points[-1]
        if steps:
            sides.append((steps[0], steps[-1], here))
    pairs = [*pairwise(sides), (sides[-1], sides[0])] if closed and len(sides) > 1 else list(pairwise(sides))
    out = []
    for (_, arrives, (x, y)), (leaves, _, _) in pairs:
        a, b = math.hypot(*arrives), math.hypot(*leaves)
        dx, dy = arrives[0] / a + leaves[0] / b, arrives[1] / a + leaves[1] / b
        size = math.hypot(dx, dy)
        if size < 1e-9:  # it turns right round
            dx, dy, size = arrives[0], arrives[1], a
        out.append((x, y, dx / size * length, dy / size * length))
    return out
