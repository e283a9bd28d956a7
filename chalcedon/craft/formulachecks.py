"""What there is to say about formulas that can't be worked out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

from chalcedon.craft.checkup import Remark, Repair
from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.scene import Shape


def check_formulas(display: DisplayList, shapes: Iterable[Shape] | None = None) -> Iterator[Remark]:
    """A remark for every formula of some shapes, or of all and of the scene, that keeps its last value."""
    display.settle()
    wanted = None if shapes is None else {id(s) for s in shapes}
    for cell in display.formulas.problems:
        shape, word = cell.node.shape, cell.prop.word
        if cell.problem is None or (wanted is not None and id(shape) not in wanted):
            continue
        parts = [part.formula for part in cell.parts]
        told: list[tuple[Formula | None, FormulaProblem]] = [(parts[i], p) for i, p in sorted(cell.wrong.items())]
        for formula, problem in told or [(parts[0] if len(parts) == 1 else None, cell.problem)]:
            repair = Repair("put its last value there", partial(state_last, cell=cell, formula=formula))
            about = word if formula is None else formula.text
            sentence = f"{word}: {about}: {problem.message} {problem.hint}".rstrip()
            yield Remark(shape, "formula", sentence, cell.name, (), (repair,))


def state_last(display: DisplayList, cell: Cell, formula: Formula | None = None) -> None:
    """Has a property state what its formulas came to last, or what one of them did."""
    scene = display.scene
    owner = scene if cell.node is display.root else cell.node.shape
    with scene.step(f"Put the last value of {cell.prop.word} there"):
        scene.set(owner, cell.name, cell.value if formula is None else cell.without(formula))
