"""Work that was in no file when the program ended: kept in a folder of its own, and offered at the next start.

One folder a scene that is or was open, with

    about.json    the file that it belongs to, its name, when it was opened, and a digest of what the file held then
    scene.chal    the scene that the steps begin from; written before the first of them
    steps.jsonl   the steps as lines (see `steps`), and {"saved": digest, "path": file} where the scene was saved
    lock          held while the scene is open
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import secrets
import shutil
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import orjson
import platformdirs

from chalcedon.files.reader import Opened, read_file, read_scene_of
from chalcedon.files.safely import write_safely
from chalcedon.files.seen import Seen
from chalcedon.files.steps import play
from chalcedon.files.writer import scene_bytes
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

STEPS = "steps.jsonl"
_SAVED = b'{"saved"'
TRIES = 25
"""How often a lock is asked for that is held."""


def recovery_folder() -> Path:
    """Where unsaved work is kept between runs."""
    return Path(platformdirs.user_state_dir("chalcedon")) / "recovery"


def new_folder() -> Path:
    """A name for the folder of a scene, which isn't made yet. Names sort by time."""
    return recovery_folder() / f"{time.strftime('%Y%m%d-%H%M%S')}-{os.getpid()}-{secrets.token_hex(3)}"


def write_about(folder: Path, path: Path | None, name: str, digest: bytes, whole: bool) -> None:
    """Writes what a folder is about; `whole`: no file ever held what its steps begin from. Raises ChalcedonError."""
    about = {
        "path": None if path is None else os.fspath(path.absolute()),
        "name": name,
        "when": time.time(),
        "digest": digest.hex(),
        "whole": whole,
    }
    write_safely(folder / "about.json", orjson.dumps(about), backup=False)


def lock(folder: Path) -> int | None:
    """Takes the lock of a folder for as long as the file descriptor that it gives is open. None while somebody else has
    it. Raises OSError."""
    handle = _handle(folder)
    for _ in range(TRIES):
        with contextlib.suppress(BlockingIOError):
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return handle
        time.sleep(0.01)  # somebody may just be looking whether it is held
    os.close(handle)
    return None


def _handle(folder: Path) -> int:
    return os.open(folder / "lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)


def _is_open(folder: Path) -> bool:
    try:
        handle = _handle(folder)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)  # several may look at once
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


@dataclass(frozen=True, slots=True)
class Recovered:
    """Work that was kept. `path` is None for a scene that never was in a file; `when` is in seconds since 1970; `seen`
    is what the file held; `steps` is how many steps were done since."""

    folder: Path
    path: Path | None
    name: str
    when: float
    seen: Seen | None
    steps: int
    whole: bool

    @property
    def scene_file(self) -> Path:
        """The scene as it was before its steps."""
        return self.folder / "scene.chal"

    @property
    def is_open(self) -> bool:
        """Whether somebody has opened it since, or does so now."""
        return _is_open(self.folder)

    def open(self) -> Opened:
        """The scene as it was, with the steps that lead there to be taken back. Raises ChalcedonError.

        Steps after one that can't be done again are left out, of the file too, and what is missing is in `notices`."""
        if self.is_open:
            raise ChalcedonError("somebody has opened it since.", self.name, "Look for it in the other windows.")
        data = read_file(self.scene_file)
        opened = read_scene_of(self.path or self.scene_file, data)
        scene = opened.scene
        if self.whole:
            scene.history.mark_unsaved()
        done, good = lines(self.folder), 0
        for number, line in enumerate(done):
            try:
                if line.startswith(_SAVED):
                    scene.history.mark_saved()
                else:
                    play(scene, line)
            except ChalcedonError as problem:
                left = len(done) - number
                notice = f"The last {left} steps" if left > 1 else "The last step"
                opened.notices.append(f"{notice} could not be done again: {problem}")
                break
            good += len(line) + 1
        with contextlib.suppress(OSError):
            os.truncate(self.folder / STEPS, good)
        return opened

    def remove(self) -> None:
        """Throws it away; not what somebody has opened since."""
        if not self.is_open:
            shutil.rmtree(self.folder, ignore_errors=True)


def lines(folder: Path) -> list[bytes]:
    """The whole lines of a journal: the last may have been cut by the kill."""
    try:
        return (folder / STEPS).read_bytes().split(b"\n")[:-1]
    except OSError:
        return []


def keep(scene: Scene, path: Path | None, name: str, seen: Seen | None = None) -> Recovered:
    """Writes a scene into the recovery folder, for whom no journal is kept. Raises ChalcedonError, or OSError."""
    folder = new_folder()
    folder.mkdir(parents=True, mode=0o700)
    write_safely(folder / "scene.chal", scene_bytes(scene), backup=False)
    write_about(folder, path, name, seen.digest if seen is not None else b"", True)
    return Recovered(folder, path, name, time.time(), seen, 0, True)


def kept() -> list[Recovered]:
    """What is kept, oldest first. What is open somewhere is left out; what can't be read is left where it is; what was
    saved before its program ended is cleared away."""
    out = []
    for folder in _folders():
        if _is_open(folder):
            continue
        try:
            entry = _entry(folder)
        except (OSError, ValueError, KeyError, TypeError):
            continue
        if entry.scene_file.is_file() and (entry.whole or entry.steps):
            out.append(entry)
        elif time.time() - entry.when > _YOUNG:
            entry.remove()
    return out


_YOUNG = 60.0
"""Seconds in which a folder may still be in the making."""


def _entry(folder: Path) -> Recovered:
    about = orjson.loads((folder / "about.json").read_bytes())
    path, digest, whole = about["path"], bytes.fromhex(about["digest"]), about.get("whole", True)
    when, steps = float(about["when"]), 0
    for line in lines(folder):
        steps += 1
        if line.startswith(_SAVED):
            saved = orjson.loads(line)
            path, digest, whole, steps = saved["path"], bytes.fromhex(saved["saved"]), False, 0
    with contextlib.suppress(OSError):
        when = max(when, (folder / STEPS).stat().st_mtime)
    seen = Seen(None, digest) if digest else None
    place = Path(path) if isinstance(path, str) else None
    return Recovered(folder, place, str(about["name"]), when, seen, steps, bool(whole))


def _folders() -> Iterator[Path]:
    with contextlib.suppress(OSError):
        yield from sorted(recovery_folder().iterdir())


def others_with(path: Path, but: Path) -> int:
    """How many other folders than one are of scenes that are open and belong to the same file."""
    here = os.path.realpath(path)
    count = 0
    for folder in _folders():
        if folder.name == but.name:
            continue
        with contextlib.suppress(OSError, ValueError, KeyError, TypeError):
            about = orjson.loads((folder / "about.json").read_bytes())
            same = isinstance(about["path"], str) and os.path.realpath(about["path"]) == here
            count += same and _is_open(folder)
    return count
