"""What stands over the picture in every frame: page edge, selection, ghost, remarks, the tool, measure and word."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter

from chalcedon.craft.stepping import after_each, swapped
from chalcedon.desk.canvas import laid, overlay, sought, sources
from chalcedon.desk.canvas.measure import measure
from chalcedon.desk.canvas.snapping import draw_guides
from chalcedon.desk.canvas.spots import TINY, sides
from chalcedon.desk.looks.theme import font, theme
from chalcedon.geometry import IDENTITY
from chalcedon.painter.convert import outline_in

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

ROUND = 48
"""Widget px around the selection that its handles may take."""
FAR = 1e5
"""Widget px that are outside of every window."""
EMPTY = 120
"""Widget px that the words on an empty page are tall, with room around them."""
WORD = QSize(260, 60)
"""The room of the word beside the pointer."""


def covered(canvas: Canvas) -> QRect:
    """What the overlay may cover now: the selection with its handles, and the word beside the pointer."""
    area = QRect()
    for shape in canvas.session.selection[:200]:
        node = canvas.session.display.find(shape)
        if node is not None:
            box = canvas.view.matrix.map_box(node.bounds() if node.group else node.cull)
            if box[0] <= box[2]:
                area |= _whole(*box)
    for x, y in canvas.tool.spots():
        area |= _whole(x, y, x, y)
    if not area.isNull():
        area.adjust(-ROUND, -ROUND, ROUND, ROUND)
    if canvas.pointer is not None:
        x, y = canvas.view.to_widget(*canvas.pointer)
        area |= _whole(x - WORD.width(), y - 40, x + WORD.width(), y + WORD.height())
    return area


def _whole(*box: float) -> QRect:
    """The whole px that a box touches, as far as anybody could see it: much enlarged, what is elsewhere lies further
    off than the whole numbers of the toolkit go."""
    left, top, right, bottom = (min(max(v, -FAR), FAR) for v in box)
    return QRectF(left, top, max(right - left, 1.0), max(bottom - top, 1.0)).toAlignedRect()


def paint_overlay(canvas: Canvas, painter: QPainter) -> None:
    t = theme()
    carried = getattr(canvas.tool, "carried", None)
    if carried is not None:
        carried.draw(painter)
    width, height = canvas.session.scene.size
    a, b = canvas.view.to_widget(0, 0), canvas.view.to_widget(width, height)
    painter.setPen(t.color("muted", 120))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(QRectF(a[0] - 0.5, a[1] - 0.5, b[0] - a[0] + 1, b[1] - a[1] + 1))
    canvas.hit_view.draw(painter)
    if canvas.playing.player.live is not None and not canvas.tool.held:
        return  # the pointer is the scene's, so there is nothing to take hold of
    draw_guides(painter, canvas)
    if not len(canvas.session.scene) and not canvas.kind:
        _paint_empty(canvas, painter, QRectF(a[0], a[1], b[0] - a[0], b[1] - a[1]))
    laid.draw(painter, canvas)
    canvas.flash.draw(painter)
    if canvas.pointed_out is not None and (hint := canvas.session.display.find(canvas.pointed_out)) is not None:
        overlay.hairline(painter, overlay.outline_of(hint, canvas.view), QColor("#2F6F94"), not hint.visible)
    if carried is None:
        _draw_selected(canvas, painter)
    current = canvas.session.current
    if current is not None and len(canvas.session.selection) == 1 and canvas.session.display.find(current) is not None:
        node = canvas.session.node(current)
        _least, most = sides(node.box, node.world, canvas.view)
        tiny = not node.group and 0.0 <= most < TINY  # the cross would hide it
        parent = node.parent.world if node.parent is not None else node.world
        if not tiny:
            overlay.draw_anchor(painter, *canvas.view.to_widget(*parent.map(*current.at)))
    _paint_ghost(canvas, painter)
    overlay.draw_remarks(painter, canvas.session.remarks, canvas.view)
    sought.draw(painter, canvas)
    canvas.tool.draw(painter)
    canvas.snapping.draw(painter)
    bounds = QRectF(*canvas.area()).adjusted(0, 0, -overlay.RULER, -overlay.RULER)
    sources.draw(painter, canvas, bounds)
    focus = canvas.session.value_focus
    if focus is not None and canvas.session.display.find(focus[0]) is not None:
        m = measure(canvas.session.node(focus[0]), focus[1], focus[2])
        if m is not None:
            overlay.draw_measure(painter, m, canvas.view, bounds)
    word = canvas.guides.word or getattr(canvas.tool, "word", "")
    if word and canvas.pointer is not None:
        x, y = canvas.view.to_widget(*canvas.pointer)
        overlay.draw_tag(painter, x + 16, y + 18, word, bounds)


def _draw_selected(canvas: Canvas, painter: QPainter) -> None:
    """The outlines of what is selected, those that are hidden dashed."""
    display, view = canvas.session.display, canvas.view
    nodes = [n for s in canvas.session.selection[:200] if (n := display.find(s)) is not None]
    for dashed in (False, True):
        paths = [overlay.outline_of(n, view) for n in nodes if n.visible is not dashed]
        overlay.hairlines(painter, paths, theme().color("carnelian"), dashed)


def _paint_ghost(canvas: Canvas, painter: QPainter) -> None:
    """A shape as it is after one of its steps, or would be with two of them changed."""
    ghost = canvas.session.ghost
    if ghost is None or (node := canvas.session.display.find(ghost[0])) is None:
        return
    _shape, what, i = ghost
    maps = after_each(node)
    if what == "swap" and i + 1 < len(maps) - 1:
        m = swapped(node, i)
    elif what == "after" and i < len(maps):
        m = maps[i]
    else:
        return
    parent = node.parent.world if node.parent is not None else IDENTITY
    path = outline_in(node, canvas.view.matrix.after(parent.after(m)))
    painter.setBrush(theme().color("chalcedony", 70))
    overlay.hairline(painter, path, QColor("#2F6F94"), True)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme().color("chalcedony", 70))
    painter.drawPath(path)


def _paint_empty(canvas: Canvas, painter: QPainter, page: QRectF) -> None:
    """What to begin with, in the middle of the page; below it where it is too small, or nowhere."""
    lines = (
        (font(17, bold=True), -30, "An empty page"),
        (font(14), 4, "Pick a kind above and drag here, or type a line at the lower left:"),
        (font(14, bold=True), 34, "circle 200 120 40 fill #b8482a"),
    )
    wide = max(QFontMetricsF(face).horizontalAdvance(text) for face, _, text in lines) + 24
    left, _top, right, bottom = canvas.area()
    for room in (page & QRectF(canvas.rect()), QRectF(left, page.bottom(), right - left, bottom - page.bottom())):
        if room.width() >= wide and room.height() >= EMPTY:
            painter.setPen(theme().color("muted"))
            for face, down, text in lines:
                painter.setFont(face)
                painter.drawText(room.adjusted(0, down, 0, down), Qt.AlignmentFlag.AlignCenter, text)
            return
