"""Handles for the points of a path: its knots, and the controls of its curves."""

from __future__ import annotations

from chalcedon.geometry import contours as change
from chalcedon.geometry.contours import Contour, segments_of
from chalcedon.geometry.pathdata import Segment, print_path
from chalcedon.scene.grips import Change, Drag, Handle, Point, rounded_point
from chalcedon.scene.tidy import tidy

MOST = 150
"""Knots of a path that get handles without being asked for."""
DIGITS = 3
"""Decimals that new points are written with."""


def path_handles(contours: list[Contour]) -> list[Handle]:
    """Every knot, and every control with a line to its knot."""
    if sum(len(c.knots) for c in contours) > MOST:
        return []
    out: list[Handle] = []
    for c, contour in enumerate(contours):
        for i, knot in enumerate(contour.knots):
            for leaving, control in zip((False, True), contour.controls(i), strict=True):
                if control is not None and control != knot:
                    out.append(Handle("control", control, _control(contours, c, i, leaving), knot))
            out.append(Handle("point", knot, _knot(contours, c, i)))
    return out


def _knot(contours: list[Contour], c: int, i: int) -> Drag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        to = rounded_point(q, digits)
        return _data(contours, c, change.moved(contours[c], i, to), f"point {i + 1}: {to[0]:g}, {to[1]:g}")

    return drag


def _control(contours: list[Contour], c: int, i: int, leaving: bool) -> Drag:
    smooth = change.is_smooth(contours[c], i)

    def drag(q: Point, digits: int, held: bool) -> Change:
        to = rounded_point(q, digits)
        new = change.with_control(contours[c], i, leaving, to, smooth and not held)
        return _data(contours, c, new, f"control: {to[0]:g}, {to[1]:g}")

    return drag


def _data(contours: list[Contour], c: int, new: Contour, word: str) -> Change:
    segments = segments_of([*contours[:c], new, *contours[c + 1 :]])
    tidied = [Segment(s.letter, tuple(tidy(v, DIGITS) for v in s.numbers)) for s in segments]
    return Change({"data": print_path(tidied)}, word=word)
