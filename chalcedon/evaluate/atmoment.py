"""The moment that a display list is at, and the places that formulas ask it for."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.moment import START, Moment, sources
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.place import page_map
from chalcedon.scene import Scene, Shape

if TYPE_CHECKING:
    from chalcedon.evaluate.formulas import Formulas


class AtMoment:
    """What a display list knows of its moment."""

    formulas: Formulas

    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        self.moment = START
        """What formulas are worked out at; `to` goes on to another."""

    def nodes(self, shape: Shape) -> Sequence[Node]:
        """Every node of a shape."""
        raise NotImplementedError

    def restate(self, node: Node, name: str) -> None:
        """Has a node take a property anew: from what is stated, its formulas and the moment."""
        raise NotImplementedError

    def to(self, moment: Moment) -> None:
        """Goes on to another moment; `update` then evaluates what depends on what differs."""
        old, self.moment = self.moment, moment
        self.formulas.touched(sources(old, moment))
        if old.overrides is moment.overrides:
            return
        was, now = old.overrides, moment.overrides
        for key in was.keys() | now.keys():
            if key in was and key in now and was[key] == now[key]:
                continue
            shape, name = self.scene.get(key[0]), key[1]
            for node in self.nodes(shape) if shape is not None else ():
                self.restate(node, name)

    @property
    def pointer(self) -> tuple[float, float]:
        """Where the pointer is, in px of the page."""
        return self.moment.pointer or self.middle()

    def middle(self) -> tuple[float, float]:
        """The middle of the page, in px of it."""
        width, height = self.scene.size
        return width / 2, height / 2

    def across(self, place: tuple[float, float]) -> tuple[float, float]:
        """A place in px of the page in the scene's coordinates, and back."""
        return page_map(self.scene).map(*place)

    def input(self, name: str) -> Any:
        """What an input comes to now."""
        given = self.moment.inputs
        return given[name] if name in given else self.scene.inputs[name]
