"""The display list that is kept with a scene."""

from __future__ import annotations

from typing import Any

from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Declared


def keep(display: DisplayList | None, scene: Scene) -> None:
    """Has a display list that somebody has anyway be the one that is kept with its scene; None for none any more."""
    if display is None:
        scene.kept.pop("display list", None)
    else:
        scene.kept["display list"] = display


def settled(scene: Scene) -> DisplayList:
    """The display list that is kept with a scene, evaluated without telling anybody: for questions in the middle of a
    step."""
    found: DisplayList | None = scene.kept.get("display list")
    if found is None:
        return display_of(scene)
    found.settle()
    return found


def comes_to(owner: Declared, name: str) -> Any:
    """What a property comes to, of a shape in a scene or of a scene."""
    scene = owner if isinstance(owner, Scene) else owner.scene  # type: ignore[attr-defined]
    display = settled(scene)
    values = display.page if isinstance(owner, Scene) else display.node(owner).values  # type: ignore[arg-type]
    return values.get(name, owner.declared(name).default)


def formulas_at(owner: Declared, name: str) -> Cell | None:
    """The cell of a property of a shape in a scene, or of a scene; None where no formula is."""
    scene = owner if isinstance(owner, Scene) else getattr(owner, "scene", None)
    if scene is None or name not in (owner._formulas or ()):
        return None
    display = settled(scene)
    node = display.root if isinstance(owner, Scene) else display.find(owner) if isinstance(owner, Shape) else None
    return None if node is None else display.formulas.cell(node, name)


def set_by_run(owner: Declared) -> dict[str, Any]:
    """What the run has set of a shape, by property: its picture has that instead of what is stated."""
    if not isinstance(owner, Shape) or owner.scene is None or "display list" not in owner.scene.kept:
        return {}
    overrides = settled(owner.scene).moment.overrides
    return {name: value for (id, name), value in overrides.items() if id == owner.id} if overrides else {}


def display_of(scene: Scene) -> DisplayList:
    """The display list that is kept with a scene, for whoever has none of their own; up to date."""
    found: DisplayList | None = scene.kept.get("display list")
    if found is None:
        found = scene.kept["display list"] = DisplayList(scene)
    else:
        found.update()
    return found
