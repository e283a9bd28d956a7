from __future__ import annotations

import itertools
import math

from chalcedon.geometry import Outline
from chalcedon.geometry.path import PathBuilder
from chalcedon.scene.declare import Property
from chalcedon.scene.painted import Centred, Stroked, positive
from chalcedon.scene.roles import Direction, Radius, Winding
from chalcedon.scene.tidy import spoken
from chalcedon.scene.values import Number


class Spiral(Centred, Stroked):
    """Turns about the centre at `at`, from the inner radius to the outer, each as far from the last (Archimedean)."""

    __slots__ = ()
    kind = "spiral"
    leading = ("at", "turns", "inner", "outer", "facing")
    turns: Property[float] = Property(
        Number(low=-100.0, high=100.0, unit="", step=0.25),
        3,
        "how many; below 0 the other way round",
        always=True,
        role=Winding(),
    )
    inner: Property[float] = Property(
        positive, 6, "centre to where it begins", always=True, role=Radius(share=0.1, turns="facing")
    )
    outer: Property[float] = Property(
        positive, 50, "centre to where it ends", always=True, role=Radius(lambda s: s.facing + 360 * s.turns)
    )
    facing: Property[float] = Property(Number(unit="deg"), -90, "direction in which it begins", role=Direction())

    rank, key = 9.5, "W"
    glyph = ("spiral 10 10 2.25 0.6 7.6 fill none stroke INK 1.6 cap round",)
    example = "spiral 140 65 4 4 56 stroke #b8482a 5 cap round"
    hint = "Press at the centre, drag to the outer edge · Shift holds to 15°"

    @staticmethod
    def outline(turns: float, inner: float, outer: float, facing: float) -> Outline:
        angle, grown = math.tau * turns, outer - inner
        # the error of a cubic with these ends and tangents is h^4 / 384 of the fourth derivative: below 0.005 px, or of
        # a very large one below two millionths of its radius
        fourth = max(inner, outer) + 4 * abs(grown) / max(abs(angle), 1e-9)
        h = max(0.16, min(0.5, (1.92 / max(fourth, 1e-9)) ** 0.25))
        count = max(1, math.ceil(abs(angle) / h))
        spots = []
        for i in range(count + 1):
            way, r = math.radians(facing) + angle * i / count, inner + grown * i / count
            c, s, turn, out = math.cos(way), math.sin(way), r * angle / count / 3, grown / count / 3
            spots.append((r * c, r * s, out * c - turn * s, out * s + turn * c))
        pen = PathBuilder()
        pen.move(*spots[0][:2])
        for (ax, ay, adx, ady), (bx, by, bdx, bdy) in itertools.pairwise(spots):
            pen.cubic(ax + adx, ay + ady, bx - bdx, by - bdy, bx, by)
        return pen.path()

    def says(self) -> str:
        return f"spiral of {spoken(abs(self.turns))} turns, {spoken(2 * max(self.inner, self.outer))} across"
