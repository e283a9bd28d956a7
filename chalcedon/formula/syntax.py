"""The texts that are formulas: a small part of Python's expressions, checked node by node. Nothing is run here."""

from __future__ import annotations

import ast
import re
from functools import lru_cache

from chalcedon.formula.problem import FormulaProblem, about
from chalcedon.problems import shorten

LONGEST = 2000
"""Characters of a formula."""
DEEPEST = 200
"""Nodes of a formula inside one another."""
SIGNS = str.maketrans({"−": "-", "×": "*", "÷": "/", "·": "*", "\n": " ", "\r": " ", "\t": " "})
"""What a hand may write for what Python takes; one character for one, so that places stay where they are."""

_ALLOWED = (
    ast.Expression,
    ast.Constant,
    ast.Name,
    ast.Attribute,
    ast.Load,
    ast.UnaryOp,
    ast.BinOp,
    ast.BoolOp,
    ast.Compare,
    ast.IfExp,
    ast.Call,
    ast.keyword,
    ast.Tuple,
    ast.JoinedStr,
    ast.FormattedValue,
    ast.UAdd,
    ast.USub,
    ast.Not,
    ast.Add,
    ast.Sub,
    ast.Mult,
    ast.Div,
    ast.FloorDiv,
    ast.Mod,
    ast.Pow,
    ast.And,
    ast.Or,
    ast.Eq,
    ast.NotEq,
    ast.Lt,
    ast.LtE,
    ast.Gt,
    ast.GtE,
    ast.In,
    ast.NotIn,
)
_INSTEAD: dict[type[ast.AST], tuple[str, str]] = {
    ast.Subscript: ("square brackets can't be used in a formula.", "A point has .x and .y."),
    ast.List: ("square brackets can't be used in a formula.", "Write ( ) around several values."),
    ast.Is: ("is can't be used in a formula.", "Write == instead."),
    ast.IsNot: ("is not can't be used in a formula.", "Write != instead."),
    ast.NamedExpr: ("a formula can't keep a value under a name.", "An input can, or another shape."),
    ast.Lambda: ("a formula can't hold a function of its own.", "See the list of functions."),
    ast.Starred: ("a star can't stand before a value in a formula.", "Write the values one by one."),
    ast.BitXor: ("^ is no power here.", "Write ** instead."),
    ast.BitAnd: ("& can't be used in a formula.", "Write and instead."),
    ast.BitOr: ("| can't be used in a formula.", "Write or instead."),
    ast.Invert: ("~ can't be used in a formula.", "Write not instead."),
    ast.ListComp: ("a formula has no loops.", "A repeat paints something many times."),
    ast.GeneratorExp: ("a formula has no loops.", "A repeat paints something many times."),
}
_FORMAT = re.compile(r"[<>^]?[+]?0?\d{0,2},?(\.\d{1,2})?[fdeg%]?")


class Parsed:
    """A text that is a formula by its grammar. Which names it uses is looked up later."""

    __slots__ = ("text", "tree")

    def __init__(self, text: str, tree: ast.expr) -> None:
        self.text, self.tree = text, tree

    def paths(self) -> list[tuple[str, ...]]:
        """The names with their attributes, in order: ("moon", "at", "x"). Names of functions aren't among them."""
        return list(dict.fromkeys(path for _node, path in self.named()))

    def named(self) -> list[tuple[ast.expr, tuple[str, ...]]]:
        """Where these names stand."""
        out: list[tuple[ast.expr, tuple[str, ...]]] = []
        stack: list[ast.AST] = [self.tree]
        while stack:
            node = stack.pop()
            path = path_of(node)
            if path is not None:
                out.append((node, path))  # type: ignore[arg-type]
                continue
            inside = [*node.args, *node.keywords] if isinstance(node, ast.Call) else list(ast.iter_child_nodes(node))
            stack.extend(reversed(inside))
        return out


def path_of(node: ast.AST) -> tuple[str, ...] | None:
    """The names of moon.at.x; None for what isn't a name with attributes."""
    names: list[str] = []
    while isinstance(node, ast.Attribute):
        names.append(node.attr)
        node = node.value
    if not isinstance(node, ast.Name):
        return None
    names.append(node.id)
    return tuple(reversed(names))


_REMARK = re.compile(r"""('(?:\\.|[^'\\\n])*'|"(?:\\.|[^"\\\n])*")|#[^\r\n]*""")
"""A remark, up to the end of its line; or a text in quotes, where # begins none."""


def in_one_line(text: str) -> str:
    """The text of a formula as Python has it, without remarks, every character where it was."""
    return _REMARK.sub(lambda m: m[1] or " " * len(m[0]), text).translate(SIGNS)


@lru_cache(maxsize=16384)
def parse(text: str) -> Parsed:
    """A formula from its text. Raises FormulaProblem for what isn't one, saying what would work."""
    if len(text) > LONGEST:
        raise FormulaProblem(f"that formula has {len(text)} characters.", f"The most is {LONGEST}.")
    plain = in_one_line(text)
    if not plain.strip():
        raise FormulaProblem("a formula is missing.", "Write an expression such as pointer.x + 20.")
    lead = len(plain) - len(plain.lstrip())
    try:
        tree = ast.parse(plain.lstrip(), mode="eval").body
    except SyntaxError as error:
        place = max(0, (error.offset or 1) - 1) + lead
        raise FormulaProblem(
            f"{shorten(text.strip())} isn't finished, or isn't an expression.", _advice(plain), place, len(text)
        ) from None
    except (ValueError, RecursionError, MemoryError):
        raise FormulaProblem(f"{shorten(text)} can't be read as an expression.") from None
    for node in ast.walk(tree):
        if hasattr(node, "col_offset") and lead:
            node.col_offset += lead
            node.end_col_offset += lead  # type: ignore[attr-defined]
    _check(text, tree)
    return Parsed(text, tree)


def _advice(text: str) -> str:
    if re.search(r"(?<![=<>!])=(?!=)", text):
        return "To compare, write == instead of =."
    opened, closed = text.count("("), text.count(")")
    if opened > closed:
        return "A bracket is open."
    if closed > opened:
        return "A bracket too many is closed."
    return "For example pointer.x + 20, or 10 if pointer.down else 4."


def _check(text: str, tree: ast.expr) -> None:
    level: list[ast.AST] = [tree]
    depth = 0
    while level:
        depth += 1
        if depth > DEEPEST:
            raise about(text, level[0], f"that formula is more than {DEEPEST} parts deep.", "Share it among inputs.")
        following: list[ast.AST] = []
        for node in level:
            _check_node(text, node)
            inside = ast.iter_child_nodes(node)
            if isinstance(node, ast.FormattedValue):
                inside = iter((node.value,))
            following.extend(inside)
        level = following


def _check_node(text: str, node: ast.AST) -> None:
    if not isinstance(node, _ALLOWED):
        for kind, (message, hint) in _INSTEAD.items():
            if isinstance(node, kind):
                raise about(text, node, message, hint)
        word = type(node).__name__.lower()
        raise about(text, node, f"this sort of expression ({word}) isn't allowed in a formula.")
    if isinstance(node, ast.Constant) and not _is_plain(node.value):
        raise about(text, node, f"{shorten(node.value)} can't stand in a formula.", "Numbers and texts can.")
    if isinstance(node, ast.Attribute) and node.attr.startswith("_"):
        raise about(text, node, f"{shorten(node.attr)} is no property.")
    if isinstance(node, ast.Name) and node.id.startswith("__"):
        raise about(text, node, f"{shorten(node.id)} is no name of a scene.")
    if isinstance(node, ast.Call):
        if not isinstance(node.func, ast.Name):
            raise about(text, node, "only the listed functions can be called.", "Write name(values).")
        if any(k.arg is None for k in node.keywords):
            raise about(text, node, "a star can't stand before a value in a formula.", "Write the values one by one.")
    if isinstance(node, ast.FormattedValue):
        _check_format(text, node)


def _is_plain(value: object) -> bool:
    if isinstance(value, int) and not isinstance(value, bool):
        return abs(value) <= 10**300
    return value is None or isinstance(value, bool | float | str)


def _check_format(text: str, node: ast.FormattedValue) -> None:
    if node.conversion not in (-1, None):
        raise about(text, node, "! can't be used in a text.", "Write {value:.1f} for one decimal.")
    if node.format_spec is not None:
        parts = node.format_spec.values if isinstance(node.format_spec, ast.JoinedStr) else []
        spec = "".join(str(p.value) if isinstance(p, ast.Constant) else "{" for p in parts)
        if not _FORMAT.fullmatch(spec):
            hint = "For example .1f for one decimal, 5.2f for a width of five, % for percent."
            raise about(text, node, f"{shorten(spec)} is no way to write a number.", hint)


def parses(text: str) -> bool:
    """Whether a text can be a formula at all."""
    try:
        parse(text)
    except FormulaProblem:
        return False
    return True


def looks_like_formula(text: str) -> bool:
    """Whether a text that was typed where a value belongs is meant as a formula: it holds a name, called or not."""
    try:
        tree = ast.parse(in_one_line(text).strip(), mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return bool(re.search(r"(?<![\w.#\"'-])[A-Za-z_]\w*\s*[.(]", text))
    return any(isinstance(n, ast.Name | ast.JoinedStr) for n in ast.walk(tree))
