"""Patterns of SVG: what is in one becomes a hidden shape, which is the tile of a paint."""

from __future__ import annotations

from typing import TYPE_CHECKING

from lxml import etree

from chalcedon.files.svgin.effects import clipped
from chalcedon.files.svgin.inks import Place, chain_of
from chalcedon.files.svgin.measures import affine, box_of, length, matrix_step, transform, view_box
from chalcedon.files.svgin.tree import NOTHING, tag_of
from chalcedon.geometry import IDENTITY, Affine
from chalcedon.scene import Group, Rect
from chalcedon.scene.paints import Pattern

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader


def tile(reader: Reader, server: etree._Element, opacity: float, on: Place, half: float) -> Pattern | None:
    """The paint that a pattern is where it is laid on something, `half` wider than its box on each side; None where it
    paints nothing. Its tile is put among `reader.tiles` (SVG 2, section 14.3)."""
    if server in reader.used:
        return None  # it is painted with itself
    chain = list(chain_of(server, reader.ids, ("pattern",)))

    def said(name: str) -> str:
        return next((e.get(name) or "" for e in chain if e.get(name) is not None), "")

    x0, y0, x1, y1 = on.box
    wide, high = x1 - x0, y1 - y0
    fractions = said("patternUnits") != "userSpaceOnUse"
    w, h = (1.0, 1.0) if fractions else on.viewport
    x, y, width, height = (
        length(said(name), 0.0, whole, on.font) for name, whole in (("x", w), ("y", h), ("width", w), ("height", h))
    )
    if fractions:
        x, y, width, height = x0 + x * wide, y0 + y * high, width * wide, height * high
    if width <= 0.0 or height <= 0.0:
        return None
    box = box_of(said("viewBox"))
    if box is None:
        return None
    inner = Affine.translate(x, y)  # browsers begin the inside of a tile at its corner, whatever its units
    if box:
        inner = inner.after(view_box(box, width, height, said("preserveAspectRatio")))
    elif said("patternContentUnits") == "objectBoundingBox":
        inner = Affine(wide, 0.0, 0.0, high, x, y)
    key = (server, x, y, width, height, inner, opacity)
    if key not in reader.tiled:
        reader.tiled[key] = _made(reader, server, chain, (x, y, width, height), inner, opacity, on)
    id = reader.tiled[key]
    if not id:
        return None
    turned = affine(transform(said("patternTransform")) or [])
    # from the corner of the box that is painted, where the first tile of a pattern stands
    place = Affine.translate(half - x0, half - y0).after(turned).after(Affine.translate(x, y))
    return Pattern(id, () if place == IDENTITY else (matrix_step(place),))


def _made(
    reader: Reader,
    server: etree._Element,
    chain: list[etree._Element],
    area: tuple[float, float, float, float],
    inner: Affine,
    opacity: float,
    on: Place,
) -> str:
    """The id of the shape that the content of a pattern becomes; empty where there is none."""
    source = next((e for e in chain if any(tag_of(c) and tag_of(c) not in NOTHING for c in e)), None)
    if source is None:
        return ""
    reader.used.append(server)
    own = reader.styled(source)
    content = Group(children=reader.content(source, own, on.world.after(inner)))
    reader.used.pop()
    if inner != IDENTITY:
        content.steps = (matrix_step(inner),)
    edge = Rect(at=area[:2], size=area[2:], fill="black")
    whole = clipped(reader, content, [edge], "cell")
    whole.visible = False
    whole.opacity = opacity
    whole.id = reader.named("pattern")
    reader.tiles.append(whole)
    return whole.id
