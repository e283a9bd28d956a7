"""Measuring the outline of a shape as it stands on the page."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from chalcedon.craft.hold import set_anchor
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.kept import comes_to, display_of
from chalcedon.evaluate.place import page_map
from chalcedon.geometry.boxes import Box, is_empty
from chalcedon.problems import ValueProblem
from chalcedon.scene import Scene, Shape
from chalcedon.scene.axes import box_across
from chalcedon.scene.over import run_y

__all__ = ["along", "anchor_by", "bounds", "comes_to", "run_y"]

if TYPE_CHECKING:
    from chalcedon.geometry.along import Along


def bounds(shape: Shape) -> Box:
    """See Shape.bounds."""
    assert shape.scene is not None
    box = display_of(shape.scene).node(shape).bounds()
    if is_empty(box):
        raise ValueProblem(f"{shape.id} is empty, so it has no bounds.")
    return box_across(shape.scene, box)


def anchor_by(shape: Shape, anchor: Any) -> None:
    """See Shape.put."""
    assert shape.scene is not None
    set_anchor(display_of(shape.scene), shape, anchor)


def along(scene: Scene | DisplayList, shape: Shape | str) -> Along:
    """The outline of a shape in scene px, measured: its length, the point with tangent and normal at a distance, the
    nearest point. Raises ValueProblem for groups, which have no outline of their own."""
    from chalcedon.geometry.along import Along

    display = scene if isinstance(scene, DisplayList) else display_of(scene)
    node = display.node(display.scene[shape] if isinstance(shape, str) else shape)
    if node.group:
        raise ValueProblem(f"{node.shape.id} is a group; it has no outline of its own.")
    return Along(node.outline.mapped(page_map(display.scene).after(node.world)))
