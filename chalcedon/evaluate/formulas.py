"""All formulas of a display list: which there are, in which order they are worked out, and which have to be when
something changed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING, Any, Protocol

from chalcedon.collector import collector_paused
from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.columns import MANY, Column, Columns
from chalcedon.evaluate.levels import Graph, order
from chalcedon.evaluate.names import Bound, Source
from chalcedon.evaluate.node import Node
from chalcedon.formula.compiler import Path
from chalcedon.formula.problem import FormulaProblem

if TYPE_CHECKING:
    from chalcedon.evaluate.displaylist import DisplayList

_OF_NODES = frozenset(("value", "geometry"))


class Taken(Protocol):
    """Takes in what cells came to; those of a column were worked out together."""

    def __call__(self, cells: Sequence[Cell], column: Column | None = None, /) -> None: ...


NO_CELLS: dict[str, Cell] = {}
MOST_ROUNDS = 20
"""Times that one cell is worked out in one update: the order needs one, and what it doesn't foresee a few."""


class Formulas:
    """The cells of a display list."""

    def __init__(self, display: DisplayList) -> None:
        self._display = display
        self._cells: dict[int, dict[str, Cell]] = {}  # by node, then by property
        self._told: dict[Source, dict[int, Cell]] = {}  # who is to be told of a source
        self._about: dict[int, set[Source]] = {}  # the sources that are of a node
        self._dirty: dict[int, Cell] = {}
        self._unbound: dict[int, Cell] = {}
        self._stood: dict[int, Any] = {}  # where the nodes stood whose geometry somebody reads
        self._ordered = True
        self._geometry_levels: list[int] = []
        self._levels = 0
        self._grouped: set[int] = set()  # ids of groups whose geometry somebody reads
        self.loops: list[tuple[Cell, ...]] = []
        """Cells that would depend on themselves, each list in the order in which one reads the next."""
        self.columns = Columns()
        self.shared: dict[Path, Bound] = {}
        """Names that mean the same wherever they are read, and how they are."""
        self.worked_out = 0
        """How many cells have been worked out so far."""

    def __bool__(self) -> bool:
        return bool(self._cells)

    def cell(self, node: Node, name: str) -> Cell | None:
        """The cell of a property of a node; None where no formula is."""
        return self._cells.get(id(node), NO_CELLS).get(name)

    def cells(self, node: Node) -> list[Cell]:
        """All cells of a node."""
        return list(self._cells.get(id(node), NO_CELLS).values())

    def every(self) -> Iterable[Cell]:
        """All there are."""
        return (cell for cells in self._cells.values() for cell in cells.values())

    @property
    def problems(self) -> list[Cell]:
        """The cells that can't be worked out."""
        return [cell for cell in self.every() if cell.problem is not None]

    # what there is

    def note(self, node: Node, owner: Any) -> None:
        """To be called with every node that is new or whose owner, a shape or the scene, states something else."""
        key = id(node)
        if not owner._formulas:
            if key in self._cells:
                for cell in self._cells.pop(key).values():
                    self._drop(cell)
            return
        cells = self._cells.setdefault(key, {})
        for name in [n for n in cells if n not in owner._formulas]:
            self._drop(cells.pop(name))
        for name in owner._formulas:
            stated, found = owner._values[name], cells.get(name)
            if found is None:
                cells[name] = found = Cell(node, owner.properties[name], stated)
                self._ordered = False
                self._unbound[id(found)] = found
            elif found.stated != stated:
                found.state(stated)
                self._unbound[id(found)] = found

    def forget(self, node: Node) -> None:
        """To be called with every node that goes."""
        self._stood.pop(id(node), None)
        for cell in self._cells.pop(id(node), NO_CELLS).values():
            self._drop(cell)

    def _drop(self, cell: Cell) -> None:
        self._untell(cell)
        self.columns.forget()
        self._dirty.pop(id(cell), None)
        self._unbound.pop(id(cell), None)
        self._ordered = False

    def _untell(self, cell: Cell) -> None:
        for source in cell.sources:
            readers = self._told.get(source)
            if readers is not None:
                readers.pop(id(cell), None)
                if not readers:
                    del self._told[source]
                    if source[0] in _OF_NODES:
                        self._about[source[1]].discard(source)

    def came(self) -> None:
        """To be called when shapes came, or got other names: names that meant nothing may mean them."""
        for cell in self.every():
            if any(part.program is None for part in cell.parts):
                self._unbound[id(cell)] = cell
        self._ordered = self._ordered and not self._grouped

    def moved(self, nodes: Iterable[Node]) -> None:
        """To be called with nodes that are in another group, or order, or leave: who names them looks again."""
        if not self._cells:
            return
        for node in nodes:
            key = id(node)
            for cell in self._cells.get(key, NO_CELLS).values():
                self._unbound[id(cell)] = cell
            for source in self._about.get(key, ()):
                self._unbound.update(self._told[source])
        self._ordered = False

    def look_up_again(self) -> None:
        """Has every name be looked up anew: shapes came, went, moved or got other names, or inputs did."""
        self.shared.clear()
        for cell in self.every():
            self._unbound[id(cell)] = cell
        self._ordered = False

    # what is to be done

    def touched(self, sources: Iterable[Source]) -> None:
        """Has what reads any of these be worked out."""
        for source in sources:
            readers = self._told.get(source)
            if readers:
                self._dirty.update(readers)

    def nodes_changed(self, nodes: Iterable[Node]) -> None:
        """Has what reads the geometry of these nodes, or of groups around them, be worked out."""
        told, grouped = self._told, self._grouped
        if not self._geometry_levels:
            return  # nobody reads a geometry
        seen: set[int] = set()
        for node in nodes:
            readers = told.get(("geometry", id(node)))
            if readers:
                stands = None if node.group else (node.outline_version, node.world, node.local)
                if stands is None or self._stood.get(id(node)) != stands:
                    self._stood[id(node)] = stands
                    self._dirty.update(readers)
            parent = node.parent if grouped else None
            while parent is not None and id(parent) not in seen:
                seen.add(id(parent))
                if id(parent) in grouped:
                    self._dirty.update(told.get(("geometry", id(parent)), {}))
                parent = parent.parent

    def values_changed(self, node: Node, names: Iterable[str]) -> None:
        """Has what reads these properties of a node be worked out."""
        if self._told:
            self.touched(("value", id(node), name) for name in names)

    @property
    def waiting(self) -> bool:
        return bool(self._dirty or self._unbound)

    def _prepare(self) -> None:
        if self._unbound:
            self.columns.forget()
        for cell in self._unbound.values():
            self._untell(cell)
            before = cell.reads_cells, cell.reads_geometry
            cell.bind(self._display)
            if (cell.reads_cells, cell.reads_geometry) != before:
                self._ordered = False
            for source in cell.sources:
                self._told.setdefault(source, {})[id(cell)] = cell
                if source[0] in _OF_NODES:
                    self._about.setdefault(source[1], set()).add(source)
            self._dirty[id(cell)] = cell
        self._unbound = {}
        if not self._ordered:
            self._order()

    def _order(self) -> None:
        self._ordered = True
        self.columns.forget()
        was_round = {id(c) for loop in self.loops for c in loop}
        self.loops = order(self.every(), Graph(self.cell, self.cells))
        self._levels = max((c.level for c in self.every()), default=0)
        self._geometry_levels = sorted({c.level for c in self.every() if c.reads_geometry})
        self._grouped = {id(n) for c in self.every() for _w, n in c.reads_geometry if n.group}
        for cell in self.every():
            if id(cell) in was_round or cell.loop:
                self._dirty[id(cell)] = cell

    def work_out(self, geometry: Callable[[], bool], changed: Taken) -> None:
        """Works out all that has to be, in order. `geometry` evaluates the outlines and places that are waiting, and
        says whether there were any; `changed` takes in the new values of cells."""
        self._prepare()
        rounds: dict[int, int] = {}
        done = 0
        # each level is gone through once; places that the order doesn't foresee can bring it back a few times
        turns = MOST_ROUNDS * (2 + self._levels)
        while True:
            turns -= 1
            if turns < 0:
                self._dirty.clear()
                return
            if not self._dirty:
                if not geometry() or not self._dirty:
                    return
                done = 0
            if self._levels == 1 and not self._geometry_levels:  # none reads what another comes to
                due, self._dirty = list(self._dirty.values()), {}
                self._work_out(due, rounds, changed)
                continue
            level = min(cell.level for cell in self._dirty.values())
            if any(done < at <= level for at in self._geometry_levels) and geometry():
                level = min(cell.level for cell in self._dirty.values())
            now = [cell for cell in self._dirty.values() if cell.level == level]
            for cell in now:
                del self._dirty[id(cell)]
            self._work_out(now, rounds, changed)
            done = level

    def _work_out(self, due: list[Cell], rounds: dict[int, int], changed: Taken) -> None:
        if len(due) >= MANY and not self._geometry_levels:
            with collector_paused():  # nothing of what is made here goes round
                due = self._together(due, changed)
        for cell in due:
            self._one(cell, rounds, changed)

    def _together(self, due: list[Cell], changed: Taken) -> list[Cell]:
        """Works out those that go together. Gives the others."""
        columns, others = self.columns.of(due)
        told, read = self._told, self._levels > 1
        for column in columns:
            if not column.work_out():
                others = [*others, *column.cells]
                continue
            self.worked_out += len(column.cells)
            changed(column.changed, column)
            for cell in column.changed if read else ():
                readers = told.get(("value", id(cell.node), cell.name))
                if readers:
                    self._dirty.update(readers)
        return others

    def _one(self, cell: Cell, rounds: dict[int, int], changed: Taken) -> None:
        if self._geometry_levels:  # else the order is all there is to it
            times = rounds[id(cell)] = rounds.get(id(cell), 0) + 1
            if times > MOST_ROUNDS:
                hint = "One of them has to be a value."
                cell.fail(FormulaProblem("this depends on itself by way of a place.", hint))
                return
        self.worked_out += 1
        if cell.work_out(self._display):
            changed((cell,))
            readers = self._told.get(("value", id(cell.node), cell.name))
            if readers:
                self._dirty.update(readers)
