"""What the formula in focus reads: arrows from the shapes that it reads to its own."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.looks.theme import theme
from chalcedon.evaluate.kept import formulas_at
from chalcedon.evaluate.node import Node

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

MOST = 40
"""Arrows that are drawn at once."""
MOST_WORDS = 3
"""What is named beside an arrow."""


def sources_of(canvas: Canvas) -> list[tuple[str, Node]]:
    """The shapes that the formula in focus reads, with what it reads of them."""
    focus = canvas.session.formula_focus
    if focus is None or canvas.session.display.find(focus[0]) is None:
        return []
    cell = formulas_at(focus[0], focus[1])
    if cell is None:
        return []
    found: dict[int, tuple[Node, dict[str, None]]] = {}
    for part in cell.parts:
        for path in part.program.reads if part.program is not None else ():
            shape = canvas.session.scene.get(path[0])
            node = canvas.session.display.find(shape) if shape is not None else None
            if node is not None and node is not cell.node:
                found.setdefault(id(node), (node, {}))[1][".".join(path)] = None
    return [(_listed(list(words)), node) for node, words in found.values()][:MOST]


def _listed(words: list[str]) -> str:
    more = len(words) - MOST_WORDS
    return ", ".join(words[:MOST_WORDS]) + (f" and {more} more" if more > 0 else "")


def draw(painter: QPainter, canvas: Canvas, bounds: QRectF) -> None:
    """Draws the arrows."""
    found = sources_of(canvas)
    focus = canvas.session.formula_focus
    if not found or focus is None:
        return
    end = _middle(canvas, canvas.session.node(focus[0]))
    color = theme().color("chrysoprase")
    for words, node in found:
        start = _middle(canvas, node)
        painter.setPen(QPen(color, 1.6, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        overlay.hairline(painter, overlay.outline_of(node, canvas.view), color)
        painter.setPen(QPen(color, 1.6, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(*start), QPointF(*end))
        overlay.arrow_head(painter, start, end, color)
        overlay.draw_tag(painter, start[0] + 8, start[1] - 30, words, bounds, theme().chrysoprase)


def _middle(canvas: Canvas, node: Node) -> tuple[float, float]:
    box = node.bounds()
    if box[0] > box[2]:
        return canvas.view.to_widget(*node.world.map(0.0, 0.0))
    return canvas.view.to_widget((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
