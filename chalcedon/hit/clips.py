"""Groups seen through a shape: what lies outside it is not hit."""

from __future__ import annotations

from chalcedon.evaluate import Node
from chalcedon.geometry.boxes import Box
from chalcedon.geometry.contain import Region


def in_clip(group: Node, x: float, y: float) -> bool:
    """Whether a point in scene px lies on the fill of the shape that clips a group."""
    assert group.clip is not None
    for leaf in group.clip.walk_leaves():
        inverse = leaf.inverse
        if inverse is None:
            continue
        local = inverse.map(x, y)
        region = leaf.fill_region
        box: Box = leaf.box
        if (isinstance(region, Region) or box[0] <= local[0] <= box[2]) and region.contains(*local):
            return True
    return False
