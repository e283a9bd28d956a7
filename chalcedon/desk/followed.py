"""What has changed: since the file was read or written, and by the step that was done, undone or redone last."""

from __future__ import annotations

from dataclasses import dataclass, field

from chalcedon.evaluate import Changes, DisplayList
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import union
from chalcedon.scene import Scene, Shape
from chalcedon.scene.history import UndoStep
from chalcedon.scene.net import Net

MOST_BOXES = 400
"""Places of a step that are kept apart; more of them become one."""


@dataclass(slots=True)
class Last:
    """The last step: `done`, `undone` or `redone`, and the scene px that looked different before or after it."""

    what: str
    step: UndoStep
    boxes: list[Box] = field(default_factory=list)

    @property
    def net(self) -> Net:
        """What it came to."""
        net = Net()
        if self.what == "undone":
            net.back(self.step.edits)
        else:
            for edit in self.step.edits:
                net.add(edit)
        return net


class Followed:
    """Follows the history of a scene and what is painted of it."""

    def __init__(self, scene: Scene, display: DisplayList) -> None:
        self.scene = scene
        self.unsaved = Net()
        self.last: Last | None = None
        self._known: tuple[int, set[Shape], set[Shape]] = (-1, set(), set())
        scene.history.listeners.append(self._hear)
        display.readers.append(self._see)

    def saved(self) -> None:
        """The scene as it is now is what a file holds."""
        self.unsaved.clear()

    def _hear(self, what: str, step: UndoStep) -> None:
        if what in ("done", "redone"):
            for edit in step.edits:
                self.unsaved.add(edit)
            now = self.scene.history.done[-1]
            more = what == "done" and self.last is not None and self.last.step is now and self.last.what != "undone"
            if not more:  # else it is more of the same gesture
                self.last = Last(what, now)
        elif what in ("undone", "taken_back"):
            self.unsaved.back(step.edits)
            self.last = Last(what, step) if what == "undone" else None

    def _see(self, changes: Changes) -> None:
        if self.last is None:
            return
        boxes = self.last.boxes
        boxes += changes.boxes
        if len(boxes) > MOST_BOXES:
            boxes[:] = [union(boxes)]

    @property
    def version(self) -> int:
        """Rises when other shapes than before differ from what was saved."""
        return self.unsaved.version

    def changed(self) -> tuple[set[Shape], set[Shape]]:
        """The shapes that differ from what was saved, and the groups around them."""
        if self._known[0] != self.unsaved.version:
            own = self.unsaved.touched(self.scene)
            around: set[Shape] = set()
            for shape in own:
                parent = shape.parent
                while parent is not None and parent not in around:
                    around.add(parent)
                    parent = parent.parent
            self._known = self.unsaved.version, own, around
        return self._known[1], self._known[2]
