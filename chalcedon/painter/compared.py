"""Two versions of a scene side by side, with what differs outlined."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from chalcedon.evaluate import DisplayList
from chalcedon.painter.convert import outline_in
from chalcedon.painter.export import write_png
from chalcedon.painter.fonts import face
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.scene.net import Change

GAP, HEAD = 24, 28
"""Px around the pages, and above them for their names."""
GROUND, INK, MARK = QColor("#d6d1c7"), QColor("#22292e"), QColor("#b8482a")


def compared_image(before: Scene, after: Scene, changes: Iterable[Change]) -> QImage:
    """Both pages, at scene px. The outline of every shape that differs is drawn in two tones, where it has one."""
    ids = {c.id for c in changes}
    pages = [(name, scene, render_image(scene)) for name, scene in (("before", before), ("after", after))]
    width = sum(image.width() for _, _, image in pages) + 3 * GAP
    out = QImage(width, max(i.height() for _, _, i in pages) + HEAD + GAP, QImage.Format.Format_ARGB32_Premultiplied)
    if out.isNull():
        raise ChalcedonError(f"there is no memory for a picture {width} px wide.")
    out.fill(GROUND)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setFont(face(15))
    left = GAP
    for name, scene, image in pages:
        painter.setPen(INK)
        painter.drawText(QPointF(left, HEAD - 9), name)
        painter.drawImage(left, HEAD, image)
        painter.save()
        painter.setClipRect(left, HEAD, image.width(), image.height())
        painter.translate(left, HEAD)
        _outline(painter, scene, ids)
        painter.restore()
        left += image.width() + GAP
    painter.end()
    return out


def _outline(painter: QPainter, scene: Scene, ids: set[str]) -> None:
    display = DisplayList(scene)
    nodes = [n for s in scene.walk() if s.id in ids for n in display.nodes(s)]
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for pen in (QPen(QColor(255, 255, 255, 220), 4), QPen(MARK, 1.8)):
        painter.setPen(pen)
        for node in nodes:
            painter.drawPath(outline_in(node, node.world))
    display.detach()


def write_compared(before: Scene, after: Scene, changes: Iterable[Change], path: str) -> None:
    """Writes the picture as a PNG. Raises ChalcedonError."""
    write_png(path, lambda: compared_image(before, after, changes))
