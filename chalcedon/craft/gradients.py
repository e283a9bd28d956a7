"""Where the numbers of a gradient lie on what it paints, and what they are when counted in other units."""

from __future__ import annotations

import math
from collections.abc import Callable

from chalcedon.craft.hold import Start
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.formula import Formula
from chalcedon.scene import Gradient, Scene, Shape
from chalcedon.scene.axes import across
from chalcedon.scene.grips import Point
from chalcedon.scene.tidy import tidy

DIGITS = 4


def is_plain(gradient: Gradient) -> bool:
    """Whether no formula says where the gradient lies."""
    return not any(isinstance(n, Formula) for n in (*gradient.line, *(o for o, _ in gradient.stops)))


class GradientSpace:
    """Between the numbers of a gradient and the raw space of what it paints: a shape, or the page."""

    def __init__(self, on: Start | Scene, gradient: Gradient) -> None:
        self.gradient = gradient
        self.raw_of: Callable[[float, float], Point | None]
        self.scene_of: Callable[[Point], Point]
        if isinstance(on, Start):
            self.scene, self.box, self.up = on.shape.scene, on.box, on.node.kind.lie.up
            self.raw_of, self.scene_of = on.raw_of, on.scene_of
        else:
            self.scene, self.box, self.up = on, (0.0, 0.0, *on.size), False
            self.raw_of, self.scene_of = lambda x, y: (x, y), lambda raw: raw

    def to_raw(self, x: float, y: float) -> Point:
        if self.gradient.units == "scene":
            return self.raw_of(*self._page(x, y)) or (0.0, 0.0)
        x0, y0, x1, y1 = self.box
        return x0 + (x1 - x0) * x, y0 + (y1 - y0) * (1.0 - y if self.up else y)

    def from_raw(self, q: Point) -> Point:
        if self.gradient.units == "scene":
            x, y = self._page(*self.scene_of(q))
            return tidy(x, 2), tidy(y, 2)
        x0, y0, x1, y1 = self.box
        fx = (q[0] - x0) / (x1 - x0) if x1 > x0 else 0.0
        fy = (q[1] - y0) / (y1 - y0) if y1 > y0 else 0.0
        return tidy(fx, DIGITS), tidy(1.0 - fy if self.up else fy, DIGITS)

    def _page(self, x: float, y: float) -> Point:
        """A place that a gradient states in scene units in px of the page, or the other way round."""
        return across(self.scene, x, y) if self.scene is not None else (x, y)

    def ends(self) -> tuple[Point, Point]:
        """Where offset 0 and offset 1 are shown; on a radial gradient from the focus, or centre, to the right."""
        line = self.gradient.line
        if self.gradient.kind == "linear":
            return self.to_raw(*line[:2]), self.to_raw(*line[2:])
        return self.to_raw(*(line[3:] or line[:2])), self.to_raw(line[0] + line[2], line[1])


def in_units(display: DisplayList, owner: Shape | Scene, gradient: Gradient, units: str) -> Gradient:
    """A gradient of a shape or the page, counted in other units, `box` or `scene`. Its ends are where they were, or its
    centre and the width of its circle; as a box may be skewed, or wider than high, it can't look the same everywhere.

    One that formulas place keeps its numbers: they can't tell what is meant.
    """
    new = gradient._replace(units=units)
    if gradient.units == units or not is_plain(gradient):
        return new
    display.settle()
    on = Start(display.node(owner)) if isinstance(owner, Shape) else owner
    old, other = GradientSpace(on, gradient), GradientSpace(on, new)

    def moved(point: tuple[float, ...]) -> Point:
        return other.from_raw(old.to_raw(*point))

    line = gradient.line
    if gradient.kind == "linear":
        return new._replace(line=(*moved(line[:2]), *moved(line[2:])))
    centre, side = old.to_raw(*line[:2]), old.to_raw(line[0] + line[2], line[1])
    if units == "scene":
        radius = tidy(math.dist(old.scene_of(centre), old.scene_of(side)), 2)
    else:
        wide = old.box[2] - old.box[0]
        radius = tidy(math.dist(centre, side) / wide, DIGITS) if wide > 0 else 0.0
    focus = moved(line[3:]) if len(line) == 5 else ()
    return new._replace(line=(*moved(line[:2]), radius, *focus))
