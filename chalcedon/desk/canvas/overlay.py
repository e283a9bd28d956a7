"""What is drawn over the picture: selected outlines, handles, the anchor, measures, rulers."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from chalcedon.craft.checkup import Remark
from chalcedon.desk.canvas.measure import Measure
from chalcedon.desk.looks.theme import font, theme
from chalcedon.evaluate import Node
from chalcedon.painter.convert import outline_in
from chalcedon.painter.outlines import painter_path, transform
from chalcedon.scene.tidy import signed
from chalcedon.view.place import View

HANDLE = 4.0
RULER = 20


def hairline(painter: QPainter, path: QPainterPath, color: QColor, dashed: bool = False) -> None:
    """An outline in two tones, seen on any ground."""
    hairlines(painter, (path,), color, dashed)


def hairlines(painter: QPainter, paths: Sequence[QPainterPath], color: QColor, dashed: bool = False) -> None:
    """Outlines in two tones. One by one: the toolkit takes far longer for a long path than for its parts."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    under = QPen(QColor(255, 255, 255, 210), 2.6)
    over = QPen(color, 1.2)
    if dashed:
        over.setDashPattern([4, 3])
    for pen in (under, over):
        painter.setPen(pen)
        for path in paths:
            painter.drawPath(path)


def live_edge(painter: QPainter, size: QSize) -> None:
    """The edge of a picture that lives: around all but the rulers."""
    painter.setPen(QPen(theme().color("chrysoprase"), 3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(QRectF(RULER + 1.5, RULER + 1.5, size.width() - RULER - 3, size.height() - RULER - 3))


def outline_of(node: Node, view: View) -> QPainterPath:
    """The true outline of a shape, or of everything in a group, in widget px."""
    return outline_in(node, view.matrix.after(node.world))


def draw_handle(painter: QPainter, x: float, y: float, role: str, hot: bool) -> None:
    t = theme()
    painter.setPen(QPen(t.color("carnelian"), 1.6))
    painter.setBrush(t.color("carnelian") if hot else QColor("#FFFFFF"))
    if role == "gradient":
        painter.drawRect(QRectF(x - 8, y - 8, 16, 16).adjusted(4, 4, -4, -4))
    elif role == "edge":
        painter.drawRect(QRectF(x - 3, y - 3, 6, 6))
    elif role == "corner":
        painter.drawPolygon(
            QPolygonF([QPointF(x, y - 4.6), QPointF(x + 4.6, y), QPointF(x, y + 4.6), QPointF(x - 4.6, y)])
        )
    else:
        painter.drawEllipse(QPointF(x, y), HANDLE, HANDLE)


def draw_turn(painter: QPainter, x: float, y: float, hot: bool) -> None:
    """The handle that turns: a disc with an arc over it."""
    draw_handle(painter, x, y, "turn", hot)
    painter.setPen(QPen(theme().color("carnelian"), 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(QRectF(x - 8, y - 8, 16, 16), 30 * 16, 120 * 16)


def draw_pivot(painter: QPainter, x: float, y: float, hot: bool) -> None:
    t = theme()
    for pen in (QPen(QColor(255, 255, 255, 220), 3), QPen(t.color("carnelian"), 2.2 if hot else 1.3)):
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, y), 4, 4)
        painter.drawPoint(QPointF(x, y))


def draw_anchor(painter: QPainter, x: float, y: float) -> None:
    """A cross where `at` is."""
    for pen in (QPen(QColor(255, 255, 255, 220), 3.4), QPen(theme().color("carnelian"), 1.4)):
        painter.setPen(pen)
        painter.drawLine(QPointF(x - 6, y), QPointF(x + 6, y))
        painter.drawLine(QPointF(x, y - 6), QPointF(x, y + 6))


def draw_tag(painter: QPainter, x: float, y: float, text: str, bounds: QRectF, color: str = "#B8482A") -> None:
    """A word on a tag, carnelian unless it is said otherwise, kept inside the picture."""
    painter.setFont(font(13, bold=True))
    metrics = QFontMetricsF(painter.font())
    text = signed(text)
    width, height = metrics.horizontalAdvance(text) + 14, metrics.height() + 4
    left = min(max(bounds.left() + 2, x), bounds.right() - width - 2)
    top = min(max(bounds.top() + 2, y), bounds.bottom() - height - 2)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(color))
    painter.drawRoundedRect(QRectF(left, top, width, height), 3, 3)
    painter.setPen(QColor("#FFFFFF"))
    painter.drawText(QRectF(left, top, width, height), Qt.AlignmentFlag.AlignCenter, text)


def draw_measure(painter: QPainter, m: Measure, view: View, bounds: QRectF) -> None:
    color = QColor("#B8482A")
    for lines, width, dashed in ((m.faint, 1.2, True), (m.firm, 1.6, False)):
        for line in lines:
            polygon = QPolygonF([QPointF(*view.to_widget(*p)) for p in line])
            for pen in (QPen(QColor(255, 255, 255, 200), width + 1.8), QPen(color, width)):
                if dashed:
                    pen.setDashPattern([1.5, 2.5])
                painter.setPen(pen)
                painter.drawPolyline(polygon)
    if m.firm and len(m.firm[0]) > 1:
        a, b = (view.to_widget(*p) for p in m.firm[0][-2:])
        if m.arrow:
            arrow_head(painter, a, b, color)
    x, y = view.to_widget(*(m.firm[0][-1] if m.arrow and m.firm else m.spot))
    draw_tag(painter, x + 10, y - 34, m.label, bounds)


def arrow_head(painter: QPainter, a: tuple[float, float], b: tuple[float, float], color: QColor) -> None:
    """Points in the direction of more."""
    length = math.hypot(b[0] - a[0], b[1] - a[1])
    if length < 1:
        return
    ux, uy = (b[0] - a[0]) / length, (b[1] - a[1]) / length
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(color))
    painter.drawPolygon(
        QPolygonF(
            [
                QPointF(*b),
                QPointF(b[0] - 8 * ux - 4 * uy, b[1] - 8 * uy + 4 * ux),
                QPointF(b[0] - 8 * ux + 4 * uy, b[1] - 8 * uy - 4 * ux),
            ]
        )
    )


def draw_remarks(painter: QPainter, remarks: Iterable[Remark], view: View) -> None:
    """Marks the places that the check-up speaks of: a ring with a dot, seen on any ground; an area is hatched."""
    kept = list(remarks)
    for remark in kept:
        if remark.area is not None:
            area = transform(view.matrix).map(painter_path(remark.area))
            painter.setPen(QPen(QColor("#B8482A"), 1, Qt.PenStyle.DotLine))
            for color, style in ((QColor(255, 255, 255, 150), "FDiagPattern"), (QColor("#B8482A"), "BDiagPattern")):
                painter.setBrush(QBrush(color, Qt.BrushStyle[style]))
                painter.drawPath(area)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for spot in (s for r in kept for s in r.spots):
        x, y = view.to_widget(*spot)
        for pen in (QPen(QColor(255, 255, 255, 230), 4.5), QPen(QColor("#B8482A"), 2)):
            painter.setPen(pen)
            painter.drawEllipse(QPointF(x, y), 9, 9)
        painter.drawPoint(QPointF(x, y))


class Rulers:
    """Scene px along the top and the left, with the pointer's place. Drawn once a view, then shown as a picture."""

    def __init__(self) -> None:
        self._state: object = None
        self._picture = QPixmap()

    def draw(
        self, painter: QPainter, view: View, size: QSize, mark: tuple[float, float] | None, bottom: float | None
    ) -> None:
        """`bottom`: from which y in px of the page the upright ruler counts up; None for down from its top."""
        state = (view.zoom, view.x, view.y, view.ratio, size, theme().name, bottom)
        if state != self._state:
            self._state = state
            self._picture = QPixmap(size * view.ratio)
            self._picture.setDevicePixelRatio(view.ratio)
            self._picture.fill(Qt.GlobalColor.transparent)
            own = QPainter(self._picture)
            _draw_rulers(own, view, size.width(), size.height(), bottom)
            own.end()
        r = view.ratio
        for part in (QRectF(0, 0, size.width(), RULER + 1), QRectF(0, 0, RULER + 1, size.height())):
            painter.drawPixmap(part, self._picture, QRectF(0, 0, part.width() * r, part.height() * r))
        if mark is not None:
            painter.setPen(QPen(theme().color("carnelian"), 1))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
            x, y = view.to_widget(*mark)
            if x >= RULER:
                painter.drawLine(round(x), 0, round(x), RULER)
            if y >= RULER:
                painter.drawLine(0, round(y), RULER, round(y))


def _draw_rulers(painter: QPainter, view: View, width: int, height: int, bottom: float | None) -> None:
    t = theme()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.fillRect(QRectF(0, 0, width, RULER), t.color("paper"))
    painter.fillRect(QRectF(0, 0, RULER, height), t.color("paper"))
    painter.setPen(t.color("line"))
    painter.drawLine(0, RULER, width, RULER)
    painter.drawLine(RULER, 0, RULER, height)
    step = ruler_step(view.zoom)
    painter.setFont(font(11))
    for across in (True, False):
        origin, length, way = (view.x, width, 1) if across else (view.y, height, 1)
        if not across and bottom is not None:
            origin, way = view.y + bottom * view.zoom, -1
        ends = sorted(way * (end - origin) / view.zoom / step for end in (RULER, length))
        for i in range(math.floor(ends[0]), math.ceil(ends[1]) + 1):
            at = round(origin + way * i * step * view.zoom)
            if at < RULER:
                continue
            painter.setPen(t.color("muted"))
            label = signed(f"{i * step:g}")
            if across:
                painter.drawLine(at, RULER - 6, at, RULER)
                painter.drawText(at + 3, RULER - 7, label)
            else:
                painter.drawLine(RULER - 6, at, RULER, at)
                painter.save()
                painter.translate(RULER - 8, at - 3)
                painter.rotate(-90)
                painter.drawText(0, 0, label)
                painter.restore()
    painter.fillRect(QRectF(0, 0, RULER, RULER), t.color("paper"))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)


def ruler_step(zoom: float) -> float:
    """A round number of scene px that comes to 60 widget px or a little more."""
    raw = 60 / zoom
    base = 10 ** math.floor(math.log10(raw))
    return next(base * k for k in (1, 2, 5, 10) if base * k >= raw)
