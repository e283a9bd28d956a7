"""What two versions of a scene disagree about, in words, and marked in the notes of the shapes."""

from __future__ import annotations

from collections.abc import Iterable

from chalcedon.scene.net import Change
from chalcedon.scene.scene import Scene
from chalcedon.source.told import tell

MARK = "merge: "
"""With this a line of a note begins that a merge has written."""


def said(conflict: Change, scene: Scene) -> str:
    """A conflict as one line."""
    return f"{conflict.id or 'scene'}: {_said(conflict, scene)}"


def mark(scene: Scene, conflicts: Iterable[Change]) -> None:
    """Writes each conflict into the note of its shape, as one undo step. Those of the scene itself have no place."""
    with scene.step("Mark what the versions disagree about"):
        for conflict in conflicts:
            shape = scene.get(conflict.id) if conflict.id else None
            if shape is not None:
                note = shape.stated("note")
                lines = [note] if isinstance(note, str) and note else []
                shape.assign("note", "\n".join([*lines, MARK + _said(conflict, scene)]))


def _said(conflict: Change, scene: Scene) -> str:
    if conflict.what == "left":
        return "one version changed it, the other took it away; it is kept."
    told = tell(conflict, scene)
    if conflict.what == "moved":
        return f"both moved it; it is {told.what} {told.before}, in the other version {told.after}."
    return f"{told.what} is {told.before} here and {told.after} in the other version."
