"""Every step of a scene, written into the recovery folder while it is done, so that a kill loses a moment at most.

Files are written by one thread for all journals. A drag does many steps of one gesture: those that come faster than
they are written become one line.
"""

from __future__ import annotations

import atexit
import os
import queue
import shutil
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from chalcedon.files.recovery import STEPS, Recovered, lines, lock, new_folder, others_with, write_about
from chalcedon.files.safely import write_safely
from chalcedon.files.seen import Seen, digest_of
from chalcedon.files.steps import Recorder, line_of
from chalcedon.files.writer import scene_bytes
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

GATHER = 0.2
"""Seconds for which steps of one gesture are gathered."""
PATIENCE = 5.0
"""Seconds that somebody waits for the thread at most."""


class Journal:
    """The journal of one scene. Never raises: `failed` says why nothing more can be kept."""

    def __init__(
        self,
        scene: Scene,
        path: Path | None = None,
        name: str = "untitled",
        seen: Seen | None = None,
        entry: Recovered | None = None,
    ) -> None:
        """`seen` is what the file at `path` held when the scene was read from it. A scene that was opened from an
        `entry` goes on with the journal of that."""
        if entry is not None:
            path, name, seen = entry.path, entry.name, entry.seen
        self._scene, self.path, self.name = scene, path, name
        self.failed = ""
        self._digest = seen.digest if seen is not None else b""
        self._begun = entry is not None
        self._whole = path is None or seen is None if entry is None else entry.whole
        """Whether what the steps begin from is in no file."""
        self._base = b""
        """What they begin from, where it can't be read from the file."""
        if self._whole and not self._begun:
            self._put_aside()
        self._pending: dict[str, Any] | None = None  # of the thread
        self._lock: int | None = None
        self.folder = new_folder() if entry is None else entry.folder
        try:
            self.folder.mkdir(parents=True, mode=0o700, exist_ok=True)
            self._lock = lock(self.folder)
        except OSError as error:
            self.failed = error.strerror or str(error)
        self._recorder: Recorder | None = Recorder(scene, self._take, 0 if entry is None else len(lines(self.folder)))
        if entry is None:
            self._post(self._write_about)

    # what is written

    def _take(self, line: dict[str, Any]) -> None:
        if self.failed and not self._begin_anew():
            return
        self._post(lambda: self._gather(line))

    def _begin_anew(self) -> bool:
        """After the beginning couldn't be had: from the scene as it is now. The steps before are lost to undoing."""
        if self._whole:
            return False
        self.failed, self._whole, self._begun = "", True, False
        self._put_aside()
        self._post(self._write_about)
        return not self.failed

    def _put_aside(self) -> None:
        """Keeps the scene as it is now."""
        try:
            self._base = scene_bytes(self._scene)
        except ChalcedonError as problem:
            self.failed = str(problem)

    def brace(self) -> None:
        """To be called before the scene is made what the file says now: what the steps begin from is put aside."""
        if not self._begun and not self._base and not self.failed:
            self._put_aside()
        self.settle()

    def mark_saved(self, path: Path, seen: Seen) -> None:
        """To be called when the scene is what the file at `path` holds now."""
        self.path, self.name = path, path.stem
        if self._begun:
            digest = seen.digest.hex()
            self._post(lambda: self._gather({"saved": digest, "path": os.fspath(path.absolute())}))
        else:
            self._whole, self._base, self._digest = False, b"", seen.digest
        self._post(self._write_about)

    def settle(self) -> bool:
        """Waits until all that was done is written: to be called before the file is overwritten, too, since what the
        steps begin from is read there. Whether it is written."""
        done = threading.Event()
        self._post(self.write_pending)
        _WRITER.post(None, done.set)
        return done.wait(PATIENCE) and not self.failed

    def leave(self) -> bool:
        """Follows the scene no longer, and leaves what is written for the next start. Whether it is all there."""
        self._stop()
        good = self.settle()
        self._unlock()
        return good

    def discard(self) -> None:
        """Follows the scene no longer, and throws away what was written."""
        self._stop()
        self._post(self._remove)
        self.settle()
        self._unlock()

    def _stop(self) -> None:
        if self._recorder is not None:
            self._recorder.close()
            self._recorder = None

    def _unlock(self) -> None:
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None

    def others(self) -> int:
        """How many other windows or programs have the same file open."""
        return others_with(self.path, self.folder) if self.path is not None else 0

    # in the thread

    def _post(self, act: Callable[[], object]) -> None:
        _WRITER.post(self, act)

    def _write_about(self) -> None:
        write_about(self.folder, self.path, self.name, self._digest, self._whole)

    def _remove(self) -> None:
        self._pending = None
        shutil.rmtree(self.folder, ignore_errors=True)

    def _gather(self, line: dict[str, Any]) -> None:
        if self._pending is not None and not _folded(self._pending, line):
            self.write_pending()
        self._pending = self._pending or line

    @property
    def gathers(self) -> bool:
        """Whether something waits to be written."""
        return self._pending is not None

    def write_pending(self) -> None:
        """Writes what waits."""
        line, self._pending = self._pending, None
        if line is None or self.failed:
            return
        if not self._begun:
            write_safely(self.folder / "scene.chal", self._beginning(), backup=False)
            (self.folder / STEPS).unlink(missing_ok=True)
            self._begun, self._base = True, b""
        with open(self.folder / STEPS, "ab") as file:
            file.write(line_of(line))
            file.flush()
            os.fdatasync(file.fileno())

    def _beginning(self) -> bytes:
        if self._base:
            return self._base
        assert self.path is not None
        data = self.path.read_bytes()
        if digest_of(data) != self._digest:
            raise ChalcedonError("the file is another than the one that was opened.", str(self.path))
        return data


def _folded(first: dict[str, Any], more: dict[str, Any]) -> bool:
    """Takes a line into the one before when both set values in one gesture; whether it was."""
    edits = first.get("edits"), more.get("edits")
    if None in edits or "gesture" not in first or first["gesture"] != more.get("gesture"):
        return False
    if not all("set" in edit for edit in (*edits[0], *edits[1])):  # type: ignore[misc]
        return False
    by: dict[tuple[str, str], dict[str, Any]] = {}
    for edit in (*edits[0], *edits[1]):  # type: ignore[misc]
        key = edit["set"], edit["name"]
        by[key] = {**edit, "old": by[key]["old"]} if key in by else edit
    first["edits"], first["step"] = list(by.values()), more["step"]
    return True


class _Writer:
    """The thread that writes. It is begun when first needed, and ends with the process."""

    def __init__(self) -> None:
        self._queue: queue.SimpleQueue[tuple[Journal | None, Callable[[], object]]] = queue.SimpleQueue()
        self._thread: threading.Thread | None = None
        self._gathered: dict[Journal, float] = {}  # of the thread: with something pending, and since when

    def post(self, journal: Journal | None, act: Callable[[], object]) -> None:
        """Has something be done; when it can't be, the journal has `failed`."""
        self._queue.put((journal, act))
        if self._thread is None or not self._thread.is_alive():
            self._thread = threading.Thread(target=self._run, daemon=True, name="journal")
            self._thread.start()

    def end(self) -> None:
        """Waits until all is written, what is gathered as well: to be called before the process ends."""
        done = threading.Event()

        def finish() -> None:
            for journal in self._gathered:
                _try(journal, journal.write_pending)
            self._gathered.clear()
            done.set()

        if self._thread is not None and self._thread.is_alive():
            self._queue.put((None, finish))
            done.wait(PATIENCE)

    def _run(self) -> None:
        gathered = self._gathered
        while True:
            journal = None
            try:
                journal, act = self._queue.get(timeout=GATHER if gathered else None)
            except queue.Empty:
                late = list(gathered)
            else:
                _try(journal, act)
                if journal is not None and journal.gathers:
                    gathered.setdefault(journal, time.monotonic())
                late = [j for j, since in gathered.items() if time.monotonic() - since > 2 * GATHER]
            for one in late:
                _try(one, one.write_pending)
                del gathered[one]


def _try(journal: Journal | None, act: Callable[[], object]) -> None:
    try:
        act()
    except Exception as problem:  # whatever it is, the next journal is written all the same
        if journal is not None:
            journal.failed = str(problem)


_WRITER = _Writer()
atexit.register(_WRITER.end)
