"""Work that was in no file when the program had to end: kept in a folder of its own, and offered at the next start.

One folder a scene: `scene.chal`, and `about.json` with the file that it belongs to, its name, and what that file held.
"""

from __future__ import annotations

import contextlib
import os
import secrets
import shutil
import time
from dataclasses import dataclass
from pathlib import Path

import orjson
import platformdirs

from chalcedon.files.safely import write_safely
from chalcedon.files.seen import Seen
from chalcedon.files.writer import scene_bytes
from chalcedon.scene import Scene


def recovery_folder() -> Path:
    """Where unsaved work is kept between runs."""
    return Path(platformdirs.user_state_dir("chalcedon")) / "recovery"


@dataclass(frozen=True, slots=True)
class Recovered:
    """Work that was kept. `path` is None for a scene that never was in a file; `when` is in seconds since 1970."""

    folder: Path
    path: Path | None
    name: str
    when: float
    seen: Seen | None

    @property
    def scene_file(self) -> Path:
        """The scene as it was."""
        return self.folder / "scene.chal"

    def remove(self) -> None:
        """Throws it away."""
        shutil.rmtree(self.folder, ignore_errors=True)


def keep(scene: Scene, path: Path | None, name: str, seen: Seen | None = None) -> Recovered:
    """Writes a scene into the recovery folder. Raises ChalcedonError when that can't be done."""
    folder = recovery_folder() / f"{time.strftime('%Y%m%d-%H%M%S')}-{os.getpid()}-{secrets.token_hex(3)}"
    folder.mkdir(parents=True, mode=0o700)
    entry = Recovered(folder, path, name, time.time(), seen)
    write_safely(entry.scene_file, scene_bytes(scene), backup=False)
    about = {
        "path": None if path is None else os.fspath(path),
        "name": name,
        "when": entry.when,
        "digest": seen.digest.hex() if seen is not None else "",
    }
    write_safely(folder / "about.json", orjson.dumps(about), backup=False)
    return entry


def kept() -> list[Recovered]:
    """What is kept, oldest first. What can't be read is left where it is."""
    out = []
    with contextlib.suppress(OSError):
        for folder in sorted(recovery_folder().iterdir()):
            try:
                about = orjson.loads((folder / "about.json").read_bytes())
                if not (folder / "scene.chal").is_file():
                    continue
                path, digest = about["path"], bytes.fromhex(about["digest"])
                seen = Seen(None, digest) if digest else None
                name, when = str(about["name"]), float(about["when"])
                out.append(Recovered(folder, Path(path) if isinstance(path, str) else None, name, when, seen))
            except (OSError, ValueError, KeyError, TypeError):
                continue
    return out
