"""Other scenes of the folder that a scene is in."""

from __future__ import annotations

from pathlib import Path

from chalcedon.problems import ChalcedonError, nearest, shorten, shorten_name
from chalcedon.scene import Scene

SUFFIX, ZIP = ".chal", ".zip"
"""Of a scene file, and of a bundle of one with all it needs."""


def scene_beside(scene: Scene, name: str) -> Path:
    """The file of another scene of the same folder: `greenhouse` is greenhouse.chal. Raises ChalcedonError."""
    word = name.removesuffix(SUFFIX)
    if not word or word.startswith(".") or any(c in word for c in "/\\\0"):
        raise ChalcedonError(
            f"{shorten(name)} is not the name of a scene.", hint="Only scenes of its folder are opened."
        )
    if scene.folder is None:
        raise ChalcedonError("the scene is in no folder yet.", hint=f"Save it beside {shorten_name(word)}{SUFFIX}.")
    path = Path(scene.folder) / f"{word}{SUFFIX}"
    if not path.is_file():
        known = [p.stem for p in Path(scene.folder).glob(f"*{SUFFIX}")]
        raise ChalcedonError(f"there is no scene {shorten_name(word)} in its folder.", hint=nearest(word, known))
    return path
