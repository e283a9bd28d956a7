"""What a number measures, as lines to be drawn on the canvas. No Qt here.

Every measure is given in a space of the shape and mapped to scene px, so that it turns and scales along.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from chalcedon.craft.descriptions import describe
from chalcedon.desk.ledger.parts import part
from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.scene import Shape
from chalcedon.scene.roles import Gauge

Point = tuple[float, float]


@dataclass(slots=True)
class Measure:
    """Lines in scene px: `firm` ones measure, `faint` ones lead to them. `label` stands at `spot`."""

    label: str
    spot: Point
    firm: list[list[Point]] = field(default_factory=list)
    faint: list[list[Point]] = field(default_factory=list)
    arrow: bool = False
    """Whether the end of the first firm line points toward more."""


def measure(node: Node, name: str, path: tuple[int, ...]) -> Measure | None:
    """The measure of one number of a shape; None for what has no length on the canvas."""
    shape = node.painted()
    if not has_part(shape, name, path):
        return None  # it was there when it came into focus
    parent = node.parent.world if node.parent is not None else Affine()
    raw = node.world if node.group else node.world.after(Affine.translate(*node.shift))
    if name.startswith("also "):
        return _described(node, name.removeprefix("also "), path, parent)
    if name == "at":
        return _at(node, path, parent)
    if name == "stroke_width":
        return _width(node)
    if name == "steps":
        return _step(node, path, parent)
    gauge = shape.gauge(name, path, node.raw_box())
    return None if gauge is None else _mapped(raw, gauge)


def _mapped(m: Affine, gauge: Gauge) -> Measure:
    firm, faint = ([_line(m, *points) for points in lines] for lines in (gauge.firm, gauge.faint))
    (ax, ay), (bx, by) = firm[0][0], firm[0][-1]
    spot = m.map(*gauge.spot) if gauge.spot is not None else ((ax + bx) / 2, (ay + by) / 2)
    return Measure(gauge.label, spot, firm, faint, arrow=True)


def has_part(shape: Shape, name: str, path: tuple[int, ...]) -> bool:
    """Whether a shape has a property, and the property such a component."""
    if name.startswith("also "):
        return True
    if name not in shape.properties:
        return False
    try:
        return not path or part(getattr(shape, name), path) is not None
    except (LookupError, TypeError):
        return False


def _line(m: Affine, *points: Point) -> list[Point]:
    return [m.map(*p) for p in points]


def _span(m: Affine, a: Point, b: Point, label: str) -> Measure:
    p, q = m.map(*a), m.map(*b)
    return Measure(label, ((p[0] + q[0]) / 2, (p[1] + q[1]) / 2), [[p, q]], arrow=True)


def _at(node: Node, path: tuple[int, ...], parent: Affine) -> Measure:
    x, y = node.value("at")
    if path == (0,):
        out = _span(parent, (0, y), (x, y), f"x {x:g}")
        out.faint.append(_line(parent, (0, 0), (0, y)))
    else:
        out = _span(parent, (x, 0), (x, y), f"y {y:g}")
        out.faint.append(_line(parent, (0, 0), (x, 0)))
    return out


def _width(node: Node) -> Measure | None:
    """Across the stroke, in the middle of the first straight piece of the outline."""
    if node.pen is None or not node.edges:
        return None
    x0, y0, x1, y1 = node.edges[0]
    length = math.hypot(x1 - x0, y1 - y0)
    if length == 0.0:
        return None
    half = node.pen.width / 2 * node.world.stretch
    nx, ny = -(y1 - y0) / length * half, (x1 - x0) / length * half
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    return Measure(f"width {node.pen.width:g}", (cx + nx, cy + ny), [[(cx - nx, cy - ny), (cx + nx, cy + ny)]])


def _step(node: Node, path: tuple[int, ...], parent: Affine) -> Measure | None:
    """A step: an arrow for translate, a protractor for rotate, the box before and after for the others."""
    steps = node.value("steps")
    if not path or path[0] >= len(steps):
        return None
    step = steps[path[0]]
    pivot = node.pivot
    before, after = (node.standing(steps[:n]) for n in (path[0], path[0] + 1))
    cx, cy = before.map(*pivot) if step.about is None else step.about
    if step.op == "translate":
        return _span(parent, before.map(*pivot), after.map(*pivot), f"translate {step.values[0]:g}, {step.values[1]:g}")
    if step.op == "rotate":
        radius = max(12.0, math.hypot(node.box[2] - node.box[0], node.box[3] - node.box[1]) / 2)
        angle = step.values[0]
        count = max(2, min(90, int(abs(angle) / 4) + 2))
        arc = [
            (
                cx + radius * math.cos(math.radians(angle * i / (count - 1))),
                cy + radius * math.sin(math.radians(angle * i / (count - 1))),
            )
            for i in range(count)
        ]
        out = Measure(f"{angle:g}°", parent.map(*arc[-1]), [_line(parent, *arc)], arrow=True)
        out.faint += [_line(parent, (cx, cy), (cx + radius * 1.1, cy)), _line(parent, (cx, cy), arc[-1])]
        return out
    left, top, right, bottom = node.box
    ring = [(left, top), (right, top), (right, bottom), (left, bottom), (left, top)]
    values = ", ".join(f"{v:g}" for v in step.values)
    was = [parent.map(*before.map(*p)) for p in ring]
    now = [parent.map(*after.map(*p)) for p in ring]
    return Measure(f"{step.op} {values}", now[2], [now], [was])


def _described(node: Node, word: str, path: tuple[int, ...], parent: Affine) -> Measure | None:
    """The measure of another description. Places are in the parent's space, before the steps."""
    known = {d.word: d for d in describe(node)}
    found, edges = known.get(word), known.get("edges")
    if found is None or edges is None or not path:
        return None
    left, top, right, bottom = edges.numbers
    i, value = path[0], found.numbers[path[0]]
    label = f"{found.labels[i] or word} {value:.4g}"
    if word == "edges":
        across = i % 2 == 0
        line = (
            _span(parent, (0, top), (value, top), label) if across else _span(parent, (left, 0), (left, value), label)
        )
        line.faint.append(
            _line(parent, (value, top), (value, bottom)) if across else _line(parent, (left, value), (right, value))
        )
        return line
    if word in ("extent", "diameter", "diameters", "ring"):
        middle = (top + bottom) / 2
        if i == 0 and word != "ring":
            return _span(parent, (left, middle), (right, middle), label)
        x = (left + right) / 2
        end = bottom if word != "ring" else top + math.copysign(value, bottom - top)
        return _span(parent, (x, top), (x, end), label)
    if len(found.numbers) == 2 and found.labels == ("x", "y"):
        x, y = found.numbers
        return _span(parent, (0, y), (x, y), label) if i == 0 else _span(parent, (x, 0), (x, y), label)
    return None
