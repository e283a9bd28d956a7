"""CSS colours (CSS Color 4) as authored strings, resolved to 8-bit sRGB with alpha."""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import lru_cache
from typing import Any

from chalcedon.problems import ValueProblem, nearest, shorten

RGBA = tuple[int, int, int, int]

_HEX = re.compile(r"#([0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})\Z")
is_hex = _HEX.match
"""Tells a colour in digits, the usual one, from all else."""


@lru_cache(maxsize=65536)
def rgba(text: str) -> RGBA:
    """Red, green, blue, alpha, each 0 to 255. Raises ValueProblem for what CSS does not know as a colour."""
    if is_hex(text):
        digits = text[1:]
        if len(digits) <= 4:
            digits = "".join(d * 2 for d in digits)
        if len(digits) == 6:
            digits += "ff"
        return int(digits[:2], 16), int(digits[2:4], 16), int(digits[4:6], 16), int(digits[6:], 16)
    return _parse(text)


def _parse(text: str) -> RGBA:
    if text.lower().startswith("color-mix("):
        from chalcedon.scene.mixing import mixed

        return mixed(text, rgba)
    from tinycss2 import color4  # only for what is not plain hex: the import is slow

    try:
        color = color4.parse_color(text)
    except (ValueError, TypeError, RecursionError):
        color = None
    if color is None or color == "currentcolor":
        if text.startswith("#"):
            raise ValueProblem(
                f"{shorten(text)} is not a colour.", hint="After # come 3, 4, 6 or 8 digits from 0-9 and a-f."
            )
        raise ValueProblem(f"{shorten(text)} is not a CSS colour.", hint=_hint(text))
    channels = [min(1.0, max(0.0, c)) for c in _to_srgb(color)]
    alpha = 1.0 if color.alpha is None else min(1.0, max(0.0, color.alpha))
    r, g, b = (round(c * 255) for c in channels)
    return r, g, b, round(alpha * 255)


def _to_srgb(color: Any) -> Sequence[float]:
    """sRGB channels, 0 to 1 within the gamut. Out of it they are not limited here."""
    if color.space in ("srgb", "hsl", "hwb"):
        channels: Sequence[float] = color.to("srgb").coordinates
        return channels
    from coloraide import Color  # slow to load, and needed for few colours

    wide = Color(color.space, [c or 0.0 for c in color.coordinates])
    return wide.convert("srgb").coords(nans=False)


def names() -> list[str]:
    """The CSS colour names."""
    from tinycss2.color3 import _COLOR_KEYWORDS

    return sorted(n for n in _COLOR_KEYWORDS if n != "currentcolor")


def _hint(text: str) -> str:
    if re.fullmatch(r"[A-Za-z]+", text):
        return nearest(text, names())
    return "Try a name (linen), #d97b4a, rgb(217 123 74) or hsl(20 65% 57%)."


def to_hex(color: RGBA) -> str:
    """The shortest exact hex form: #rrggbb, or #rrggbbaa when not opaque."""
    r, g, b, a = color
    return f"#{r:02x}{g:02x}{b:02x}" + ("" if a == 255 else f"{a:02x}")
