"""The proof that a file holds what is open: it is read back after saving and compared, value by value."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from threading import Thread

from PySide6.QtCore import QObject, Signal

from chalcedon.files import open_scene, scene_bytes
from chalcedon.files.seen import digest_of
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.scene.diff import diff
from chalcedon.scene.net import Net
from chalcedon.source.told import tell

MOST_COMPARED = 30_000
"""Shapes up to which values are compared one by one, which takes the window's time. Of more, what the file holds must
come to the very bytes that were written."""


class Proof(QObject):
    """Reads in a thread of its own; the answer is given in the window's."""

    _was_read = Signal(object)

    def __init__(self, answer: Callable[[str], object]) -> None:
        """`answer` is told what differs; an empty text when nothing does. It isn't called for a scene that has been
        changed, or saved again, in the meantime."""
        super().__init__()
        self._answer = answer
        self._run = 0
        self._was_read.connect(self._compare)

    def begin(self, scene: Scene, path: Path, digest: bytes) -> None:
        """Reads the file that the scene was just saved to. `digest` is that of its bytes."""
        self._run += 1
        Thread(target=self._read, args=(self._run, scene, path, digest), daemon=True).start()

    def _read(self, run: int, scene: Scene, path: Path, digest: bytes) -> None:
        found: Scene | str | None
        try:
            found = open_scene(path).scene
            if len(found) > MOST_COMPARED:
                found = None if digest_of(scene_bytes(found)) == digest else "it says something else when read"
        except ChalcedonError as problem:
            found = problem.sentence
        try:
            self._was_read.emit((run, scene, found))
        except RuntimeError:
            pass  # the window has closed

    def _compare(self, answer: tuple[int, Scene, Scene | str | None]) -> None:
        run, scene, found = answer
        if run != self._run or scene.history.changed:
            return
        if isinstance(found, Scene):
            edits = diff(scene, found)
            found = str(tell(next(Net.of(edits).changes(scene)), scene)) if edits else None
        self._answer(found or "")
