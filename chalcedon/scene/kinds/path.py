from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cachetools import LRUCache, cached

from chalcedon.geometry import MIRROR, Affine, Box, Outline
from chalcedon.geometry.contours import Contour, contours_of
from chalcedon.geometry.pathdata import (
    REMEMBERED,
    Segment,
    mapped_arc,
    outline_of,
    parse_path,
    print_path,
    without_arcs,
)
from chalcedon.scene.declare import Property
from chalcedon.scene.grips import Handle
from chalcedon.scene.kinds.knots import path_handles
from chalcedon.scene.painted import Painted
from chalcedon.scene.pathvalue import PathData
from chalcedon.scene.similar import is_uniform
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Choice


@cached(LRUCache(REMEMBERED, getsizeof=lambda path: 10 + len(path.verbs)))
def _outline(data: str) -> Outline:
    return outline_of(parse_path(data).segments)


class Path(Painted):
    """Lines, curves and arcs as SVG path data, relative to `at`."""

    __slots__ = ()
    kind = "path"
    leading = ("at", "data")
    data: Property[str] = Property(
        PathData(), "M0 0 C30 -60 90 -60 120 0 Z", "SVG path data, relative to `at`", always=True
    )
    fill_rule: Property[str] = Property(
        Choice("nonzero", "evenodd"), "nonzero", "what is inside where the outline crosses itself", word="fill rule"
    )

    rank, key = 10, "B"
    glyph = ("path 2.5 13.5 'M0 0 C3 -14 8 -14 8 -4 S12 6 15 -8' fill none stroke INK 1.7 cap round",)
    example = "path 30 70 'M0 0 C40 -80 70 -80 110 0 S180 80 220 0' fill none stroke #3e7f65 6 cap round"
    made_by = "points"
    stretches = True

    @staticmethod
    def outline(data: str) -> Outline:
        return _outline(data)

    def says(self) -> str:
        parsed = parse_path(self.data)
        parts = sum(s.letter == "M" for s in parsed.segments)
        pieces = sum(s.letter not in "MZ" for s in parsed.segments)
        broken = f", broken off at character {parsed.position + 1}" if parsed.error else ""
        segments = f"{pieces} segment{'' if pieces == 1 else 's'}"
        return f"path of {segments} in {parts} part{'' if parts == 1 else 's'}{broken}"

    def contours(self) -> list[Contour]:
        return contours_of(parse_path(self.data).segments)

    def handles(self, box: Box) -> list[Handle]:
        return path_handles(self.contours())

    def stretched(self, sx: float, sy: float) -> dict[str, Any]:
        return {"data": print_mapped(parse_path(self.data).segments, Affine.scale(sx, sy))}

    def over(self) -> dict[str, Any]:
        data = self.stated("data")
        parsed = parse_path(data) if isinstance(data, str) else None
        if parsed is None or parsed.error:
            return {}  # what comes after the mistake would be lost
        return {"data": print_mapped(parsed.segments, MIRROR, digits=9)}

    def baked(self, m: Affine) -> dict[str, Any]:
        return {"data": print_mapped(parse_path(self.data).segments, m)}


def print_mapped(segments: Sequence[Segment], m: Affine, digits: int = 4) -> str:
    """The data of path segments under a map. Arcs stay arcs where they can."""
    similar = is_uniform(m)
    out = []
    for s in segments if similar else without_arcs(segments):
        if s.letter == "A":
            n = list(mapped_arc(s, m).numbers)
        else:
            n = [v for i in range(0, len(s.numbers), 2) for v in m.map(*s.numbers[i : i + 2])]
        out.append(s._replace(numbers=tuple(tidy(v, digits) for v in n)))
    return print_path(out)
