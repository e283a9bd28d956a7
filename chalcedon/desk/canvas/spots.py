"""Where the handles of the one selected shape stand, in widget px, and which of them have room."""

from __future__ import annotations

import math
from typing import NamedTuple

from chalcedon.craft.hold import Start
from chalcedon.evaluate import Node
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import holds
from chalcedon.scene.grips import Handle
from chalcedon.view.place import View

TINY = 18.0
"""Widget px below which a shape shows no handles of its own."""
AWAY = 28.0
"""Widget px between what is selected and what turns, mirrors or switches."""
MARGIN = 4.0
"""Widget px between a group, or several shapes, and the box that is drawn around them."""
EDGE = 14.0
"""Widget px between the edge of the canvas and the middle of what would stand outside of it."""
TALL = 60.0
"""Widget px of height from which there is room within a group."""
SIDE = 80.0
"""Widget px that what is done with a group needs to both sides of its middle."""
ROOMY = 44.0
"""Widget px that a rect needs across for all its handles, and any shape for its pivot."""


def with_room(start: Start, handles: list[Handle], view: View) -> list[Handle]:
    """On a shape that is small on the screen, only the handles that don't hide it and each other."""
    _left, _top, right, bottom = start.box
    least, most = _sides(start, view)
    if (least if start.shape.kind in ("rect", "circle", "ellipse") else most) < TINY:
        return []  # so small that handles would leave nothing to move it by
    if start.shape.kind != "rect" or least >= ROOMY:
        return handles
    return [h for h in handles if h.role == "size" and (least >= ROOMY / 2 or h.raw == (right, bottom))]


def pivot_spot(start: Start, view: View) -> tuple[float, float] | None:
    """Where the pivot stands; None where nothing turns about it, and where it would be in the way of moving a shape
    that is small on the screen."""
    if not start.steps:
        return None
    x, y = start.pivot_point
    left, top, right, bottom = start.box
    if left <= x <= right and top <= y <= bottom and _sides(start, view)[1] < ROOMY:
        return None
    return view.to_widget(*start.scene_of(start.pivot_point))


class Stalk(NamedTuple):
    """The handle that turns, and the place on the shape where its line begins, in widget px."""

    foot: tuple[float, float]
    x: float
    y: float


def turn_stalk(start: Start, node: Node, view: View, area: Box) -> Stalk:
    """Where the handle that turns stands: above the shape's own top, or below its bottom where only that is within
    the area of the canvas, in widget px."""
    if node.group:
        x, y, _below = around(node.bounds(), view, area)
        return Stalk((x, view.to_widget(0.0, node.bounds()[1])[1]), x, y)
    left, top, right, bottom = start.box
    middle = (left + right) / 2
    ends = (bottom, top) if node.kind.lie.up else (top, bottom)
    centre = view.to_widget(*start.scene_of((middle, (top + bottom) / 2)))
    stalks = []
    for raw, way in zip(ends, (-1.0, 1.0), strict=True):
        foot = view.to_widget(*start.scene_of((middle, raw)))
        along = foot[0] - centre[0], foot[1] - centre[1]
        length = math.hypot(*along)
        along = (along[0] / length, along[1] / length) if length >= 1e-6 else (0.0, way)
        stalks.append(Stalk(foot, foot[0] + along[0] * AWAY, foot[1] + along[1] * AWAY))
    return next((s for s in stalks if holds(area, s.x, s.y)), stalks[0])


def around(box: Box, view: View, area: Box) -> tuple[float, float, float]:
    """Where stands what is done with all of a box in scene px: the middle of what is seen of it, and the places above
    and below, in widget px. Where the canvas, whose area is in widget px, ends too soon they are within the box, or at
    the other side of one that is low."""
    left, top = view.to_widget(box[0], box[1])
    right, bottom = view.to_widget(box[2], box[3])
    middle, above, below = (left + right) / 2, top - MARGIN - AWAY, bottom + MARGIN + AWAY - 6
    first, last = max(left, area[0]), min(right, area[2])
    if first <= last:
        middle = max(area[0] + SIDE, min((first + last) / 2, area[2] - SIDE))
    tall = bottom - top > TALL
    if above < area[1] + EDGE and area[1] <= top <= area[3]:
        above = top + EDGE if tall else below + AWAY
    if below > area[3] - EDGE and area[1] <= bottom <= area[3]:
        below = bottom - EDGE if tall else above - AWAY
    return middle, above, below


def sides(box: Box, world: Affine, view: View) -> tuple[float, float]:
    """The lesser and the greater side of a box whose space `world` maps to scene px."""
    left, top, right, bottom = box
    scale = view.zoom * world.stretch
    return min(right - left, bottom - top) * scale, max(right - left, bottom - top) * scale


def _sides(start: Start, view: View) -> tuple[float, float]:
    return sides(start.box, start.parent.after(start.to_parent), view)
