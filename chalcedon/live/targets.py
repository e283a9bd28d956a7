"""What responses and drags change: a property of a shape, a number in it, or an input."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from chalcedon.problems import ValueProblem, nearest, shorten_name
from chalcedon.scene.inputs import Input
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Shape
from chalcedon.scene.values import Choice, Flag, Tuple

if TYPE_CHECKING:
    from chalcedon.live.live import Live


class Found(NamedTuple):
    """A target, looked up. `number` is which number of it is meant; -1 for all of it."""

    id: str
    name: str
    number: int
    owner: Shape | Input

    def value(self, live: Live) -> Any:
        """What it is now."""
        if isinstance(self.owner, Input):
            whole = live.display.input(self.name)
        else:
            node = live.display.nodes(self.owner)[0]
            whole = node.values.get(self.name, self.owner.properties[self.name].default)
        return whole if self.number < 0 else whole[self.number]

    def words(self) -> tuple[str, ...]:
        """The words that it can be, of a choice."""
        if isinstance(self.owner, Input):
            return self.owner.choices
        kind = self.owner.properties[self.name].kind
        return tuple(kind.words) if isinstance(kind, Choice) else ()

    def checked(self, raw: Any, live: Live) -> Any:
        """The whole value that it has when this, or the number of it that is meant, is set. Raises ValueProblem."""
        if self.number >= 0:
            whole = list(self._replace(number=-1).value(live))
            whole[self.number] = raw
            raw = tuple(whole)
        if isinstance(self.owner, Input):
            return self.owner.read(raw)
        prop = self.owner.properties[self.name]
        if isinstance(prop.kind, Flag):
            raw = bool(raw)
        elif isinstance(raw, bool):
            raw = int(raw)
        return prop.kind.plain(prop.read(raw, self.owner.id))


def find(scene: Scene, text: str, owner: str = "") -> Found:
    """The target that a text names: lamp.fill, boat.at.x, self.opacity, an input. Raises ValueProblem."""
    first, *rest = text.split(".")
    if first in scene.inputs:
        one = scene.inputs.worked_out(first)
        return Found("", first, _index(("x", "y"), rest, text), one)
    shape = scene.get(owner if first == "self" else first)
    if shape is None:
        known = [*scene.inputs, *(s.id for s in scene.walk())]
        raise ValueProblem(f"there is nothing called {shorten_name(first)}.", hint=nearest(first, known))
    if not rest:
        raise ValueProblem(f"{first} is a shape; one of its values can be set.", hint=f"For example {first}.fill.")
    prop = shape.declared(rest[0])
    if prop.affects == "nothing":
        raise ValueProblem(f"{rest[0]} of {first} shows nothing, so a run has no use for it.")
    labels = prop.kind.labels if isinstance(prop.kind, Tuple) else ()
    return Found(shape.id, rest[0], _index(labels, rest[1:], text), shape)


def _index(labels: tuple[str, ...], rest: list[str], text: str) -> int:
    if not rest:
        return -1
    if len(rest) > 1 or not labels or rest[0] not in (*labels, "x", "y"):
        raise ValueProblem(f"{shorten_name(text)} is no value to change.", hint=nearest(rest[0], labels))
    return labels.index(rest[0]) if rest[0] in labels else "xy".index(rest[0])
