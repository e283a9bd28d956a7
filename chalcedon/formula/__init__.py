"""Formulas as values, and the arithmetic a number field accepts. Knows nothing of scenes."""

from chalcedon.formula.arithmetic import calculate
from chalcedon.formula.relative import relative
from chalcedon.formula.value import Formula, plus, rename_in

__all__ = ["Formula", "calculate", "plus", "relative", "rename_in"]
