"""Numbers kept within the limits of their kind, for what changes them by hand: a drag stops where typing is refused."""

from __future__ import annotations

from typing import Any

from chalcedon.formula import Formula
from chalcedon.scene.values import LIMIT, Number, Value


def number_in(kind: Value) -> Number | None:
    """The kind of the numbers that a value consists of; None when it has several."""
    while not isinstance(kind, Number):
        inner = getattr(kind, "of", None)
        if inner is None:
            return None
        kind = inner
    return kind


def within(kind: Value, value: Any) -> Any:
    """A value with each of its numbers moved to the nearest that its kind allows. Formulas stay as they are."""
    if isinstance(value, tuple):
        return tuple(within(kind, v) for v in value)
    if isinstance(value, Formula) or not isinstance(value, int | float) or isinstance(value, bool):
        return value
    number = number_in(kind)
    if number is None:
        return max(-LIMIT, min(LIMIT, value))
    return max(number.low, min(number.high, round(value) if number.whole else value))
