"""A number given by what it was: *1.2 as much again by a fifth, /3 a third of it, +10 more, +-10 less."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from chalcedon.formula.arithmetic import calculate
from chalcedon.formula.syntax import parses
from chalcedon.formula.value import Formula, bracketed, plus
from chalcedon.problems import ValueProblem

DIGITS = 9


def relative(text: str) -> Callable[[Any], Any] | None:
    """What a text that begins with *, / or + makes of a number, or of a formula; None for any other text. Raises
    ValueProblem for what isn't arithmetic behind that."""
    sign, rest = text.strip()[:1].replace("×", "*").replace("÷", "/"), text.strip()[1:]
    if sign not in ("*", "/", "+"):
        return None
    by = calculate(rest)
    if sign == "+":
        return lambda old: Formula(plus(old.text, by), old.last + by) if isinstance(old, Formula) else _clean(old + by)
    if sign == "/":
        if by == 0:
            raise ValueProblem("nothing can be divided by 0.")
        by = 1 / by
    return lambda old: times(old, by)


def _clean(value: float) -> float:
    near = round(value, DIGITS)
    return int(near) if near == int(near) else near


def times(value: Any, by: float, digits: int = DIGITS) -> Any:
    """So many times a number or the formula of one, or each of several."""
    if isinstance(value, tuple):
        return tuple(times(v, by, digits) for v in value)
    if isinstance(value, Formula):
        return Formula(f"{bracketed(value.text)} * {by:.12g}", value.last * by)
    return _clean(round(value * by, digits))


def minus(value: Any) -> Any:
    """A number or a formula with its sign turned."""
    if isinstance(value, Formula):
        return Formula(_turned(value.text, "-"), minus(value.last))
    return _clean(-value)


def less(whole: float, name: str, value: Any) -> Any:
    """What is left of a whole, which formulas know by a name, without a number or a formula."""
    if isinstance(value, Formula):
        return Formula(_turned(value.text, f"{name} - "), less(whole, name, value.last))
    return _clean(whole - value)


def _turned(text: str, before: str) -> str:
    """A text in brackets behind another; without them and that, if it stands there already."""
    text = text.strip()
    inner = text[len(before) + 1 : -1]
    if text.startswith(f"{before}(") and text.endswith(")") and parses(inner):
        return inner.strip()
    return before + bracketed(text)
