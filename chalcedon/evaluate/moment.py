"""The moment that formulas are worked out at."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

NONE: Mapping[Any, Any] = MappingProxyType({})


class Moment(NamedTuple):
    """Time, pointer, keys, and what a run has set. The one at the start of everything is `Moment()`."""

    time: float = 0.0
    """Seconds since the start of the run."""
    frame: int = 0
    """Steps since then."""
    seconds: float = 1 / 60
    """How long a step is."""
    running: bool = False
    """Whether it belongs to a run: what remembers does so in a run alone."""
    pointer: tuple[float, float] | None = None
    """Where the pointer is, in px of the page; None is the middle of the page, before there was any."""
    down: bool = False
    pressure: float = 0.0
    inside: bool = False
    """Whether it is over the page."""
    keys: frozenset[str] = frozenset()
    """The keys that are down."""
    seed: int = 0
    """What chance depends on."""
    inputs: Mapping[str, Any] = NONE
    """The values that a run has given to inputs."""
    hovered: frozenset[str] = frozenset()
    """The ids of the shapes that the pointer is on, with the groups around them."""
    pressed: frozenset[str] = frozenset()
    dragged: frozenset[str] = frozenset()
    overrides: Mapping[tuple[str, str], Any] = NONE
    """What a run has set: values by id and property, checked and plain."""


START = Moment()


def sources(old: Moment, new: Moment) -> set[tuple[Any, ...]]:
    """What differs between two moments, as the sources that formulas read."""
    out: set[tuple[Any, ...]] = set()
    if old is new:
        return out
    for field in ("time", "frame", "seed"):
        if getattr(old, field) != getattr(new, field):
            out.add((field,))
    if old.keys != new.keys:
        out.add(("keys",))
    if old.pointer != new.pointer:
        out.add(("pointer",))
    for field in ("down", "pressure", "inside"):
        if getattr(old, field) != getattr(new, field):
            out.add(("pointer", field))
    for field in ("hovered", "pressed", "dragged"):
        was, now = getattr(old, field), getattr(new, field)
        if was != now:
            out |= {(field, id) for id in was ^ now}
    if old.inputs is not new.inputs:
        names = old.inputs.keys() | new.inputs.keys()
        out |= {("input", n) for n in names if old.inputs.get(n, NONE) != new.inputs.get(n, NONE)}
    if old.frame != new.frame or old.running != new.running:
        out.add(("step",))
    return out
