"""What the pointer does to the ledger: picks rows, drags numbers, reorders."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QCursor, QMouseEvent, QWheelEvent

from chalcedon.craft.arrange import move_keeping_place
from chalcedon.craft.several import Several
from chalcedon.desk.ledger.cells import INDENT, ROW, Cell
from chalcedon.desk.ledger.curvecell import CurveHold
from chalcedon.desk.ledger.rows import Drop, drop_at
from chalcedon.scene import Group, Shape
from chalcedon.scene.order import names_of, outermost

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger


class LedgerPointer:
    """Between a press and its release `dragging` says whether rows are being moved, `drop` where they would go."""

    def __init__(self, ledger: Ledger) -> None:
        self.ledger = ledger
        self.hot: tuple[Shape | None, tuple[str, str, tuple[int, ...]]] | None = None
        """The row and cell under the pointer."""
        self.hover_row = -1
        self.drop: Drop | None = None
        self.dragging = False
        self._press: tuple[QPoint, Shape | None, Cell | None] | None = None
        self.scrub_gesture: object = None
        self.scrubbed = 0
        self._curve: CurveHold | None = None
        self.holding: tuple[Shape | None, Several | None] | None = None
        """While a row is pressed, the row that stays opened and what it shows: a list that opens under the hand can't
        be dragged."""

    @property
    def down(self) -> bool:
        return self._press is not None

    def _picked(self, event: QMouseEvent) -> bool:
        """Whether what is pressed goes into the formula that is being written."""
        editor = self.ledger.session.formula_editor
        if editor is None or event.button() != Qt.MouseButton.LeftButton:
            return False
        at = event.position()
        shape, cell, _top = self.ledger.cell_at(at.x(), at.y())
        if shape is None or (shape is editor.owner and (cell is None or cell.key == editor.cell.key)):
            self.ledger.session.end_formula()
            return False
        name = cell.name if cell is not None and cell.owner is shape else ""
        return self.ledger.session.pick_for_formula(shape, name, cell.path[0] if cell is not None and cell.path else -1)

    def press(self, event: QMouseEvent) -> None:
        if self._picked(event):
            return
        self.ledger.setFocus()
        self.ledger.keys.naming.end()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        shape, cell, _top = self.ledger.cell_at(at.x(), at.y())
        if cell is not None and cell.role == "curve":
            self._curve = CurveHold(self.ledger, cell, _top, at.x(), at.y())
            return
        self._press = (at.toPoint(), shape, cell)
        self.scrub_gesture, self.scrubbed = object(), 0
        if cell is not None and self.ledger.acts.press_mark(shape, cell):
            self._press = None
            return
        if cell is not None and cell.live and cell.role not in ("id",):
            if shape is not None and not self.ledger.session.is_selected(shape):
                self._hold()
                self.ledger.session.select([shape], place=True)
            if shape is not None:
                self.ledger.focus_key = cell.key
                self.ledger.keys.tell_focus()
            self.ledger.viewport().update()
            return
        if shape is not None:
            self._hold()
            self._pick(shape, event.modifiers())
        elif at.y() + self.ledger.verticalScrollBar().value() > self.ledger.head_height:
            self.ledger.session.select([])
        self.ledger.focus_key = None
        self.ledger.keys.tell_focus()

    def _hold(self) -> None:
        self.holding = self.ledger.opened, self.ledger.several

    def _pick(self, shape: Shape, mods: Qt.KeyboardModifier) -> None:
        if mods & Qt.KeyboardModifier.ControlModifier:
            self.ledger.session.toggle(shape, place=True)
        elif mods & Qt.KeyboardModifier.ShiftModifier and self.ledger.session.current is not None:
            a, b = sorted((self.ledger.index_of(self.ledger.session.current), self.ledger.index_of(shape)))
            run = self.ledger.rows.shapes(max(a, 0), b + 1)
            current = self.ledger.session.current
            self.ledger.session.select([*(s for s in run if s is not current), current], place=True)
        elif not self.ledger.session.is_selected(shape) or len(self.ledger.session.selection) == 1:
            self.ledger.session.select([shape], place=True)

    def move(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._curve is not None:
            self._curve.move(at.x(), at.y())
            return
        if self._press is not None and event.buttons() & Qt.MouseButton.LeftButton:
            start, shape, cell = self._press
            if shape is not None and shape.scene is not self.ledger.session.scene:
                self.cancel_press()  # taken back while it was held
                return
            far = at.toPoint() - start
            if cell is not None and cell.role == "number":
                self.ledger.acts.scrub(cell, far.x(), event.modifiers())
            elif shape is not None and (self.dragging or abs(far.y()) > 4):
                self._drag_rows(at.x(), at.y())
            return
        shape, cell, _top = self.ledger.cell_at(at.x(), at.y())
        row = self.ledger.index_of(shape) if shape is not None else -1
        hot = (shape, cell.key) if cell is not None else None
        if (row, hot) == (self.hover_row, self.hot):
            return
        if row != self.hover_row:
            self.hover_row = row
            self.ledger.hovered.emit(shape)
        self.hot = hot
        self.ledger.session.show_ghost(_ghost_of(shape, cell))
        self.ledger.viewport().setCursor(QCursor(self.ledger.acts.cursor_for(cell)))
        self.ledger.viewport().update()

    def release(self, event: QMouseEvent) -> None:
        if self._curve is not None:
            self._curve.end()
            self._curve = None
            return
        press, self._press = self._press, None
        self._let_go()
        if self.dragging:
            self._end_drag()
            return
        if press is None:
            return
        start, shape, cell = press
        if shape is not None and shape.scene is not self.ledger.session.scene:
            self.scrubbed = 0
            return
        if self.scrubbed:
            self.ledger.session.end_gesture()
            self.scrubbed = 0
        elif cell is not None and cell.live and cell.role != "id":
            self.ledger.acts.activate(cell)
        elif (
            shape is not None
            and len(self.ledger.session.selection) > 1
            and not event.modifiers()
            and not self.ledger.is_in_details(start.y())
        ):
            self.ledger.session.select([shape], place=True)

    def double(self, event: QMouseEvent) -> None:
        shape, cell, _top = self.ledger.cell_at(event.position().x(), event.position().y())
        if cell is not None and cell.role == "id" and shape is not None:
            self.ledger.session.select([shape], place=True)
            self.ledger.acts.open_editor(cell)
        elif cell is None and isinstance(shape, Group):
            self.ledger.acts.toggle_fold(shape)
        else:
            self.press(event)

    def leave(self) -> None:
        self.hot, self.hover_row = None, -1
        self.ledger.close_up()
        self.ledger.session.show_ghost(None)
        self.ledger.hovered.emit(None)
        self.ledger.viewport().update()

    def wheel(self, event: QWheelEvent) -> bool:
        """The wheel over the value in focus changes it; False when it is for scrolling."""
        shape, cell, _top = self.ledger.cell_at(event.position().x(), event.position().y())
        if (
            cell is not None
            and cell.role == "number"
            and shape is self.ledger.opened
            and self.ledger.focus_key == cell.key
            and self.ledger.editor is None
        ):
            self.ledger.acts.nudge(
                cell, event.angleDelta().y() / 120, event.modifiers(), ("wheel", id(shape), cell.key)
            )
            event.accept()
            return True
        return False

    # reordering by hand

    def _drag_rows(self, x: float, y: float) -> None:
        self.dragging = True
        content = y + self.ledger.verticalScrollBar().value()
        index = self.ledger.row_at(content)
        gap = index
        if 0 <= index < len(self.ledger.rows) and content - self.ledger.top_of(index) > ROW / 2:
            gap = index + 1
        gap = max(0, min(len(self.ledger.rows), gap))
        depth = round((x - 40) / INDENT / 2)
        self.drop = drop_at(
            self.ledger.session.scene, self.ledger.rows, gap, depth, self.ledger.front_first, self.ledger.folded
        )
        self.ledger.viewport().setCursor(Qt.CursorShape.ClosedHandCursor)
        edge = 24
        bar = self.ledger.verticalScrollBar()
        if y < edge:
            bar.setValue(bar.value() - 8)
        elif y > self.ledger.viewport().height() - edge:
            bar.setValue(bar.value() + 8)
        self.ledger.viewport().update()

    def _let_go(self) -> None:
        """The selected row opens now. It stays under the pointer, whatever closes above it."""
        if self.holding is None:
            return
        ledger, current = self.ledger, self.ledger.session.current
        index = ledger.index_of(current) if current is not None else -1
        top = ledger.top_of(index) - ledger.verticalScrollBar().value()
        self.holding = None
        ledger.lay_open()
        if current is not None and index >= 0 and not self.dragging:
            ledger.hold_row(current, top)

    def take_back(self) -> bool:
        """Takes back what the pressed pointer is doing; False when it does nothing."""
        if self._curve is not None:
            gesture, self._curve = self._curve.gesture, None
            self.ledger.session.take_back(gesture)
            return True
        if self.scrubbed:
            gesture = self.scrub_gesture
            self.cancel_press()
            self.ledger.session.take_back(gesture)
            return True
        return self.cancel_drag()

    def cancel_press(self) -> None:
        self._press, self.scrubbed = None, 0
        self.dragging, self.drop = False, None
        self._let_go()
        self.ledger.viewport().update()

    def cancel_drag(self) -> bool:
        if not self.dragging:
            return False
        self.dragging, self.drop, self._press = False, None, None
        self._let_go()
        self.ledger.viewport().update()
        return True

    def _end_drag(self) -> None:
        drop = self.drop
        self.dragging, self.drop = False, None
        self.ledger.viewport().unsetCursor()
        if drop is not None:
            self.drop_rows(drop)
        self.ledger.viewport().update()

    def drop_rows(self, drop: Drop) -> None:
        """Puts the selected rows where a drop says, in their order. What they show stays where it is."""
        session = self.ledger.session
        todo = outermost(session.selection)
        if not todo:
            return
        index = drop.index
        with session.step(_drop_name(drop, todo)):
            for shape in todo:
                parent = shape.parent
                if parent is drop.group and parent.index_of(shape) < index:
                    index -= 1
                move_keeping_place(session.display, shape, drop.group, index)
                index += 1


def _drop_name(drop: Drop, todo: list[Shape]) -> str:
    """What a drop does, named by the neighbour behind it."""
    behind = next((s for s in reversed(drop.group._children[: drop.index]) if s not in todo), None)
    if any(s.parent is not drop.group for s in todo):
        return f"Put {names_of(todo)} into {drop.group.id or 'the scene'}"
    return (
        f"Bring {names_of(todo)} in front of {behind.id}"
        if behind is not None
        else f"Send {names_of(todo)} to the back"
    )


def _ghost_of(shape: Shape | None, cell: Cell | None) -> tuple[Shape, str, int] | None:
    """What is drawn on the canvas for a cell of the steps: the shape after that step, or with two of them changed."""
    if shape is None or cell is None or cell.name != "steps" or not cell.path or cell.y == 0:
        return None
    if cell.role == "between":
        return shape, "swap", cell.path[0]
    return shape, "after", cell.path[0] + (0 if cell.role == "stage" else 1)
