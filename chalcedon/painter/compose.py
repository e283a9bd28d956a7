"""Pictures laid over one another: opacity, blend modes, shadows, masks (W3C Compositing and Blending 1)."""

from __future__ import annotations

import math

from PySide6.QtCore import QPoint, QRect, QSize, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.geometry import Box

FORMAT = QImage.Format.Format_ARGB32_Premultiplied

_M = QPainter.CompositionMode
MODES = {
    "normal": _M.CompositionMode_SourceOver,
    "multiply": _M.CompositionMode_Multiply,
    "screen": _M.CompositionMode_Screen,
    "overlay": _M.CompositionMode_Overlay,
    "darken": _M.CompositionMode_Darken,
    "lighten": _M.CompositionMode_Lighten,
    "color-dodge": _M.CompositionMode_ColorDodge,
    "color-burn": _M.CompositionMode_ColorBurn,
    "hard-light": _M.CompositionMode_HardLight,
    "soft-light": _M.CompositionMode_SoftLight,
    "difference": _M.CompositionMode_Difference,
    "exclusion": _M.CompositionMode_Exclusion,
}
"""The separable blend modes, which QPainter has."""


class Sheet:
    """A transparent picture of a part of a target. `origin` is where its top left px lies on the target."""

    def __init__(self, area: QRect) -> None:
        self.painter = QPainter()  # goes before the image when a fault lets both go: a painted image can't
        self.origin = area.topLeft()
        self.image = QImage(area.size().expandedTo(QSize(1, 1)), FORMAT)
        self.image.fill(Qt.GlobalColor.transparent)
        self.painter.begin(self.image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def end(self) -> None:
        """Ends painting on it; the image may be used from then on."""
        if self.painter.isActive():
            self.painter.end()


def lay_down(
    painter: QPainter, target: QImage, at: QPoint, sheet: QImage, opacity: float, blend: str, cuts: bool
) -> None:
    """Lays a picture on the target of `painter`, its top left px at `at`. A cut-out takes away instead."""
    painter.resetTransform()
    if not cuts and blend not in MODES:
        from chalcedon.painter.planes import blend_by_hue  # NumPy, which few scenes need

        blend_by_hue(painter, target, at, sheet, opacity, blend)
        return
    painter.setCompositionMode(_M.CompositionMode_DestinationOut if cuts else MODES[blend])
    painter.setOpacity(opacity)
    painter.drawImage(at, sheet)
    painter.setOpacity(1.0)
    painter.setCompositionMode(_M.CompositionMode_SourceOver)


def keep_inside(sheet: QImage, mask: QImage) -> None:
    """Takes from a picture what a mask of the same size doesn't cover."""
    painter = QPainter(sheet)
    painter.setCompositionMode(_M.CompositionMode_DestinationIn)
    painter.drawImage(0, 0, mask)
    painter.end()


def keep_outside(sheet: QImage, mask: QImage) -> None:
    """Takes from a picture what a mask of the same size covers."""
    painter = QPainter(sheet)
    painter.setCompositionMode(_M.CompositionMode_DestinationOut)
    painter.drawImage(0, 0, mask)
    painter.end()


def device_area(box: Box, view: tuple[float, ...], within: QRect) -> QRect:
    """The whole px of a target that a box in scene px touches, limited to `within`."""
    a, b, c, d, e, f = view
    xs = [a * x + c * y + e for x in (box[0], box[2]) for y in (box[1], box[3])]
    ys = [b * x + d * y + f for x in (box[0], box[2]) for y in (box[1], box[3])]
    left, top = max(min(xs) - 1, within.left()), max(min(ys) - 1, within.top())
    right, bottom = min(max(xs) + 1, within.right() + 1), min(max(ys) + 1, within.bottom() + 1)
    if not (left < right and top < bottom):
        return QRect()
    x, y = math.floor(left), math.floor(top)
    return QRect(x, y, math.ceil(right) - x, math.ceil(bottom) - y)
