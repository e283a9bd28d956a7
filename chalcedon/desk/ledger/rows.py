"""The visible rows: the tree of shapes flattened in paint order, with folds. No Qt here."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from chalcedon.scene import Group, Scene, Shape


@dataclass(frozen=True, slots=True)
class Row:
    shape: Shape
    depth: int
    bands: tuple[int, ...]
    """One stratum a group around it, outermost first: the number of the colour."""


def flatten(scene: Scene, folded: set[Shape], front_first: bool = False) -> list[Row]:
    """Rows from back to front, or from front to back; a group's row always stands above its children's."""
    out: list[Row] = []
    colour = 0
    stack: list[tuple[Iterator[Shape], int, tuple[int, ...]]] = [(_listed(scene.top, front_first), 0, ())]
    while stack:
        children, depth, bands = stack[-1]
        for shape in children:
            if not isinstance(shape, Group):
                out.append(Row(shape, depth, bands))
                continue
            if not bands:
                mine: tuple[int, ...] = (colour,)
                colour += 1
            else:
                mine = (*bands, bands[0])
            out.append(Row(shape, depth, mine))
            if shape not in folded:
                stack.append((_listed(shape, front_first), depth + 1, mine))
                break
        else:
            stack.pop()
    return out


def _listed(group: Group, front_first: bool) -> Iterator[Shape]:
    return reversed(group._children) if front_first else iter(group._children)


@dataclass(frozen=True, slots=True)
class Drop:
    """Where dragged rows would go: into `group` at `index`, drawn as a line above row `line` at `depth`."""

    group: Group
    index: int
    line: int
    depth: int


def drop_at(scene: Scene, rows: list[Row], gap: int, depth: int, front_first: bool, folded: set[Shape]) -> Drop:
    """The place for a drop in the gap above row `gap`; `depth` chooses between the groups that end there."""
    if not rows:
        return Drop(scene.top, 0, 0, 0)
    above = rows[gap - 1] if gap > 0 else None
    below = rows[gap] if gap < len(rows) else None
    if above is None:
        return Drop(scene.top, len(scene.top.children) if front_first else 0, 0, 0)
    inside = isinstance(above.shape, Group) and above.shape not in folded
    most = above.depth + (1 if inside else 0)
    least = below.depth if below is not None else 0
    depth = min(max(depth, least), most)
    if inside and depth == most:
        group = above.shape
        assert isinstance(group, Group)
        return Drop(group, len(group.children) if front_first else 0, gap, depth)
    shape = above.shape
    for _ in range(above.depth - depth):
        assert shape.parent is not None
        shape = shape.parent
    parent = shape.parent
    assert parent is not None
    at = parent.children.index(shape)
    return Drop(parent, at if front_first else at + 1, gap, depth)
