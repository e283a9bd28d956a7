"""How a shape is stroked: its pen, on which side, with what heads. And the region that covers."""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any, NamedTuple

from chalcedon.geometry import Affine, Box, Outline
from chalcedon.geometry.boxes import union
from chalcedon.geometry.contain import Region
from chalcedon.geometry.extent import stroke_bounds
from chalcedon.geometry.heads import with_heads
from chalcedon.geometry.stroke import Pen, StrokeRegion
from chalcedon.scene.declare import Stored

PEN = frozenset(("stroke_width", "cap", "join", "miter_limit", "dash", "dash_offset"))
MORE = frozenset(("stroke_align", "start_head", "mid_head", "end_head", "head_size", "steady", "paint_order"))


class Manner(NamedTuple):
    """What a stroke has beside its pen. `head` is a length in px; `under` says that the fill is painted over it. An
    aligned stroke's pen is twice as wide; the half on the wrong side of the outline is taken away."""

    align: str = "center"
    start: str = "none"
    end: str = "none"
    head: float = 0.0
    steady: bool = False
    mid: str = "none"
    under: bool = False

    @property
    def headed(self) -> bool:
        """Whether it has a head anywhere."""
        return self.head > 0.0 and not self.start == self.end == self.mid == "none"


PLAIN = Manner()


def pen_of(values: Stored, width: float, wider: bool) -> Pen:
    """The pen that plain values describe; `width` is the kind's usual one."""
    get = values.get
    return _pen(
        get("stroke_width", width) * (2.0 if wider else 1.0),
        get("cap", "butt"),
        get("join", "miter"),
        get("miter_limit", 4.0),
        get("dash", ()),
        get("dash_offset", 0.0),
    )


_pen = lru_cache(maxsize=1024)(Pen)  # most pens of a scene are alike


def manner_of(values: Stored, width: float, outline: Outline) -> Manner:
    """What plain values say of a stroke. Only closed outlines have an inside to align to, only open ones ends."""
    get: Any = values.get
    closed = outline.verbs.count("M") == outline.verbs.count("Z") > 0
    align = get("stroke_align", "center") if closed else "center"
    return Manner(
        align,
        "none" if closed else get("start_head", "none"),
        "none" if closed else get("end_head", "none"),
        get("head_size", 4.0) * get("stroke_width", width) if align == "center" else 0.0,
        get("steady", False),
        get("mid_head", "none"),
        get("paint_order", "fill") == "stroke",
    )


class StrokeArea:
    """The area of a stroke: band, side and heads together. A steady one is in scene px, any other in local px."""

    def __init__(self, outline: Outline, pen: Pen, manner: Manner, tolerance: float, even_odd: bool) -> None:
        self.line, self.heads = outline, Outline("", ())
        if manner.headed:
            self.line, self.heads = with_heads(outline, manner.head, manner.start, manner.end, manner.mid)
        self.band = StrokeRegion(self.line, pen, tolerance)
        self._inside = manner.align == "inside"
        self._side = Region(outline, even_odd) if manner.align != "center" else None
        self._heads = Region(self.heads) if self.heads.verbs else None
        if self._heads is None and self._side is None:
            self.contains = self.band.contains  # type: ignore[method-assign]

    def contains(self, x: float, y: float) -> bool:
        """Whether a point is in it; of a steady stroke in scene px, else in local px."""
        if self._heads is not None and self._heads.contains(x, y):
            return True
        if not self.band.contains(x, y):
            return False
        return self._side is None or self._side.contains(x, y) == self._inside

    def outline(self) -> Outline:
        """The band and the heads as one outline, filled by the nonzero rule. The side isn't taken into account."""
        band = self.band.outline()
        return Outline(band.verbs + self.heads.verbs, band.coords + self.heads.coords)

    def bounds(self, world: Affine) -> Box:
        """The exact box of the band and the heads, mapped by `world`; EMPTY when nothing is covered. With very many
        dashes it is that of the line without gaps."""
        pen = self.band.pen
        if any(pen.dash) and self.band.short:
            band = self.band.outline().mapped(world).bounds()
        elif any(pen.dash) and pen.cap == "square":
            band = stroke_bounds(self.line, Pen(pen.width * math.sqrt(2), "round", "round"), world)
        else:
            band = stroke_bounds(self.line, pen, world)
        return union([band, self.heads.mapped(world).bounds()])
