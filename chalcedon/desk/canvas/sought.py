"""The shape that is looked for: it shows through what covers it, and an arrow at the edge leads to it."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from chalcedon.desk.canvas import overlay
from chalcedon.desk.looks.theme import theme
from chalcedon.geometry import Box
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

BLUE = "#2F6F94"
REACH = 26.0
"""Widget px around the arrow within which a click follows it."""
LEAST = 16.0
"""Widget px across below which a ring stands around the shape."""


def _bounds(canvas: Canvas) -> Box | None:
    """The box of the shape that is looked for, in widget px."""
    shape = canvas.session.sought
    node = canvas.session.display.find(shape) if shape is not None else None
    if node is None:
        return None
    left, top, right, bottom = node.bounds()
    if left > right:
        x, y = node.world.map(0.0, 0.0)
        left, top, right, bottom = x, y, x, y
    return (*canvas.view.to_widget(left, top), *canvas.view.to_widget(right, bottom))


def arrow(canvas: Canvas) -> tuple[float, float, float] | None:
    """Where the arrow stands, in widget px, and its direction in radians; None while the shape is in view."""
    box = _bounds(canvas)
    if box is None:
        return None
    x0, y0, x1, y1 = canvas.area()
    if box[0] < x1 and box[2] > x0 and box[1] < y1 and box[3] > y0:
        return None
    x, y = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    at = min(max(x, x0 + 24), x1 - 24), min(max(y, y0 + 24), y1 - 24)
    return *at, math.atan2(y - at[1], x - at[0])


def follow(canvas: Canvas, p: Pointer) -> bool:
    """Shows the shape when the arrow is clicked; False beside it."""
    found = arrow(canvas)
    if found is None or math.hypot(p.x - found[0], p.y - found[1]) > REACH:
        return False
    canvas.fit_sought()
    return True


def draw(painter: QPainter, canvas: Canvas) -> None:
    shape, box = canvas.session.sought, _bounds(canvas)
    if shape is None or box is None:
        return
    node = canvas.session.node(shape)
    path = overlay.outline_of(node, canvas.view)
    tint = QColor(BLUE)
    tint.setAlpha(110)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(tint)
    painter.drawPath(path)
    overlay.hairline(painter, path, QColor(BLUE), not node.visible)
    bounds = QRectF(*canvas.area()).adjusted(0, 0, -overlay.RULER, -overlay.RULER)
    found = arrow(canvas)
    if found is None:
        if max(box[2] - box[0], box[3] - box[1]) < LEAST:
            middle = QPointF((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
            for pen in (QPen(QColor(255, 255, 255, 220), 4), QPen(QColor(BLUE), 2)):
                painter.setPen(pen)
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(middle, 14, 14)
        return
    x, y, angle = found
    c, s = math.cos(angle), math.sin(angle)
    corners = [(16, 0), (-4, 11), (-4, 4), (-16, 4), (-16, -4), (-4, -4), (-4, -11)]
    painter.setPen(QPen(theme().color("panel"), 1.5))
    painter.setBrush(QColor(BLUE))
    painter.drawPolygon(QPolygonF([QPointF(x + a * c - b * s, y + a * s + b * c) for a, b in corners]))
    overlay.draw_tag(painter, x - 20, y + 20, shape.id, bounds, BLUE)
