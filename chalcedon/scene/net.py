"""What some edits come to in the end: values there and back are none, a shape that came and went never was.

`Net` is told of edits as they are done and taken back; `differences` holds one shape against another.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any, Final, NamedTuple

from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Group, Shape
from chalcedon.scene.values import same

Place = tuple[str, int]


class Change(NamedTuple):
    """One difference. `what` is `value`, `came`, `left`, `moved` or `renamed`; `id` what the shape is called now, ""
    for the scene; before and after are values of the property `name`, ids, or places (group and index)."""

    what: str
    id: str
    name: str = ""
    before: Any = None
    after: Any = None
    shape: Shape | None = None


class _Nothing:
    """Stands for a value that isn't there."""

    def __repr__(self) -> str:
        return "nothing"


NOTHING: Final = _Nothing()


class Unread(NamedTuple):
    """A value that was kept as it stood in the file, since it can't be read."""

    raw: Any


class Net:
    """The difference between a scene as it was and as it is. `version` rises when what differs does, apart from how
    values go on changing."""

    def __init__(self) -> None:
        self._values: dict[tuple[str, str], tuple[Any, Any]] = {}
        self._came: dict[Shape, None] = {}  # by the shapes themselves: a step is told of when its ids have changed on
        self._left: dict[Shape, None] = {}
        self._moved: dict[
            str, list[tuple[Place, Place]]
        ] = {}  # one after the other: places shift as others come and go
        self._named: dict[str, str] = {}  # what a shape is called now: what it was called
        self._aside: dict[Shape, tuple[dict[Any, Any], ...]] = {}  # what is known of shapes that are out of the scene
        self.version = 0

    @classmethod
    def of(cls, edits: Iterable[Edit]) -> Net:
        """The net of some edits, in the order in which they were done."""
        net = cls()
        for edit in edits:
            net.add(edit)
        return net

    def __bool__(self) -> bool:
        return bool(self._values or self._came or self._left or self._moved or self._named)

    def clear(self) -> None:
        """From now on it counts from the scene as it is."""
        version = self.version
        self.__init__()  # type: ignore[misc]
        self.version = version + 1

    def add(self, edit: Edit) -> None:
        """Takes in an edit that was done."""
        match edit:
            case SetValue(about, name, old, new):
                self._value(about, name, old, new)
            case DropRaw(about, name, raw):
                self._value(about, name, Unread(raw), NOTHING)
            case KeepRaw(about, name, raw):
                self._value(about, name, NOTHING, Unread(raw))
            case Insert(shape, _, _):
                self._come_or_go(shape, self._left, self._came)
                self._bring_back(shape)
            case Remove(shape, _, _):
                self._come_or_go(shape, self._came, self._left)
                self._put_aside(shape)
            case Move(about, old_parent, old_index, parent, index):
                self._move(about, (old_parent, old_index), (parent, index))
            case Rename(old, new):
                self._rename(old, new)

    def back(self, edits: Iterable[Edit]) -> None:
        """Takes in that edits were taken back, given in the order in which they were done."""
        for edit in reversed(list(edits)):
            self.add(edit.inverse())

    def _value(self, about: str, name: str, old: Any, new: Any) -> None:
        key = about, name
        known = self._values.get(key)
        first = old if known is None else known[0]
        if _alike(first, new):
            if known is not None:
                del self._values[key]
                self.version += 1
            return
        self._values[key] = first, new
        if known is None:
            self.version += 1

    def _move(self, about: str, source: Place, target: Place) -> None:
        way = self._moved.setdefault(about, [])
        if way and way[-1] == (target, source):
            way.pop()
        elif source != target:
            way.append((source, target))
        if not way:
            del self._moved[about]
        self.version += 1

    def _come_or_go(self, shape: Shape, undoes: dict[Shape, None], does: dict[Shape, None]) -> None:
        if shape in undoes:
            del undoes[shape]
        else:
            does[shape] = None
        self.version += 1

    def _put_aside(self, shape: Shape) -> None:
        """Another shape may be called as it is while it is away."""
        ids = {s._id for s in shape.walk()}
        aside = tuple({k: v for k, v in d.items() if _id_of(k) in ids} for d in self._by_id())
        for d, gone in zip(self._by_id(), aside, strict=True):
            for key in gone:
                del d[key]
        if any(aside):
            self._aside[shape] = aside

    def _bring_back(self, shape: Shape) -> None:
        for d, aside in zip(self._by_id(), self._aside.pop(shape, ({}, {}, {})), strict=True):
            d.update(aside)

    def _by_id(self) -> tuple[dict[Any, Any], ...]:
        return self._values, self._moved, self._named

    def _rename(self, old: str, new: str) -> None:
        for key in [k for k in self._values if k[0] == old]:
            self._values[new, key[1]] = self._values.pop(key)
        if old in self._moved:
            self._moved[new] = self._moved.pop(old)
        first = self._named.pop(old, old)
        if first != new:
            self._named[new] = first
        self.version += 1

    def changes(self, scene: Scene) -> Iterator[Change]:
        """What differs, in paint order; what left comes last. A shape that came is told of by itself, not value by
        value, and so is what came or left within a group."""
        came = {s for shape in self._came for s in shape.walk()}
        by_id: dict[str, list[Change]] = {}
        for shape in self._came:
            by_id.setdefault(shape._id, []).append(Change("came", shape._id, shape=shape))
        for new, old in self._named.items():
            by_id.setdefault(new, []).append(Change("renamed", new, "id", old, new, scene.get(new)))
        for id, way in self._moved.items():
            by_id.setdefault(id, []).append(Change("moved", id, "", way[0][0], way[-1][1], scene.get(id)))
        for (id, name), (old, new) in self._values.items():
            by_id.setdefault(id, []).append(Change("value", id, name, old, new, scene.get(id)))
        for id in ("", *(s._id for s in scene.walk() if s._id in by_id)):
            for change in by_id.get(id, ()):
                if change.what == "came" or change.shape not in came:
                    yield change
        for shape in self._left:
            yield Change("left", shape._id, shape=shape)

    def touched(self, scene: Scene) -> set[Shape]:
        """The shapes in the scene that differ, with all that came."""
        ids = {*(id for id, _ in self._values), *self._moved, *self._named}
        found = {s for s in map(scene.get, ids) if s is not None}
        return found | {s for shape in self._came for s in shape.walk() if s.scene is scene}


def _id_of(key: Any) -> str:
    return key[0] if isinstance(key, tuple) else key


def _alike(one: Any, other: Any) -> bool:
    if isinstance(one, Unread) or isinstance(other, Unread) or one is NOTHING or other is NOTHING:
        return type(one) is type(other) and bool(one == other)
    return same(one, other)


def differences(one: Shape, other: Shape) -> list[Change]:
    """What two shapes state differently, those values first that both have; their ids apart. Of groups, also what
    their shapes state differently, each held against the one in the same place."""
    shared = [n for n in one.properties if n in other.properties]
    alone = [n for n in (*one.properties, *other.properties) if n not in shared]
    out = []
    if one.kind != other.kind:
        out.append(Change("value", one.id, "kind", one.kind, other.kind, one))
    for name in (*shared, *alone):
        a, b = (s.stated(name) if name in s.properties else NOTHING for s in (one, other))
        unset = [s.stated(name) == s.properties[name].default for s in (one, other) if name in s.properties]
        if not _alike(a, b) and not (name in alone and all(unset)):
            out.append(Change("value", one.id, name, a, b, one))
    if isinstance(one, Group) and isinstance(other, Group):
        if len(one.children) != len(other.children):
            counts = len(one.children), len(other.children)
            out.append(Change("value", one.id, "shapes in it", *counts, one))
        for a_child, b_child in zip(one.children, other.children, strict=False):
            out += differences(a_child, b_child)
    return out


def give(one: Shape, other: Shape, names: Iterable[str]) -> list[str]:
    """Gives the second shape what the first states for some properties; those that it has. As one undo step of its
    scene. Raises ValueProblem for what it can't take."""
    todo = [n for n in names if n in one.properties and n in other.properties]
    assert other.scene is not None
    with other.scene.step(f"Make {other.id} like {one.id}"):
        for name in todo:
            other.assign(name, one.stated(name))
    return todo
