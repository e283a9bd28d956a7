"""Edits: the only way a scene changes. Each knows its inverse, and names what it is about by id.

Ids are those of the moment at which an edit is done: a rename in between is an edit of its own. "" stands for the scene
where a value is set, and for the top level where a place is meant. So edits can be written down and done again in
another process (files/steps.py). Only what comes and goes is an object, so that undo brings the same one back.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from chalcedon.scene.shape import Shape

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene


class Edit(Protocol):
    """One change of a scene."""

    def apply(self, scene: Scene) -> None:
        """Does it. The scene must stand as it did when the edit was made."""
        ...

    def inverse(self) -> Edit:
        """The edit that takes it back."""
        ...

    @property
    def about(self) -> str:
        """The id, after the edit, of the shape that is changed; "" for the scene."""
        ...


@dataclass(frozen=True, slots=True)
class SetValue:
    """A property of a shape, or of the scene itself, gets another stored value."""

    about: str
    name: str
    old: Any
    new: Any

    def apply(self, scene: Scene) -> None:
        scene.owner(self.about).store(self.name, self.new)

    def inverse(self) -> SetValue:
        return SetValue(self.about, self.name, self.new, self.old)


@dataclass(frozen=True, slots=True)
class Insert:
    """A shape, with all it holds, comes into the scene."""

    shape: Shape
    parent: str
    index: int

    @property
    def about(self) -> str:
        return self.shape._id

    def apply(self, scene: Scene) -> None:
        scene.group(self.parent).attach(self.shape, self.index)
        scene.enrol(self.shape.walk())

    def inverse(self) -> Remove:
        return Remove(self.shape, self.parent, self.index)


@dataclass(frozen=True, slots=True)
class Remove:
    """A shape, with all it holds, leaves the scene."""

    shape: Shape
    parent: str
    index: int

    @property
    def about(self) -> str:
        return self.shape._id

    def apply(self, scene: Scene) -> None:
        scene.group(self.parent).let_go(self.index)
        scene.dismiss(self.shape.walk())

    def inverse(self) -> Insert:
        return Insert(self.shape, self.parent, self.index)


@dataclass(frozen=True, slots=True)
class Move:
    """A shape changes its place in the paint order. `index` counts without the shape itself."""

    about: str
    old_parent: str
    old_index: int
    parent: str
    index: int

    def apply(self, scene: Scene) -> None:
        parent = scene.group(self.parent)
        shape = scene.group(self.old_parent)._children.pop(self.old_index)
        parent._children.insert(self.index, shape)
        shape._parent = parent

    def inverse(self) -> Move:
        return Move(self.about, self.parent, self.index, self.old_parent, self.old_index)


@dataclass(frozen=True, slots=True)
class Rename:
    """A shape gets another id. Formulas that name it are changed by edits of their own."""

    old: str
    new: str

    @property
    def about(self) -> str:
        return self.new

    def apply(self, scene: Scene) -> None:
        shape = scene._by_id.pop(self.old)
        shape._id = self.new
        scene._by_id[self.new] = shape

    def inverse(self) -> Rename:
        return Rename(self.new, self.old)


@dataclass(frozen=True, slots=True)
class DropRaw:
    """A value that could not be read from the file is given up, because the property is set anew."""

    about: str
    name: str
    raw: Any

    def apply(self, scene: Scene) -> None:
        del scene.owner(self.about).extra[self.name]

    def inverse(self) -> KeepRaw:
        return KeepRaw(self.about, self.name, self.raw)


@dataclass(frozen=True, slots=True)
class KeepRaw:
    """The inverse of DropRaw."""

    about: str
    name: str
    raw: Any

    def apply(self, scene: Scene) -> None:
        scene.owner(self.about).extra[self.name] = self.raw

    def inverse(self) -> DropRaw:
        return DropRaw(self.about, self.name, self.raw)
