"""Arrow heads: outlines set on the ends of open subpaths, and the line shortened so that it doesn't show beyond."""

from __future__ import annotations

import math
from typing import NamedTuple

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.path import Outline, subpaths
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


class Headed(NamedTuple):
    """The line that is left to be stroked, and the heads, to be filled with the paint of the stroke."""

    line: Outline
    heads: Outline


def with_heads(path: Outline, length: float, start: str, end: str) -> Headed:
    """Puts heads (`none`, or one of the known) of a length in px on every open subpath."""
    from chalcedon.geometry.along import Along

    lines, heads = [], []
    for sub in subpaths(path):
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
    return Headed(_joined(lines), _joined(heads))


def _joined(paths: list[Outline]) -> Outline:
    return Outline("".join(p.verbs for p in paths), tuple(v for p in paths for v in p.coords))
