"""The ledger's view: which rows there are and where, and what stands in them."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QEvent, QPoint, QRectF, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QFocusEvent, QHelpEvent, QKeyEvent, QMouseEvent, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QAbstractScrollArea, QFrame

from chalcedon.craft.descriptions import describe
from chalcedon.craft.several import Several
from chalcedon.desk.ledger import cells as lay
from chalcedon.desk.ledger.acts import CellActs
from chalcedon.desk.ledger.cells import END, HEAD, INDENT, ROW, Cell, Owner
from chalcedon.desk.ledger.details import Around, Details, turned
from chalcedon.desk.ledger.editor import CellEditor
from chalcedon.desk.ledger.folds import OR_AS, folds_of_several
from chalcedon.desk.ledger.formulacells import paint_now
from chalcedon.desk.ledger.keys import LedgerKeys
from chalcedon.desk.ledger.pace import Pace
from chalcedon.desk.ledger.pointer import LedgerPointer
from chalcedon.desk.ledger.rowpaint import RowPainter
from chalcedon.desk.ledger.rows import Rows
from chalcedon.desk.ledger.thumbs import SIDE, Thumbs
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.looks.plain import show_tip
from chalcedon.desk.session import Session
from chalcedon.evaluate import Changes, Node
from chalcedon.evaluate.kept import set_by_run
from chalcedon.hit.where import first_cause
from chalcedon.scene import Group, Shape
from chalcedon.scene.shapes import Unknown
from chalcedon.view.guarded import Guarded

MANY_ROWS = 40
"""Changed rows beyond which the whole list is painted anew."""
NARROW = 340
"""Width below which a row has one chip."""
MARK = 17
"""Width of a mark."""
CHIPS = 112
"""Width of the column of chips and marks at the right."""


class Ledger(Guarded, QAbstractScrollArea):
    """One row a shape. The current shape's row is opened in place."""

    hovered = Signal(object)
    """The shape under the pointer, or None."""
    asked_menu = Signal(QPoint)
    palette_asked = Signal()
    sought = Signal(object)
    """Why a shape can't be seen is to be said."""
    repaired = Signal(object, object)
    """A repair of the check-up is asked for: repair, remark."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.front_first = False
        self.folded: set[Shape] = set()
        self.expanded: set[Shape] = set()
        self.unfolded: dict[Shape | None, set[str]] = {}
        """What of a shape's row was shown once: it stays, whatever its value. None stands for several shapes."""
        self._several: tuple[object, Several] | None = None
        self.slack = 0.0
        """Px left free above the first row so that a row stays under the pointer when one above it closes."""
        self.or_as = False
        """Whether opened rows show the other descriptions."""
        self._marked = -1
        self._head = HEAD * 1.0
        """The version of what is marked as unsaved."""
        self.rows = Rows(session.scene, self.folded)
        self.editor: CellEditor | None = None
        self.complaint = ""
        self.focus_key: tuple[str, str, tuple[int, ...]] | None = None
        """The cell in focus, in the row of the current shape."""
        self.formula_lines: tuple[str, ...] = ()
        """What is said of the value in focus: its formula, and who reads it."""
        self.metrics = lay.Metrics()
        self._details, self._summaries = Details(self.metrics), lay.Summaries()
        self.thumbs = Thumbs(session.display, 2.0)
        self._opened: tuple[list[Cell], float] = ([], 0.0)
        self.acts = CellActs(self)
        self.keys = LedgerKeys(self)
        self.pointer = LedgerPointer(self)
        session.hands.append(self.pointer.take_back)
        self._painter = RowPainter(self)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)
        self.setAccessibleName("Ledger")
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.pace = Pace(self, session, self._follow)
        session.replaced.connect(self._replace)
        session.selection_changed.connect(self._selected)
        session.remarks_changed.connect(self.show_details)
        session.lit_changed.connect(self.viewport().update)
        session.manners_changed.connect(self.viewport().update)
        session.saved.connect(self.viewport().update)
        session.value_asked.connect(lambda shape, name: self.acts.open_value(shape, name))
        self.verticalScrollBar().valueChanged.connect(lambda _value: self.acts.place_editor())
        self.rebuild()

    # following the session

    def _replace(self) -> None:
        self.acts.close_editor()
        self.thumbs = Thumbs(self.session.display, self.devicePixelRatioF())
        self.folded = {s for s in self.session.scene.walk() if isinstance(s, Group) and len(s._children) > 200}
        self.expanded.clear()
        self.unfolded.clear()
        self.focus_key, self.formula_lines = None, ()
        self.rebuild()
        self.verticalScrollBar().setValue(0)

    def _follow(self, changes: Changes) -> None:
        if changes.order:
            came, left = ([n.shape for n in nodes] for nodes in (changes.came, changes.left))
            if changes.moved or not self.rows.follow(came, left):
                self.rebuild()
            else:
                self.lay_open()
                self.viewport().update()
            return
        before, height = self._opened
        self.lay_open()
        marked, self._marked = self._marked, self.session.document.followed.version
        if self._opened[1] != height or len(changes.nodes) > MANY_ROWS or marked != self._marked:
            self.viewport().update()
            return
        self._update_details(before)
        touched = {self.open_index(), -1}
        for node in (*changes.nodes, *changes.groups):
            step: Node | None = node  # a group's row shows what is in it
            while step is not None:
                touched.add(self.index_of(step.shape))
                step = step.parent
        for index in touched:
            self.update_row(index)
        if changes.page:
            self._update_head()

    def _update_head(self) -> None:
        before, self._head = self._head, self.head_height
        if self._head != before:
            self._set_range()
            self.viewport().update()
        else:
            self.viewport().update(0, -self.verticalScrollBar().value(), self.viewport().width(), int(self._head))

    def _update_details(self, before: list[Cell]) -> None:
        """Has those cells of the opened row painted again that are not what they were."""
        now = self._opened[0]
        if len(now) != len(before):
            self.update_row(self.open_index(), self._opened[1])
            return
        lines: dict[float, QRectF] = {}  # one strip a line: where many small places are asked for, all is drawn slower
        for old, new in zip(before, now, strict=True):
            if old is not new and old != new:
                for cell in (old, new):
                    lines[cell.y] = lines.get(cell.y, QRectF()) | QRectF(cell.x - 6, cell.y, cell.w + 14, cell.h)
        top = self.top_of(self.open_index()) - self.verticalScrollBar().value()
        for strip in lines.values():
            self.viewport().update(strip.translated(0, top).toAlignedRect())

    def update_row(self, index: int, details: float = 0.0) -> None:
        """Has a row's first line painted again, and so much below it."""
        if index >= 0:
            top = self.top_of(index) - self.verticalScrollBar().value()
            self.viewport().update(0, int(top), self.viewport().width(), int(ROW + details))

    def rebuild(self) -> None:
        self.rows = Rows(self.session.scene, self.folded, self.front_first)
        self._summaries.forget()  # it holds shapes, which may have left
        self.lay_open()
        self.viewport().update()

    def lay_open(self) -> None:
        """Lays out the opened row and the height of everything."""
        shape = self.opened
        old = self._opened[1]
        self._opened = ([], 0.0) if shape is None else self._lay(shape)
        if self._opened[1] != old or not self.verticalScrollBar().maximum():
            self._set_range()
        if shape is not None:
            self._set_range()
        self.acts.place_editor()

    @property
    def several(self) -> Several | None:
        """What all selected shapes have in common; None for one alone."""
        if self.pointer.holding is not None:
            return self.pointer.holding[1]
        chosen = self.session.selection
        if len(chosen) < 2:
            self._several = None
            return None
        state = self.session.display.version, chosen  # which is replaced, never changed
        if self._several is None or self._several[0] != state:
            self._several = state, Several([s for s in chosen if not isinstance(s, Unknown)] or chosen)
        return self._several[1]

    def _lay(self, shape: Shape) -> tuple[list[Cell], float]:
        if (several := self.several) is not None:
            kept = self.unfolded.setdefault(None, set())
            found = folds_of_several(several, kept)
            formula = [line for line in self.formula_lines if line.startswith("=")]
            around = Around(found, folding=bool(kept), find=self.keys.naming.find, told=formula)
            return self._details.lay(several, self.viewport().width() - 14, around)
        node = self.session.display.find(shape)
        kept = self.unfolded.setdefault(shape, set())
        run = set_by_run(shape).keys() - kept  # shown as long as the run has them
        found = self._details.folds.of(shape, kept | run)
        kept |= found.shown - run
        around = Around(
            found,
            shape in self.expanded,
            [r for r in self.session.remarks if r.shape is shape and (r.what != "formula" or self.editor is None)],
            describe(self.session.node(shape)) if node is not None and self.or_as else (),
            node is not None and not self.or_as,
            self.or_as or found.foldable,
            self.keys.naming.find,
            node and (node.outline_version, shape.stated("steps"), turned(node)),
            self.formula_lines,
            self.keys.curve(),
        )
        return self._details.lay(shape, self.viewport().width() - 14, around)

    def unfold(self, shape: Owner, name: str) -> None:
        """Shows a value in the row of a shape; OR_AS shows its other descriptions."""
        if name == OR_AS:
            self.or_as = True
        else:
            self.unfolded.setdefault(shape if isinstance(shape, Shape) else None, set()).add(name)
        self.show_details()

    def fold(self, shape: Owner) -> None:
        """Puts what stands at its default back into the quiet line."""
        self.or_as = False
        self.unfolded.pop(shape if isinstance(shape, Shape) else None, None)
        self.focus_key = None
        self.show_details()

    def show_details(self) -> None:
        """Lays the opened row out anew, and paints everything below it where it is now."""
        self.lay_open()
        self.viewport().update()

    def _set_range(self) -> None:
        height = self.top_of(len(self.rows)) + END + 8
        bar = self.verticalScrollBar()
        bar.setRange(0, max(0, int(height - self.viewport().height())))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(ROW)

    @property
    def opened_height(self) -> float:
        """How far the details reach below the first line of the opened row."""
        return self._opened[1]

    @property
    def opened(self) -> Shape | None:
        """The shape whose row is opened: the one selected last. Of several, it shows what they have in common."""
        if self.pointer.holding is not None:
            return self.pointer.holding[0]
        return self.session.current

    @property
    def focus_owner(self) -> Shape | None:
        """The shape that the cell in focus belongs to. While another row is pressed its own isn't opened yet."""
        return self.session.current if self.pointer.holding is not None else self.opened

    def _selected(self) -> None:
        self.keys.naming.end()
        current = self.session.current
        if current is not None:
            self._unfold_to(current)
        if self.focus_key is not None and current is not None and self.focus_key[1] not in current.properties:
            self.focus_key = None
        self.lay_open()
        if current is not None and not self.pointer.dragging and not self.pointer.down:
            self.close_up()
            self.reveal(current)
        self.keys.tell_focus()
        self.viewport().update()

    def _unfold_to(self, shape: Shape) -> None:
        group = shape.parent
        changed = False
        while group is not None:
            if group in self.folded:
                self.folded.discard(group)
                changed = True
            group = group.parent
        if changed:
            self.rebuild()

    # geometry

    def index_of(self, shape: Shape) -> int:
        return self.rows.index_of(shape)

    def open_index(self) -> int:
        shape = self.opened
        return self.index_of(shape) if shape is not None else -1

    @property
    def head_height(self) -> float:
        """How far down the scene's own lines reach."""
        return HEAD + ROW * len(self.session.scene.stated("responses"))

    def top_of(self, index: int) -> float:
        """The top of a row in content px, from the top of the list."""
        extra = self._opened[1] if 0 <= self.open_index() < index else 0.0
        return self.head_height + END + self.slack + index * ROW + extra

    def row_at(self, y: float) -> int:
        """The row at content px `y`; -1 above the first, len(rows) below the last."""
        y -= self.head_height + END + self.slack
        index = int(y // ROW)
        opened = self.open_index()
        if 0 <= opened < index:
            index = max(opened, int((y - self._opened[1]) // ROW))
        return max(-1, min(len(self.rows), index))

    def is_in_details(self, y: float) -> bool:
        """Whether viewport px `y` is below the first line of the opened row."""
        index = self.open_index()
        top = self.top_of(index) + ROW - self.verticalScrollBar().value()
        return index >= 0 and top <= y < top + self._opened[1]

    def hold_row(self, shape: Shape, top: float) -> None:
        """Scrolls so that the row of a shape begins at viewport px `top`. Where the list can't scroll as far, it begins
        lower for a while."""
        bar = self.verticalScrollBar()
        scroll = self.top_of(self.index_of(shape)) - top
        if scroll < 0:
            self.slack -= scroll
            self._set_range()
        bar.setValue(max(0, round(scroll)))

    def close_up(self) -> None:
        """Takes back the space that held a row in its place."""
        if self.slack:
            bar, slack = self.verticalScrollBar(), self.slack
            self.slack = 0.0
            bar.setValue(max(0, round(bar.value() - slack)))
            self._set_range()
            self.acts.place_editor()
            self.viewport().update()

    def reveal(self, shape: Shape) -> None:
        index = self.index_of(shape)
        if index < 0:
            return
        bar, top = self.verticalScrollBar(), self.top_of(index)
        bottom = top + ROW + (self._opened[1] if shape is self.opened else 0)
        page = self.viewport().height()
        if bottom - bar.value() > page - END:
            bar.setValue(int(min(top - END - ROW, bottom - page + END)))
        if top - bar.value() < END:
            bar.setValue(int(top - END - ROW))

    def resizeEvent(self, event: QEvent) -> None:
        self.lay_open()
        self._set_range()

    # cells

    def row_cells(self, index: int) -> list[Cell]:
        """The cells of a row's first line, the opened details included."""
        row = self.rows[index]
        shape = row.shape
        x = 27.0 + row.depth * INDENT
        out: list[Cell] = []
        if isinstance(shape, Group):
            out.append(Cell(x - 4, 0, 18, ROW, "fold"))
        x += 16
        x += SIDE + 8
        narrow = self.viewport().width() < NARROW
        right = self.viewport().width() - (CHIPS - 23 if narrow else CHIPS)
        width = max(20.0, min(self.metrics.width(shape.id, "bold"), 150, (right - x) * 0.55))
        out.append(Cell(x - 3, 0, width + 6, ROW, "id", shape.id, shape, "id", (), shape.id))
        x += width + 6
        out += self._summaries.of(self.metrics, shape, x, right)
        right += 6
        painted = [n for n in ("fill", "stroke") if n in shape.properties and shape.stated(n) is not None]
        for name in painted[:1] if narrow else painted:
            left = right + (0 if name == "fill" or narrow else 23)
            shown = shape.stated(name) if shape.stated(f"{name}_on") else None
            shown = paint_now(shape, name, shown)
            out.append(Cell(left, 0, 20, ROW, "paint", name, shape, name, (), shown))
        edge = self.viewport().width() - 27
        out.append(Cell(edge, 0, 20, ROW, "eye"))
        out += self._marks(shape, index, edge - MARK)
        if index == self.open_index():
            out += self._opened[0]
        return out

    def _marks(self, shape: Shape, index: int, place: float) -> Iterator[Cell]:
        """The marks left of the eye. The lock that is offered under the pointer comes after those that stand there
        anyhow: none moves away from under the hand."""
        node = self.session.display.find(shape)
        why = first_cause(self.session.display, node) if node is not None else ""
        if not why and shape in self.session.unreached:
            why = "the pointer never hits it"
        roles = ["lock"] if shape.locked else []
        roles += ["pointer"] if shape.pointer == "none" else []
        roles += ["lost"] if why and why != "hidden" else []
        roles += ["lock"] if not shape.locked and self.pointer.hover_row == index else []
        for i, role in enumerate(roles):
            yield Cell(place - i * MARK, 0, MARK, ROW, role, why if role == "lost" else "")

    def head_cells(self) -> list[Cell]:
        return lay.scene_cells(self.metrics, self.session.scene, self.viewport().width(), self.front_first)

    def cell_at(self, x: float, y: float) -> tuple[Shape | None, Cell | None, float]:
        """Shape, cell and top of the row at viewport px; the scene's own row has no shape."""
        content = y + self.verticalScrollBar().value()
        if content < self.head_height:
            found = next((c for c in reversed(self.head_cells()) if c.holds(x, content)), None)
            return None, found, -self.verticalScrollBar().value()
        index = self.row_at(content)
        if not 0 <= index < len(self.rows):
            return None, None, 0.0
        top = self.top_of(index)
        cells = [c for c in self.row_cells(index) if c.role != "section"]
        at = next((i for i in reversed(range(len(cells))) if cells[i].holds(x, content - top)), -1)
        found = cells[at] if at >= 0 else None
        if found is not None and found.role == "word" and found.y > 0 and at + 1 < len(cells):
            # a word stands for the value behind it
            after = cells[at + 1]
            found = after if after.live and after.y == found.y and after.x < found.x + found.w + 8 else found
        return self.rows[index].shape, found, top - self.verticalScrollBar().value()

    # events

    def paintEvent(self, event: QPaintEvent) -> None:
        self._painter.paint(event.region())

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.pointer.press(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.pointer.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.pointer.release(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.pointer.double(event)

    def leaveEvent(self, event: QEvent) -> None:
        self.pointer.leave()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if not self.pointer.wheel(event):
            super().wheelEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.keys.naming.end()
        super().focusOutEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        shape, _cell, _top = self.cell_at(event.pos().x(), event.pos().y())
        if shape is not None and not self.session.is_selected(shape):
            self.session.select([shape])
        self.asked_menu.emit(event.globalPos())

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            at = self.viewport().mapFrom(self, event.pos())
            _shape, cell, _top = self.cell_at(at.x(), at.y())
            show_tip(event.globalPos(), tip_of(cell, self.session) if cell is not None else "", self)
            return True
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and self.keys.overrides(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.keys.press(event):
            super().keyPressEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab goes through the values of the opened row first, or through the scene's own where none is opened. While a
        name is typed it takes the value found."""
        if self.keys.naming.find is not None:
            self.keys.naming.take()
            return True
        if self.keys.go(1 if forward else -1):
            return True
        return super().focusNextPrevChild(forward)
