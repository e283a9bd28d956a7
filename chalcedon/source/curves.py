"""The curve that a formula with keyframes or an easing describes, and what changing it makes of the text."""

from __future__ import annotations

import ast
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from chalcedon.formula.easing import easing
from chalcedon.formula.syntax import in_one_line
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ValueProblem

Span = tuple[int, int]
"""Characters [first, last) of the formula."""
TURNS = ("linear", "ease", "ease-in", "ease-out", "ease-in-out")
"""The easings that `next_easing` goes through, by their names of CSS."""


class Frame(NamedTuple):
    """A time and a value, and where they are written; no span where something else than a number stands."""

    time: float
    value: float
    ease: str
    """How it goes from the frame before to this one."""
    time_at: Span | None
    value_at: Span | None
    ease_at: Span | None
    end: int
    """Characters up to the end of the frame, without its bracket."""


class Curve(NamedTuple):
    """What keyframes(...) or ease(...) in a formula describes."""

    text: str
    frames: tuple[Frame, ...]

    def value(self, time: float) -> float:
        """The value at a time; before the first and after the last frame it stays."""
        if time <= self.frames[0].time:
            return self.frames[0].value
        for one, two in pairwise(self.frames):
            if time < two.time:
                share = (time - one.time) / (two.time - one.time)
                return one.value + (two.value - one.value) * easing(two.ease)(share)
        return self.frames[-1].value


@lru_cache(maxsize=64)  # it is asked for at every frame while the value is in focus
def curve_of(text: str) -> Curve | None:
    """The first curve in a formula whose times and values are numbers that are written there; None without one."""
    try:
        tree = ast.parse(in_one_line(text), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return None
    places = _Places(text)
    for node in ast.walk(tree):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and not node.keywords:
            frames = _frames(node, places) if node.func.id == "keyframes" else _eased(node, places)
            if frames is not None:
                return Curve(text, tuple(frames))
    return None


class _Places:
    """Python counts bytes, a text characters."""

    def __init__(self, text: str) -> None:
        self._raw = in_one_line(text).encode()

    def span(self, node: ast.expr) -> Span:
        assert node.end_col_offset is not None
        return self._count(node.col_offset), self._count(node.end_col_offset)

    def _count(self, offset: int) -> int:
        return len(self._raw[:offset].decode())


def _frames(node: ast.Call, places: _Places) -> list[Frame] | None:
    out: list[Frame] = []
    for one in node.args[1:]:
        if not isinstance(one, ast.Tuple) or not 2 <= len(one.elts) <= 3:
            return None
        time, value = _number(one.elts[0]), _number(one.elts[1])
        ease = one.elts[2] if len(one.elts) == 3 else None
        name = _easing(ease) if ease is not None else "linear"
        if time is None or value is None or name is None or (out and time < out[-1].time):
            return None
        spans = [places.span(e) for e in one.elts]
        out.append(Frame(time, value, name, spans[0], spans[1], spans[2] if ease is not None else None, spans[-1][1]))
    return out if len(out) >= 2 else None


def _eased(node: ast.Call, places: _Places) -> list[Frame] | None:
    """ease(share, "ease-in"): from 0 to 1, of which only the easing can be changed."""
    if not isinstance(node.func, ast.Name) or node.func.id != "ease" or len(node.args) != 2:
        return None
    name = _easing(node.args[1])
    if name is None:
        return None
    span = places.span(node.args[1])
    return [Frame(0, 0, "linear", None, None, None, 0), Frame(1, 1, name, None, None, span, span[1])]


def _number(node: ast.expr) -> float | None:
    try:
        value = ast.literal_eval(node)
    except (ValueError, TypeError, SyntaxError):
        return None
    return value if isinstance(value, int | float) and not isinstance(value, bool) else None


def _easing(node: ast.expr) -> str | None:
    if not isinstance(node, ast.Constant) or not isinstance(node.value, str):
        return None
    try:
        easing(node.value)
    except ValueProblem:
        return None
    return node.value


def with_frame(curve: Curve, index: int, time: float, value: float) -> str:
    """The text with a frame elsewhere; it stays between its neighbours."""
    frame, frames = curve.frames[index], curve.frames
    low = frames[index - 1].time if index else float("-inf")
    high = frames[index + 1].time if index + 1 < len(frames) else float("inf")
    changes = [(frame.time_at, in_full(min(max(time, low), high))), (frame.value_at, in_full(value))]
    return _written(curve.text, [(span, said) for span, said in changes if span is not None])


def next_easing(curve: Curve, index: int) -> str:
    """The text with another easing to a frame, the next of `TURNS`."""
    frame = curve.frames[index]
    at = TURNS.index(frame.ease) + 1 if frame.ease in TURNS else 0
    name = TURNS[at % len(TURNS)]
    if frame.ease_at is not None:
        return _written(curve.text, [(frame.ease_at, f'"{name}"')])
    return _written(curve.text, [((frame.end, frame.end), f', "{name}"')])


def _written(text: str, changes: Sequence[tuple[Span, str]]) -> str:
    for (first, last), said in sorted(changes, reverse=True):
        text = text[:first] + said + text[last:]
    return text
