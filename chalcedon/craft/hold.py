"""Changes of a shape that hold a point of it in place on the page.

Raw space (scene/grips.py) is a kind's own coordinates before the anchor; a group's are those of its children.
Whatever anchor, pivot and steps do, `at` is worked out so that the point which must stay does.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.place import anchored, standing
from chalcedon.formula import Formula, plus, plus_point
from chalcedon.geometry import Affine
from chalcedon.scene import Shape, Step
from chalcedon.scene.declare import Stored, told_now
from chalcedon.scene.grips import Change, Handle, Point
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import place_in


class Start:
    """A shape as it was when a drag began. Invariant: nothing in here changes during the drag."""

    def __init__(self, node: Node) -> None:
        shape = node.shape
        self.shape = shape
        self.painted = node.painted()
        self.steps: tuple[Step, ...] = node.value("steps")
        self.anchor, self.pivot, self.at = node.value("anchor"), node.value("pivot"), node.value("at")
        self.values = dict(node.values)
        self.still = type(shape).bare(shape.id)
        """The shape as it was, in no scene: the shape itself changes during the drag."""
        self.still.take(_as_painted(node), set(shape._formulas or ()))
        self.node = node
        self.box = node.raw_box()
        _local, (x, y) = anchored(self.box, self.anchor, node.kind.lie.up)
        self.shift = -x, -y
        self.parent = node.parent.world if node.parent is not None else Affine()
        self.to_parent = (
            node.local.after(Affine.translate(-self.shift[0], -self.shift[1])) if not node.group else node.local
        )
        back = self.parent.after(self.to_parent).inverse()
        self.from_scene = back

    @property
    def pivot_point(self) -> Point:
        """The pivot in raw space."""
        return self.shift if self.pivot == "origin" else place_in(self.box, self.pivot, self.node.kind.lie.up)

    def handles(self) -> list[Handle]:
        """The handles of the shape, whose drags know it as it was: it changes while one of them is dragged."""
        return self.still.handles(self.box)

    def raw_of(self, x: float, y: float) -> Point | None:
        """Scene px to raw space; None for a shape that is flattened to nothing."""
        return self.from_scene.map(x, y) if self.from_scene is not None else None

    def scene_of(self, raw: Point) -> Point:
        """Raw space to scene px."""
        return self.parent.map(*self.to_parent.map(*raw))

    def settle(self, change: Change, target: Point | None = None) -> dict[str, Any]:
        """The values of a change, with `at` such that the point which must stay does; or is at a target in the parent's
        space."""
        kind = type(self.shape)
        values = {**self.values, **{n: kind.properties[n].kind.plain(v) for n, v in change.values.items()}}
        target = target or self.to_parent.map(*change.before)
        lie = self.node.kind.lie
        raw = self.box if self.node.group else self.node.kind.box(values)
        box, (sx, sy) = anchored(raw, values.get("anchor", kind.properties["anchor"].default), lie.up)
        local = change.after[0] + sx, change.after[1] + sy
        pivot, steps = values.get("pivot", kind.properties["pivot"].default), values.get("steps", ())

        def place(at: Point) -> Point:
            return standing(at, box, pivot, steps, lie).map(*local)

        if all(s.about is None for s in steps):
            ox, oy = place((0.0, 0.0))  # all of it goes along with `at`
            at: Point | None = (target[0] - ox, target[1] - oy)
        else:
            at = _solve(place, target)
        out = dict(change.values)
        if at is not None:
            near = tidy(at[0], 3), tidy(at[1], 3)
            if abs(near[0] - self.at[0]) > 5e-4 or abs(near[1] - self.at[1]) > 5e-4:
                out["at"] = near
            else:
                out["at"] = self.shape.stated("at") if self.at == self.shape.at else self.at
        told = self.still._formulas or ()
        return {n: in_formulas(self.still.stated(n), v) if n in told else v for n, v in out.items()}


def in_formulas(stated: Any, new: Any) -> Any:
    """A value that a hand gives to one that is stated with formulas: a number or a point that a formula gives gets the
    difference to its last value added to its text; what no formula gives is as the hand says."""
    if isinstance(stated, Formula):
        return _shifted(stated, new)
    if isinstance(stated, tuple) and type(stated) is type(new) and len(stated) == len(new):
        inner = [in_formulas(s, n) for s, n in zip(stated, new, strict=True)]
        return type(stated)(*inner) if hasattr(stated, "_fields") else tuple(inner)
    return new


def _shifted(formula: Formula, new: Any) -> Any:
    last = formula.last
    if _is_number(last) and _is_number(new):
        by = tidy(new - last)
        return Formula(plus(formula.text, by), new) if by else formula
    if isinstance(last, tuple) and isinstance(new, tuple) and len(last) == len(new) == 2:
        dx, dy = tidy(new[0] - last[0]), tidy(new[1] - last[1])
        return Formula(plus_point(formula.text, dx, dy), new) if dx or dy else formula
    return new


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _as_painted(node: Node) -> Stored:
    """What a shape states, its formulas with what they come to as their last values."""
    values = dict(node.shape._values)
    for name in node.shape._formulas or ():
        if name in node.values:
            values[name] = told_now(values[name], node.values[name])
    return values


def _solve(place: Callable[[Point], Point], target: Point) -> Point | None:
    """The argument at which an affine function of the plane takes the value `target`."""
    ox, oy = place((0.0, 0.0))
    ax, ay = place((1.0, 0.0))
    bx, by = place((0.0, 1.0))
    ax, ay, bx, by = ax - ox, ay - oy, bx - ox, by - oy
    det = ax * by - ay * bx
    if abs(det) < 1e-12:
        return None
    dx, dy = target[0] - ox, target[1] - oy
    return (dx * by - dy * bx) / det, (ax * dy - ay * dx) / det


def set_anchor(display: DisplayList, shape: Shape, anchor: Any) -> None:
    """Another anchor; `at` is rewritten so that the shape stays where it is. Raises ValueProblem for what is none."""
    anchor = shape.declared("anchor").read(anchor, shape.id)
    display.settle()
    start = Start(display.node(shape))
    fixed = (start.box[0], start.box[1])
    with display.scene.step(f"Change anchor of {shape.id}"):
        for name, value in start.settle(Change({"anchor": anchor}, fixed, fixed, "")).items():
            shape.assign(name, value)


def set_pivot(display: DisplayList, shape: Shape, pivot: Any) -> None:
    """Another pivot; `at` is rewritten so that the shape stays where it is. Raises ValueProblem for what is none."""
    pivot = shape.declared("pivot").read(pivot, shape.id)
    display.settle()
    start = Start(display.node(shape))
    with display.scene.step(f"Change pivot of {shape.id}"):
        for name, value in start.settle(Change({"pivot": pivot}, start.shift, start.shift, "")).items():
            shape.assign(name, value)
