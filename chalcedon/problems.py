"""What is said when something can't work: what, where, why, and what would."""

from __future__ import annotations

import difflib
import reprlib
from collections.abc import Iterable
from decimal import Decimal


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

    @property
    def sentence(self) -> str:
        """What `str` gives, with a capital where it begins with a word and not with a name, to stand by itself."""
        text = str(self)
        return text[0].upper() + text[1:] if text.split(" ", 1)[0] in _OPENING else text


_OPENING = frozenset(["a", "an", "it", "joining", "no", "nothing", "only", "that", "the", "there", "this", "turned"])
"""Words with which messages begin that aren't names of anything."""


class ValueProblem(ChalcedonError):
    """A value that a property can't hold."""


class Problem(ChalcedonError):
    """Something wrong in a file that could be opened all the same."""

    def __init__(self, message: str, where: str = "", hint: str = "", path: tuple[str | int, ...] = ()) -> None:
        super().__init__(message, where, hint)
        self.path = path


MOST_COMPARED = 1000
"""Names that a misspelt word is compared with: a comparison takes some µs."""


def nearest(word: str, known: Iterable[str]) -> str:
    """A hint naming the valid word closest to `word`, or listing the first few."""
    names = list(known)
    near = names
    if len(names) > MOST_COMPARED:
        near = [n for n in names if n[:1].lower() == word[:1].lower()][:MOST_COMPARED]
    close = difflib.get_close_matches(word[:80].lower(), near, n=1, cutoff=0.6)
    if close:
        return f"Did you mean {shorten_name(close[0])}?"
    if not names:
        return ""
    return "Known: " + ", ".join(map(shorten_name, names[:14])) + (", ..." if len(names) > 14 else ".")


def shorten(raw: object, limit: int = 40) -> str:
    """A value quoted in a message, never longer than a line and never taking longer than its beginning does."""
    if isinstance(raw, str):
        text = repr(raw[: limit + 1])
    elif isinstance(raw, int) and not isinstance(raw, bool) and abs(raw) >= 10**limit:
        text = f"a number of about {int(raw.bit_length() * 0.30103) + 1} digits"
    elif isinstance(raw, Decimal):
        text = str(raw)
    else:
        text = _SHORT.repr(raw)
    return text if len(text) <= limit else text[: limit - 3] + "..."


def shorten_name(name: str, limit: int = 60) -> str:
    """A name in a message, without quotes, never longer than a line."""
    return name if len(name) <= limit else name[: limit - 3] + "..."


_SHORT = reprlib.Repr()
_SHORT.maxlist = _SHORT.maxtuple = _SHORT.maxdict = _SHORT.maxset = 8
_SHORT.maxstring = _SHORT.maxother = 60
