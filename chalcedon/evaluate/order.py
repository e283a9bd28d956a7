"""The order in which shapes are painted, kept while shapes come and go."""

from __future__ import annotations

import bisect
from array import array
from collections.abc import Sequence
from typing import NamedTuple

from chalcedon.evaluate.node import Node

GAP = 1 << 40
"""Between the ranks of two shapes: so often can one come between before all are sorted anew."""
FEW = 64
"""So many shapes come and go one by one; more are sorted with all others."""


class Layer(NamedTuple):
    """A group that is painted by itself and then laid down: its ranks [first, last)."""

    first: int
    last: int
    group: Node


class PaintOrder:
    """Nodes that paint, back to front.

    `ranks[slot]` sorts by the place in `nodes`; -1 is none. Ranks have gaps, so that a shape that comes needn't give
    all others another.
    """

    def __init__(self) -> None:
        self.nodes: list[Node] = []
        self.ranks = array("q")
        self.layers: list[Layer] = []
        """Groups painted as one layer, outer ones first."""
        self.cutters: list[tuple[Node, int, int]] = []
        """Cut-outs: the node, and the ranks [first, last) that it removes."""
        self.arranged: dict[str, float] = {}
        """Where shapes stand among their siblings while a run lasts, by id; others by their number in the list."""

    def sort(self, root: Node, slots: int) -> None:
        """Makes it anew from the tree; `slots` is how many there are."""
        nodes: list[Node] = []
        layers: list[Layer] = []
        cutters: list[tuple[Node, int, int]] = []
        _sort_group(root, nodes, layers, cutters, self.arranged)
        self.nodes = nodes
        self.layers = [Layer(first * GAP, last * GAP, group) for first, last, group in layers]
        self.cutters = [(node, first * GAP, last * GAP) for node, first, last in cutters]
        self.ranks = ranks = array("q", [-1]) * slots
        for i, node in enumerate(nodes):
            ranks[node.slot] = i * GAP

    def splice(self, came: Sequence[Node], left: Sequence[Node], slots: int) -> bool:
        """Takes out what left and puts in what came. False when it is to be sorted instead: for much at once, beside
        layers and cut-outs, and where there is no rank left between two."""
        nodes, ranks = self.nodes, self.ranks
        if self.layers or self.cutters or self.arranged or len(came) + len(left) > FEW:
            return False
        if any(n.cuts or (n.group and is_layer(n)) for n in came):
            return False
        ranks.extend([-1] * (slots - len(ranks)))
        gone = {id(n): n.slot for n in left if n.slot >= 0}
        for slot in gone.values():
            at = bisect.bisect_left(nodes, ranks[slot], key=lambda n: ranks[n.slot])
            if at == len(nodes) or id(nodes[at]) not in gone:
                return False
            del nodes[at]
        for slot in gone.values():
            ranks[slot] = -1
        return all(node.group or self._put(node) for node in came)

    def _put(self, node: Node) -> bool:
        nodes, ranks = self.nodes, self.ranks
        prior = _leaf_before(node)
        low = -GAP if prior is None else ranks[prior.slot]
        if prior is not None and low == -1:
            return False  # it came after this one, and goes before it
        at = 0 if prior is None else bisect.bisect_right(nodes, low, key=lambda n: ranks[n.slot])
        high = ranks[nodes[at].slot] if at < len(nodes) else low + 2 * GAP
        if high - low < 2:
            return False
        nodes.insert(at, node)
        ranks[node.slot] = (low + high) // 2
        return True


def _sort_group(
    group: Node,
    order: list[Node],
    layers: list[Layer],
    cutters: list[tuple[Node, int, int]],
    arranged: dict[str, float],
) -> None:
    """Adds what is in a group. A function by itself: one that knew the lists would keep them all in a cycle."""
    mark, first, cutting = len(layers), len(order), False
    for child in _arranged(group.children, arranged) if arranged else group.children:
        start, known = len(order), len(cutters)
        if child.group:
            _sort_group(child, order, layers, cutters, arranged)
        else:
            order.append(child)
        if child.cuts and child.values.get("visible", True):
            cutting = True  # even in a hidden group, which may be a mask
            if child.visible:
                inner = {id(node) for node, *_ in cutters[known:]}  # what cuts in it leaves what is behind it alone
                cutters.extend((leaf, first, start) for leaf in child.walk_leaves() if id(leaf) not in inner)
    if len(order) > first and (cutting or is_layer(group)):
        layers.insert(mark, Layer(first, len(order), group))


def _arranged(children: list[Node], places: dict[str, float]) -> list[Node]:
    numbered = enumerate(children)
    return [child for _, child in sorted(numbered, key=lambda nc: (places.get(nc[1].shape.id, nc[0]), nc[0]))]


def is_layer(group: Node) -> bool:
    """Whether a group's picture is made by itself before it meets what is behind it."""
    return group.opacity < 1.0 or group.special or group.clip is not None


def _leaf_before(node: Node) -> Node | None:
    """The shape that is painted right before one."""
    while node.parent is not None:
        siblings = node.parent.children
        for i in range(_index_of(node, siblings) - 1, -1, -1):
            leaf = _last_leaf(siblings[i])
            if leaf is not None:
                return leaf
        node = node.parent
    return None


def _index_of(node: Node, siblings: list[Node]) -> int:
    group = node.shape.parent
    at = group.index_of(node.shape) if group is not None else -1
    return at if 0 <= at < len(siblings) and siblings[at] is node else siblings.index(node)


def _last_leaf(node: Node) -> Node | None:
    if not node.group:
        return node
    return next((leaf for leaf in map(_last_leaf, reversed(node.children)) if leaf is not None), None)
