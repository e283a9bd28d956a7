"""What makes one scene of another, as edits: shapes are the same when their ids are."""

from __future__ import annotations

import bisect
from collections.abc import Iterator
from typing import Any

from chalcedon.scene.declare import NOTHING, Declared
from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.ids import free_id
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Group, Shape, Unknown
from chalcedon.scene.values import same


def diff(a: Scene, b: Scene) -> list[Edit]:
    """Edits that, applied in order to `a`, make it state what `b` does (`Scene.apply` does them as one step).

    A shape that stands elsewhere is moved, with as few moves among its siblings as there can be. One whose kind is
    another is taken out and put in. What is put in are copies: `b` stays as it is.
    """
    return _Difference(a, b).edits


class _Difference:
    """`children` is how `a` stands after the edits found so far: the ids in every group, "" for the top level."""

    def __init__(self, a: Scene, b: Scene) -> None:
        self.a, self.b = a, b
        self.edits: list[Edit] = []
        self.children = {g._id: [c._id for c in g._children] for g in _groups(a)}
        self.parent = {c._id: g._id for g in _groups(a) for c in g._children}
        self.old = {s._id: s for s in a.walk()}
        self._part_other_kinds()
        self._values("", a, b)
        for shape in b.walk():
            before = self.old.get(shape._id)
            if before is not None:
                self._values(shape._id, before, shape)
        for group in _groups(b):  # groups before what is in them: no group is ever moved into itself
            self._order(group)
        self._take_out()

    def _part_other_kinds(self) -> None:
        """Shapes of `a` whose id another kind of shape has in `b` get out of its way."""
        old = self.old
        others = [s for s in self.b.walk() if s._id in old and _are_of_two_sorts(old[s._id], s)]
        taken = {*old, *(s._id for s in self.b.walk())} if others else set()
        for shape in others:
            id = shape._id
            free = free_id(id, taken)
            taken.add(free)
            self.edits.append(Rename(id, free))
            self.old[free] = self.old.pop(id)
            siblings = self.children[self.parent[id]]
            siblings[siblings.index(id)] = free
            self.parent[free] = self.parent.pop(id)
            if id in self.children:
                self.children[free] = self.children.pop(id)
                for child in self.children[free]:
                    self.parent[child] = free

    def _values(self, id: str, before: Declared, after: Declared) -> None:
        if before._values == after._values and not before._extra and not after._extra:
            return
        for name in sorted({*before._values, *after._values}):
            default = after.properties[name].default
            old, new = before._values.get(name, default), after._values.get(name, default)
            if not same(old, new):
                self.edits.append(SetValue(id, name, old, new))
        for name in sorted({*before._extra, *after._extra}, key=str):
            old, new = before._extra.get(name, _NOTHING), after._extra.get(name, _NOTHING)
            if old == new and type(old) is type(new):
                continue
            if old is not _NOTHING:
                self.edits.append(DropRaw(id, name, old))
            if new is not _NOTHING:
                self.edits.append(KeepRaw(id, name, new))

    def _order(self, group: Group) -> None:
        """Gives a group of `b`, which is there by now, what it holds, in its order."""
        now = self.children[group._id]
        if now == [c._id for c in group._children]:
            return
        place = {id: i for i, id in enumerate(now)}
        staying = _longest_rising([(place[c._id], c._id) for c in group._children if c._id in place])
        at = 0
        for child in group._children:
            id = child._id
            if id in staying:
                at = now.index(id, at) + 1
                continue
            if id in self.old:
                at = self._move(id, group._id, at)
            else:
                self._insert(child, group._id, at)
            at += 1

    def _move(self, id: str, group: str, at: int) -> int:
        source = self.parent[id]
        index = self.children[source].index(id)
        del self.children[source][index]
        if source == group and index < at:
            at -= 1
        self.children[group].insert(at, id)
        self.parent[id] = group
        self.edits.append(Move(id, source, index, group, at))
        return at

    def _insert(self, shape: Shape, group: str, at: int) -> None:
        new = without_children(shape)
        self.children[group].insert(at, new._id)
        self.parent[new._id] = group
        if isinstance(new, Group):
            self.children[new._id] = []
        self.edits.append(Insert(new, group, at))

    def _take_out(self) -> None:
        """Removes what `b` doesn't have; all that it does have is elsewhere by now."""
        for id in [i for i in self.old if i not in self.b]:
            parent = self.parent[id]
            if parent in self.old and parent not in self.b:
                continue  # goes with its group
            index = self.children[parent].index(id)
            del self.children[parent][index]
            self.edits.append(Remove(self.old[id], parent, index))


_NOTHING: Any = object()


def _are_of_two_sorts(a: Shape, b: Shape) -> bool:
    if type(a) is not type(b):
        return True
    return isinstance(a, Unknown) and isinstance(b, Unknown) and a.written_kind != b.written_kind


def _groups(scene: Scene) -> Iterator[Group]:
    """The top level and all groups, every group before what is in it."""
    yield scene.top
    for shape in scene.walk():
        if isinstance(shape, Group):
            yield shape


def without_children(shape: Shape) -> Shape:
    """A copy that holds nothing."""
    if not isinstance(shape, Group):
        return shape.copy()
    twin = type(shape).bare(shape._id)
    twin._values, twin._extra = dict(shape._values), dict(shape._extra) if shape._extra else NOTHING
    twin._formulas = set(shape._formulas) if shape._formulas else None
    return twin


def _longest_rising(items: list[tuple[int, str]]) -> set[str]:
    """The ids of a longest run of items, in their order, whose numbers rise (patience sorting)."""
    tails: list[int] = []
    last: list[int] = []
    before: list[int] = []
    for i, (number, _) in enumerate(items):
        k = bisect.bisect_left(tails, number)
        before.append(last[k - 1] if k else -1)
        if k == len(tails):
            tails.append(number)
            last.append(i)
        else:
            tails[k], last[k] = number, i
    out = set()
    i = last[-1] if last else -1
    while i >= 0:
        out.add(items[i][1])
        i = before[i]
    return out
