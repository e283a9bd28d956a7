"""What a file held when it was read or written here, so that another program's change is noticed."""

from __future__ import annotations

import hashlib
import os
from dataclasses import dataclass
from pathlib import Path

from chalcedon.files.reader import Opened, read_file, read_scene_of
from chalcedon.files.safely import write_safely
from chalcedon.files.writer import check_name, scene_bytes
from chalcedon.scene import Scene

Stamp = tuple[int, int, int, int]


@dataclass(slots=True)
class Seen:
    """Identity, size and times of a file, to look at it quickly, and a digest of its contents, to be sure."""

    stamp: Stamp | None
    digest: bytes

    def differs(self, path: Path, thorough: bool = False) -> bool:
        """Whether the file at `path` holds something else now. A file that is gone doesn't.

        The quick look takes equal stamps for equal contents. A file that was touched, moved or written with the same
        contents is no other.
        """
        now = stamp_of(path)
        if now is None or (now == self.stamp and not thorough):
            return False
        try:
            digest = digest_of(path.read_bytes())
        except OSError:
            return False
        if digest != self.digest:
            return True
        self.stamp = now
        return False


def stamp_of(path: Path) -> Stamp | None:
    """None when there is no such file. The time of change can't be set back, unlike that of writing."""
    try:
        s = os.stat(path)
    except (OSError, ValueError):
        return None
    return s.st_ino, s.st_size, s.st_mtime_ns, s.st_ctime_ns


def digest_of(data: bytes) -> bytes:
    """A digest of 16 bytes: equal contents have equal ones."""
    return hashlib.blake2b(data, digest_size=16).digest()


def open_seen(path: Path) -> tuple[Opened, Seen]:
    """Opens a scene and notes what the file held. Raises ChalcedonError, as `open_scene` does."""
    stamp = stamp_of(path)
    data = read_file(path)
    return read_scene_of(path, data), Seen(stamp, digest_of(data))


def save_seen(scene: Scene, path: Path) -> tuple[list[str], Seen]:
    """Saves a scene and notes what the file holds. Raises ChalcedonError, as `save_scene` does; gives what it gives."""
    check_name(path)
    data = scene_bytes(scene)
    lost = write_safely(path, data)
    return lost, Seen(stamp_of(path), digest_of(data))
