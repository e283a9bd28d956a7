"""Edits: the only way a scene changes. Each knows its inverse."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Protocol

from chalcedon.scene.declare import Declared
from chalcedon.scene.shape import Group, Shape

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene


class Edit(Protocol):
    def apply(self, scene: Scene) -> None: ...
    def inverse(self) -> Edit: ...


@dataclass(frozen=True, slots=True)
class SetValue:
    """A property of a shape, or of the scene itself, gets another stored value."""

    target: Declared
    name: str
    old: Any
    new: Any

    def apply(self, scene: Scene) -> None:
        self.target.store(self.name, self.new)

    def inverse(self) -> SetValue:
        return SetValue(self.target, self.name, self.new, self.old)


@dataclass(frozen=True, slots=True)
class Insert:
    """A shape, with all it holds, comes into the scene."""

    shape: Shape
    parent: Group
    index: int

    def apply(self, scene: Scene) -> None:
        self.parent.attach(self.shape, self.index)
        for s in self.shape.walk():
            s._scene = scene
            scene._by_id[s._id] = s

    def inverse(self) -> Remove:
        return Remove(self.shape, self.parent, self.index)


@dataclass(frozen=True, slots=True)
class Remove:
    """A shape, with all it holds, leaves the scene."""

    shape: Shape
    parent: Group
    index: int

    def apply(self, scene: Scene) -> None:
        del self.parent._children[self.index]
        self.shape._parent = None
        for s in self.shape.walk():
            s._scene = None
            del scene._by_id[s._id]

    def inverse(self) -> Insert:
        return Insert(self.shape, self.parent, self.index)


@dataclass(frozen=True, slots=True)
class Move:
    """A shape changes its place in the paint order. `index` counts without the shape itself."""

    shape: Shape
    old_parent: Group
    old_index: int
    parent: Group
    index: int

    def apply(self, scene: Scene) -> None:
        del self.old_parent._children[self.old_index]
        self.parent._children.insert(self.index, self.shape)
        self.shape._parent = self.parent

    def inverse(self) -> Move:
        return Move(self.shape, self.parent, self.index, self.old_parent, self.old_index)


@dataclass(frozen=True, slots=True)
class Rename:
    """A shape gets another id. Formulas that name it are changed by edits of their own."""

    shape: Shape
    old: str
    new: str

    def apply(self, scene: Scene) -> None:
        del scene._by_id[self.old]
        self.shape._id = self.new
        scene._by_id[self.new] = self.shape

    def inverse(self) -> Rename:
        return Rename(self.shape, self.new, self.old)


@dataclass(frozen=True, slots=True)
class DropRaw:
    """A value that could not be read from the file is given up, because the property is set anew."""

    target: Declared
    name: str
    raw: Any

    def apply(self, scene: Scene) -> None:
        del self.target._extra[self.name]

    def inverse(self) -> KeepRaw:
        return KeepRaw(self.target, self.name, self.raw)


@dataclass(frozen=True, slots=True)
class KeepRaw:
    """The inverse of DropRaw."""

    target: Declared
    name: str
    raw: Any

    def apply(self, scene: Scene) -> None:
        self.target._extra[self.name] = self.raw

    def inverse(self) -> DropRaw:
        return DropRaw(self.target, self.name, self.raw)
