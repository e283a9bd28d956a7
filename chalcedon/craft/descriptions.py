"""Every other way to say what a shape is: its edges, its centre, its diameter, the ends of an arc, an end point.

Each can be edited; a point of the shape that the description leaves alone stays where it is. Places are in the
parent's space, before the shape's steps.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

from chalcedon.craft.hold import Start
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import is_empty
from chalcedon.problems import ValueProblem
from chalcedon.scene import Shape
from chalcedon.scene.given import not_negative
from chalcedon.scene.grips import Change
from chalcedon.scene.tidy import tidy

Values = dict[str, Any]
DIGITS = 4
MANY = 400
"""Children of a group, or segments of an outline, from which on it takes too long to say at every frame."""


@dataclass(frozen=True, slots=True)
class Description:
    """Numbers under a word. `edit` makes new properties of the place of a number and its new value; None for what
    can only be read."""

    word: str
    labels: tuple[str, ...]
    numbers: tuple[float, ...]
    help: str
    edit: Callable[[int, float], Values] | None = None


def describe(node: Node) -> list[Description]:
    """The descriptions of a shape beside its own properties."""
    if not (node.kind.paints or node.group) or len(node.children) > MANY:
        return []
    start = Start(node)
    if is_empty(start.box):
        return []
    out = [*_of_kind(start), *_box(start)]
    if not node.group:
        out += _measured(node)
    return out


def set_description(
    display: DisplayList, shape: Shape, word: str, index: int, value: float, gesture: object = None
) -> None:
    """Gives one number of a description another value. Raises ValueProblem for what can't be."""
    display.settle()
    found = next((d for d in describe(display.node(shape)) if d.word == word), None)
    if found is None or found.edit is None:
        raise ValueProblem(f"{shape.id} has no {word} that can be set.")
    if not math.isfinite(value) or abs(value) > 1e9:
        raise ValueProblem(f"{value:g} is too large.", f"{shape.id}.{word}")
    values = found.edit(index, value)
    for name in values:
        stated = shape.stated(name)
        if isinstance(stated, Formula) or (isinstance(stated, tuple) and any(isinstance(v, Formula) for v in stated)):
            raise ValueProblem(f"{shape.id}.{name} is a formula; it is not overwritten.", f"{shape.id}.{word}")
    with display.scene.step(f"Change {word} of {shape.id}", gesture):
        for name, new in values.items():
            shape.assign(name, new)


def _unturned(s: Start) -> Callable[[float, float], tuple[float, float]]:
    """The map from raw space to the parent's, before the steps."""
    (ox, oy), way = s.at, -1.0 if s.node.kind.lie.mirrored else 1.0
    return lambda x, y: (ox + x - s.shift[0], oy + way * (y - s.shift[1]))


def _moved(s: Start, dx: float, dy: float) -> Values:
    return {"at": (tidy(s.at[0] + dx, DIGITS), tidy(s.at[1] + dy, DIGITS))}


def _box(s: Start) -> Iterator[Description]:
    """Edges and centre of the box. Where the kind can be stretched, an edge moves alone; else the shape moves."""
    spot = _unturned(s)
    x0, y0, x1, y1 = s.box
    stretches = s.shape.stretches
    up = s.node.kind.lie.up
    raw = (x0, y1 if up else y0), (x1, y0 if up else y1)  # the corners at the top left and the bottom right
    numbers = (*spot(*raw[0]), *spot(*raw[1]))
    middle = spot((x0 + x1) / 2, (y0 + y1) / 2)

    def edge(i: int, value: float) -> Values:
        axis, old, other = i % 2, numbers[i], numbers[(i + 2) % 4]
        if not stretches or old == other:
            return _moved(s, *((value - old, 0.0) if axis == 0 else (0.0, value - old)))
        factor = (value - other) / (old - other)
        if factor < 0:
            raise ValueProblem("that would turn the box inside out.", hint="The other edge is nearer.")
        opposite = raw[1 if i < 2 else 0]
        fixed = (opposite[0], y0) if axis == 0 else (x0, opposite[1])
        return _stretched(s, factor if axis == 0 else 1.0, factor if axis == 1 else 1.0, fixed)

    def centre(i: int, value: float) -> Values:
        return _moved(s, *((value - middle[0], 0.0) if i == 0 else (0.0, value - middle[1])))

    yield Description(
        "edges",
        ("left", "top", "right", "bottom"),
        numbers,
        "the edges of its box" + ("; the opposite edge stays" if stretches else "; all of it moves"),
        edge,
    )
    yield Description("centre", ("x", "y"), middle, "the middle of its box; all of it moves", centre)
    if s.node.kind.paints and not s.shape.tight:  # what is tight says its size itself

        def size(i: int, value: float) -> Values:
            old = (x1 - x0, y1 - y0)[i]
            if old == 0.0:
                raise ValueProblem("it has no extent that could be stretched.")
            factor = not_negative(value, "size") / old
            if factor == 0.0:
                raise ValueProblem("a size of 0 would leave nothing.")
            return _stretched(s, factor if i == 0 else 1.0, factor if i == 1 else 1.0, raw[0])

        yield Description(
            "extent", ("width", "height"), (x1 - x0, y1 - y0), "width and height of its box; the top left stays", size
        )


def _stretched(s: Start, sx: float, sy: float, fixed: tuple[float, float]) -> Values:
    """The values of a shape stretched about a raw point."""
    values = s.painted.stretched(sx, sy)
    new = s.node.kind.box({**s.values, **values})
    old = s.box

    def across(value: float, a: int) -> float:
        extent = old[a + 2] - old[a]
        return new[a] + (new[a + 2] - new[a]) * ((value - old[a]) / extent if extent else 0.5)

    return s.settle(Change(values, fixed, (across(fixed[0], 0), across(fixed[1], 1)), ""))


def _of_kind(s: Start) -> Iterator[Description]:
    for also in s.painted.also(_unturned(s)(0.0, 0.0)):
        edit = None if also.edit is None else partial(_settled, s, also.edit)
        yield Description(also.word, also.labels, also.numbers, also.help, edit)


def _settled(s: Start, edit: Callable[[int, float], Change], i: int, value: float) -> Values:
    return s.settle(edit(i, value))


def _measured(node: Node) -> Iterator[Description]:
    """What can only be read: the length of the outline and the area that it encloses."""
    if node.kind.text or node.kind.image or len(node.outline.verbs) > MANY:
        return
    from chalcedon.geometry.along import area, measured  # NumPy

    outline = node.outline
    yield Description("length", ("",), (measured(outline).length,), "length of the outline")
    if node.shape.kind != "line":
        yield Description(
            "area",
            ("",),
            (abs(area(outline)),),
            "area that the outline encloses, open ends joined; parts that run the other way are taken off",
        )
