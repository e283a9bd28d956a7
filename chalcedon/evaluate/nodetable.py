"""The nodes of a display list, by shape and by slot."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from chalcedon.evaluate.copies import Copy
from chalcedon.evaluate.node import Node
from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene import Shape


class NodeTable:
    """All nodes. One that paints has a slot, a number that stays its own while it lives."""

    def __init__(self) -> None:
        self.first: dict[Shape, Node] = {}
        """The node of each shape, the first of a copied one."""
        self.slots: list[Node | None] = []
        self._free: list[int] = []
        self._more: dict[Shape, list[Node]] = {}  # all nodes of a shape that has other than one

    def node(self, shape: Shape, copy: Copy = ()) -> Node:
        """The node of a shape, or of its copy. Raises ValueProblem."""
        if copy and shape in self._more:
            for node in self._more[shape]:
                if node.copy == copy:
                    return node
            raise ValueProblem(f"{shape._called} has no copy {copy}.")
        try:
            return self.first[shape]
        except KeyError:
            called = shape._called if isinstance(shape, Shape) else shorten(shape)
            raise ValueProblem(f"{called} is no shape of this scene.", hint="Add it first.") from None

    def nodes(self, shape: Shape) -> Sequence[Node]:
        """Every node of a shape, in paint order."""
        more = self._more.get(shape)
        if more is not None:
            return more
        node = self.first.get(shape)
        return () if node is None else (node,)

    def every(self) -> Iterable[Node]:
        """All nodes."""
        for first in self.first.values():
            yield from self._more.get(first.shape, (first,))

    def add(self, node: Node) -> None:
        """Takes in a node, and gives it a slot if it paints."""
        first = self.first.setdefault(node.shape, node)
        if first is not node:
            self._more.setdefault(node.shape, [first]).append(node)
        if node.group:
            return
        if self._free:
            node.slot = self._free.pop()
            self.slots[node.slot] = node
        else:
            node.slot = len(self.slots)
            self.slots.append(node)

    def drop(self, node: Node) -> None:
        """Lets a node go; its slot is free for another. The node keeps the number."""
        key = node.shape
        more = self._more.get(key)
        if more is None:
            del self.first[key]
        else:
            more.remove(node)
            self.first[key] = more[0]
            if len(more) == 1:
                del self._more[key]
        if node.slot >= 0:
            self._free.append(node.slot)
            self.slots[node.slot] = None


def subtree(node: Node) -> Iterable[Node]:
    """A node and all below it."""
    stack = [node]
    while stack:
        n = stack.pop()
        yield n
        stack.extend(n.children)
