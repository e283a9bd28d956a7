"""The evaluated counterpart of one shape."""

from __future__ import annotations

from typing import Any

from chalcedon.evaluate.outlines import OUTLINES
from chalcedon.geometry import EMPTY, IDENTITY, Affine, Box, Path
from chalcedon.geometry.boxes import inflate, union
from chalcedon.geometry.contain import Region
from chalcedon.geometry.flatten import edges, flatten
from chalcedon.geometry.stroke import Pen, StrokeRegion
from chalcedon.scene.color import RGBA, rgba
from chalcedon.scene.declare import Stored
from chalcedon.scene.shapes import Group, Shape
from chalcedon.scene.steps import compose
from chalcedon.scene.values import place_in

TOLERANCE = 0.004
"""How far flattened curves may run from the true ones, in scene px."""


class Node:
    """Everything derived from a shape and its place: outline, matrices, boxes, paint.

    Outline, regions and inverse are made when first asked for and dropped when what they depend on changes.
    Local space has its origin where the shape's `at` is; `world` maps it to scene px.
    `outline_version` and `paint_version` grow whenever the outline, or the look of it, changes.
    """

    __slots__ = (
        "_edges",
        "_fill_region",
        "_inverse",
        "_outline",
        "_stroke_region",
        "_tolerance",
        "box",
        "children",
        "cull",
        "fill",
        "group",
        "kind",
        "local",
        "locked",
        "opacity",
        "outline_version",
        "paint_version",
        "parent",
        "pen",
        "pointer",
        "scratch",
        "shape",
        "shift",
        "slot",
        "stroke",
        "usual_state",
        "visible",
        "world",
    )

    def __init__(self, shape: Shape, parent: Node | None) -> None:
        self.shape = shape
        self.parent = parent
        self.slot = -1
        self.group = isinstance(shape, Group)
        self.children: list[Node] = []
        self.world = self.local = IDENTITY
        self.box: Box = EMPTY
        self.cull: Box = EMPTY
        self.outline_version = self.paint_version = 0
        self.scratch: Any = None  # for the painter: what it made for this node
        self.kind = _kind_of(shape)
        self.fill: RGBA | None = None
        self.stroke: RGBA | None = None
        self.pen: Pen | None = None
        self.opacity = 1.0
        self.visible = True
        self.locked = False
        self.pointer = "painted"
        self.usual_state = True
        """Visible, unlocked, hit where painted: nothing to hand down."""
        self.shift = _NO_SHIFT
        self._inverse: Affine | bool | None = None
        self._outline: Path | None = None
        self._fill_region: Region | None = None
        self._stroke_region: StrokeRegion | None = None
        self._edges: list[tuple[float, float, float, float]] | None = None
        self._tolerance = 0.0

    # evaluating; DisplayList calls these in order. `values` are the shape's plain values.

    def evaluate_outline(self, values: Stored) -> None:
        """Own box in local space, with the anchor at the origin. For groups, after their children."""
        kind = self.kind
        if self.group:
            raw = union([bounds_under(c, c.local) for c in self.children]) if self.needs_box() else EMPTY
        else:
            raw = kind.box(values)
        px, py = place_in(raw, values.get("anchor", kind.anchor))
        if px == 0.0 and py == 0.0:
            self.shift = _NO_SHIFT
            self.box = raw
        else:
            self.shift = (-px, -py)
            self.box = (raw[0] - px, raw[1] - py, raw[2] - px, raw[3] - py)
        if self.outline_version:
            self._drop_outline()
        self.outline_version += 1

    def needs_box(self) -> bool:
        """Whether a group's own place depends on what is in it."""
        values = self.shape._values
        return self.group and (
            (bool(values.get("steps")) and values.get("pivot", "origin") != "origin")
            or values.get("anchor", "origin") != "origin"
        )

    def evaluate_place(self, values: Stored) -> None:
        at = values.get("at", _NO_SHIFT)
        steps = values.get("steps")
        if steps:
            self.local = compose(at, place_in(self.box, values.get("pivot", self.kind.pivot)), steps)
        else:
            self.local = Affine(1.0, 0.0, 0.0, 1.0, at[0], at[1])
        if self.group and self.shift is not _NO_SHIFT:
            # children keep their coordinates; the anchor moves the group under its `at`
            self.local = self.local.after(Affine.translate(*self.shift))

    def evaluate_paint(self, values: Stored) -> None:
        get = values.get
        self.opacity = get("opacity", 1.0)
        self.paint_version += 1
        kind = self.kind
        if not kind.paints:
            return
        fill, stroke = get("fill", kind.fill), get("stroke", kind.stroke)
        self.fill = rgba(fill) if fill is not None else None
        self.stroke = rgba(stroke) if stroke is not None else None
        # the pen exists without a stroke paint too: pointer rules may ask for the stroke's region
        if values.keys().isdisjoint(_PEN):
            pen = kind.usual_pen
        else:
            width = get("stroke_width", kind.stroke_width)
            pen = Pen(
                width,
                get("cap", "butt"),
                get("join", "miter"),
                get("miter_limit", 4.0),
                get("dash", ()),
                get("dash_offset", 0.0),
            )
        if pen != self.pen:
            self.pen = pen
            self._stroke_region = None

    def evaluate_state(self, values: Stored) -> None:
        parent = self.parent
        if self.usual_state and (parent is None or parent.usual_state) and values.keys().isdisjoint(_STATE):
            return
        get = values.get
        self.visible = get("visible", True)
        self.locked = get("locked", False)
        self.pointer = get("pointer", "painted")
        if parent is not None:
            self.visible = self.visible and parent.visible
            self.locked = self.locked or parent.locked
            if parent.pointer == "none":
                self.pointer = "none"
        self.usual_state = self.visible and not self.locked and self.pointer == "painted"

    def evaluate_world(self) -> None:
        """World matrix and cull box; the parent's must be up to date."""
        parent = self.parent
        # the top group is the scene's own space
        self.world = self.local if parent is None or parent.parent is None else parent.world.after(self.local)
        self._inverse = None
        self._edges = None
        if not self.group:
            self.evaluate_cull()

    def evaluate_cull(self) -> None:
        """A box in scene px that nothing of the shape's paint or hit area leaves; EMPTY when it can't show."""
        if not self.visible or self.box[0] > self.box[2]:
            self.cull = EMPTY
            return
        box = self.box
        pen = self.pen
        if pen is not None and pen.width > 0.0 and (self.stroke is not None or self.pointer in ("stroke", "all")):
            box = inflate(box, pen.width / 2 if self.kind.tight else pen.reach())
        self.cull = self.world.map_box(box)

    def _drop_outline(self) -> None:
        self._outline = self._fill_region = self._stroke_region = self._edges = None
        self._tolerance = 0.0

    # what others read

    @property
    def outline(self) -> Path:
        """The outline in local space."""
        if self._outline is None:
            path = self.kind.outline(self.shape.plain_values())
            self._outline = path if self.shift is _NO_SHIFT else path.mapped(Affine.translate(*self.shift))
        return self._outline

    @property
    def inverse(self) -> Affine | None:
        """Scene px to local space; None when the shape is flattened to nothing."""
        if self._inverse is None:
            self._inverse = self.world.inverse() or False
        return self._inverse or None  # type: ignore[return-value]

    @property
    def fill_region(self) -> Region:
        if self._fill_region is None:
            self._fill_region = Region(self.outline)
        return self._fill_region

    @property
    def stroke_region(self) -> StrokeRegion:
        """The stroke's region in local space, fine enough for the scale at which the shape stands now."""
        tolerance = TOLERANCE / max(self.world.stretch, 1e-9)
        if self._stroke_region is None or self._tolerance > tolerance * 2:
            self._tolerance = tolerance
            self._stroke_region = StrokeRegion(self.outline, self.pen or Pen(), tolerance)
        return self._stroke_region

    @property
    def edges(self) -> list[tuple[float, float, float, float]]:
        """The outline as straight edges in scene px."""
        if self._edges is None:
            self._edges = edges(flatten(self.outline.mapped(self.world), TOLERANCE))
        return self._edges

    def bounds(self) -> Box:
        """The exact box in scene px of the outline, or of all the outlines in a group. Strokes don't count."""
        return bounds_under(self, self.world)

    def painted_bounds(self) -> Box:
        """The box in scene px of all that is painted: exact strokes, caps and miters included."""
        if self.group:
            return union([c.painted_bounds() for c in self.children])
        box = self.bounds()
        if self.stroke is None or self.pen is None or self.pen.width <= 0.0:
            return box
        if self.world.b == 0.0 and self.world.c == 0.0 and self.kind.tight and not self.pen.dash:
            stroke = self.world.map_box(inflate(self.box, self.pen.width / 2))
        else:
            stroke = self.stroke_region.outline().mapped(self.world).bounds()
        return union([box, stroke])

    def local_origin(self) -> tuple[float, float]:
        """A group's translation before its steps: where a child at 0, 0 stands in the parent's space."""
        x, y = self.shape.at
        return x + self.shift[0], y + self.shift[1]

    def walk_leaves(self) -> list[Node]:
        """The shapes that paint, in paint order."""
        if not self.group:
            return [self]
        return [leaf for c in self.children for leaf in c.walk_leaves()]


_NO_SHIFT = (0.0, 0.0)
_PEN = frozenset(("stroke_width", "cap", "join", "miter_limit", "dash", "dash_offset"))
_STATE = frozenset(("visible", "locked", "pointer"))


class _Kind:
    """What all nodes of one kind share: outline functions and defaults, looked up once."""

    def __init__(self, cls: type[Shape]) -> None:
        self.outline, self.box = OUTLINES.get(cls.kind, (lambda v: Path("", ()), lambda v: EMPTY))
        self.paints = cls.kind in OUTLINES
        self.tight = cls.kind in _TIGHT

        def default(name: str) -> Any:
            return cls.properties[name].default if name in cls.properties else None

        self.anchor, self.pivot = default("anchor"), default("pivot")
        self.fill, self.stroke, self.stroke_width = default("fill"), default("stroke"), default("stroke_width")
        self.usual_pen = Pen(self.stroke_width) if self.paints else None


_kinds: dict[type[Shape], _Kind] = {}


def _kind_of(shape: Shape) -> _Kind:
    cls = type(shape)
    if cls not in _kinds:
        _kinds[cls] = _Kind(cls)
    return _kinds[cls]


_TIGHT = frozenset(("circle", "ellipse", "rect"))
"""Kinds whose stroke never reaches farther than half its width from their box: corners of 90 degrees, miter
limit at least 1 (a bevel is shorter still). A rect turned by steps is inflated before it is turned."""


def bounds_under(node: Node, m: Affine) -> Box:
    """The exact box of a node's outlines when its local space is mapped by `m`."""
    if node.group:
        return union([bounds_under(c, m.after(c.local)) for c in node.children])
    if node.box[0] > node.box[2]:
        return EMPTY
    if m.b == 0.0 and m.c == 0.0:
        return m.map_box(node.box)
    return node.outline.mapped(m).bounds()
