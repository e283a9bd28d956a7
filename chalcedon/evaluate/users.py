"""Who reads a name: the properties whose formulas use a shape or an input, and what becomes of them when it goes."""

from __future__ import annotations

from typing import Any, NamedTuple

from chalcedon.evaluate.kept import comes_to
from chalcedon.evaluate.names import BOX
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.formula.syntax import parse
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.responses import texts_in


class User(NamedTuple):
    """A property of a shape, or for "" of the scene, that reads a name."""

    id: str
    name: str


def names_in(text: str) -> set[str]:
    """The first names in a formula: ids, inputs and words such as time."""
    return {path[0] for path in _paths(text)}


def users_of_name(scene: Scene, name: str) -> list[User]:
    """The properties whose formulas use a name, in paint order after those of the scene; responses count as one."""
    out = []
    owners: list[tuple[str, Declared]] = [("", scene), *((s.id, s) for s in scene.walk())]
    for id, owner in owners:
        for prop, formulas in owner.formulas().items() if owner._formulas else ():
            if any(name in names_in(f.text) for f in formulas):
                out.append(User(id, prop))
        for response in owner._values.get("responses", ()):
            targets = {act.target.split(".")[0] for act in response.do}
            if name in targets or any(name in names_in(text) for text in texts_in(response)):
                out.append(User(id, "responses"))
                break
    return out


def readers_of(scene: Scene, id: str, name: str) -> list[User]:
    """The properties whose formulas read a property of a shape; boxes and outlines follow all that shapes it."""
    shaping = scene[id].properties[name].affects in ("outline", "place")
    out = []
    owners: list[tuple[str, Declared]] = [("", scene), *((s.id, s) for s in scene.walk() if s._formulas)]
    for owner_id, owner in owners:
        for prop, formulas in owner.formulas().items() if owner._formulas else ():
            paths = [path for f in formulas for path in _paths(f.text)]
            names = {p[1] if len(p) > 1 else "" for p in paths if p[0] == id}
            if name in names or (shaping and (names & BOX.keys() or "" in names)):
                out.append(User(owner_id, prop))
    return out


def _paths(text: str) -> list[tuple[str, ...]]:
    try:
        return parse(text).paths()
    except FormulaProblem:
        return []


def state_values(scene: Scene, name: str) -> list[User]:
    """Has every property that reads a name state what it comes to now. Gives which those were."""
    changed = []
    for user in users_of_name(scene, name):
        if user.name == "responses":
            continue
        owner: Any = scene.owner(user.id)
        scene.set(owner, user.name, _plainly(owner, user.name))
        changed.append(user)
    return changed


def _plainly(owner: Scene | Shape, name: str) -> Any:
    value = comes_to(owner, name)
    return value.last if isinstance(value, Formula) else value


def let_go_of(scene: Scene, name: str) -> None:
    """Deletes an input; what reads it states what it comes to now. One undo step."""
    with scene.step(f"Delete input {name}"):
        state_values(scene, name)
        del scene.inputs[name]
