"""The display list of a scene, kept up to date by evaluating only what depends on what changed."""

from __future__ import annotations

from array import array
from collections.abc import Callable, Sequence

from chalcedon.collector import collector_paused
from chalcedon.evaluate.atmoment import AtMoment
from chalcedon.evaluate.carrying import Carrying
from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.changes import Changes
from chalcedon.evaluate.columns import Column
from chalcedon.evaluate.copies import Copy, CopyMaker
from chalcedon.evaluate.edges import Edges
from chalcedon.evaluate.formulas import Formulas
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.nodetable import NodeTable, subtree
from chalcedon.evaluate.ofpage import OfPage
from chalcedon.evaluate.order import Layer, PaintOrder, is_layer
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Stored
from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.shapes import Group


class DisplayList(AtMoment, OfPage):
    """Nodes of every shape, and those that paint in paint order.

    Every node that paints has a slot, a number that stays its own while it lives. `rank[slot]` sorts by the place in
    `order` (see PaintOrder).
    Call `update` before reading after the scene changed; nothing here reads the scene in between.
    """

    def __init__(self, scene: Scene, copies: CopyMaker | None = None) -> None:
        AtMoment.__init__(self, scene)
        OfPage.__init__(self, scene)
        self._copies = copies
        self._paint = PaintOrder()
        self.order: list[Node] = []
        self.rank = array("q")
        self.layers: list[Layer] = []
        """Groups painted as one layer, outer ones first."""
        self.cutters: list[tuple[Node, int, int]] = []
        """Cut-outs: the node, and the ranks [first, last) that it removes."""
        self.edges = Edges(scene, self.near)
        self.formulas = Formulas(self)
        self.readers: list[Callable[[Changes], object]] = []
        """Told of every update that changed anything."""
        self.version = 0
        """Grows with every update that changed anything."""
        self._table = NodeTable()
        self.slots = self._table.slots
        self._dirty: dict[int, tuple[Node, set[str]]] = {}
        self._carrying = Carrying()
        self._gone: list[Node] = []
        self._order_dirty = True
        self._reordered = True  # whether `order` is to be made anew, and not only changed by what came and went
        self._layers_dirty = False
        self._cutting: set[int] = set()  # ids of the nodes that cut
        self._unread = Changes()
        self._several = False
        self._fresh: list[Node] = []
        with collector_paused():
            self.root = self._build(scene.top, None)
        self._state_page()
        scene.observers.append(self._note)
        self.update()

    def detach(self) -> None:
        """Stops following the scene."""
        self.scene.observers.remove(self._note)

    def node(self, shape: Shape, copy: Copy = ()) -> Node:
        """The node of a shape of the scene: of a copied one, that of a copy, else of the first. Raises ValueProblem for
        any other shape, and for a copy that there isn't."""
        return self._table.node(shape, copy)

    def nodes(self, shape: Shape) -> Sequence[Node]:
        """Every node of a shape, in paint order. Of a copied group, that which stands in its place comes first."""
        return self._table.nodes(shape)

    def find(self, shape: Shape) -> Node | None:
        """The node of a shape, the first of a copied one; None for a shape that isn't in the scene."""
        return self._table.first.get(shape)

    def near(self, shape: Shape, copy: Copy) -> Node | None:
        """The node of a shape that belongs to a copy: in the same copies as far as it is in any."""
        nodes = self.nodes(shape)
        return next((n for n in nodes if n.copy == copy[: len(n.copy)]), nodes[0] if nodes else None)

    def _holders(self, id: str) -> list[Node]:
        """The nodes that hold what is in a group: its own, or each of its copies."""
        return [n for n in self.nodes(self.scene.group(id)) if not n.copied]

    # noting what edits touch

    def _note(self, edit: Edit) -> None:
        if isinstance(edit, SetValue):
            if not edit.about:
                self._scene_changed(edit)
                return
            self._value_changed(self.scene[edit.about], edit.name)
        elif isinstance(edit, Insert):
            for holder in self._holders(edit.parent):
                holder.children.insert(edit.index, self._build(edit.shape, holder, holder.copy))
                self._mark(holder, "content")
            self._order_dirty = True
            self.formulas.came()
        elif isinstance(edit, Remove):
            for holder in self._holders(edit.parent):
                self._discard(holder.children.pop(edit.index))
                self._mark(holder, "content")
            self._order_dirty = True
            self.let_placed_go()
        elif isinstance(edit, Move):
            self._moved(edit)
        else:
            assert isinstance(edit, Rename | DropRaw | KeepRaw)
            if isinstance(edit, Rename):
                self.formulas.came()

    def _value_changed(self, shape: Shape, name: str) -> None:
        affects = shape.properties[name].affects
        for node in self.nodes(shape):
            if shape._formulas or self.formulas:
                self.formulas.note(node, shape)
            self.restate(node, name)
        if affects == "nothing":
            return
        if self._copies is not None and isinstance(shape, Group):
            self.renew(shape)

    def restate(self, node: Node, name: str) -> None:
        """Has a node take a property anew: from what is stated, its formulas and the moment."""
        node.values = self._values(node)
        self._value_put(node, name, node.shape.properties[name].affects)
        self.formulas.values_changed(node, (name,))

    def _value_put(self, node: Node, name: str, affects: str) -> None:
        """Has a node evaluated that has another value now."""
        if affects == "nothing":
            return
        self.edges.note(node)
        if node.outline_version == 0:
            return  # it is new: all of it will be
        self._mark(node, affects)
        if affects == "outline" and ("stroke_align" in node.values or name in ("runs", "content")):
            self._mark(node, "paint")  # an outline that is opened or closed has another inside; letters have paints

    def _cells_changed(self, cells: Sequence[Cell], column: Column | None = None) -> None:
        """Takes in what formulas came to; `column` holds those cells when they were worked out together."""
        overrides, carrying = self.moment.overrides, self._carrying
        if column is not None and column.name == "at" and not overrides and column.settled:
            values = column.values if column.rows is None else [column.values[i] for i in column.rows.tolist()]
            for cell, value in zip(cells, values, strict=True):
                node = cell.node
                node.values = {**node.values, "at": value}
            carrying.add_column(column)
            return
        for cell in cells:
            node, name = cell.node, cell.name
            if node is self.root:
                self._page_came(cell)
            elif not overrides or (node.shape.id, name) not in overrides:
                node.values = {**node.values, name: cell.value}
                if name == "at" and not node.group and node.outline_version:
                    carrying.add(node)  # nothing else of it is another
                else:
                    self._value_put(node, name, cell.affects)

    def _moved(self, edit: Move) -> None:
        shape = self.scene[edit.about]
        olds, news = self._holders(edit.old_parent), self._holders(edit.parent)
        for node in (*olds, *news):
            self._mark(node, "content")
        self._order_dirty = True
        self._reordered = True
        taken = [old.children.pop(edit.old_index) for old in olds]
        self.formulas.moved(n for node in taken for n in subtree(node))
        if [n.copy for n in olds] == [n.copy for n in news]:
            for node, new in zip(taken, news, strict=True):
                new.children.insert(edit.index, node)
                node.parent = new
                self._mark(node, "place")
                self._mark(node, "state")
            return
        for node in taken:
            self._discard(node)
        for new in news:
            new.children.insert(edit.index, self._build(shape, new, new.copy))

    def renew(self, group: Group) -> None:
        """Makes the copies of a group anew: their number or their values may be others."""
        for node in list(self.nodes(group)):
            count = self._copies.count(group) if self._copies is not None else None
            if node.alive and node.parent is not None and (node.copied or count is not None) and not _is_copy(node):
                at = node.parent.children.index(node)
                self._discard(node)
                node.parent.children[at] = self._build(group, node.parent, node.copy)
                self._mark(node.parent, "content")
                self._order_dirty = self._reordered = True

    def touch(self, node: Node) -> None:
        """Has a node painted again although the scene is the same: a file it shows has changed."""
        self._mark(node, "paint")

    def _mark(self, node: Node, what: str) -> None:
        entry = self._dirty.get(id(node))
        if entry is None:
            self._dirty[id(node)] = (node, {what})
        else:
            entry[1].add(what)

    def _values(self, node: Node) -> Stored:
        values = self._values_of(node.shape, node.copy, _is_copy(node))
        if node.shape._formulas and self.formulas:
            values = {**values, **{cell.name: cell.value for cell in self.formulas.cells(node)}}
        overrides = self.moment.overrides
        if overrides:
            own = {name: value for (id, name), value in overrides.items() if id == node.shape.id}
            values = {**values, **own} if own else values
        return values

    def _values_of(self, shape: Shape, copy: Copy, itself: bool) -> Stored:
        """What a node of a shape is painted with; `itself`: the node of a copy of that very group."""
        if copy and copy[-1] < 0:
            return self.placed_values(shape, -copy[-1])
        if self._copies is None or not copy:
            return shape.stated_plain()
        own = self._copies.values(shape, copy)
        return own if itself else {**shape.stated_plain(), **own} if own else shape.stated_plain()

    def _build(self, shape: Shape, parent: Node | None, copy: Copy = ()) -> Node:
        node = self._add(Node(shape, parent, copy, self._values_of(shape, copy, False)))
        if not isinstance(shape, Group):
            return node
        count = None if self._copies is None else self._copies.count(shape)
        if count is None:
            node.children = [self._build(c, node, copy) for c in shape._children]
            return node
        node.copied = True
        for i in range(count):
            key = (*copy, i)
            one = self._add(Node(shape, node, key, self._values_of(shape, key, True)))
            one.children = [self._build(c, one, key) for c in shape._children]
            node.children.append(one)
        return node

    def _add(self, node: Node) -> Node:
        key = node.shape
        self._table.add(node)
        self._fresh.append(node)  # groups before their children
        if key._formulas:
            self.formulas.note(node, key)
        if self.moment.overrides:
            node.values = self._values(node)
        self.edges.note(node)
        return node

    def _discard(self, node: Node) -> None:
        self.formulas.moved(subtree(node))
        for n in subtree(node):
            n.alive = False
            self._cutting.discard(id(n))
            self._table.drop(n)
            self.edges.forget(n)
            self.formulas.forget(n)
            self._gone.append(n)
            self._dirty.pop(id(n), None)

    # evaluating

    def update(self) -> Changes:
        """Evaluates what the edits touched, and says what changed since the last call."""
        self.settle()
        changes, self._unread = self._unread, Changes()
        if self._several:  # a node may have been taken away after it was told of, or told of twice
            changes.nodes = [n for n in dict.fromkeys(changes.nodes) if n.alive]
            changes.groups = [n for n in dict.fromkeys(changes.groups) if n.alive]
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
            unread.add(changes)

    def _evaluate(self) -> Changes:
        changes = Changes()
        waiting = self._dirty or self._carrying or self._fresh or self._gone or self._order_dirty or self._page_dirty
        if not waiting and not self.formulas.waiting:
            return changes
        changes.left, self._gone = self._gone, []
        changes.boxes += [n.cull for n in changes.left if n.slot >= 0 and n.cull[0] <= n.cull[2]]
        if self.formulas:
            self.formulas.work_out(lambda: self._evaluate_places(changes), self._cells_changed)
        self._evaluate_places(changes)
        if not (changes or self._order_dirty or self._page_dirty):
            return changes  # formulas that came to the same
        changes.page, self._page_dirty = self._page_dirty, False
        if self._order_dirty or self._layers_dirty:
            changes.order, changes.moved = self._order_dirty, self._reordered
            paint, slots = self._paint, len(self.slots)
            whole = self._reordered or self._layers_dirty or bool(self._cutting)
            if whole or not paint.splice(changes.came, changes.left, slots):
                changes.layers = True
                paint.sort(self.root, slots)
            self.order, self.rank, self.layers, self.cutters = paint.nodes, paint.ranks, paint.layers, paint.cutters
            self._order_dirty = self._layers_dirty = self._reordered = False
        self.version += 1
        return changes

    def _evaluate_places(self, changes: Changes) -> bool:
        """Evaluates the nodes that wait for it; whether there were any."""
        if not (self._fresh or self._dirty or self._carrying or self._order_dirty):
            return False
        before = len(changes.nodes), len(changes.groups), len(changes.came)
        with collector_paused():
            self._evaluate_fresh(changes)
        self._follow_edges(changes, before[0])
        if self.formulas:
            nodes, groups, came = before
            self.formulas.nodes_changed([*changes.nodes[nodes:], *changes.groups[groups:], *changes.came[came:]])
            self.formulas.nodes_changed(changes.left)
        return len(changes.nodes) > before[0] or len(changes.groups) > before[1] or len(changes.came) > before[2]

    def _evaluate_fresh(self, changes: Changes) -> None:
        alive = [n for n in self._fresh if n.alive]
        self._fresh = []
        for node in reversed(alive):  # children before their groups: a group's box needs theirs
            node.evaluate_outline()
            node.evaluate_place()
        palette = self.palette
        for node in alive:
            node.evaluate_paint(palette)
            node.evaluate_state()
            node.evaluate_world()
            if node.cuts:
                self._cutting.add(id(node))
        changes.came += alive
        changes.nodes += [n for n in alive if not n.group]
        changes.boxes += [n.cull for n in changes.nodes]

    def _carry(self, changes: Changes) -> None:
        """Evaluates the shapes of which only `at` is another, unless more waits for them or a box depends on them."""
        alone = not self.edges.boxed and not any(node.group for node, _what in self._dirty.values())
        with collector_paused():
            for node in self._carrying.take(alone, self._dirty.keys(), changes):
                self._mark(node, "place")

    def _evaluate_dirty(self, changes: Changes) -> list[Node]:
        """Evaluates the nodes that are marked. Gives the groups that hold other shapes than before."""
        self._carry(changes)
        dirty = self._dirty
        if not dirty:
            return []
        self._dirty = {}
        for node, what in list(dirty.values()):
            for group, name in self.edges.boxes_around(node) if what & _MOVING else ():
                dirty.setdefault(id(group), (group, set()))[1].add(name)
        entries = sorted(dirty.values(), key=lambda e: _depth(e[0]), reverse=True)
        for node, what in entries:  # deepest first: boxes are made from the inside out
            if (
                "outline" in what
                or "box" in what
                or ("content" in what and node.needs_box())
                or ("place" in what and node.group)
            ):
                node.evaluate_outline()
            if what & _MOVING:
                node.evaluate_place()
            if "paint" in what:
                shadow, cuts, layer = node.shadow, node.cuts, node.group and is_layer(node)
                node.evaluate_paint(self.palette)
                if node.cuts != cuts:
                    (self._cutting.add if node.cuts else self._cutting.discard)(id(node))
                if node.cuts != cuts or (node.group and is_layer(node) != layer):
                    self._layers_dirty = True
                if node.group and node.shadow != shadow:
                    what.add("place")  # what is in it casts other shadows
        done: set[int] = set()
        for node, what in reversed(entries):  # shallowest first: matrices are made from the outside in
            if what == {"content"} and not node.needs_box():
                continue
            if "state" in what and self._cutting:
                self._layers_dirty = True  # a hidden cut-out cuts nothing
            if node.group and not what.isdisjoint(("paint", "clip")):
                self._layer_changed(node, changes)
                if what == {"paint"}:
                    continue
            self._evaluate_below(node, "state" in what, done, changes)
        return [node for node, what in entries if "content" in what]

    def _follow_edges(self, changes: Changes, begun: int) -> None:
        """Evaluates what depends on the nodes that changed from number `begun` on, and what depends on that, to the
        end: there are no loops."""
        groups, seen = len(changes.groups), set[int]()
        emptied = self._evaluate_dirty(changes)
        for node, what in self.edges.resolve():
            self._mark(node, what)
            self._layers_dirty = self._layers_dirty or node.group
        while True:
            emptied += self._evaluate_dirty(changes)
            readers = self.edges.readers([*changes.nodes[begun:], *changes.groups[groups:], *emptied])
            begun, groups, emptied = len(changes.nodes), len(changes.groups), []
            for node, what in readers:
                if what == "clip":
                    if id(node) not in seen:  # two groups can each be the mask of the other
                        seen.add(id(node))
                        self._layer_changed(node, changes)  # it looks otherwise, and what is clipped is where it was
                    continue
                if what == "paint":
                    if id(node) not in seen:  # a tile can be painted with itself
                        seen.add(id(node))
                        self._mark(node, what)
                    continue
                before = node.local
                node.evaluate_place()
                if node.local != before:
                    self._mark(node, what)
            if not (self._dirty or self._carrying):
                return

    def _evaluate_below(self, node: Node, state: bool, done: set[int], changes: Changes) -> None:
        stack, left = [node], self._carrying.leave
        while stack:
            n = stack.pop()
            if id(n) in done and not state:
                continue
            done.add(id(n))
            if not n.group:
                changes.boxes.append(n.cull)
            if state:
                n.evaluate_state()
            n.evaluate_world()
            if n.group:
                stack.extend(n.children)
                changes.groups.append(n)
            else:
                changes.boxes.append(n.cull)
                changes.nodes.append(n)
                left(n)

    def _layer_changed(self, node: Node, changes: Changes) -> None:
        changes.boxes += [leaf.cull for leaf in node.walk_leaves()]
        changes.groups.append(node)


_MOVING = frozenset(("outline", "place", "box", "content"))
"""What a node's own place, or the box of a group around it, depends on."""


def _is_copy(node: Node) -> bool:
    """Whether it is a copy of its group, in the place of that."""
    return node.parent is not None and node.parent.shape is node.shape


def _depth(node: Node) -> int:
    depth = 0
    parent = node.parent
    while parent is not None:
        depth += 1
        parent = parent.parent
    return depth
