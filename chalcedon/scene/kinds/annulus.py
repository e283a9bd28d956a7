from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Affine, Box, Outline, arcdata
from chalcedon.geometry.pathdata import Segment
from chalcedon.geometry.round import annulus
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import not_negative
from chalcedon.scene.grips import Change, Handle, Point
from chalcedon.scene.kinds.arc import UNTIL, end_handles, until
from chalcedon.scene.painted import Centred, positive
from chalcedon.scene.roles import Direction, Radius, Sweep
from chalcedon.scene.tidy import spoken, tidy
from chalcedon.scene.values import Number


def _first(ring: Any) -> float:
    return float(ring.start)


class Annulus(Centred):
    """A ring between two circles, or a slice of it when the sweep is under 360."""

    __slots__ = ()
    kind = "annulus"
    leading = ("at", "inner", "outer", "start", "sweep")
    inner: Property[float] = Property(
        positive, 30, "centre to inner edge", always=True, role=Radius(_first, share=0.5, within="outer")
    )
    outer: Property[float] = Property(positive, 60, "centre to outer edge", always=True, role=Radius(_first))
    start: Property[float] = Property(Number(unit="deg"), 0, "angle where a slice begins", role=Direction(drawn=False))
    sweep: Property[float] = Property(
        Number(low=-360.0, high=360.0, unit="deg"), 360, "angle of a slice; 360 is the whole ring", role=Sweep()
    )

    rank, key = 7, "N"
    equal_radii = "the ring has no width"
    glyph = ("annulus 10 10 3.4 7.2 fill none stroke INK 1.6",)
    example = "annulus 140 65 26 52 -60 240 fill #3e7f65"
    hint = "Press at the centre, drag to the outer edge"
    words = {"until": UNTIL}

    @staticmethod
    def outline(inner: float, outer: float, start: float, sweep: float) -> Outline:
        return annulus(inner, outer, start, sweep)

    def arcs(self) -> list[Segment]:
        return arcdata.ring(self.inner, self.outer, self.start, self.sweep) if max(self.inner, self.outer) > 0.0 else []

    @property
    def _whole(self) -> bool:
        return abs(self.sweep) >= 360

    def says(self) -> str:
        part = "" if self._whole else f"slice of {spoken(self.sweep)}° of a "
        wide, across = abs(self.outer - self.inner), 2 * max(self.outer, self.inner)
        return f"{part}ring {spoken(wide)} wide, {spoken(across)} across"

    def handles(self, box: Box) -> list[Handle]:
        middle = 0.0 if self._whole else self.start + self.sweep / 2
        edges = [h for n in ("outer", "inner") for h in Radius(lambda _: middle).handles(self, n)]
        between = (self.outer + self.inner) / 2
        return edges if self._whole else [*edges, *end_handles(self, between, between)]

    def baked(self, m: Affine) -> dict[str, Any]:
        out = super().baked(m)
        return {n: v for n, v in out.items() if n in ("inner", "outer")} if self._whole else out

    def also(self, offset: Point) -> Iterator[Also]:
        def width(i: int, value: float) -> Change:
            if value > self.outer:
                hint = "Make the outer radius larger first."
                raise ValueProblem(f"the ring is at most {self.outer:g} wide.", hint=hint)
            return about_centre({"inner": tidy(self.outer - not_negative(value, "width"), 4)})

        yield until(self)
        yield Also("ring", ("width",), (self.outer - self.inner,), "inner to outer edge; the outer stays", width)
