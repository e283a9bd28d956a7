"""The last versions of a scene file, kept each time it is saved from a window: in a folder of their own."""

from __future__ import annotations

import contextlib
import hashlib
import os
from dataclasses import dataclass
from pathlib import Path

import platformdirs

from chalcedon.files.reader import open_scene
from chalcedon.files.safely import write_safely
from chalcedon.files.seen import Seen, digest_of, save_seen
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

MOST = 12
"""Versions of one file."""
MOST_BYTES = 64 << 20
"""Together; the last two are kept whatever they take."""


@dataclass(frozen=True, slots=True)
class Version:
    """What a file held. `when` is in seconds since 1970: when it was written, as far as that is known."""

    file: Path
    when: float
    of: Path

    def open(self) -> Scene:
        """The scene, with links looked for beside the file that it is a version of. Raises ChalcedonError."""
        scene = open_scene(self.file).scene
        scene.folder = str(self.of.parent)
        return scene

    def holds(self, data: bytes) -> bool:
        """Whether it is just that."""
        return self.file.stem.endswith(digest_of(data).hex())


def versions_folder(path: Path) -> Path:
    """Where the versions of a file are kept."""
    name = hashlib.blake2b(os.fsencode(os.path.realpath(path)), digest_size=12).hexdigest()
    return Path(platformdirs.user_state_dir("chalcedon")) / "versions" / name


def versions(path: Path) -> list[Version]:
    """The versions of a file that are kept, the newest first."""
    out = []
    with contextlib.suppress(OSError):
        for file in versions_folder(path).glob("*.chal"):
            with contextlib.suppress(ValueError):
                out.append(Version(file, int(file.name.split("-")[0]) / 1000, path))
    return sorted(out, key=lambda v: v.when, reverse=True)


def save_kept(scene: Scene, path: Path) -> tuple[list[str], Seen]:
    """Saves a scene as `save_seen` does, and keeps what the file held before and holds now. Raises ChalcedonError."""
    _keep(path)
    out = save_seen(scene, path)
    _keep(path)
    return out


def _keep(path: Path) -> None:
    # nothing is raised: a version is worth less than the saving that it is of
    with contextlib.suppress(OSError, ChalcedonError):
        when, data, found = path.stat().st_mtime, path.read_bytes(), versions(path)
        if found and found[0].holds(data):
            return
        file = versions_folder(path) / f"{int(when * 1000):013d}-{digest_of(data).hex()}.chal"
        file.parent.mkdir(parents=True, mode=0o700, exist_ok=True)
        write_safely(file, data, "version", backup=False)
        _thin(versions(path))


def _thin(found: list[Version]) -> None:
    total = 0
    for number, version in enumerate(found):
        total += version.file.stat().st_size
        if number >= MOST or (number >= 2 and total > MOST_BYTES):
            version.file.unlink(missing_ok=True)
