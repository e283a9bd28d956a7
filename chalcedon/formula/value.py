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
    text = text.strip()
    try:
        body = ast.parse(text, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return f"({text}) {_signed(by)}"
    if isinstance(body, ast.BinOp) and isinstance(body.op, ast.Add | ast.Sub):
        last = body.right
        if isinstance(last, ast.Constant) and type(last.value) in (int, float) and "\n" not in text:
            value = float(last.value)  # type: ignore[arg-type]
            number = value if isinstance(body.op, ast.Add) else -value
            head = text.encode()[: body.left.end_col_offset].decode().rstrip()
            total = round(number + by, 6)
            return f"{head} {_signed(total)}" if total else head
    if isinstance(body, ast.Compare | ast.BoolOp | ast.IfExp | ast.Lambda | ast.NamedExpr):
        text = f"({text})"
    return f"{text} {_signed(by)}"


def plus_point(text: str, dx: float, dy: float) -> str:
    """The expression of a point with another added: `moon.center + (10, 0)` plus (5, 5) is `moon.center + (15, 5)`."""
    text = text.strip()
    head, (x, y) = text, (0.0, 0.0)
    try:
        body = ast.parse(text, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        body = ast.Constant(0)
    if isinstance(body, ast.BinOp) and isinstance(body.op, ast.Add) and isinstance(body.right, ast.Tuple):
        try:
            x, y = (float(v) for v in ast.literal_eval(body.right))
            head = text.encode()[: body.left.end_col_offset].decode().rstrip()
        except (ValueError, TypeError):
            pass
    elif not isinstance(body, ast.Name | ast.Attribute | ast.Call | ast.BinOp):
        head = f"({text})"
    x, y = round(x + dx, 6), round(y + dy, 6)
    return head if x == y == 0 else f"{head} + ({x:g}, {y:g})"


def _signed(number: float) -> str:
    return f"{'+' if number >= 0 else '-'} {abs(number):g}"
