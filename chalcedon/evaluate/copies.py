"""Shapes that are painted more than once, each time with other values."""

from __future__ import annotations

from typing import Protocol

from chalcedon.scene.declare import Stored
from chalcedon.scene.shape import Group, Shape

Copy = tuple[int, ...]
"""Which painting of a shape: the number of the copy in every copied group around it, outermost first; () for a shape
that is painted once."""


class CopyMaker(Protocol):
    """Says which groups are painted several times, and with what values.

    A copied group keeps its own place; in it stands each copy as a group of its own, whose values are those given here
    (none: where the group is, as it is), with all that the group holds.
    """

    def count(self, group: Group) -> int | None:
        """How often what a group holds is painted; None for a group that isn't copied."""
        ...

    def values(self, shape: Shape, copy: Copy) -> Stored:
        """What a shape has in a copy instead of what it states: checked, plain values. Of a copied group, where the
        copy itself stands in it and how it is composed."""
        ...
