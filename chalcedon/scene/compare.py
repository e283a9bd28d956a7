"""What differs between two scenes, shape by shape."""

from __future__ import annotations

from chalcedon.scene.diff import diff
from chalcedon.scene.net import Change, Net
from chalcedon.scene.scene import Scene


def compare(before: Scene, after: Scene) -> list[Change]:
    """What makes one scene of another, in paint order, what is gone last. Shapes are the same when their ids are; one
    that came with its group is not told of by itself. Neither scene is changed."""
    changes = list(Net.of(diff(before, after)).changes(after))
    came = {c.id for c in changes if c.what == "came"}
    return [c for c in changes if c.what != "came" or _holder(after, c.id) not in came]


def _holder(scene: Scene, id: str) -> str:
    shape = scene.get(id)
    return shape.parent.id if shape is not None and shape.parent is not None else ""
