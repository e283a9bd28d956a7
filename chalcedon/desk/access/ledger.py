"""The ledger for assistive technology: a tree of rows, and in each the cells that are seen there."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QAccessible, QAccessibleActionInterface

from chalcedon.craft.several import MIXED, Several
from chalcedon.desk.access.part import FOCUS, PRESS, Host, Part, Role
from chalcedon.desk.ledger.cells import ROW, Cell
from chalcedon.desk.ledger.parts import paint_words
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.ledger.widget import Ledger
from chalcedon.formula import Formula
from chalcedon.scene import Group, Shape
from chalcedon.scene.shapes import Unknown
from chalcedon.scene.steps import OPS
from chalcedon.source import sentence

TOGGLE = QAccessibleActionInterface.toggleAction()
MORE = QAccessibleActionInterface.increaseAction()
LESS = QAccessibleActionInterface.decreaseAction()

ROLES = {
    "number": Role.SpinBox,
    "text": Role.EditableText,
    "id": Role.EditableText,
    "choice": Role.ComboBox,
    "step-op": Role.ComboBox,
    "flag": Role.CheckBox,
    "switch": Role.CheckBox,
    "switch-paint": Role.CheckBox,
    "eye": Role.CheckBox,
    "lock": Role.CheckBox,
    "pointer": Role.CheckBox,
    "fold": Role.CheckBox,
    "paint": Role.ButtonMenu,
    "sentence": Role.StaticText,
    "remark": Role.StaticText,
}
SILENT = frozenset(("word", "dot", "section", "kind", "typed", "stage", "between"))
"""What is there for the eye: it is said with the value that it belongs to."""
MARKS = {"eye": "visible", "lock": "locked", "pointer": "left alone by the pointer", "fold": "folded"}


class LedgerAccess(Host):
    """The scene's own values first, then a row for each shape that is listed."""

    def __init__(self, ledger: Ledger) -> None:
        super().__init__(ledger, Role.Tree, ledger.accessibleName())
        self.ledger = ledger

    def count(self) -> int:
        return len(self.ledger.rows) + 1

    def at(self, index: int) -> Part | None:
        if index == 0:
            return self.part("head", lambda: HeadPart(self))
        return self.row(self.ledger.rows[index - 1].shape)

    def row(self, shape: Shape) -> Part:
        """The part of a shape's row."""
        return self.part(shape, lambda: RowPart(self, shape))

    def at_point(self, point: QPoint) -> Part | None:
        spot = self.ledger.viewport().mapFrom(self.ledger, point)
        shape, _cell, _top = self.ledger.cell_at(spot.x(), spot.y())
        if shape is None:
            return self.at(0) if spot.y() < ROW else None
        return self.row(shape)

    def focused(self) -> Part | None:
        shape = self.ledger.session.current
        if shape is None:
            return None
        row = self.row(shape)
        key = self.ledger.focus_key
        return next((p for p in row.parts() if isinstance(p, CellPart) and p.key == (*key, True)), row) if key else row


class HeadPart(Part):
    """The line that shows what the scene states of itself."""

    host: LedgerAccess

    def what(self) -> QAccessible.Role:
        return Role.TreeItem

    def name(self) -> str:
        return "Scene"

    def place(self) -> QRect:
        ledger = self.host.ledger
        return QRect(0, -ledger.verticalScrollBar().value(), ledger.viewport().width(), ROW)

    def cells(self) -> list[Cell]:
        return self.host.ledger.head_cells()

    def parts(self) -> Sequence[Part]:
        return [
            self.host.part(("head", c.key), lambda k=c.key: CellPart(self.host, self, None, (*k, False)))  # type: ignore[misc]
            for c in self.cells()
            if c.role not in SILENT
        ]


class RowPart(Part):
    """A row: its name is the shape's, its help the sentence that the row ends with."""

    host: LedgerAccess

    def __init__(self, host: LedgerAccess, shape: Shape) -> None:
        super().__init__(host)
        self.shape = shape

    @property
    def index(self) -> int:
        return self.host.ledger.index_of(self.shape)

    def stands(self) -> bool:
        return self.shape.scene is self.host.ledger.session.scene and self.index >= 0

    def what(self) -> QAccessible.Role:
        return Role.TreeItem

    def name(self) -> str:
        return f"{self.shape.id}, {self.shape.kind.replace('_', ' ')}"

    def help(self) -> str:
        return "" if isinstance(self.shape, Unknown) else sentence(self.shape)

    def place(self) -> QRect:
        ledger = self.host.ledger
        index = self.index
        tall = ROW + (ledger.opened_height if index == ledger.open_index() else 0)
        top = ledger.top_of(index) - ledger.verticalScrollBar().value()
        return QRect(0, int(top), ledger.viewport().width(), int(tall))

    def tell_state(self, state: QAccessible.State) -> None:
        ledger = self.host.ledger
        state.selected = self.shape in ledger.session.selection
        state.focused = ledger.hasFocus() and ledger.session.current is self.shape and ledger.focus_key is None
        if isinstance(self.shape, Group):
            state.expandable = True
            state.collapsed = self.shape in ledger.folded
            state.expanded = not state.collapsed

    def acts(self) -> dict[str, Callable[[], object]]:
        ledger = self.host.ledger
        out: dict[str, Callable[[], object]] = {PRESS: self._press, FOCUS: self._press}
        if isinstance(self.shape, Group):
            group = self.shape
            out[TOGGLE] = lambda: ledger.acts.toggle_fold(group)
        return out

    def _press(self) -> None:
        ledger = self.host.ledger
        ledger.setFocus()
        ledger.focus_key = None
        ledger.session.select([self.shape], place=True)

    def cells(self) -> list[Cell]:
        return self.host.ledger.row_cells(self.index)

    def parts(self) -> Sequence[Part]:
        return [
            self.host.part(
                (self.shape, key := (*c.key, c.y > 0)),
                lambda k=key: CellPart(self.host, self, self.shape, k),  # type: ignore[misc]
            )
            for c in self.cells()
            if c.role not in SILENT
        ]


CellKey = tuple[str, str, tuple[int, ...], bool]


class CellPart(Part):
    """A value, a mark or a button of a row."""

    host: LedgerAccess

    def __init__(self, host: LedgerAccess, row: HeadPart | RowPart, shape: Shape | None, key: CellKey) -> None:
        super().__init__(host, row)
        self.row, self.shape, self.key = row, shape, key

    def cell(self) -> Cell | None:
        """The cell as it is laid out now."""
        if not self.row.stands():
            return None
        return next((c for c in self.row.cells() if (*c.key, c.y > 0) == self.key), None)

    def stands(self) -> bool:
        return self.cell() is not None

    def what(self) -> QAccessible.Role:
        return ROLES.get(self.key[0], Role.Button)

    def name(self) -> str:
        cell = self.cell()
        return "" if cell is None else _name(cell)

    def value(self) -> str:
        cell = self.cell()
        if cell is None or cell.role not in ROLES:
            return ""
        if cell.role == "paint":
            return "mixed" if cell.value is MIXED else paint_words(cell.value)
        checked = self._checked(cell)
        return cell.text if checked is None else "yes" if checked else "no"

    def help(self) -> str:
        cell = self.cell()
        return tip_of(cell, self.host.ledger.session) if cell is not None else ""

    def place(self) -> QRect:
        cell = self.cell()
        if cell is None:
            return QRect()
        top = self.row.place().top()
        return QRect(int(cell.x), int(top + cell.y), int(cell.w), int(cell.h))

    def tell_state(self, state: QAccessible.State) -> None:
        cell, ledger = self.cell(), self.host.ledger
        if cell is None:
            return
        checked = self._checked(cell)
        if checked is not None:
            state.checkable, state.checked = True, checked
            state.checkStateMixed = cell.value is MIXED
        state.readOnly = cell.role in ("sentence", "remark")
        state.editable = cell.role in ("number", "text", "id")
        focused = ledger.hasFocus() and ledger.session.current is self.shape and ledger.focus_key == cell.key
        state.focused = focused and cell.y > 0

    def _checked(self, cell: Cell) -> bool | None:
        """Whether something that is on or off is on; None for anything else."""
        if cell.role in ("flag", "switch-paint"):
            return cell.value is True
        if cell.role == "switch":
            return bool(cell.value.on)
        if self.shape is None or cell.role not in MARKS:
            return None
        return {
            "eye": self.shape.visible,
            "lock": self.shape.locked,
            "pointer": self.shape.pointer == "none",
            "fold": self.shape in self.host.ledger.folded,
        }[cell.role]

    def acts(self) -> dict[str, Callable[[], object]]:
        cell = self.cell()
        if cell is None or cell.role in ("sentence", "remark"):
            return {}
        out: dict[str, Callable[[], object]] = {PRESS: self._press}
        if cell.live and cell.y > 0:
            out[FOCUS] = self._focus
        if cell.role == "number" and cell.value is not MIXED:
            out[MORE] = lambda: self._nudge(1)
            out[LESS] = lambda: self._nudge(-1)
        return out

    def _press(self) -> None:
        cell, ledger = self.cell(), self.host.ledger
        if cell is None or ledger.acts.press_mark(self.shape, cell):
            return
        self._focus()
        now = self.cell()
        if now is not None:
            ledger.acts.activate(now)

    def _focus(self) -> None:
        cell, ledger = self.cell(), self.host.ledger
        ledger.setFocus()
        if self.shape is not None and self.shape not in ledger.session.selection:
            ledger.session.select([self.shape], place=True)
        if cell is not None and cell.y > 0:
            ledger.focus_key = cell.key
            ledger.keys.tell_focus()
        ledger.viewport().update()

    def _nudge(self, way: int) -> None:
        cell = self.cell()
        if cell is not None:
            self.host.ledger.acts.nudge(cell, way, Qt.KeyboardModifier.NoModifier, object())

    def number(self) -> float | None:
        cell = self.cell()
        if cell is None or cell.role != "number" or cell.value is MIXED:
            return None
        return float(cell.value.last if isinstance(cell.value, Formula) else cell.value)

    def limits(self) -> tuple[float, float, float]:
        cell = self.cell()
        if cell is None or cell.owner is None or cell.also or cell.name not in cell.owner.properties:
            return -1e9, 1e9, 1.0
        kind = cell.owner.declared(cell.name).kind
        of = getattr(kind, "of", kind)
        return getattr(of, "low", -1e9), getattr(of, "high", 1e9), getattr(of, "step", 1.0)

    def put(self, text: str) -> None:
        cell, ledger = self.cell(), self.host.ledger
        if cell is None or cell.role not in ("number", "text", "id"):
            return
        ledger.acts.open_editor(cell)
        if ledger.editor is not None:
            ledger.editor.replace(text)
            ledger.editor.commit()


def _name(cell: Cell) -> str:
    """What a cell is called: the word of its value and which number of it; the words on a button."""
    if cell.role in MARKS:
        return MARKS[cell.role]
    if cell.role == "id":
        return "id"
    if cell.role in ("more", "offer", "add", "repair", "chosen", "flip"):
        return f"{cell.text} {cell.name.replace('_', ' ')}".strip() if cell.role == "more" else cell.text
    if cell.role == "palette":
        return f"palette colour {cell.text}"
    if cell.also:
        return " ".join([cell.also, *(str(i + 1) for i in cell.path)])
    if cell.owner is None or cell.name not in cell.owner.properties:
        return cell.text or cell.role
    prop = cell.owner.declared(cell.name)
    if cell.name == "steps" and cell.path:
        return _step_name(cell)
    each = prop.kind.each
    numbers = [str(i + 1) for i in cell.path[:-1]]
    if cell.path:
        last = cell.path[-1]
        numbers.append(each[last] if last < len(each) else str(last + 1))
    return " ".join([prop.word, *numbers])


def _step_name(cell: Cell) -> str:
    assert isinstance(cell.owner, Shape | Several)
    step = cell.owner.stated("steps")[cell.path[0]]
    words = [f"step {cell.path[0] + 1}", step.op]
    if cell.role == "number" and len(cell.path) > 1:
        about = cell.path[1] == -1
        labels = ("about x", "about y") if about else OPS[step.op]
        words.append(labels[cell.path[2] if about else cell.path[1]])
    elif cell.role in ("remove", "up", "switch"):
        words.append({"remove": "take away", "up": "earlier", "switch": "on"}[cell.role])
    return " ".join(words)
