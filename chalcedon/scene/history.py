"""Undo and redo without limit. A gesture of many edits is one step with a readable name."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from chalcedon.scene.edits import Edit, SetValue


@dataclass(slots=True)
class UndoStep:
    """What one undo takes back."""

    name: str
    edits: list[Edit] = field(default_factory=list)
    gesture: object = None


class History:
    """Invariant: applying the inverses of `done` from last to first gives the scene as it was opened."""

    def __init__(self) -> None:
        self.done: list[UndoStep] = []
        self.undone: list[UndoStep] = []
        self._saved: UndoStep | None = None
        self._saved_lost = False
        self.listeners: list[Callable[[str, UndoStep], object]] = []
        """Told of every step that is `done`, `failed` (and so taken back at once), `undone`, `redone` or `taken_back`
        for good, and when the gesture of the last step `ended`."""

    def tell(self, what: str, step: UndoStep) -> None:
        """Tells the listeners."""
        for listener in self.listeners:
            listener(what, step)

    def push(self, step: UndoStep) -> None:
        """Records a finished step. A step of the same gesture as the last is merged into it."""
        if not step.edits:
            return
        self._push(step)
        self.tell("done", step)

    def _push(self, step: UndoStep) -> None:
        last = self.done[-1] if self.done else None
        if self.undone and self._saved in self.undone:
            self._saved_lost = True
        self.undone.clear()
        if last is not None and step.gesture is not None and last.gesture == step.gesture and last is not self._saved:
            last.edits = _merge(last.edits, step.edits)
            last.name = step.name
            return
        self.done.append(step)

    def end_gesture(self) -> None:
        """The next step starts anew, whatever its gesture."""
        if self.done and self.done[-1].gesture is not None:
            self.done[-1].gesture = None
            self.tell("ended", self.done[-1])

    def mark_unsaved(self) -> None:
        """The scene as it is now is in no file."""
        self._saved_lost = True

    def mark_saved(self) -> None:
        """The scene as it is now is what a file holds."""
        self._saved = self.done[-1] if self.done else None
        self._saved_lost = False
        self.end_gesture()

    @property
    def changed(self) -> bool:
        """Whether the scene differs from what was last saved."""
        return self._saved_lost or (self.done[-1] if self.done else None) is not self._saved


def _merge(before: list[Edit], after: list[Edit]) -> list[Edit]:
    """Both lists in order, with repeated settings of one property folded into the first of them.

    Only sound while every edit sets values; anything else is kept as it is.
    """
    if not all(isinstance(e, SetValue) for e in (*before, *after)):
        return before + after
    folded: dict[tuple[str, str], SetValue] = {}
    for edit in (*before, *after):
        assert isinstance(edit, SetValue)
        key = (edit.about, edit.name)
        first = folded.get(key)
        folded[key] = edit if first is None else SetValue(edit.about, edit.name, first.old, edit.new)
    return list(folded.values())
