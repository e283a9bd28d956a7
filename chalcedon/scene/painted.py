"""What the kinds with a fill and a stroke have in common."""

from __future__ import annotations

from typing import Any

from chalcedon.scene.declare import Property
from chalcedon.scene.paints import Paint
from chalcedon.scene.presets import Names
from chalcedon.scene.shape import Shape
from chalcedon.scene.values import Anchor, Choice, Flag, Many, Number

CLAY = "#d97b4a"
INK = "#22292e"
HEADS = ("none", "triangle", "barb", "dot", "bar", "diamond")

STROKE_LOOKS = (
    "stroke_width",
    "stroke_align",
    "cap",
    "join",
    "miter_limit",
    "dash",
    "dash_offset",
    "start_head",
    "mid_head",
    "end_head",
    "head_size",
    "steady",
    "paint_order",
)
"""Properties that only a painted stroke shows."""

positive = Number(low=0.0)
_head = Choice(*HEADS)


class Painted(Shape):
    """What a fill and a stroke have in common for every kind that paints."""

    __slots__ = ()

    fill: Property[Any] = Property(Paint(), CLAY, "paint of the inside", affects="paint", section="paint", always=True)
    stroke: Property[Any] = Property(Paint(), None, "paint of the outline", affects="paint", section="paint")
    fill_on: Property[bool] = Property(
        Flag(), True, "whether the fill is painted; off, it is remembered", affects="paint", section="paint"
    )
    stroke_on: Property[bool] = Property(
        Flag(), True, "whether the stroke is painted; off, it is remembered", affects="paint", section="paint"
    )
    wears: Property[tuple[str, ...]] = Property(
        Names(),
        (),
        "presets that its paint and text follow, the last one over the others",
        affects="nothing",
        section="paint",
        word="preset",
    )
    stroke_width: Property[float] = Property(
        positive, 1, "width of the stroke", affects="paint", section="paint", word="width"
    )
    stroke_align: Property[str] = Property(
        Choice("center", "inside", "outside"),
        "center",
        "on which side of the outline the stroke lies",
        affects="paint",
        section="paint",
        word="align",
    )
    cap: Property[str] = Property(
        Choice("butt", "round", "square"), "butt", "ends of open strokes", affects="paint", section="paint"
    )
    join: Property[str] = Property(
        Choice("miter", "round", "bevel"), "miter", "corners of the stroke", affects="paint", section="paint"
    )
    miter_limit: Property[float] = Property(
        Number(low=1.0, high=1000.0, unit=""), 4, "longest miter, in widths", affects="paint", section="paint"
    )
    dash: Property[tuple[float, ...]] = Property(
        Many(positive, 0, 64, "dash lengths"), (), "lengths of dashes and gaps", affects="paint", section="paint"
    )
    dash_offset: Property[float] = Property(
        Number(), 0, "where in the pattern the stroke starts", affects="paint", section="paint"
    )
    start_head: Property[str] = Property(_head, "none", "arrow head at the start", affects="paint", section="paint")
    mid_head: Property[str] = Property(
        _head, "none", "head at each point between two segments", affects="paint", section="paint"
    )
    end_head: Property[str] = Property(_head, "none", "arrow head at the end", affects="paint", section="paint")
    head_size: Property[float] = Property(
        Number(low=0.5, high=100.0, unit="", step=0.1), 4, "arrow heads, in widths", affects="paint", section="paint"
    )
    steady: Property[bool] = Property(
        Flag(),
        False,
        "the stroke keeps its width whatever scales the shape (SVG non-scaling-stroke)",
        affects="paint",
        section="paint",
    )
    paint_order: Property[str] = Property(
        Choice("fill", "stroke"),
        "fill",
        "what is painted first, under the other (SVG paint-order)",
        affects="paint",
        section="paint",
        word="first",
    )


class Stroked(Painted):
    """Kinds that are open by nature: stroke first, no fill unless asked for."""

    __slots__ = ()
    is_open = True

    fill: Property[Any] = Property(Paint(), None, "paint of the inside", affects="paint", section="paint")
    stroke: Property[Any] = Property(
        Paint(), INK, "paint of the outline", affects="paint", section="paint", always=True
    )
    stroke_width: Property[float] = Property(
        positive, 2, "width of the stroke", affects="paint", section="paint", word="width", always=True
    )


class Centred(Painted):
    """Kinds drawn about a centre that need not be the middle of their box: `at` is that centre, and steps
    turn about it."""

    __slots__ = ()
    place_word = "its centre"

    pivot: Property[Any] = Property(
        Anchor(), "origin", "the place that steps turn about", affects="place", section="steps"
    )
