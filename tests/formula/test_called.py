"""What every function of formulas gives, for numbers where something turns, as it was read through and found right."""

import random

from recorded import assert_as_recorded

from chalcedon.formula import FormulaProblem
from chalcedon.formula.table import FUNCTIONS
from chalcedon.formula.types import LIST, NUMBER, POINT, SHAPE, SWITCH, TEXT
from tests.formula.test_formulas import worked_out

POOLS = {
    NUMBER: ["0", "1", "-2", "0.5", "3", "10", "0.25", "-0.5", "2"],
    POINT: ["(0, 0)", "(3, 4)", "(-1, 2)", "(1, 1)"],
    TEXT: ["'red'", "'#1c2b8a80'", "'quay'", "'ease-in'", "'sine'", "'a'", "''"],
    SWITCH: ["True", "False"],
    LIST: ["(1, 2, 3)", "('a', 'b')", "()", "((0, 0), (1, 2))"],
}
ODD = ["'x'", "(1, 2, 3)", "None", "(3, 4)", "0"]
TRIES = 14
"""Of each function, with as many values as it may take; some of them of another type than it asks for."""


def shown(value):
    if isinstance(value, float):
        return f"{value:.10g}"
    return f"({', '.join(map(shown, value))})" if isinstance(value, tuple) else repr(value)


def calls(function):
    chance = random.Random(function.name)
    for number in range(TRIES):
        params = [p for p in function.params if p.needed or chance.random() < 0.6]
        given = []
        for p in params:
            for _ in range(chance.randint(1, 3) if p.rest else 1):
                fitting = [value for kind, values in POOLS.items() if kind & p.kind for value in values]
                pool = ODD if number == TRIES - 1 else fitting
                given.append(chance.choice(pool))
        yield f"{function.name}({', '.join(given)})"


def test_functions_give_what_they_were_found_to_give():
    lines = []
    for function in FUNCTIONS.values():
        if "memory" in function.needs or any(p.kind & SHAPE for p in function.params):
            continue  # they ask what was before, or a scene
        lines.append(function.signature)
        for call in dict.fromkeys(calls(function)):
            try:
                said = shown(worked_out(call))
            except FormulaProblem as problem:
                said = f"refused: {problem}"
            lines.append(f"    {call}: {said}")
    assert_as_recorded("functions", lines)
