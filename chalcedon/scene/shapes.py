"""The kinds of shape and their properties. To add a kind, see ARCHITECTURE.md."""

from __future__ import annotations

from typing import Any

from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene.declare import Property
from chalcedon.scene.painted import CLAY, INK, Centred, Painted, Stroked, positive
from chalcedon.scene.paints import Paint
from chalcedon.scene.shape import KINDS, Group, Shape, Unknown, ancestry
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, Number, PathData, Ref, TextValue, Tuple

__all__ = [
    "CLAY",
    "INK",
    "KINDS",
    "OFFERED",
    "Annulus",
    "Arc",
    "Centred",
    "Circle",
    "Ellipse",
    "Group",
    "Image",
    "Line",
    "Painted",
    "Path",
    "Polyline",
    "Rect",
    "RegularPolygon",
    "Shape",
    "Star",
    "Stroked",
    "Text",
    "Unknown",
    "ancestry",
    "kind_named",
]

_angle = Number(unit="deg")


class Line(Stroked):
    """A straight line from `at` by `to`."""

    __slots__ = ()
    kind = "line"
    leading = ("at", "to")
    to: Property[tuple[float, float]] = Property(Tuple("x", "y"), (100, 0), "the end, relative to `at`", always=True)


class Polyline(Stroked):
    """Straight lines through points. Closed, it is a polygon."""

    __slots__ = ()
    kind = "polyline"
    leading = ("at", "points", "closed")
    points: Property[tuple[tuple[float, float], ...]] = Property(
        Many(Tuple("x", "y"), 1, 1_000_000, "points"), ((0, 0), (60, 40), (120, 0)), "relative to `at`", always=True
    )
    closed: Property[bool] = Property(Flag(), False, "does the last point join the first", always=True)
    curve: Property[float] = Property(
        Number(low=0.0, high=1.0, unit="", step=0.05), 0, "0 straight lines, 1 a smooth curve through the points"
    )
    fill_rule: Property[str] = Property(
        Choice("nonzero", "evenodd"), "nonzero", "what is inside where the outline crosses itself", word="fill rule"
    )


class Rect(Painted):
    """A rectangle, placed by its top left corner unless the anchor says otherwise."""

    __slots__ = ()
    kind = "rect"
    leading = ("at", "size", "corners")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=positive), (120, 80), "width and height", always=True
    )
    corners: Property[tuple[float, ...]] = Property(Corners(), (0,), "corner radius: one, or four clockwise")
    corner_style: Property[str] = Property(
        Choice("round", "smooth"),
        "round",
        "smooth: no jump in curvature where the corner begins",
        word="style",
    )


class Circle(Painted):
    """A circle, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "circle"
    leading = ("at", "radius")
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radius: Property[float] = Property(positive, 40, "centre to edge", always=True)


class Ellipse(Painted):
    """An ellipse, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "ellipse"
    leading = ("at", "radii")
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=positive), (60, 40), "centre to right edge, centre to bottom edge", always=True
    )


class Arc(Centred):
    """A part of an ellipse's edge from `start` on by `sweep`, about the centre at `at`."""

    __slots__ = ()
    kind = "arc"
    leading = ("at", "radii", "start", "sweep", "ends")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=positive), (60, 60), "centre to right edge, centre to bottom edge", always=True
    )
    start: Property[float] = Property(_angle, 0, "angle of the first point, from the x axis toward y", always=True)
    sweep: Property[float] = Property(
        Number(low=-360.0, high=360.0, unit="deg"), 270, "angle from the first point to the last", always=True
    )
    ends: Property[str] = Property(
        Choice("open", "chord", "pie"), "open", "open, closed by a chord, or by way of the centre", always=True
    )
    fill: Property[Any] = Property(Paint(), None, "paint of the inside", affects="paint", section="paint")
    stroke: Property[Any] = Property(
        Paint(), INK, "paint of the outline", affects="paint", section="paint", always=True
    )
    stroke_width: Property[float] = Property(
        positive, 2, "width of the stroke", affects="paint", section="paint", word="width", always=True
    )


class Annulus(Centred):
    """A ring between two circles, or a slice of it when the sweep is under 360."""

    __slots__ = ()
    kind = "annulus"
    leading = ("at", "inner", "outer", "start", "sweep")
    inner: Property[float] = Property(positive, 30, "centre to inner edge", always=True)
    outer: Property[float] = Property(positive, 60, "centre to outer edge", always=True)
    start: Property[float] = Property(_angle, 0, "angle where a slice begins")
    sweep: Property[float] = Property(
        Number(low=-360.0, high=360.0, unit="deg"), 360, "angle of a slice; 360 is the whole ring"
    )


class RegularPolygon(Centred):
    """Equal sides about the centre at `at`."""

    __slots__ = ()
    kind = "regular_polygon"
    leading = ("at", "sides", "radius", "facing")
    sides: Property[int] = Property(Number(low=3, high=1000, unit="", whole=True), 6, "how many sides", always=True)
    radius: Property[float] = Property(positive, 50, "centre to corner", always=True)
    facing: Property[float] = Property(_angle, -90, "direction of the first corner")


class Star(Centred):
    """Tips on an outer circle, notches on an inner one, about the centre at `at`."""

    __slots__ = ()
    kind = "star"
    leading = ("at", "tips", "outer", "inner", "facing")
    tips: Property[int] = Property(Number(low=2, high=1000, unit="", whole=True), 5, "how many tips", always=True)
    outer: Property[float] = Property(positive, 50, "centre to tip", always=True)
    inner: Property[float] = Property(positive, 22, "centre to notch", always=True)
    facing: Property[float] = Property(_angle, -90, "direction of the first tip")


class Path(Painted):
    """Lines, curves and arcs as SVG path data, relative to `at`."""

    __slots__ = ()
    kind = "path"
    leading = ("at", "data")
    data: Property[str] = Property(
        PathData(), "M0 0 C30 -60 90 -60 120 0 Z", "SVG path data, relative to `at`", always=True
    )
    fill_rule: Property[str] = Property(
        Choice("nonzero", "evenodd"), "nonzero", "what is inside where the outline crosses itself", word="fill rule"
    )


class Text(Painted):
    """Text, placed by the top left corner of its box unless the anchor says otherwise. The anchor `origin` is the
    start of the first baseline."""

    __slots__ = ()
    kind = "text"
    leading = ("at", "content", "size")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    content: Property[str] = Property(TextValue(), "Text", "what it says; a line break begins a new line", always=True)
    family: Property[str] = Property(TextValue(), "Source Sans Pro", "font family", word="font")
    size: Property[float] = Property(Number(low=0.01, high=10_000.0), 32, "size of the font", always=True)
    weight: Property[float] = Property(
        Number(low=1.0, high=1000.0, unit="", step=100), 400, "400 regular, 700 bold (CSS font-weight)"
    )
    italic: Property[bool] = Property(Flag(), False, "italic or oblique")
    width: Property[float] = Property(
        positive, 0, "lines are broken to fit; 0: only where the text says", word="wrap at"
    )
    height: Property[float] = Property(positive, 0, "room for the vertical place; 0: as tall as the text")
    align: Property[str] = Property(Choice("left", "center", "right", "justify"), "left", "where lines sit across")
    vertical: Property[str] = Property(Choice("top", "middle", "bottom"), "top", "where the text sits in its height")
    line_height: Property[float] = Property(
        Number(low=0.1, high=100.0, unit="", step=0.05), 1.25, "from baseline to baseline, in sizes"
    )
    letter_spacing: Property[float] = Property(Number(step=0.1), 0, "added between letters")
    kerning: Property[bool] = Property(Flag(), True, "pairs of letters are moved together as the font says")
    ligatures: Property[bool] = Property(Flag(), True, "letters are joined as the font says")
    direction: Property[str] = Property(
        Choice("auto", "ltr", "rtl"), "auto", "which way lines run; auto: as the first letter with a direction does"
    )
    inside: Property[str] = Property(Ref(), "", "id of a shape in whose middle the text sits", affects="place")
    fill: Property[Any] = Property(Paint(), INK, "paint of the letters", affects="paint", section="paint", always=True)


class Image(Painted):
    """A picture from a file beside the scene, or embedded as a data URL."""

    __slots__ = ()
    kind = "image"
    leading = ("at", "source", "size")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    source: Property[str] = Property(
        TextValue(), "", "a file in the folder of the scene, or a data: URL", affects="paint", always=True
    )
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=positive), (160, 120), "width and height", always=True
    )
    fit: Property[str] = Property(
        Choice("fill", "contain", "cover", "none", "scale-down"),
        "contain",
        "how the picture fills the size (CSS object-fit)",
        affects="paint",
    )
    corners: Property[tuple[float, ...]] = Property(Corners(), (0,), "corner radius: one, or four clockwise")
    fill: Property[Any] = Property(Paint(), None, "paint behind the picture", affects="paint", section="paint")


def kind_named(word: str) -> type[Shape]:
    """The class of a kind. Raises ValueProblem with the nearest valid word."""
    cls = KINDS.get(word)
    if cls is None or cls is Unknown:
        raise ValueProblem(f"{word} is not a kind of shape.", hint=nearest(word, OFFERED))
    return cls


OFFERED = (*(k for k in KINDS if k not in ("group", "unknown")), "group")
"""The kinds a person can make, in the order in which they are offered."""
