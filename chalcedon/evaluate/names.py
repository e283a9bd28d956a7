"""What the names in a formula mean where it stands: of what type each is, how it is read, and what that depends on.

Places are given in the space of the asking shape's parent; lengths, angles and all else as they are stated.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, NamedTuple

from chalcedon.evaluate.node import Node, bounds_under
from chalcedon.formula.compiler import Path
from chalcedon.formula.types import LIST, NUMBER, POINT, SHAPE, SWITCH, TEXT, Type
from chalcedon.geometry import Affine
from chalcedon.problems import ValueProblem, nearest, shorten_name
from chalcedon.scene.color import names as color_names
from chalcedon.scene.inputs import KINDS as INPUTS
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Shape
from chalcedon.scene.values import Tuple

if TYPE_CHECKING:
    from chalcedon.evaluate.displaylist import DisplayList

Source = tuple[Any, ...]
"""What can change under a formula: a word of the moment, or a property or the geometry of a node."""

MOMENT: dict[Path, tuple[Type, str]] = {
    ("time",): (NUMBER, "seconds since the run began"),
    ("frame",): (NUMBER, "steps since the run began"),
    ("pointer",): (POINT, "where the pointer is"),
    ("pointer", "x"): (NUMBER, "where the pointer is, across"),
    ("pointer", "y"): (NUMBER, "where the pointer is, down or up as y runs"),
    ("pointer", "down"): (SWITCH, "whether a button is down, or the pen or a finger touches"),
    ("pointer", "pressure"): (NUMBER, "0 to 1: how hard"),
    ("pointer", "inside"): (SWITCH, "whether it is over the page"),
    ("scene", "width"): (NUMBER, "width of the page"),
    ("scene", "height"): (NUMBER, "height of the page"),
    ("scene", "center"): (POINT, "middle of the page"),
    ("scene", "center", "x"): (NUMBER, "middle of the page, across"),
    ("scene", "center", "y"): (NUMBER, "middle of the page, down or up as y runs"),
}
"""Names of the moment and the page, their types and meanings."""
BOX = {
    "left": (NUMBER, "least x of its box"),
    "right": (NUMBER, "most x of its box"),
    "top": (NUMBER, "y of its upper edge"),
    "bottom": (NUMBER, "y of its lower edge"),
    "width": (NUMBER, "width of its box"),
    "height": (NUMBER, "height of its box"),
    "center": (POINT, "middle of its box"),
}
"""What can be asked of the box of a shape."""
STATES = {
    "hovered": (SWITCH, "whether the pointer is on it"),
    "pressed": (SWITCH, "whether it is pressed"),
    "dragged": (SWITCH, "whether it is dragged"),
}
COPIES = ("i", "n", "u", "row", "col")


class Bound(NamedTuple):
    """A name, found. `sources` are what it is to be told of; `cells` and `geometry` say which formulas come first."""

    kind: Type
    get: Callable[[], Any]
    sources: tuple[Source, ...]
    cells: tuple[tuple[Node, str], ...] = ()
    """Properties of nodes, which may be formulas."""
    geometry: tuple[tuple[str, Node], ...] = ()
    """`box`, `size` (without where it is) or `world` of nodes."""


class Names:
    """The names that a formula of a node can use; `node` is the top group for one of the scene itself."""

    def __init__(self, display: DisplayList, node: Node) -> None:
        self.display, self.node = display, node
        self.bound: dict[Path, Bound] = {}

    def kind(self, path: Path) -> Type:
        return self.find(path).kind

    def find(self, path: Path) -> Bound:
        """A name with its attributes. Raises ValueProblem for what there isn't, naming the nearest."""
        found = self.bound.get(path)
        if found is None:
            found = self.bound[path] = self._find(path)
        return found

    def _find(self, path: Path) -> Bound:
        display, first = self.display, path[0]
        if first == "":
            return _hidden(display, path[1])
        if path in MOMENT:
            return self._shared(path, self._moment)
        if first == "palette":
            return self._palette(path)
        inputs = display.scene.inputs
        if first in inputs:
            return self._shared(path, lambda path: self._input(path, inputs.spec(first).kind))
        node = self._node(first)
        if node is None:
            raise self._unknown(path)
        return self._of_shape(path, node)

    def _shared(self, path: Path, find: Callable[[Path], Bound]) -> Bound:
        """A name that means the same in every formula that doesn't stand in a group of its own space."""
        shared = self.display.formulas.shared
        parent = self.node.parent
        if parent is not None and parent.parent is not None and path[0] in ("pointer", "scene"):
            return find(path)
        bound = shared.get(path)
        if bound is None:
            bound = shared[path] = find(path)
        return bound

    def _node(self, name: str) -> Node | None:
        node = self.node
        if name == "self":
            return node if node.parent is not None else None
        if name == "parent":
            parent = node.parent
            if parent is not None and parent.parent is not None:
                return parent
            raise ValueProblem("there is no group around it.", hint="scene.width and scene.height are the page's.")
        shape = self.display.scene.get(name)
        return None if shape is None else self.display.near(shape, node.copy)

    def _unknown(self, path: Path) -> ValueProblem:
        name, display = path[0], self.display
        if name in {p[0] for p in MOMENT}:
            known = [p[1] for p in MOMENT if p[0] == name and len(p) > 1]
            if len(path) > 1:
                return ValueProblem(f"{name} has no {shorten_name(path[1])}.", hint=nearest(path[1], known))
            return ValueProblem(f"{name} is no value by itself.", hint=f"Write {name}.{known[0]} or the like.")
        if name in COPIES:
            return ValueProblem(f"{name} is known in a repeat only.", hint="Nothing repeats this shape.")
        if name == "self":
            return ValueProblem("self is known in formulas of shapes only.")
        if name in display.palette:
            return ValueProblem(f"{shorten_name(name)} is a colour of the palette.", hint=f"Write palette.{name}.")
        if name in color_names():
            return ValueProblem(f"{name} is a colour.", hint=f"In a formula it stands in quotes: '{name}'.")
        names = [*display.scene.inputs, *(s.id for s in display.scene.walk()), *dict.fromkeys(p[0] for p in MOMENT)]
        return ValueProblem(f"there is nothing called {shorten_name(name)}.", hint=nearest(name, names))

    # what is read

    def _moment(self, path: Path) -> Bound:
        display, node = self.display, self.node
        kind = MOMENT[path][0]
        if path[0] in ("time", "frame"):
            field = path[0]
            return Bound(kind, lambda: getattr(display.moment, field), ((field,),))
        if path[0] == "pointer" and len(path) == 2 and path[1] not in ("x", "y"):
            field = path[1]
            return Bound(kind, lambda: getattr(display.moment, field), (("pointer", field),))
        if path in (("scene", "width"), ("scene", "height")):
            at = ("width", "height").index(path[1])
            return Bound(kind, lambda: display.scene.size[at], (("page",),))
        source: Source = ("pointer",) if path[0] == "pointer" else ("page",)
        asked = (lambda: display.pointer) if path[0] == "pointer" else display.middle
        parent = node.parent
        if parent is None or parent.parent is None:
            plain = display.across
            get: Callable[[], Any] = lambda: plain(asked())  # noqa: E731
            told: tuple[Source, ...] = (source, ("page",))  # without a pointer it is the middle of the page
            bound = Bound(POINT, get, told)
        else:
            holder = parent
            get = lambda: back(holder, asked())  # noqa: E731
            told = (source, ("page",), ("geometry", id(parent)))
            bound = Bound(POINT, get, told, (), (("world", parent),))
        return bound if kind == POINT else _component(bound, path[-1])

    def _palette(self, path: Path) -> Bound:
        display, names = self.display, self.display.palette
        if len(path) != 2 or path[1] not in names:
            word = path[1] if len(path) > 1 else ""
            raise ValueProblem(f"the palette has no {shorten_name(word) or 'name there'}.", hint=nearest(word, names))
        name = path[1]
        return Bound(TEXT, lambda: display.palette[name], (("palette", name),), ((display.root, "palette"),))

    def _input(self, path: Path, kind: str) -> Bound:
        display, name = self.display, path[0]
        bound = Bound(INPUTS[kind], lambda: display.input(name), (("input", name),))
        if len(path) == 1:
            return bound
        if kind == "point" and len(path) == 2 and path[1] in ("x", "y"):
            return _component(bound, path[1])
        hint = "A point has .x and .y." if kind == "point" else f"Write {name} alone."
        raise ValueProblem(f"the input {name} has no {shorten_name(path[1])}.", hint=hint)

    def _of_shape(self, path: Path, node: Node) -> Bound:
        shape = node.shape
        if len(path) == 1:
            return self._hull(node)
        word = path[1]
        if word in BOX:
            bound = self._box(node, word)
        elif word in STATES:
            display, id_ = self.display, shape.id
            bound = Bound(SWITCH, lambda: id_ in getattr(display.moment, word), ((word, id_),))
        elif word in shape.properties:
            bound = self._property(node, word)
        else:
            known = [*readable(shape), *BOX, *STATES]
            raise ValueProblem(f"{path[0]} has no {shorten_name(word)}.", hint=nearest(word, known))
        if len(path) == 2:
            return bound
        if bound.kind == POINT and len(path) == 3:
            return _component(bound, self._which(path, shape))
        hint = "A point has .x and .y." if bound.kind == POINT else f"Write {path[0]}.{word} alone."
        raise ValueProblem(f"{path[0]}.{word} has no {shorten_name(path[2])}.", hint=hint)

    def _which(self, path: Path, shape: Shape) -> str:
        """Which of two numbers is meant: by x and y, or by their own labels."""
        labels = ("x", "y")
        kind = shape.properties[path[1]].kind if path[1] in shape.properties else None
        if isinstance(kind, Tuple):
            labels = kind.labels  # type: ignore[assignment]
        for both in (labels, ("x", "y")):
            if path[2] in both:
                return "xy"[both.index(path[2])]
        known = list(dict.fromkeys((*labels, "x", "y")))
        raise ValueProblem(f"{path[0]}.{path[1]} has no {shorten_name(path[2])}.", hint=nearest(path[2], known))

    def _property(self, node: Node, name: str) -> Bound:
        prop = node.shape.properties[name]
        kind, default = prop.kind.gives, prop.default
        if name not in readable(node.shape):
            raise ValueProblem(f"{name.replace('_', ' ')} of {node.shape.id} can't be read in a formula.")
        source: Source = ("value", id(node), name)
        cells = ((node, name),)
        if name != "at" or node.parent is self.node.parent or node.parent is None:
            return Bound(kind, lambda: node.values.get(name, default), (source,), cells)
        theirs, ours = node.parent, self.node.parent
        worlds = tuple(("world", n) for n in (theirs, ours) if n is not None)
        told = tuple(("geometry", id(n)) for _w, n in worlds)

        def get() -> Any:
            return back(ours, theirs.world.map(*node.at))

        return Bound(POINT, get, (source, *told), cells, worlds)

    def _geometry(self, node: Node, what: str) -> tuple[tuple[Source, ...], tuple[tuple[str, Node], ...]]:
        """What the outline of a node depends on, as this formula sees it."""
        theirs, ours = node.parent, self.node.parent
        needed: list[tuple[str, Node]] = [(what, node)]
        told: list[Source] = [("geometry", id(node))]
        if theirs is not ours and node is not ours:
            for around in (theirs, ours):
                if around is not None:
                    needed.append(("world", around))
                    told.append(("geometry", id(around)))
        return tuple(told), tuple(needed)

    def _box(self, node: Node, word: str) -> Bound:
        told, needed = self._geometry(node, "size" if word in ("width", "height") else "box")
        parent = self.node.parent

        def box() -> tuple[float, float, float, float]:
            found = bounds_under(node, _into(parent, node))
            if found[0] > found[2]:
                raise ValueProblem(f"{node.shape.id} is empty, so it has no box.")
            return found

        up = lambda: self.node.kind.axes_up  # noqa: E731, the axis may be turned meanwhile
        reads: dict[str, Callable[[tuple[float, float, float, float]], Any]] = {
            "left": lambda b: b[0],
            "right": lambda b: b[2],
            "top": lambda b: b[3] if up() else b[1],
            "bottom": lambda b: b[1] if up() else b[3],
            "width": lambda b: b[2] - b[0],
            "height": lambda b: b[3] - b[1],
            "center": lambda b: ((b[0] + b[2]) / 2, (b[1] + b[3]) / 2),
        }
        read = reads[word]
        return Bound(BOX[word][0], lambda: read(box()), told, (), needed)

    def _hull(self, node: Node) -> Bound:
        told, needed = self._geometry(node, "box")
        parent = self.node.parent
        last: list[Any] = [None, None]

        def get() -> Any:
            from chalcedon.evaluate.hulls import NodeHull  # NumPy, only where it is needed

            m = _into(parent, node)
            key = m if node.group else (m, node.outline)
            if last[0] != key or node.group:
                last[0], last[1] = key, NodeHull(node, m)
            return last[1]

        return Bound(SHAPE, get, told, (), needed)


def readable(shape: Shape | Scene) -> list[str]:
    """The properties of a shape that formulas can read."""
    return [n for n, p in shape.properties.items() if p.kind.gives != LIST or n in ("dash", "corners")]


def _component(bound: Bound, name: str) -> Bound:
    at, get = "xy".index(name), bound.get
    return bound._replace(kind=NUMBER, get=lambda: get()[at])


def _hidden(display: DisplayList, what: str) -> Bound:
    if what == "seed":
        return Bound(NUMBER, lambda: display.moment.seed, (("seed",),))
    return Bound(LIST, lambda: display.moment.keys, (("keys",),))


def _into(parent: Node | None, node: Node) -> Affine:
    """The map from a node's local space to that of a group."""
    if node.parent is parent or parent is None:
        return node.local if parent is not None else node.world
    back = parent.inverse
    if back is None:
        raise ValueProblem(f"{parent.shape.id} is flattened to nothing, so nothing can be placed in it.")
    return back.after(node.world)


def back(parent: Node | None, place: tuple[float, float]) -> tuple[float, float]:
    """A place in px of the page, in the space of a group."""
    if parent is None:
        return place
    back = parent.inverse
    if back is None:
        raise ValueProblem(f"{parent.shape.id} is flattened to nothing, so nothing can be placed in it.")
    return back.map(*place)
