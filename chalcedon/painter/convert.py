"""Outlines, paints and pens as Qt objects, made once a value or a version."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush, QColor, QPainterPath, QPen, QTransform

from chalcedon.evaluate import Node
from chalcedon.geometry import Affine, Path
from chalcedon.geometry.stroke import Pen
from chalcedon.scene.color import RGBA

NO_PEN = QPen(Qt.PenStyle.NoPen)
NO_BRUSH = QBrush(Qt.BrushStyle.NoBrush)

CAPS = {"butt": Qt.PenCapStyle.FlatCap, "round": Qt.PenCapStyle.RoundCap, "square": Qt.PenCapStyle.SquareCap}
# SvgMiterJoin is the join with SVG's limit rule; MiterJoin cuts the tip off instead of bevelling
JOINS = {"miter": Qt.PenJoinStyle.SvgMiterJoin, "round": Qt.PenJoinStyle.RoundJoin, "bevel": Qt.PenJoinStyle.BevelJoin}


class _Builder:
    """A geometry pen that draws into a QPainterPath."""

    def __init__(self, path: QPainterPath) -> None:
        self.move = path.moveTo
        self.line = path.lineTo
        self.quadratic = path.quadTo
        self.cubic = path.cubicTo
        self.close = path.closeSubpath


def painter_path(path: Path) -> QPainterPath:
    """The same outline as a QPainterPath, filled by the nonzero rule."""
    out = QPainterPath()
    out.setFillRule(Qt.FillRule.WindingFill)
    path.draw(_Builder(out))
    return out


def transform(m: Affine) -> QTransform:
    return QTransform(m.a, m.b, m.c, m.d, m.e, m.f)


@lru_cache(maxsize=4096)
def brush(color: RGBA) -> QBrush:
    return QBrush(QColor(*color))


@lru_cache(maxsize=4096)
def pen(color: RGBA, style: Pen) -> QPen:
    """A QPen with the meaning of the core's pen. Qt measures dashes in pen widths, SVG in px."""
    out = QPen(QColor(*color), style.width)
    out.setCapStyle(CAPS[style.cap])
    out.setJoinStyle(JOINS[style.join])
    out.setMiterLimit(style.miter_limit)
    if style.dash and sum(style.dash) > 0.0 and style.width > 0.0:
        pattern = style.dash if len(style.dash) % 2 == 0 else style.dash * 2
        # Qt drops a dash of exactly zero; SVG shows its caps
        out.setDashPattern([max(v / style.width, 1e-4) for v in pattern])
        out.setDashOffset(style.dash_offset / style.width)
    return out


class Prepared:
    """What painting one node needs, valid for one version of its outline and paint."""

    __slots__ = ("brush", "faint", "outline_version", "paint_version", "path", "pen")

    def __init__(self, node: Node) -> None:
        self.outline_version = node.outline_version
        self.paint_version = node.paint_version
        self.path = painter_path(node.outline)
        self.brush = NO_BRUSH if node.fill is None else brush(node.fill)
        stroked = node.stroke is not None and node.pen is not None and node.pen.width > 0.0
        self.pen = pen(node.stroke, node.pen) if stroked else NO_PEN
        # with both paints, opacity must apply to the two together
        self.faint = 0 if node.opacity >= 1.0 else 2 if stroked and node.fill is not None else 1


def prepared(node: Node) -> Prepared:
    ready = node.scratch
    if ready is None or ready.outline_version != node.outline_version or ready.paint_version != node.paint_version:
        ready = node.scratch = Prepared(node)
    return ready
