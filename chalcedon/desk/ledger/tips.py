"""What is said about a cell of the ledger when the pointer rests on it."""

from __future__ import annotations

from chalcedon.craft.descriptions import describe
from chalcedon.desk.ledger.cells import Cell
from chalcedon.desk.ledger.folds import FOLD, OR_AS
from chalcedon.desk.session import Session
from chalcedon.formula import Formula
from chalcedon.scene import Shape
from chalcedon.scene.responses import Response
from chalcedon.source.answers import print_response

TIPS = {
    OR_AS: "The same shape said in other numbers: edges, centre, diameter, length",
    FOLD: "Puts what stands at its default back among these words",
}


def tip_of(cell: Cell, session: Session) -> str:
    """What is said about a cell when the pointer rests on it."""
    if cell.also and isinstance(cell.owner, Shape) and session.display.find(cell.owner) is not None:
        found = [d for d in describe(session.node(cell.owner)) if d.word == cell.also]
        return "".join(f"{d.word} {d.labels[cell.path[0]]}: {d.help}" for d in found)
    if isinstance(cell.value, Formula):
        return f"{cell.value.text}: {cell.wrong} Its last value is used." if cell.wrong else f"= {cell.value.text}"
    if isinstance(cell.value, Response) and cell.role == "text":
        return print_response(cell.value)
    if cell.role == "sentence":
        return cell.text
    if cell.role in ("offer", "chosen") and cell.owner is not None:
        if cell.name in cell.owner.properties:
            prop = cell.owner.declared(cell.name)
            return f"{prop.word}: {prop.help} ({prop.kind.describe()})"
        return TIPS.get(cell.name, "")
    if cell.owner is not None and cell.role in ("number", "choice", "flag", "text", "paint") and cell.name != "steps":
        prop = cell.owner.declared(cell.name)
        return f"{prop.word}: {prop.help} ({prop.kind.describe()})"
    return {
        "eye": "Hide or show",
        "switch-paint": "Switch this paint off or on; what it is stays as it is",
        "lock": "Lock or unlock",
        "pointer": "The pointer never hits this; click to change that",
        "lost": f"It can't be reached or seen: {cell.text}. Click to see where it is and what would bring it out",
        "fold": "Fold or unfold",
        "flip": "Which end is listed first",
        "palette": f"{cell.text}: {cell.value}, a named colour of the palette",
        "up": "One place earlier among the steps",
        "switch": "Switch this step off or on",
        "stage": "After the first steps; before any, in the first picture",
        "between": "Whether the picture stays the same (=) or changes (≠) when the two steps change places",
        "remove": "Take this step away",
        "run": "What the run has set; Reset goes back to what is stated, Keep this states it",
        "curve": "Drag a frame to another time or value; a click between two takes the next easing",
    }.get(cell.role, "")
