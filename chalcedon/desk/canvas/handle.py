"""A handle: a place on the canvas where a number of a shape is taken hold of. No Qt here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from chalcedon.evaluate.hold import Change, Point


@dataclass(frozen=True, slots=True)
class Handle:
    """`role` says what it is for; `raw` where it stands; `drag` takes a raw point, decimals, and whether the
    drag is held to squares or steps of 15 degrees."""

    role: str
    raw: Point
    drag: Callable[[Point, int, bool], Change]
    tether: Point | None = None
    """The raw point that it hangs on, shown by a line."""
