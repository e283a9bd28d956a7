"""Arithmetic typed into a number field: 120*2+5, (3+4)/2, 2**0.5."""

from __future__ import annotations

import ast
import math
import operator
from collections.abc import Callable

from chalcedon.problems import ValueProblem, shorten

_BINARY: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: operator.add,
    ast.Sub: operator.sub,
    ast.Mult: operator.mul,
    ast.Div: operator.truediv,
    ast.FloorDiv: operator.floordiv,
    ast.Mod: operator.mod,
    ast.Pow: operator.pow,
}

_SIGNS = str.maketrans({"−": "-", "×": "*", "÷": "/", "·": "*"})


def calculate(text: str) -> float:
    """The number an expression comes to. Raises ValueProblem with a sentence when it is not arithmetic."""
    plain = text.translate(_SIGNS).strip()
    if not plain:
        raise ValueProblem("a number is missing.", hint="Type a number, or arithmetic such as 120*2+5.")
    if len(plain) > 200:
        raise ValueProblem("that is longer than a number field takes (200 characters).")
    try:
        tree = ast.parse(plain, mode="eval")
        value = _walk(tree.body)
        finite = not isinstance(value, complex) and math.isfinite(value)
    except ValueProblem:
        raise
    except ZeroDivisionError:
        raise ValueProblem(f"{shorten(text)} divides by zero.") from None
    except OverflowError:
        raise ValueProblem(f"{shorten(text)} is too large to work out.") from None
    except (SyntaxError, ValueError, TypeError, RecursionError, MemoryError):
        raise ValueProblem(f"{shorten(text)} is not a number.", hint="Numbers and + - * / ( ) work here.") from None
    if not finite:
        raise ValueProblem(f"{shorten(text)} has no finite value.")
    return int(value) if isinstance(value, int) else float(value)


def _walk(node: ast.expr) -> float:
    if isinstance(node, ast.Constant) and type(node.value) in (int, float):
        return node.value  # type: ignore[return-value]
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.UAdd):
        value = _walk(node.operand)
        return -value if isinstance(node.op, ast.USub) else value
    if isinstance(node, ast.BinOp) and type(node.op) in _BINARY:
        left, right = _walk(node.left), _walk(node.right)
        if isinstance(node.op, ast.Pow) and (abs(right) > 64 or abs(left) > 1e6):
            raise ValueProblem("that power is too large for a number field.")
        return _BINARY[type(node.op)](left, right)
    if isinstance(node, ast.Name):
        raise ValueProblem(f"{node.id} is a name; only numbers work here.", hint="Numbers and + - * / ( ) work here.")
    hint = ""
    if isinstance(node, ast.Tuple) and len(node.elts) == 2 and all(isinstance(e, ast.Constant) for e in node.elts):
        hint = f"Write {'.'.join(map(ast.unparse, node.elts))}, with a point."
    raise ValueProblem("only numbers and + - * / ( ) work here.", hint=hint)
