"""How rows and cells look."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from chalcedon.desk.ledger.cells import PAD, ROW, Cell
from chalcedon.desk.looks.chips import draw_chip, palette_of
from chalcedon.desk.looks.glyphs import glyph
from chalcedon.desk.looks.lettering import write
from chalcedon.desk.looks.theme import font, theme
from chalcedon.formula import Formula
from chalcedon.scene.paints import resolve


def draw_cell(painter: QPainter, cell: Cell, y: float, hot: bool, focused: bool) -> None:
    """One cell of a row whose top is at `y`."""
    t = theme()
    box = QRectF(cell.x, y + cell.y, cell.w, cell.h)
    formula = isinstance(cell.value, Formula)
    if cell.role in ("number", "text", "choice", "flag", "step-op"):
        _draw_value(painter, cell, box, hot, formula)
    elif cell.role == "paint":
        draw_chip(
            painter,
            box.center().x() - 8,
            box.center().y() - 8,
            cell.value,
            cell.name == "stroke",
            hot,
            palette_of(cell.owner),
        )
    elif cell.role == "palette":
        color = resolve(cell.value, {}) or (0, 0, 0, 0)
        painter.setPen(QPen(t.color("ink" if hot else "line"), 1))
        painter.setBrush(QColor(*color))
        painter.drawEllipse(box.center(), 5, 5)
    elif cell.role == "section":
        write(painter, box.x(), box.y(), cell.h, cell.text, t.color("ink"), bold=True)
    elif cell.role == "sentence":
        painter.setFont(font(13, italic=True))
        painter.setPen(t.color("muted"))
        painter.drawText(box.adjusted(0, 4, 0, 0), Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap, cell.text)
    elif cell.role in ("add", "more", "repair"):
        write(painter, box.x(), box.y(), cell.h, cell.text, t.color("chrysoprase"))
        if hot:
            painter.drawLine(box.bottomLeft() + _up(7), box.bottomRight() + _up(7))
    elif cell.role == "switch":
        _draw_switch(painter, box, cell)
    elif cell.role in ("remove", "up"):
        painter.setFont(font())
        painter.setPen(t.color("carnelian") if hot else t.color("muted"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, cell.text)
    elif cell.role == "remark":
        write(painter, box.x(), box.y(), cell.h, cell.text, t.color("carnelian"), 13, italic=True)
    elif cell.role == "word":
        write(painter, box.x(), box.y(), cell.h, cell.text, t.color("muted"))
    if focused:
        painter.setPen(QPen(t.color("carnelian"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box.adjusted(-1, 4, 0, -4), 3, 3)


def _draw_switch(painter: QPainter, box: QRectF, cell: Cell) -> None:
    """The number of a step in a disc, filled while the step is on."""
    t = theme()
    on = cell.value.on
    painter.setPen(QPen(t.color("chrysoprase" if on else "muted"), 1.2))
    painter.setBrush(t.color("chrysoprase") if on else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(box.center(), 8, 8)
    painter.setFont(font(12, bold=True))
    painter.setPen(t.color("panel" if on else "muted"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, cell.text)


def _up(by: float) -> QPointF:
    return QPointF(0, -by)


def _draw_value(painter: QPainter, cell: Cell, box: QRectF, hot: bool, formula: bool) -> None:
    t = theme()
    inner = box.adjusted(0, 4, 0, -4)
    if formula:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("live"))
        painter.drawRoundedRect(inner.adjusted(-2, 0, 2, 0), 3, 3)
    elif hot:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(t.color("sunken"))
        painter.drawRoundedRect(inner.adjusted(-2, 0, 2, 0), 3, 3)
    color = t.color("chrysoprase" if formula else "ink")
    write(painter, box.x() + PAD, box.y(), cell.h, cell.text, color, room=cell.w - PAD + 1)
    base = int(box.top() + ROW - 7)
    painter.fillRect(
        int(box.left() + PAD), base, int(box.width() - 2 * PAD), 1, t.color("chrysoprase" if formula else "line")
    )


def draw_mark(painter: QPainter, x: float, y: float, name: str, strong: bool) -> None:
    t = theme()
    color = t.ink if strong else t.muted
    if name in ("lock", "closed eye", "no pointer"):
        color = t.carnelian
    painter.drawPixmap(int(x), int(y), glyph(name, color, 18, painter.device().devicePixelRatioF()))
