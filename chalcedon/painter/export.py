"""Pictures as files, with or without a running application."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QBuffer, QIODevice
from PySide6.QtGui import QGuiApplication, QImage

from chalcedon.evaluate import DisplayList
from chalcedon.files.safely import write_safely
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

if TYPE_CHECKING:
    from numpy import uint8
    from numpy.typing import NDArray

SUFFIXES = (".png",)


def headless() -> QGuiApplication:
    """An application to paint with: the running one, or one that needs no screen."""
    app = QGuiApplication.instance()
    if app is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        app = QGuiApplication(["chalcedon"])
    assert isinstance(app, QGuiApplication)
    return app


def png_bytes(scene: Scene, scale: float = 1.0) -> bytes:
    """The page as a PNG."""
    return _png(lambda: render_image(scene, scale))


def write_png(path: str, make: Callable[[], QImage]) -> None:
    """Writes a picture as a PNG; `make` is called when there is an application to paint with. Raises ChalcedonError."""
    target = Path(path)
    if target.suffix.lower() not in SUFFIXES:
        raise ChalcedonError(
            f"{target.suffix or 'no suffix'} is not a kind of picture that is written.",
            str(path),
            "End the name in .png.",
        )
    write_safely(target, _png(make), "picture", backup=False)


def _png(make: Callable[[], QImage]) -> bytes:
    app = headless()
    data = image_bytes(make(), "PNG")
    del app
    return data


def image_bytes(image: QImage, kind: str) -> bytes:
    """An image as a file of a kind: PNG, or WebP without loss. Raises ChalcedonError."""
    if kind == "WebP":
        import io

        from PIL import Image

        if max(image.width(), image.height()) > 16_383:
            raise ChalcedonError(
                "a WebP picture has 16383 px a side at most.", hint="Give a smaller scale, or write a PNG."
            )
        plain = image.convertToFormat(QImage.Format.Format_RGBA8888)
        size = plain.width(), plain.height()
        out = io.BytesIO()
        Image.frombuffer("RGBA", size, bytes(plain.constBits()), "raw", "RGBA", plain.bytesPerLine(), 1).save(
            out, "WEBP", lossless=True, exact=True
        )
        return out.getvalue()
    data = QBuffer()
    data.open(QIODevice.OpenModeFlag.WriteOnly)
    if not image.save(data, "PNG"):  # type: ignore[call-overload]
        raise ChalcedonError("the picture can't be made: there may be no memory left.")
    return bytes(data.data().data())


def rgba_array(scene: Scene | DisplayList, scale: float = 1.0) -> NDArray[uint8]:
    """The page as an array (height, width, 4) of red, green, blue and alpha, not premultiplied."""
    import numpy as np

    app = headless()
    image = render_image(scene, scale).convertToFormat(QImage.Format.Format_RGBA8888)
    raw: Any = np.frombuffer(image.constBits(), np.uint8)
    del app
    rows = raw.reshape(image.height(), image.bytesPerLine() // 4, 4)
    return rows[:, : image.width()].copy()
