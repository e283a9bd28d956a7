"""Pictures as files, with or without a running application."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from PySide6.QtGui import QGuiApplication

from chalcedon.files.writer import usual_mode
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
    try:
        handle, name = tempfile.mkstemp(suffix=target.suffix, dir=target.parent)
        os.close(handle)
    except OSError as error:
        raise ChalcedonError(f"the picture can't be written: {error.strerror}.", str(path)) from None
    try:
        if not image.save(name):
            raise ChalcedonError("the picture can't be written: the disk may be full.", str(path))
        os.chmod(name, usual_mode())
        os.replace(name, target)
    finally:
        if os.path.exists(name):
            os.unlink(name)
    del app
