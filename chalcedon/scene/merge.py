"""Two versions of one scene put together: what either of them changed since they were the same.

Shapes are the same when their ids are. Where both changed the same thing differently, the first version has it and the
second's is told: nothing of either is lost.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from chalcedon.scene.copies import fresh_ids
from chalcedon.scene.diff import diff, without_children
from chalcedon.scene.edits import DropRaw, Edit, Insert, KeepRaw, Move, Remove, Rename, SetValue
from chalcedon.scene.net import Change
from chalcedon.scene.order import place_of
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Group, Shape, ancestry
from chalcedon.scene.values import same

Key = tuple[str, str]


def merge(base: Scene, ours: Scene, theirs: Scene) -> list[Change]:
    """Takes into `ours`, as one undo step, what `theirs` has changed since both were `base`. Gives what both changed
    differently: what is stated in `ours` as before, what in `theirs` as after; a shape that one changed and the other
    took away is kept and told of as `left`."""
    return _Merge(base, ours, theirs).run()


def take(scene: Scene, other: Scene, ids: Collection[str] | None = None) -> None:
    """Makes some shapes of a scene, "" being the scene itself, what they are in another version of it, as one undo
    step; all of them where no `ids` are given. One that isn't there goes."""
    _Merge(scene, scene, other).run("Take from another version", ids)


class _Merge:
    def __init__(self, base: Scene, ours: Scene, theirs: Scene) -> None:
        self.base, self.ours, self.theirs = base, ours, theirs
        mine = diff(base, ours)
        self._set: set[Key] = {(e.about, e.name) for e in mine if isinstance(e, SetValue | DropRaw | KeepRaw)}
        self._moved = {e.about for e in mine if isinstance(e, Move)}
        self._touched = {e.about for e in mine if not isinstance(e, Rename)}
        self._touched |= {e.parent for e in mine if isinstance(e, Insert | Move)}
        self._other = {s.id for s in theirs.walk() if (b := base.get(s.id)) is not None and b.kind != s.kind}
        self.conflicts: list[Change] = []

    def run(self, name: str = "Merge", ids: Collection[str] | None = None) -> list[Change]:
        """Takes what `theirs` changed, of some shapes or of all, as one step."""
        edits = diff(self.base, self.theirs)
        renamed = {e.new for e in edits if isinstance(e, Rename)}
        with self.ours.step(name):
            for id in sorted(self._other):
                if ids is None or id in ids:
                    self._replace(id)
            for edit in edits:
                chosen = ids is None or edit.about in ids
                if chosen and edit.about not in renamed and edit.about not in self._other:
                    self._take(edit)
        return self.conflicts

    def _take(self, edit: Edit) -> None:
        match edit:
            case SetValue(about, name, _, new):
                self._value(about, name, new)
            case KeepRaw(about, name, _) | DropRaw(about, name, _):
                self._raw(about, name)
            case Insert(shape):
                self._insert(shape)
            case Remove(shape):
                self._remove(shape.id)
            case Move(about):
                self._move(about)

    def _owner(self, id: str) -> Any:
        """What an edit is about in `ours`; what was taken away there comes back, and that is told."""
        if id and id not in self.ours:
            model = self.theirs[id]
            self.conflicts.append(Change("left", id, shape=model))
            self.ours.add(self._missing(model), *self._place(model))
            return None  # it is as theirs has it
        return self.ours.owner(id)

    def _value(self, id: str, name: str, new: Any) -> None:
        owner = self._owner(id)
        if owner is None or same(owner.stated(name), new):
            return
        if (id, name) in self._set:
            self._conflict(id, name, owner.stated(name), new)
        else:
            self.ours.set(owner, name, new)

    def _raw(self, id: str, name: str) -> None:
        owner = self._owner(id)
        if owner is None:
            return
        mine, new = owner._extra.get(name), self.theirs.owner(id)._extra.get(name)
        if mine == new:
            return
        if (id, name) in self._set:
            self._conflict(id, name, mine, new)
            return
        if mine is not None:
            self.ours.apply([DropRaw(id, name, mine)], "")
        if new is not None:
            self.ours.apply([KeepRaw(id, name, new)], "")

    def _insert(self, shape: Shape) -> None:
        here, model = self.ours.get(shape.id), self.theirs[shape.id]
        if here is None or here.kind != shape.kind:
            if here is not None:
                self._conflict(shape.id, "kind", here.kind, shape.kind)
                fresh_ids(self.ours, shape)
            self.ours.add(shape, *self._place(model))
            return
        for name in {*here._values, *shape._values}:
            if not same(here.stated(name), shape.stated(name)):
                self._conflict(shape.id, name, here.stated(name), shape.stated(name))

    def _remove(self, id: str) -> None:
        here = self.ours.get(id)
        if here is None:
            return
        if any(s.id in self._touched or s.id not in self.base for s in here.walk()):
            self.conflicts.append(Change("left", id, shape=here))
        else:
            self.ours.remove(here)

    def _move(self, id: str) -> None:
        here = self._owner(id)
        if here is None:
            return
        group, index = self._place(self.theirs[id])
        if here in ancestry(group):
            group, index = self.ours.top, len(self.ours.top.children)
        parent, at = place_of(here)
        if parent is group and at < index:
            index -= 1
        if (parent, at) == (group, index):
            return
        if id in self._moved:
            self.conflicts.append(Change("moved", id, "", (parent.id, at), (group.id, index), here))
        else:
            self.ours.move(here, group, index)

    def _replace(self, id: str) -> None:
        """A shape that is of another kind in `theirs`."""
        here, new = self.ours.get(id), self.theirs[id]
        if here is None or id in self._touched or here.kind != self.base[id].kind or "group" in (here.kind, new.kind):
            if here is None:
                self._owner(id)
            elif here.kind != new.kind:
                self._conflict(id, "kind", here.kind, new.kind)
            return
        parent, index = place_of(here)
        self.ours.remove(here)
        self.ours.add(new.copy(), parent, index)

    def _place(self, model: Shape) -> tuple[Group, int]:
        """Where a shape of `theirs` belongs in `ours`: in the same group, after the same sibling."""
        assert model.parent is not None
        found = self.ours.get(model.parent.id) if model.parent.id else self.ours.top
        group = found if isinstance(found, Group) else self.ours.top
        siblings = list(model.parent.children)
        for before in reversed(siblings[: siblings.index(model)]):
            here = self.ours.get(before.id)
            if here is not None and here.parent is group:
                return group, group.index_of(here) + 1
        return group, 0

    def _missing(self, model: Shape) -> Shape:
        """A copy of a shape of `theirs` with what is in it, but for what there is in `ours`."""
        twin = without_children(model)
        if isinstance(model, Group) and isinstance(twin, Group):
            for child in model.children:
                if child.id not in self.ours:
                    twin.attach(self._missing(child), len(twin.children))
        return twin

    def _conflict(self, id: str, name: str, mine: Any, other: Any) -> None:
        conflict = Change("value", id, name, mine, other, self.ours.get(id))
        if conflict not in self.conflicts[-1:]:  # data that isn't known is dropped and kept anew: two edits
            self.conflicts.append(conflict)
