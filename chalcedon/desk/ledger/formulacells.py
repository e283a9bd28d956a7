"""Formulas in the ledger: what a cell shows of one, and what is made of a text that is typed into it."""

from __future__ import annotations

import ast
import re
from collections.abc import Container
from typing import Any

from chalcedon.craft.several import Several, merged
from chalcedon.desk.ledger.parts import Way, part, show
from chalcedon.desk.ledger.spelling import PAIR, SWITCHED
from chalcedon.evaluate.kept import formulas_at
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.formula.syntax import looks_like_formula, parses
from chalcedon.problems import ValueProblem
from chalcedon.scene import Gradient, Picture
from chalcedon.scene.declare import Declared, Property
from chalcedon.scene.paints import LINES, PAINT, Paint, Pattern, palette_name
from chalcedon.scene.values import Anchor, Choice, Flag, Number, Ref, TextValue, Value

WORD = re.compile(r"[\w-]+")
"""What names a choice: top-left."""


def now(owner: Any, name: str, path: Way, stated: Any) -> Any:
    """What a formula at a path of a property comes to, or all of a property with formulas in it; what it was last
    where nothing works it out. Of several shapes it is MIXED where it comes to something else for each."""
    if isinstance(owner, Several):
        return merged(now(s, name, path, part(s.stated(name), path)) for s in owner.shapes)
    cell = formulas_at(owner, name) if isinstance(owner, Declared) else None
    if cell is None:
        return owner.declared(name).kind.plain(stated) if not path else stated.last
    return part(cell.value, path) if path and not isinstance(cell.stated, Formula) else cell.value


def paint_now(owner: Any, name: str, stated: Any) -> Any:
    """A stated paint for a chip: its formulas come to what they come to now."""
    if not PAINT.formulas(stated):
        return stated
    value = now(owner, name, (), stated)
    return Formula(stated.text, value) if isinstance(stated, Formula) else value


def problem_of(owner: Any, name: str, formula: Formula | None = None) -> FormulaProblem | None:
    """What is wrong with the formulas of a property, or with one of them; of several shapes, with the first's."""
    owner = owner.shapes[0] if isinstance(owner, Several) else owner
    cell = formulas_at(owner, name) if isinstance(owner, Declared) else None
    if cell is None:
        return None
    return cell.problem if formula is None else cell.problem_with(formula)


def words(value: Any) -> str:
    """What a formula comes to, as a cell shows it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None:
        return "none"
    if isinstance(value, Gradient | Pattern | Picture):
        return "a paint"
    if isinstance(value, tuple):
        shown = [words(v) for v in value[:4]]
        return ", ".join(shown) + (", …" if len(value) > 4 else "") if value else "none"
    if isinstance(value, str):
        return value.replace("\n", " ⏎ ")[:200] or "–"
    return show(value)


def is_formula_text(prop: Property[Any], text: str, was: bool, inputs: Container[str]) -> bool:
    """Whether a text that is typed for a property is meant as a formula. `was` says that one stands there; a single
    word is one of a colour only where it is among the `inputs`."""
    kind, plain = prop.kind, text.strip()
    if plain.startswith("="):
        return True
    if isinstance(kind, TextValue) and not isinstance(kind, Ref):
        return _is_worked_text(plain) or (was and looks_like_formula(plain) and parses(plain))
    if isinstance(kind, Choice | Anchor | Ref):
        return plain != "" and parses(plain) and not (WORD.fullmatch(plain) or PAIR.fullmatch(plain))
    if isinstance(kind, Paint):
        return _is_no_paint(plain) and looks_like_formula(plain) and (not plain.isidentifier() or plain in inputs)
    if isinstance(kind, Flag):
        return plain.lower() not in SWITCHED and plain != ""
    return plain not in _words_of(kind) and looks_like_formula(plain)


def _words_of(kind: Value) -> Any:
    return getattr(getattr(kind, "of", kind), "words", ())


def _is_worked_text(text: str) -> bool:
    """Whether a text is an expression that gives text: f"...", or one with texts in quotes."""
    try:
        tree = ast.parse(text, mode="eval").body
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return False
    if isinstance(tree, ast.JoinedStr):
        return True
    quoted = any(isinstance(n, ast.Constant) and isinstance(n.value, str) for n in ast.walk(tree))
    return quoted and isinstance(tree, ast.IfExp | ast.BinOp | ast.Call)


def _is_no_paint(text: str) -> bool:
    if text in ("", "none") or palette_name(text) or text.startswith((*(f"{w}(" for w in LINES), "image_paint(")):
        return False
    try:
        PAINT.read(text)
    except ValueProblem:
        return True
    return False


def formula_from(text: str, last: Any) -> Formula:
    """The formula that was typed; a leading = only says that it is one."""
    return Formula(text.strip().removeprefix("=").strip(), last)


def is_number(prop: Property[Any]) -> bool:
    """Whether a formula for all of a property comes to a number, which can be dragged."""
    return isinstance(prop.kind, Number)
