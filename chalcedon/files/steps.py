"""Steps of a history as lines of JSON, to be done again in another process that has the same scene.

    {"step":"Move moon","edits":[{"set":"moon","name":"at","old":[742,118],"new":[700,118]}]}

`Recorder` gives them while they are done, `line_of` writes one, `play` does one again. Going back and forth is written
too, so that a scene played from its file has the same history.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from chalcedon import exact
from chalcedon.files.reader import read_scene
from chalcedon.files.writer import shape_bytes
from chalcedon.problems import ChalcedonError, ValueProblem, shorten
from chalcedon.scene import Scene, Shape
from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.history import UndoStep
from chalcedon.scene.values import same


def edit_data(edit: Edit, scene: Scene) -> dict[str, Any]:
    """An edit as JSON values. To be called while `scene` stands as just before or just after the edit: what it brings
    or takes away is written as it is now."""
    match edit:
        case SetValue(about, name, old, new):
            write = scene.owner(about).properties[name].kind.write
            return {"set": about, "name": name, "old": write(old), "new": write(new)}
        case Insert(shape, parent, index):
            return {"insert": exact.decode(shape_bytes(shape)), "in": parent, "index": index}
        case Remove(shape, parent, index):
            return {"remove": exact.decode(shape_bytes(shape)), "in": parent, "index": index}
        case Move(about, old_parent, old_index, parent, index):
            return {"move": about, "from": old_parent, "old_index": old_index, "in": parent, "index": index}
        case Rename(old, new):
            return {"rename": old, "new": new}
        case DropRaw(about, name, raw):
            return {"drop": about, "name": name, "raw": raw}
        case KeepRaw(about, name, raw):
            return {"keep": about, "name": name, "raw": raw}
    raise AssertionError(edit)


def edit_of(raw: Any, scene: Scene) -> Edit:
    """The edit that `edit_data` wrote, for a scene that stands as it did before it. Raises ChalcedonError."""
    try:
        return _edit_of(raw, scene)
    except (KeyError, TypeError, IndexError) as error:
        raise ValueProblem(f"{shorten(raw)} is not an edit of this scene: {error!r}.") from None


def _edit_of(raw: Any, scene: Scene) -> Edit:
    match raw:
        case {"set": str(about), "name": str(name), "old": old, "new": new}:
            owner = scene.owner(about)
            read = owner.declared(name).kind.read
            before = read(old)
            if not same(owner.stated(name), before):
                raise ValueProblem(f"{shorten(name)} of {about or 'the scene'} isn't what it was.")
            return SetValue(about, name, before, read(new))
        case {"insert": data, "in": str(parent), "index": int(index)}:
            shape = _shape_of(data)
            if not 0 <= index <= len(scene.group(parent)._children) or any(s._id in scene for s in shape.walk()):
                raise ValueProblem(f"{shape._called} doesn't fit into this scene.")
            return Insert(shape, parent, index)
        case {"remove": dict(data), "in": str(parent), "index": int(index)}:
            shape = scene.group(parent)._children[index]
            if shape._id != data.get("id"):
                raise ValueProblem(f"{shorten(data.get('id'))} isn't where it was.")
            return Remove(shape, parent, index)
        case {"move": str(about), "from": str(old), "old_index": int(i), "in": str(parent), "index": int(index)}:
            if scene.group(old)._children[i]._id != about or index < 0:
                raise ValueProblem(f"{about} isn't where it was.")
            scene.group(parent)
            return Move(about, old, i, parent, index)
        case {"rename": str(old), "new": str(new)}:
            if old not in scene or new in scene:
                raise ValueProblem(f"{shorten(old)} can't become {shorten(new)} here.")
            return Rename(old, new)
        case {"drop": str(about), "name": str(name), "raw": given}:
            if scene.owner(about)._extra[name] != given:
                raise ValueProblem(f"what stands at {shorten(name)} is another value.")
            return DropRaw(about, name, given)
        case {"keep": str(about), "name": str(name), "raw": given}:
            scene.owner(about)
            return KeepRaw(about, name, given)
    raise ValueProblem(f"{shorten(raw)} is not an edit.")


def _shape_of(data: Any) -> Shape:
    """A shape in no scene, of what stands in a file for it."""
    scene = read_scene(exact.encode({"chalcedon": 1, "shapes": [data]})).scene
    shape = scene.top.let_go(0)
    scene.dismiss(shape.walk())
    return shape


class Recorder:
    """Hands every step of a scene, as it is done, taken back or done again, to `sink` as JSON values that nobody else
    has. Gestures are numbered on from `first`."""

    def __init__(self, scene: Scene, sink: Callable[[dict[str, Any]], object], first: int = 0) -> None:
        self._scene, self._sink = scene, sink
        self._edits: list[dict[str, Any]] = []
        self._gesture: object = None
        self._number = first
        scene.observers.append(self._note)
        scene.history.listeners.append(self._hear)

    def close(self) -> None:
        """Follows the scene no longer."""
        self._scene.observers.remove(self._note)
        self._scene.history.listeners.remove(self._hear)

    def _note(self, edit: Edit) -> None:
        self._edits.append(edit_data(edit, self._scene))

    def _hear(self, what: str, step: UndoStep) -> None:
        edits, self._edits = self._edits, []
        line: dict[str, Any] = {"step": step.name, "edits": edits} if what == "done" else {what: step.name}
        if what == "done" and step.gesture is not None:
            if self._gesture is None or self._gesture != step.gesture:
                self._number += 1  # only the last gesture can go on
            line["gesture"] = self._number
            self._gesture = step.gesture
        if what != "failed":
            self._sink(line)


def line_of(step: dict[str, Any]) -> bytes:
    """A step that a Recorder gave, as a line. Raises ValueProblem when it can't be written."""
    return exact.encode(step) + b"\n"


def play(scene: Scene, line: bytes) -> None:
    """Does again what a line says. Raises ChalcedonError, and leaves the scene as it was, when it doesn't fit."""
    try:
        raw = exact.decode(line)
    except (ValueError, RecursionError) as error:
        raise ChalcedonError(f"this is not a step: {error}.") from None
    match raw:
        case {"step": str(name), "edits": list(edits)}:
            gesture = raw.get("gesture")
            with scene.step(name, None if gesture is None else ("played", gesture)):
                for edit in edits:
                    scene.apply([edit_of(edit, scene)], name)
        case {"undone": str(name)} if scene.undo_name == name:
            scene.undo()
        case {"redone": str(name)} if scene.redo_name == name:
            scene.redo()
        case {"taken_back": str(name)} if scene.undo_name == name:
            scene.history.done[-1].gesture = last = object()
            scene.take_back(last)
        case {"ended": _}:
            scene.history.end_gesture()
        case _:
            raise ChalcedonError(f"{shorten(raw)} doesn't fit this scene.")
