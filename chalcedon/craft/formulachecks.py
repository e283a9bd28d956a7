"""What there is to say about formulas that can't be worked out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

from chalcedon.craft.checkup import Remark, Repair
from chalcedon.evaluate.cells import Cell
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.scene import Shape


def check_formulas(display: DisplayList, shapes: Iterable[Shape] | None = None) -> Iterator[Remark]:
    """A remark for every formula of some shapes, or of all and of the scene, that keeps its last value."""
    display.settle()
    wanted = None if shapes is None else {id(s) for s in shapes}
    for cell in display.formulas.problems:
        shape = cell.node.shape
        if wanted is not None and id(shape) not in wanted:
            continue
        problem = cell.problem
        text = cell.parts[0].formula.text if len(cell.parts) == 1 else cell.prop.word
        sentence = f"{cell.prop.word}: {text}: {problem.message} {problem.hint}" if problem else ""
        repair = Repair("put its last value there", partial(state_last, cell=cell))
        yield Remark(shape, "formula", sentence.rstrip(), cell.name, (), (repair,))


def state_last(display: DisplayList, cell: Cell) -> None:
    """Has a property state what its formulas came to last."""
    scene = display.scene
    owner = scene if cell.node is display.root else cell.node.shape
    with scene.step(f"Put the last value of {cell.prop.word} there"):
        scene.set(owner, cell.name, cell.value)
