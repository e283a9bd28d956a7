"""A scene as a picture, without a window."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QImage, QPainter, QPainterPath

from chalcedon.evaluate import DisplayList, Node
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.geometry.boxes import overlap
from chalcedon.painter.convert import look_brush
from chalcedon.painter.images import draw_picture, picture, picture_size
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.painter.outlines import transform
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.scene.axes import across, is_up
from chalcedon.scene.paints import GradientLook, Picture, look, turned_over

LARGEST = 30_000
"""Image px along a side."""


def render_image(source: Scene | DisplayList, scale: float = 1.0) -> QImage:
    """The page of a scene at `scale` image px per scene px. Raises ChalcedonError when that is too large."""
    display = source if isinstance(source, DisplayList) else DisplayList(source)
    try:
        return render_area(display, display.order, (0.0, 0.0, *display.scene.size), scale)
    finally:
        if display is not source:
            display.detach()


def render_area(display: DisplayList, nodes: Sequence[Node], area: Box, scale: float, page: bool = True) -> QImage:
    """Some nodes, back to front, and the page's own paint, in an area in scene px. Raises ChalcedonError."""
    width, height = area[2] - area[0], area[3] - area[1]
    if not 0.0 < scale <= 1e9:
        raise ChalcedonError(f"a scale of {scale:g} makes no picture.", hint="Give a number above 0, such as 2.")
    w, h = max(1, math.ceil(width * scale - 1e-6)), max(1, math.ceil(height * scale - 1e-6))
    if w > LARGEST or h > LARGEST or w * h > 400_000_000:
        raise ChalcedonError(
            f"a picture of {w} x {h} px can't be made.", hint=f"Up to {LARGEST} px a side and 400 million in all."
        )
    image = QImage(w, h, FORMAT)
    if image.isNull():
        raise ChalcedonError(f"there is no memory for a picture of {w} x {h} px.")
    image.fill(Qt.GlobalColor.transparent)
    view = Affine(scale, 0.0, 0.0, scale, -area[0] * scale, -area[1] * scale)
    if page:
        painter = QPainter(image)
        painter.setTransform(transform(view))
        paint_page(painter, display, scale)
        painter.end()
    PaintJob(display, [n for n in nodes if overlap(n.cull, area)], image, view).run()
    return image


def page_brush(display: DisplayList) -> QBrush | None:
    """What the page is painted with, in scene px; None when it is clear. An image is drawn apart."""
    scene = display.scene
    paint = look(background(display), display.palette)
    width, height = scene.size
    if is_up(scene) and isinstance(paint, GradientLook) and paint.units == "scene":
        paint = turned_over(paint, height)
    return None if paint is None else look_brush(paint, (0.0, 0.0, width, height), IDENTITY)


def background(display: DisplayList) -> Any:
    """The page's own paint, formulas worked out."""
    return display.page.get("background", Scene.background.default)


def paint_page(painter: QPainter, display: DisplayList, scale: float) -> None:
    """The page's own paint. The painter must map scene px to its px, `scale` of them each."""
    scene = display.scene
    width, height = scene.size
    page = QRectF(0.0, 0.0, width, height)
    paint = background(display)
    if isinstance(paint, Picture):
        path = QPainterPath()
        path.addRect(page)
        draw_picture(painter, path, (0.0, 0.0, width, height), paint.source, paint.fit, scene.folder, scale)
        return
    brush = page_brush(display)
    if brush is not None:
        painter.fillRect(page, brush)


def paint_reference(painter: QPainter, scene: Scene, scale: float) -> None:
    """The reference picture of a scene: for the canvas only. The painter maps scene px as for `paint_page`."""
    size = picture_size(scene.reference, scene.folder) if scene.reference else None
    if size is None or scene.reference_opacity <= 0:
        return
    width = scene.reference_width or size[0]
    box = QRectF(*across(scene, *scene.reference_at), width, width * size[1] / max(1, size[0]))
    image = picture(scene.reference, scene.folder, (box.width() * scale, box.height() * scale))
    if image is None:
        return
    painter.save()
    painter.setOpacity(scene.reference_opacity)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(box, image)
    painter.restore()
