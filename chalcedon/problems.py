"""What is said when something can't work: what, where, why, and what would."""

from __future__ import annotations

import difflib
from collections.abc import Iterable


class ChalcedonError(Exception):
    """A sentence for a person. `where` names the place (file and line, or shape and property)."""

    def __init__(self, message: str, where: str = "", hint: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.where = where
        self.hint = hint

    def __str__(self) -> str:
        text = f"{self.where}: {self.message}" if self.where else self.message
        return f"{text} {self.hint}" if self.hint else text


class ValueProblem(ChalcedonError):
    """A value that a property can't hold."""


class Problem(ChalcedonError):
    """Something wrong in a file that could be opened all the same."""

    def __init__(self, message: str, where: str = "", hint: str = "", path: tuple[str | int, ...] = ()) -> None:
        super().__init__(message, where, hint)
        self.path = path


def nearest(word: str, known: Iterable[str]) -> str:
    """A hint naming the valid word closest to `word`, or listing the first few."""
    names = list(known)
    close = difflib.get_close_matches(word.lower(), names, n=1, cutoff=0.6)
    if close:
        return f"Did you mean {close[0]}?"
    return "Known: " + ", ".join(names[:14]) + (", ..." if len(names) > 14 else ".")


def shorten(raw: object, limit: int = 40) -> str:
    """A value quoted in a message, never longer than a line."""
    text = repr(raw)
    return text if len(text) <= limit else text[: limit - 3] + "..."
