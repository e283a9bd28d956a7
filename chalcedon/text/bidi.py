"""Directions of characters: the Unicode Bidirectional Algorithm (UAX #9), as python-bidi works it out.

That package gives a line of text in visual order; shaping needs the levels behind it, so its steps are taken singly.
They know neither isolates, which are left out as the marks of embeddings are, nor paired brackets (rule N0).
"""

from __future__ import annotations

import unicodedata
from collections import deque
from collections.abc import Sequence
from typing import Any

from bidi import algorithm

_SPACE = frozenset(("WS", "B", "S", "BN", "LRI", "RLI", "FSI", "PDI", "LRE", "RLE", "LRO", "RLO", "PDF"))
_WITHOUT_ISOLATES = dict.fromkeys(range(0x2066, 0x206A), "\u200b")  # a zero-width space is left out as well (rule X9)


def base_level(text: str, direction: str = "auto") -> int:
    """0 for a paragraph that runs from left to right, 1 from right to left (rules P2 and P3)."""
    return int(algorithm.get_base_level(text)) if direction == "auto" else int(direction == "rtl")


def levels(text: str, base: int) -> list[int]:
    """The embedding level of every character of a paragraph."""
    if base == 0 and text.isascii():
        return [0] * len(text)
    store: dict[str, Any] = {"base_level": base, "base_dir": "LR"[base], "chars": [], "runs": deque()}
    algorithm.get_embedding_levels(text.translate(_WITHOUT_ISOLATES), store)
    every = list(store["chars"])
    algorithm.explicit_embed_and_overrides(store)
    kept = set(map(id, store["chars"]))
    algorithm.resolve_weak_types(store)
    algorithm.resolve_neutral_types(store, False)
    algorithm.resolve_implicit_levels(store, False)
    out: list[int] = []
    for char in every:  # what X9 leaves out takes the level before it (UAX #9, section 5.2)
        out.append(char["level"] if id(char) in kept or not out else out[-1])
    for i in reversed(range(len(text))):  # L1: white space at the end keeps the paragraph's level
        if unicodedata.bidirectional(text[i]) not in _SPACE:
            break
        out[i] = base
    return out


def visual_order(levels: Sequence[int]) -> list[int]:
    """The places of a line's runs from left to right (rule L2)."""
    runs: list[dict[str, Any]] = [{"level": level, "orig": "L", "place": i} for i, level in enumerate(levels)]
    algorithm.reorder_resolved_levels({"base_level": 0, "chars": runs}, False)
    return [run["place"] for run in runs]
