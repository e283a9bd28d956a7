"""The kinds of shape and their properties. To add a kind, see ARCHITECTURE.md."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, Any, ClassVar

from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene.declare import Declared, Property, Stored
from chalcedon.scene.steps import Step
from chalcedon.scene.stepvalue import steps_value
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, Number, Paint, Text, Tuple

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene

KINDS: dict[str, type[Shape]] = {}
"""Every kind of shape by name, in the order in which they are offered."""

CLAY = "#d97b4a"
INK = "#22292e"

_positive = Number(low=0.0)
_fraction = Number(low=0.0, high=1.0, unit="", step=0.01)


class Shape(Declared):
    """An object of the scene. It lives until it is deleted, and its place in the paint order is its place
    in its parent's list."""

    __slots__ = ("_id", "_parent", "_scene")

    kind: ClassVar[str] = ""
    leading: ClassVar[tuple[str, ...]] = ()
    """Properties in the order in which the new line takes them without names; listed first everywhere."""

    at: Property[tuple[float, float]] = Property(
        Tuple("x", "y"), (0, 0), "where the anchor sits, in the parent's space", affects="place", always=True
    )
    anchor: Property[Any] = Property(Anchor(), "origin", "which place of its own box sits at `at`", affects="outline")
    label: Property[str] = Property(Text(), "", "a name to show", affects="nothing", section="notes")
    note: Property[str] = Property(Text(), "", "a remark, for people", affects="nothing", section="notes")
    visible: Property[bool] = Property(Flag(), True, "is it painted and hit", affects="state", section="state")
    locked: Property[bool] = Property(Flag(), False, "can't be picked in Build", affects="state", section="state")
    steps: Property[tuple[Step, ...]] = Property(
        steps_value(), (), "transforms, first one first", affects="place", section="steps"
    )
    pivot: Property[Any] = Property(
        Anchor(), "center", "the place of its box that steps turn about", affects="place", section="steps"
    )
    opacity: Property[float] = Property(_fraction, 1, "0 clear to 1 opaque", affects="paint", section="paint")
    pointer: Property[str] = Property(
        Choice("painted", "fill", "stroke", "all", "box", "none"),
        "painted",
        "where it is hit (SVG pointer-events)",
        affects="state",
        section="pointer",
        word="hit on",
    )

    def __init_subclass__(cls) -> None:
        super().__init_subclass__()
        if cls.kind:
            KINDS[cls.kind] = cls

    def __init__(self, id: str | None = None, **values: Any) -> None:
        self._id = id or ""
        self._values: Stored = {}
        self._formulas: set[str] | None = None
        self._extra: dict[str, Any] = {}
        self._parent: Group | None = None
        self._scene: Scene | None = None
        for name, value in values.items():
            self.assign(name, value)

    @classmethod
    def bare(cls, id: str) -> Shape:
        """A shape with nothing stated. For readers of many; everyone else calls the class."""
        shape = cls.__new__(cls)
        shape._id = id
        shape._values = {}
        shape._formulas = None
        shape._extra = {}
        shape._parent = None
        shape._scene = None
        return shape

    @property
    def id(self) -> str:
        """Unique in the scene, and a valid identifier. Empty until the shape is added without one."""
        return self._id

    @id.setter
    def id(self, new: str) -> None:
        if self._scene is None:
            self._id = new
        else:
            self._scene.rename(self, new)

    @property
    def parent(self) -> Group | None:
        """The group that holds it; None for the top group and for a shape in no scene."""
        return self._parent

    @property
    def scene(self) -> Scene | None:
        return self._scene

    def assign(self, name: str, value: Any) -> None:
        if self._scene is not None:
            self._scene.set(self, name, value)
        else:
            prop = self.declared(name)
            self.store(name, prop.read(value, self._id or self.kind))

    def copy(self) -> Shape:
        """The same shape with the same id, in no scene."""
        twin = type(self).__new__(type(self))
        Shape.__init__(twin, self._id)
        twin._values = dict(self._values)
        twin._formulas = set(self._formulas) if self._formulas else None
        twin._extra = dict(self._extra)
        return twin

    def walk(self) -> Iterator[Shape]:
        """This shape and everything in it, in paint order, groups before their children."""
        yield self

    def __repr__(self) -> str:
        return f"<{self.kind} {self._id or 'without id'}>"


class Painted(Shape):
    """What a fill and a stroke have in common for every kind that paints."""

    __slots__ = ()

    fill: Property[str | None] = Property(
        Paint(), CLAY, "paint of the inside", affects="paint", section="paint", always=True
    )
    stroke: Property[str | None] = Property(Paint(), None, "paint of the outline", affects="paint", section="paint")
    stroke_width: Property[float] = Property(
        _positive, 1, "width of the stroke", affects="paint", section="paint", word="width"
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
        Many(_positive, 0, 64, "dash lengths"), (), "lengths of dashes and gaps", affects="paint", section="paint"
    )
    dash_offset: Property[float] = Property(
        Number(), 0, "where in the pattern the stroke starts", affects="paint", section="paint"
    )


class Stroked(Painted):
    """Kinds that are open by nature: stroke first, no fill unless asked for."""

    __slots__ = ()

    fill: Property[str | None] = Property(Paint(), None, "paint of the inside", affects="paint", section="paint")
    stroke: Property[str | None] = Property(
        Paint(), INK, "paint of the outline", affects="paint", section="paint", always=True
    )
    stroke_width: Property[float] = Property(
        _positive, 2, "width of the stroke", affects="paint", section="paint", word="width", always=True
    )


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


class Rect(Painted):
    """A rectangle, placed by its top left corner unless the anchor says otherwise."""

    __slots__ = ()
    kind = "rect"
    leading = ("at", "size", "corners")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=_positive), (120, 80), "width and height", always=True
    )
    corners: Property[tuple[float, ...]] = Property(Corners(), (0,), "corner radius: one, or four clockwise")


class Circle(Painted):
    """A circle, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "circle"
    leading = ("at", "radius")
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radius: Property[float] = Property(_positive, 40, "centre to edge", always=True)


class Ellipse(Painted):
    """An ellipse, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "ellipse"
    leading = ("at", "radii")
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=_positive), (60, 40), "centre to right edge, centre to bottom edge", always=True
    )


_angle = Number(unit="deg")


class Centred(Painted):
    """Kinds drawn about a centre that need not be the middle of their box: `at` is that centre, and steps
    turn about it."""

    __slots__ = ()

    pivot: Property[Any] = Property(
        Anchor(), "origin", "the place that steps turn about", affects="place", section="steps"
    )


class Arc(Centred):
    """A part of an ellipse's edge from `start` on by `sweep`, about the centre at `at`."""

    __slots__ = ()
    kind = "arc"
    leading = ("at", "radii", "start", "sweep", "ends")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=_positive), (60, 60), "centre to right edge, centre to bottom edge", always=True
    )
    start: Property[float] = Property(_angle, 0, "angle of the first point, from the x axis toward y", always=True)
    sweep: Property[float] = Property(
        Number(low=-360.0, high=360.0, unit="deg"), 270, "angle from the first point to the last", always=True
    )
    ends: Property[str] = Property(
        Choice("open", "chord", "pie"), "open", "open, closed by a chord, or by way of the centre", always=True
    )
    fill: Property[str | None] = Property(Paint(), None, "paint of the inside", affects="paint", section="paint")
    stroke: Property[str | None] = Property(
        Paint(), INK, "paint of the outline", affects="paint", section="paint", always=True
    )
    stroke_width: Property[float] = Property(
        _positive, 2, "width of the stroke", affects="paint", section="paint", word="width", always=True
    )


class Annulus(Centred):
    """A ring between two circles, or a slice of it when the sweep is under 360."""

    __slots__ = ()
    kind = "annulus"
    leading = ("at", "inner", "outer", "start", "sweep")
    inner: Property[float] = Property(_positive, 30, "centre to inner edge", always=True)
    outer: Property[float] = Property(_positive, 60, "centre to outer edge", always=True)
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
    radius: Property[float] = Property(_positive, 50, "centre to corner", always=True)
    facing: Property[float] = Property(_angle, -90, "direction of the first corner")


class Star(Centred):
    """Tips on an outer circle, notches on an inner one, about the centre at `at`."""

    __slots__ = ()
    kind = "star"
    leading = ("at", "tips", "outer", "inner", "facing")
    tips: Property[int] = Property(Number(low=2, high=1000, unit="", whole=True), 5, "how many tips", always=True)
    outer: Property[float] = Property(_positive, 50, "centre to tip", always=True)
    inner: Property[float] = Property(_positive, 22, "centre to notch", always=True)
    facing: Property[float] = Property(_angle, -90, "direction of the first tip")


class Group(Shape):
    """A shape that holds other shapes in paint order. A layer is a group at the top level."""

    __slots__ = ("_children",)
    kind = "group"
    leading = ("at",)
    pivot: Property[Any] = Property(
        Anchor(),
        "origin",
        "the place that steps turn about; a group's origin stays put whatever comes into it",
        affects="place",
        section="steps",
    )
    pointer: Property[str] = Property(
        Choice("painted", "none"),
        "painted",
        "none: nothing in it is hit",
        affects="state",
        section="pointer",
        word="hit on",
    )

    def __init__(self, id: str | None = None, children: list[Shape] | None = None, **values: Any) -> None:
        super().__init__(id, **values)
        self._children: list[Shape] = []
        for child in children or ():
            self.attach(child, len(self._children))

    @classmethod
    def bare(cls, id: str) -> Group:
        shape = super().bare(id)
        assert isinstance(shape, Group)
        shape._children = []
        return shape

    @property
    def children(self) -> tuple[Shape, ...]:
        """What it holds, back to front."""
        return tuple(self._children)

    def attach(self, child: Shape, index: int) -> None:
        """Puts a shape without a parent into the list, without an edit. For edits and readers only."""
        if child._parent is not None or any(child is g for g in ancestry(self)):
            raise ValueProblem(f"{child._id or child.kind} already has a place.", hint="Move it, or add a copy.")
        self._children.insert(index, child)
        child._parent = self

    def copy(self) -> Group:
        twin = super().copy()
        assert isinstance(twin, Group)
        twin._children = []
        for child in self._children:
            twin.attach(child.copy(), len(twin._children))
        return twin

    def walk(self) -> Iterator[Shape]:
        stack: list[Shape] = [self]
        while stack:
            shape = stack.pop()
            yield shape
            if isinstance(shape, Group):
                stack.extend(reversed(shape._children))


class Unknown(Shape):
    """A shape of a kind that this version does not know: not painted, kept and written back as it was."""

    __slots__ = ("written_kind",)
    kind = "unknown"
    written_kind: str

    def copy(self) -> Unknown:
        twin = super().copy()
        assert isinstance(twin, Unknown)
        twin.written_kind = self.written_kind
        return twin


def ancestry(shape: Shape | None) -> Iterator[Shape]:
    """The shape, its parent, and so on up to the top."""
    while shape is not None:
        yield shape
        shape = shape._parent


def kind_named(word: str) -> type[Shape]:
    """The class of a kind. Raises ValueProblem with the nearest valid word."""
    cls = KINDS.get(word)
    if cls is None or cls is Unknown:
        raise ValueProblem(f"{word} is not a kind of shape.", hint=nearest(word, OFFERED))
    return cls


OFFERED = tuple(k for k in KINDS if k != "unknown")
"""The kinds a person can make, in the order in which they are offered."""
