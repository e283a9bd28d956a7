"""What all shapes have in common, and the group that holds them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Any, ClassVar

from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Declared, Property, Stored
from chalcedon.scene.facets import Facets
from chalcedon.scene.given import converted
from chalcedon.scene.paints import Shadow, ShadowValue
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

_fraction = Number(low=0.0, high=1.0, unit="", step=0.01)


class Shape(Facets, Declared):
    """An object of the scene. It lives until it is deleted, and its place in the paint order is its place
    in its parent's list."""

    __slots__ = ("_id", "_parent", "_scene")

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
        forms = self.words
        for name, value in values.items():
            if name not in forms:
                self.assign(name, value)
        self.give({n: v for n, v in values.items() if n in forms})

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

    def give(self, given: Mapping[str, Any]) -> None:
        """Sets the properties that other descriptions (scene/given.py) come to: circle.give({"diameter": 80})."""
        if given:
            numbers = {n: v if isinstance(v, tuple | list) else (v,) for n, v in given.items()}
            for name, value in converted(self.kind, self.words, numbers, self.plain_values()).items():
                self.assign(name, value)

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


class Group(Shape):
    """A shape that holds other shapes in paint order. A layer is a group at the top level."""

    __slots__ = ("_children",)
    kind = "group"
    leading = ("at",)
    example = "group 140 65 rotate 20"
    glyph = ("rect 3 3 9 9 1.5 fill none stroke INK 1.7", "rect 8 8 9 9 1.5 fill none stroke INK 1.7")
    clip: Property[str] = Property(
        Ref(), "", "id of a shape: only what lies on its fill is seen and hit", affects="paint", section="effects"
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

    def says(self) -> str:
        count = len(self._children)
        return f"group of {count} shape{'' if count == 1 else 's'}"

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

    def __init__(self, id: str | None = None) -> None:
        super().__init__(id)
        self.written_kind = ""

    def assign(self, name: str, value: Any) -> None:
        raise ValueProblem(
            f"{self._id or 'it'} is of a kind that is not known here ({self.written_kind}), so it is kept as it is.",
            hint="It can be moved in the list, copied and deleted.",
        )

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
