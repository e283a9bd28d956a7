"""Components of stored values by path: (0,) is x of a point, (2, 1) is y of the third point, and so on."""

from __future__ import annotations

from typing import Any

from chalcedon.craft.several import MIXED
from chalcedon.formula import Formula, plus
from chalcedon.problems import ValueProblem
from chalcedon.scene import Gradient, Picture, Step
from chalcedon.scene.paints import Pattern, palette_name
from chalcedon.scene.values import LIMIT

Way = tuple[int, ...]


def part(value: Any, path: Way) -> Any:
    """The component at a path; a step's numbers are at (i, k), its fixed point at (i, -1, k)."""
    for at in path:
        if isinstance(value, Step):
            value = value.about if at == -1 else value.values[at]
        elif isinstance(value, Formula):
            return value
        else:
            value = value[at]
    return value


def with_part(value: Any, path: Way, new: Any) -> Any:
    """The value with another component at a path."""
    if not path:
        return new
    at, rest = path[0], path[1:]
    if isinstance(value, Step):
        if at == -1:
            return value._replace(about=with_part(value.about, rest, new))
        return value._replace(values=with_part(value.values, (at, *rest), new))
    return (*value[:at], with_part(value[at], rest, new), *value[at + 1 :])


def moved(value: Any, by: float, digits: int = 6) -> Any:
    """A number, or the text of a formula, with something added. Raises ValueProblem for a formula of a point."""
    if isinstance(value, Formula):
        if isinstance(value.last, tuple):
            raise ValueProblem(f"{value.text} gives both numbers of a point.", hint="Change what it says.")
        return Formula(plus(value.text, by), round(value.last + by, digits))
    total = round(value + by, digits)
    return int(total) if total == int(total) else total


def show(value: Any) -> str:
    """A number as the ledger shows it: at most three decimals, a true minus sign."""
    if isinstance(value, Formula):
        return value.text
    if value == LIMIT:
        return "max"
    if value is MIXED:
        return "mixed"
    if isinstance(value, float):
        text = f"{value:.3f}".rstrip("0").rstrip(".") if abs(value) < 1e15 else f"{value:g}"
        text = "0" if text in ("-0", "") else text
    else:
        text = str(value)
    return text.replace("-", "−", 1) if text.startswith("-") else text


def exact(value: Any) -> str:
    """A number as the editor shows it: every digit it has."""
    if value is MIXED:
        return ""
    return value.text if isinstance(value, Formula) else repr(value)


def paint_words(paint: Any) -> str:
    """A paint in a few words."""
    if isinstance(paint, Gradient):
        return f"{paint.kind}, {len(paint.stops)} stop{'s' if len(paint.stops) != 1 else ''}"
    if isinstance(paint, Picture):
        return "image"
    if isinstance(paint, Pattern):
        return f"pattern {paint.shape}"
    return palette_name(paint) or paint or "none"
