"""The moment that a display list is at, and the places that formulas ask it for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.copies import Copy
from chalcedon.evaluate.moment import START, Moment, sources
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.order import PaintOrder
from chalcedon.evaluate.place import page_map
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Stored

if TYPE_CHECKING:
    from chalcedon.evaluate.formulas import Formulas


class AtMoment:
    """What a display list knows of its moment."""

    formulas: Formulas
    _paint: PaintOrder
    _order_dirty: bool
    _reordered: bool

    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        self.moment = START
        """What formulas are worked out at; `to` goes on to another."""
        self._placed: dict[int, tuple[Shape, Stored]] = {}  # copies of a run, and what they have instead
        self._placed_nodes: dict[int, list[Node]] = {}

    def nodes(self, shape: Shape) -> Sequence[Node]:
        """Every node of a shape."""
        raise NotImplementedError

    def _build(self, shape: Shape, parent: Node | None, copy: Copy = ()) -> Node:
        raise NotImplementedError

    def _discard(self, node: Node) -> None:
        raise NotImplementedError

    def _mark(self, node: Node, what: str) -> None:
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

    # what a run adds, takes away and puts in another order

    def place(self, shape: Shape, serial: int, values: Stored) -> None:
        """Paints a shape once more, with other values, in front of its siblings: as copy `serial` of a run, which is
        -serial in the copy of its nodes."""
        self._placed[serial] = shape, values
        made = self._placed_nodes[serial] = []
        for holder in self.nodes(shape.parent) if shape.parent is not None else ():
            node = self._build(shape, holder, (*holder.copy, -serial))
            holder.children.append(node)  # behind those that are stated, whose numbers edits count
            made.append(node)
            self._mark(holder, "content")
        self._order_dirty = True

    def placed_values(self, shape: Shape, serial: int) -> Stored:
        """What a shape is painted with in a copy that a run placed."""
        placed, own = self._placed[serial]
        plain = shape.stated_plain()
        return {**plain, **own} if shape is placed else plain

    def take_away(self, serial: int) -> None:
        """Takes a copy that was placed away again."""
        self._placed.pop(serial, None)
        for node in self._placed_nodes.pop(serial, ()):
            parent = node.parent
            if node.alive and parent is not None:
                parent.children.remove(node)
                self._discard(node)
                self._mark(parent, "content")
                self._order_dirty = True

    def let_placed_go(self) -> None:
        """To be called when shapes left the scene: what a run placed of them goes as well."""
        for serial in [n for n, (placed, _own) in self._placed.items() if placed.scene is None]:
            self.take_away(serial)

    def arrange(self, orders: Mapping[str, float]) -> None:
        """Has siblings stand in another order while a run lasts: ids and their places, more being farther in front."""
        if self._paint.arranged != orders:
            self._paint.arranged = dict(orders)
            self._order_dirty = self._reordered = True
