"""What was selected before each of the last steps."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from chalcedon.scene import Scene, Shape
from chalcedon.scene.history import UndoStep

KEPT = 200
"""Steps."""
MOST = 1000
"""Shapes; of more it is not remembered."""


class Earlier:
    """Where nothing is left of what an undone step touched, what was selected before it is what a hand goes on with."""

    def __init__(self, scene: Scene, selection: Callable[[], Sequence[Shape]]) -> None:
        self._scene, self._selection = scene, selection
        self._known: dict[int, list[str]] = {}  # by id(step): a step that is gone is overwritten before it is asked for
        scene.history.listeners.append(self._hear)

    def close(self) -> None:
        self._scene.history.listeners.remove(self._hear)

    def _hear(self, what: str, step: UndoStep) -> None:
        if what != "done" or step is not self._scene.history.done[-1]:
            return  # more of a gesture: what was selected before its beginning counts
        chosen = self._selection()
        self._known[id(step)] = [s.id for s in chosen] if len(chosen) <= MOST else []
        if len(self._known) > KEPT:
            del self._known[next(iter(self._known))]

    def before(self, step: UndoStep) -> list[Shape]:
        """The shapes that were selected before a step, those that there still are."""
        found = map(self._scene.get, self._known.get(id(step), ()))
        return [s for s in found if s is not None]
