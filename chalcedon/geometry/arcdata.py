"""SVG path data of round outlines, with their arcs as arcs."""

from __future__ import annotations

import math
from collections.abc import Sequence

from chalcedon.geometry.pathdata import Segment
from chalcedon.geometry.primitives import SHARP, fit_corners
from chalcedon.geometry.round import parameter, point_at, toward

MOST_TURN = 120.0
"""Degrees of one arc."""
Point = tuple[float, float]


def whole(rx: float, ry: float, clockwise: bool = True) -> list[Segment]:
    """An ellipse about 0, 0, from the positive x axis on; toward the positive y axis if `clockwise`."""
    way = 1.0 if clockwise else 0.0
    half = [Segment("A", (rx, ry, 0.0, 0.0, way, x, 0.0)) for x in (-rx, rx)]
    return [Segment("M", (rx, 0.0)), *half, Segment("Z", ())]


def turn(rx: float, ry: float, start: float, sweep: float) -> list[Segment]:
    """Arcs from a direction on, in degrees; the point where they begin is left out. They are short: where the ends of
    one lie nearly opposite, a rounded digit of theirs would move its centre by far more."""
    first, last = parameter(rx, ry, start), parameter(rx, ry, start + sweep)
    count = max(1, math.ceil(abs(last - first) / MOST_TURN))
    way = 1.0 if sweep > 0 else 0.0
    ends = [point_at(rx, ry, first + (last - first) * (i + 1) / count) for i in range(count)]
    return [Segment("A", (rx, ry, 0.0, 0.0, way, *end)) for end in ends]


def part(rx: float, ry: float, start: float, sweep: float, ends: str) -> list[Segment]:
    """A part of an ellipse's edge: open, closed by a `chord`, or by way of the centre as a `pie`."""
    first = toward(rx, ry, start)
    slice_of_it = ends == "pie" and abs(sweep) < 360.0
    begin = [Segment("M", (0.0, 0.0)), Segment("L", first)] if slice_of_it else [Segment("M", first)]
    out = [*begin, *turn(rx, ry, start, sweep)]
    return out if ends == "open" else [*out, Segment("Z", ())]


def ring(inner: float, outer: float, start: float, sweep: float) -> list[Segment]:
    """What lies between two circles, or a slice of it."""
    inner, outer = sorted((inner, outer))
    if abs(sweep) >= 360.0:
        return [*whole(outer, outer), *(whole(inner, inner, False) if inner > 0.0 else [])]
    out = [Segment("M", toward(outer, outer, start)), *turn(outer, outer, start, sweep)]
    out.append(Segment("L", toward(inner, inner, start + sweep)))
    if inner > 0.0:
        out += turn(inner, inner, start + sweep, -sweep)
    return [*out, Segment("Z", ())]


def rounded(width: float, height: float, corners: Sequence[float]) -> list[Segment]:
    """A rectangle from 0, 0 with round corners."""
    tl, tr, br, bl = fit_corners(width, height, corners)
    out = [Segment("M", (tl, 0.0))]
    last = tl, 0.0
    for r, before, after in (
        (tr, (width - tr, 0.0), (width, tr)),
        (br, (width, height - br), (width - br, height)),
        (bl, (bl, height), (0.0, height - bl)),
        (tl, (0.0, tl), (tl, 0.0)),
    ):
        if abs(before[0] - last[0]) + abs(before[1] - last[1]) > SHARP:
            out.append(Segment("L", before))
        if r > 0.0:
            out.append(Segment("A", (r, r, 0.0, 0.0, 1.0, *after)))
        last = after
    return [*out, Segment("Z", ())]
