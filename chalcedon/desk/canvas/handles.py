"""What the pointer does to any shape: turning it and moving its pivot. No Qt here. The handles of a kind's own numbers
are in scene/kinds.
"""

from __future__ import annotations

import math
from typing import Any

from chalcedon.craft.hold import Start
from chalcedon.formula import Formula
from chalcedon.scene import Step
from chalcedon.scene.grips import Change, Point
from chalcedon.scene.tidy import tidy


def turn(start: Start, grabbed: Point, now: Point, held: bool) -> Change:
    """Rotation about the pivot, by the angle between two points in the parent's space.

    A rotate step at the end of the steps is changed; otherwise one is added.
    """
    pivot = start.pivot_point
    cx, cy = start.to_parent.map(*pivot)
    angle = math.degrees(math.atan2(now[1] - cy, now[0] - cx) - math.atan2(grabbed[1] - cy, grabbed[0] - cx))
    stated = start.shape.stated("steps") if start.shape.steps == start.steps else start.steps
    base, total = stated, angle
    if (
        stated
        and stated[-1].op == "rotate"
        and stated[-1].on
        and stated[-1].about is None
        and not isinstance(stated[-1].values[0], Formula)
    ):
        base, total = stated[:-1], stated[-1].values[0] + angle
    total = (total + 180.0) % 360.0 - 180.0
    total = round(total / 15) * 15 if held else tidy(total, 1)
    steps = base if total == 0 else (*base, Step("rotate", (total,)))
    return Change({"steps": steps}, pivot, pivot, f"rotate {total:g}°")


def turned_by(start: Start, degrees: float) -> tuple[Point, Point]:
    """Two points in the parent's space between which the shape is turned by an angle about its pivot."""
    cx, cy = start.to_parent.map(*start.pivot_point)
    angle = math.radians(degrees)
    return (cx + 100.0, cy), (cx + 100.0 * math.cos(angle), cy + 100.0 * math.sin(angle))


def move_pivot(start: Start, raw: Point) -> Change:
    """Another pivot, as fractions of the shape's box. The shape stays where it is."""
    left, top, right, bottom = start.box
    fx = (raw[0] - left) / (right - left) if right > left else 0.5
    fy = (raw[1] - top) / (bottom - top) if bottom > top else 0.5
    near = [round(f * 2) / 2 if abs(f - round(f * 2) / 2) < 0.04 else round(f, 3) for f in (fx, fy)]
    if start.node.kind.lie.up:
        near[1] = 1.0 - near[1]
    value: Any = tuple(tidy(f, 3) for f in near)
    if value == (0.5, 0.5):
        value = "center"
    fixed = raw
    return Change({"pivot": value}, fixed, fixed, f"pivot {near[0]:g}, {near[1]:g}")
