"""Pictures as files, with or without a running application."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice
from PySide6.QtGui import QGuiApplication

from chalcedon.files.safely import write_safely
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

SUFFIXES = (".png",)


def headless() -> QGuiApplication:
    """An application to paint with: the running one, or one that needs no screen."""
    app = QGuiApplication.instance()
    if app is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        app = QGuiApplication(["chalcedon"])
    assert isinstance(app, QGuiApplication)
    return app


def render_file(scene: Scene, path: str, scale: float = 1.0) -> None:
    """Writes the page as a PNG, beside and renamed, so that an old picture is never left half written."""
    target = Path(path)
    if target.suffix.lower() not in SUFFIXES:
        raise ChalcedonError(
            f"{target.suffix or 'no suffix'} is not a kind of picture that is written.",
            str(path),
            "End the name in .png.",
        )
    app = headless()
    image = render_image(scene, scale)
    data = QBuffer()
    data.open(QIODevice.OpenModeFlag.WriteOnly)
    if not image.save(data, "PNG"):  # type: ignore[call-overload]
        raise ChalcedonError("the picture can't be made: there may be no memory left.", str(path))
    write_safely(target, bytes(data.data().data()), "picture", backup=False)
    del app
