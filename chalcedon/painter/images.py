"""Images as Qt pictures, fitted into boxes."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QTransform

from chalcedon.files.images import load_image
from chalcedon.geometry import Box
from chalcedon.problems import ChalcedonError


def picture(source: str, folder: str | None) -> QImage | None:
    """The image, or None when it can't be shown; `images.load_image` says why."""
    try:
        pixels = load_image(source, folder)
    except ChalcedonError:
        return None
    return _image(id(pixels), source, folder)


@lru_cache(maxsize=64)
def _image(key: int, source: str, folder: str | None) -> QImage:
    pixels = load_image(source, folder)
    height, width, _ = pixels.shape
    image = QImage(pixels.tobytes(), width, height, 4 * width, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def fitted(box: Box, width: int, height: int, fit: str) -> QRectF:
    """Where an image of a size goes in a box (CSS Images 3, section 5.5: object-fit, centred)."""
    w, h = box[2] - box[0], box[3] - box[1]
    if fit in ("contain", "scale-down"):
        k = min(w / width, h / height)
        k = min(k, 1.0) if fit == "scale-down" else k
        iw, ih = width * k, height * k
    elif fit == "cover":
        k = max(w / width, h / height)
        iw, ih = width * k, height * k
    elif fit == "fill":
        iw, ih = w, h
    else:
        iw, ih = float(width), float(height)
    return QRectF(box[0] + (w - iw) / 2, box[1] + (h - ih) / 2, iw, ih)


def draw_picture(
    painter: QPainter, path: QPainterPath, box: Box, source: str, fit: str, folder: str | None, scale: float
) -> None:
    """Draws an image in the inside of a path. `scale` is how many device px a px of the path takes."""
    if box[2] <= box[0] or box[3] <= box[1]:
        return
    image = picture(source, folder)
    painter.save()
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    if image is None:
        _draw_missing(painter, QRectF(box[0], box[1], box[2] - box[0], box[3] - box[1]))
    elif fit == "tile":
        brush = QBrush(image)
        brush.setTransform(QTransform.fromTranslate(box[0], box[1]))
        painter.fillPath(path, brush)
    else:
        target = fitted(box, image.width(), image.height(), fit)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(target, reduced(image, target.width() * scale, target.height() * scale))
    painter.restore()


def reduced(image: QImage, width: float, height: float) -> QImage:
    """The image, or one half as large as often as needed: sampling far fewer px than there are would sparkle."""
    k = min(image.width() / max(width, 1.0), image.height() / max(height, 1.0))
    halves = 0
    while k >= 2.0:
        k, halves = k / 2, halves + 1
    return _halved(image.cacheKey(), halves, image) if halves else image


_halves: dict[tuple[int, int], QImage] = {}


def _halved(key: int, halves: int, image: QImage) -> QImage:
    found = _halves.get((key, halves))
    if found is None:
        if len(_halves) > 64:
            _halves.clear()
        found = _halves[key, halves] = image.scaled(
            max(1, image.width() >> halves),
            max(1, image.height() >> halves),
            Qt.AspectRatioMode.IgnoreAspectRatio,
            Qt.TransformationMode.SmoothTransformation,
        )
    return found


def _draw_missing(painter: QPainter, box: QRectF) -> None:
    """The mark of an image that can't be shown: a pale field with its diagonals."""
    painter.fillRect(box, QColor(184, 72, 42, 26))
    pen = QPen(QColor(184, 72, 42, 190), 1.5)
    pen.setCosmetic(True)
    pen.setDashPattern([5, 4])
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(box)
    painter.drawLine(box.topLeft(), box.bottomRight())
    painter.drawLine(box.topRight(), box.bottomLeft())
