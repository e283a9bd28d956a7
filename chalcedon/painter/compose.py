"""Pictures laid over one another: opacity, blend modes, shadows, masks (W3C Compositing and Blending 1)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PySide6.QtCore import QPoint, QRect, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.geometry import Box
from chalcedon.scene.paints import Shadow

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
        self.origin = area.topLeft()
        self.image = QImage(area.size(), FORMAT)
        self.image.fill(Qt.GlobalColor.transparent)
        self.painter = QPainter(self.image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)

    def end(self) -> None:
        if self.painter.isActive():
            self.painter.end()


def lay_down(
    painter: QPainter, target: QImage, at: QPoint, sheet: QImage, opacity: float, blend: str, cuts: bool
) -> None:
    """Lays a picture on the target of `painter`, its top left px at `at`. A cut-out takes away instead."""
    painter.resetTransform()
    if not cuts and blend not in MODES:
        _blend_by_hue(painter, target, at, sheet, opacity, blend)
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
    painter = QPainter(sheet)
    painter.setCompositionMode(_M.CompositionMode_DestinationOut)
    painter.drawImage(0, 0, mask)
    painter.end()


def with_shadow(sheet: QImage, shadow: Shadow, scale: float) -> QImage:
    """A picture with its drop shadow behind it. The blur is a Gaussian of half the stated radius, as CSS has it for
    shadows of boxes. `scale` is how many px of the picture a px of the scene takes."""
    from scipy.ndimage import gaussian_filter, shift

    alpha = pixels(sheet)[:, :, 3].astype(np.float32)
    dx, dy = shadow.x * scale, shadow.y * scale
    if dx or dy:  # moved before it is blurred: the picture may end where the shape does
        alpha = shift(alpha, (dy, dx), order=1, mode="constant")
    if shadow.blur > 0:
        alpha = gaussian_filter(alpha, shadow.blur * scale / 2, mode="constant", truncate=3.0)
    color = shadow.color  # resolved by the evaluation
    alpha *= color[3] / 255.0
    out = QImage(sheet.size(), FORMAT)
    view = pixels(out)
    for channel, value in ((0, color[2]), (1, color[1]), (2, color[0])):
        view[:, :, channel] = np.rint(alpha * (value / 255.0))
    view[:, :, 3] = np.rint(alpha)
    painter = QPainter(out)
    painter.drawImage(0, 0, sheet)
    painter.end()
    return out


def pixels(image: QImage) -> np.ndarray:
    """The px of a premultiplied image as (height, width, 4): blue, green, red, alpha. Writing changes the image."""
    raw: Any = np.frombuffer(image.bits(), np.uint8)
    return raw.reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width()]


def _blend_by_hue(painter: QPainter, target: QImage, at: QPoint, sheet: QImage, opacity: float, blend: str) -> None:
    """The four modes that mix hue, saturation and luminosity, which QPainter lacks (Compositing 1, section 10.2)."""
    area = QRect(at, sheet.size()) & target.rect()
    if area.isEmpty():
        return
    backdrop = target.copy(area)
    b = pixels(backdrop)[:, :, 2::-1].astype(np.float32) / 255.0
    ab = pixels(backdrop)[:, :, 3:].astype(np.float32) / 255.0
    part = sheet.copy(area.translated(-at))
    s = pixels(part)[:, :, 2::-1].astype(np.float32) / 255.0 * opacity
    a = pixels(part)[:, :, 3:].astype(np.float32) / 255.0 * opacity
    cb = np.divide(b, ab, out=np.zeros_like(b), where=ab > 0)
    cs = np.divide(s, a, out=np.zeros_like(s), where=a > 0)
    if blend == "hue":
        mixed = _set_luminosity(_set_saturation(cs, _saturation(cb)), _luminosity(cb))
    elif blend == "saturation":
        mixed = _set_luminosity(_set_saturation(cb, _saturation(cs)), _luminosity(cb))
    elif blend == "color":
        mixed = _set_luminosity(cs, _luminosity(cb))
    else:
        mixed = _set_luminosity(cb, _luminosity(cs))
    out = (1 - a) * b + (1 - ab) * s + a * ab * mixed
    view = pixels(backdrop)
    view[:, :, 2::-1] = np.rint(np.clip(out, 0, 1) * 255)
    view[:, :, 3:] = np.rint((a + ab - a * ab) * 255)
    painter.setCompositionMode(_M.CompositionMode_Source)
    painter.drawImage(area.topLeft(), backdrop)
    painter.setCompositionMode(_M.CompositionMode_SourceOver)


def _luminosity(c: np.ndarray) -> np.ndarray:
    return c @ np.array([0.3, 0.59, 0.11], np.float32)


def _saturation(c: np.ndarray) -> np.ndarray:
    return c.max(axis=2) - c.min(axis=2)


def _set_luminosity(c: np.ndarray, lum: np.ndarray) -> np.ndarray:
    c = c + (lum - _luminosity(c))[:, :, None]
    level = _luminosity(c)[:, :, None]
    low, high = c.min(axis=2, keepdims=True), c.max(axis=2, keepdims=True)
    c = np.where(low < 0, level + (c - level) * level / np.maximum(level - low, 1e-9), c)
    return np.where(high > 1, level + (c - level) * (1 - level) / np.maximum(high - level, 1e-9), c)


def _set_saturation(c: np.ndarray, sat: np.ndarray) -> np.ndarray:
    low = c.min(axis=2, keepdims=True)
    spread = c.max(axis=2, keepdims=True) - low
    return np.where(spread > 0, (c - low) / np.maximum(spread, 1e-9) * sat[:, :, None], 0)


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
