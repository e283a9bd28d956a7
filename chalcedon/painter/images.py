"""Images as Qt pictures, fitted into boxes."""

from __future__ import annotations

import math
from collections import OrderedDict
from collections.abc import Hashable
from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QTransform

from chalcedon.files.images import fitted, image_key, image_size, load_image
from chalcedon.geometry import Box
from chalcedon.problems import ChalcedonError

if TYPE_CHECKING:
    import numpy as np


KEPT = 256 * 2**20
"""Bytes of decoded pictures that are remembered."""


def picture_size(source: str, folder: str | None) -> tuple[int, int] | None:
    """Width and height of an image in its own px, or None when it can't be shown; `files.images` says why."""
    try:
        return image_size(source, folder)
    except ChalcedonError:
        return None


def picture(source: str, folder: str | None, wanted: tuple[float, float]) -> QImage | None:
    """The image in at least as many px as are `wanted` across and down, or all it has; None when it can't be shown.

    It is half as large as often as that allows: sampling far fewer px than there are would sparkle, and twenty
    photos of full size don't fit into memory.
    """
    try:
        width, height = image_size(source, folder)
        k = min(width / max(wanted[0], 1.0), height / max(wanted[1], 1.0))
        halvings = int(math.log2(k)) if k >= 2.0 else 0
        key = image_key(source, folder), halvings
        if key not in _pictures:
            _remember(key, _image(load_image(source, folder, halvings)))
        _pictures.move_to_end(key)
        return _pictures[key]
    except ChalcedonError:
        return None


_pictures: OrderedDict[Hashable, QImage] = OrderedDict()
"""The pictures used last, at the end the very last."""


def _remember(key: Hashable, image: QImage) -> None:
    _pictures[key] = image
    total = sum(i.sizeInBytes() for i in _pictures.values())
    while total > KEPT and len(_pictures) > 1:
        total -= _pictures.popitem(last=False)[1].sizeInBytes()


def _image(pixels: np.ndarray) -> QImage:
    height, width, _ = pixels.shape
    image = QImage(pixels.data, width, height, 4 * width, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def draw_picture(
    painter: QPainter,
    path: QPainterPath,
    box: Box,
    source: str,
    fit: str,
    folder: str | None,
    scale: float,
    over: bool = False,
) -> None:
    """Draws an image in the inside of a path. `scale` is how many device px a px of the path takes; with `over`, y runs
    up in its space."""
    if box[2] <= box[0] or box[3] <= box[1]:
        return
    size = picture_size(source, folder)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)  # for edges between px, also where a page is painted
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    spot = (0.0, 0.0, 0.0, 0.0) if size is None else fitted(box, *size, fit)
    target = QRectF(spot[0], spot[1], spot[2] - spot[0], spot[3] - spot[1])
    image = None
    if size is not None:
        image = picture(source, folder, (target.width() * scale, target.height() * scale))
    if size is None or image is None:
        _draw_missing(painter, QRectF(box[0], box[1], box[2] - box[0], box[3] - box[1]))
    elif fit == "tile":
        brush = QBrush(image)
        place = QTransform(1.0, 0.0, 0.0, -1.0, box[0], box[3]) if over else QTransform.fromTranslate(box[0], box[1])
        brush.setTransform(place.scale(size[0] / image.width(), size[1] / image.height()))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillPath(path, brush)
    else:
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if over:
            painter.translate(0.0, box[1] + box[3])
            painter.scale(1.0, -1.0)
        painter.drawImage(target, image)
    painter.restore()


def _draw_missing(painter: QPainter, box: QRectF) -> None:
    """The mark of an image that can't be shown: a pale field with its diagonals."""
    painter.fillRect(box, QColor(184, 72, 42, 26))
    pen = QPen(QColor(184, 72, 42, 190), 1.5)
    pen.setCosmetic(True)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(box)
    painter.drawLine(box.topLeft(), box.bottomRight())
    painter.drawLine(box.topRight(), box.bottomLeft())
