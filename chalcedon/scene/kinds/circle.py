from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Box, Outline, arcdata, primitives
from chalcedon.geometry.pathdata import Segment
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import FOUR, Given, circle_through, not_negative
from chalcedon.scene.grips import Change, Point
from chalcedon.scene.painted import Painted, positive
from chalcedon.scene.roles import Radius
from chalcedon.scene.tidy import spoken, tidy
from chalcedon.scene.values import Anchor


def _across(n: Any, _: Any) -> dict[str, Any]:
    middle = (n[0] + n[2]) / 2, (n[1] + n[3]) / 2
    return {"at": middle, "radius": math.hypot(n[2] - n[0], n[3] - n[1]) / 2, "anchor": "center"}


def _through(n: Any, _: Any) -> dict[str, Any]:
    x, y, radius = circle_through(n)
    return {"at": (x, y), "radius": radius, "anchor": "center"}


class Circle(Painted):
    """A circle, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "circle"
    leading = ("at", "radius")
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radius: Property[float] = Property(positive, 40, "centre to edge", always=True, role=Radius(around=True))

    rank, key = 4, "C"
    glyph = ("circle 10 10 7 fill none stroke INK 1.7",)
    example = "circle 140 65 48 fill #dca443"
    hint = "Press at the centre, drag to the edge"
    tight = smooth = True
    words = {
        "diameter": Given(("diameter",), "edge to edge, by way of the centre", lambda n, _: {"radius": n[0] / 2}),
        "across": Given(FOUR, "two points of its edge that lie opposite", _across),
        "through": Given((*FOUR, "x3", "y3"), "three points of its edge", _through),
    }

    @staticmethod
    def outline(radius: float) -> Outline:
        return primitives.ellipse(radius, radius)

    @staticmethod
    def box(radius: float) -> Box:
        return -radius, -radius, radius, radius

    def arcs(self) -> list[Segment]:
        return arcdata.whole(self.radius, self.radius) if self.radius > 0.0 else []

    def says(self) -> str:
        return f"circle {spoken(2 * self.radius)} across"

    def also(self, offset: Point) -> Iterator[Also]:
        def diameter(i: int, value: float) -> Change:
            return about_centre({"radius": tidy(not_negative(value, "diameter") / 2, 4)})

        yield Also("diameter", ("",), (2 * self.radius,), "edge to edge; the centre stays", diameter)
