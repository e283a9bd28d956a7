"""One painting of one shape, evaluated."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from operator import attrgetter
from types import MappingProxyType
from typing import Any

from chalcedon.evaluate.copies import Copy
from chalcedon.evaluate.kinds import Kind, kind_of
from chalcedon.evaluate.place import NO_SHIFT, anchored, page_map, standing
from chalcedon.evaluate.rare import NONE_RARE, USUAL, rare, state_of
from chalcedon.evaluate.strokes import MORE, PEN, PLAIN, Manner, StrokeArea, manner_of, pen_of
from chalcedon.geometry import EMPTY, IDENTITY, Affine, Box, Outline
from chalcedon.geometry.boxes import inflate, union
from chalcedon.geometry.contain import Cells, Region
from chalcedon.geometry.flatten import affordable, edges, flatten
from chalcedon.geometry.stroke import Pen
from chalcedon.scene.axes import is_up
from chalcedon.scene.color import rgba
from chalcedon.scene.declare import Stored
from chalcedon.scene.paints import GradientLook, Look, Picture, Shadow, look, resolve, turned_over
from chalcedon.scene.shapes import Group, Shape
from chalcedon.scene.steps import Step
from chalcedon.scene.values import place_in

TOLERANCE = 0.004
"""How far flattened curves may run from the true ones, in scene px."""
MANY = 200
"""Segments from which on an outline is flattened in one batch."""


NONE: list[Any] = []
"""The children of what can't have any: one list for all."""


class Node:
    """Everything derived from a shape and its place: its values, outline, matrices, boxes, paint.

    A shape has one node, or one for each of its copies; `copy` says which. `values` are what is painted: what the shape
    states, formulas replaced by what they come to, and what its copy has instead. Nobody above reads a value from the
    shape to paint, hit or measure.

    Outline, regions and inverse are made when first asked for and dropped when what they depend on changes.
    Local space has its origin where the shape's `at` is; `world` maps it to scene px.
    `outline_version` and `paint_version` grow whenever the outline, or the look of it, changes.
    """

    __slots__ = (
        "_edges",
        "_fill",
        "_fill_region",
        "_in_band",
        "_inverse",
        "_outline",
        "_stroke",
        "_stroke_area",
        "_tolerance",
        "alive",
        "box",
        "children",
        "clips",
        "copy",
        "cull",
        "group",
        "kind",
        "local",
        "manner",
        "opacity",
        "outline_version",
        "paint_version",
        "parent",
        "pen",
        "rare",
        "scratch",
        "shades",
        "shape",
        "shift",
        "slot",
        "special",
        "state",
        "values",
        "world",
    )

    visible: bool = property(attrgetter("state.visible"))  # type: ignore[assignment]
    locked: bool = property(attrgetter("state.locked"))  # type: ignore[assignment]
    pointer: str = property(attrgetter("state.pointer"))  # type: ignore[assignment]
    blend = rare[str]("blend")
    clip = rare["Node | None"]("clip")
    copied = rare[bool]("copied")
    cuts = rare[bool]("cuts")
    host = rare["Node | None"]("host")
    letters = rare[tuple[tuple[int, Look | None], ...]]("letters")
    picture = rare[Picture | None]("picture")
    shadow = rare[Shadow | None]("shadow")
    tiles = rare["tuple[Node | None, Node | None]"]("tiles")

    def __init__(self, shape: Shape, parent: Node | None, copy: Copy = (), values: Stored | None = None) -> None:
        self.shape, self.parent = shape, parent
        self.copy = copy
        self.values: Stored = shape.plain_values() if values is None else values
        self.rare = NONE_RARE
        self.state = USUAL
        self.alive = True
        """Until it leaves its display list."""
        self.slot = -1
        self.group = isinstance(shape, Group)
        self.children: list[Node] = [] if self.group else NONE
        self.world = self.local = IDENTITY
        self.box: Box = EMPTY
        self.cull: Box = EMPTY
        self.outline_version = self.paint_version = 0
        self.scratch: Any = None  # for the painter: what it made for this node
        self.kind = self._kind()
        self._fill: Look | str | None = None  # a plain colour is a text until it is asked for
        self._stroke: Look | str | None = None
        self.pen: Pen | None = None
        self.manner: Manner = PLAIN
        self.clips: tuple[Node, ...] = ()
        """The groups around it that are clipped, outermost first."""
        self.shades: tuple[Shadow, ...] = ()
        """The shadows that it casts, with those of the groups around it."""
        self.opacity, self.shift = 1.0, NO_SHIFT
        self.special = self.kind.image
        """Whether painting takes more than a fill and a stroke: effects, an image."""
        self._inverse: Affine | bool | None = None
        self._outline: Outline | None = None
        self._fill_region: Region | Cells | None = None
        self._stroke_area: StrokeArea | None = None
        self._in_band: Callable[[float, float], bool] | None = None
        self._edges: list[tuple[float, float, float, float]] | None = None
        self._tolerance = 0.0

    def turn_axes(self) -> None:
        """Takes the scene's way of y; groups before what they hold, and before all else is evaluated."""
        self.kind = self._kind()

    def _kind(self) -> Kind:
        parent = self.parent
        return kind_of(type(self.shape), is_up(self.shape.scene) if parent is None else parent.kind.axes_up)

    # evaluating; DisplayList calls these in order

    def evaluate_outline(self) -> None:
        """Own box in local space, with the anchor at the origin. For groups, after their children."""
        kind, values = self.kind, self.values
        if self.group:
            raw = union([bounds_under(c, c.local, False) for c in self.children]) if self.needs_box() else EMPTY
        else:
            raw = kind.box(values)
        self.box, self.shift = anchored(raw, values.get("anchor", kind.anchor), kind.lie.up)
        if self.outline_version:
            self._drop_outline()
        self.outline_version += 1

    def needs_box(self) -> bool:
        """Whether a group's own place depends on what is in it."""
        values = self.values
        return self.group and (
            (bool(values.get("steps")) and values.get("pivot", "origin") != "origin")
            or values.get("anchor", "origin") != "origin"
        )

    def evaluate_place(self) -> None:
        """The map from local space to the parent's: `at`, pivot and steps. The own box must be up to date."""
        get, kind = self.values.get, self.kind
        if self.group or self.rare is not NONE_RARE:
            self.local = self.with_steps(get("steps", ()))
        else:  # the same without detours, as nearly all go
            pivot = get("pivot", kind.pivot)
            self.local = standing(get("at", NO_SHIFT), self.box, pivot, get("steps", ()), kind.lie)

    def with_steps(self, steps: tuple[Step, ...]) -> Affine:
        """The map from local space to the parent's that other steps would give."""
        local = self.standing(steps)
        if self.group and self.shift is not NO_SHIFT:
            # children keep their coordinates; the anchor moves the group under its `at`
            return local.after(Affine.translate(*self.shift))
        return local

    def standing(self, steps: tuple[Step, ...]) -> Affine:
        """The map from the space of its box, where `pivot` is, to the parent's that some steps give."""
        return standing(self.at, self.box, self.values.get("pivot", self.kind.pivot), steps, self.kind.lie)

    @property
    def at(self) -> tuple[float, float]:
        """Where its anchor stands in the parent's space, before the steps."""
        return self.values.get("at", NO_SHIFT) if self.host is None else self._middle_of_host()

    @property
    def pivot(self) -> tuple[float, float]:
        """The point that its steps are about: in local space, or of a group in px from its `at`."""
        return place_in(self.box, self.values.get("pivot", self.kind.pivot), self.kind.lie.up)

    def raw_box(self, **changed: Any) -> Box:
        """The box of its outline in raw space, with some of its values changed."""
        if self.group:
            return bounds_under(self, IDENTITY)  # the space of its children
        return self.kind.box({**self.values, **changed} if changed else self.values)

    def _middle_of_host(self) -> tuple[float, float]:
        """Where `at` has to be for the middle of the own box to be that of the host's."""
        assert self.host is not None
        box = bounds_under(self.host, self.host.world)
        back = IDENTITY if self.parent is None else self.parent.world.inverse()
        if box[0] > box[2] or back is None:
            return 0.0, 0.0
        x, y = back.map((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
        down = (self.box[1] + self.box[3]) / 2
        return x - (self.box[0] + self.box[2]) / 2, y + down if self.kind.lie.mirrored else y - down

    def evaluate_paint(self, palette: Mapping[str, str] = MappingProxyType({})) -> None:
        """Fill, stroke, pen and effects, with the colours of a palette."""
        values = self.values
        get = values.get
        self.opacity = get("opacity", 1.0)
        self.paint_version += 1
        kind = self.kind
        elaborate = self.special or not values.keys().isdisjoint(_ELABORATE)
        if elaborate and (self.special or not values.keys().isdisjoint(_EFFECTS)):
            self._evaluate_effects(palette)
        if not kind.paints:
            return
        fill, stroke = get("fill", kind.fill), get("stroke", kind.stroke)
        if elaborate and not get("fill_on", True):
            fill = None
        if elaborate and not get("stroke_on", True):
            stroke = None
        # plain colours, which nearly all are, are read when they are asked for
        self._fill = fill if type(fill) is str and fill[0] == "#" else self._look(fill, palette)
        self._stroke = stroke if type(stroke) is str and stroke[0] == "#" else self._look(stroke, palette)
        if kind.text and ("runs" in values or self.letters):
            self._evaluate_letters(palette)
        # the pen exists without a stroke paint too: pointer rules may ask for the stroke's region
        manner, pen = PLAIN, kind.usual_pen
        if elaborate:
            if not values.keys().isdisjoint(MORE):
                manner = manner_of(values, kind.stroke_width, self.outline)
            pen = pen_of(values, kind.stroke_width, manner.align != "center")
        if pen != self.pen or manner != self.manner:
            self.pen, self.manner = pen, manner
            self._stroke_area = self._in_band = None

    def _look(self, paint: Any, palette: Mapping[str, str]) -> Look | None:
        found = look(paint, palette)
        if not self.kind.axes_up or not isinstance(found, GradientLook):
            return found
        if found.units == "scene":
            scene = self.shape.scene
            return turned_over(found, scene.size[1] if scene is not None else 0.0)
        return turned_over(found, 1.0) if self.kind.lie.up else found

    def _evaluate_letters(self, palette: Mapping[str, str]) -> None:
        from chalcedon.scene.kinds.text import fills_of

        said = fills_of(self.values) if self.values.get("fill_on", True) else ()
        self.letters = tuple((i, self._look(paint, palette)) for i, paint in said)
        self.special = self.special or bool(self.letters)

    def _evaluate_effects(self, palette: Mapping[str, str]) -> None:
        get = self.values.get
        self.blend = get("blend", "normal")
        shadow = get("shadow")
        if shadow is not None:
            y = -shadow.y if self.kind.axes_up else shadow.y
            shadow = shadow._replace(y=y, color=resolve(shadow.color, palette) or (0, 0, 0, 0))
        self.shadow = shadow
        self.cuts = get("cuts", False)
        self.picture = Picture(get("source", ""), get("fit", "contain")) if self.kind.image else None
        # groups take their effects as layers, an isolated one is nothing but a layer
        layer = self.cuts or get("isolate", False)
        self.special = self.kind.image or self.blend != "normal" or self.shadow is not None or layer

    def evaluate_state(self) -> None:
        """Whether it is visible, locked, and where it is hit; the parent's must be up to date."""
        parent, values = self.parent, self.values
        if (parent is None or parent.state is USUAL) and values.keys().isdisjoint(_STATE):
            self.state = USUAL
            return
        get = values.get
        visible, locked, pointer = get("visible", True), get("locked", False), get("pointer", "painted")
        if parent is not None:
            around = parent.state
            visible, locked = visible and around.visible, locked or around.locked
            pointer = "none" if around.pointer == "none" else pointer
        self.state = state_of(visible, locked, pointer)

    def evaluate_world(self) -> None:
        """World matrix and cull box; the parent's must be up to date."""
        parent = self.parent
        if parent is None:
            self.world = page_map(self.shape.scene)  # the top group has the scene's own coordinates
        else:
            self.world = self.local if parent.world is IDENTITY else parent.world.after(self.local)
        self._inverse = self._edges = self._in_band = None
        if parent is not None:
            self.clips = parent.clips if parent.clip is None else (*parent.clips, parent)
            self.shades = parent.shades if self.shadow is None else (self.shadow, *parent.shades)
        if self.manner.steady:
            self._stroke_area = None  # it stands in scene px
        if not self.group:
            self.evaluate_cull()

    def moved_on(self) -> None:
        """Drops what depends on where it stands, and on nothing else."""
        self._inverse = self._edges = self._in_band = None

    def reach_of_pen(self) -> float:
        """How far a stroke that isn't steady reaches from the outline's box, in local px."""
        pen = self.pen
        if pen is None or pen.width <= 0.0 or (self._stroke is None and self.pointer not in ("stroke", "all")):
            return 0.0
        reach = pen.width / 2 if self.kind.tight and not (pen.dash and pen.cap == "square") else pen.reach()
        return reach if self.manner is PLAIN else max(reach, self.manner.head)

    def evaluate_cull(self) -> None:
        """A box in scene px that nothing of the shape's paint or hit area leaves; EMPTY when it can't show."""
        self.cull = self.extent() if self.state.visible else EMPTY

    def extent(self) -> Box:
        """The same for a shape that would be visible."""
        a, b, c, d, _, _ = self.world
        if self.box[0] > self.box[2] or (-1e-3 < a * d - b * c < 1e-3 and self.inverse is None):  # seldom so small
            return EMPTY  # what is scaled to nothing isn't painted, steady strokes neither (SVG 2)
        box = self.box
        if self.kind.overhangs:
            box = union([box, self.outline.bounds(), *self.fill_region.boxes])  # type: ignore[union-attr]
        reach = self.reach_of_pen()
        if reach and self.pen is not None and self.manner.steady:
            # turned and skewed corners reach farther than those of the box
            box = inflate(self.world.map_box(box), reach if self.kind.smooth else max(reach, self.pen.reach()))
            return self._with_shadow(box)
        box = self.world.map_box(box, reach)
        return box if not self.shades else self._with_shadow(box)

    def _with_shadow(self, box: Box) -> Box:
        """A box grown by the shadows that what is in it casts."""
        for dx, dy, blur, _ in self.shades:
            box = union([box, inflate((box[0] + dx, box[1] + dy, box[2] + dx, box[3] + dy), 1.5 * blur)])
        return box

    def _drop_outline(self) -> None:
        self._outline = self._fill_region = self._stroke_area = self._edges = self._in_band = None
        self._tolerance = 0.0

    # what others read

    def painted(self) -> Shape:
        """A shape that states what is painted here: the shape itself, or a stand-in that is in no scene."""
        if self.values is self.shape._values:
            return self.shape
        out = type(self.shape).bare(self.shape._id)
        out.take(self.values, None)
        return out

    def value(self, name: str) -> Any:
        """What a property of the shape comes to here; its default when it isn't set."""
        return self.values.get(name, self.shape.properties[name].default)

    @property
    def fill(self) -> Look | None:
        """What its inside is painted with."""
        if type(self._fill) is str:
            self._fill = rgba(self._fill)
        return self._fill  # type: ignore[return-value]

    @property
    def stroke(self) -> Look | None:
        """What its outline is painted with."""
        if type(self._stroke) is str:
            self._stroke = rgba(self._stroke)
        return self._stroke  # type: ignore[return-value]

    @property
    def outline(self) -> Outline:
        """The outline in local space."""
        if self._outline is None:
            path = self.kind.outline(self.values)
            self._outline = path if self.shift is NO_SHIFT else path.mapped(Affine.translate(*self.shift))
        return self._outline

    @property
    def inverse(self) -> Affine | None:
        """Scene px to local space; None when the shape is flattened to nothing."""
        if self._inverse is None:
            self._inverse = self.world.inverse() or False
        return self._inverse or None  # type: ignore[return-value]

    @property
    def even_odd(self) -> bool:
        """Whether its inside is by the even-odd rule; else it is by nonzero."""
        return self.values.get("fill_rule") == "evenodd"

    @property
    def fill_region(self) -> Region | Cells:
        """Where the inside is hit. For text these are the cells of its characters, as SVG 2 says."""
        if self._fill_region is None:
            if self.kind.text:
                from chalcedon.scene.kinds.text import layout_of

                dx, dy = self.shift
                cells = layout_of(self.values).cells
                self._fill_region = Cells([(a + dx, b + dy, c + dx, d + dy) for a, b, c, d in cells])
            else:
                self._fill_region = Region(self.outline, self.even_odd)
        return self._fill_region

    @property
    def stroke_area(self) -> StrokeArea:
        """The stroke's area, fine enough for the scale at which the shape stands now; see StrokeArea for its space."""
        steady = self.manner.steady
        tolerance = TOLERANCE if steady else TOLERANCE / max(self.world.stretch, 1e-9)
        if self._stroke_area is None or self._tolerance > tolerance * 2:
            self._tolerance = tolerance
            line = self.outline.mapped(self.world) if steady else self.outline
            self._stroke_area = StrokeArea(line, self.pen or Pen(), self.manner, tolerance, self.even_odd)
        return self._stroke_area

    def in_stroke(self, x: float, y: float, local: tuple[float, float]) -> bool:
        """Whether a point, in scene px and in local space, is in the stroke. There must be a pen."""
        if self._in_band is None:  # the way to the area is worth remembering: a hit test asks many shapes
            self._in_band = self.stroke_area.contains
        return self._in_band(x, y) if self.manner.steady else self._in_band(*local)

    @property
    def edges(self) -> list[tuple[float, float, float, float]]:
        """The outline as straight edges in scene px."""
        if self._edges is None:
            outline = self.outline.mapped(self.world)
            tolerance = affordable(outline, TOLERANCE)
            if len(outline.verbs) < MANY:
                self._edges = edges(flatten(outline, tolerance))
            else:
                from chalcedon.geometry.batch import edges_of  # NumPy, only where it pays

                self._edges = edges_of(outline, tolerance)
        return self._edges

    def bounds(self) -> Box:
        """The exact box in scene px of the outline, or of all the outlines in a group. Strokes don't count."""
        return bounds_under(self, self.world)

    def painted_bounds(self) -> Box:
        """The box in scene px of all that is painted, strokes included; of a text without letters that of its lines."""
        if self.group:
            return union([c.painted_bounds() for c in self.children])
        ink = self.kind.overhangs and self.outline.verbs
        box = self.outline.mapped(self.world).bounds() if ink else self.bounds()
        if self.stroke is None or self.pen is None or self.pen.width <= 0.0:
            return self._with_shadow(box)
        if self.manner.align == "inside":
            return self._with_shadow(box)
        if self.world.b == self.world.c == 0.0 and self.manner is PLAIN and self.kind.tight and not self.pen.dash:
            stroke = self.world.map_box(inflate(self.box, self.pen.width / 2))
        else:
            stroke = self.stroke_area.bounds(IDENTITY if self.manner.steady else self.world)
        return self._with_shadow(union([box, stroke]))

    def local_origin(self) -> tuple[float, float]:
        """A group's translation before its steps: where a child at 0, 0 stands in the parent's space."""
        x, y = self.value("at")
        return x + self.shift[0], y + self.shift[1]

    def walk_leaves(self) -> list[Node]:
        """The shapes that paint, in paint order."""
        if not self.group:
            return [self]
        return [leaf for c in self.children for leaf in c.walk_leaves()]

    def shown_leaves(self) -> list[Node]:
        """Those that would be seen if this one were visible, as a mask is whether it is or not."""
        if not self.group:
            return [self]
        return [leaf for c in self.children if c.values.get("visible", True) for leaf in c.shown_leaves()]

    @property
    def mask(self) -> str:
        """Of a group with a clip: "alpha" or "luminance" when that is one by degrees, else ""."""
        by: str = self.values.get("clip_by", "fill")
        return "" if by == "fill" else by


_EFFECTS = frozenset(("blend", "shadow", "cuts", "isolate"))
_ELABORATE = _EFFECTS | PEN | MORE | {"fill_on", "stroke_on"}
"""What makes paint more than two colours and the pen of the kind."""
_STATE = frozenset(("visible", "locked", "pointer"))


def bounds_under(node: Node, m: Affine, hosted: bool = True) -> Box:
    """The exact box of a node's outlines when its local space is mapped by `m`; `hosted`: with texts that sit inside a
    shape, whose place isn't their own."""
    if node.group:
        return union([bounds_under(c, m.after(c.local), hosted) for c in node.children])
    if node.box[0] > node.box[2] or (node.host is not None and not hosted):
        return EMPTY
    if (m.b == 0.0 and m.c == 0.0) or node.kind.overhangs:
        return m.map_box(node.box)
    return node.outline.mapped(m).bounds()
