from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from typing import Any

from chalcedon.geometry import Affine, Box, Outline, arcdata
from chalcedon.geometry.pathdata import Segment
from chalcedon.geometry.round import arc, scaled_angle, toward
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import FOUR, Given, arc_through
from chalcedon.scene.grips import Change, Handle, Point, direction_of, turned_to
from chalcedon.scene.painted import Centred, Stroked, positive
from chalcedon.scene.roles import Direction, Radii, Sweep
from chalcedon.scene.similar import EXACT, similar_map
from chalcedon.scene.tidy import spoken, tidy
from chalcedon.scene.values import Choice, Number, Tuple

UNTIL = Given(
    ("angle",),
    "the angle at which it ends, not how far it sweeps",
    lambda n, v: {"sweep": max(-360.0, min(360.0, n[0] - v.get("start", 0.0)))},
)


def _through(n: Sequence[float], _: Any) -> dict[str, Any]:
    x, y, radius, start, sweep = arc_through(n)
    return {"at": (x, y), "radii": (radius, radius), "start": start, "sweep": sweep, "anchor": "origin"}


class Arc(Centred, Stroked):
    """A part of an ellipse's edge from `start` on by `sweep`, about the centre at `at`."""

    __slots__ = ()
    kind = "arc"
    leading = ("at", "radii", "start", "sweep", "ends")
    radii: Property[tuple[float, float]] = Property(
        Tuple("rx", "ry", of=positive),
        (60, 60),
        "centre to right edge, centre to bottom edge",
        always=True,
        role=Radii(),
    )
    start: Property[float] = Property(
        Number(unit="deg"), 0, "angle of the first point, from the x axis toward y", always=True, role=Direction()
    )
    sweep: Property[float] = Property(
        Number(low=-360.0, high=360.0, unit="deg"),
        270,
        "angle from the first point to the last",
        always=True,
        role=Sweep(),
    )
    ends: Property[str] = Property(
        Choice("open", "chord", "pie"), "open", "open, closed by a chord, or by way of the centre", always=True
    )

    rank, key = 6, "A"
    glyph = ("arc 10 10 7 7 -60 -250 pie fill none stroke INK 1.7 join round",)
    example = "arc 140 65 90 48 200 250 stroke #b8482a 8 cap round"
    hint = "Press at the centre, drag to where the arc starts · Shift holds to 15°"
    words = {
        "until": UNTIL,
        "through": Given((*FOUR, "x3", "y3"), "where it starts, a point it passes, where it ends", _through),
    }

    @staticmethod
    def outline(radii: Point, start: float, sweep: float, ends: str) -> Outline:
        return arc(radii[0], radii[1], start, sweep, ends)

    def arcs(self) -> list[Segment]:
        return arcdata.part(*self.radii, self.start, self.sweep, self.ends) if min(self.radii) > 0.0 else []

    def says(self) -> str:
        name = {"open": "arc", "chord": "arc closed by a chord", "pie": "pie"}[self.ends]
        if abs(self.sweep) >= 360:
            return f"{name} of a whole turn"
        return f"{name} of {spoken(self.sweep)}° from {spoken(self.start)}°"

    def reach(self) -> tuple[float, float]:
        return self.radii

    def handles(self, box: Box) -> list[Handle]:
        rx, ry = self.radii
        radii = Radii().handles(self, "radii")
        return [*end_handles(self, rx, ry), *(h for h in radii if h.raw in ((rx, 0.0), (0.0, ry)))]

    def stretched(self, sx: float, sy: float) -> dict[str, Any]:
        out = super().stretched(sx, sy)
        if not math.isclose(sx, sy) and sx > 0.0 and sy > 0.0:  # its ends are given by directions
            start = scaled_angle(sx, sy, self.start)
            out |= {"start": tidy(start, 4), "sweep": tidy(scaled_angle(sx, sy, self.start + self.sweep) - start, 4)}
        return out

    def baked(self, m: Affine) -> dict[str, Any]:
        if self.radii[0] != self.radii[1] and similar_map(m, self.kind).turn % 180 > EXACT:
            raise ValueProblem("an arc of a turned ellipse can't be given by radii.", hint="Make it a path first.")
        return super().baked(m)

    def also(self, offset: Point) -> Iterator[Also]:
        rx, ry = self.radii
        angles = (self.start, self.start + self.sweep / 2, self.start + self.sweep)
        points = [toward(rx, ry, a) for a in angles]

        def through(which: int) -> Callable[[int, float], Change]:
            def edit(i: int, value: float) -> Change:
                flat = [v for p in points for v in p]
                flat[2 * which + i] = value - offset[i]
                x, y, radius, start, sweep = arc_through(flat)
                values = {"radii": (tidy(radius, 4),) * 2, "start": tidy(start, 4), "sweep": tidy(sweep, 4)}
                return Change(values, (x, y))

            return edit

        yield until(self)
        round_one = math.isclose(rx, ry)
        stays = "the other two stay" if round_one else "on an ellipse it is only shown"
        for which, word in enumerate(("from", "by way of", "to")):
            x, y = points[which]
            spot = offset[0] + x, offset[1] + y
            yield Also(word, ("x", "y"), spot, f"a point of the arc; {stays}", through(which) if round_one else None)


def until(shape: Any) -> Also:
    """The angle at which a sweep ends."""

    def edit(i: int, value: float) -> Change:
        return about_centre({"sweep": tidy(max(-360.0, min(360.0, value - shape.start)), 4)})

    return Also("until", ("angle",), (shape.start + shape.sweep,), "the angle at which it ends; the start stays", edit)


def end_handles(shape: Any, rx: float, ry: float) -> tuple[Handle, Handle]:
    """The two ends of a sweep: dragging one leaves the other where it is."""
    start, sweep = shape.start, shape.sweep

    def first(q: Point, digits: int, held: bool) -> Change:
        new = turned_to(direction_of(q, held), start)
        rest = tidy(sweep + start - new)
        if abs(rest) > 360:  # once more round would be too far: the other way to say the same two ends
            full = math.copysign(360, rest)
            new, rest = tidy(new + full), tidy(rest - full)
        return Change({"start": new, "sweep": rest}, word=f"start {new:g}°")

    def last(q: Point, digits: int, held: bool) -> Change:
        new = max(-360, min(360, tidy(turned_to(direction_of(q, held) - start, sweep))))
        return Change({"sweep": new}, word=f"sweep {new:g}°")

    return Handle("angle", toward(rx, ry, start), first), Handle("angle", toward(rx, ry, start + sweep), last)
