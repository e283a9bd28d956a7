"""A formula standing where a value could stand, with the last value it gave."""

from __future__ import annotations

import ast
import re
from dataclasses import dataclass
from typing import Any


class Unknown:
    """The last value of a formula that has none yet."""

    def __repr__(self) -> str:
        return "unknown"


UNKNOWN = Unknown()


@dataclass(frozen=True, slots=True)
class Formula:
    """`text` is the expression; `last` the value to use while it can't be worked out: of a formula that is given
    without one, the plainest that its place takes."""

    text: str
    last: Any = UNKNOWN


def rename_in(text: str, old: str, new: str) -> str:
    """The expression with the name `old` replaced by `new` wherever it stands as a name (not as an attribute).

    Text that doesn't parse as an expression is changed word by word, so that a half-written formula follows too.
    """
    try:
        tree = ast.parse(text.strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return re.sub(rf"(?<![\w.]){re.escape(old)}(?!\w)", new, text)
    text = text.strip()
    raw = text.encode()
    lines = [0]
    for line in raw.splitlines(keepends=True):
        lines.append(lines[-1] + len(line))
    called = {id(n.func) for n in ast.walk(tree) if isinstance(n, ast.Call)}  # the name of a function is no shape
    spots = sorted(
        (
            lines[n.lineno - 1] + n.col_offset
            for n in ast.walk(tree)
            if isinstance(n, ast.Name) and n.id == old and id(n) not in called
        ),
        reverse=True,
    )
    for spot in spots:
        raw = raw[:spot] + new.encode() + raw[spot + len(old.encode()) :]
    return raw.decode()


def plus(text: str, by: float) -> str:
    """The expression with a number added: `pointer.x - 130` plus 10 is `pointer.x - 120`."""
    text, body = _read(text)
    found = _sum(text, body)
    if found is not None:
        head, sign, last = found
        value = last.value if isinstance(last, ast.Constant) else None
        if isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < MOST:
            total = round(sign * value + by, 6)
            return f"{head} {_signed(total)}" if total else head
    if "\n" in text or isinstance(body, _LOOSE) or (isinstance(body, ast.UnaryOp) and isinstance(body.op, ast.Not)):
        text = bracketed(text)
    return f"{text} {_signed(by)}" if round(by, 6) else text


def plus_point(text: str, dx: float, dy: float) -> str:
    """The expression of a point with another added: `moon.center + (10, 0)` plus (5, 5) is `moon.center + (15, 5)`."""
    text, body = _read(text)
    head, (x, y) = text, (0.0, 0.0)
    found = _sum(text, body)
    pair = _pair(found[2]) if found is not None and found[1] > 0 else None
    if found is not None and pair is not None:
        head, (x, y) = found[0], pair
    elif "\n" in text or not isinstance(body, ast.Name | ast.Attribute | ast.Call | ast.BinOp):
        head = bracketed(text)
    x, y = round(x + dx, 6), round(y + dy, 6)
    return head if x == y == 0 else f"{head} + ({x:.12g}, {y:.12g})"


MOST = 1e15
"""Numbers below this take another one in exactly enough."""
_LOOSE = ast.Compare | ast.BoolOp | ast.IfExp | ast.Lambda | ast.NamedExpr | None
"""What a sign behind it would take only the end of; and what is no expression."""


def _read(text: str) -> tuple[str, ast.expr | None]:
    """An expression, in one line without a remark where that can be, and its tree; None for what is no expression."""
    text = text.strip()
    if not set(text) & set("#'\"\\"):
        text = re.sub(r"\s*\n\s*", " ", text)
    try:
        body = ast.parse(text, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return text, None
    raw = text.encode()
    rest = raw[body.end_col_offset or 0 :].lstrip(b") \t") if "\n" not in text else b""
    return (raw[: -len(rest)].decode().rstrip() if rest.startswith(b"#") else text), body


def bracketed(text: str) -> str:
    """An expression in brackets."""
    return f"({text}\n)" if "#" in text else f"({text})"  # a remark would take the bracket with it


def _sum(text: str, body: ast.expr | None) -> tuple[str, int, ast.expr] | None:
    """What stands before the last sign of a sum, that sign as 1 or -1, and what stands behind it. None for what is no
    sum, stands in brackets as a whole, or takes several lines."""
    raw = text.encode()
    if not isinstance(body, ast.BinOp) or not isinstance(body.op, ast.Add | ast.Sub) or "\n" in text:
        return None
    if body.col_offset != 0 or body.end_col_offset != len(raw):
        return None
    sign = 1 if isinstance(body.op, ast.Add) else -1
    at = raw.index(b"+" if sign > 0 else b"-", body.left.end_col_offset)  # the brackets around its left end before it
    return raw[:at].decode().rstrip(), sign, body.right


def _pair(node: ast.expr) -> tuple[float, float] | None:
    try:
        x, y = ast.literal_eval(node)
    except (ValueError, TypeError):
        return None
    numbers = all(type(v) in (int, float) and abs(v) < MOST for v in (x, y))
    return (x, y) if numbers else None


def _signed(number: float) -> str:
    return f"{'+' if number >= 0 else '-'} {abs(number):.12g}"
