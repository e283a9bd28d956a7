"""Functions of points. Angles are in degrees from the positive x axis towards the positive y axis."""

from __future__ import annotations

import math

from chalcedon.formula.table import Point, function


@function("points")
def point(x: float, y: float) -> Point:
    """The point x, y: the same as (x, y)."""
    return x, y


@function("points")
def polar(length: float, angle: float) -> Point:
    """The point at a distance from 0, 0 in a direction."""
    return length * math.cos(math.radians(angle)), length * math.sin(math.radians(angle))


@function("points")
def distance(a: Point, b: Point) -> float:
    """How far two points are apart."""
    return math.hypot(b[0] - a[0], b[1] - a[1])


@function("points")
def angle(a: Point, b: Point) -> float:
    """The direction from one point to another, in degrees."""
    return math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))


@function("points")
def turn(p: Point, degrees: float, about: Point = (0, 0)) -> Point:
    """A point turned about another, or about 0, 0."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    x, y = p[0] - about[0], p[1] - about[1]
    return about[0] + x * c - y * s, about[1] + x * s + y * c
