"""How the ledger's rows look."""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap, QRegion

from chalcedon.desk.ledger.cells import END, INDENT, ROW, VALUES, Cell
from chalcedon.desk.ledger.paint import WORDS, draw_cell, draw_mark
from chalcedon.desk.ledger.stages import draw_between, draw_stage
from chalcedon.desk.ledger.thumbs import SIDE, ground
from chalcedon.desk.looks.chips import draw_chip, palette_of
from chalcedon.desk.looks.lettering import write
from chalcedon.desk.looks.theme import font, theme
from chalcedon.geometry import Box
from chalcedon.painter.hittint import tint_of
from chalcedon.scene import Shape

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger


PICTURES = 0.0005
"""Seconds that new small pictures may take of a frame; the others follow."""


class RowPainter:
    def __init__(self, ledger: Ledger) -> None:
        self.ledger = ledger

    def paint(self, region: QRegion) -> None:
        """Paints what of the viewport is in `region`."""
        self.ledger.thumbs.begin(PICTURES)
        painter = QPainter(self.ledger.viewport())
        try:
            self._paint_all(painter, region)
        finally:
            painter.end()
        if self.ledger.thumbs.behind:
            QTimer.singleShot(0, self.ledger, self._paint_behind)

    def _paint_behind(self) -> None:
        for shape in list(self.ledger.thumbs.behind):
            self.ledger.update_row(self.ledger.index_of(shape))

    def _paint_all(self, painter: QPainter, region: QRegion) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = theme()
        width, height = self.ledger.viewport().width(), self.ledger.viewport().height()
        painter.fillRect(0, 0, width, height, t.color("panel"))
        scroll = self.ledger.verticalScrollBar().value()
        if region.intersects(QRect(0, -scroll, width, int(self.ledger.head_height))):
            self._paint_head(painter, -scroll, width)
        asked = [(r.left(), r.top(), r.right() + 1, r.bottom() + 1) for r in region]  # type: ignore[attr-defined]
        first = max(0, self.ledger.row_at(scroll))
        index, opened = first, self.ledger.open_index()
        top = self.ledger.top_of(first) - scroll
        while index < len(self.ledger.rows) and top <= height:
            tall = ROW + (self.ledger.opened_height if index == opened else 0)
            around = [box for box in asked if box[1] < top + tall and top < box[3]]
            if around:
                self._paint_row(painter, index, top, width, index == opened, around)
            index += 1
            top += tall
        end = self.ledger.top_of(len(self.ledger.rows)) - scroll
        words = ("back", "painted first"), ("front", "painted last")
        self._paint_end(painter, self.ledger.head_height - scroll, width, *words[1 if self.ledger.front_first else 0])
        self._paint_end(painter, end, width, *words[0 if self.ledger.front_first else 1])
        if not self.ledger.rows:
            self._paint_empty(painter, end, width)
        if self.ledger.pointer.drop is not None:
            y = round(self.ledger.top_of(self.ledger.pointer.drop.line) - scroll)
            painter.setPen(QPen(t.color("carnelian"), 2))
            x = 27 + self.ledger.pointer.drop.depth * INDENT
            painter.drawLine(x, y, width - 8, y)
            painter.setBrush(t.color("panel"))
            painter.drawEllipse(QPoint(x, y), 3, 3)
        if self.ledger.hasFocus() and self.ledger.session.current is None:
            painter.setPen(QPen(t.color("carnelian"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, width - 1, height - 1))

    def _paint_head(self, painter: QPainter, top: float, width: int) -> None:
        write(painter, 14, top, ROW, "Scene", theme().color("ink"), 15, bold=True)
        for cell in self.ledger.head_cells():
            if cell.role == "flip":
                hot = self.ledger.pointer.hot is not None and self.ledger.pointer.hot[1][0] == "flip"
                write(painter, cell.x, top, ROW, cell.text, theme().color("ink" if hot else "muted"))
            else:
                focused = self.ledger.session.current is None and cell.key == self.ledger.focus_key
                draw_cell(painter, cell, top, self.ledger.pointer.hot == (None, cell.key), focused)

    def _paint_end(self, painter: QPainter, top: float, width: int, word: str, why: str) -> None:
        t = theme()
        painter.fillRect(QRectF(0, top, width, END), t.color("paper"))
        write(painter, 14, top, END, f"{word}  ·  {why}", t.color("muted"), 13, italic=True)

    def _paint_empty(self, painter: QPainter, end: float, width: int) -> None:
        painter.setFont(font())
        painter.setPen(theme().color("muted"))
        painter.drawText(
            QRectF(14, end + 34, width - 28, 90),
            Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap,
            "No shapes yet. Each will have a row here, the one painted first at the top.\n"
            "Type a line below, such as  circle 200 120 40,  or pick a kind and drag on the picture.",
        )

    def _paint_row(self, painter: QPainter, index: int, top: float, width: int, opened: bool, asked: list[Box]) -> None:
        """Paints what of a row is in some boxes of the viewport."""
        t = theme()
        row = self.ledger.rows[index]
        shape = row.shape
        chosen = self.ledger.session.is_selected(shape)
        height = ROW + (self.ledger.opened_height if opened else 0)
        if chosen:
            painter.fillRect(QRectF(0, top, width, height), t.color("selected", 110 if opened else 255))
            painter.fillRect(QRectF(0, top, width, ROW), t.color("selected"))
        elif index == self.ledger.pointer.hover_row:
            painter.fillRect(QRectF(0, top, width, ROW), t.color("paper"))
        for level, band in enumerate(row.bands):
            color = t.strata[band % len(t.strata)]
            painter.fillRect(QRectF(6 + level * INDENT, top, 5, height), QColor(color))
        if chosen and shape is self.ledger.session.current and self.ledger.hasFocus() and self.ledger.focus_key is None:
            painter.setPen(QPen(t.color("carnelian"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, top + 0.5, width - 1, ROW - 1))
        node = self.ledger.session.display.find(shape)
        faint = node is not None and not node.visible
        painter.setOpacity(0.45 if faint else 1.0)
        x = 43 + row.depth * INDENT
        mapped = self.ledger.session.hit_map and node is not None and node.slot >= 0
        frame = _frame if mapped else _usual_frame
        base = tint_of(node.slot) if mapped and node is not None else ground()
        painter.drawPixmap(int(x) - 2, int(top) + 3, frame(base.rgba(), t.name, painter.device().devicePixelRatioF()))
        if node is not None:
            picture = self.ledger.thumbs.of(node)
            if picture is not None:
                painter.drawPixmap(int(x), int(top + 5), picture)
        self._paint_dot(painter, shape, x + SIDE + 0.5, top + 5.5)
        whole = any(x0 <= 0 and y0 <= top and width <= x1 and top + height <= y1 for x0, y0, x1, y1 in asked)
        pointed, lit = self.ledger.pointer.hot, self.ledger.session.lit
        hot_key = pointed[1] if pointed is not None and pointed[0] is shape else None
        lit_name = lit[1] if lit is not None and lit[0] is shape else None
        focus_key = self.ledger.focus_key if opened else None
        for cell in self.ledger.row_cells(index):
            if not whole:
                x0, y0, x1, y1 = cell.x - 5, top + cell.y, cell.x + cell.w + 5, top + cell.y + cell.h
                if not any(x0 < right and left < x1 and y0 < low and high < y1 for left, high, right, low in asked):
                    continue
            hot = hot_key is not None and hot_key == cell.key
            if cell.role in VALUES or cell.role in WORDS:
                hot = hot or (lit_name is not None and lit_name == cell.name and cell.role in ("number", "text"))
                focused = focus_key is not None and focus_key == cell.key and cell.y > 0
                draw_cell(painter, cell, top, hot, focused and self.ledger.editor is None)
            else:
                self._paint_mark(painter, cell, shape, top, opened, hot)
        painter.setOpacity(1.0)

    def _paint_dot(self, painter: QPainter, shape: Shape, x: float, y: float) -> None:
        """Marks what differs from what was saved; a ring, the group around it."""
        document = self.ledger.session.document
        if document.path is None:
            return  # it was never saved
        own, around = document.followed.changed()
        if shape in own or shape in around:
            full, edge = ("carnelian", "panel") if shape in own else ("panel", "carnelian")
            painter.setPen(QPen(theme().color(edge), 1.3))
            painter.setBrush(theme().color(full))
            painter.drawEllipse(QRectF(x - 3.5, y - 3.5, 7, 7))

    def _paint_mark(self, painter: QPainter, cell: Cell, shape: Shape, top: float, opened: bool, hot: bool) -> None:
        t = theme()
        if cell.role == "fold":
            name = "folded" if shape in self.ledger.folded else "unfolded"
            draw_mark(painter, cell.x, top + 5, name, hot)
        elif cell.role == "id":
            write(painter, cell.x + 3, top, ROW, cell.text, t.color("ink"), bold=True, room=cell.w)
        elif cell.role == "kind":
            write(painter, cell.x, top, ROW, cell.text, t.color("muted"), 13, italic=True)
        elif cell.role == "eye":
            painter.setOpacity(1.0)
            draw_mark(painter, cell.x, top + 5, "eye" if shape.visible else "closed eye", hot or opened)
        elif cell.role == "lock":
            painter.setOpacity(1.0)
            draw_mark(painter, cell.x, top + 5, "lock" if shape.locked else "open lock", hot)
        elif cell.role == "lost":
            painter.setOpacity(1.0)
            draw_mark(painter, cell.x, top + 5, "lost", hot)
        elif cell.role == "pointer":
            draw_mark(painter, cell.x, top + 5, "no pointer", hot)
        elif cell.role in ("stage", "between"):
            if (node := self.ledger.session.display.find(shape)) is not None:
                (draw_stage if cell.role == "stage" else draw_between)(painter, node, cell, top, hot)
        elif cell.role == "paint" and cell.y == 0:
            draw_chip(painter, cell.x + 2, top + 6, cell.value, cell.name == "stroke", hot, palette_of(cell.owner))
        else:
            focused = opened and self.ledger.focus_key == cell.key and cell.y > 0
            draw_cell(painter, cell, top, hot, focused and self.ledger.editor is None)


def _frame(ground: int, _theme: str, ratio: float) -> QPixmap:
    """What the small picture of a shape lies on, with 1 px around it."""
    side = round((SIDE + 4) * ratio)
    out = QPixmap(side, side)
    out.setDevicePixelRatio(ratio)
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(theme().color("line"), 1))
    painter.setBrush(QColor.fromRgba(ground))
    painter.drawRoundedRect(QRectF(1, 1, SIDE + 2, SIDE + 2), 3, 3)
    painter.end()
    return out


_usual_frame = lru_cache(maxsize=8)(_frame)
