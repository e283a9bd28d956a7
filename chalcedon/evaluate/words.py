"""From the values of a text shape to its layout."""

from __future__ import annotations

from chalcedon.scene.declare import Stored
from chalcedon.scene.shapes import Text
from chalcedon.text.layout import Block, Layout, lay_out
from chalcedon.text.shape import Style

_DEFAULTS = {n: p.default for n, p in Text.properties.items()}


def layout_of(values: Stored) -> Layout:
    """The layout for the plain values of a text; remembered while it is used."""
    v = _DEFAULTS | values
    style = Style(v["family"], v["size"], v["weight"], v["italic"], v["letter_spacing"], v["kerning"], v["ligatures"])
    return lay_out(
        Block(v["content"], style, v["width"], v["height"], v["align"], v["vertical"], v["line_height"], v["direction"])
    )
