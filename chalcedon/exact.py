"""JSON beyond what the fast library takes: numbers that no double or 64-bit integer holds, data nested deeply.

What a scene file says and this version doesn't know is written back as it was, so every JSON value has to come
through. A number too large or too small for a double is a Decimal here, any other is an int or a float.
"""

from __future__ import annotations

import json
import re
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from decimal import Decimal
from typing import Any

import orjson

from chalcedon.problems import ValueProblem, shorten

_LONG, _SMALL = re.compile(rb"(?<![\d.])\d{19}"), re.compile(rb"\d[eE]-\d{3}")
_ONE_DIGIT = bytes.maketrans(b"123456789", b"000000000")
DEEPEST = 900
"""How deep data may nest. The fast library reads 1024, and a little is added when a scene is written."""
_DIGITS = 4000
"""Digits up to which Python makes an int of a text (it refuses from 4300 on)."""


def beyond(data: bytes) -> bool:
    """Whether the fast library may round a number of a JSON text: a long integer, or a float near nothing. The
    patterns are slow, so they are tried only where something like them stands."""
    if b"0" * 19 in data.translate(_ONE_DIGIT) and _LONG.search(data):
        return True
    return (b"e-" in data or b"E-" in data) and _SMALL.search(data) is not None


def decode(data: bytes) -> Any:
    """The value of UTF-8 JSON with every number as it was written. Raises ValueError or RecursionError."""
    with _room():
        return json.loads(data.decode(), parse_int=_whole, parse_float=_fraction, parse_constant=_refuse)


def _whole(text: str) -> int | Decimal:
    return int(text) if len(text) < _DIGITS else Decimal(text)


def _fraction(text: str) -> float | Decimal:
    value = float(text)
    lost = value in (float("inf"), float("-inf")) or (value == 0.0 and re.search("[1-9]", text.lower().split("e")[0]))
    return Decimal(text) if lost else value


def _refuse(text: str) -> Any:
    raise ValueError(f"{text} is not a JSON number")


def encode(value: Any) -> bytes:
    """The JSON of a value that `decode`, or the fast library, would give. Reading it gives an equal value."""
    try:
        return orjson.dumps(value)
    except TypeError:
        import simplejson  # rarely needed, so read in late

        with _room():
            text = simplejson.dumps(
                value, ensure_ascii=False, separators=(",", ":"), use_decimal=True, allow_nan=False, for_json=False
            )
        return text.encode()


@contextmanager
def _room() -> Iterator[None]:
    """Inside, what recurses once a level gets as deep as any value here is."""
    before = sys.getrecursionlimit()
    sys.setrecursionlimit(max(before, 4 * DEEPEST + 2000))
    try:
        yield
    finally:
        sys.setrecursionlimit(before)


def require_json(value: Any) -> None:
    """Raises ValueProblem when a value can't be written as JSON and read back equal."""
    stack: list[tuple[Any, int]] = [(value, 0)]
    while stack:
        item, depth = stack.pop()
        if depth > DEEPEST:
            raise ValueProblem(f"that nests deeper than {DEEPEST}.")
        if isinstance(item, dict):
            for key in item:
                if not isinstance(key, str):
                    raise ValueProblem(f"{shorten(key)} can't be a key.", hint="A key is text.")
                require_text(key)
            stack += [(v, depth + 1) for v in item.values()]
        elif isinstance(item, list):
            stack += [(v, depth + 1) for v in item]
        elif isinstance(item, str):
            require_text(item)
        elif isinstance(item, float):
            if item - item != 0.0:
                raise ValueProblem(f"{item} is not a finite number.")
        elif item is not None and not isinstance(item, bool | int | Decimal):
            raise ValueProblem(f"{shorten(item)} can't stand in a scene file.", hint="JSON can: numbers, text, lists.")


def require_text(text: str) -> str:
    """The text, when it can be written to a file. Raises ValueProblem."""
    try:
        text.encode()
    except UnicodeEncodeError:
        raise ValueProblem("the text holds half a character (a lone surrogate).") from None
    return text
