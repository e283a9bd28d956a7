"""Numbers and kinds as a person would have written them."""

from __future__ import annotations

import re

_SIGN = re.compile(r"(?<![\w)\]])-(?=\.?\d)")
"""A hyphen that stands for a minus: before a number, and not between two."""


def signed(text: str) -> str:
    """A text to be looked at, with true minus signs before its numbers."""
    return _SIGN.sub("−", text)


def tidy(value: float, digits: int = 6) -> float:
    """Without the noise of binary fractions: whole numbers as int."""
    rounded = round(value, digits)
    return int(rounded) if rounded == int(rounded) else rounded


def spoken(value: float) -> str:
    """A number in a sentence: to a tenth, with a true minus sign."""
    return signed(f"{round(value, 1):g}")


def article(kind: str) -> str:
    """an ellipse, a regular polygon"""
    word = kind.replace("_", " ")
    return f"{'an' if word[0] in 'aeiou' else 'a'} {word}"
