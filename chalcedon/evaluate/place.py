"""Where a box stands: the one place that takes anchor, pivot and steps into account.

Raw space is a kind's own, before the anchor; a group's is that of its children. Local space has its origin where `at`
is.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any, NamedTuple

from chalcedon.geometry import IDENTITY, MIRROR, Affine, Box
from chalcedon.scene.axes import is_up
from chalcedon.scene.scene import Scene
from chalcedon.scene.steps import Step, compose
from chalcedon.scene.values import place_in

Point = tuple[float, float]
NO_SHIFT = (0.0, 0.0)


class Lie(NamedTuple):
    """How a kind lies in a scene: whether y runs `up` in its own space, and whether that is `mirrored` against its
    parent's. In a scene with y up, kinds that stand upright keep a space with y down, and are mirrored."""

    up: bool
    mirrored: bool


DOWN = Lie(False, False)
TURNED = Lie(True, False)
UPRIGHT = Lie(False, True)


def page_map(scene: Scene | None) -> Affine:
    """The map from a scene's coordinates to px of its page, which count from the top left down; its own inverse."""
    if scene is None or not is_up(scene):
        return IDENTITY
    return Affine(1.0, 0.0, 0.0, -1.0, 0.0, scene.size[1])


@lru_cache(maxsize=4096)  # of shapes alike one box is kept
def anchored(raw: Box, anchor: Any, up: bool = False) -> tuple[Box, Point]:
    """A box in raw space with the point that a plain anchor names moved to the origin; and by how much. `up` says that
    raw space has y run up."""
    px, py = place_in(raw, anchor, up)
    if px == 0.0 and py == 0.0:
        return raw, NO_SHIFT
    return (raw[0] - px, raw[1] - py, raw[2] - px, raw[3] - py), (-px, -py)


def standing(at: Point, box: Box, pivot: Any, steps: tuple[Step, ...], lie: Lie = DOWN) -> Affine:
    """The map from local space to the parent's. `box` is the local one, in which `pivot` names a point."""
    if lie.mirrored:
        if not steps:
            return Affine(1.0, 0.0, 0.0, -1.0, at[0], at[1])
        px, py = place_in(box, pivot)
        return compose(at, (px, -py), steps).after(MIRROR)
    if not steps:
        return Affine(1.0, 0.0, 0.0, 1.0, at[0], at[1])
    return compose(at, place_in(box, pivot, lie.up), steps)
