from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Affine, Box, Outline, primitives
from chalcedon.geometry.contours import Contour
from chalcedon.geometry.pathdata import Segment
from chalcedon.scene.axes import is_up
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Also, about_centre
from chalcedon.scene.given import Given, not_negative
from chalcedon.scene.grips import Change, Handle, Point, held_direction, rounded_point
from chalcedon.scene.painted import Stroked
from chalcedon.scene.roles import Offset
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Tuple


class Line(Stroked):
    """A straight line from `at` by `to`."""

    __slots__ = ()
    kind = "line"
    leading = ("at", "to")
    to: Property[tuple[float, float]] = Property(
        Tuple("x", "y"), (100, 0), "the end, relative to `at`", always=True, role=Offset()
    )

    rank, key = 1, "L"
    glyph = ("line 4 15.5 12 -11", "circle 4 15.5 2 fill INK", "circle 16 4.5 2 fill INK")
    example = "line 40 90 220 -60 stroke #b8482a 8 cap round"
    hint = "Press where it starts, drag to its end · Shift holds to 15°"
    made_by = "end"
    place_word = "starting"
    stretches = True
    words = {
        "end": Given(
            ("x", "y"),
            "where it ends, not how far away that is",
            lambda n, v: {"to": (n[0] - v.get("at", (0, 0))[0], n[1] - v.get("at", (0, 0))[1])},
        ),
        "polar": Given(
            ("length", "angle"), "how long it is, and its direction in degrees", lambda n, _: {"to": _polar(*n)}
        ),
    }

    @staticmethod
    def outline(to: Point) -> Outline:
        return primitives.polyline([(0.0, 0.0), to])

    @staticmethod
    def box(to: Point) -> Box:
        return min(0.0, to[0]), min(0.0, to[1]), max(0.0, to[0]), max(0.0, to[1])

    def says(self) -> str:
        x, y = self.to
        y = -y if is_up(self.scene) else y
        ways = [("down" if y > 0 else "up")] * (y != 0) + [("right" if x > 0 else "left")] * (x != 0)
        return f"line going {' and '.join(ways)}" if ways else "line of no length"

    def contours(self) -> list[Contour]:
        return [Contour(((0.0, 0.0), self.to), (Segment("L", self.to),))]

    def handles(self, box: Box) -> list[Handle]:
        to = self.to

        def move_end(q: Point, digits: int, held: bool) -> Change:
            new = rounded_point(held_direction(q, held), digits)
            return Change({"to": new}, word=f"to {new[0]:g}, {new[1]:g}")

        def move_start(q: Point, digits: int, held: bool) -> Change:
            x, y = rounded_point(held_direction((q[0] - to[0], q[1] - to[1]), held), digits)
            new = -x, -y
            return Change({"to": new}, to, new, f"to {new[0]:g}, {new[1]:g}")

        return [Handle("start", (0.0, 0.0), move_start), Handle("to", to, move_end)]

    def baked(self, m: Affine) -> dict[str, Any]:
        return {"to": rounded_point(m.map(*self.to), 4)}

    def also(self, offset: Point) -> Iterator[Also]:
        (ox, oy), (dx, dy) = offset, self.to
        length, angle = math.hypot(dx, dy), math.degrees(math.atan2(dy, dx))

        def end(i: int, value: float) -> Change:
            return about_centre({"to": (tidy(value - ox, 4), dy) if i == 0 else (dx, tidy(value - oy, 4))})

        def polar(i: int, value: float) -> Change:
            size, way = (not_negative(value, "length"), angle) if i == 0 else (length, value)
            return about_centre({"to": rounded_point(_polar(size, way), 4)})

        yield Also("end", ("x", "y"), (ox + dx, oy + dy), "where it ends; the start stays", end)
        yield Also("polar", ("length", "angle"), (length, angle), "its length and direction; the start stays", polar)


def _polar(length: float, angle: float) -> Point:
    way = math.radians(angle)
    return round(length * math.cos(way), 6), round(length * math.sin(way), 6)
