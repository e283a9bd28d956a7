"""Steps one by one: the place after each, which of them commute, and steps baked into a shape's own numbers."""

from __future__ import annotations

import math

from chalcedon.craft.arrange import explicit_steps
from chalcedon.craft.hold import Start, in_formulas
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula
from chalcedon.formula.relative import times
from chalcedon.geometry import MIRROR, Affine
from chalcedon.problems import ValueProblem
from chalcedon.scene import Group, Shape
from chalcedon.scene.grips import Change
from chalcedon.scene.proportions import refitted
from chalcedon.scene.similar import EXACT, is_uniform
from chalcedon.scene.tidy import article, tidy


def after_each(node: Node) -> list[Affine]:
    """The maps from the shape's own space to its parent's: before any step, after the first, ..., after all."""
    steps = node.value("steps")
    return [node.with_steps(steps[:i]) for i in range(len(steps) + 1)]


def swapped(node: Node, i: int) -> Affine:
    """The map that results when step `i` and the one after it change places."""
    steps = list(node.value("steps"))
    steps[i], steps[i + 1] = steps[i + 1], steps[i]
    return node.with_steps(tuple(steps))


def commute(node: Node, i: int) -> bool:
    """Whether step `i` and the one after it can change places without any effect on the picture."""
    now, then = after_each(node)[-1], swapped(node, i)
    box = node.box if node.box[0] <= node.box[2] else (0.0, 0.0, 1.0, 1.0)
    corners = [(box[0], box[1]), (box[2], box[1]), (box[0], box[3]), (box[2], box[3])]
    return all(math.dist(now.map(*c), then.map(*c)) < 1e-6 for c in corners)


def bake(display: DisplayList, shape: Shape) -> None:
    """Takes the steps into the shape's own numbers, without a change on the page. A group hands its steps down.

    Raises ValueProblem, and changes nothing, when the kind can't hold the result: a turned rect, a circle of two radii.
    """
    display.settle()
    if not shape.steps:
        raise ValueProblem(f"{shape.id} has no steps to bake.")
    if any(isinstance(v, Formula) for s in shape.stated("steps") for v in s.values):
        raise ValueProblem(f"the steps of {shape.id} have formulas; they are kept.")
    with display.scene.step(f"Bake the steps of {shape.id}"):
        if isinstance(shape, Group):
            _hand_down(display, shape)
            return
        if not display.node(shape).kind.paints:
            raise ValueProblem(f"the steps of {article(shape.kind)} can't be baked.")
        node = display.node(shape)
        start = Start(node)
        linear = Affine(*node.local[:4], 0.0, 0.0)
        if node.kind.lie.mirrored:
            linear = MIRROR.after(linear)  # without steps it is mirrored as well
        _check_stroke(shape, linear)
        values = shape.baked(linear)
        raw = (0.0, 0.0)
        after = raw
        if shape.upright and not node.kind.text:  # letters have their origin on the line they stand on
            # the raw corner that becomes the new top left: boxes have their own origin there
            x0, y0, x1, y1 = start.box
            corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
            raw = min(corners, key=lambda c: sum(linear.map(*c)))
            after = (0.0, 0.0)
        stroked = "stroke_width" in shape.properties and not shape.steady  # type: ignore[attr-defined]
        scale = math.sqrt(abs(linear.a * linear.d - linear.b * linear.c))
        values |= refitted(shape, values)
        values |= {"steps": (), "pivot": type(shape).properties["pivot"].default}
        for name, value in start.settle(Change(values, raw, after, "")).items():
            shape.assign(name, value)
        for name in ("stroke_width", "dash") if stroked and abs(scale - 1) > EXACT else ():
            stated = shape.stated(name)
            if isinstance(stated, Formula) and isinstance(stated.last, tuple):
                raise ValueProblem(f"{shape.id}.{name} is one formula; its numbers can't be scaled.")
            shape.assign(name, times(stated, tidy(scale, 9), 4))


def _check_stroke(shape: Shape, m: Affine) -> None:
    """A stroke stretched one way only isn't one of any width."""
    if getattr(shape, "stroke", None) is None or getattr(shape, "steady", False) or shape.kind == "image":
        return
    if not is_uniform(m):
        raise ValueProblem(
            f"the steps stretch the stroke of {shape.id} one way more than the other; no stroke width does that.",
            hint="Take the outline of the stroke first, or make it steady.",
        )


def _hand_down(display: DisplayList, group: Group) -> None:
    steps = explicit_steps(display, group)
    x, y = display.node(group).local_origin()
    for child in group.children:
        moved = tuple(s._replace(about=None if s.about is None else (s.about[0] - x, s.about[1] - y)) for s in steps)
        child.steps = (*explicit_steps(display, child), *moved)
    group.steps = ()
    display.settle()  # by its anchor it stands elsewhere now that what is in it has another box
    node = display.node(group)
    (left, top), (px, py) = node.local_origin(), node.value("at")
    if (left, top) != (x, y):
        group.at = in_formulas(group.stated("at"), (tidy(px + x - left, 4), tidy(py + y - top, 4)))
