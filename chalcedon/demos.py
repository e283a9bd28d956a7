"""The scenes that ship."""

from __future__ import annotations

import sys
from pathlib import Path

from chalcedon.files import open_scene
from chalcedon.problems import ChalcedonError, nearest
from chalcedon.scene import Scene


def _folder() -> Path:
    beside = Path(__file__).resolve().parent.parent / "demo"
    return beside if beside.is_dir() else Path(sys.prefix) / "share" / "chalcedon" / "demo"


def demo_names() -> list[str]:
    """The names of the demos that ship."""
    return sorted(p.stem for p in _folder().glob("*.chal"))


def demo_path(name: str) -> Path:
    """The file of a demo. Raises ChalcedonError with the names there are."""
    if name not in demo_names():
        raise ChalcedonError(f"there is no demo {name}.", hint=nearest(name, demo_names()))
    return _folder() / f"{name}.chal"


def demo_scene(name: str) -> Scene:
    """A demo as a scene that is in no file. Raises ChalcedonError for a name that there isn't."""
    return open_scene(demo_path(name)).scene
