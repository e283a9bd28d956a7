"""Where the handles of the one selected shape stand, in widget px, and which of them have room."""

from __future__ import annotations

import math

from chalcedon.craft.hold import Start
from chalcedon.evaluate import Node
from chalcedon.geometry import Affine, Box
from chalcedon.scene.grips import Handle
from chalcedon.view.place import View

TINY = 18.0
"""Widget px below which a shape shows no handles of its own."""
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


def turn_spot(start: Start, node: Node, view: View) -> tuple[float, float]:
    """Where the rotation handle stands: above the shape's own top."""
    left, top, right, bottom = node.bounds() if node.group else start.box
    raw = ((left + right) / 2, bottom if node.kind.lie.up and not node.group else top)
    if node.group:
        x, y = view.to_widget(*raw)
        return x, y - 28
    x, y = view.to_widget(*start.scene_of(raw))
    cx, cy = view.to_widget(*start.scene_of(((left + right) / 2, (top + bottom) / 2)))
    length = math.hypot(x - cx, y - cy)
    if length < 1e-6:
        return x, y - 28
    return x + (x - cx) / length * 28, y + (y - cy) / length * 28


def sides(box: Box, world: Affine, view: View) -> tuple[float, float]:
    """The lesser and the greater side of a box whose space `world` maps to scene px."""
    left, top, right, bottom = box
    scale = view.zoom * world.stretch
    return min(right - left, bottom - top) * scale, max(right - left, bottom - top) * scale


def _sides(start: Start, view: View) -> tuple[float, float]:
    return sides(start.box, start.parent.after(start.to_parent), view)
