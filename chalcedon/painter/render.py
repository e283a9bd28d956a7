"""A scene as a picture, without a window."""

from __future__ import annotations

import math

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QImage

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.geometry.boxes import overlap
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.scene.color import rgba

LARGEST = 30_000
"""Image px along a side."""


def render_image(source: Scene | DisplayList, scale: float = 1.0) -> QImage:
    """The page of a scene at `scale` image px per scene px. Raises ChalcedonError when that is too large."""
    display = source if isinstance(source, DisplayList) else DisplayList(source)
    width, height = display.scene.size
    w, h = max(1, math.ceil(width * scale - 1e-6)), max(1, math.ceil(height * scale - 1e-6))
    if not math.isfinite(scale) or scale <= 0 or w > LARGEST or h > LARGEST or w * h > 400_000_000:
        raise ChalcedonError(
            f"a picture of {w} x {h} px can't be made.", hint=f"Up to {LARGEST} px a side and 400 million in all."
        )
    image = QImage(w, h, FORMAT)
    if image.isNull():
        raise ChalcedonError(f"there is no memory for a picture of {w} x {h} px.")
    image.fill(page_color(display.scene))
    page = (0.0, 0.0, width, height)
    PaintJob(display, [n for n in display.order if overlap(n.cull, page)], image, Affine.scale(scale, scale)).run()
    if display is not source:
        display.detach()
    return image


def page_color(scene: Scene) -> QColor | Qt.GlobalColor:
    return Qt.GlobalColor.transparent if scene.background is None else QColor(*rgba(scene.background))
