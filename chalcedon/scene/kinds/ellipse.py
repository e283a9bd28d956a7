from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Affine, Box, Outline, arcdata, primitives
from chalcedon.geometry.pathdata import Segment
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import FOUR, Given, corners_of, not_negative
from chalcedon.scene.grips import Change, Point, rounded_point
from chalcedon.scene.painted import positive
from chalcedon.scene.proportions import Proportioned, following
from chalcedon.scene.roles import Radii
from chalcedon.scene.similar import is_straight, is_uniform, similar_map
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Anchor, Tuple


def _between(n: Any, _: Any) -> dict[str, Any]:
    left, top, right, bottom = corners_of(n)
    middle = (left + right) / 2, (top + bottom) / 2
    return {"at": middle, "radii": ((right - left) / 2, (bottom - top) / 2), "anchor": "center"}


class Ellipse(Proportioned):
    """An ellipse, placed by its centre unless the anchor says otherwise."""

    __slots__ = ()
    kind = "ellipse"
    leading = ("at", "radii")
    pair = "radii"
    anchor: Property[Any] = Property(Anchor(), "center", "which place of its own box sits at `at`")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=positive),
        (60, 40),
        "centre to right edge, centre to bottom edge",
        always=True,
        role=Radii(),
    )

    rank, key = 5, "E"
    glyph = ("ellipse 10 10 8 5 fill none stroke INK 1.7",)
    example = "ellipse 140 65 100 42 fill #d97b4a"
    hint = "Press at the centre, drag to a corner of its box · Shift makes it round"
    made_by = "radii"
    tight = smooth = stretches = True
    words = {
        "diameters": Given(
            ("width", "height"), "its whole width and height", lambda n, _: {"radii": (n[0] / 2, n[1] / 2)}
        ),
        "between": Given(FOUR, "two opposite corners of its box", _between),
    }

    @staticmethod
    def outline(radii: Point) -> Outline:
        return primitives.ellipse(*radii)

    @staticmethod
    def box(radii: Point) -> Box:
        return -radii[0], -radii[1], radii[0], radii[1]

    def arcs(self) -> list[Segment]:
        return arcdata.whole(*self.radii) if min(self.radii) > 0.0 else []

    def proportion(self) -> tuple[float, float]:
        return self.radii

    def baked(self, m: Affine) -> dict[str, Any]:
        rx, ry = self.radii
        if rx == ry and is_uniform(m):
            k = similar_map(m, self.kind).scale
            return {"radii": rounded_point((rx * k, ry * k), 4)}
        if not is_straight(m):
            raise ValueProblem("a turned ellipse has no radii along the axes.", hint="Make it a path first, then bake.")
        x, y = m.map(rx, ry)
        return {"radii": rounded_point((abs(x), abs(y)), 4)}

    def also(self, offset: Point) -> Iterator[Also]:
        rx, ry = self.radii

        def diameters(i: int, value: float) -> Change:
            half = tidy(not_negative(value, "diameter") / 2, 4)
            return about_centre(following(self, "radii", (half, ry) if i == 0 else (rx, half)))

        yield Also("diameters", ("width", "height"), (2 * rx, 2 * ry), "edge to edge; the centre stays", diameters)
