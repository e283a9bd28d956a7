"""What all shapes have in common, and the group that holds them."""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Mapping
from typing import TYPE_CHECKING, Any, ClassVar, Self

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene import order
from chalcedon.scene.ask import ask
from chalcedon.scene.axes import is_up
from chalcedon.scene.declare import NOTHING, Declared, Property, Stored
from chalcedon.scene.facets import Facets
from chalcedon.scene.foreign import as_plain
from chalcedon.scene.given import converted
from chalcedon.scene.ids import check_id
from chalcedon.scene.paints import Shadow, ShadowValue
from chalcedon.scene.positional import by_position
from chalcedon.scene.responses import Response, Responses
from chalcedon.scene.steps import Step
from chalcedon.scene.stepvalue import steps_value
from chalcedon.scene.values import Anchor, Choice, Flag, Number, Ref, TextValue, Tuple

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene

KINDS: dict[str, type[Shape]] = {}
"""Every kind of shape by name, in the order in which they are offered."""

BLENDS = (
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "color",
    "luminosity",
)
"""CSS mix-blend-mode names (Compositing and Blending 1)."""

CURSORS = (
    "auto",
    "default",
    "none",
    "pointer",
    "help",
    "wait",
    "crosshair",
    "text",
    "move",
    "grab",
    "grabbing",
    "not-allowed",
    "ew-resize",
    "ns-resize",
    "nesw-resize",
    "nwse-resize",
    "zoom-in",
    "zoom-out",
)
"""CSS cursor keywords (Basic User Interface 4)."""

_fraction = Number(low=0.0, high=1.0, unit="", step=0.01)


class Shape(Facets, Declared):
    """An object of the scene. It lives until it is deleted, and its place in the paint order is its place
    in its parent's list."""

    __slots__ = ("_copied", "_id", "_parent", "_scene")

    leading: ClassVar[tuple[str, ...]] = ()
    """Properties in the order in which the new line takes them without names; listed first everywhere."""

    at: Property[tuple[float, float]] = Property(
        Tuple("x", "y"), (0, 0), "where the anchor sits, in the parent's space", affects="place", always=True
    )
    anchor: Property[Any] = Property(Anchor(), "origin", "which place of its own box sits at `at`", affects="outline")
    label: Property[str] = Property(TextValue(), "", "a name to show", affects="nothing", section="notes")
    note: Property[str] = Property(TextValue(), "", "a remark, for people", affects="nothing", section="notes")
    visible: Property[bool] = Property(Flag(), True, "is it painted and hit", affects="state", section="state")
    locked: Property[bool] = Property(Flag(), False, "can't be picked in Build", affects="state", section="state")
    steps: Property[tuple[Step, ...]] = Property(
        steps_value(), (), "transforms, first one first", affects="place", section="steps"
    )
    pivot: Property[Any] = Property(
        Anchor(), "center", "the place of its box that steps turn about", affects="place", section="steps"
    )
    opacity: Property[float] = Property(_fraction, 1, "0 clear to 1 opaque", affects="paint", section="paint")
    blend: Property[str] = Property(
        Choice(*BLENDS), "normal", "how its colours mix with what lies behind", affects="paint", section="effects"
    )
    shadow: Property[Shadow | None] = Property(
        ShadowValue(), None, "drop shadow: offsets, blur, colour", affects="paint", section="effects"
    )
    cuts: Property[bool] = Property(
        Flag(),
        False,
        "a cut-out: removes what was painted before it in its group",
        affects="paint",
        section="effects",
        word="cuts out",
    )
    pointer: Property[str] = Property(
        Choice("painted", "fill", "stroke", "all", "box", "none"),
        "painted",
        "where it is hit (SVG pointer-events)",
        affects="state",
        section="pointer",
        word="hit on",
    )

    cursor: Property[str] = Property(
        Choice(*CURSORS),
        "auto",
        "the pointer's look on it while the scene lives (CSS cursor)",
        affects="nothing",
        section="live",
    )
    dragging: Property[str] = Property(
        Choice("none", "free", "x", "y", "within", "along", "grid"),
        "none",
        "where it can be dragged while the scene lives",
        affects="nothing",
        section="live",
    )
    drag_on: Property[str] = Property(
        Ref(),
        "",
        "id of the shape within which, or along whose outline, it is dragged; none: the page",
        affects="nothing",
        section="live",
    )
    drag_grid: Property[float] = Property(
        Number(low=0.0), 20, "the grid that it is dragged on", affects="nothing", section="live"
    )
    responses: Property[tuple[Response, ...]] = Property(
        Responses(), (), "what changes when something happens to it", affects="nothing", section="live"
    )

    def __init_subclass__(cls) -> None:
        super().__init_subclass__()
        if cls.kind:
            KINDS[cls.kind] = cls

    def __init__(self, *args: Any, id: str | None = None, **values: Any) -> None:
        self._id = "" if id is None or id == "" else check_id(id)
        self._values: Stored = {}
        self._formulas: set[str] | None = None
        self._extra = NOTHING
        self._parent: Group | None = None
        self._scene: Scene | None = None
        self._copied = False
        if args:
            first = by_position(self.kind, self.properties, self.leading, args)
            for name in first:
                if name in values:
                    raise ValueProblem(f"{name} is given twice.", id or self.kind)
            values = {**first, **values}
        forms = self.words
        for name, value in values.items():
            if name not in forms:
                self.assign(name, value)
        self._give({n: v for n, v in values.items() if n in forms}, values)

    @classmethod
    def bare(cls, id: str) -> Self:
        """A shape with nothing stated. For readers of many; everyone else calls the class."""
        shape = cls.__new__(cls)
        shape._id = id
        shape._values = {}
        shape._formulas = None
        shape._extra = NOTHING
        shape._parent = None
        shape._scene = None
        shape._copied = False
        return shape

    @property
    def id(self) -> str:
        """Unique in the scene, and a valid identifier. Empty until the shape is added without one."""
        return self._id

    @id.setter
    def id(self, new: str) -> None:
        if self._scene is None:
            self._id = check_id(new) if new != "" else ""
        else:
            self._scene.rename(self, new)

    @property
    def _called(self) -> str:
        """What a sentence calls it: its id, or its kind while it has none."""
        return self._id or self.kind

    @property
    def parent(self) -> Group | None:
        """The group that holds it; None for the top group and for a shape in no scene."""
        return self._parent

    @property
    def scene(self) -> Scene | None:
        """The scene that it is in; None for none."""
        return self._scene

    def assign(self, name: str, value: Any) -> None:
        if self._scene is not None:
            self._scene.set(self, name, value)
        else:
            prop = self.declared(name)
            self.store(name, prop.read(value, self._called))

    def comes_to(self, name: str) -> Any:
        """What a property comes to where the shape is, by its formulas; the last value stated, in no scene. Raises
        ValueProblem for what it doesn't have."""
        return super().comes_to(name) if self._scene is None else ask("comes_to", self, name)

    def put(self, name: str, value: Any) -> None:
        """Sets a property. Another anchor leaves a shape of a scene where it is on the page: `at` is rewritten."""
        if name == "anchor" and self._scene is not None and not isinstance(value, Formula):
            ask("anchor_by", self, value)
        else:
            self.assign(name, value)

    def give(self, given: Mapping[str, Any]) -> None:
        """Sets the properties that other descriptions (scene/given.py) come to: circle.give({"diameter": 80})."""
        self._give(given, ())

    def _give(self, given: Mapping[str, Any], beside: Container[str]) -> None:
        """`beside` are properties that were given by their own names: a word that says one of them again is refused."""
        if given:
            plain = {n: as_plain(v) for n, v in given.items()}
            numbers = {n: v if isinstance(v, tuple | list) else (v,) for n, v in plain.items()}
            beside_it, up = self.plain_values(), is_up(self._scene)
            for name, value in converted(self.kind, self.words, numbers, beside_it, up).items():
                if name in beside:
                    words = " and ".join([name, *given])
                    raise ValueProblem(f"{words} say the same thing.", self._called, "Give one of them.")
                self.assign(name, value)

    def copy(self) -> Self:
        """The same shape in no scene. It keeps its id, until it is added where that is taken: then it gets another."""
        twin = type(self).__new__(type(self))
        Shape.__init__(twin, id=self._id)
        twin._copied = True
        twin._values = dict(self._values)
        twin._formulas = set(self._formulas) if self._formulas else None
        twin._extra = dict(self._extra) if self._extra else NOTHING
        return twin

    def walk(self) -> Iterator[Shape]:
        """This shape and everything in it, in paint order, groups before their children."""
        yield self

    def bounds(self) -> tuple[float, float, float, float]:
        """Least x and y, most x and y of its outline in the scene, strokes left out: left, top, right and bottom where
        y runs down. Raises ValueProblem for a shape in no scene, and for one without any outline."""
        self._home()
        box: tuple[float, float, float, float] = ask("bounds", self)
        return box

    def remove(self) -> None:
        """Takes it, with all it holds, out of its scene."""
        self._home().remove(self)

    def to_front(self) -> None:
        """Puts it in front of everything in its group."""
        order.to_front(self._home(), [self])

    def to_back(self) -> None:
        """Puts it behind everything in its group."""
        order.to_back(self._home(), [self])

    def in_front_of(self, other: Shape) -> None:
        """Puts it into the group of another shape, directly in front of it."""
        self._put(other, 1)

    def behind(self, other: Shape) -> None:
        """Puts it into the group of another shape, directly behind it."""
        self._put(other, 0)

    def _put(self, other: Shape, after: int) -> None:
        scene = self._home()
        parent = other._parent
        if parent is None or other._scene is not scene or other is self:
            raise ValueProblem(f"{self._called} can't be put beside {other._called}.", hint="Name another shape of it.")
        rest = [s for s in parent._children if s is not self]
        scene.move(self, parent, rest.index(other) + after)

    def _home(self) -> Scene:
        if self._scene is None:
            raise ValueProblem(f"{self._called} is in no scene.", hint="Add it first: scene.add(shape).")
        return self._scene

    def __repr__(self) -> str:
        x, y = self.at
        own = [f"{self.properties[n].word} {_short(getattr(self, n))}" for n in self.leading[1:3]]
        return f"<{' '.join([self.kind, self._id or 'without id', f'at {x:g}, {y:g}', *own])}>"


NEAR = 32
"""How far a group looks around the place that it was asked for last."""


class Group(Shape):
    """A shape that holds other shapes in paint order. A layer is a group at the top level."""

    __slots__ = ("_children", "_near")
    kind = "group"
    leading = ("at",)
    example = "group 140 65 rotate 20"
    glyph = ("rect 3 3 9 9 1.5 fill none stroke INK 1.7", "rect 8 8 9 9 1.5 fill none stroke INK 1.7")
    clip: Property[str] = Property(
        Ref(), "", "id of a shape: only what lies on its fill is seen and hit", affects="paint", section="effects"
    )
    clip_by: Property[str] = Property(
        Choice("fill", "alpha", "luminance"),
        "fill",
        "what of the clip lets through: all of its fill, or as much as it is opaque, or is opaque and light (CSS "
        "mask-type)",
        affects="paint",
        section="effects",
    )
    isolate: Property[bool] = Property(
        Flag(), False, "blend modes inside don't reach what lies behind", affects="paint", section="effects"
    )
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

    def __init__(
        self, *args: Any, id: str | None = None, children: Iterable[Shape] | None = None, **values: Any
    ) -> None:
        inside = [a for a in args if isinstance(a, Shape)]
        super().__init__(*(a for a in args if not isinstance(a, Shape)), id=id, **values)
        self._children: list[Shape] = []
        self._near = 0
        for child in (*inside, *(children or ())):
            self.attach(child, len(self._children))

    @classmethod
    def bare(cls, id: str) -> Self:
        shape = super().bare(id)
        shape._children, shape._near = [], 0
        return shape

    @property
    def children(self) -> tuple[Shape, ...]:
        """What it holds, back to front."""
        return tuple(self._children)

    @property
    def front(self) -> Shape | None:
        """The last of its children, painted in front of the others; None when it holds none."""
        return self._children[-1] if self._children else None

    def index_of(self, child: Shape) -> int:
        """Where a shape stands among those that it holds, from the back. What is asked for next is mostly near what was
        asked for, added or taken out last: there it is found at once. Raises ValueError for any other shape."""
        try:
            found = self._children.index(child, max(0, self._near - NEAR), self._near + NEAR)
        except ValueError:
            found = self._children.index(child)
        self._near = found
        return found

    def says(self) -> str:
        count = len(self._children)
        return f"group of {count} shape{'' if count == 1 else 's'}"

    def attach(self, child: Shape, index: int) -> None:
        """Puts a shape without a parent into the list, without an edit. For edits and readers only."""
        require(child, Shape)
        if child._parent is not None or any(child is g for g in ancestry(self)):
            raise ValueProblem(f"{child._called} already has a place.", hint="Move it, or add a copy.")
        self._children.insert(index, child)
        child._parent, self._near = self, index

    def receive(self, child: Shape) -> None:
        """Puts a shape that was just made in front of the others, without an edit or a check. For readers only."""
        self._children.append(child)
        child._parent = self

    def let_go(self, index: int) -> Shape:
        """Takes a shape out of the list, without an edit. For edits and readers only."""
        child = self._children.pop(index)
        child._parent, self._near = None, index
        return child

    def copy(self) -> Self:
        twin = super().copy()
        twin._children, twin._near = [], 0
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

    def __init__(self, id: str | None = None) -> None:
        super().__init__(id=id)
        self.written_kind = ""

    def assign(self, name: str, value: Any) -> None:
        raise ValueProblem(
            f"{self._id or 'it'} is of a kind that is not known here ({self.written_kind}), so it is kept as it is.",
            hint="It can be moved in the list, copied and deleted.",
        )

    def copy(self) -> Self:
        twin = super().copy()
        twin.written_kind = self.written_kind
        return twin


def _short(value: Any) -> str:
    """A value in a line that is read, not parsed."""
    if isinstance(value, tuple) and len(value) <= 4 and all(isinstance(v, int | float) for v in value):
        return ", ".join(f"{v:g}" for v in value)
    if isinstance(value, tuple):
        return f"({len(value)})"
    if isinstance(value, float | int) and not isinstance(value, bool):
        return f"{value:g}"
    text = repr(value)
    return text if len(text) <= 40 else text[:38] + "…" + text[-1]


def ancestry(shape: Shape | None) -> Iterator[Shape]:
    """The shape, its parent, and so on up to the top."""
    while shape is not None:
        yield shape
        shape = shape._parent


def require(given: object, kind: type[Shape]) -> None:
    """Raises ValueProblem for what is no shape of a kind, or none at all; an id may have been meant as one."""
    if not isinstance(given, kind):
        called = given._called if isinstance(given, Shape) else shorten(given)
        hint = f"Write scene[{given!r}] for the one with that id." if isinstance(given, str) else ""
        raise ValueProblem(f"{called} is no {'group' if kind is Group else 'shape'}.", hint=hint)
