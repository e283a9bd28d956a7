"""Outlines, paints and pens as Qt objects, made once a value or a version."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import (
    QBrush,
    QColor,
    QGradient,
    QLinearGradient,
    QPainterPath,
    QPen,
    QRadialGradient,
    QTransform,
)

from chalcedon.evaluate import Node
from chalcedon.evaluate.strokes import PLAIN
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.stroke import Pen
from chalcedon.painter.outlines import painter_path, transform
from chalcedon.painter.strokes import AreaPaths, needs_area
from chalcedon.scene.color import RGBA
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture

NO_PEN = QPen(Qt.PenStyle.NoPen)
NO_BRUSH = QBrush(Qt.BrushStyle.NoBrush)

CAPS = {"butt": Qt.PenCapStyle.FlatCap, "round": Qt.PenCapStyle.RoundCap, "square": Qt.PenCapStyle.SquareCap}
# SvgMiterJoin is the join with SVG's limit rule; MiterJoin cuts the tip off instead of bevelling
JOINS = {"miter": Qt.PenJoinStyle.SvgMiterJoin, "round": Qt.PenJoinStyle.RoundJoin, "bevel": Qt.PenJoinStyle.BevelJoin}


def outline_in(node: Node, m: Affine, most: int = 200, letters: bool = False) -> QPainterPath:
    """The outline of a shape, or of up to `most` shapes in a group, with its own space mapped by `m`.

    A text's is the box of its lines, unless `letters` is on: they are read better without a line round each.
    """
    out = QPainterPath()
    back = node.inverse if node.group else None
    if node.group and back is None:
        return out
    for leaf in node.walk_leaves()[:most]:
        path = prepared(leaf).path
        if leaf.kind.text and not letters and leaf.box[0] <= leaf.box[2]:
            path = QPainterPath()
            path.addRect(leaf.box[0], leaf.box[1], leaf.box[2] - leaf.box[0], leaf.box[3] - leaf.box[1])
        way = m if back is None else m.after(back.after(leaf.world))
        out.addPath(transform(way).map(path))
    return out


@lru_cache(maxsize=4096)
def brush(color: RGBA) -> QBrush:
    return QBrush(QColor(*color))


def look_brush(look: Look | None, box: Box, world: Affine) -> QBrush:
    """The brush for a resolved paint on a shape with a box in local px. A picture's is plain; it is drawn apart."""
    if look is None:
        return NO_BRUSH
    if isinstance(look, Pattern | Picture):
        return brush((0, 0, 0, 255))
    return gradient_brush(look, box, world) if isinstance(look, GradientLook) else brush(look)


HAIR = 1e-6
"""Of a gradient's length: less than can be seen."""
SPREADS = {
    "pad": QGradient.Spread.PadSpread,
    "reflect": QGradient.Spread.ReflectSpread,
    "repeat": QGradient.Spread.RepeatSpread,
}


def gradient_brush(look: GradientLook, box: Box, world: Affine) -> QBrush:
    """A gradient as SVG 2, section 14.2, paints it. In box units on a box without width or height there is none."""
    width, height = box[2] - box[0], box[3] - box[1]
    if look.units == "box":
        if width <= 0 or height <= 0:
            return NO_BRUSH
        place = QTransform(width, 0.0, 0.0, height, box[0], box[1])
    else:
        back = world.inverse()
        if back is None:
            return NO_BRUSH
        place = transform(back)
    line = look.line
    nothing = line[2] == 0 if look.kind == "radial" else line[:2] == line[2:]
    if len(look.stops) == 1 or nothing:
        return brush(look.stops[-1][1])
    if look.kind == "linear":
        gradient: QGradient = QLinearGradient(*line)
    else:
        gradient = QRadialGradient(line[0], line[1], line[2], *(line[3:] or line[:2]))
    gradient.setSpread(SPREADS[look.spread])
    # SVG 2, section 14.2.4: colour and opacity are interpolated apart from one another
    gradient.setInterpolationMode(QGradient.InterpolationMode.ComponentInterpolation)
    before = -HAIR
    for i, (offset, color) in enumerate(look.stops):
        # Qt lets the later of two stops at one offset take the place of the earlier: they are set a hair apart
        twin = i + 1 < len(look.stops) and look.stops[i + 1][0] == offset
        before = min(1.0, max(before + HAIR, offset - HAIR if twin else offset))
        gradient.setColorAt(before, QColor(*color))
    out = QBrush(gradient)
    out.setTransform(place)
    return out


@lru_cache(maxsize=4096)
def _color_pen(color: RGBA, style: Pen) -> QPen:
    return make_pen(brush(color), style)


def make_pen(paint: QBrush, style: Pen) -> QPen:
    """A QPen with the meaning of the core's pen, but for dashes: painter/strokes.py makes those."""
    out = QPen(paint, style.width)
    out.setCapStyle(CAPS[style.cap])
    out.setJoinStyle(JOINS[style.join])
    out.setMiterLimit(style.miter_limit)
    return out


class Prepared:
    """What painting one node needs, valid for one version of its outline and paint.

    `plain` when one drawPath with brush and pen paints all of it. Once drawn, a path keeps 3 kB for the next time, more
    than all else that is known of a usual shape, and spares less than a thirtieth: `first`, the place of its first
    element, is there to be set again, which drops them.
    """

    __slots__ = (
        "area",
        "brush",
        "first",
        "linear",
        "outline_version",
        "paint_version",
        "path",
        "pen",
        "plain",
        "stamp",
    )

    def __init__(self, node: Node) -> None:
        self.outline_version = node.outline_version
        self.paint_version = node.paint_version
        self.path = painter_path(node.outline, node.even_odd)
        self.first = node.outline.coords[:2]
        self.linear: tuple[float, ...] | None = None  # how it was turned and sized when it moved last
        self.stamp: Any = None
        stroked = node.stroke is not None and node.pen is not None and node.pen.width > 0.0
        self.area = AreaPaths() if stroked and needs_area(node) else None
        """The stroke as an area, where the toolkit's own isn't right."""
        self.plain = not node.special and node.opacity >= 1.0 and node.manner == PLAIN and self.area is None
        self.plain = self.plain and not (_placed(node.fill) or _placed(node.stroke))
        self.brush = look_brush(node.fill, node.box, node.world)
        self.pen = NO_PEN
        if stroked:
            assert node.pen is not None
            if isinstance(node.stroke, tuple) and not isinstance(node.stroke, GradientLook | Pattern | Picture):
                self.pen = _color_pen(node.stroke, node.pen)
            else:
                self.pen = make_pen(look_brush(node.stroke, node.box, node.world), node.pen)


def _placed(look: Look | None) -> bool:
    """Whether a paint depends on where the shape stands, or takes more than a brush."""
    return isinstance(look, Pattern | Picture) or (isinstance(look, GradientLook) and look.units == "scene")


def prepared(node: Node) -> Prepared:
    """What the painter made for a node; made anew when the node looks different."""
    ready = node.scratch
    if ready is None or ready.outline_version != node.outline_version or ready.paint_version != node.paint_version:
        ready = node.scratch = Prepared(node)
    return ready
