"""The row of small pictures that shows a shape after each of its steps."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from chalcedon.craft.stepping import after_each, commute
from chalcedon.desk.ledger.cells import Cell
from chalcedon.desk.looks.theme import font, theme
from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.painter.convert import outline_in
from chalcedon.painter.outlines import transform


def draw_stage(painter: QPainter, node: Node, cell: Cell, top: float, hot: bool) -> None:
    """The shape after some steps, over where it was before the last of them, all stages to one scale."""
    t = theme()
    box = QRectF(cell.x, top + cell.y, cell.w, cell.h)
    painter.setPen(QPen(t.color("carnelian" if hot else "line"), 1.4 if hot else 1))
    painter.setBrush(t.color("panel"))
    painter.drawRoundedRect(box, 4, 4)
    maps = after_each(node)
    i = cell.path[0]
    if i >= len(maps):
        return
    outlines = [outline_in(node, m, letters=True) for m in maps]
    frame = QRectF()
    for outline in outlines:
        frame |= outline.boundingRect()
    size = max(frame.width(), frame.height(), 1e-6)
    scale = (min(box.width(), box.height()) - 8) / size
    middle, centre = frame.center(), box.center()
    down = -scale if node.kind.axes_up else scale
    view = Affine(scale, 0.0, 0.0, down, centre.x() - middle.x() * scale, centre.y() - middle.y() * down)
    painter.save()
    painter.setClipRect(box)
    if i:
        painter.setPen(QPen(t.color("muted", 150), 1, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(transform(view).map(outlines[i - 1]))
    painter.setPen(QPen(t.color("ink"), 1.1))
    painter.setBrush(t.color("chalcedony", 120))
    painter.drawPath(transform(view).map(outlines[i]))
    painter.restore()


def draw_between(painter: QPainter, node: Node, cell: Cell, top: float, hot: bool) -> None:
    """Whether two steps could change places: = when nothing would change, a carnelian mark when it would."""
    t = theme()
    box = QRectF(cell.x, top + cell.y, cell.w, cell.h)
    i = cell.path[0]
    if i + 1 >= len(node.shape.steps):
        return
    same = commute(node, i)
    painter.setFont(font(15, bold=hot))
    painter.setPen(t.color("chrysoprase" if same else "carnelian"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "=" if same else "≠")
