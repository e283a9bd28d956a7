"""Functions of time: easing, waves, keyframes. Seconds; shares go from 0 to 1."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

from chalcedon.formula.easing import easing
from chalcedon.formula.table import by_rows, function
from chalcedon.problems import ValueProblem, nearest, shorten

FORMS = ("sine", "triangle", "square", "saw")


@function("time")
def ease(t: float, how: str = "ease") -> float:
    """A share of the way, eased: by a CSS name such as "ease-in-out", by "cubic-bezier(...)" or "steps(4)"."""
    return easing(how)(min(max(t, 0.0), 1.0))


def _wave_column(time: Any, period: Any, low: Any, high: Any, form: str, shift: Any) -> Any:
    """`wave` for NumPy columns: the same steps, and the same cosine."""
    import numpy as np  # only where it is needed

    turn = time / period + shift
    if form != "sine" or not isinstance(turn, np.ndarray):
        return by_rows(wave)(time, period, low, high, form, shift)
    cos = math.cos
    share = (1 - np.array([cos(v) for v in (2 * math.pi * (turn % 1.0)).tolist()])) / 2
    return low + (high - low) * share


@function("time", needs=("time",), column=_wave_column)
def wave(time: float, period: float, low: float = -1, high: float = 1, form: str = "sine", shift: float = 0) -> float:
    """A number that goes from low to high and back, once in so many seconds. The form is "sine", "triangle",
    "square" or "saw"; shift is where in its period it begins, 0 to 1."""
    if form not in FORMS:
        raise ValueProblem(f"{shorten(form)} is no form of a wave.", hint=nearest(form, FORMS))
    t = (time / period + shift) % 1.0
    if form == "sine":
        share = (1 - math.cos(2 * math.pi * t)) / 2
    elif form == "triangle":
        share = 2 * t if t < 0.5 else 2 - 2 * t
    elif form == "square":
        share = 0.0 if t < 0.5 else 1.0
    else:
        share = t
    return low + (high - low) * share


@function("time", needs=("time",))
def pulse(time: float, period: float, share: float = 0.5) -> float:
    """1 for a share of every period, then 0."""
    return 1 if (time / period) % 1.0 < share else 0


@function("time", name="keyframes")
def keyframes(t: float, *frames: tuple) -> Any:
    """The value at t among frames (time, value) or (time, value, "easing to here"); before the first and after the
    last it stays."""
    if not frames:
        raise ValueProblem("keyframes needs frames.", hint='For example keyframes(time, (0, 10), (1, 60, "ease-out")).')
    before: tuple[Any, ...] | None = None
    for frame in frames:
        _check(frame, before)
        before = frame
    if t <= frames[0][0]:
        return frames[0][1]
    for first, second in pairwise(frames):
        if t < second[0]:
            share = (t - first[0]) / (second[0] - first[0])
            return between(first[1], second[1], easing(second[2])(share) if len(second) == 3 else share)
    return frames[-1][1]


def _check(frame: tuple[Any, ...], before: tuple[Any, ...] | None) -> None:
    if not 2 <= len(frame) <= 3 or not _number(frame[0]) or (len(frame) == 3 and not isinstance(frame[2], str)):
        raise ValueProblem(
            "a frame is (time, value) or (time, value, easing).", hint='For example (1, 60, "ease-out").'
        )
    if before is not None and frame[0] < before[0]:
        raise ValueProblem(f"the frame at {frame[0]:g} comes after that at {before[0]:g}.", hint="Put them in order.")


def _number(value: Any) -> bool:
    return isinstance(value, int | float)


def between(a: Any, b: Any, share: float) -> Any:
    """What lies between two values: of numbers and points a share of the way; of colours, a mix in OKLab; of others the
    first until the second is reached."""
    if _number(a) and _number(b):
        return a + (b - a) * share
    if isinstance(a, tuple) and isinstance(b, tuple) and len(a) == len(b):
        return tuple([between(x, y, share) for x, y in zip(a, b, strict=True)])
    if isinstance(a, str) and isinstance(b, str) and MIX:
        try:
            return MIX[0](a, b, share)
        except ValueProblem:
            pass  # words, not colours
    return a if share < 1 else b


MIX: list[Any] = []
"""How colours are mixed: set by who knows what a colour is."""
