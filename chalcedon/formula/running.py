"""What the code of formulas calls: the listed functions, arithmetic of points, and texts kept short."""

from __future__ import annotations

import operator
from collections.abc import Callable
from typing import Any

from chalcedon.formula.table import FUNCTIONS, by_rows
from chalcedon.problems import shorten

SIGNS = {"Add": "+", "Sub": "-", "Mult": "*", "Div": "/", "FloorDiv": "//", "Mod": "%", "Pow": "**"}
LONGEST_TEXT = 100_000
"""Characters that a formula may put together."""
LONGEST_SHOWN = 10_000
"""Characters of a text within another."""

_OPERATORS: dict[str, Callable[[Any, Any], Any]] = {
    "Add": operator.add,
    "Sub": operator.sub,
    "Mult": operator.mul,
    "Div": operator.truediv,
    "FloorDiv": operator.floordiv,
    "Mod": operator.mod,
}


def each(call: Callable[..., Any]) -> Callable[..., Any]:
    """A function of numbers, of points: number by number. A number among points counts for both."""

    def both(*args: Any) -> tuple[Any, Any]:
        pairs = [a if isinstance(a, tuple) else (a, a) for a in args]
        return call(*(p[0] for p in pairs)), call(*(p[1] for p in pairs))

    return both


def _joined(a: str, b: str) -> str:
    if len(a) + len(b) > LONGEST_TEXT:
        raise OverflowError
    return a + b


def _shown(value: Any) -> Any:
    if isinstance(value, str) and len(value) > LONGEST_SHOWN:
        raise OverflowError
    return value


_known: dict[str, Any] = {}


def known() -> dict[str, Any]:
    """The names that the code of formulas knows: f_ functions, e_ the same for points, p_ arithmetic of points, t_
    texts. No builtins."""
    if any(f"f_{word}" not in _known for word in FUNCTIONS):
        _known["__builtins__"] = {}
        for name, op in _OPERATORS.items():
            _known[f"p_{name}"] = each(op)
        _known["p_USub"], _known["p_UAdd"] = each(operator.neg), each(operator.pos)
        _known["t_Add"], _known["t_shown"] = _joined, _shown
        for word, function in FUNCTIONS.items():
            _known[f"f_{word}"] = function.call
            if function.each:
                _known[f"e_{word}"] = each(function.call)
    return _known


_known_columns: dict[str, Any] = {}


def known_columns() -> dict[str, Any]:
    """The same for code whose constants are NumPy columns: f_ functions that have no form for columns are called number
    by number."""
    if any(f"f_{word}" not in _known_columns for word in FUNCTIONS):
        _known_columns.update(known())
        for word, function in FUNCTIONS.items():
            _known_columns[f"f_{word}"] = function.column or by_rows(function.call)
    return _known_columns


def message(error: Exception, part: str) -> tuple[str, str]:
    """What went wrong in a part of a formula, and what would work."""
    what = shorten(part.strip()).strip("'\"")
    if isinstance(error, ZeroDivisionError):
        return f"{what} divides by zero.", "It has no value there; max(x, 0.001) keeps off zero."
    if isinstance(error, OverflowError | MemoryError):
        return f"{what} is too large to work out.", ""
    if isinstance(error, RecursionError):
        return f"{what} is too deep to work out.", ""
    if isinstance(error, ValueError):
        return f"{what} has no value there.", _range_of(part)
    return f"{what} can't be worked out with these values.", ""


def _range_of(part: str) -> str:
    word = part.strip().split("(")[0]
    if word in ("sqrt", "log", "asin", "acos"):
        return FUNCTIONS[word].help.split(". ")[-1].capitalize()
    return "A root or a broken power needs a number that isn't negative." if "**" in part else ""


def place(error: BaseException) -> tuple[int, int] | None:
    """The bytes [first, last) of a formula whose code raised an error."""
    found = None
    trace = error.__traceback__
    while trace is not None:
        code = trace.tb_frame.f_code
        if code.co_filename == "<formula>":
            spots = list(code.co_positions())
            at = trace.tb_lasti // 2
            if at < len(spots) and spots[at][2] is not None and spots[at][3] is not None:
                found = (spots[at][2] or 0, spots[at][3] or 0)
        trace = trace.tb_next
    return found
