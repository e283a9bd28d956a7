"""How SVG texts are set: fonts, sizes, white space."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from lxml import etree

from chalcedon.files.svgin.measures import factor, length
from chalcedon.files.svgin.styles import Style
from chalcedon.scene import Text
from chalcedon.scene.limits import within

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader

GENERIC = {"sans-serif": "Source Sans Pro", "serif": "DejaVu Serif", "monospace": "DejaVu Sans Mono"}


def keeps_space(element: etree._Element, style: Style) -> bool:
    """Whether white space stays as it was written."""
    space = element.get("{http://www.w3.org/XML/1998/namespace}space") or ""
    return style.get("white-space", "").startswith(("pre", "break")) or space == "preserve"


def collapsed(text: str, keeps: bool) -> str:
    """A text with its white space as it counts."""
    return re.sub(r"[\r\n\t]", " ", text) if keeps else re.sub(r"\s+", " ", text)


def values_of(reader: Reader, style: Style) -> dict[str, Any]:
    """The values of a text in a style."""
    families = [f.strip().strip("'\"") for f in style.get("font-family", "").split(",") if f.strip()]
    family = next((GENERIC.get(f, f) for f in families), "Source Sans Pro")
    weights = {"normal": 400.0, "bold": 700.0, "bolder": 700.0, "lighter": 300.0}
    weight = weights.get(style.get("font-weight", "400")) or factor(style.get("font-weight"), 400.0, 1.0, 1000.0)
    size = within(Text.size.kind, reader.font(style))
    return {
        "family": family,
        "size": size,
        "weight": within(Text.weight.kind, weight),
        "italic": style.get("font-style", "normal") in ("italic", "oblique"),
        "letter_spacing": length(style.get("letter-spacing"), 0.0, size, size),
    }
