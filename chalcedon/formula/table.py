"""The functions that formulas can call: declared once, with types and meaning, for checking, completion and the
reference."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from itertools import repeat
from typing import Any, NamedTuple

from chalcedon.formula import types
from chalcedon.formula.types import Type

NEEDED = ("time", "seed", "keys", "memory")
"""What a function may need beside what is written: each is given to it first, in this order."""


class Param(NamedTuple):
    """One value that a function takes."""

    name: str
    kind: Type
    default: Any = inspect.Parameter.empty
    rest: bool = False
    """Whether any number of values may stand here."""

    @property
    def needed(self) -> bool:
        return self.default is inspect.Parameter.empty and not self.rest


class Function(NamedTuple):
    """A function of formulas. With `each`, points are taken number by number. `result` of None is the type of what
    it is given first."""

    name: str
    group: str
    help: str
    params: tuple[Param, ...]
    result: Type | None
    call: Callable[..., Any]
    each: bool = False
    needs: tuple[str, ...] = ()
    column: Callable[..., Any] | None = None
    """The same for NumPy columns, where there is such a thing."""

    @property
    def signature(self) -> str:
        """As it is written: clamp(x, low, high)."""
        words = [
            f"{p.name}, ..." if p.rest else p.name if p.needed else f"{p.name}={_written(p.default)}"
            for p in self.params
        ]
        return f"{self.name}({', '.join(words)})"


FUNCTIONS: dict[str, Function] = {}
"""Every function by name, in the order in which they are listed."""

Point = tuple[float, float]
_TYPES = {
    "float": types.NUMERIC,
    "bool": types.ANY,  # anything is true or false, as in Python
    "str": types.TEXT,
    "Point": types.POINT,
    "tuple": types.LIST | types.POINT,
    "Hull": types.SHAPE,
    "Any": types.ANY,
}
_GIVEN = {"float": types.NUMBER, "bool": types.SWITCH}
"""What annotations of what is taken, and of what is given, stand for."""


def _written(value: Any) -> str:
    return f'"{value}"' if isinstance(value, str) else f"{value:g}" if isinstance(value, int | float) else str(value)


def _type(text: str, known: dict[str, Type]) -> Type:
    parts = [known[part.strip()] for part in text.split("|")]
    return parts[0].union(*parts[1:])


def function(
    group: str,
    *,
    name: str = "",
    each: bool = False,
    needs: tuple[str, ...] = (),
    same: bool = False,
    column: Callable[..., Any] | None = None,
) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Declares a function by its annotations and the first line of its docstring. `same`: what it gives is of the type
    of its first value."""

    def declare(call: Callable[..., Any]) -> Callable[..., Any]:
        notes = dict(call.__annotations__)
        params = [
            Param(
                p.name.rstrip("_"), _type(notes[p.name], _TYPES), p.default, p.kind is inspect.Parameter.VAR_POSITIONAL
            )
            for p in list(inspect.signature(call).parameters.values())[len(needs) :]
        ]
        if each:
            params = [p._replace(kind=p.kind | types.POINT if "number" in p.kind else p.kind) for p in params]
        word = name or call.__name__.rstrip("_")
        help = (call.__doc__ or "").strip().split("\n\n")[0].replace("\n    ", " ")
        result = None if same or each else _type(notes["return"], {**_TYPES, **_GIVEN})
        FUNCTIONS[word] = Function(word, group, help, tuple(params), result, call, each, needs, column)
        return call

    return declare


def by_rows(call: Callable[..., Any]) -> Callable[..., Any]:
    """A function of numbers for columns of them: called once a row."""
    import numpy as np

    def column(*args: Any) -> Any:
        if not any(isinstance(a, np.ndarray) for a in args):
            return call(*args)
        rows = zip(*(a.tolist() if isinstance(a, np.ndarray) else repeat(a) for a in args), strict=False)
        return np.array([call(*row) for row in rows], np.float64)

    return column
