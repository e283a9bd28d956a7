"""Formulas ready to run.

Python's own compiler makes the code, from a tree that is built node by node: it holds calls of listed functions,
arithmetic, and the values that it is given, nothing else. Texts that differ in their numbers alone share one code.
"""

from __future__ import annotations

import ast
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from chalcedon.formula import running
from chalcedon.formula.compiler import Compiler, Path, Vocabulary
from chalcedon.formula.problem import FormulaProblem
from chalcedon.formula.syntax import parse
from chalcedon.formula.types import NUMBER, Type
from chalcedon.problems import ValueProblem


class Code:
    """What formulas share whose texts differ in their numbers alone. `columnar` is whether it takes columns too."""

    __slots__ = ("_args", "_column", "_tree", "columnar", "run")

    def __init__(self, args: Sequence[str], tree: ast.expr, columnar: bool) -> None:
        self._args, self._tree = args, tree
        self.run = _made(args, tree)
        self.columnar = columnar
        self._column: Callable[..., Any] | None = None

    def column(self) -> Callable[..., Any]:
        """The same for NumPy columns in the place of constants."""
        if self._column is None:
            self._column = _made(self._args, self._tree, running.known_columns())
        return self._column


class Program(NamedTuple):
    """A formula, ready to be worked out as often as wanted."""

    text: str
    type: Type
    reads: tuple[Path, ...]
    """What it is to be given, in this order."""
    kinds: tuple[Type, ...]
    """Of what type each of these is."""
    memories: int
    """How many Memory objects it is to be given after that."""
    constants: tuple[Any, ...]
    code: Code

    def run(self, values: Sequence[Any]) -> Any:
        """What it comes to with values for `reads`, then memories. Raises FormulaProblem."""
        try:
            return self.code.run(*self.constants, *values)
        except Exception as error:
            raise _explained(self, values, error) from None


_codes: dict[str, Code] = {}
_MOST_CODES = 20_000
_programs: dict[str, Program] = {}
_MOST_PROGRAMS = 5_000


def compiled(text: str, names: Vocabulary) -> Program:
    """A formula ready to run. Raises FormulaProblem for what can't be one here."""
    found = _programs.get(text)
    if found is None or not _same_names(found, names):
        found = _compiled(text, names)
        if len(_programs) >= _MOST_PROGRAMS:
            _programs.clear()
        _programs[text] = found
    return found


def _same_names(program: Program, names: Vocabulary) -> bool:
    """Whether all that a program reads is of the type here that it was compiled for."""
    try:
        return all(names.kind(path) == kind for path, kind in zip(program.reads, program.kinds, strict=True))
    except ValueProblem:  # compiling it says where
        return False


def _compiled(text: str, names: Vocabulary) -> Program:
    compiler = Compiler(parse(text), names)
    part = compiler.whole()
    args = compiler.args()
    key = f"{len(compiler.constants)},{len(compiler.reads)},{compiler.memories}:{part.key}"
    kinds = tuple(compiler.kinds.values())
    code = _codes.get(key)
    if code is None:
        if len(_codes) >= _MOST_CODES:
            _codes.clear()
        numbers = part.type <= NUMBER and all(kind <= NUMBER for kind in kinds)
        columnar = numbers and not compiler.memories and is_columnar(compiler.parsed.tree)
        code = _codes[key] = Code(args, part.tree, columnar)
    reads, constants = tuple(compiler.reads), tuple(compiler.constants)
    return Program(text, part.type, reads, kinds, compiler.memories, constants, code)


_STRAIGHT = (ast.Constant, ast.Name, ast.Attribute, ast.Load, ast.UnaryOp, ast.USub, ast.UAdd, ast.BinOp, ast.Add,
             ast.Sub, ast.Mult, ast.Div, ast.Call)  # fmt: skip


def is_columnar(tree: ast.AST) -> bool:
    """Whether a formula has no choices, and no arithmetic that NumPy does otherwise than Python."""
    return all(
        isinstance(node, _STRAIGHT) and (not isinstance(node, ast.Constant) or type(node.value) in (int, float))
        for node in ast.walk(tree)
    )


def _made(args: Sequence[str], body: ast.expr, known: dict[str, Any] | None = None) -> Callable[..., Any]:
    """The code of a tree as a function of arguments. It knows the listed functions and no builtins."""
    signature = ast.arguments([], [ast.arg(a) for a in args], None, [], [], None, [])
    tree = ast.fix_missing_locations(ast.Expression(ast.Lambda(signature, body)))
    made: Callable[..., Any] = eval(compile(tree, "<formula>", "eval"), running.known() if known is None else known)
    return made


class _Given(dict[Path, Type]):
    """The names of a program that was compiled once."""

    def kind(self, path: Path) -> Type:
        return self[path]


def _explained(program: Program, values: Sequence[Any], error: Exception) -> FormulaProblem:
    """What went wrong, and in which part of the text: the code is made once more from this very text, so that Python
    knows where each of its instructions comes from. What remembers comes to the same when it is asked again."""
    compiler = Compiler(parse(program.text), _Given(zip(program.reads, program.kinds, strict=True)))
    tree = compiler.whole().tree
    first, last = 0, len(program.text)
    try:
        _made(compiler.args(), tree)(*program.constants, *values)
    except Exception as again:
        raw = program.text.encode()
        found = running.place(again)
        if found is not None:
            first, last = (len(raw[:at].decode(errors="ignore")) for at in found)
    if isinstance(error, FormulaProblem):
        return error
    if isinstance(error, ValueProblem):
        return FormulaProblem(error.message, error.hint, first, last)
    message, hint = running.message(error, program.text[first:last])
    return FormulaProblem(message, hint, first, last)
