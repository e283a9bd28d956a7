"""Changes of the tree that leave the picture as it is: group, ungroup, another parent; and copies, moves."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import bounds_under
from chalcedon.formula import Formula, plus, plus_point
from chalcedon.geometry.boxes import is_empty, union
from chalcedon.problems import ValueProblem
from chalcedon.scene import Group, Scene, Shape, Step
from chalcedon.scene.copies import fresh_ids
from chalcedon.scene.order import names_of, outermost
from chalcedon.scene.shapes import Unknown
from chalcedon.scene.tidy import tidy


def group(display: DisplayList, shapes: Sequence[Shape], id: str = "") -> Group:
    """Puts shapes into a new group at the place of the frontmost. What is seen stays as it is.

    The group's own origin, which its steps turn about, is put in the middle of the shapes.
    """
    scene = display.scene
    todo = outermost(shapes)
    if not todo:
        raise ValueProblem("there is nothing to group.", hint="Select some shapes first.")
    front = todo[-1]
    parent = front.parent
    assert parent is not None
    display.settle()
    box = union([bounds_under(n, n.local) for n in map(display.node, todo) if n.parent is display.node(parent)])
    middle = (0, 0) if is_empty(box) else (round((box[0] + box[2]) / 2), round((box[1] + box[3]) / 2))
    new = Group(id=id or scene.free_id("group"), at=middle)
    with scene.step(f"Group {names_of(todo)}"):
        scene.add(new, parent, parent.index_of(front) + 1)
        for shape in todo:
            move_keeping_place(display, shape, new, len(new.children))
    return new


LOST = ("clip", "clip_by", "blend", "shadow", "isolate", "cuts", "label", "note")
"""What a group states for all it holds together, and no shape can take over alone."""


def ungroup(display: DisplayList, target: Group) -> list[Shape]:
    """Takes the children of a group out into its parent, carrying its transforms, opacity and what hides, locks or
    keeps the pointer from it, and removes it. What is `LOST` goes with the group."""
    scene = display.scene
    parent = target.parent
    if parent is None:
        raise ValueProblem("the top level can't be ungrouped.")
    display.settle()
    children = list(target.children)
    index = parent.index_of(target)
    with scene.step(f"Ungroup {target.id}"):
        steps = explicit_steps(display, target)
        x, y = display.node(target).local_origin()
        for i, child in enumerate(children):
            scene.move(child, parent, index + 1 + i)
            if isinstance(child, Unknown):
                continue  # it has no place that could be kept
            _shift(display, child, x, y)
            if steps:
                child.steps = (*child.stated("steps"), *steps)
            if target.opacity < 1:
                child.opacity = child.opacity * target.opacity
            for name in ("visible", "locked", "pointer"):
                if target.stated(name) != type(target).properties[name].default:
                    child.assign(name, target.stated(name))
        scene.remove(target)
    return children


def explicit_steps(display: DisplayList, shape: Shape) -> tuple[Step, ...]:
    """The steps of a shape with every fixed point written out, in its parent's space."""
    node = display.node(shape)
    out: list[Step] = []
    stated, plain = shape.stated("steps"), shape.steps
    for i, step in enumerate(stated):
        about = step.about
        if about is None and step.op != "translate":
            about = node.standing(plain[:i]).map(*node.pivot)
        out.append(Step(step.op, step.values, about, step.on))
    return tuple(out)


def move_keeping_place(display: DisplayList, shape: Shape, parent: Group, index: int) -> None:
    """Gives a shape another parent without moving it on the page."""
    old = shape.parent
    display.settle()
    if old is parent or old is None or isinstance(shape, Unknown):
        display.scene.move(shape, parent, index)
        return
    back = display.node(parent).world.inverse()
    if back is None:
        raise ValueProblem(f"{parent.id} is scaled to nothing; shapes can't be put into it.")
    change = back.after(display.node(old).world)
    with display.scene.step(f"Put {shape.id} into {parent.id or 'the scene'}"):
        display.scene.move(shape, parent, index)
        if change[:4] == (1.0, 0.0, 0.0, 1.0):
            _shift(display, shape, change.e, change.f)
        else:
            shape.steps = (*shape.stated("steps"), Step("matrix", tuple(change), (0, 0)))


def _shift(display: DisplayList, shape: Shape, dx: float, dy: float) -> None:
    """Translates a shape in its parent's space: its `at`, and every fixed point of its steps."""
    if (dx == 0.0 and dy == 0.0) or isinstance(shape, Unknown):
        return
    shape.at = _moved(shape.stated("at"), dx, dy)
    steps = shape.stated("steps")
    if any(s.about is not None for s in steps):
        shape.steps = tuple(
            s if s.about is None else Step(s.op, s.values, _moved(s.about, dx, dy), s.on) for s in steps
        )


def _moved(point: Any, dx: float, dy: float) -> Any:
    """A stored point, moved. A formula gets the difference added to its text."""
    if isinstance(point, Formula):
        x, y = point.last
        return Formula(plus_point(point.text, tidy(dx), tidy(dy)), (tidy(x + dx), tidy(y + dy)))
    return tuple(_plus(v, d) for v, d in zip(point, (dx, dy), strict=True))


def _plus(value: Any, by: float) -> Any:
    if by == 0.0:
        return value
    if isinstance(value, Formula):
        return Formula(plus(value.text, by), tidy(value.last + by))
    return tidy(value + by)


def move_by(display: DisplayList, shapes: Sequence[Shape], dx: float, dy: float, gesture: object = None) -> None:
    """Moves shapes by scene px, whatever the transforms above them. Formulas follow (`pointer.x - 130`)."""
    scene = display.scene
    todo = outermost(shapes)
    display.settle()
    with scene.step(f"Move {names_of(todo)}", gesture):
        for shape in todo:
            assert shape.parent is not None
            back = display.node(shape.parent).world.inverse()
            if back is None:
                continue
            x, y = back.map_vector(dx, dy)
            _shift(display, shape, tidy(x, 4), tidy(y, 4))


def duplicate(display: DisplayList, shapes: Sequence[Shape], dx: float, dy: float) -> list[Shape]:
    """Copies in front of their originals, moved by scene px. Ids inside get numbers of their own."""
    scene = display.scene
    copies: list[Shape] = []
    todo = outermost(shapes)
    with scene.step(f"Duplicate {names_of(todo)}"):
        for shape in todo:
            twin = shape.copy()
            parent = shape.parent
            assert parent is not None
            scene.add(twin, parent, parent.index_of(shape) + 1)
            copies.append(twin)
        if dx or dy:
            move_by(display, copies, dx, dy)
    return copies


def paste(display: DisplayList, shapes: Sequence[Shape], parent: Group, index: int) -> list[Shape]:
    """Adds shapes that are in no scene, with ids made free."""
    with display.scene.step(f"Paste {names_of(shapes)}"):
        for i, shape in enumerate(shapes):
            fresh_ids(display.scene, shape)
            display.scene.add(shape, parent, index + i)
    return list(shapes)


def put_in_place(scene: Scene, old: Shape, new: Shape) -> None:
    """Puts another shape in the place of one, under the same id."""
    parent = old.parent
    assert parent is not None
    index, id = parent.index_of(old), old.id
    with scene.step(f"Replace {id}"):
        scene.remove(old)
        new.id = id
        scene.add(new, parent, index)


def remove(display: DisplayList, shapes: Sequence[Shape], verb: str = "Delete") -> None:
    """Takes shapes out of the scene, as one step."""
    todo = outermost(shapes)
    with display.scene.step(f"{verb} {names_of(todo)}"):
        for shape in reversed(todo):
            display.scene.remove(shape)


def overlaps(display: DisplayList, a: Shape, b: Shape) -> bool:
    """Whether what two shapes paint can meet: their painted boxes share an area."""
    p, q = display.node(a).painted_bounds(), display.node(b).painted_bounds()
    return p[0] < q[2] and q[0] < p[2] and p[1] < q[3] and q[1] < p[3]
