"""Many cells whose formulas differ in their numbers alone, worked out at once in NumPy columns.

The results are the same to the last bit, as long as whole numbers stay below 2^53: sums, products and quotients of
doubles are those of IEEE 754 either way, and functions without an exact counterpart are called number by number.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from chalcedon.evaluate.carrying import Herd
    from chalcedon.evaluate.cells import Cell

MANY = 64
"""Cells alike from which on columns are worth their while."""


class Column:
    """Cells of one property that are worked out together."""

    def __init__(self, cells: list[Cell]) -> None:
        import numpy as np  # after the first frame: the import is slow

        self.cells, self.name = cells, cells[0].name
        self.changed: list[Cell] = []
        """Those that came to another value the last time."""
        self.rows: Any = None
        """Which these are, as an array; None for all."""
        self._settled = False
        self.herd: Herd | None = None
        """For who carries what these cells belong to."""
        self.apart: set[int] = set()
        """Ids of nodes that have to be looked after one by one, until the column has been `calm` for as many updates as
        its `patience`."""
        self.calm, self.patience = 0, 16
        self._came: list[Any] | None = None  # what they came to, as arrays, while it keeps the values of its cells
        self._values: list[Any] | None = None
        self._parts: list[tuple[Callable[..., Any], list[Any], tuple[Any, ...]] | None] = []
        self._stated: list[Any] = []  # the values of parts without a formula
        straight = [cell.straight for cell in cells]
        assert straight[0] is not None
        calls, self._low, self._high, self._pair = straight[0]
        for i, first in enumerate(calls):
            own = [s[0][i] for s in straight if s is not None]
            if isinstance(first, tuple):
                constants = [np.array(column, np.float64) for column in zip(*(c[1] for c in own), strict=True)]
                self._parts.append((first[3].column(), constants, first[2]))
                self._stated.append(None)
            else:
                self._parts.append(None)
                self._stated.append(np.array(own, np.float64))

    @property
    def settled(self) -> bool:
        """Whether these are of shapes only, and all of them have been evaluated before."""
        if not self._settled:
            self._settled = all(cell.node.outline_version and not cell.node.group for cell in self.cells)
        return self._settled

    def points(self) -> tuple[Any, Any]:
        """What pairs came to: two arrays."""
        assert self._came is not None
        return self._came[0], self._came[1]

    @property
    def values(self) -> list[Any]:
        """What its cells came to, in their order."""
        if self._values is None:
            assert self._came is not None
            lists = [part.tolist() for part in self._came]
            self._values = list(zip(*lists, strict=True)) if self._pair else lists[0]
        return self._values

    def work_out(self) -> bool:
        """Works them out; `changed` are then those that came to another value than before. False where they have to be
        worked out one by one, to say what is wrong with some."""
        found = self._found()
        before, self._came = self._came, found
        if found is None:
            self._came = before
            self.release()
            return False
        self._values = None
        if before is None:
            rows = [
                i for i, (cell, value) in enumerate(zip(self.cells, self.values, strict=True)) if cell.value != value
            ]
            for i, cell in enumerate(self.cells):
                cell.column, cell.row, cell.problem = self, i, None
        else:
            other = before[0] != found[0]
            for was, now in zip(before[1:], found[1:], strict=True):
                other |= was != now
            rows = other.nonzero()[0]
        import numpy as np

        self.changed, self.rows = self.cells, None
        if len(rows) < len(self.cells):
            self.rows = np.array(rows, np.intp)
            self.changed = [self.cells[i] for i in rows]
        return True

    def release(self) -> None:
        """Has its cells keep their values themselves."""
        if self._came is not None:
            for cell, value in zip(self.cells, self.values, strict=True):
                if cell.column is self:  # else another was stated meanwhile
                    cell.value = value
            self._came = self._values = None

    def _found(self) -> list[Any] | None:
        import numpy as np

        out: list[Any] = []
        try:
            with np.errstate(all="ignore"):
                for part, stated in zip(self._parts, self._stated, strict=True):
                    if part is None:
                        out.append(stated)
                        continue
                    code, constants, gets = part
                    found = code(*constants, *[get() for get in gets])
                    if not isinstance(found, np.ndarray):
                        found = np.full(len(self.cells), found, np.float64)
                    if found.dtype != np.float64 or not (self._low <= found.min() and found.max() <= self._high):
                        return None  # NaN is neither
                    out.append(found)
        except Exception:  # whatever it is, the long way says it
            return None
        return out


class Columns:
    """Which of the cells that are due go together. Kept as long as the same are due again."""

    def __init__(self) -> None:
        self._due: list[Cell] | None = None
        self._columns: list[Column] = []
        self._others: list[Cell] = []

    def forget(self) -> None:
        """To be called when cells came or went, or state something else."""
        self._due = None
        for column in self._columns:
            column.release()
        self._columns, self._others = [], []

    def of(self, due: list[Cell]) -> tuple[list[Column], list[Cell]]:
        """The columns, and the cells that go by themselves."""
        if self._due != due:
            self.forget()
            self._due = due
            self._columns, self._others = _sorted(due)
        return self._columns, self._others


def _sorted(due: Iterable[Cell]) -> tuple[list[Column], list[Cell]]:
    alike: dict[Any, list[Cell]] = {}
    others: list[Cell] = []
    for cell in due:
        if cell.alike is None or cell.loop:
            others.append(cell)
        else:
            alike.setdefault(cell.alike, []).append(cell)
    columns = []
    for cells in alike.values():
        if len(cells) >= MANY:
            columns.append(Column(cells))
        else:
            others += cells
    return columns, others
