"""Drop shadows: the alpha of a picture, blurred, moved and coloured (CSS: a Gaussian of half the stated blur)."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, QSizeF, Qt
from PySide6.QtGui import QImage, QPainter

from chalcedon.painter.compose import FORMAT
from chalcedon.scene.paints import Shadow

FINEST = 8.0
"""The standard deviation, in px, from which on a blur is made of a coarser picture: what it leaves has no detail."""
FARTHEST = 1e7
"""Px; beyond it whole numbers of px are no longer safe."""


class Caster(NamedTuple):
    """A picture of what casts a shadow: where on the target its top left px lies, and how many px of the target each
    of its px is."""

    image: QImage
    left: float
    top: float
    across: float = 1.0
    down: float = 1.0


def coarseness(shadow: Shadow, scale: float) -> int:
    """How many px of the target a px of the caster may be. `scale` is how many px of it a px of the scene takes."""
    deviation = shadow.blur * scale / 2
    return 1 if deviation < FINEST else max(1, int(deviation / (FINEST / 2)))


def casting_area(area: QRect, shadow: Shadow, scale: float, k: int) -> QRect:
    """From where, in px of the caster, a shadow falls into an area of the target."""
    reach = 1.5 * shadow.blur * scale + 2.0
    edges = (
        (area.left() - shadow.x * scale - reach) / k - 1,
        (area.top() - shadow.y * scale - reach) / k - 1,
        (area.right() + 1 - shadow.x * scale + reach) / k + 1,
        (area.bottom() + 1 - shadow.y * scale + reach) / k + 1,
    )
    left, top, right, bottom = (int(max(-FARTHEST, min(FARTHEST, e))) for e in edges)
    return QRect(left, top, right - left, bottom - top)


def coarse(image: QImage, origin: QPoint, shadow: Shadow, scale: float) -> Caster:
    """A finished picture as a caster."""
    k = coarseness(shadow, scale)
    if k == 1:
        return Caster(image, origin.x(), origin.y())
    size = QSize(max(1, round(image.width() / k)), max(1, round(image.height() / k)))
    small = image.scaled(size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
    across, down = image.width() / size.width(), image.height() / size.height()
    return Caster(small.convertToFormat(FORMAT), origin.x(), origin.y(), across, down)


def with_shadow(picture: QImage, at: QPoint, caster: Caster, shadow: Shadow, scale: float) -> QImage:
    """A picture, whose top left px lies at `at` on the target, with a shadow behind it. `scale` is how many px of the
    target a px of the scene takes."""
    from chalcedon.painter.planes import tinted  # NumPy

    deviation = shadow.blur * scale / 2
    x, y = caster.left + shadow.x * scale - at.x(), caster.top + shadow.y * scale - at.y()
    if not (abs(x) < FARTHEST and abs(y) < FARTHEST):
        return picture
    whole = QPointF(math.floor(x), math.floor(y)) if caster.across == 1.0 else QPointF(x, y)
    rest = x - whole.x(), y - whole.y()
    blurred, pad = tinted(caster.image, deviation / math.sqrt(caster.across * caster.down), shadow.color, rest)
    out = QImage(picture.size(), FORMAT)
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    spot = whole - QPointF(pad * caster.across, pad * caster.down)
    painter.drawImage(QRectF(spot, QSizeF(blurred.width() * caster.across, blurred.height() * caster.down)), blurred)
    painter.drawImage(0, 0, picture)
    painter.end()
    return out
