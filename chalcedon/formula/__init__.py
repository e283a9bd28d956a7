"""Formulas: their texts, their functions, how they are checked and run; and the arithmetic a number field accepts.
Knows nothing of scenes."""

from chalcedon.formula import chance, hulls, keys, maths, memory, points, timing
from chalcedon.formula.arithmetic import calculate
from chalcedon.formula.problem import FormulaProblem
from chalcedon.formula.relative import relative
from chalcedon.formula.value import Formula, plus, plus_point, rename_in

FAMILIES = (maths, points, hulls, timing, chance, memory, keys)
"""The modules whose functions formulas can call; importing them lists these."""

__all__ = ["FAMILIES", "Formula", "FormulaProblem", "calculate", "plus", "plus_point", "relative", "rename_in"]
