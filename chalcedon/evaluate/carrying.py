"""Shapes of which nothing but `at` is another: one by one, or many at once in NumPy columns."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.columns import MANY
from chalcedon.evaluate.place import DOWN
from chalcedon.evaluate.strokes import PLAIN
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.geometry.boxes import inflate

if TYPE_CHECKING:
    from chalcedon.evaluate.changes import Changes
    from chalcedon.evaluate.columns import Column
    from chalcedon.evaluate.node import Node

PRECISE = 400
"""Boxes from which on one around all of them is told instead."""


def carry(node: Node) -> None:
    """Evaluates a shape that has another `at`, all else of it being as it was."""
    if not _only_moves(node):
        node.evaluate_place()
        node.evaluate_world()
        return
    x, y = node.values["at"]
    node.local = node.world = local = Affine(1.0, 0.0, 0.0, 1.0, x, y)
    node.moved_on()
    around = node.parent.world  # type: ignore[union-attr]
    if around is not IDENTITY:
        node.world = around.after(local)
    if around is not IDENTITY or not _carries_box(node):
        node.evaluate_cull()
        return
    left, top, right, bottom = node.box
    reach = node.reach_of_pen()
    node.cull = left - reach + x, top - reach + y, right + reach + x, bottom + reach + y


def _only_moves(node: Node) -> bool:
    plain = node.host is None and node.kind.lie is DOWN and node.manner is PLAIN
    return plain and "steps" not in node.values


def _carries_box(node: Node) -> bool:
    """Whether its box in scene px goes where it goes, without a change of size."""
    return not (node.kind.overhangs or node.shades) and node.visible and node.box[0] <= node.box[2]


class Herd:
    """Shapes that one column of formulas carries, of which nothing else changes. It knows what stays while they move:
    their boxes about where they are, and how the groups around them map. It is `valid` until one of them is evaluated
    in any other way."""

    def __init__(self, column: Column) -> None:
        import numpy as np

        self.valid = True
        all = [cell.node for cell in column.cells]
        rows = [i for i, node in enumerate(all) if _may_join(node) and id(node) not in column.apart]
        self.nodes: list[Node] = [all[i] for i in rows]
        self.ids = {id(node) for node in self.nodes}
        self.whole = len(rows) == len(column.cells)
        """Whether these are all of the column."""
        self._rows = np.array(rows, np.intp)
        around = [node.parent.world for node in self.nodes]  # type: ignore[union-attr]
        self._apart = any(m is not IDENTITY for m in around)  # whether their own px are not those of the scene
        self._around = _rows_of(around, 6)
        grown = [inflate(n.box, n.reach_of_pen()) for n in self.nodes]
        self._boxes = _rows_of([Affine(*m[:4]).map_box(b) for m, b in zip(around, grown, strict=True)], 4)
        self._slots = np.array([n.slot for n in self.nodes], np.intp)
        self._culls = _rows_of([n.cull for n in self.nodes], 4)
        self.picked: Any = slice(None)
        """Which of them the last update moved: an index of arrays."""
        self.moved: Any = self._slots
        """The slots of these."""
        self.moved_to: Any = None
        """Where their own origins are in scene px: rows of x, y."""
        self.moved_culls: Any = self._culls
        """Their boxes in scene px: rows of left, top, right, bottom."""

    def carry(self, column: Column, changes: Changes) -> None:
        """Has those stand elsewhere whose formulas came to another point, in the space of their groups, and says so."""
        import numpy as np

        pick: Any = slice(None)
        nodes, (x, y) = self.nodes, column.points()
        if not self.whole:
            x, y = x[self._rows], y[self._rows]
        if column.rows is not None:
            came = np.zeros(len(column.cells), bool)
            came[column.rows] = True
            pick = came[self._rows].nonzero()[0]
            x, y, nodes = x[pick], y[pick], [nodes[i] for i in pick.tolist()]
        make = tuple.__new__
        worlds = locals = [make(Affine, (1.0, 0.0, 0.0, 1.0, *at)) for at in zip(x.tolist(), y.tolist(), strict=True)]
        if self._apart:
            a, b, c, d, e, f = self._around[:, pick]
            x, y = a * x + c * y + e, b * x + d * y + f
            worlds = [make(Affine, m) for m in zip(*(r.tolist() for r in (a, b, c, d, x, y)), strict=True)]
        before = self._culls[:, pick]
        after = self._boxes[:, pick] + np.stack((x, y, x, y))
        self._culls = self._culls.copy()  # what was told of the last update stays
        self._culls[:, pick] = after
        self.picked, self.moved, self.moved_to, self.moved_culls = pick, self._slots[pick], np.stack((x, y)), after
        culls = zip(*after.tolist(), strict=True)
        for node, local, world, cull in zip(nodes, locals, worlds, culls, strict=True):
            node.local, node.world, node.cull = local, world, cull
            node.moved_on()
        changes.nodes += nodes
        changes.herds.append(self)
        for boxes in (before, after):
            changes.boxes += _around(boxes) if len(nodes) > PRECISE else zip(*boxes.tolist(), strict=True)


def _rows_of(tuples: list[Any], count: int) -> Any:
    """An array with a row for each place in tuples of so many numbers."""
    import numpy as np

    return np.array(tuples, np.float64).reshape(-1, count).T.copy()


def _around(boxes: Any) -> list[Box]:
    left, top, right, bottom = boxes
    return [(float(left.min()), float(top.min()), float(right.max()), float(bottom.max()))]


def _may_join(node: Node) -> bool:
    return node.alive and _only_moves(node) and _carries_box(node)


class Carrying:
    """What waits to be carried in one display list."""

    def __init__(self) -> None:
        self._single: dict[int, Node] = {}
        self._columns: list[Column] = []
        self._herds: dict[int, tuple[Herd, Column]] = {}  # by the nodes in them

    def __bool__(self) -> bool:
        return bool(self._single or self._columns)

    def add(self, node: Node) -> None:
        """Has a node be carried."""
        self._single[id(node)] = node

    def add_column(self, column: Column) -> None:
        """Has the nodes be carried whose formulas came to another point in a column."""
        self._columns.append(column)

    def _herd(self, column: Column, busy: Collection[int]) -> Herd:
        """The herd of a column; what waits for more than to be carried isn't in it."""
        herd = column.herd
        for key in busy if herd is not None and not herd.ids.isdisjoint(busy) else ():
            self._leave(key)
        if column.apart:
            column.calm += 1
            if column.calm > column.patience:  # they may be as the others again
                column.apart.clear()
                column.calm, column.patience, herd = 0, column.patience * 2, None
        if herd is None or not herd.valid:
            herd = column.herd = Herd(column)
            self._herds.update(dict.fromkeys(herd.ids, (herd, column)))
        return herd

    def leave(self, node: Node) -> None:
        """To be called with a node that is evaluated in any other way: what its herd knows may hold no more."""
        if self._herds:
            self._leave(id(node))

    def _leave(self, key: int) -> None:
        found = self._herds.pop(key, None)
        if found is not None:
            herd, column = found
            herd.valid = False
            column.apart.add(key)
            column.calm = 0

    def take(self, alone: bool, busy: Collection[int], changes: Changes) -> list[Node]:
        """Carries what waits. Gives what is to be evaluated with more: all of it unless `alone`, and what is `busy`."""
        columns, self._columns = self._columns, []
        for column in columns:
            by_herd: Collection[int] = ()
            if alone:
                herd = self._herd(column, busy)
                if len(herd.nodes) >= MANY:
                    herd.carry(column, changes)
                    by_herd = herd.ids
            if len(by_herd) < len(column.cells):
                self._single.update((id(c.node), c.node) for c in column.changed if id(c.node) not in by_herd)
        single, self._single = self._single, {}
        rest = []
        for key, node in single.items():
            self.leave(node)
            if not alone or key in busy:
                rest.append(node)
            elif node.alive:
                changes.boxes.append(node.cull)
                carry(node)
                changes.boxes.append(node.cull)
                changes.nodes.append(node)
        return rest
