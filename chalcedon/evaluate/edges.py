"""What depends on what, beyond the tree: edges from a property of one owner to a property of another.

    source                      reader               because
    (page, palette name)        (shape, paint)       a paint says var(--name)
    (shape, look)               (group, clip)        the group is seen through that shape
    (shape, look)               (shape, paint)       a pattern repeats it
    (shape, place)              (text, place)        the text sits inside that shape
    (group around it, place)    (text, place)        ... wherever the group takes the text's own space
    (what is in it, place)      (group, box)         the group turns about, or is placed by, a point of its box

A text that sits inside a shape doesn't count for the boxes of groups, so that no group's place depends on it. What is
left are texts that sit inside one another: the edges of such a loop are left out, its texts keep to their own `at`, and
`loops` names the shapes.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, NamedTuple

from chalcedon.evaluate.copies import Copy
from chalcedon.evaluate.node import Node
from chalcedon.scene import Scene, Shape
from chalcedon.scene.paints import Pattern, names_used


class Reader(NamedTuple):
    """A property of a node that depends on something that changed."""

    node: Node
    name: str
    """`paint`, `place`, `clip` or `box`."""


class Edges:
    """The edges of one display list. They are few, but for those of the palette: these are made when first needed."""

    def __init__(self, scene: Scene, find: Callable[[Shape, Copy], Node | None]) -> None:
        self._scene = scene
        self._find = find
        self._linked: dict[
            int, Node
        ] = {}  # with `clip`, `inside` or a pattern, in the order in which they came to have it
        self._loose: list[Node] = []  # that had until the last `resolve`
        self._boxed: dict[int, Node] = {}  # groups that depend on their own box
        self._painted: dict[str, dict[int, Node]] | None = None  # by the palette names that their paints use
        self._names: dict[int, set[str]] = {}
        self.loops: list[tuple[str, ...]] = []
        """The ids of shapes that would depend on one another, each list from a text on to what it sits inside."""

    @property
    def boxed(self) -> bool:
        """Whether the place of any group depends on its own box."""
        return bool(self._boxed)

    # who has edges

    def note(self, node: Node) -> None:
        """To be called with every node that is new or whose values changed."""
        values, key = node.values, id(node)
        fill, stroke = values.get("fill"), values.get("stroke")
        if "clip" in values or "inside" in values or type(fill) is Pattern or type(stroke) is Pattern:
            self._linked[key] = node
        elif key in self._linked:
            self._loose.append(self._linked.pop(key))
        if node.group:
            if node.needs_box():
                self._boxed[key] = node
            else:
                self._boxed.pop(key, None)
        if self._painted is not None:
            self._unpaint(node)
            self._paint(node, self._painted)

    def forget(self, node: Node) -> None:
        """To be called with every node that goes."""
        self._linked.pop(id(node), None)
        self._boxed.pop(id(node), None)
        self._loose = [n for n in self._loose if n is not node]
        if self._painted is not None:
            self._unpaint(node)

    def _paint(self, node: Node, painted: dict[str, dict[int, Node]]) -> None:
        names = names_used(node.values)
        if names:
            self._names[id(node)] = names
            for name in names:
                painted.setdefault(name, {})[id(node)] = node

    def _unpaint(self, node: Node) -> None:
        for name in self._names.pop(id(node), ()):
            assert self._painted is not None
            del self._painted[name][id(node)]

    # who reads

    def readers_of_palette(self, names: Iterable[str], nodes: Iterable[Node]) -> list[Reader]:
        """Whose paint uses one of these names, among `nodes`, which are all there are."""
        if self._painted is None:
            self._painted = {}
            for node in nodes:
                self._paint(node, self._painted)
        found = {k: n for name in names for k, n in self._painted.get(name, {}).items()}
        return [Reader(node, "paint") for node in found.values()]

    def boxes_around(self, node: Node) -> Iterator[Reader]:
        """The groups, from the inside out, whose box depends on where a node is."""
        if self._boxed:
            for group in upward(node.parent):
                if id(group) in self._boxed:
                    yield Reader(group, "box")

    def readers(self, changed: Iterable[Node]) -> list[Reader]:
        """What depends, by `clip`, `inside` and patterns, on nodes that look otherwise or are elsewhere, and on groups
        that hold other shapes."""
        if not self._linked:
            return []
        touched = {id(n) for n in changed}
        out = []
        for key, node in self._linked.items():
            if node.host is not None and (key in touched or _among(touched, node.host)):
                out.append(Reader(node, "place"))
            if node.clip is not None and _among(touched, node.clip):
                out.append(Reader(node, "clip"))
            if any(tile is not None and _among(touched, tile) for tile in node.tiles):
                out.append(Reader(node, "paint"))
        return out

    # what is read

    def resolve(self) -> list[Reader]:
        """Looks up what `clip`, `inside` and patterns name, now that shapes came, went, moved or name others. Gives
        what is read from another shape than before."""
        out = [reader for node in self._loose for reader in self._led(node, None, None, (None, None))]
        self._loose = []
        hosts = {}
        for key, node in self._linked.items():
            host = self._named(node.values.get("inside", ""), node)
            if host is not None:
                hosts[key] = node, host
        loops = {key: _loop(node, host, hosts) for key, (node, host) in hosts.items()}
        self.loops = [loop for loop in loops.values() if loop]
        for key, node in self._linked.items():
            clip = self._named(node.values.get("clip", ""), node)
            host = hosts[key][1] if key in hosts and not loops[key] else None
            first, second = (self._tile(node.values.get(word), node) for word in ("fill", "stroke"))
            # a child may clip its own group
            out += self._led(node, None if clip is node else clip, host, (first, second))
        return out

    def _tile(self, paint: Any, node: Node) -> Node | None:
        return self._named(paint.shape, node) if isinstance(paint, Pattern) else None

    def _led(
        self, node: Node, clip: Node | None, host: Node | None, tiles: tuple[Node | None, Node | None]
    ) -> Iterator[Reader]:
        if tiles[0] is not node.tiles[0] or tiles[1] is not node.tiles[1]:
            node.tiles = tiles
            yield Reader(node, "paint")
        if clip is not node.clip:
            node.clip = clip
            yield Reader(node, "clip")
        if host is not node.host:
            node.host = host
            yield Reader(node, "place")

    def _named(self, id: str, node: Node) -> Node | None:
        return self._find(self._scene[id], node.copy) if id and id in self._scene else None


def _loop(text: Node, host: Node, hosts: dict[int, tuple[Node, Node]]) -> tuple[str, ...]:
    """The ids on the way from a text to itself, if the place of its host depends on it; else nothing."""
    way: dict[int, tuple[str, ...]] = {id(host): (text.shape.id,)}
    todo = [host]
    while todo:
        one = todo.pop()
        path = (*way[id(one)], one.shape.id)
        if one in upward(text):
            return path if one is text else (*path, text.shape.id)
        for other, further in hosts.values():
            if one in upward(other) and id(further) not in way:
                way[id(further)] = path if one is other else (*path, other.shape.id)
                todo.append(further)
    return ()


def _among(touched: set[int], node: Node) -> bool:
    return id(node) in touched or any(_among(touched, child) for child in node.children)


def upward(node: Node | None) -> Iterator[Node]:
    """A node and the groups around it, from the inside out."""
    while node is not None:
        yield node
        node = node.parent
