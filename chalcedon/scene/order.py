"""Reordering: one place forward or back, to the ends, past the next shape that overlaps."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:  # shapes know how they are reordered
    from chalcedon.scene.scene import Scene
    from chalcedon.scene.shape import Group, Shape

    Overlaps = Callable[[Shape, Shape], bool]

FEW = 16
"""Shapes up to which each is looked for among its siblings."""


def outermost(shapes: Sequence[Shape]) -> list[Shape]:
    """The shapes without those that lie in another of them, in paint order."""
    chosen = set(map(id, shapes))
    out = [s for s in shapes if s.scene is not None and not _within(s.parent, chosen)]
    out = list(dict.fromkeys(out))
    return in_paint_order(out) if len(out) > 1 else out


def _within(group: Group | None, chosen: set[int]) -> bool:
    while group is not None and id(group) not in chosen:
        group = group.parent
    return group is not None


def in_paint_order(shapes: Sequence[Shape]) -> list[Shape]:
    """Shapes of a scene, sorted into paint order."""
    if len(shapes) <= FEW:
        return sorted(shapes, key=lambda s: _key(s, lambda one: place_of(one)[1]))
    places: dict[int, dict[int, int]] = {}  # of every child of a group: to look for each anew would be quadratic

    def place(shape: Shape) -> int:
        group = shape.parent
        assert group is not None
        if id(group) not in places:
            places[id(group)] = {id(c): i for i, c in enumerate(group._children)}
        return places[id(group)][id(shape)]

    return sorted(shapes, key=lambda s: _key(s, place))


def _key(shape: Shape, place: Callable[[Shape], int]) -> tuple[int, ...]:
    key: list[int] = []
    while shape.parent is not None:
        key.append(place(shape))
        shape = shape.parent
    return tuple(reversed(key))


def forward(scene: Scene, shapes: Sequence[Shape]) -> bool:
    """Each shape one place toward the front among its siblings. False when none could go."""
    return _shift(scene, shapes, +1)


def backward(scene: Scene, shapes: Sequence[Shape]) -> bool:
    """Each shape one place toward the back among its siblings. False when none could go."""
    return _shift(scene, shapes, -1)


def _shift(scene: Scene, shapes: Sequence[Shape], way: int) -> bool:
    todo = outermost(shapes)
    still = set(map(id, todo))
    moves = []
    for shape in reversed(todo) if way > 0 else todo:
        group, index = place_of(shape)
        other = index + way
        if not 0 <= other < len(group._children) or id(group._children[other]) in still:
            continue  # at the end already, or behind one that is
        moves.append((shape, group, other))
        still.discard(id(shape))
    if not moves:
        return False
    shape, group, other = moves[0]
    past = group._children[other].id
    name = f"{'Bring' if way > 0 else 'Send'} {names_of(todo)} {'in front of' if way > 0 else 'behind'} {past}"
    with scene.step(name):
        for shape, group, other in moves:
            scene.move(shape, group, other)
    return True


def to_front(scene: Scene, shapes: Sequence[Shape]) -> bool:
    """To the front among the siblings, keeping the order between them. False when nothing changed."""
    return _to_end(scene, shapes, front=True)


def to_back(scene: Scene, shapes: Sequence[Shape]) -> bool:
    """To the back among the siblings, keeping the order between them. False when nothing changed."""
    return _to_end(scene, shapes, front=False)


def _to_end(scene: Scene, shapes: Sequence[Shape], front: bool) -> bool:
    todo = outermost(shapes)
    rows: dict[int, list[Shape]] = {}
    for shape in todo:
        rows.setdefault(id(shape.parent), []).append(shape)
    if all(_at_end(row, front) for row in rows.values()):
        return False
    with scene.step(f"{'Bring' if front else 'Send'} {names_of(todo)} to the {'front' if front else 'back'}"):
        for shape in todo if front else reversed(todo):
            group, _ = place_of(shape)
            scene.move(shape, group, len(group._children) - 1 if front else 0)
    return True


def _at_end(row: list[Shape], front: bool) -> bool:
    """Whether siblings, in paint order, are the last ones, or the first."""
    group, _ = place_of(row[0])
    return row == (group._children[-len(row) :] if front else group._children[: len(row)])


def past_next(scene: Scene, shape: Shape, overlaps: Overlaps, front: bool = True) -> Shape | None:
    """Moves a shape past the next sibling that `overlaps` it; returns that sibling, None when there is none."""
    group, index = place_of(shape)
    siblings = group._children
    ahead = range(index + 1, len(siblings)) if front else range(index - 1, -1, -1)
    for i in ahead:
        if overlaps(shape, siblings[i]):
            other = siblings[i]
            scene.move(
                shape,
                group,
                i,
                f"{'Bring' if front else 'Send'} {shape.id} {'in front of' if front else 'behind'} {other.id}",
            )
            return other
    return None


def place_of(shape: Shape) -> tuple[Group, int]:
    """The group that holds a shape of a scene, and which of its shapes it is, counted from the back."""
    assert shape.parent is not None
    return shape.parent, shape.parent.index_of(shape)


def names_of(shapes: Sequence[Shape]) -> str:
    """One name, or a count."""
    return shapes[0].id if len(shapes) == 1 else f"{len(shapes)} shapes"
