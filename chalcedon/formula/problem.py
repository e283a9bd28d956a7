"""What is wrong with a formula, and where in its text."""

from __future__ import annotations

import ast

from chalcedon.problems import ValueProblem


class FormulaProblem(ValueProblem):
    """A sentence about a formula; characters [first, last) of its text are what it is about."""

    def __init__(self, message: str, hint: str = "", first: int = 0, last: int = 0, where: str = "") -> None:
        super().__init__(message, where, hint)
        self.first, self.last = first, last

    def at(self, where: str) -> FormulaProblem:
        """The same, said of a place."""
        return FormulaProblem(self.message, self.hint, self.first, self.last, where)


def span(text: str, node: ast.AST) -> tuple[int, int]:
    """The characters [first, last) of a text that a node was made of. Python counts bytes."""
    first, last = getattr(node, "col_offset", 0), getattr(node, "end_col_offset", None)
    raw = text.encode()
    first = len(raw[:first].decode(errors="ignore"))
    return first, len(text) if last is None else len(raw[:last].decode(errors="ignore"))


def about(text: str, node: ast.AST, message: str, hint: str = "") -> FormulaProblem:
    """A problem with the part of a text that a node was made of."""
    first, last = span(text, node)
    return FormulaProblem(message, hint, first, last)
