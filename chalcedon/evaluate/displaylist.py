"""The display list of a scene, kept up to date by evaluating only what depends on what changed."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import NamedTuple

from chalcedon.collector import collector_paused
from chalcedon.evaluate.links import Links
from chalcedon.evaluate.node import Node
from chalcedon.geometry import Box
from chalcedon.scene import Scene, Shape
from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.paints import names_in, paints_of
from chalcedon.scene.shapes import Group


@dataclass(slots=True)
class Changes:
    """What an update changed. `boxes` are the scene px that may look different now."""

    boxes: list[Box] = field(default_factory=list)
    nodes: list[Node] = field(default_factory=list)
    order: bool = False
    page: bool = False

    def __bool__(self) -> bool:
        return bool(self.boxes or self.nodes or self.order or self.page)


class Layer(NamedTuple):
    """A group that is painted by itself and then laid down: its places in `order` from first to before last."""

    first: int
    last: int
    group: Node


class DisplayList:
    """Nodes of every shape, and those that paint in paint order.

    Every node has a slot, a number that stays its own while it lives; `rank[slot]` is its place in `order`.
    Call `update` before reading after the scene changed; nothing here reads the scene in between.
    """

    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        self.order: list[Node] = []
        self.rank: list[int] = []
        self.slots: list[Node | None] = []
        self.layers: list[Layer] = []
        """Groups painted as one layer, outer ones first."""
        self.cutters: list[tuple[Node, int, int]] = []
        """Cut-outs: the node, and the places in `order` that it removes, from first to before last."""
        self.links = Links(scene, self.find)
        self.readers: list[Callable[[Changes], object]] = []
        """Told of every update that changed anything."""
        self.version = 0
        """Grows with every update that changed anything."""
        self._free: list[int] = []
        self._by_shape: dict[int, Node] = {}
        self._dirty: dict[int, tuple[Node, set[str]]] = {}
        self._gone: list[Node] = []
        self._order_dirty = True
        self._page_dirty = False
        self._unread = Changes()
        self._several = False
        self._fresh: list[Node] = []
        with collector_paused():
            self.root = self._build(scene.top, None)
        scene.observers.append(self._note)
        self.update()

    def detach(self) -> None:
        """Stops following the scene."""
        self.scene.observers.remove(self._note)

    def node(self, shape: Shape) -> Node:
        """The node of a shape of the scene. Raises KeyError for any other shape."""
        return self._by_shape[id(shape)]

    def find(self, shape: Shape) -> Node | None:
        return self._by_shape.get(id(shape))

    # noting what edits touch

    def _note(self, edit: Edit) -> None:
        if isinstance(edit, SetValue):
            if not edit.about:
                self._page_dirty = True
                if edit.name == "palette":
                    self._palette_changed()
                return
            shape = self.scene[edit.about]
            affects = shape.properties[edit.name].affects
            if affects != "nothing":
                node = self._by_shape[id(shape)]
                self.links.note(node)
                self._mark(node, affects)
                if affects == "outline" and "stroke_align" in shape._values:
                    self._mark(node, "paint")  # an outline that is opened or closed has another inside
        elif isinstance(edit, Insert):
            parent = self._group(edit.parent)
            parent.children.insert(edit.index, self._build(edit.shape, parent))
            self._order_dirty = True
            self._mark(parent, "content")
        elif isinstance(edit, Remove):
            parent = self._group(edit.parent)
            self._discard(parent.children.pop(edit.index))
            self._order_dirty = True
            self._mark(parent, "content")
        elif isinstance(edit, Move):
            old, new = self._group(edit.old_parent), self._group(edit.parent)
            node = old.children.pop(edit.old_index)
            new.children.insert(edit.index, node)
            node.parent = new
            self._order_dirty = True
            for touched, what in ((node, "place"), (node, "state"), (old, "content"), (new, "content")):
                self._mark(touched, what)
        else:
            assert isinstance(edit, Rename | DropRaw | KeepRaw)

    def _group(self, id: str) -> Node:
        return self.node(self.scene.group(id))

    def touch(self, node: Node) -> None:
        """Has a node painted again although the scene is the same: a file it shows has changed."""
        self._mark(node, "paint")

    def _palette_changed(self) -> None:
        for node in self._by_shape.values():
            if any(names_in(paint) for _, paint in paints_of(node.shape)):
                self._mark(node, "paint")

    def _mark(self, node: Node, what: str) -> None:
        entry = self._dirty.get(id(node))
        if entry is None:
            self._dirty[id(node)] = (node, {what})
        else:
            entry[1].add(what)

    def _build(self, shape: Shape, parent: Node | None) -> Node:
        node = Node(shape, parent)
        self._by_shape[id(shape)] = node
        self._fresh.append(node)  # groups before their children
        self.links.note(node)
        if isinstance(shape, Group):
            node.children = [self._build(c, node) for c in shape._children]
        elif self._free:
            node.slot = self._free.pop()
            self.slots[node.slot] = node
        else:
            node.slot = len(self.slots)
            self.slots.append(node)
        return node

    def _discard(self, node: Node) -> None:
        for n in _subtree(node):
            del self._by_shape[id(n.shape)]
            self.links.forget(n)
            if n.slot >= 0:
                self._free.append(n.slot)
                self.slots[n.slot] = None
                self._gone.append(n)
            self._dirty.pop(id(n), None)

    # evaluating

    def update(self) -> Changes:
        """Evaluates what the edits touched, and says what changed since the last call."""
        self.settle()
        changes, self._unread = self._unread, Changes()
        if self._several:  # a node may have been taken away after it was told of, or told of twice
            changes.nodes = [n for n in dict.fromkeys(changes.nodes) if self._by_shape.get(id(n.shape)) is n]
        self._several = False
        if changes:
            for reader in self.readers:
                reader(changes)
        return changes

    def settle(self) -> None:
        """Evaluates what the edits touched, for who needs it in the middle of a step. What changed is kept for the
        next `update`."""
        changes = self._evaluate()
        if changes:
            unread = self._unread
            self._several = self._several or bool(unread)
            unread.boxes += changes.boxes
            unread.nodes += changes.nodes
            unread.order |= changes.order
            unread.page |= changes.page

    def _evaluate(self) -> Changes:
        changes = Changes(page=self._page_dirty)
        if not (self._dirty or self._fresh or self._gone or self._order_dirty or self._page_dirty):
            return changes
        self._page_dirty = False
        changes.boxes += [n.cull for n in self._gone if n.cull[0] <= n.cull[2]]
        self._gone = []
        with collector_paused():
            self._evaluate_fresh(changes)
        if self._dirty:
            self._evaluate_dirty(changes)
        for node in self.links.changed(changes.nodes):
            node.evaluate_place(node.shape.plain_values())
            self._evaluate_below(node, False, set(), changes)
            self._order_dirty = self._order_dirty or node.group
        if self._order_dirty:
            self._sort()
            changes.order = True
        self.version += 1
        return changes

    def _evaluate_fresh(self, changes: Changes) -> None:
        alive = [n for n in self._fresh if self._by_shape.get(id(n.shape)) is n]
        self._fresh = []
        for node in reversed(alive):  # children before their groups: a group's box needs theirs
            values = node.shape.plain_values()
            node.evaluate_outline(values)
            node.evaluate_place(values)
        palette = dict(self.scene.palette)
        for node in alive:
            values = node.shape.plain_values()
            node.evaluate_paint(values, palette)
            node.evaluate_state(values)
            node.evaluate_world()
        changes.nodes += [n for n in alive if not n.group]
        changes.boxes += [n.cull for n in changes.nodes]

    def _evaluate_dirty(self, changes: Changes) -> None:
        dirty = self._dirty
        self._dirty = {}
        for node, _what in list(dirty.values()):
            self._spread_upward(node, dirty)
        entries = sorted(dirty.values(), key=lambda e: _depth(e[0]), reverse=True)
        for node, what in entries:  # deepest first: boxes are made from the inside out
            if (
                "outline" in what
                or "box" in what
                or ("content" in what and node.needs_box())
                or ("place" in what and node.group)
            ):
                node.evaluate_outline(node.shape.plain_values())
            if what & {"outline", "place", "box", "content"}:
                node.evaluate_place(node.shape.plain_values())
            if "paint" in what:
                shadow = node.shadow
                node.evaluate_paint(node.shape.plain_values(), dict(self.scene.palette))
                if node.group and node.shadow != shadow:
                    what.add("place")  # what is in it casts other shadows
        done: set[int] = set()
        for node, what in reversed(entries):  # shallowest first: matrices are made from the outside in
            if what == {"content"} and not node.needs_box():
                continue
            if "paint" in what or "state" in what:  # a hidden cut-out cuts nothing
                self._order_dirty = self._order_dirty or node.group or node.cuts or "cuts" in node.shape._values
            if what == {"paint"} and node.group:
                self._layer_changed(node, changes)
                continue
            self._evaluate_below(node, "state" in what, done, changes)

    def _spread_upward(self, node: Node, dirty: dict[int, tuple[Node, set[str]]]) -> None:
        """Groups whose own place depends on their box follow what is in them."""
        parent = node.parent
        while parent is not None:
            if parent.needs_box():
                dirty.setdefault(id(parent), (parent, set()))[1].add("box")
            parent = parent.parent

    def _evaluate_below(self, node: Node, state: bool, done: set[int], changes: Changes) -> None:
        stack = [node]
        while stack:
            n = stack.pop()
            if id(n) in done and not state:
                continue
            done.add(id(n))
            if not n.group:
                changes.boxes.append(n.cull)
            if state:
                n.evaluate_state(n.shape.plain_values())
            n.evaluate_world()
            if n.group:
                stack.extend(n.children)
            else:
                changes.boxes.append(n.cull)
                changes.nodes.append(n)

    def _layer_changed(self, node: Node, changes: Changes) -> None:
        changes.boxes += [leaf.cull for leaf in node.walk_leaves()]
        self._order_dirty = True

    def _sort(self) -> None:
        """Makes `order`, `rank`, `layers` and `cutters` anew from the tree."""
        self._order_dirty = False
        order: list[Node] = []
        layers: list[Layer] = []
        cutters: list[tuple[Node, int, int]] = []
        _sort_group(self.root, order, layers, cutters)
        self.order = order
        self.layers = layers
        self.cutters = cutters
        self.rank = rank = [-1] * len(self.slots)
        for i, node in enumerate(order):
            rank[node.slot] = i


def _sort_group(group: Node, order: list[Node], layers: list[Layer], cutters: list[tuple[Node, int, int]]) -> None:
    """Adds what is in a group. A function by itself: one that knew the lists would keep them all in a cycle."""
    mark, first, cutting = len(layers), len(order), False
    for child in group.children:
        start = len(order)
        if child.group:
            _sort_group(child, order, layers, cutters)
        else:
            order.append(child)
        if child.cuts and child.visible:
            cutting = True
            cutters.extend((leaf, first, start) for leaf in child.walk_leaves())
    if len(order) > first and (cutting or _is_layer(group)):
        layers.insert(mark, Layer(first, len(order), group))


def _is_layer(group: Node) -> bool:
    """Whether a group's picture is made by itself before it meets what is behind it."""
    return group.opacity < 1.0 or group.special or group.clip is not None or bool(group.shape._values.get("isolate"))


def _depth(node: Node) -> int:
    depth = 0
    parent = node.parent
    while parent is not None:
        depth += 1
        parent = parent.parent
    return depth


def _subtree(node: Node) -> Iterable[Node]:
    stack = [node]
    while stack:
        n = stack.pop()
        yield n
        stack.extend(n.children)
