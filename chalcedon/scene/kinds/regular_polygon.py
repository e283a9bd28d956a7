from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any

from chalcedon.geometry import Outline
from chalcedon.geometry.round import regular_polygon
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import Given, not_negative
from chalcedon.scene.grips import Change, Point
from chalcedon.scene.painted import Centred, positive
from chalcedon.scene.roles import Direction, Radius
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Number


def _half(values: Any) -> float:
    """Half the angle that a side is seen under."""
    return math.pi / max(3, int(values.get("sides", 6)))


class RegularPolygon(Centred):
    """Equal sides about the centre at `at`."""

    __slots__ = ()
    kind = "regular_polygon"
    leading = ("at", "sides", "radius", "facing")
    sides: Property[int] = Property(Number(low=3, high=1000, unit="", whole=True), 6, "how many sides", always=True)
    radius: Property[float] = Property(positive, 50, "centre to corner", always=True, role=Radius(turns="facing"))
    facing: Property[float] = Property(Number(unit="deg"), -90, "direction of the first corner", role=Direction())

    rank, key = 8, "G"
    glyph = ("regular_polygon 10 10.6 6 7.6 fill none stroke INK 1.7 join round",)
    example = "regular_polygon 140 65 6 52 fill #7fa3b8"
    hint = "Press at the centre, drag to the first corner · Shift holds to 15°"
    words = {
        "side": Given(("length",), "length of a side", lambda n, v: {"radius": n[0] / (2 * math.sin(_half(v)))}),
        "inradius": Given(
            ("radius",), "centre to the middle of a side", lambda n, v: {"radius": n[0] / math.cos(_half(v))}
        ),
    }

    @staticmethod
    def outline(sides: int, radius: float, facing: float) -> Outline:
        return regular_polygon(sides, radius, facing)

    def says(self) -> str:
        return f"regular polygon of {self.sides} sides"

    def also(self, offset: Point) -> Iterator[Also]:
        half = math.pi / self.sides

        def radius(factor: float) -> Callable[[int, float], Change]:
            return lambda i, value: about_centre({"radius": tidy(not_negative(value, "length") / factor, 4)})

        side, inner = 2 * math.sin(half), math.cos(half)
        yield Also("side", ("length",), (self.radius * side,), "length of a side; the centre stays", radius(side))
        text = "centre to the middle of a side; the centre stays"
        yield Also("inradius", ("",), (self.radius * inner,), text, radius(inner))
