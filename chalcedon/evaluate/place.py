"""Where a box stands: the one place that takes anchor, pivot and steps into account.

Raw space is a kind's own, before the anchor; a group's is that of its children. Local space has its origin where `at`
is.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from chalcedon.geometry import Affine, Box
from chalcedon.scene.steps import Step, compose
from chalcedon.scene.values import place_in

Point = tuple[float, float]
NO_SHIFT = (0.0, 0.0)


@lru_cache(maxsize=4096)  # of shapes alike one box is kept
def anchored(raw: Box, anchor: Any) -> tuple[Box, Point]:
    """A box in raw space with the point that a plain anchor names moved to the origin; and by how much."""
    px, py = place_in(raw, anchor)
    if px == 0.0 and py == 0.0:
        return raw, NO_SHIFT
    return (raw[0] - px, raw[1] - py, raw[2] - px, raw[3] - py), (-px, -py)


def standing(at: Point, box: Box, pivot: Any, steps: tuple[Step, ...]) -> Affine:
    """The map from local space to the parent's. `box` is the local one, in which `pivot` names a point."""
    if not steps:
        return Affine(1.0, 0.0, 0.0, 1.0, at[0], at[1])
    return compose(at, place_in(box, pivot), steps)
