"""Measuring the outline of a shape as it stands on the page."""

from __future__ import annotations

from typing import TYPE_CHECKING

from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.problems import ValueProblem
from chalcedon.scene import Scene, Shape

if TYPE_CHECKING:
    from chalcedon.geometry.along import Along


def along(scene: Scene | DisplayList, shape: Shape | str) -> Along:
    """The outline of a shape in scene px, measured: its length, the point with tangent and normal at a distance, the
    nearest point. Raises ValueProblem for groups, which have no outline of their own."""
    from chalcedon.geometry.along import Along

    display = scene if isinstance(scene, DisplayList) else DisplayList(scene)
    node = display.node(display.scene[shape] if isinstance(shape, str) else shape)
    if display is not scene:
        display.detach()
    if node.group:
        raise ValueProblem(f"{node.shape.id} is a group; it has no outline of its own.")
    return Along(node.outline.mapped(node.world))
