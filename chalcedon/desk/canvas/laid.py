"""Two shapes laid over each other by their reference points, so that one sees where they are the same."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.sought import BLUE
from chalcedon.desk.looks.theme import theme
from chalcedon.evaluate import Node
from chalcedon.geometry import Affine
from chalcedon.painter.convert import outline_in

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas


def reference(node: Node) -> tuple[float, float]:
    """Where the `at` of a shape is, in scene px."""
    around = node.parent.world if node.parent is not None else Affine()
    x, y = node.value("at")
    return around.map(x, y)


def draw(painter: QPainter, canvas: Canvas) -> None:
    """The second of the two over the first, and what belongs to one of them alone tinted."""
    pair = canvas.session.laid
    if pair is None:
        return
    one, other = (canvas.session.display.find(s) for s in pair)
    if one is None or other is None:
        return
    (ax, ay), (bx, by) = reference(one), reference(other)
    first = overlay.outline_of(one, canvas.view)
    moved = canvas.view.matrix.after(Affine.translate(ax - bx, ay - by)).after(other.world)
    second = outline_in(other, moved)
    alone = QPainterPath(first.subtracted(second)).united(second.subtracted(first))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(47, 111, 148, 90))
    painter.drawPath(alone)
    overlay.hairline(painter, first, theme().color("carnelian"))
    overlay.hairline(painter, second, QColor(BLUE), dashed=True)
    x, y = canvas.view.to_widget(ax, ay)
    painter.setPen(QPen(theme().color("ink"), 1.4))
    for dx, dy in ((7, 0), (0, 7)):
        painter.drawLine(QPointF(x - dx, y - dy), QPointF(x + dx, y + dy))
