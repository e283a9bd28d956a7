"""The visible rows: the tree of shapes flattened in paint order, with folds. No Qt here."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from chalcedon.scene import Group, Scene, Shape

FEW = 64
"""So many rows come and go one by one."""


@dataclass(frozen=True, slots=True)
class Row:
    shape: Shape
    depth: int
    bands: tuple[int, ...]
    """One stratum a group around it, outermost first: the number of the colour."""


class Rows:
    """The visible rows from back to front, or from front to back; a group's row always stands above its children's.

    A row is made when it is asked for: a large scene has many, and few are seen.
    """

    def __init__(self, scene: Scene, folded: set[Shape], front_first: bool = False) -> None:
        self._scene, self._folded, self._front_first = scene, folded, front_first
        self._shapes = list(_visible(scene.top, folded, front_first))
        self._where: dict[Shape, int] | None = None  # about where each stands: off by at most `_shifts`
        self._shifts = 0
        self._colours: dict[Shape, int] | None = None  # of the outermost groups

    def __len__(self) -> int:
        return len(self._shapes)

    def __iter__(self) -> Iterator[Row]:
        return map(self._row, self._shapes)

    def __getitem__(self, index: int) -> Row:
        return self._row(self._shapes[index])

    def shapes(self, first: int, last: int) -> list[Shape]:
        """The shapes of the rows [first, last)."""
        return self._shapes[first:last]

    def _row(self, shape: Shape) -> Row:
        depth, outer = 0, shape
        while outer.parent is not None and outer.parent is not self._scene.top:
            outer, depth = outer.parent, depth + 1
        group = isinstance(shape, Group)
        if not depth and not group:
            return Row(shape, 0, ())
        if self._colours is None:
            groups = (s for s in _listed(self._scene.top, self._front_first) if isinstance(s, Group))
            self._colours = {g: i for i, g in enumerate(groups)}
        return Row(shape, depth, (self._colours[outer],) * (depth + group))

    def index_of(self, shape: Shape) -> int:
        """Where the row of a shape stands; -1 for one that has none."""
        if self._where is None:
            self._where, self._shifts = {s: i for i, s in enumerate(self._shapes)}, 0
        about = self._where.get(shape)
        if about is None:
            return -1
        for off in range(self._shifts + 1):
            for at in (about + off, about - off):
                if 0 <= at < len(self._shapes) and self._shapes[at] is shape:
                    return at
        return -1

    def follow(self, came: Sequence[Shape], left: Sequence[Shape]) -> bool:
        """Takes rows out and puts rows in. False when they are to be made anew instead."""
        if len(came) + len(left) > FEW or self._shifts > 4 * FEW:
            return False
        for shape in left:
            at = self.index_of(shape)
            if at >= 0:
                del self._shapes[at]
                self._moved(shape, None)
        for shape in came:
            if shape.scene is not self._scene or self.index_of(shape) >= 0 or not self._shown(shape):
                continue
            at = self._place(shape)
            if at < 0:
                return False
            self._shapes.insert(at, shape)
            self._moved(shape, at)
        if any(isinstance(s, Group) for s in (*came, *left)):
            self._colours = None
        return True

    def _moved(self, shape: Shape, to: int | None) -> None:
        assert self._where is not None
        self._shifts += 1
        if to is None:
            del self._where[shape]
        else:
            self._where[shape] = to

    def _shown(self, shape: Shape) -> bool:
        group = shape.parent
        while group is not None and group is not self._scene.top:
            if group in self._folded:
                return False
            group = group.parent
        return True

    def _place(self, shape: Shape) -> int:
        """Where the row of a shape belongs; -1 when the row above it isn't there yet."""
        group = shape.parent
        assert group is not None
        siblings = group._children
        at = group.index_of(shape) + (1 if self._front_first else -1)
        if not 0 <= at < len(siblings):
            return 0 if group is self._scene.top else self._below(self.index_of(group))
        above = siblings[at]
        while isinstance(above, Group) and above not in self._folded and above._children:
            above = above._children[0 if self._front_first else -1]
        return self._below(self.index_of(above))

    @staticmethod
    def _below(index: int) -> int:
        return index + 1 if index >= 0 else -1


def _visible(group: Group, folded: set[Shape], front_first: bool) -> Iterator[Shape]:
    stack = [_listed(group, front_first)]
    while stack:
        for shape in stack[-1]:
            yield shape
            if isinstance(shape, Group) and shape not in folded:
                stack.append(_listed(shape, front_first))
                break
        else:
            stack.pop()


def _listed(group: Group, front_first: bool) -> Iterator[Shape]:
    return reversed(group._children) if front_first else iter(group._children)


@dataclass(frozen=True, slots=True)
class Drop:
    """Where dragged rows would go: into `group` at `index`, drawn as a line above row `line` at `depth`."""

    group: Group
    index: int
    line: int
    depth: int


def drop_at(scene: Scene, rows: Rows, gap: int, depth: int, front_first: bool, folded: set[Shape]) -> Drop:
    """The place for a drop in the gap above row `gap`; `depth` chooses between the groups that end there."""
    if not rows:
        return Drop(scene.top, 0, 0, 0)
    above = rows[gap - 1] if gap > 0 else None
    below = rows[gap] if gap < len(rows) else None
    if above is None:
        return Drop(scene.top, len(scene.top._children) if front_first else 0, 0, 0)
    inside = isinstance(above.shape, Group) and above.shape not in folded
    most = above.depth + (1 if inside else 0)
    least = below.depth if below is not None else 0
    depth = min(max(depth, least), most)
    if inside and depth == most:
        group = above.shape
        assert isinstance(group, Group)
        return Drop(group, len(group._children) if front_first else 0, gap, depth)
    shape = above.shape
    for _ in range(above.depth - depth):
        assert shape.parent is not None
        shape = shape.parent
    parent = shape.parent
    assert parent is not None
    at = parent.index_of(shape)
    return Drop(parent, at if front_first else at + 1, gap, depth)
