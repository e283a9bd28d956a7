"""Values given to a class of shapes without names: Rect(10, 10, 30, 40), Text("hello"), Circle((742, 118), 50).

They are taken as in a new line: in the order of `leading`, a point or a size as one tuple or as its numbers.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene.declare import Property
from chalcedon.scene.foreign import as_plain
from chalcedon.scene.values import Flag, Number, TextValue, Tuple

Values = dict[str, Any]


def by_position(kind: str, properties: dict[str, Property[Any]], leading: Sequence[str], args: Sequence[Any]) -> Values:
    """The properties that positional values come to. Raises ValueProblem, with what to write, when one doesn't fit."""
    out: Values = {}
    rest = [as_plain(v) for v in args]
    for name in leading:
        if not rest:
            return out
        if name == "at" and isinstance(rest[0], str):
            continue  # what says it all: Text("hello")
        taken = _take(properties[name], rest)
        if taken is None:
            break
        out[name] = taken[0]
        rest = taken[1]
    if rest:
        order = ", ".join(_shown(properties[n], n) for n in leading)
        raise ValueProblem(
            f"{shorten(rest[0])} has no place among the values without a name.",
            kind,
            f"Their order is {order}; anything else is given by name, such as {leading[-1]}=....",
        )
    return out


def _take(prop: Property[Any], rest: list[Any]) -> tuple[Any, list[Any]] | None:
    """A value for a property from the front of some, and what is left; None when the first isn't one."""
    value, kind = rest[0], prop.kind
    if isinstance(kind, Tuple):
        count = len(kind.labels)
        if _is_number(value):
            return (tuple(rest[:count]), rest[count:]) if all(map(_is_number, rest[:count])) else None
        return (value, rest[1:]) if isinstance(value, list | tuple) and len(value) == count else None
    if isinstance(kind, Number):
        return (value, rest[1:]) if _is_number(value) else None
    if isinstance(kind, TextValue):
        return (value, rest[1:]) if isinstance(value, str) else None
    if isinstance(kind, Flag):
        return (value, rest[1:]) if isinstance(value, bool) else None
    return value, rest[1:]


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float | Formula) and not isinstance(value, bool)


def _shown(prop: Property[Any], name: str) -> str:
    return ", ".join(prop.kind.labels) if isinstance(prop.kind, Tuple) else name
