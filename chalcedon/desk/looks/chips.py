"""Paints shown small."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPixmap

from chalcedon.craft.several import MIXED, Several
from chalcedon.desk.looks.lettering import Tally
from chalcedon.desk.looks.theme import theme
from chalcedon.geometry import IDENTITY
from chalcedon.painter.convert import look_brush
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Declared
from chalcedon.scene.paints import PAINT, Gradient, Pattern, Picture, look, resolve

SIDE = 16


def draw_chip(
    painter: QPainter,
    x: float,
    y: float,
    paint: Any,
    ring: bool,
    hot: bool = False,
    palette: Mapping[str, str] = MappingProxyType({}),
) -> None:
    """A stored paint, 16 px wide: full for a fill, a ring for a stroke, a slashed frame for none. Of formulas it shows
    what they came to last."""
    t = theme()
    value = PAINT.plain(paint)
    box = QRectF(x, y, SIDE, SIDE)
    if hot:
        painter.setPen(QPen(t.color("carnelian"), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box.adjusted(-2, -2, 2, 2), 5, 5)
    if value is MIXED:
        painter.setPen(QPen(t.color("muted"), 1.2, Qt.PenStyle.DotLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 3, 3)
        return
    if value is None:
        painter.setPen(QPen(t.color("muted", 140), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box.adjusted(1.5, 1.5, -1.5, -1.5), 3, 3)
        up = QPointF(0, 3.5)
        painter.drawLine(box.bottomLeft() + QPointF(3.5, 0) - up, box.topRight() - QPointF(3.5, 0) + up)
        return
    if isinstance(value, str) and (color := resolve(value, palette)) is not None:
        look = color, ring, t.name, painter.device().devicePixelRatioF()
        if look[-1].is_integer() and _drawn.often(look):  # else a picture would be stretched to half px
            painter.drawPixmap(QPointF(round(x) - MARGIN, round(y) - MARGIN), _ready_chip(*look))
        else:
            _draw_paint(painter, QRectF(round(x), round(y), SIDE, SIDE), QColor(*color), ring)
    else:
        _draw_paint(painter, box, chip_brush(value, palette, x, y), ring)


MARGIN = 1
"""Px that a ready chip has around it."""


KEPT = 500
"""Chips that are remembered."""
_drawn = Tally(KEPT)  # a ready picture takes longer to make than a chip to draw


@lru_cache(maxsize=KEPT)
def _ready_chip(color: tuple[int, int, int, int], ring: bool, _theme: str, ratio: float) -> QPixmap:
    """The ready chip of a colour."""
    side = round((SIDE + 2 * MARGIN) * ratio)
    out = QPixmap(side, side)
    out.setDevicePixelRatio(ratio)
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _draw_paint(painter, QRectF(MARGIN, MARGIN, SIDE, SIDE), QColor(*color), ring)
    painter.end()
    return out


def _draw_paint(painter: QPainter, box: QRectF, brush: QBrush | QColor, ring: bool) -> None:
    t = theme()
    if ring:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(t.color("muted", 120), 5))
        painter.drawRoundedRect(box.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2)
        painter.setPen(QPen(brush, 3.4))
        painter.drawRoundedRect(box.adjusted(2.5, 2.5, -2.5, -2.5), 2, 2)
        return
    painter.setPen(QPen(t.color("muted", 110), 1))
    painter.setBrush(brush)
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3.5, 3.5)


def palette_of(owner: Declared | Several | None) -> dict[str, str]:
    """The palette that the paints of a shape, or of a scene, refer to."""
    scene = owner if isinstance(owner, Scene) else owner.scene if isinstance(owner, Shape | Several) else None
    return dict(scene.palette) if scene is not None else {}


def chip_brush(paint: Any, palette: Mapping[str, str], x: float, y: float) -> QBrush:
    """The brush of a plain paint on a chip; gradients are shown over its box, images as a hatch."""
    if isinstance(paint, Pattern | Picture):
        return QBrush(QColor(theme().muted), Qt.BrushStyle.Dense5Pattern)
    if isinstance(paint, Gradient):
        paint = paint._replace(units="box")
        if paint.kind == "linear" and max(map(abs, paint.line)) > 2:
            paint = paint._replace(line=(0.0, 0.0, 1.0, 0.0))
    found = look(paint, palette)
    return look_brush(found, (x, y, x + SIDE, y + SIDE), IDENTITY)
