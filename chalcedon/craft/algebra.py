"""Shapes made from outlines: union, difference, intersection, exclusion, outline of a stroke, offset, any kind as a
path. Each is one undo step."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from chalcedon.craft.arrange import put_in_place
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.geometry import IDENTITY, MIRROR, Affine, Outline
from chalcedon.geometry.flatten import flatten
from chalcedon.geometry.heads import with_heads
from chalcedon.geometry.pathdata import Segment, from_outline, print_path
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene import Group, Image, Path, Polyline, Scene, Shape
from chalcedon.scene.kinds.path import print_mapped
from chalcedon.scene.order import outermost
from chalcedon.scene.shapes import Painted
from chalcedon.scene.tidy import article, tidy

if TYPE_CHECKING:
    from chalcedon.geometry.booleans import Filled

WORDS = {"union": "Unite", "difference": "Subtract", "intersection": "Intersect", "exclusion": "Exclude"}


def combined(display: DisplayList, shapes: Sequence[Shape], operation: str, keep: bool = False) -> Path:
    """Makes one path of several shapes and takes them away, unless they are to be kept.

    `operation` is union, difference (the rearmost without the others), intersection or exclusion. A group counts as
    the union of what is in it. The path has the paint of the rearmost shape and takes the place of the frontmost.
    Raises ChalcedonError, and changes nothing, when there is too little to combine, or when nothing would be left.
    """
    from chalcedon.geometry import booleans  # loaded when needed: it takes long

    if operation not in WORDS:
        raise ValueProblem(f"{operation} is not an operation here.", hint=nearest(operation, WORDS))
    scene = display.scene
    todo = outermost(shapes)
    if len(todo) < 2:
        raise ValueProblem("that takes two shapes or more.", hint="Shift-click selects another.")
    display.settle()
    areas = [_area(display.node(s)) for s in todo]
    result = booleans.combine(operation, areas)
    if not result.verbs:
        raise ValueProblem(f"nothing is left of the {operation} of {', '.join(s.id for s in todo)}.")
    first, last = todo[0], todo[-1]
    looks = next((s for s in first.walk() if isinstance(s, Painted)), None)
    with scene.step(f"{WORDS[operation]} {', '.join(s.id for s in todo)}"):
        new = _insert(display, result, last, looks, operation)
        if not keep:
            for shape in reversed(todo):
                scene.remove(shape)
    return new


def stroke_as_path(display: DisplayList, shape: Shape) -> Path:
    """Turns a shape's stroke, with its caps, joins, dashes and heads, into a filled path in front of it.

    A shape without a fill goes; one with a fill keeps it and loses the stroke.
    """
    from chalcedon.geometry import booleans  # loaded when needed: it takes long

    display.settle()
    node = display.node(shape)
    if not isinstance(shape, Painted) or node.stroke is None or node.pen is None or node.pen.width <= 0.0:
        raise ValueProblem(f"{shape.id} has no stroke to take the outline of.", hint="Give it one first.")
    scene = display.scene
    line, pen, manner = node.outline, node.pen, node.manner
    heads = None
    if manner.headed:
        line, heads = with_heads(line, manner.head, manner.start, manner.end, manner.mid)
    to_scene = node.world
    if manner.steady:  # its width is in scene px
        line, to_scene = line.mapped(node.world), Affine()
        heads = heads and heads.mapped(node.world)
    band = booleans.stroke_outline(line, pen, heads)
    if manner.align != "center":
        side = booleans.Filled(line, node.even_odd)
        operation = "intersection" if manner.align == "inside" else "difference"
        band = booleans.combine(operation, [booleans.Filled(band), side])
    with scene.step(f"Outline the stroke of {shape.id}"):
        new = _insert(display, band.mapped(to_scene), shape, None, shape.id + "_stroke")
        new.fill, new.opacity, new.blend = shape.stated("stroke"), shape.stated("opacity"), shape.stated("blend")
        if shape.stated("fill") is None:
            scene.remove(shape)
        else:
            shape.stroke = None
    return new


def offset_path(display: DisplayList, shape: Shape, distance: float, join: str = "") -> Path:
    """A path around a shape, or inside it when the distance is negative, in px of its own space.

    It lies behind the shape when larger, in front when smaller. `join` is that of the shape when not given.
    """
    from chalcedon.geometry import booleans  # loaded when needed: it takes long

    display.settle()
    node = display.node(shape)
    area = _area(node, Affine())
    limit = shape.miter_limit if isinstance(shape, Painted) else 4.0
    result = booleans.offset(area, distance, join or (shape.join if isinstance(shape, Painted) else "miter"), limit)
    if not result.verbs:
        raise ValueProblem(f"nothing is left of {shape.id} at {distance:g}.", hint="Take a smaller distance.")
    looks = next((s for s in shape.walk() if isinstance(s, Painted)), None)
    with display.scene.step(f"Offset {shape.id} by {distance:g}"):
        return _insert(display, result.mapped(node.world), shape, looks, shape.id + "_offset", distance > 0.0)


def _take_looks(shape: Painted, new: Painted) -> None:
    """Gives a new shape what another states, but for where it is."""
    for name, value in shape._values.items():
        if name in new.properties and name not in ("anchor", "at", "pivot", "points", "closed", "data"):
            new.assign(name, value)
    for name in ("fill", "stroke", "stroke_width"):
        new.assign(name, shape.stated(name))


def as_path(scene: Scene, node: Node) -> Path:
    """The same shape as a path, under the same id: place, paint and steps stay, its own numbers are given up."""
    shape = node.shape
    if isinstance(shape, Group | Image) or not isinstance(shape, Painted):
        raise ValueProblem(f"{shape.id} is {article(shape.kind)}; it has no outline of its own.")
    if isinstance(shape, Path):
        return shape
    new = Path()
    _take_looks(shape, new)
    new.at = shape.stated("at") if node.host is None else node.at
    if new.properties["pivot"].default != shape.stated("pivot"):
        new.pivot = shape.stated("pivot")
    if node.kind.text and shape.steps:  # the box of letters is not the box of their outlines
        x, y = node.pivot
        left, top, right, bottom = node.outline.bounds()
        new.pivot = ((x - left) / max(right - left, 1e-9), (y - top) / max(bottom - top, 1e-9))
    new.data = _exact_data(node) or data_of(lying(node, node.outline))
    with scene.step(f"Make {shape.id} a path"):
        put_in_place(scene, shape, new)
    return new


def _exact_data(node: Node) -> str:
    """The outline of a round kind with its arcs as arcs; empty for any other."""
    painted, (sx, sy) = node.painted(), node.shift
    out = []
    for s in painted.arcs():
        numbers = list(s.numbers)
        if numbers:
            numbers[-2:] = [numbers[-2] + sx, numbers[-1] + sy]
        out.append(s._replace(numbers=tuple(numbers)))
    return print_mapped(out, MIRROR if node.kind.lie.mirrored else IDENTITY)


def lying(node: Node, outline: Outline) -> Outline:
    """An outline in a shape's local space in the axes of its parent's: what a path with the same `at` has."""
    return outline.mapped(MIRROR) if node.kind.lie.mirrored else outline


def as_polyline(scene: Scene, node: Node, tolerance: float) -> Polyline | Path:
    """The same outline in straight lines, nowhere farther off than a tolerance in px of its own space: a polyline, or
    a path where it has several parts; a polyline without curves stays as it is. Raises ValueProblem for what has no
    outline of its own."""
    shape = node.shape
    if isinstance(shape, Group | Image) or not isinstance(shape, Painted) or not node.outline.verbs:
        raise ValueProblem(f"{shape.id} is {article(shape.kind)}; it has no outline to go along.")
    if tolerance <= 0.0:
        raise ValueProblem(f"{tolerance:g} px is no tolerance.", hint="It must be more than 0.")
    lines = [line for line in flatten(lying(node, node.outline), tolerance) if len(line.vertices) > 1]
    parts = [([(tidy(v.x, 4), tidy(v.y, 4)) for v in line.vertices], line.closed) for line in lines]
    if not parts:
        raise ValueProblem(f"the outline of {shape.id} has no length.")
    if isinstance(shape, Polyline) and shape.stated("curve") == 0:
        return shape
    new: Polyline | Path
    if len(parts) == 1:
        points, closed = parts[0]
        points = points[:-1] if closed and points[0] == points[-1] else points
        new = Polyline(points=points, closed=closed)
    else:
        letters = [Segment("M" if i == 0 else "L", point) for points, _ in parts for i, point in enumerate(points)]
        new = Path()
        new.data = print_path(_closing(letters, [closed for _, closed in parts]))
    _take_looks(shape, new)
    new.at = shape.stated("at") if node.host is None else node.at
    with scene.step(f"Make {shape.id} a polyline"):
        put_in_place(scene, shape, new)
    return new


def _closing(segments: Sequence[Segment], closed: Sequence[bool]) -> Iterator[Segment]:
    """Parts of a path, each closed where it says so."""
    part = -1
    for i, s in enumerate(segments):
        part += s.letter == "M"
        yield s
        if closed[part] and (i + 1 == len(segments) or segments[i + 1].letter == "M"):
            yield Segment("Z", ())


def data_of(outline: Outline) -> str:
    """An outline as path data with numbers a person can read."""
    return print_path(s._replace(numbers=tuple(tidy(v, 4) for v in s.numbers)) for s in from_outline(outline))


def _area(node: Node, to: Affine | None = None) -> Filled:
    """What a shape fills, in scene px or mapped from its own space by `to`; of a group, all that is in it."""
    from chalcedon.geometry import booleans  # loaded when needed: it takes long

    m = node.world if to is None else to
    if not node.group:
        outline = node.outline
        if not outline.verbs.strip("ML") and outline.verbs.count("L") < 2:
            raise ValueProblem(f"{node.shape.id} encloses no area.", hint="Take the outline of its stroke first.")
        return booleans.Filled(outline.mapped(m), node.even_odd)
    parts = []
    for leaf in node.walk_leaves():
        back = node.inverse
        way = leaf.world if to is None or back is None else m.after(back.after(leaf.world))
        parts.append(booleans.Filled(leaf.outline.mapped(way), leaf.even_odd))
    return booleans.Filled(booleans.combine("union", parts))


def _insert(
    display: DisplayList, result: Outline, near: Shape, looks: Shape | None, id: str, behind: bool = False
) -> Path:
    """Adds a path with an outline in scene px beside a shape, placed at the middle of its box."""
    parent = near.parent
    assert parent is not None
    back = display.node(parent).world.inverse()
    if back is None:
        raise ValueProblem(f"{parent.id} is scaled to nothing; shapes can't be put into it.")
    local = result.mapped(back)
    box = local.bounds()
    at = tidy((box[0] + box[2]) / 2, 2), tidy((box[1] + box[3]) / 2, 2)
    new = Path(at=at, data=data_of(local.mapped(Affine.translate(-at[0], -at[1]))))
    if looks is not None:
        for name, prop in Painted.properties.items():
            if prop.section == "paint" and name in looks.properties and name in looks._values:
                new.assign(name, looks.stated(name))
        new.fill = looks.stated("fill")
    index = parent.index_of(near) + (0 if behind else 1)
    new.id = display.scene.free_id(id)
    display.scene.add(new, parent, index)
    return new


def as_one_area(display: DisplayList, shape: Shape) -> Path:
    """The shape as a path whose outline no longer crosses itself, filled as it was."""
    from chalcedon.geometry import booleans  # loaded when needed: it takes long

    display.settle()
    node = display.node(shape)
    area = booleans.combine("union", [booleans.Filled(node.outline, node.even_odd)])
    with display.scene.step(f"Take out the crossings of {shape.id}"):
        path = as_path(display.scene, node)
        own = lying(node, area) if path is not shape else area.mapped(Affine.translate(-node.shift[0], -node.shift[1]))
        path.data = data_of(own)
        path.fill_rule = "nonzero"
    return path
