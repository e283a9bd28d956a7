"""Solving a formula back: which of the values that it reads makes it come to what is wanted."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from chalcedon.formula.compiler import Path
from chalcedon.formula.problem import FormulaProblem
from chalcedon.formula.program import Program

EXACT = 1e-9
"""How near a solution has to come, relative to what is wanted."""


def solved(program: Program | None, values: Sequence[Any], read: Path, wanted: float) -> float | None:
    """What a value that a formula reads has to be for it to come to what is wanted; None where that isn't found. Only
    formulas that are straight in it are solved: a step each way says how steep, and the answer is tried."""
    if program is None or read not in program.reads or program.memories:
        return None
    at = program.reads.index(read)
    start = values[at]
    if isinstance(start, bool) or not isinstance(start, int | float):
        return None

    def comes_to(x: float) -> float | None:
        given = list(values)
        given[at] = x
        try:
            found = program.run(given)
        except FormulaProblem:
            return None
        usable = isinstance(found, int | float) and not isinstance(found, bool) and math.isfinite(found)
        return float(found) if usable else None

    here, there = comes_to(start), comes_to(start + 1.0)
    if here is None or there is None or there == here:
        return None
    x = start + (wanted - here) / (there - here)
    found = comes_to(x)
    if found is None or abs(found - wanted) > EXACT * max(1.0, abs(wanted)):
        return None
    return x
