"""What a formula's parts can be: sets of the names below, since a choice between two may be either."""

from __future__ import annotations

Type = frozenset[str]

NUMBER: Type = frozenset(("number",))
SWITCH: Type = frozenset(("switch",))
TEXT: Type = frozenset(("text",))
POINT: Type = frozenset(("point",))
LIST: Type = frozenset(("list",))
NOTHING: Type = frozenset(("nothing",))
SHAPE: Type = frozenset(("shape",))
ANY: Type = frozenset(("number", "switch", "text", "point", "list", "nothing"))

NUMERIC: Type = NUMBER | SWITCH
"""What counts as a number: True is 1 and False is 0, as in Python."""
PLANAR: Type = NUMERIC | POINT

_WORDS = {
    "number": "a number",
    "switch": "true or false",
    "text": "a text",
    "point": "a point",
    "list": "a list",
    "nothing": "none",
    "shape": "a shape",
}


def said(kind: Type) -> str:
    """A type in words."""
    if kind == ANY:
        return "any value"
    return " or ".join(word for name, word in _WORDS.items() if name in kind)


def type_of(value: object) -> Type:
    """The type of a value that a scene holds."""
    if isinstance(value, bool):
        return SWITCH
    if isinstance(value, int | float):
        return NUMBER
    if isinstance(value, str):
        return TEXT
    if value is None:
        return NOTHING
    if isinstance(value, tuple):
        pair = len(value) == 2 and all(isinstance(v, int | float) and not isinstance(v, bool) for v in value)
        return POINT if pair else LIST
    raise TypeError(value)
