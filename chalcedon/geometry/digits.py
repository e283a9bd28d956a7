"""Numbers as text that is read again: none loses a digit on the way."""

from __future__ import annotations


def in_full(value: float) -> str:
    """Every digit of a finite number, and none more; a whole one without a point."""
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(float(value))
