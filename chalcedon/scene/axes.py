"""Which way y runs in a scene: down from the top left of its page, or up from the bottom left.

What a scene states is in its own coordinates. What is painted, hit and taken hold of is in px of the page, which always
count down from the top left. Both maps between them are the same one.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene

Point = tuple[float, float]


def is_up(scene: Scene | None) -> bool:
    """Whether y runs up in a scene."""
    return scene is not None and scene.y_axis == "up"


def across(scene: Scene, x: float, y: float) -> Point:
    """A point in a scene's own coordinates in px of its page, or the other way round."""
    return (x, scene.size[1] - y) if is_up(scene) else (x, y)


def way(scene: Scene, dx: float, dy: float) -> Point:
    """A difference of points, as `across`."""
    return (dx, -dy) if is_up(scene) else (dx, dy)


def box_across(scene: Scene, box: tuple[float, float, float, float]) -> tuple[float, float, float, float]:
    """A box (least x, least y, most x, most y), as `across`."""
    if not is_up(scene):
        return box
    height = scene.size[1]
    return box[0], height - box[3], box[2], height - box[1]
