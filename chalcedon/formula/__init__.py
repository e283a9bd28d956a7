"""Formulas as values, and the arithmetic a number field accepts. Knows nothing of scenes."""

from chalcedon.formula.arithmetic import calculate
from chalcedon.formula.value import Formula, rename_in

__all__ = ["Formula", "calculate", "rename_in"]
