"""From the tree of a formula to the tree of its code, with every part's type checked on the way."""

from __future__ import annotations

import ast
from typing import Any, NamedTuple, Protocol

from chalcedon.formula import running
from chalcedon.formula.problem import FormulaProblem, about
from chalcedon.formula.syntax import Parsed, path_of
from chalcedon.formula.table import FUNCTIONS, Function, Param
from chalcedon.formula.types import LIST, NOTHING, NUMBER, NUMERIC, POINT, SHAPE, SWITCH, TEXT, Type, said, type_of
from chalcedon.problems import ValueProblem, nearest, shorten_name

Path = tuple[str, ...]
HIDDEN: dict[str, Path] = {"time": ("time",), "seed": ("", "seed"), "keys": ("", "keys")}
"""Where functions that need more than is written find it."""


class Vocabulary(Protocol):
    """The names that a formula can use where it stands."""

    def kind(self, path: Path) -> Type:
        """The type of a name with its attributes. Raises ValueProblem for what there isn't, naming the nearest."""
        ...


class Part(NamedTuple):
    """A part of a formula: its tree, what that is written like in short, its type."""

    tree: ast.expr
    key: str
    type: Type


class Compiler:
    """Makes a tree of code from that of a formula, and notes what it needs."""

    def __init__(self, parsed: Parsed, names: Vocabulary) -> None:
        self.parsed, self.names = parsed, names
        self.text = parsed.text
        self.constants: list[Any] = []
        self.reads: dict[Path, str] = {}
        self.kinds: dict[Path, Type] = {}
        self.memories = 0

    def whole(self) -> Part:
        """All of it."""
        return self.value(self.parsed.tree)

    def args(self) -> list[str]:
        """The names of what the code takes: constants, values read, memories."""
        return [
            *(f"k{i}" for i in range(len(self.constants))),
            *self.reads.values(),
            *(f"m{i}" for i in range(self.memories)),
        ]

    def wrong(self, node: ast.AST, message: str, hint: str = "") -> FormulaProblem:
        return about(self.text, node, message, hint)

    def _bare_shape(self, node: ast.AST) -> FormulaProblem:
        word = ".".join(path_of(node) or ("it",))
        return self.wrong(node, f"{word} is a shape, not a value.", f"Name what of it: {word}.at, {word}.width.")

    def _put(self, tree: ast.expr, like: ast.AST) -> ast.expr:
        return ast.copy_location(tree, like)

    def _load(self, word: str, like: ast.AST) -> ast.expr:
        return self._put(ast.Name(word, ast.Load()), like)

    def _calls(self, word: str, args: list[Part], like: ast.AST, type: Type) -> Part:
        tree = self._put(ast.Call(self._load(word, like), [a.tree for a in args], []), like)
        return Part(tree, f"{word}({','.join(a.key for a in args)})", type)

    def part(self, node: ast.expr) -> Part:
        made: Part = getattr(self, f"_{type(node).__name__.lower()}")(node)
        return made

    def value(self, node: ast.expr) -> Part:
        """A part that is a value, not a shape."""
        part = self.part(node)
        if part.type == SHAPE:
            raise self._bare_shape(node)
        return part

    def _constant(self, node: ast.Constant) -> Part:
        value = node.value
        if value is None or isinstance(value, bool):
            return Part(node, repr(value), NOTHING if value is None else SWITCH)
        self.constants.append(value)
        word = f"k{len(self.constants) - 1}"
        return Part(self._load(word, node), "k", TEXT if isinstance(value, str) else NUMBER)

    def _read(self, path: Path, kind: Type, node: ast.AST) -> ast.expr:
        word = self.reads.setdefault(path, f"r{len(self.reads)}")
        self.kinds.setdefault(path, kind)
        return self._load(word, node)

    def _name(self, node: ast.Name) -> Part:
        return self._named(node, (node.id,))

    def _named(self, node: ast.expr, path: Path) -> Part:
        try:
            kind = self.names.kind(path)
        except ValueProblem as problem:
            raise self.wrong(node, problem.message, problem.hint) from None
        tree = self._read(path, kind, node)
        return Part(tree, self.reads[path], kind)

    def _attribute(self, node: ast.Attribute) -> Part:
        path = path_of(node)
        if path is not None:
            return self._named(node, path)
        inner = self.value(node.value)
        if inner.type != POINT or node.attr not in ("x", "y"):
            what = "only points have .x and .y" if node.attr in ("x", "y") else "only .x and .y can stand here"
            raise self.wrong(node, f"{what}.", f"This is {said(inner.type)}.")
        at = "xy".index(node.attr)
        tree = self._put(ast.Subscript(inner.tree, self._put(ast.Constant(at), node), ast.Load()), node)
        return Part(tree, f"{inner.key}[{at}]", NUMBER)

    def _unaryop(self, node: ast.UnaryOp) -> Part:
        inner = self.value(node.operand)
        sign = type(node.op).__name__
        if isinstance(node.op, ast.Not):
            return Part(self._put(ast.UnaryOp(node.op, inner.tree), node), f"not({inner.key})", SWITCH)
        if inner.type == POINT:
            return self._calls(f"p_{sign}", [inner], node, POINT)
        self._numeric(inner, node.operand, "+" if isinstance(node.op, ast.UAdd) else "-")
        return Part(self._put(ast.UnaryOp(node.op, inner.tree), node), f"{sign}({inner.key})", NUMBER)

    def _numeric(self, part: Part, node: ast.AST, sign: str) -> None:
        if not part.type <= NUMERIC:
            hint = 'Text is put together in f"...", for example f"{tide:.1f} m".' if "text" in part.type else ""
            raise self.wrong(node, f"{sign} works with numbers and points; this is {said(part.type)}.", hint)

    def _binop(self, node: ast.BinOp) -> Part:
        left, right = self.value(node.left), self.value(node.right)
        op = type(node.op).__name__
        if left.type == right.type == TEXT and isinstance(node.op, ast.Add):
            return self._calls("t_Add", [left, right], node, TEXT)
        for part, side in ((left, node.left), (right, node.right)):
            if part.type != POINT:
                self._numeric(part, side, running.SIGNS[op])
        if POINT in (left.type, right.type):
            if isinstance(node.op, ast.Pow):
                raise self.wrong(node, "a point has no power.", "Take its .x or .y.")
            return self._calls(f"p_{op}", [left, right], node, POINT)
        if isinstance(node.op, ast.Pow):
            return self._calls("f_pow", [left, right], node, NUMBER)
        tree = self._put(ast.BinOp(left.tree, node.op, right.tree), node)
        return Part(tree, f"{op}({left.key},{right.key})", NUMBER)

    def _boolop(self, node: ast.BoolOp) -> Part:
        parts = [self.value(v) for v in node.values]
        tree = self._put(ast.BoolOp(node.op, [p.tree for p in parts]), node)
        key = f"{type(node.op).__name__}({','.join(p.key for p in parts)})"
        return Part(tree, key, frozenset().union(*(p.type for p in parts)))

    def _compare(self, node: ast.Compare) -> Part:
        sides = [node.left, *node.comparators]
        parts = [self.value(s) for s in sides]
        for i, op in enumerate(node.ops):
            self._comparable(op, parts[i], parts[i + 1], node)
        tree = self._put(ast.Compare(parts[0].tree, node.ops, [p.tree for p in parts[1:]]), node)
        ops = ",".join(type(op).__name__ for op in node.ops)
        return Part(tree, f"{ops}({','.join(p.key for p in parts)})", SWITCH)

    def _comparable(self, op: ast.cmpop, left: Part, right: Part, node: ast.Compare) -> None:
        if isinstance(op, ast.Eq | ast.NotEq):
            return
        if isinstance(op, ast.In | ast.NotIn):
            if not (right.type <= LIST | POINT or left.type == right.type == TEXT):
                hint = "For example tide in (1, 2, 3)."
                raise self.wrong(node, f"in looks into a list; this is {said(right.type)}.", hint)
            return
        if not (left.type <= NUMERIC and right.type <= NUMERIC) and not left.type == right.type == TEXT:
            raise self.wrong(node, f"{said(left.type)} and {said(right.type)} can't be more or less than each other.")

    def _ifexp(self, node: ast.IfExp) -> Part:
        test, body, other = self.value(node.test), self.value(node.body), self.value(node.orelse)
        tree = self._put(ast.IfExp(test.tree, body.tree, other.tree), node)
        return Part(tree, f"if({test.key},{body.key},{other.key})", body.type | other.type)

    def _tuple(self, node: ast.Tuple) -> Part:
        parts = [self.value(e) for e in node.elts]
        tree = self._put(ast.Tuple([p.tree for p in parts], ast.Load()), node)
        pair = len(parts) == 2 and all(p.type <= NUMERIC for p in parts)
        return Part(tree, f"({','.join(p.key for p in parts)})", POINT if pair else LIST)

    def _joinedstr(self, node: ast.JoinedStr) -> Part:
        values: list[ast.expr] = []
        keys = []
        for value in node.values:
            if isinstance(value, ast.FormattedValue):
                inner = self.value(value.value)
                if inner.type != NUMBER:
                    inner = self._calls("t_shown", [inner], value, inner.type)
                values.append(self._put(ast.FormattedValue(inner.tree, -1, value.format_spec), value))
                spec = "" if value.format_spec is None else ast.unparse(value.format_spec)
                keys.append(f"{inner.key}:{spec}")
            else:
                values.append(value)
                keys.append(ast.unparse(value))
        return Part(self._put(ast.JoinedStr(values), node), f"f({','.join(keys)})", TEXT)

    # calls

    def _call(self, node: ast.Call) -> Part:
        assert isinstance(node.func, ast.Name)
        word = node.func.id
        function = FUNCTIONS.get(word)
        if function is None:
            hint = nearest(word, FUNCTIONS) if word else ""
            raise self.wrong(node.func, f"there is no function {shorten_name(word)}.", hint)
        given = self._bound(node, function)
        args = [part for part, _param in given]
        result = self._result(node, function, args)
        name = f"f_{word}"
        if function.each and any(p.type == POINT for p in args):
            name = f"e_{word}"
        return self._calls(name, [*self._needed(function, node), *args], node, result)

    def _needed(self, function: Function, node: ast.AST) -> list[Part]:
        out = []
        for need in function.needs:
            if need == "memory":
                word = f"m{self.memories}"
                self.memories += 1
                out.append(Part(self._load(word, node), word, NOTHING))
            else:
                path = HIDDEN[need]
                tree = self._read(path, self.names.kind(path), node)
                out.append(Part(tree, self.reads[path], NOTHING))
        return out

    def _bound(self, node: ast.Call, function: Function) -> list[tuple[Part, Param]]:
        """The values of a call in the order of the parameters. Raises FormulaProblem when they don't fit."""
        params = function.params
        usage = f"It is {function.signature}."
        found: dict[str, ast.expr] = {}
        rest: list[ast.expr] = []
        for i, value in enumerate(node.args):
            if i < len(params) and not params[i].rest:
                found[params[i].name] = value
            elif params and params[-1].rest:
                rest.append(value)
            else:
                raise self.wrong(value, f"{function.name} takes {_counted(len(params))}.", usage)
        for keyword in node.keywords:
            if keyword.arg not in [p.name for p in params if not p.rest]:
                hint = nearest(keyword.arg or "", [p.name for p in params])
                raise self.wrong(keyword, f"{function.name} takes nothing called {keyword.arg}.", hint or usage)
            if keyword.arg in found:
                raise self.wrong(keyword, f"{function.name} is given {keyword.arg} twice.", usage)
            found[keyword.arg] = keyword.value
        out: list[tuple[Part, Param]] = []
        for param in params:
            if param.rest:
                out.extend((self._fitting(value, param, function), param) for value in rest)
            elif param.name in found:
                out.append((self._fitting(found[param.name], param, function), param))
            elif param.needed:
                raise self.wrong(node, f"{function.name} lacks {param.name}.", usage)
            else:
                default = self._put(ast.Constant(param.default), node)
                out.append((Part(default, repr(param.default), type_of(param.default)), param))
        return out

    def _fitting(self, node: ast.expr, param: Param, function: Function) -> Part:
        part = self.part(node)
        if part.type <= param.kind:
            return part
        if part.type == SHAPE:
            raise self._bare_shape(node)
        raise self.wrong(
            node,
            f"{param.name} of {function.name} is {said(param.kind)}; this is {said(part.type)}.",
            f"It is {function.signature}.",
        )

    def _result(self, node: ast.Call, function: Function, args: list[Part]) -> Type:
        if function.name == "keyframes":  # what its frames give
            frames = [a for a in node.args[1:] if isinstance(a, ast.Tuple) and len(a.elts) >= 2]
            kinds = [Compiler(self.parsed, self.names).value(f.elts[1]).type for f in frames]
            return frozenset().union(*kinds) if kinds else NUMBER
        if function.each:
            mixed = [a for a in args if a.type != POINT and not a.type <= NUMERIC and a.type & POINT]
            if mixed:
                raise self.wrong(node, f"{function.name} is given what may be a number or a point.")
            return POINT if any(a.type == POINT for a in args) else NUMBER
        if function.result is not None:
            return function.result
        return args[0].type


def _counted(count: int) -> str:
    return f"{count} value{'' if count == 1 else 's'}"
