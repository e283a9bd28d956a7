"""The display list that is kept with a scene."""

from __future__ import annotations

from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.scene import Scene


def display_of(scene: Scene) -> DisplayList:
    """The display list that is kept with a scene, for whoever has none of their own; up to date."""
    found: DisplayList | None = scene.kept.get("display list")
    if found is None:
        found = scene.kept["display list"] = DisplayList(scene)
    else:
        found.update()
    return found
