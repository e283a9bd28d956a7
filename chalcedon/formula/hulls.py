"""Functions of the outlines of shapes. What they need of a shape is a `Hull`; whoever evaluates a formula has them.

Places are in the space of the formula's own shape's parent."""

from __future__ import annotations

from typing import Protocol

from chalcedon.formula.table import Point, function


class Hull(Protocol):
    """The outline of a shape, measured."""

    def along(self, t: float) -> Point: ...
    def heading(self, t: float) -> float: ...
    def inside(self, p: Point) -> bool: ...
    def overlaps(self, other: Hull) -> bool: ...
    def gap(self, other: Hull) -> float: ...
    def length(self) -> float: ...
    def area(self) -> float: ...


@function("shapes")
def along(shape: Hull, t: float) -> Point:
    """The point on a shape's outline at a share t of its length, 0 to 1; it goes round."""
    return shape.along(t)


@function("shapes")
def heading(shape: Hull, t: float) -> float:
    """The direction of a shape's outline at a share t of its length, in degrees."""
    return shape.heading(t)


@function("shapes")
def inside(p: Point, shape: Hull) -> bool:
    """Whether a point is inside the outline of a shape."""
    return shape.inside(p)


@function("shapes")
def overlaps(a: Hull, b: Hull) -> bool:
    """Whether two shapes share any of their insides, or their outlines cross."""
    return a.overlaps(b)


@function("shapes")
def gap(a: Hull, b: Hull) -> float:
    """How far the outlines of two shapes are apart; 0 where they cross."""
    return a.gap(b)


@function("shapes")
def length_of(shape: Hull) -> float:
    """How long the outline of a shape is."""
    return shape.length()


@function("shapes")
def area_of(shape: Hull) -> float:
    """How large the inside of a shape is, in px²."""
    return shape.area()
