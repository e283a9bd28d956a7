"""Files of any kind that holds a scene: scene files, bundles of them, and SVG."""

from __future__ import annotations

import os
from pathlib import Path

from chalcedon.files.beside import ZIP
from chalcedon.files.reader import Opened, open_scene

SVG = ".svg"


def is_svg(path: str | os.PathLike[str]) -> bool:
    """Whether a file is an SVG, by its name."""
    return Path(path).suffix.lower() == SVG


def is_foreign(path: str | os.PathLike[str]) -> bool:
    """Whether a file, by its name, is one that a scene is taken out of, so that saving goes to another file."""
    return Path(path).suffix.lower() in (SVG, ZIP)


def open_any(path: str | os.PathLike[str]) -> Opened:
    """The scene in a scene file, a bundle or an SVG file. Raises ChalcedonError when it can't be opened at all."""
    if is_svg(path):
        from chalcedon.files.svgin import open_svg  # parsers that few need

        return open_svg(path)
    if Path(path).suffix.lower() == ZIP:
        from chalcedon.files.packed import open_bundle

        return open_bundle(path)
    return open_scene(path)
