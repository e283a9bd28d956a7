"""Colours given otherwise than by one CSS colour: as a mix of two, and by numbers."""

from __future__ import annotations

import math
from typing import Any

from chalcedon.problems import ValueProblem, shorten

SPACES = {
    "srgb": "srgb",
    "srgb-linear": "srgb-linear",
    "lab": "lab",
    "oklab": "oklab",
    "lch": "lch",
    "oklch": "oklch",
    "hsl": "hsl",
    "hwb": "hwb",
    "xyz": "xyz-d65",
}
"""The spaces that colours are mixed in (CSS Color 5, section 2)."""
HOW = "color-mix(in oklab, red 30%, white)"


def mixed(text: str, rgba: Any) -> tuple[int, int, int, int]:
    """The colour that a color-mix() of CSS Color 5 comes to; `rgba` reads the colours in it. Raises ValueProblem."""
    from coloraide import Color  # slow to load, and needed for few colours

    space, parts = _parts(text)
    colors, shares = zip(*parts, strict=True)
    first, second = shares
    if first is None and second is None:
        first = second = 50.0
    first = 100.0 - second if first is None else first
    second = 100.0 - first if second is None else second
    total = first + second
    if total <= 0:
        raise ValueProblem(f"{shorten(text)} mixes nothing: its shares come to 0 %.", hint=HOW)
    a, b = (of_rgba(Color, rgba(c)) for c in colors)
    out = Color.mix(a, b, second / total, space=SPACES[space], out_space="srgb")
    alpha = min(1.0, max(0.0, out.alpha())) * min(1.0, total / 100)
    r, g, b_ = (round(min(1.0, max(0.0, v)) * 255) for v in out.fit().coords(nans=False))
    return r, g, b_, round(alpha * 255)


def of_rgba(color: Any, value: tuple[int, int, int, int]) -> Any:
    """A colour in 8 bits a channel as one of coloraide's."""
    return color("srgb", [v / 255 for v in value[:3]], value[3] / 255)


def _parts(text: str) -> tuple[str, list[tuple[str, float | None]]]:
    """The space, and two colours with their shares in percent."""
    wrong = ValueProblem(f"{shorten(text)} is not a mix of two colours.", hint=f"For example {HOW}.")
    inner = text[text.index("(") + 1 :].strip()
    if not inner.endswith(")"):
        raise wrong
    pieces = _at_commas(inner[:-1])
    if len(pieces) != 3 or pieces[0].split()[:1] != ["in"] or len(pieces[0].split()) != 2:
        raise wrong
    space = pieces[0].split()[1].lower()
    if space not in SPACES:
        raise ValueProblem(f"{shorten(space)} is no space to mix in.", hint=f"There are {', '.join(SPACES)}.")
    return space, [_share(piece, wrong) for piece in pieces[1:]]


def _at_commas(text: str) -> list[str]:
    out, depth = [""], 0
    for c in text:
        depth += (c == "(") - (c == ")")
        if c == "," and depth == 0:
            out.append("")
        else:
            out[-1] += c
    return [piece.strip() for piece in out]


def _share(piece: str, wrong: ValueProblem) -> tuple[str, float | None]:
    """A colour, and its percentage before or after it."""
    words = piece.split()
    for i in (0, len(words) - 1):
        if words and words[i].endswith("%") and "(" not in words[i]:
            try:
                share = float(words[i][:-1])
            except ValueError:
                raise wrong from None
            if not 0 <= share <= 100:
                raise ValueProblem(f"a share of {share:g} % can't be mixed in.", hint="Shares go from 0 to 100 %.")
            return " ".join(words[:i] + words[i + 1 :]), share
    return piece, None


def spelled(raw: Any) -> str:
    """The hex form of a colour given by numbers: 0xd97b4a; three integers 0 to 255, or three fractions 0.0 to 1.0, in
    a tuple; an alpha from 0 to 1 may follow. Raises ValueProblem for any other."""
    hint = "Numbers are 0xd97b4a, (217, 123, 74) or (0.85, 0.48, 0.29), with an alpha from 0 to 1 behind."
    if isinstance(raw, int) and not isinstance(raw, bool):
        if 0 <= raw <= 0xFFFFFF:
            return f"#{raw:06x}"
        raise ValueProblem(f"{shorten(raw)} is not a colour.", hint=hint)
    if not isinstance(raw, tuple | list) or len(raw) not in (3, 4):
        raise ValueProblem(f"{shorten(raw)} is not a colour.", hint=hint)
    if any(
        isinstance(v, bool) or not isinstance(v, int | float) or (isinstance(v, float) and not math.isfinite(v))
        for v in raw
    ):
        raise ValueProblem(f"{shorten(raw)} is not a colour.", hint=hint)
    whole = all(isinstance(v, int) for v in raw[:3])
    most = 255 if whole else 1
    alpha = raw[3] if len(raw) == 4 else 1
    if any(not 0 <= v <= most for v in raw[:3]) or not 0 <= alpha <= 1:
        raise ValueProblem(f"{shorten(raw)} is out of range.", hint=hint)
    r, g, b = raw[:3] if whole else (round(v * 255) for v in raw[:3])
    return f"#{r:02x}{g:02x}{b:02x}" + ("" if alpha == 1 else f"{round(alpha * 255):02x}")
