"""Functions that remember: smoothed following, springs, sums. Each place in a formula has a `Memory` of its own.

A run moves in steps of one length. In Build nothing moves: each gives what it is given.
"""

from __future__ import annotations

import math
from typing import Any

from chalcedon.formula.table import function


class Memory:
    """What one call remembers. `before` is what it held when the step began, so that a formula which is worked out
    twice in a step comes to the same."""

    __slots__ = ("before", "frame", "now", "running", "seconds")

    def __init__(self) -> None:
        self.frame = -1
        self.before: Any = None
        self.now: Any = None
        self.running = False
        self.seconds = 1 / 60

    def begin(self, frame: int, running: bool, seconds: float) -> None:
        """To be called before the formula is worked out at a step."""
        if frame != self.frame:
            self.before, self.frame = self.now, frame
        self.running, self.seconds = running, seconds
        if not running:
            self.before = self.now = None

    def kept(self) -> tuple[int, Any, Any]:
        """All of it, for a snapshot; `restore` takes it back."""
        return self.frame, self.before, self.now

    def restore(self, kept: tuple[int, Any, Any]) -> None:
        self.frame, self.before, self.now = kept


@function("memory", needs=("memory",), same=True)
def follow(memory: Memory, x: float | Point, seconds: float = 0.2) -> Any:
    """x, smoothed: it goes 63 % of the way in so many seconds."""
    if not memory.running or memory.before is None:
        memory.now = x
    else:
        share = 1.0 if seconds <= 0 else 1 - math.exp(-memory.seconds / seconds)
        memory.now = _each(lambda a, b: a + (b - a) * share, memory.before, x)
    return memory.now


@function("memory", needs=("memory",), same=True)
def spring(memory: Memory, x: float | Point, stiffness: float = 120, damping: float = 14) -> Any:
    """x, followed by a spring: stiffness per second², damping per second. It swings past when damping is below twice
    the root of stiffness."""
    if not memory.running or memory.before is None:
        memory.now = (x, _each(lambda a, b: 0.0, x, x))
        return x
    place, speed = memory.before
    seconds = memory.seconds
    # the implicit step never grows, however stiff the spring is
    by = 1 + seconds * damping + seconds * seconds * stiffness

    def faster(v: float, d: float) -> float:
        return (v + seconds * stiffness * d) / by

    speed = _each(faster, speed, _each(lambda a, b: b - a, place, x))
    memory.now = (_each(lambda a, v: a + seconds * v, place, speed), speed)
    return memory.now[0]


@function("memory", needs=("memory",))
def grow(memory: Memory, rate: float, start: float = 0, low: float = -1e9, high: float = 1e9) -> float:
    """A number that changes by a rate per second from a start on, kept between limits."""
    if not memory.running or memory.before is None:
        memory.now = min(max(start, low), high)
    else:
        memory.now = min(max(memory.before + rate * memory.seconds, low), high)
    held: float = memory.now
    return held


@function("memory", needs=("memory",), same=True)
def held(memory: Memory, x: Any, when: bool) -> Any:
    """x as it was when a condition was true last."""
    if when or not memory.running or memory.before is None:
        memory.now = (x,)
    else:
        memory.now = memory.before
    return memory.now[0]


@function("memory", needs=("memory",), same=True)
def was(memory: Memory, x: Any) -> Any:
    """x as it was one step ago."""
    memory.now = (x,)
    return x if not memory.running or memory.before is None else memory.before[0]


@function("memory", needs=("memory",))
def count(memory: Memory, when: bool) -> float:
    """How often a condition became true since the run began."""
    if not memory.running:
        memory.now = None
        return 0
    times, prior = memory.before or (0, False)
    memory.now = (times + (bool(when) and not prior), bool(when))
    counted: int = memory.now[0]
    return counted


Point = tuple[float, float]


def _each(of: Any, a: Any, b: Any) -> Any:
    if isinstance(a, tuple):
        return tuple([of(x, y) for x, y in zip(a, b, strict=True)])
    return of(a, b)
