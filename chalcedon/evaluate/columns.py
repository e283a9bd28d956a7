"""Many cells whose formulas differ in their numbers alone, worked out at once in NumPy columns.

The results are the same to the last bit, as long as whole numbers stay below 2^53: sums, products and quotients of
doubles are those of IEEE 754 either way, and functions without an exact counterpart are called number by number.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from chalcedon.evaluate.cells import Cell

MANY = 64
"""Cells alike from which on columns are worth their while."""


class Column:
    """Cells that are worked out together."""

    def __init__(self, cells: list[Cell]) -> None:
        import numpy as np  # after the first frame: the import is slow

        self.cells = cells
        self._known = False  # whether none of them has a problem
        self._parts: list[tuple[Callable[..., Any], list[Any], tuple[Any, ...]] | list[Any]] = []
        straight = [cell.straight for cell in cells]
        assert straight[0] is not None
        calls, self._low, self._high, self._pair = straight[0]
        for i, first in enumerate(calls):
            own = [s[0][i] for s in straight if s is not None]
            if isinstance(first, tuple):
                constants = [np.array(column, np.float64) for column in zip(*(c[1] for c in own), strict=True)]
                self._parts.append((first[3].column(), constants, first[2]))
            else:
                self._parts.append(own)

    def work_out(self) -> list[Cell] | None:
        """Works them out. Gives those that came to another value than before; None where they have to be worked out one
        by one, to say what is wrong with some."""
        found = self._found()
        if found is None:
            self._known = False
            return None
        values = list(zip(*found, strict=True)) if self._pair else found[0]
        cells = self.cells
        changed = []
        for cell, value in zip(cells, values, strict=True):
            if value != cell.value:
                cell.value = value
                changed.append(cell)
        if not self._known:
            self._known = True
            for cell in cells:
                cell.problem = None
        return changed

    def _found(self) -> list[list[Any]] | None:
        import numpy as np

        out: list[list[Any]] = []
        try:
            with np.errstate(all="ignore"):
                for part in self._parts:
                    if isinstance(part, list):
                        out.append(part)
                        continue
                    code, constants, gets = part
                    found = code(*constants, *[get() for get in gets])
                    if not isinstance(found, np.ndarray):
                        found = np.full(len(self.cells), found, np.float64)
                    if found.dtype != np.float64 or not (self._low <= found.min() and found.max() <= self._high):
                        return None  # NaN is neither
                    out.append(found.tolist())
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

    def of(self, due: list[Cell]) -> tuple[list[Column], list[Cell]]:
        """The columns, and the cells that go by themselves."""
        if self._due != due:
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
