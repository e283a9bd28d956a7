"""The box around several shapes, or a group, with its handles: size, turn, mirror, and whether strokes grow along."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetricsF, QPainter, QPen

from chalcedon.craft.together import LEAST, Made, Together
from chalcedon.desk.canvas import overlay
from chalcedon.desk.canvas.spots import AWAY, MARGIN, around
from chalcedon.desk.looks.theme import font, theme
from chalcedon.geometry import Affine, Box
from chalcedon.scene.axes import is_up
from chalcedon.scene.grips import Point
from chalcedon.view import Pointer
from chalcedon.view.place import View

PLACES = ((0.0, 0.0), (0.5, 0.0), (1.0, 0.0), (1.0, 0.5), (1.0, 1.0), (0.5, 1.0), (0.0, 1.0), (0.0, 0.5))
"""The handles of the size, as fractions of the box, clockwise."""
ROOM = 26.0
"""Widget px that the box needs across for handles in the middle of its sides."""
Spot = tuple[str, int]
"""A kind of handle and which of them: size, turn, mirror or strokes."""


def spots(box: Box, view: View, area: Box, turns: bool) -> list[tuple[Spot, Point]]:
    """Where the handles are, in widget px, as `area` is. `turns`: with one that turns."""
    x0, y0 = view.to_widget(box[0], box[1])
    x1, y1 = view.to_widget(box[2], box[3])
    x0, y0, x1, y1 = x0 - MARGIN, y0 - MARGIN, x1 + MARGIN, y1 + MARGIN
    out: list[tuple[Spot, Point]] = []
    for i, (fx, fy) in enumerate(PLACES):
        across, down = fy == 0.5, fx == 0.5
        if (down and (x1 - x0 < ROOM or box[3] == box[1])) or (across and (y1 - y0 < ROOM or box[2] == box[0])):
            continue
        out.append((("size", i), (x0 + (x1 - x0) * fx, y0 + (y1 - y0) * fy)))
    middle, above, below = around(box, view, area)
    if turns:
        out.append((("turn", 0), (middle, above)))
    for i in (0, 1):
        out.append((("mirror", i), (middle + (i + 1) * (AWAY + 6), above)))
    out.append((("strokes", 0), (middle, below)))
    return out


def place_of(box: Box, index: int) -> Point:
    """Where a handle of the size belongs on a box, in scene px."""
    fx, fy = PLACES[index]
    return box[0] + (box[2] - box[0]) * fx, box[1] + (box[3] - box[1]) * fy


class Asked(NamedTuple):
    """What a drag of a handle comes to: a map of scene px, the values that it gives the shapes, and a word for it."""

    way: Affine
    made: Callable[[], Made]
    word: str


def sized(
    both: Together, index: int, start: Pointer, p: Pointer, numbers: Sequence[float], strokes: bool, digits: int
) -> Asked:
    """What dragging a handle of the size by the pointer's way, or to a width and height that are typed, comes to.
    Shift keeps the proportion, Ctrl the middle."""
    left, top, right, bottom = both.box
    fx, fy = PLACES[index]
    size = right - left, bottom - top
    fixed = (
        (left + (right - left) * (0.5 if p.ctrl else 1.0 - fx)),
        (top + (bottom - top) * (0.5 if p.ctrl else 1.0 - fy)),
    )
    reach = left + size[0] * fx - fixed[0], top + size[1] * fy - fixed[1]
    at = reach[0] + round(p.sx - start.sx, digits), reach[1] + round(p.sy - start.sy, digits)
    factors = [at[i] / reach[i] if reach[i] and (fx, fy)[i] != 0.5 else 1.0 for i in (0, 1)]
    if numbers:
        typed = list(numbers) if len(numbers) > 1 else [numbers[0], numbers[0] * size[1] / size[0] if size[0] else 1.0]
        if fx == 0.5 and len(numbers) == 1:
            typed = [size[0], numbers[0]]
        elif fy == 0.5 and len(numbers) == 1:
            typed = [numbers[0], size[1]]
        factors = [typed[i] / size[i] if size[i] else 1.0 for i in (0, 1)]
    elif p.shift:
        moving = [abs(f) for f, part in zip(factors, (fx, fy), strict=True) if part != 0.5]
        factors = [max(moving)] * 2
    sx, sy = (max(abs(f), LEAST) for f in factors)
    way = Affine.scale(sx, sy).about(*fixed)
    return Asked(way, lambda: both.sized(fixed, sx, sy, strokes), f"{size[0] * sx:.6g} × {size[1] * sy:.6g}")


def turned(both: Together, start: Pointer, p: Pointer, numbers: Sequence[float]) -> Asked:
    """What turning by the pointer, or by a number of degrees that is typed, comes to; Shift turns in steps of 15."""
    cx, cy = both.middle
    angle = math.degrees(math.atan2(p.sy - cy, p.sx - cx) - math.atan2(start.sy - cy, start.sx - cx))
    side = -1 if is_up(both.display.scene) else 1
    angle = side * ((angle + 180.0) % 360.0 - 180.0)
    angle = numbers[0] if numbers else round(angle / 15) * 15 if p.shift else round(angle, 1)
    way = Affine.rotate(side * angle).about(cx, cy)
    return Asked(way, lambda: both.turned((cx, cy), side * angle), f"rotate {angle:g}°")


def draw(
    painter: QPainter, box: Box, view: View, placed: list[tuple[Spot, Point]], hot: Spot | None, strokes: bool
) -> None:
    """A box that isn't empty and its handles, which are `placed` as spots() gives them."""
    t = theme()
    x0, y0 = view.to_widget(box[0], box[1])
    x1, y1 = view.to_widget(box[2], box[3])
    pen = QPen(t.color("carnelian"), 1)
    pen.setDashPattern([2, 3])
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(QRectF(x0, y0, x1 - x0, y1 - y0).adjusted(-MARGIN, -MARGIN, MARGIN, MARGIN))
    for (kind, i), (x, y) in placed:
        on = hot == (kind, i)
        if kind == "size":
            overlay.draw_handle(painter, x, y, "edge" if 0.5 in PLACES[i] else "size", on)
        elif kind == "turn":
            painter.setPen(QPen(t.color("carnelian", 150), 1))
            painter.drawLine(QPointF(x, y0 - MARGIN), QPointF(x, y))
            overlay.draw_turn(painter, x, y, on)
        elif kind == "mirror":
            _draw_mirror(painter, x, y, i, on)
        else:
            _draw_switch(painter, x, y, strokes, on)


def _draw_mirror(painter: QPainter, x: float, y: float, axis: int, hot: bool) -> None:
    """Two halves beside a line: a full one and its reflection."""
    t = theme()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(t.color("panel"))
    painter.drawEllipse(QPointF(x, y), 10, 10)
    painter.setPen(QPen(t.color("carnelian"), 1.4 if hot else 1.1))
    for side in (-1, 1):
        painter.setBrush(t.color("carnelian") if side < 0 or hot else Qt.BrushStyle.NoBrush)
        ends = [(2.0, -4.0), (6.5, 4.0), (2.0, 4.0)]
        corners = [(side * a, b) if axis == 0 else (b, side * a) for a, b in ends]
        painter.drawPolygon([QPointF(x + a, y + b) for a, b in corners])
    a, b = ((0.0, 7.0), (0.0, -7.0)) if axis == 0 else ((7.0, 0.0), (-7.0, 0.0))
    painter.drawLine(QPointF(x + a[0], y + a[1]), QPointF(x + b[0], y + b[1]))


def _draw_switch(painter: QPainter, x: float, y: float, strokes: bool, hot: bool) -> None:
    """The switch of the strokes, in words."""
    t = theme()
    text = switch_words(strokes)
    painter.setFont(font(13))
    width = QFontMetricsF(font(13)).horizontalAdvance(text)
    box = QRectF(x - width / 2 - 8, y - 10, width + 16, 20)
    painter.setPen(QPen(t.color("carnelian" if hot else "line"), 1))
    painter.setBrush(t.color("panel"))
    painter.drawRoundedRect(box, 10, 10)
    painter.setPen(t.color("ink" if hot else "muted"))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def switch_words(strokes: bool) -> str:
    return "strokes grow along" if strokes else "strokes keep their width"


def is_on(spot: Spot, x: float, y: float, p: Pointer, strokes: bool, reach: float) -> bool:
    """Whether the pointer is on a handle."""
    if spot[0] == "strokes":
        half = QFontMetricsF(font(13)).horizontalAdvance(switch_words(strokes)) / 2 + 8
        return abs(p.x - x) <= half and abs(p.y - y) <= 10
    return math.hypot(p.x - x, p.y - y) <= (10.0 if spot[0] == "mirror" else reach)
