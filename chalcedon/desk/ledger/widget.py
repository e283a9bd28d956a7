"""The ledger's view: rows painted as they scroll by, and what the pointer does to them."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QCursor,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QWheelEvent,
)
from PySide6.QtWidgets import QAbstractScrollArea, QFrame

from chalcedon.desk.ledger import cells as lay
from chalcedon.desk.ledger.acts import CellActs
from chalcedon.desk.ledger.cells import ROW, Cell
from chalcedon.desk.ledger.editor import CellEditor
from chalcedon.desk.ledger.keys import LedgerKeys
from chalcedon.desk.ledger.paint import LEFT, draw_cell, draw_chip, draw_mark
from chalcedon.desk.ledger.rows import Drop, Row, drop_at, flatten
from chalcedon.desk.ledger.thumbs import SIDE, Thumbs
from chalcedon.desk.session import Session
from chalcedon.desk.theme import font, theme
from chalcedon.evaluate import Changes
from chalcedon.evaluate.arrange import move_keeping_place
from chalcedon.scene import Group, Shape
from chalcedon.scene.order import names_of, outermost

END = 19
"""Height of the two lines that name the ends."""
HEAD = ROW + 4
INDENT = 9
CHIPS = 108
"""Width of the column of chips and marks at the right."""


class Ledger(LedgerKeys, CellActs, QAbstractScrollArea):
    """One row a shape. The current shape's row is opened in place."""

    hovered = Signal(object)
    """The shape under the pointer, or None."""
    asked_menu = Signal(QPoint)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.front_first = False
        self.folded: set[Shape] = set()
        self.rows: list[Row] = []
        self._index: dict[Shape, int] = {}
        self.expanded: set[Shape] = set()
        self.editor: CellEditor | None = None
        self.complaint = ""
        self.focus_key: tuple[str, str, tuple[int, ...]] | None = None
        """The cell in focus, in the row of the current shape."""
        self._metrics = lay.Metrics()
        self._thumbs = Thumbs(session.display, 2.0)
        self._opened: tuple[list[Cell], float] = ([], 0.0)
        self._hot: tuple[Shape | None, tuple[str, str, tuple[int, ...]]] | None = None
        self._hover_row = -1
        self._press: tuple[QPoint, Shape | None, Cell | None] | None = None
        self._scrub_gesture: object = None
        self._scrubbed = 0
        self._drop: Drop | None = None
        self._dragging = False
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)
        self.setAccessibleName("Ledger")
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        session.changed.connect(self._follow)
        session.replaced.connect(self._replace)
        session.selection_changed.connect(self._selected)
        self._rebuild()

    # following the session

    def _replace(self) -> None:
        self.close_editor()
        self._thumbs = Thumbs(self.session.display, self.devicePixelRatioF())
        self.folded = {s for s in self.session.scene.walk() if isinstance(s, Group) and len(s.children) > 200}
        self.expanded.clear()
        self.focus_key = None
        self._rebuild()
        self.verticalScrollBar().setValue(0)

    def _follow(self, changes: Changes) -> None:
        if changes.order:
            self._rebuild()
        else:
            self._lay_open()
        self.viewport().update()

    def _rebuild(self) -> None:
        self.rows = flatten(self.session.scene, self.folded, self.front_first)
        self._index = {row.shape: i for i, row in enumerate(self.rows)}
        self._lay_open()
        self.viewport().update()

    def _lay_open(self) -> None:
        """Lays out the opened row and the height of everything."""
        shape = self.opened
        old = self._opened[1]
        self._opened = ([], 0.0) if shape is None else lay.details(
            self._metrics, shape, self.viewport().width() - 14, shape in self.expanded)
        if self._opened[1] != old or not self.verticalScrollBar().maximum():
            self._set_range()
        if shape is not None:
            self._set_range()

    def _set_range(self) -> None:
        height = self.top_of(len(self.rows)) + END + 8
        bar = self.verticalScrollBar()
        bar.setRange(0, max(0, int(height - self.viewport().height())))
        bar.setPageStep(self.viewport().height())
        bar.setSingleStep(ROW)

    @property
    def opened(self) -> Shape | None:
        """The shape whose row is opened: the one selected, when it is alone."""
        current = self.session.current
        return current if current is not None and len(self.session.selection) == 1 else None

    def _selected(self) -> None:
        current = self.session.current
        if current is not None:
            self._unfold_to(current)
        if self.focus_key is not None and current is not None and self.focus_key[1] not in current.properties:
            self.focus_key = None
        self._lay_open()
        if current is not None and not self._dragging and self._press is None:
            self.reveal(current)
        self.tell_focus()
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
            self._rebuild()

    # geometry

    def index_of(self, shape: Shape) -> int:
        return self._index.get(shape, -1)

    def _open_index(self) -> int:
        shape = self.opened
        return self.index_of(shape) if shape is not None else -1

    def top_of(self, index: int) -> float:
        """The top of a row in content px, from the top of the list."""
        extra = self._opened[1] if 0 <= self._open_index() < index else 0.0
        return HEAD + END + index * ROW + extra

    def row_at(self, y: float) -> int:
        """The row at content px `y`; -1 above the first, len(rows) below the last."""
        index = int((y - HEAD - END) // ROW)
        opened = self._open_index()
        if 0 <= opened < index:
            index = max(opened, int((y - HEAD - END - self._opened[1]) // ROW))
        return max(-1, min(len(self.rows), index))

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

    def resizeEvent(self, event: QEvent) -> None:  # type: ignore[override]
        self._lay_open()
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
        width = self._metrics.width(shape.id, "bold")
        out.append(Cell(x - 3, 0, min(width, 150) + 6, ROW, "id", shape.id, shape, "id", (), shape.id))
        x += min(width, 150) + 6
        kind = self._metrics.width(shape.kind, "italic")
        out.append(Cell(x, 0, kind, ROW, "kind", shape.kind))
        x += kind + 10
        right = self.viewport().width() - CHIPS
        out += lay.summary(self._metrics, shape, x, right)
        right += 6
        for name in ("fill", "stroke"):
            if name in shape.properties and shape.stated(name) is not None:
                out.append(Cell(right + (0 if name == "fill" else 23), 0, 20, ROW, "paint", name, shape, name, (),
                                shape.stated(name)))
        edge = self.viewport().width() - 27
        out.append(Cell(edge, 0, 20, ROW, "eye"))
        if shape.locked or self._hover_row == index:
            out.append(Cell(edge - 19, 0, 18, ROW, "lock"))
        if shape.pointer == "none":
            out.append(Cell(edge - (38 if shape.locked or self._hover_row == index else 19), 0, 18, ROW, "pointer"))
        if index == self._open_index():
            out += self._opened[0]
        return out

    def head_cells(self) -> list[Cell]:
        right = self.viewport().width() - CHIPS + 10
        out = lay.scene_cells(self._metrics, self.session.scene, 62, right)
        text = "front first ↓" if self.front_first else "back first ↓"
        width = self._metrics.width(text)
        out.append(Cell(self.viewport().width() - 14 - width, 0, width, ROW, "flip", text))
        return out

    def cell_at(self, x: float, y: float) -> tuple[Shape | None, Cell | None, float]:
        """Shape, cell and top of the row at viewport px; the scene's own row has no shape."""
        content = y + self.verticalScrollBar().value()
        if content < HEAD:
            return None, next((c for c in reversed(self.head_cells()) if c.holds(x, content)), None), 0.0
        index = self.row_at(content)
        if not 0 <= index < len(self.rows):
            return None, None, 0.0
        top = self.top_of(index)
        found = next((c for c in reversed(self.row_cells(index)) if c.role != "section" and c.holds(x, content - top)), None)
        return self.rows[index].shape, found, top - self.verticalScrollBar().value()

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        width, height = self.viewport().width(), self.viewport().height()
        painter.fillRect(0, 0, width, height, t.color("panel"))
        scroll = self.verticalScrollBar().value()
        self._paint_head(painter, -scroll, width)
        first = max(0, self.row_at(scroll))
        index = first
        while index < len(self.rows):
            top = self.top_of(index) - scroll
            if top > height:
                break
            self._paint_row(painter, index, top, width)
            index += 1
        end = self.top_of(len(self.rows)) - scroll
        words = ("back", "painted first"), ("front", "painted last")
        self._paint_end(painter, HEAD - scroll, width, *words[1 if self.front_first else 0])
        self._paint_end(painter, end, width, *words[0 if self.front_first else 1])
        if not self.rows:
            self._paint_empty(painter, end, width)
        if self._drop is not None:
            y = round(self.top_of(self._drop.line) - scroll)
            painter.setPen(QPen(t.color("carnelian"), 2))
            x = 27 + self._drop.depth * INDENT
            painter.drawLine(x, y, width - 8, y)
            painter.setBrush(t.color("panel"))
            painter.drawEllipse(QPoint(x, y), 3, 3)
        if self.hasFocus() and self.session.current is None:
            painter.setPen(QPen(t.color("carnelian"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, width - 1, height - 1))
        painter.end()

    def _paint_head(self, painter: QPainter, top: float, width: int) -> None:
        painter.setFont(font(15, bold=True))
        painter.setPen(theme().color("ink"))
        painter.drawText(QRectF(14, top, 60, ROW), LEFT, "Scene")
        for cell in self.head_cells():
            if cell.role == "flip":
                hot = self._hot is not None and self._hot[1][0] == "flip"
                painter.setFont(font())
                painter.setPen(theme().color("ink" if hot else "muted"))
                painter.drawText(QRectF(cell.x, top, cell.w + 4, ROW), LEFT, cell.text)
            else:
                draw_cell(painter, cell, top, self._hot == (None, cell.key), False)

    def _paint_end(self, painter: QPainter, top: float, width: int, word: str, why: str) -> None:
        t = theme()
        painter.fillRect(QRectF(0, top, width, END), t.color("paper"))
        painter.setFont(font(13, italic=True))
        painter.setPen(t.color("muted"))
        painter.drawText(QRectF(14, top, width - 20, END), LEFT, f"{word}  ·  {why}")

    def _paint_empty(self, painter: QPainter, end: float, width: int) -> None:
        painter.setFont(font())
        painter.setPen(theme().color("muted"))
        painter.drawText(QRectF(14, end + 34, width - 28, 90), Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap,
                         "No shapes yet. Each will have a row here, the one painted first at the top.\n"
                         "Type a line below, such as  circle 200 120 40,  or pick a kind and drag on the picture.")

    def _paint_row(self, painter: QPainter, index: int, top: float, width: int) -> None:
        t = theme()
        row = self.rows[index]
        shape = row.shape
        opened = index == self._open_index()
        chosen = shape in self.session.selection
        height = ROW + (self._opened[1] if opened else 0)
        if chosen:
            painter.fillRect(QRectF(0, top, width, height), t.color("selected", 110 if opened else 255))
            painter.fillRect(QRectF(0, top, width, ROW), t.color("selected"))
        elif index == self._hover_row:
            painter.fillRect(QRectF(0, top, width, ROW), t.color("paper"))
        for level, band in enumerate(row.bands):
            color = t.strata[band % len(t.strata)]
            painter.fillRect(QRectF(6 + level * INDENT, top, 5, height), QColor(color))
        if chosen and shape is self.session.current and self.hasFocus() and self.focus_key is None:
            painter.setPen(QPen(t.color("carnelian"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, top + 0.5, width - 1, ROW - 1))
        node = self.session.display.find(shape)
        faint = node is not None and not node.visible
        painter.setOpacity(0.45 if faint else 1.0)
        x = 43 + row.depth * INDENT
        box = QRectF(x - 1, top + 4, SIDE + 2, SIDE + 2)
        painter.setPen(QPen(t.color("line"), 1))
        painter.setBrush(t.color("paper") if t.name == "plaster" else t.color("sunken"))
        painter.drawRoundedRect(box, 3, 3)
        if node is not None:
            painter.drawPixmap(int(x), int(top + 5), self._thumbs.of(node))
        for cell in self.row_cells(index):
            self._paint_row_cell(painter, cell, shape, top, opened)
        painter.setOpacity(1.0)

    def _paint_row_cell(self, painter: QPainter, cell: Cell, shape: Shape, top: float, opened: bool) -> None:
        t = theme()
        hot = self._hot == (shape, cell.key)
        if cell.role == "fold":
            name = "folded" if shape in self.folded else "unfolded"
            draw_mark(painter, cell.x, top + 5, name, hot)
        elif cell.role == "id":
            painter.setFont(font(bold=True))
            painter.setPen(t.color("ink"))
            text = painter.fontMetrics().elidedText(cell.text, Qt.TextElideMode.ElideRight, int(cell.w))
            painter.drawText(QRectF(cell.x + 3, top, cell.w, ROW), LEFT, text)
        elif cell.role == "kind":
            painter.setFont(font(13, italic=True))
            painter.setPen(t.color("muted"))
            painter.drawText(QRectF(cell.x, top, cell.w + 4, ROW), LEFT, cell.text)
        elif cell.role == "eye":
            painter.setOpacity(1.0)
            draw_mark(painter, cell.x, top + 5, "eye" if shape.visible else "closed eye", hot or opened)
        elif cell.role == "lock":
            painter.setOpacity(1.0)
            draw_mark(painter, cell.x, top + 5, "lock" if shape.locked else "open lock", hot)
        elif cell.role == "pointer":
            draw_mark(painter, cell.x, top + 5, "no pointer", hot)
        elif cell.role == "paint" and cell.y == 0:
            draw_chip(painter, cell.x + 2, top + 6, cell.value, cell.name == "stroke", hot)
        else:
            focused = opened and self.focus_key == cell.key and cell.y > 0
            draw_cell(painter, cell, top, hot, focused and self.editor is None)

    # pointer

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position()
        shape, cell, _top = self.cell_at(at.x(), at.y())
        self._press = (at.toPoint(), shape, cell)
        self._scrub_gesture, self._scrubbed = object(), 0
        if cell is not None and self.press_mark(shape, cell):
            self._press = None
            return
        if cell is not None and cell.live and cell.role not in ("id",):
            if shape is not None and shape not in self.session.selection:
                self.session.select([shape])
            if shape is not None:
                self.focus_key = cell.key
                self.tell_focus()
            self.viewport().update()
            return
        if shape is not None:
            self._pick(shape, event.modifiers())
        elif at.y() + self.verticalScrollBar().value() > HEAD:
            self.session.select([])
        self.focus_key = None
        self.tell_focus()

    def _pick(self, shape: Shape, mods: Qt.KeyboardModifier) -> None:
        if mods & Qt.KeyboardModifier.ControlModifier:
            self.session.toggle(shape)
        elif mods & Qt.KeyboardModifier.ShiftModifier and self.session.current is not None:
            a, b = sorted((self.index_of(self.session.current), self.index_of(shape)))
            run = [r.shape for r in self.rows[max(a, 0) : b + 1]]
            current = self.session.current
            self.session.select([*(s for s in run if s is not current), current])
        elif shape not in self.session.selection:
            self.session.select([shape])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._press is not None and event.buttons() & Qt.MouseButton.LeftButton:
            start, shape, cell = self._press
            far = at.toPoint() - start
            if cell is not None and cell.role == "number":
                self.scrub(cell, far.x(), event.modifiers())
            elif shape is not None and (self._dragging or abs(far.y()) > 4):
                self._drag_rows(at.x(), at.y())
            return
        shape, cell, _top = self.cell_at(at.x(), at.y())
        row = self.index_of(shape) if shape is not None else -1
        hot = (shape, cell.key) if cell is not None else None
        if row != self._hover_row:
            self._hover_row = row
            self.hovered.emit(shape)
        self._hot = hot
        self.viewport().setCursor(QCursor(self.cursor_for(cell)))
        self.viewport().update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        press, self._press = self._press, None
        if self._dragging:
            self._end_drag()
            return
        if press is None:
            return
        _start, shape, cell = press
        if self._scrubbed:
            self.session.end_gesture()
            self._scrubbed = 0
        elif cell is not None and cell.live and cell.role != "id":
            self.activate(cell)
        elif shape is not None and len(self.session.selection) > 1 and not event.modifiers():
            self.session.select([shape])

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        shape, cell, _top = self.cell_at(event.position().x(), event.position().y())
        if cell is not None and cell.role == "id" and shape is not None:
            self.session.select([shape])
            self.open_editor(cell)
        elif cell is None and isinstance(shape, Group):
            self.toggle_fold(shape)
        else:
            self.mousePressEvent(event)

    def leaveEvent(self, event: QEvent) -> None:
        self._hot, self._hover_row = None, -1
        self.hovered.emit(None)
        self.viewport().update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        shape, cell, _top = self.cell_at(event.position().x(), event.position().y())
        if cell is not None and cell.role == "number" and shape is self.opened and self.focus_key == cell.key \
                and self.editor is None:
            self.nudge(cell, event.angleDelta().y() / 120, event.modifiers(), ("wheel", id(shape), cell.key))
            event.accept()
            return
        super().wheelEvent(event)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        shape, _cell, _top = self.cell_at(event.pos().x(), event.pos().y())
        if shape is not None and shape not in self.session.selection:
            self.session.select([shape])
        self.asked_menu.emit(event.globalPos())

    # reordering by hand

    def _drag_rows(self, x: float, y: float) -> None:
        self._dragging = True
        content = y + self.verticalScrollBar().value()
        index = self.row_at(content)
        gap = index
        if 0 <= index < len(self.rows) and content - self.top_of(index) > ROW / 2:
            gap = index + 1
        gap = max(0, min(len(self.rows), gap))
        depth = round((x - 40) / INDENT / 2)
        self._drop = drop_at(self.session.scene, self.rows, gap, depth, self.front_first, self.folded)
        self.viewport().setCursor(Qt.CursorShape.ClosedHandCursor)
        edge = 24
        bar = self.verticalScrollBar()
        if y < edge:
            bar.setValue(bar.value() - 8)
        elif y > self.viewport().height() - edge:
            bar.setValue(bar.value() + 8)
        self.viewport().update()

    def cancel_drag(self) -> bool:
        if not self._dragging:
            return False
        self._dragging, self._drop, self._press = False, None, None
        self.viewport().update()
        return True

    def _end_drag(self) -> None:
        drop = self._drop
        self._dragging, self._drop = False, None
        self.viewport().unsetCursor()
        if drop is not None:
            self.drop_rows(drop)
        self.viewport().update()

    def drop_rows(self, drop: Drop) -> None:
        """Puts the selected rows where a drop says, in their order. What they show stays where it is."""
        session = self.session
        todo = outermost(session.selection)
        if not todo:
            return
        index = drop.index
        with session.step(_drop_name(drop, todo)):
            for shape in todo:
                parent = shape.parent
                if parent is drop.group and parent.children.index(shape) < index:
                    index -= 1
                move_keeping_place(session.display, shape, drop.group, index)
                index += 1


def _drop_name(drop: Drop, todo: list[Shape]) -> str:
    """What a drop does, named by the neighbour behind it."""
    behind = next((s for s in reversed(drop.group.children[: drop.index]) if s not in todo), None)
    if any(s.parent is not drop.group for s in todo):
        return f"Put {names_of(todo)} into {drop.group.id or 'the scene'}"
    return f"Bring {names_of(todo)} in front of {behind.id}" if behind is not None else f"Send {names_of(todo)} to the back"
