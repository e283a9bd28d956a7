"""Numbers as text: as they are read again, where none loses a digit on the way, and as they are told."""

from __future__ import annotations


def in_full(value: float) -> str:
    """Every digit of a finite number, and none more; a whole one without a point."""
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(float(value))


def told(value: float) -> str:
    """A number in a sentence: up to twelve digits, thousands set apart."""
    return f"{value:,.12g}"
