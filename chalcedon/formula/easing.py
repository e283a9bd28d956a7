"""Easing, by the names and definitions of CSS Easing Functions 1."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from functools import lru_cache

from chalcedon.problems import ValueProblem, nearest, shorten

Ease = Callable[[float], float]
"""From progress 0..1 to eased progress; before 0 and after 1 it goes on as CSS says."""

CURVES: dict[str, tuple[float, float, float, float]] = {
    "ease": (0.25, 0.1, 0.25, 1.0),
    "ease-in": (0.42, 0.0, 1.0, 1.0),
    "ease-out": (0.0, 0.0, 0.58, 1.0),
    "ease-in-out": (0.42, 0.0, 0.58, 1.0),
}
NAMES = ("linear", *CURVES, "step-start", "step-end")
FORMS = (*NAMES, "cubic-bezier(0.3, 0, 0.2, 1)", "steps(4, jump-end)")
_NUMBER = r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*"
_BEZIER = re.compile(rf"cubic-bezier\({','.join([_NUMBER] * 4)}\)$")
_STEPS = re.compile(r"steps\(\s*(\d{1,4})\s*(?:,\s*([a-z-]+)\s*)?\)$")
_JUMPS = {"jump-start", "jump-end", "jump-none", "jump-both", "start", "end"}


@lru_cache(maxsize=512)
def easing(text: str) -> Ease:
    """An easing function from its CSS text. Raises ValueProblem for what isn't one, naming the nearest."""
    word = text.strip().lower()
    if word == "linear":
        return lambda t: t
    if word in CURVES:
        return _bezier(*CURVES[word])
    if word in ("step-start", "step-end"):
        return _steps(1, word.replace("step", "jump"))
    found = _BEZIER.match(word)
    if found:
        x1, y1, x2, y2 = (float(n) for n in found.groups())
        if not (0 <= x1 <= 1 and 0 <= x2 <= 1):
            raise ValueProblem(
                f"{shorten(text)} runs back in time.", hint="Its first and third numbers go from 0 to 1."
            )
        return _bezier(x1, y1, x2, y2)
    found = _STEPS.match(word)
    if found:
        count, jump = int(found[1]), found[2] or "jump-end"
        if jump not in _JUMPS:
            raise ValueProblem(f"{shorten(jump)} is no way of steps.", hint=nearest(jump, sorted(_JUMPS)))
        if count < (2 if jump == "jump-none" else 1):
            raise ValueProblem(f"{shorten(text)} has too few steps.")
        return _steps(count, jump)
    raise ValueProblem(f"{shorten(text)} is no easing.", hint=nearest(word, NAMES) or f"For example {FORMS[-2]}.")


def _steps(count: int, jump: str) -> Ease:
    """CSS Easing Functions 1, section 2.3."""
    jumps = count + (jump == "jump-both") - (jump == "jump-none")
    early = jump in ("jump-start", "start", "jump-both")

    def ease(t: float) -> float:
        now = math.floor(t * count) + early
        if t >= 0 and now < 0:
            now = 0
        if t <= 1 and now > jumps:
            now = jumps
        return now / jumps

    return ease


def _bezier(x1: float, y1: float, x2: float, y2: float) -> Ease:
    """Section 2.2: the curve's y where its x is the progress, to 1e-9; straight on beyond both ends."""
    cx, bx = 3 * x1, 3 * (x2 - 2 * x1)
    ax = 1 - cx - bx
    cy, by = 3 * y1, 3 * (y2 - 2 * y1)
    ay = 1 - cy - by
    before = y1 / x1 if x1 > 0 else y2 / x2 if y1 == 0 and x2 > 0 else 0.0
    after = (1 - y2) / (1 - x2) if x2 < 1 else (1 - y1) / (1 - x1) if y2 == 1 and x1 < 1 else 0.0

    def ease(t: float) -> float:
        if t <= 0:
            return before * t
        if t >= 1:
            return 1 + after * (t - 1)
        low, high, s = 0.0, 1.0, t
        for _ in range(64):  # Newton where it keeps within the bracket, halving where it doesn't
            x = ((ax * s + bx) * s + cx) * s - t
            if abs(x) < 1e-11:
                break
            low, high = (s, high) if x < 0 else (low, s)
            slope = (3 * ax * s + 2 * bx) * s + cx
            following = s - x / slope if slope > 1e-9 else -1.0
            s = following if low < following < high else (low + high) / 2
        return ((ay * s + by) * s + cy) * s

    return ease
