"""Px as NumPy planes: shadows, and the blend modes that mix hue, saturation and luminosity."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PySide6.QtCore import QPoint, QRect
from PySide6.QtGui import QImage, QPainter

from chalcedon.painter.blur import blurred, nudged
from chalcedon.scene.color import RGBA


def pixels(image: QImage) -> np.ndarray:
    """The px of a premultiplied image as (height, width, 4): blue, green, red, alpha. Writing changes the image,
    which has to outlive them."""
    raw: Any = np.frombuffer(image.bits(), np.uint8)
    return raw.reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width()]


def tinted(image: QImage, deviation: float, color: RGBA, rest: tuple[float, float]) -> tuple[QImage, int]:
    """The alpha of a picture, moved by parts of a px and blurred, in one colour; and how many px wider the result is
    on every side."""
    pad = math.ceil(3.0 * deviation) + 1
    alpha = nudged(np.pad(pixels(image)[:, :, 3].astype(np.float32), pad), *rest)
    alpha = blurred(alpha, deviation) * np.float32(color[3] / 255.0)
    out = QImage(alpha.shape[1], alpha.shape[0], image.format())
    view = pixels(out)
    for channel, value in ((0, color[2]), (1, color[1]), (2, color[0])):
        view[:, :, channel] = np.rint(alpha * np.float32(value / 255.0))
    view[:, :, 3] = np.rint(alpha)
    return out, pad


def to_luminance(image: QImage) -> None:
    """Makes a picture as opaque as it is light (CSS Masking 1, section 6.5.2: of sRGB values)."""
    view = pixels(image)
    blue, green, red = (view[:, :, i].astype(np.float32) for i in range(3))
    view[:, :, 3] = np.rint(0.2125 * red + 0.7154 * green + 0.0721 * blue)
    view[:, :, :3] = 0


def blend_by_hue(painter: QPainter, target: QImage, at: QPoint, sheet: QImage, opacity: float, blend: str) -> None:
    """The four modes that mix hue, saturation and luminosity, which QPainter lacks (Compositing 1, section 10.2)."""
    area = QRect(at, sheet.size()) & target.rect()
    if area.isEmpty():
        return
    backdrop = target.copy(area)
    part = sheet.copy(area.translated(-at))
    touched = pixels(part)[:, :, 3] > 0  # often few: the rest stays as it is
    under = pixels(backdrop)
    b, ab = _colour_and_alpha(under[touched])
    s, a = (plane * np.float32(opacity) for plane in _colour_and_alpha(pixels(part)[touched]))
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
    whole = np.concatenate((np.clip(out[::-1], 0, 1), (a + ab - a * ab)[None]))
    under[touched] = np.rint(whole * 255).T
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
    painter.drawImage(area.topLeft(), backdrop)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)


def _colour_and_alpha(px: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Of px (n, 4) the premultiplied red, green and blue (3, n) and the alpha (n), 0 to 1."""
    planes = np.ascontiguousarray(px.T).astype(np.float32) / np.float32(255.0)
    return planes[2::-1], planes[3]


def _luminosity(c: np.ndarray) -> np.ndarray:
    return np.float32(0.3) * c[0] + np.float32(0.59) * c[1] + np.float32(0.11) * c[2]


def _saturation(c: np.ndarray) -> np.ndarray:
    return c.max(axis=0) - c.min(axis=0)


def _set_luminosity(c: np.ndarray, lum: np.ndarray) -> np.ndarray:
    c = c + (lum - _luminosity(c))
    level, low, high = _luminosity(c), c.min(axis=0), c.max(axis=0)
    c = np.where(low < 0, level + (c - level) * level / np.maximum(level - low, 1e-9), c)
    return np.where(high > 1, level + (c - level) * (1 - level) / np.maximum(high - level, 1e-9), c)


def _set_saturation(c: np.ndarray, sat: np.ndarray) -> np.ndarray:
    low = c.min(axis=0)
    spread = c.max(axis=0) - low
    return np.where(spread > 0, (c - low) / np.maximum(spread, 1e-9) * sat, 0)
