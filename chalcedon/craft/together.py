"""Several shapes sized, turned or mirrored as one, by a box around all of them.

The numbers of each kind follow as its nature is: a radius stays a radius, a turned rect stays a rect, what is in a
group is changed where it stands. Boxes are those of outlines in scene px; strokes don't count.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

from chalcedon.collector import collector_paused
from chalcedon.craft.hold import Start
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula
from chalcedon.geometry import EMPTY, IDENTITY, MIRROR, Affine, Box
from chalcedon.geometry.boxes import is_empty
from chalcedon.problems import ValueProblem
from chalcedon.scene import Shape, Step
from chalcedon.scene.grips import Change, Point
from chalcedon.scene.limits import within
from chalcedon.scene.order import names_of, outermost
from chalcedon.scene.paints import Gradient, Pattern, Picture
from chalcedon.scene.proportions import ratio_of, refitted
from chalcedon.scene.shapes import Unknown
from chalcedon.scene.similar import is_uniform
from chalcedon.scene.steps import step_matrix
from chalcedon.scene.tidy import tidy

LEAST = 1e-3
"""The smallest factor: what is made smaller than that could not be made larger again."""
DIGITS = 4
NEW_AXES = {"x": Affine(-1.0, 0.0, 0.0, 1.0, 0.0, 0.0), "y": Affine(1.0, 0.0, 0.0, -1.0, 0.0, 0.0)}

Made = dict[Shape, dict[str, Any]]
"""New values of shapes."""


class Together:
    """Several shapes as they were when a change of all of them began; each change is counted from there, so that
    there and back is where it was. Locked shapes are left out."""

    def __init__(self, display: DisplayList, shapes: Sequence[Shape]) -> None:
        display.settle()
        self.display = display
        todo = [s for s in outermost(shapes) if not isinstance(s, Unknown)]
        self.nodes = [n for n in map(display.node, todo) if not n.locked]
        self.shapes = [n.shape for n in self.nodes]
        self._starts: dict[Node, Start] = {}
        self._touched: dict[tuple[Shape, str], Any] = {}  # what was stated before `apply` gave it another value
        self.box = box_around(self.nodes)

    @property
    def middle(self) -> Point:
        """The middle of the box around them, in scene px."""
        return (self.box[0] + self.box[2]) / 2, (self.box[1] + self.box[3]) / 2

    def sized(self, fixed: Point, sx: float, sy: float, strokes: bool = False) -> Made:
        """The values with which all of it is that much wider and taller about a point in scene px. Factors are at least
        `LEAST`; where one way grows more than the other, what is round takes the smaller factor. With `strokes`, widths
        and dashes grow as well."""
        sx, sy = (max(abs(s), LEAST) for s in (sx, sy))
        m = Affine(sx, 0.0, 0.0, sy, fixed[0] * (1 - sx), fixed[1] * (1 - sy))
        out: Made = {}
        with collector_paused():
            for node in self.nodes:
                inner = self._seen_from(node, m)
                if inner is not None:
                    self._size(node, inner, strokes, out)
        return out

    def turned(self, about: Point, degrees: float) -> Made:
        """The values with which all of it is turned about a point in scene px."""
        angle = math.radians(degrees)
        c, s = math.cos(angle), math.sin(angle)
        m = Affine(c, s, -s, c).about(*about)
        return {n.shape: self._turn(n, inner) for n in self.nodes if (inner := self._seen_from(n, m)) is not None}

    def mirrored(self, axis: str, at: float | None = None) -> Made:
        """The values with which all of it is mirrored left to right (`x`) or top to bottom (`y`), about the middle of
        its box or about a place on that axis in scene px."""
        if axis not in NEW_AXES:
            raise ValueProblem(f"{axis} is not an axis.", hint="There are x and y.")
        i = 0 if axis == "x" else 1
        middle = self.middle[i] if at is None else at
        m = NEW_AXES[axis].about(middle, middle)
        return {n.shape: self._mirror(n, inner) for n in self.nodes if (inner := self._seen_from(n, m)) is not None}

    def apply(self, made: Made, name: str, gesture: object = None) -> None:
        """Gives the shapes the values, as one undo step. What an earlier change gave and this one doesn't goes back to
        what it was."""
        with collector_paused(), self.display.scene.step(name, gesture):
            for shape, key in [k for k in self._touched if k[1] not in made.get(k[0], ())]:
                made.setdefault(shape, {})[key] = self._touched[shape, key]
            for shape, values in made.items():
                for key, value in values.items():
                    self._touched.setdefault((shape, key), shape.stated(key))
                    if shape.stated(key) != value:
                        shape.assign(key, value)

    # one shape

    def _seen_from(self, node: Node, m: Affine) -> Affine | None:
        """A map of the scene as one of the space of a shape's parent."""
        space = node.parent.world if node.parent is not None else IDENTITY
        return m if space is IDENTITY else _conjugate(space, m)

    def _start(self, node: Node) -> Start:
        if node not in self._starts:
            self._starts[node] = Start(node)
        return self._starts[node]

    def _size(self, node: Node, m: Affine, strokes: bool, out: Made) -> None:
        """Adds the values of a shape, and of what is in it, that a map of its parent's space gives it."""
        if node.group:
            self._size_group(node, m, strokes, out)
            return
        if not node.kind.paints:
            return
        start = self._start(node)
        shape = start.still
        if _is_held(shape):
            return
        a, b, c, d = start.to_parent[:4]
        along, across = (_grown(m, v) for v in ((a, b), (c, d)))
        least = min(along, across)
        loose = (shape.stretches or hasattr(shape, "radii")) and not ratio_of(shape)
        factors = (along, across) if loose else (least, least)
        if along == across == 1.0:
            values: dict[str, Any] = {}
        elif math.isclose(along, across, rel_tol=1e-12):
            values = shape.baked(Affine.scale(along, along))
        else:
            values = shape.stretched(*factors)
        kinds = {n: shape.properties[n].kind for n in values}
        held = shape._formulas or ()
        values = {n: within(kinds[n], v) for n, v in values.items() if n not in held}
        if strokes and "stroke_width" in shape.properties and not shape.steady:  # type: ignore[attr-defined]
            values |= _stroke_grown(shape, math.sqrt(factors[0] * factors[1]))
        values |= _steps_under(start, m)
        out[node.shape] = _centred(start, values, m)

    def _size_group(self, node: Node, m: Affine, strokes: bool, out: Made) -> None:
        start = self._start(node)
        if _is_held(start.still):
            return
        boxed = start.anchor != "origin" or (start.pivot != "origin" and bool(start.steps))
        if boxed or any(s.on for s in start.steps):
            # where its box counts it stands by what is in it: a step of its own does to the whole what is meant
            inner = None if boxed else _conjugate(start.to_parent, m)
            if inner is None and m == Affine():
                return
            if inner is None:
                out[node.shape] = {"steps": (*start.still.stated("steps"), _step_of(m))}
                return
        else:
            x, y = start.at
            out[node.shape] = {"at": _tidy(m.map(x, y))}
            inner = Affine(*m[:4], 0.0, 0.0)
        for child in node.children:
            self._size(child, inner, strokes, out)

    def _turn(self, node: Node, m: Affine) -> dict[str, Any]:
        start = self._start(node)
        shape = start.still
        if not is_uniform(m):
            return {"steps": (*shape.stated("steps"), _step_of(m))}
        if _is_round(shape):
            return _centred(start, {}, m)
        steps = _turned_steps(shape.stated("steps"), math.degrees(math.atan2(m.b, m.a)))
        return _about_pivot(start, {"steps": steps}, m)

    def _mirror(self, node: Node, m: Affine) -> dict[str, Any]:
        start = self._start(node)
        shape = start.still
        flat = Affine(*m[:4], 0.0, 0.0)
        own = None if node.group or not _is_plain(shape) else _mirrored_values(start, flat)
        if own is None:
            return _about_pivot(start, {"steps": _flipped_steps(shape.stated("steps"), flat)}, m)
        if shape.upright:
            return _centred(start, own, m)
        # other kinds are drawn from their origin: the middle of a box isn't that of its image in a slanted mirror
        return _settled(start, own, Change({}, (0.0, 0.0), (0.0, 0.0)), m)


def box_around(nodes: Iterable[Node]) -> Box:
    """The exact box of outlines in scene px; EMPTY for none. Of many, only those that may touch its sides are measured
    exactly: the box of a turned box holds what is in it."""
    leaves = [leaf for n in nodes for leaf in (n.walk_leaves() if n.group else [n]) if leaf.box[0] <= leaf.box[2]]
    if not leaves:
        return EMPTY
    loose = [leaf.world.map_box(leaf.box) for leaf in leaves]
    exact: dict[int, Box] = {}
    sides = []
    for side in range(4):
        sign = 1.0 if side < 2 else -1.0
        best = math.inf
        for i in sorted(range(len(leaves)), key=lambda i, side=side, sign=sign: sign * loose[i][side]):  # type: ignore[misc]
            if sign * loose[i][side] >= best:
                break
            if i not in exact:
                exact[i] = leaves[i].bounds()
            best = min(best, sign * exact[i][side])
        sides.append(sign * best)
    return sides[0], sides[1], sides[2], sides[3]


def _conjugate(space: Affine, m: Affine) -> Affine | None:
    """A map of the outer space as one of the inner; None when that is flattened to nothing."""
    back = space.inverse()
    return back.after(m.after(space)) if back is not None else None


def _grown(m: Affine, vector: Point) -> float:
    length = math.hypot(*vector)
    return math.hypot(*m.map_vector(*vector)) / length if length else 1.0


def _tidy(point: Point) -> Point:
    return tidy(point[0], DIGITS), tidy(point[1], DIGITS)


def _is_formula(value: Any) -> bool:
    return isinstance(value, Formula)


def _has_formula(value: Any) -> bool:
    return _is_formula(value) or (isinstance(value, tuple) and any(map(_has_formula, value)))


def _is_held(shape: Shape) -> bool:
    """Whether a formula says where it is."""
    return "at" in (shape._formulas or ())


def _middle(node: Node, start: Start) -> Point:
    """The middle of the box in raw space; a group that holds nothing has its origin."""
    left, top, right, bottom = start.box
    return ((left + right) / 2, (top + bottom) / 2) if left <= right else (0.0, 0.0)


def _about_pivot(start: Start, values: dict[str, Any], m: Affine) -> dict[str, Any]:
    """The values, with `at` such that the pivot is where the map puts it."""
    pivot = start.pivot_point
    return _settled(start, values, Change({}, pivot, pivot), m)


def _centred(start: Start, values: dict[str, Any], m: Affine) -> dict[str, Any]:
    """The values, with `at` such that the middle of the box is where the map puts it."""
    before = _middle(start.node, start)
    box = start.node.kind.box({**start.values, **values})
    return _settled(start, values, Change({}, before, ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)), m)


def _settled(start: Start, values: dict[str, Any], change: Change, m: Affine) -> dict[str, Any]:
    """Values as they will be stated, and the place that goes with them."""
    target = m.map(*start.to_parent.map(*change.before))
    out = start.settle(Change(values, change.before, change.after), target)
    out |= values
    if start.node.host is not None:
        del out["at"]  # the shape that it sits in says where it is
    return out


def _stroke_grown(shape: Shape, factor: float) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for name in ("stroke_width", "dash", "dash_offset"):
        old = shape.stated(name)
        if not _has_formula(old):
            new = tuple(tidy(v * factor, DIGITS) for v in old) if isinstance(old, tuple) else tidy(old * factor, DIGITS)
            if new != old and (name != "stroke_width" or shape.stated("stroke") is not None):
                out[name] = new
    return out


def _steps_under(start: Start, m: Affine) -> dict[str, Any]:
    """The steps with their places and ways under a map; what they turn and scale by stays."""
    steps = start.still.stated("steps")
    if not steps:
        return {}
    new = tuple(s if _has_formula(s.values) or _has_formula(s.about) else _step_under(s, m) for s in steps)
    return {"steps": new} if new != steps else {}


def _step_under(step: Step, m: Affine) -> Step:
    about = None if step.about is None else _tidy(m.map(*step.about))
    values = step.values
    if step.op == "translate":
        values = _tidy(m.map_vector(*values))
    elif step.op == "matrix":
        values = (*values[:4], *_tidy(m.map_vector(*values[4:])))
    return Step(step.op, values, about, step.on)


def _step_of(m: Affine) -> Step:
    """A map of the parent's space as a step."""
    return Step("matrix", tuple(tidy(v, 9) for v in m), (0, 0))


def _is_round(shape: Shape) -> bool:
    """Whether nothing is seen of its being turned."""
    return shape.kind == "circle" and _is_plain(shape) and not shape.stated("steps") and not shape.stated("dash")


def _is_plain(shape: Shape) -> bool:
    """Whether its paints have no places and directions of their own."""
    paints = [shape.stated(n) for n in ("fill", "stroke") if n in shape.properties]
    return shape.kind != "image" and not any(isinstance(p, Gradient | Pattern | Picture | Formula) for p in paints)


def _turned_steps(steps: tuple[Step, ...], degrees: float) -> tuple[Step, ...]:
    """The steps with so much rotation after them; a rotation at their end takes it up."""
    last = steps[-1] if steps else None
    if last is not None and last.op == "rotate" and last.on and last.about is None and not _has_formula(last.values):
        degrees = (last.values[0] + degrees + 180.0) % 360.0 - 180.0
        steps = steps[:-1]
    degrees = tidy(degrees, DIGITS)
    return steps if degrees == 0 else (*steps, Step("rotate", (degrees,)))


def _flipped_steps(steps: tuple[Step, ...], flat: Affine) -> tuple[Step, ...]:
    """The steps with a reflection after them. One that is there already is taken away."""
    plain = (flat.a, flat.d) in ((-1.0, 1.0), (1.0, -1.0)) and flat.b == flat.c == 0.0
    new = Step("scale", (tidy(flat.a), tidy(flat.d))) if plain else Step("matrix", tuple(flat))
    return steps[:-1] if steps and steps[-1] == new else (*steps, new)


def _mirrored_values(start: Start, flat: Affine) -> dict[str, Any] | None:
    """What the shape's own numbers and steps are in a mirror; None where they can't say it."""
    steps = start.still.stated("steps")
    if any(_has_formula(s.values) or _has_formula(s.about) or s.about is not None for s in steps):
        return None
    if any(_has_formula(start.still.stated(n)) for n in start.still.properties):
        return None
    try:
        over = start.node.kind.lie.mirrored
        values = start.still.baked(MIRROR.after(flat).after(MIRROR) if over else flat)
        values |= refitted(start.still, values)
    except ValueProblem:
        return None
    mirrored = tuple(_mirrored_step(s, flat) for s in steps)
    return values | ({"steps": mirrored} if mirrored != steps else {})


def _mirrored_step(step: Step, flat: Affine) -> Step:
    """What a step about the shape's own pivot is in a mirror."""
    if step.op == "translate":
        return Step(step.op, _tidy(flat.map_vector(*step.values)), None, step.on)
    if step.op == "scale" and flat.b == flat.c == 0.0:
        return step
    if step.op == "rotate" and is_uniform(flat):
        return Step(step.op, (-step.values[0],), None, step.on)
    if step.op == "skew" and flat.b == flat.c == 0.0:
        return Step(step.op, tuple(-v for v in step.values), None, step.on)
    turned = flat.after(step_matrix(step.op, step.values).after(flat))
    return Step("matrix", tuple(tidy(v, 9) for v in turned), None, step.on)


def size(
    display: DisplayList, shapes: Sequence[Shape], sx: float, sy: float | None = None, strokes: bool = False
) -> None:
    """Makes shapes wider and taller about the middle of the box around all of them, as one undo step."""
    both = Together(display, shapes)
    if is_empty(both.box):
        raise ValueProblem("there is nothing that has a size.", hint="Give some shapes that are not locked.")
    for factor in (sx, sy):
        if factor is not None and not (math.isfinite(factor) and factor > 0):
            raise ValueProblem(f"{factor:g} is not a factor of a size.", hint="Factors are above 0.")
    both.apply(both.sized(both.middle, sx, sx if sy is None else sy, strokes), f"Size {names_of(both.shapes)}")


def turn(display: DisplayList, shapes: Sequence[Shape], degrees: float, about: Point | None = None) -> None:
    """Turns shapes about a point in scene px, or the middle of the box around all of them, as one undo step."""
    both = Together(display, shapes)
    both.apply(both.turned(about or both.middle, degrees), f"Rotate {names_of(both.shapes)}")


def mirror(display: DisplayList, shapes: Sequence[Shape], axis: str = "x", at: float | None = None) -> None:
    """Mirrors shapes left to right (`x`) or top to bottom (`y`) about the middle of the box around all of them, or
    about a place on that axis in scene px, as one undo step."""
    both = Together(display, shapes)
    both.apply(both.mirrored(axis, at), f"Mirror {names_of(both.shapes)}")
