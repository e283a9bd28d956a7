"""The canonical text form: Python call syntax, printed in one layout, parsed with `ast` and never run."""

from __future__ import annotations

import ast
from collections.abc import Callable, Iterable
from functools import singledispatch
from typing import Any

from chalcedon.exact import decode, encode, require_json
from chalcedon.formula import Formula
from chalcedon.formula.value import UNKNOWN
from chalcedon.problems import ChalcedonError, ValueProblem, nearest, shorten_name
from chalcedon.scene import Group, Shape, Step
from chalcedon.scene.ids import check_id
from chalcedon.scene.paints import LINES, Gradient, Pattern, Picture
from chalcedon.scene.scene import MAX_DEPTH, levels
from chalcedon.scene.shapes import Unknown, kind_named
from chalcedon.scene.steps import OPS

LONGEST = 20_000_000
"""Characters of text that are parsed."""
TOGETHER = 60
"""Groups that are written within one another. Python reads 200 brackets so, of which each has two."""


def print_shapes(shapes: Iterable[Shape]) -> str:
    """The statements of shapes, one a line; a group's children are indented under it. What nests deeply is taken apart:
    its inner part stands before it, under a name."""
    out: list[str] = []
    for shape in shapes:
        out.append(_print(shape, 0, out) + "\n")
    return "".join(out)


def _print(shape: Shape, depth: int, before: list[str]) -> str:
    """The statement of a shape; the parts that it is taken apart into are put `before` it."""
    indent = "    " * depth
    if depth >= TOGETHER and isinstance(shape, Group):
        text = _print(shape, 0, before)
        before.append(f"part_{len(before)} = {text}\n")
        return f"{indent}part_{len(before) - 1}"
    parts = [f"id={_literal(shape.id)}"] if shape.id else []
    for name, prop in () if isinstance(shape, Unknown) else shape.properties.items():
        if name in shape._values or (prop.always and name not in shape.extra):
            value = shape._values.get(name, prop.default)
            parts.append(f"{name}={_literal(prop.kind.spelled(value))}")
    if shape.extra:
        parts.append(f"extra={encode(shape.extra).decode()!r}")
    if isinstance(shape, Unknown):
        parts.append(f"written_kind={_literal(shape.written_kind)}")
    if not isinstance(shape, Group) or not shape.children:
        return f"{indent}{shape.kind}({', '.join(parts)})"
    inner = "".join(_print(c, depth + 1, before) + ",\n" for c in shape.children)
    return f"{indent}group({', '.join(parts)}, children=[\n{inner}{indent}])"


@singledispatch
def _literal(value: Any) -> str:
    """A stored value as a Python expression that `_value` reads."""
    return repr(value)


@_literal.register
def _(value: Formula) -> str:
    last = "" if value.last is UNKNOWN else f", {_literal(value.last)}"
    return f"formula({_literal(value.text)}{last})"


@_literal.register
def _(value: Gradient) -> str:
    stops = ", ".join(f"({_literal(o)}, {_literal(c)})" for o, c in value.stops)
    parts = [*(_literal(v) for v in value.line), f"stops=[{stops}]"]
    parts += [f"{n}={v!r}" for n, v in (("spread", value.spread), ("units", value.units)) if v not in ("pad", "box")]
    return f"{value.kind}({', '.join(parts)})"


@_literal.register
def _(value: Picture) -> str:
    return f"image_paint({value.source!r}, fit={value.fit!r})"


@_literal.register
def _(value: Pattern) -> str:
    return f"pattern({value.shape!r}{f', steps={_literal(value.steps)}' if value.steps else ''})"


@_literal.register
def _(value: Step) -> str:
    parts = [_literal(v) for v in value.values]
    if value.about is not None:
        parts.append(f"about={_literal(value.about)}")
    if not value.on:
        parts.append("off=True")
    return f"{value.op}({', '.join(parts)})"


@_literal.register
def _(value: tuple) -> str:
    # a list of points or steps reads better in brackets, a point in parentheses
    if value and isinstance(value[0], tuple | Formula) and any(isinstance(v, tuple) for v in value):
        return _literal(list(value))
    return f"({', '.join(_literal(v) for v in value)}{',' if len(value) == 1 else ''})"


@_literal.register
def _(value: list) -> str:
    return f"[{', '.join(_literal(v) for v in value)}]"


def spelled(value: Any) -> str:
    """A stored value as it is written in the text form."""
    return _literal(value)


def parse_text(text: str) -> list[Shape]:
    """The shapes that statements describe, in no scene. Raises ChalcedonError naming the line."""
    if len(text) > LONGEST:
        raise ChalcedonError(f"the text has more than {LONGEST} characters.")
    try:
        tree = ast.parse(text, mode="exec")
    except SyntaxError as error:
        raise ChalcedonError(f"{error.msg}.", f"line {error.lineno}") from None
    except UnicodeEncodeError:
        raise ChalcedonError("the text holds half a character (a lone surrogate).") from None
    except (ValueError, RecursionError, MemoryError) as error:
        raise ChalcedonError(f"the text can't be parsed: {error}.") from None
    shapes = []
    parts: dict[str, Shape] = {}
    for statement in tree.body:
        if isinstance(statement, ast.Assign) and [type(t) for t in statement.targets] == [ast.Name]:
            name = ast.unparse(statement.targets[0])
            if name in parts:
                raise ChalcedonError(f"{shorten_name(name)} is another shape already.", f"line {statement.lineno}")
            parts[name] = _shape(statement.value, 1, parts)
            continue
        if not isinstance(statement, ast.Expr):
            raise ChalcedonError(
                "only shapes belong here.", f"line {statement.lineno}", "Write circle(at=(0, 0), radius=40)."
            )
        shapes.append(_shape(statement.value, 1, parts))
    if parts:
        raise ChalcedonError(f"{shorten_name(next(iter(parts)))} is in no group.", hint="Name it among its children.")
    return shapes


def _shape(node: ast.expr, depth: int, parts: dict[str, Shape]) -> Shape:
    """The shape that a call describes, or that is among the parts under a name; each of these is taken once."""
    where = f"line {node.lineno}"
    part = parts.pop(node.id, None) if isinstance(node, ast.Name) else None
    if depth + (levels(part) - 1 if part is not None else 0) > MAX_DEPTH:
        raise ChalcedonError(f"groups nest deeper than {MAX_DEPTH}.", where)
    if part is not None:
        return part
    if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
        raise ChalcedonError("a shape is written kind(...).", where, "Write circle(at=(0, 0), radius=40).")
    try:
        cls = Unknown if node.func.id == "unknown" else kind_named(node.func.id)
        shape = cls()
        if cls is Unknown and {k.arg for k in node.keywords} - {"id", "extra", "written_kind"}:
            raise ValueProblem("unknown(...) takes id, extra and written_kind.")
        if len(node.args) > len(cls.leading):
            raise ValueProblem(f"{cls.kind} takes {len(cls.leading)} values without a name.")
        given = dict(zip(cls.leading, node.args, strict=False))
        for word in node.keywords:
            if word.arg is None or word.arg in given:
                raise ValueProblem(f"{word.arg or '**'} can't stand here.")
            given[word.arg] = word.value
        forms = cls.words
        for name, value in given.items():
            if name not in forms:
                if name == "children" and isinstance(shape, Group):
                    _fill(shape, value, depth, parts)
                else:
                    _set(shape, name, value)
        shape.give({name: _value(value) for name, value in given.items() if name in forms})
        _check_extra(shape)
    except ValueProblem as problem:
        problem.where = f"{where}, {problem.where}" if problem.where else where
        raise
    return shape


def _check_extra(shape: Shape) -> None:
    """Refuses data that couldn't be written beside what the shape states."""
    extra = shape.extra
    if isinstance(shape, Unknown):
        raw = extra.get("raw")
        if list(extra) != ["raw"] or not shape.written_kind or (isinstance(raw, dict) and "id" in raw):
            raise ValueProblem(
                "unknown(...) stands for a shape that this version can't read, and needs what was written.",
                hint="""It is copied whole: unknown(extra='{"raw": {"kind": ...}}', written_kind=...).""",
            )
        return
    for name in extra:
        if (
            name in ("kind", "id")
            or name in shape._values
            or (name == "children" and bool(getattr(shape, "children", None)))
        ):
            raise ValueProblem(f"{shorten_name(name)} can't stand among the extra values.", hint="Write it by itself.")


def _extra(node: ast.expr) -> dict[str, Any]:
    """Data that this version doesn't know: JSON text, or a plain dictionary."""
    raw = _plain(node)
    if isinstance(raw, str):
        try:
            raw = decode(raw.encode())
        except (ValueError, RecursionError) as error:
            raise ValueProblem(f"extra is not JSON: {error}.") from None
    if not isinstance(raw, dict):
        raise ValueProblem("extra is a JSON object, as text.")
    require_json(raw)
    return raw


def _fill(group: Group, node: ast.expr, depth: int, parts: dict[str, Shape]) -> None:
    if not isinstance(node, ast.List | ast.Tuple):
        raise ValueProblem("children is a list of shapes.")
    for i, item in enumerate(node.elts):
        group.attach(_shape(item, depth + 1, parts), i)


def _set(shape: Shape, name: str, node: ast.expr) -> None:
    if name == "id":
        shape.id = check_id(_value(node))
    elif name == "extra":
        shape.extra.update(_extra(node))
    elif name == "written_kind" and isinstance(shape, Unknown):
        shape.written_kind = str(_plain(node))
    else:
        shape.assign(name, _value(node))


def print_paint(paint: Any) -> str:
    """A paint as text: CSS for a colour, a call for a gradient."""
    return paint if isinstance(paint, str) else _literal(paint)


def parse_paint(text: str) -> Any:
    """The paint that text describes, to be read by a property. CSS text is given back as it is."""
    if not text.startswith((*(f"{w}(" for w in LINES), "image_paint(", "pattern(")):
        return text
    try:
        return _value(ast.parse(text, mode="eval").body)
    except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
        raise ValueProblem(f"this paint can't be read: {getattr(error, 'msg', error)}.") from None


def _plain(node: ast.expr) -> Any:
    try:
        return ast.literal_eval(node)
    except (ValueError, TypeError, SyntaxError, MemoryError, RecursionError):
        hint = f"Words stand in quotes: '{node.id}'." if isinstance(node, ast.Name) else ""
        raise ValueProblem("only a plain value can stand here.", hint=hint) from None


def _value(node: ast.expr) -> Any:
    """Literals, tuples and lists of them, formula(...), paints and the steps; nothing else."""
    if isinstance(node, ast.Tuple | ast.List):
        return [_value(n) for n in node.elts]
    if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name)):
        return _plain(node)
    word = node.func.id
    if word not in _CALLS:
        raise ValueProblem(f"{word} can't be called here.", hint=nearest(word, [*OPS, *LINES, "formula"]))
    named = {k.arg or "**": _value(k.value) for k in node.keywords}
    if "**" in named:
        raise ValueProblem(f"** can't stand in {word}(...).", hint="Write each value with its name.")
    return _CALLS[word](word, [_value(n) for n in node.args], named)


def _formula(word: str, values: list[Any], named: dict[str, Any]) -> Formula:
    if len(values) not in (1, 2) or not isinstance(values[0], str) or named:
        raise ValueProblem('a formula is written formula("text", last value).')
    return Formula(*values)


def _gradient(word: str, values: list[Any], named: dict[str, Any]) -> dict[str, Any]:
    return {word: values, **named}  # as the scene file has it


def _picture(word: str, values: list[Any], named: dict[str, Any]) -> dict[str, Any]:
    return {"image": values[0] if len(values) == 1 else None, **named}


def _pattern(word: str, values: list[Any], named: dict[str, Any]) -> dict[str, Any]:
    return {"pattern": values[0] if len(values) == 1 else None, **named}


def _step(word: str, values: list[Any], named: dict[str, Any]) -> dict[str, Any]:
    for name in named.keys() - {"about", "off"}:
        raise ValueProblem(f"a step has no {name}.", hint="Known: about, off.")
    return {word: values[0] if word in ("rotate", "scale") and len(values) == 1 else values, **named}


_CALLS: dict[str, Callable[[str, list[Any], dict[str, Any]], Any]] = {
    "formula": _formula,
    **dict.fromkeys(LINES, _gradient),
    "image_paint": _picture,
    "pattern": _pattern,
    **dict.fromkeys(OPS, _step),
}
