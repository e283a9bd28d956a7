"""Handles: the places on the canvas where a shape's own numbers are taken hold of, and what dragging one comes to.

A handle stands and is dragged in raw space, a kind's own coordinates before the anchor: a rect's run from 0, 0 to its
size, a circle has its centre at 0, 0. Every change names a raw point that must stay where it is on the page.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from chalcedon.scene.tidy import tidy

Point = tuple[float, float]
CENTRE: Point = (0.0, 0.0)


@dataclass(frozen=True, slots=True)
class Change:
    """New values, the raw point that stays (before, after), and a word to show beside the pointer."""

    values: dict[str, Any]
    before: Point = CENTRE
    after: Point = CENTRE
    word: str = ""


Drag = Callable[[Point, int, bool], Change]


@dataclass(frozen=True, slots=True)
class Handle:
    """`role` says what it is for; `raw` where it stands; `drag` takes a raw point, decimals, and whether the
    drag is held to squares or steps of 15 degrees."""

    role: str
    raw: Point
    drag: Drag
    tether: Point | None = None
    """The raw point that it hangs on, shown by a line."""
    typed: Callable[[float], Point] | None = None
    """Where it has to be for a typed number, if that isn't a length, a place or an angle."""


def held_direction(q: Point, held: bool) -> Point:
    """A point; when it is held, turned about 0, 0 to the nearest multiple of 15 degrees."""
    if not held:
        return q
    length = math.hypot(*q)
    angle = math.radians(round(math.degrees(math.atan2(q[1], q[0])) / 15) * 15)
    return length * math.cos(angle), length * math.sin(angle)


def direction_of(q: Point, held: bool) -> float:
    """The direction of a point from the centre, in whole degrees; in steps of 15 when held."""
    angle = math.degrees(math.atan2(q[1], q[0]))
    return round(angle / 15) * 15 if held else round(angle)


def turned_to(angle: float, near: float) -> float:
    """The same direction as `angle`, by the number of turns that is nearest to `near`."""
    return tidy(angle + 360 * round((near - angle) / 360))


def rounded_point(q: Point, digits: int) -> Point:
    """A point to so many decimals."""
    return tidy(q[0], digits), tidy(q[1], digits)
