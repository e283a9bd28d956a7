"""The display list painted with QPainter."""

from chalcedon.painter.job import PaintJob
from chalcedon.painter.render import render_image

__all__ = ["PaintJob", "render_image"]
