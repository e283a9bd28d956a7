"""Directions of characters (Unicode Standard Annex 9), without explicit embeddings and isolates.

The control characters that would begin those have no effect here; everything else follows the rules' names.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

_NEUTRAL = frozenset(("B", "S", "WS", "ON", "BN", "LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI"))


def base_level(text: str, direction: str = "auto") -> int:
    """0 for a paragraph that runs from left to right, 1 from right to left (rules P2 and P3)."""
    if direction != "auto":
        return int(direction == "rtl")
    for char in text:
        kind = unicodedata.bidirectional(char)
        if kind == "L":
            return 0
        if kind in ("R", "AL"):
            return 1
    return 0


def levels(text: str, base: int) -> list[int]:
    """The embedding level of every character of a paragraph."""
    if base == 0 and text.isascii():
        return [0] * len(text)
    kinds = [unicodedata.bidirectional(c) or "L" for c in text]
    edge = "R" if base else "L"
    original = list(kinds)
    _weak(kinds, edge)
    _neutral(kinds, edge)
    out = [_implicit(k, base) for k in kinds]
    for i in reversed(range(len(text))):  # L1: white space at the end keeps the paragraph's level
        if original[i] not in ("WS", "B", "S"):
            break
        out[i] = base
    return out


def _implicit(kind: str, base: int) -> int:
    if base == 0:
        return {"L": 0, "R": 1}.get(kind, 2)
    return 1 if kind == "R" else 2


def _weak(kinds: list[str], edge: str) -> None:
    """Rules W1 to W7."""
    before = edge
    for i, kind in enumerate(kinds):  # W1
        if kind == "NSM":
            kinds[i] = before
        before = kinds[i]
    strong = edge
    for i, kind in enumerate(kinds):  # W2
        if kind in ("L", "R", "AL"):
            strong = kind
        elif kind == "EN" and strong == "AL":
            kinds[i] = "AN"
    for i, kind in enumerate(kinds):  # W3
        if kind == "AL":
            kinds[i] = "R"
    for i in range(1, len(kinds) - 1):  # W4
        around = kinds[i - 1]
        if around == kinds[i + 1] and (
            (kinds[i] == "ES" and around == "EN") or (kinds[i] == "CS" and around in ("EN", "AN"))
        ):
            kinds[i] = around
    _terminators(kinds)
    strong = edge
    for i, kind in enumerate(kinds):  # W6 and W7
        if kind in ("ES", "ET", "CS"):
            kinds[i] = "ON"
        elif kind in ("L", "R"):
            strong = kind
        elif kind == "EN" and strong == "L":
            kinds[i] = "L"


def _terminators(kinds: list[str]) -> None:
    """Rule W5: signs beside European numbers belong to them."""
    i = 0
    while i < len(kinds):
        if kinds[i] == "ET":
            end = i
            while end < len(kinds) and kinds[end] == "ET":
                end += 1
            if (i > 0 and kinds[i - 1] == "EN") or (end < len(kinds) and kinds[end] == "EN"):
                kinds[i:end] = ["EN"] * (end - i)
            i = end
        else:
            i += 1


def _neutral(kinds: list[str], edge: str) -> None:
    """Rules N1 and N2: neutrals take the direction they stand between, else the paragraph's."""
    i = 0
    while i < len(kinds):
        if kinds[i] not in _NEUTRAL:
            i += 1
            continue
        end = i
        while end < len(kinds) and kinds[end] in _NEUTRAL:
            end += 1
        left = edge if i == 0 else "R" if kinds[i - 1] in ("R", "EN", "AN") else "L"
        right = edge if end == len(kinds) else "R" if kinds[end] in ("R", "EN", "AN") else "L"
        kinds[i:end] = [left if left == right else edge] * (end - i)
        i = end


def visual_order(levels: Sequence[int]) -> list[int]:
    """The places of a line's runs from left to right (rule L2)."""
    order = list(range(len(levels)))
    for level in range(max(levels, default=0), 0, -1):
        i = 0
        while i < len(order):
            if levels[order[i]] < level:
                i += 1
                continue
            end = i
            while end < len(order) and levels[order[end]] >= level:
                end += 1
            order[i:end] = order[i:end][::-1]
            i = end
    return order
