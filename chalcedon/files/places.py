"""Where in a JSON text values stand, and which keys stand twice: one pass over the text, whatever is asked."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import NamedTuple

import orjson

Place = tuple[str | int, ...]

_TOKEN = re.compile(rb'"(?:[^"\\]|\\.)*"|[{}\[\],:]|[^\s{}\[\],:"]+', re.DOTALL)


class Repeated(NamedTuple):
    """A key that stands a second time in one object, and the line (from 1) of that second time."""

    place: Place
    line: int


class _Spot:
    """A place that is asked for, or is on the way to one."""

    __slots__ = ("below", "line")

    def __init__(self) -> None:
        self.below: dict[str | int, _Spot] = {}
        self.line = 0


class _Frame:
    """An open bracket: the key or index in hand, the keys seen, and what below it is asked for."""

    __slots__ = ("at", "keys", "spot")

    def __init__(self, object_: bool, spot: _Spot | None) -> None:
        self.at: str | int = 0
        self.keys: set[str] | None = set() if object_ else None
        self.spot = spot


class Places:
    """The lines of the values at `places` of a JSON text, and its repeated keys. Takes time as the text is long."""

    def __init__(self, data: bytes, places: Iterable[Place] = ()) -> None:
        self._root = _Spot()
        self._root.line = 1
        for place in places:
            spot = self._root
            for step in place:
                spot = spot.below.setdefault(step, _Spot())
        self.repeated: list[Repeated] = []
        self._read(data)

    def line(self, place: Place) -> int:
        """The line (from 1) on which the value at a place starts; that of the nearest value around it otherwise.
        Of a key that stands twice the last counts."""
        spot, best = self._root, 1
        for step in place:
            found = spot.below.get(step)
            if found is None or not found.line:
                break
            spot, best = found, found.line
        return best

    def _read(self, data: bytes) -> None:
        stack: list[_Frame] = []
        line, counted = 1, 0
        wants_key = False
        for token in _TOKEN.finditer(data):
            text = token.group()
            if text == b":":
                wants_key = False
                continue
            frame = stack[-1] if stack else None
            if text == b",":
                if frame is not None and frame.keys is None:
                    frame.at = int(frame.at) + 1
                wants_key = frame is not None and frame.keys is not None
                continue
            if text in (b"}", b"]"):
                if stack:
                    stack.pop()
                wants_key = False
                continue
            if wants_key and frame is not None and frame.keys is not None and text[:1] == b'"':
                key = _text(text)
                if key in frame.keys:
                    line, counted = line + data.count(b"\n", counted, token.start()), token.start()
                    self.repeated.append(Repeated((*(f.at for f in stack[:-1]), key), line))
                frame.keys.add(key)
                frame.at = key
                wants_key = False
                continue
            spot = self._root if frame is None else frame.spot and frame.spot.below.get(frame.at)
            if spot:
                line, counted = line + data.count(b"\n", counted, token.start()), token.start()
                spot.line = line
            if text in (b"{", b"["):
                stack.append(_Frame(text == b"{", spot))
                wants_key = text == b"{"


def is_as_written(data: bytes, value: object) -> bool:
    """Whether a JSON text says just what `value` does, as our own files do: then no key stands twice in it and no
    number was rounded. White space isn't looked at."""
    try:
        return data.translate(None, _BLANK) == orjson.dumps(value).translate(None, _BLANK)
    except TypeError:  # nested too deeply to be written so
        return False


_BLANK = b" \t\r\n"


def may_repeat(data: bytes, value: object) -> bool:
    """Whether a key may stand twice in a JSON text that came to `value`: quick, and true a few times too often.

    Every key is followed by a colon, and reading keeps one of each. Written anew, there are as many, unless some
    were lost.
    """
    if b"\\u00" in data:
        return True  # a quote may be spelled out
    try:  # a colon may stand apart from its key
        return data.translate(None, _BLANK).count(b'":') != orjson.dumps(value).count(b'":')
    except TypeError:  # nested too deeply to be written so
        return True


def _text(token: bytes) -> str:
    if b"\\" not in token:
        return token[1:-1].decode("utf-8", "replace")
    try:
        return str(orjson.loads(token))
    except orjson.JSONDecodeError:
        return ""
