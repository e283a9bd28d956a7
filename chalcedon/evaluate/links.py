"""Shapes that refer to others by id: groups clipped by a shape, texts that sit inside one."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from chalcedon.evaluate.copies import Copy
from chalcedon.evaluate.node import Node
from chalcedon.geometry.boxes import Box
from chalcedon.geometry.contain import Region
from chalcedon.scene import Scene, Shape


class Links:
    """Keeps the references of nodes resolved. Few shapes have any, so all are looked at after every change."""

    def __init__(self, scene: Scene, find: Callable[[Shape, Copy], Node | None]) -> None:
        self._scene = scene
        self._find = find
        self._linked: dict[int, Node] = {}
        self._freed: list[Node] = []
        """Nodes that referred to something until the last change."""

    def note(self, node: Node) -> None:
        """To be called with every node that is new or whose values changed."""
        values = node.values
        if "clip" in values or "inside" in values:
            self._linked[id(node)] = node
        elif id(node) in self._linked:
            del self._linked[id(node)]
            self._freed.append(node)

    def forget(self, node: Node) -> None:
        """To be called with every node that goes."""
        self._linked.pop(id(node), None)
        self._freed = [n for n in self._freed if n is not node]

    def changed(self, changed: Iterable[Node]) -> list[tuple[Node, bool]]:
        """Resolves every reference. Gives the nodes that what they refer to matters for, and whether that is another
        than before; otherwise it is among the changed."""
        out, self._freed = [(n, True) for n in self._freed], []
        for node, _ in out:
            node.clip = node.host = None
        if not self._linked:
            return out
        touched = {id(n) for n in changed}
        for node in self._linked.values():
            clip, host = (self._resolve(node.values.get(name, ""), node) for name in ("clip", "inside"))
            if clip is not None and any(leaf is node for leaf in _upward(clip)):
                clip = None if clip is node else clip  # a child may clip its own group; the group itself can't
            if host is not None and any(g is host for g in _upward(node)):
                host = None  # a group's place would depend on its own child's
            if clip is not node.clip or host is not node.host:
                node.clip, node.host = clip, host
                out.append((node, True))
            elif any(id(leaf) in touched for n in (clip, host) if n is not None for leaf in n.walk_leaves()):
                out.append((node, False))
        return out

    def _resolve(self, id: str, node: Node) -> Node | None:
        return self._find(self._scene[id], node.copy) if id and id in self._scene else None


def _upward(node: Node | None) -> Iterable[Node]:
    while node is not None:
        yield node
        node = node.parent


def in_clip(group: Node, x: float, y: float) -> bool:
    """Whether a point in scene px lies on the fill of the shape that clips a group."""
    assert group.clip is not None
    for leaf in group.clip.walk_leaves():
        inverse = leaf.inverse
        if inverse is None:
            continue
        local = inverse.map(x, y)
        region = leaf.fill_region
        box: Box = leaf.box
        if (isinstance(region, Region) or box[0] <= local[0] <= box[2]) and region.contains(*local):
            return True
    return False
