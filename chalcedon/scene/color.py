"""CSS colours (CSS Color 4) as authored strings, resolved to 8-bit sRGB with alpha."""

from __future__ import annotations

import math
import re
from functools import lru_cache
from typing import Any

from chalcedon.problems import ValueProblem, nearest, shorten

RGBA = tuple[int, int, int, int]

_HEX = re.compile(r"#([0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})$")


@lru_cache(maxsize=65536)
def rgba(text: str) -> RGBA:
    """Red, green, blue, alpha, each 0 to 255. Raises ValueProblem for what CSS does not know as a colour."""
    if _HEX.match(text):
        digits = text[1:]
        if len(digits) <= 4:
            digits = "".join(d * 2 for d in digits)
        if len(digits) == 6:
            digits += "ff"
        return int(digits[:2], 16), int(digits[2:4], 16), int(digits[4:6], 16), int(digits[6:], 16)
    return _parse(text)


def _parse(text: str) -> RGBA:
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
    channels = [min(1.0, max(0.0, c)) for c in _to_srgb(color, text)]
    alpha = 1.0 if color.alpha is None else min(1.0, max(0.0, color.alpha))
    r, g, b = (round(c * 255) for c in channels)
    return r, g, b, round(alpha * 255)


Triple = tuple[float, float, float]
Matrix = tuple[Triple, Triple, Triple]

# CSS Color 4, section 17 (sample code for colour conversions)
XYZ_TO_LINEAR: Matrix = (
    (12831 / 3959, -329 / 214, -1974 / 3959),
    (-851781 / 878810, 1648619 / 878810, 36519 / 878810),
    (705 / 12673, -2585 / 12673, 705 / 667),
)
D50_TO_D65: Matrix = (
    (0.955473421488075, -0.02309845494876471, 0.06325924320057072),
    (-0.0283697093338637, 1.0099953980813041, 0.021041441191917323),
    (0.012314014864481998, -0.020507649298898964, 1.330365926242124),
)
P3_TO_XYZ: Matrix = (
    (608311 / 1250200, 189793 / 714400, 198249 / 1000160),
    (35783 / 156275, 247089 / 357200, 198249 / 2500400),
    (0.0, 32229 / 714400, 5220557 / 5000800),
)


def _to_srgb(color: Any, text: str) -> Triple:
    """sRGB channels, 0 to 1 within the gamut. Out of it they are not limited here."""
    coordinates = tuple(c or 0.0 for c in color.coordinates)
    space = color.space
    if space in ("srgb", "hsl", "hwb"):
        return tuple(color.to("srgb").coordinates)
    if space == "srgb-linear":
        return _encode(coordinates)
    if space == "display-p3":
        return _encode(_times(XYZ_TO_LINEAR, _times(P3_TO_XYZ, _decode(coordinates))))
    if space in ("oklab", "oklch", "xyz", "xyz-d65"):
        return _encode(_times(XYZ_TO_LINEAR, tuple(color.to("xyz-d65").coordinates)))
    if space in ("lab", "lch", "xyz-d50"):
        return _encode(_times(XYZ_TO_LINEAR, _times(D50_TO_D65, tuple(color.to("xyz-d50").coordinates))))
    raise ValueProblem(f"{shorten(text)}: the colour space {space} is not converted here.", hint="Try oklch or srgb.")


def _times(m: Matrix, v: tuple[float, ...]) -> Triple:
    a, b, c = (row[0] * v[0] + row[1] * v[1] + row[2] * v[2] for row in m)
    return a, b, c


def _encode(linear: tuple[float, ...]) -> Triple:
    """The sRGB transfer function, odd about zero."""
    a, b, c = (
        math.copysign(12.92 * abs(v) if abs(v) <= 0.0031308 else 1.055 * abs(v) ** (1 / 2.4) - 0.055, v) for v in linear
    )
    return a, b, c


def _decode(encoded: tuple[float, ...]) -> Triple:
    a, b, c = (
        math.copysign(abs(v) / 12.92 if abs(v) <= 0.04045 else ((abs(v) + 0.055) / 1.055) ** 2.4, v) for v in encoded
    )
    return a, b, c


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
