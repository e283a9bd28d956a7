"""Images: where they lie, how large they are, how they are fitted (SVG 2, section 12.3)."""

from __future__ import annotations

from typing import TYPE_CHECKING

from lxml import etree

from chalcedon.files.svgin.measures import extent, length
from chalcedon.files.svgin.tree import href
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Image, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader

AUTO = -1.0
"""For a width or height that isn't said."""


def image_of(reader: Reader, element: etree._Element, font: float) -> Shape | None:
    """An image; None for what shows nothing, or can't be taken in, which is noted."""
    w, h = reader.viewport
    source = href(element)
    x, y = length(element.get("x"), 0.0, w, font), length(element.get("y"), 0.0, h, font)
    width, height = extent(element.get("width"), AUTO, w, font), extent(element.get("height"), AUTO, h, font)
    if not source.startswith("data:image/"):
        if source.lower().endswith(".svg") or ":" in source or source.startswith(("/", "..")):
            reader.note("an image that lies elsewhere", element)
            return None
    elif source.startswith("data:image/svg"):
        reader.note("an image that is an SVG", element)
        return None
    if width == 0 or height == 0:
        return None
    if AUTO in (width, height):
        from chalcedon.files.images import image_size

        try:
            natural = image_size(source, None)
        except ChalcedonError:
            reader.note("an image whose size isn't known", element)
            return None
        known = [said / own for said, own in ((width, natural[0]), (height, natural[1])) if said != AUTO]
        k = known[0] if known else 1.0  # as CSS sizes a replaced element
        width, height = (own * k if said == AUTO else said for said, own in zip((width, height), natural, strict=True))
    ratio = (element.get("preserveAspectRatio") or "xMidYMid meet").split()
    fit = "fill" if ratio[:1] == ["none"] else "cover" if "slice" in ratio else "contain"
    try:
        return Image(at=(x, y), size=(width, height), source="".join(source.split()), fit=fit)
    except ValueProblem:
        reader.note("an image that can't be read", element)
        return None
