from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Outline
from chalcedon.geometry.round import star
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import not_negative
from chalcedon.scene.grips import Change, Point
from chalcedon.scene.painted import Centred, positive
from chalcedon.scene.roles import Direction, Radius
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Number


def _notch(shape: Any) -> float:
    return float(shape.facing + 180 / shape.tips)


class Star(Centred):
    """Tips on an outer circle, notches on an inner one, about the centre at `at`."""

    __slots__ = ()
    kind = "star"
    leading = ("at", "tips", "outer", "inner", "facing")
    tips: Property[int] = Property(Number(low=2, high=1000, unit="", whole=True), 5, "how many tips", always=True)
    outer: Property[float] = Property(positive, 50, "centre to tip", always=True, role=Radius(turns="facing"))
    inner: Property[float] = Property(
        positive, 22, "centre to notch", always=True, role=Radius(_notch, share=0.45, within="outer")
    )
    facing: Property[float] = Property(Number(unit="deg"), -90, "direction of the first tip", role=Direction())

    rank, key = 9, "S"
    equal_radii = "it has no tips"
    glyph = ("star 10 10.8 5 8.2 3.7 fill none stroke INK 1.6 join round",)
    example = "star 140 70 7 58 30 fill #dca443"
    hint = "Press at the centre, drag to the first tip · Shift holds to 15°"

    @staticmethod
    def outline(tips: int, outer: float, inner: float, facing: float) -> Outline:
        return star(tips, outer, inner, facing)

    def says(self) -> str:
        return f"star of {self.tips} tips"

    def also(self, offset: Point) -> Iterator[Also]:
        def ratio(i: int, value: float) -> Change:
            return about_centre({"inner": tidy(self.outer * not_negative(value, "ratio"), 4)})

        if self.outer > 0:
            now = self.inner / self.outer
            yield Also("ratio", ("",), (now,), "inner to outer radius; the tips stay", ratio)
