"""Where in a JSON text a value stands. Only used to make a message, so it may be slow."""

from __future__ import annotations

import re

import orjson

_TOKEN = re.compile(rb'"(?:[^"\\]|\\.)*"|[{}\[\],:]|[^\s{}\[\],:"]+')


def line_of(data: bytes, path: tuple[str | int, ...]) -> int:
    """The line (from 1) on which the value at `path` starts; that of the nearest enclosing value otherwise."""
    best = 1
    depth = 0  # how many steps of the path the scan is inside of
    stack: list[list[object]] = []  # per open bracket: [kind, current key or index, matched so far]
    key: str | None = None
    for token in _TOKEN.finditer(data):
        text = token.group()
        if text in (b",", b":"):
            if text == b"," and stack and stack[-1][0] == "[":
                stack[-1][1] = int(stack[-1][1]) + 1  # type: ignore[call-overload]
            continue
        if text in (b"}", b"]"):
            if stack and stack.pop()[2]:
                depth -= 1
                if depth < len(path) and depth >= 0 and stack and stack[-1][2]:
                    continue
            continue
        on_path = not stack or bool(stack[-1][2])
        if stack and stack[-1][0] == "{" and key is None:
            key = _text(text)
            if on_path and depth - 1 < len(path) and key == path[depth - 1]:
                best = data.count(b"\n", 0, token.start()) + 1
            continue
        here: object = key if stack and stack[-1][0] == "{" else stack[-1][1] if stack else None
        key = None
        matches = not stack or (on_path and depth - 1 < len(path) and here == path[depth - 1])
        if matches:
            best = data.count(b"\n", 0, token.start()) + 1
            if depth == len(path):
                return best
        if text in (b"{", b"["):
            stack.append(["{" if text == b"{" else "[", 0, matches])
            if matches:
                depth += 1
    return best


def _text(token: bytes) -> str:
    try:
        return str(orjson.loads(token))
    except orjson.JSONDecodeError:
        return ""
