"""Lining shapes up: aligned edges, even gaps, equal sizes, matched positions, copies at the corners of another.

Boxes are those of outlines in scene px; strokes don't count. Each function is one undo step.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from chalcedon.craft.arrange import move_by
from chalcedon.craft.hold import Start
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.geometry.boxes import Box, is_empty
from chalcedon.problems import ChalcedonError, ValueProblem, nearest
from chalcedon.scene import Shape
from chalcedon.scene.grips import Change
from chalcedon.scene.order import names_of, outermost
from chalcedon.scene.tidy import article

EDGES: dict[str, tuple[int, float]] = {
    "left": (0, 0.0),
    "center": (0, 0.5),
    "right": (0, 1.0),
    "top": (1, 0.0),
    "middle": (1, 0.5),
    "bottom": (1, 1.0),
}
"""Each edge to align: the axis, and the fraction of the box along it."""


def align(display: DisplayList, shapes: Sequence[Shape], edge: str, to: Shape | str | None = None) -> bool:
    """Moves shapes so that an edge (left, center, right, top, middle, bottom) of each is where that of `to` is: a
    shape, or `page`. Without it that is the shape given last, or the page for a single shape.

    Returns whether anything moved. Raises ValueProblem for what has no box.
    """
    if edge not in EDGES:
        raise ValueProblem(f"{edge} is not an edge.", hint=nearest(edge, EDGES))
    axis, fraction = EDGES[edge]
    display.settle()
    todo = [s for s in _chosen(shapes) if s is not to]
    if to is None:
        to = "page" if len(todo) == 1 else next(s for s in reversed(shapes) if s in todo)
        todo = [s for s in todo if s is not to]
    box = _page(display) if isinstance(to, str) else _box(display, to)
    target = _place(box, axis, fraction)
    moved = False
    with display.scene.step(f"Align {names_of(todo)}: {edge}"):
        for shape in todo:
            moved |= _move(display, shape, axis, target - _place(_box(display, shape), axis, fraction))
    return moved


def distribute(
    display: DisplayList, shapes: Sequence[Shape], axis: str, by: str = "gaps", gap: float | None = None
) -> bool:
    """Spreads shapes along `x` or `y` with equal gaps between them, or with equal steps between their `centers`.

    The outer two stay where they are, unless a gap in px is given; then the first does. Returns whether anything
    moved. Raises ValueProblem for fewer than three shapes (two when a gap is given).
    """
    todo = _chosen(shapes)
    need = 3 if gap is None else 2
    if len(todo) < need:
        raise ValueProblem(f"that takes {need} shapes or more.", hint="Shift-click selects another.")
    if axis not in ("x", "y") or by not in ("gaps", "centers"):
        raise ValueProblem("shapes are distributed along x or y, by gaps or centers.")
    i = 0 if axis == "x" else 1
    display.settle()
    boxes = {s: _box(display, s) for s in todo}
    todo.sort(key=lambda s: boxes[s][i] + boxes[s][i + 2])
    starts = _even(todo, boxes, i, by, gap)
    moved = False
    with display.scene.step(f"Distribute {names_of(todo)} along {axis}"):
        for shape, start in zip(todo, starts, strict=True):
            moved |= _move(display, shape, i, start - boxes[shape][i])
    return moved


def _even(todo: list[Shape], boxes: dict[Shape, Box], i: int, by: str, gap: float | None) -> list[float]:
    """Where the box of each begins along the axis."""
    sizes = [boxes[s][i + 2] - boxes[s][i] for s in todo]
    first, last = boxes[todo[0]], boxes[todo[-1]]
    if by == "centers":
        middles = [(first[i] + first[i + 2]) / 2, (last[i] + last[i + 2]) / 2]
        step = (middles[1] - middles[0]) / (len(todo) - 1) if gap is None else gap
        return [middles[0] + k * step - size / 2 for k, size in enumerate(sizes)]
    if gap is None:
        gap = (last[i + 2] - first[i] - sum(sizes)) / (len(todo) - 1)
    out, x = [], first[i]
    for size in sizes:
        out.append(x)
        x += size + gap
    return out


def equal_size(display: DisplayList, shapes: Sequence[Shape], which: str = "both") -> bool:
    """Gives shapes the `width`, the `height` or `both` of the one given last. The middle of each stays where it is.

    Round kinds, regular polygons, stars and text keep their proportions. Raises ValueProblem, and changes nothing,
    for a shape turned by its steps, or that has no size of its own.
    """
    todo = _chosen(shapes)
    if len(todo) < 2:
        raise ValueProblem("that takes two shapes or more.", hint="The one selected last gives the size.")
    model = next(s for s in reversed(shapes) if s in todo)
    display.settle()
    goal = _box(display, model)
    changed = False
    how = {"width": "wide", "height": "tall"}.get(which, "large")
    with display.scene.step(f"Make {names_of([s for s in todo if s is not model])} as {how} as {model.id}"):
        for shape in todo:
            if shape is not model:
                box = _box(display, shape)
                sx, sy = (_ratio(goal[i + 2] - goal[i], box[i + 2] - box[i]) for i in (0, 1))
                changed |= resize(display, shape, sx if which != "height" else 1.0, sy if which != "width" else 1.0)
    return changed


def _ratio(new: float, old: float) -> float:
    return new / old if old > 0.0 and new > 0.0 else 1.0


def resize(display: DisplayList, shape: Shape, sx: float, sy: float) -> bool:
    """Multiplies a shape's own measures along x and y; the middle of its box stays."""
    if abs(sx - 1.0) < 1e-9 and abs(sy - 1.0) < 1e-9:
        return False
    display.settle()
    node = display.node(shape)
    if abs(node.world.b) > 1e-9 or abs(node.world.c) > 1e-9:
        raise ValueProblem(f"{shape.id} is turned by its steps, so its own size is not the one on the page.")
    if not node.kind.paints:
        raise ValueProblem(f"{article(shape.kind)} has no size of its own.", hint="Give it a scale step.")
    start = Start(node)
    values = shape.stretched(sx, sy)
    for name in values:
        if shape._formulas and name in shape._formulas:
            raise ValueProblem(f"{shape.id}.{name} is a formula; it is not overwritten.")
    x0, y0, x1, y1 = start.box
    before = (x0 + x1) / 2, (y0 + y1) / 2
    after = _middle(node, values, before)
    with display.scene.step(f"Resize {shape.id}"):
        for name, value in start.settle(Change(values, before, after, "")).items():
            shape.assign(name, value)
    return True


def _middle(node: Node, values: dict[str, Any], before: tuple[float, float]) -> tuple[float, float]:
    """The middle of the raw box that a shape would have with other values."""
    box = node.raw_box(**values)
    return ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2) if not is_empty(box) else before


def match_position(display: DisplayList, shapes: Sequence[Shape], which: str = "both") -> bool:
    """Moves shapes so that their `at` is, in `x`, `y` or `both`, where that of the one given last is on the page."""
    todo = _chosen(shapes)
    if len(todo) < 2:
        raise ValueProblem("that takes two shapes or more.", hint="The one selected last gives the place.")
    model = next(s for s in reversed(shapes) if s in todo)
    display.settle()
    goal = anchor_point(display.node(model))
    moved = False
    with display.scene.step(f"Put {names_of([s for s in todo if s is not model])} where {model.id} is"):
        for shape in todo:
            here = anchor_point(display.node(shape))
            for i in (0, 1):
                if which in ("both", "xy"[i]) and shape is not model:
                    moved |= _move(display, shape, i, goal[i] - here[i])
    return moved


def anchor_point(node: Node) -> tuple[float, float]:
    """Where a shape's anchor stands on the page, its steps included."""
    if node.group:
        x, y = node.shift
        return node.world.map(-x, -y)
    return node.world.map(0.0, 0.0)


def corners_of(node: Node) -> list[tuple[float, float]]:
    """The corners of an outline in scene px: where its segments meet; of a curve without any, its extreme places."""
    points: list[tuple[float, float]] = []
    for leaf in node.walk_leaves():
        if leaf.kind.smooth:
            (left, top, right, bottom) = leaf.box
            x, y = (left + right) / 2, (top + bottom) / 2
            points += [leaf.world.map(*p) for p in ((right, y), (x, bottom), (left, y), (x, top))]
            continue
        for _verb, c in leaf.outline.mapped(leaf.world).segments():
            if c:
                point = c[-2], c[-1]
                if all(math.dist(point, p) > 1e-6 for p in points):
                    points.append(point)
    return points


def copies_at_corners(display: DisplayList, shape: Shape, host: Shape) -> list[Shape]:
    """Places a copy of a shape with its anchor at each corner of another, in front of it. The original stays."""
    if shape is host:
        raise ValueProblem("a shape can't be placed at its own corners.", hint="Select the shape, then the other one.")
    display.settle()
    scene = display.scene
    spots = corners_of(display.node(host))
    parent = shape.parent
    if not spots or parent is None:
        raise ValueProblem(f"{host.id} has no corners.")
    here = anchor_point(display.node(shape))
    copies: list[Shape] = []
    with scene.step(f"Place a copy of {shape.id} at each corner of {host.id}"):
        for x, y in spots:
            twin = shape.copy()
            scene.add(twin, parent, parent.index_of(shape) + 1 + len(copies))
            copies.append(twin)
            move_by(display, [twin], x - here[0], y - here[1])
    return copies


def _chosen(shapes: Sequence[Shape]) -> list[Shape]:
    todo = outermost(shapes)
    if not todo:
        raise ValueProblem("nothing is selected.")
    return list(todo)


def _page(display: DisplayList) -> Box:
    w, h = display.scene.size
    return 0.0, 0.0, w, h


def _box(display: DisplayList, shape: Shape) -> Box:
    box = display.node(shape).bounds()
    if is_empty(box):
        raise ValueProblem(f"{shape.id} is empty, so it has no edges.")
    return box


def _place(box: Box, axis: int, fraction: float) -> float:
    return box[axis] + (box[axis + 2] - box[axis]) * fraction


def _move(display: DisplayList, shape: Shape, axis: int, by: float) -> bool:
    if abs(by) < 1e-6:
        return False
    try:
        move_by(display, [shape], *((by, 0.0) if axis == 0 else (0.0, by)))
    except ChalcedonError as problem:
        raise ValueProblem(f"{shape.id} can't be moved: {problem}") from None
    return True
