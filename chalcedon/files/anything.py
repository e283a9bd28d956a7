"""Files of any kind that holds a scene: scene files, and SVG."""

from __future__ import annotations

import os
from pathlib import Path

from chalcedon.files.reader import Opened, open_scene

SVG = ".svg"


def is_svg(path: str | os.PathLike[str]) -> bool:
    """Whether a file is an SVG, by its name."""
    return Path(path).suffix.lower() == SVG


def open_any(path: str | os.PathLike[str]) -> Opened:
    """The scene in a scene file or an SVG file. Raises ChalcedonError when it can't be opened at all."""
    if is_svg(path):
        from chalcedon.files.svgin import open_svg  # parsers that few need

        return open_svg(path)
    return open_scene(path)
