"""Values in types of other libraries: NumPy's numbers and arrays, fractions."""

from __future__ import annotations

from numbers import Real
from typing import Any

PLAIN = frozenset((float, int, str, bool, type(None)))
DEEPEST = 20
"""Lists within lists that are looked into: no value has as many."""


def as_plain(raw: Any, deep: int = DEEPEST) -> Any:
    """The same in Python's own numbers and lists; `raw` itself when nothing in it is of another type.

    Arrays become lists as deep as they have axes. A fraction becomes the nearest float. What is no number and no list
    is left as it is, for others to refuse.
    """
    kind = type(raw)
    if kind in PLAIN or deep == 0:
        return raw
    if isinstance(raw, tuple | list):
        found = [as_plain(v, deep - 1) for v in raw]
        if all(a is b for a, b in zip(found, raw, strict=True)):
            return raw
        return tuple.__new__(kind, found) if isinstance(raw, tuple) else found
    if kind is dict:
        said = {name: as_plain(v, deep - 1) for name, v in raw.items()}
        return said if any(said[n] is not raw[n] for n in raw) else raw
    to_list = getattr(raw, "tolist", None)  # of arrays and of their numbers, in any library that has them
    if callable(to_list):
        return to_list()
    return float(raw) if isinstance(raw, Real) and not isinstance(raw, int | float) else raw
