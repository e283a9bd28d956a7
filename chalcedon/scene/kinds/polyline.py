from __future__ import annotations

from typing import Any

from chalcedon.geometry import EMPTY, Affine, Box, Outline, primitives
from chalcedon.geometry.contours import Contour
from chalcedon.geometry.pathdata import Segment
from chalcedon.geometry.spline import through
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.grips import Change, Drag, Handle, Point, held_direction, rounded_point
from chalcedon.scene.painted import Stroked
from chalcedon.scene.roles import Offset
from chalcedon.scene.similar import is_uniform
from chalcedon.scene.values import Choice, Flag, Many, Number, Tuple


class Polyline(Stroked):
    """Straight lines through points. Closed, it is a polygon."""

    __slots__ = ()
    kind = "polyline"
    leading = ("at", "points", "closed")
    points: Property[tuple[tuple[float, float], ...]] = Property(
        Many(Tuple("x", "y"), 1, 1_000_000, "points"),
        ((0, 0), (60, 40), (120, 0)),
        "relative to `at`",
        always=True,
        role=Offset(many=True),
    )
    closed: Property[bool] = Property(Flag(), False, "does the last point join the first", always=True)
    curve: Property[float] = Property(
        Number(low=0.0, high=1.0, unit="", step=0.05), 0, "0 straight lines, 1 a smooth curve through the points"
    )
    fill_rule: Property[str] = Property(
        Choice("nonzero", "evenodd"), "nonzero", "what is inside where the outline crosses itself", word="fill rule"
    )

    rank, key = 2, "P"
    glyph = ("polyline 2.5 14 0 0 4.5 -8 8.5 4 14 -8",)
    example = "polyline 40 100 0 0 60 -70 120 -10 200 -60 stroke #3e7f65 6 join round"
    made_by = "points"
    stretches = True

    @staticmethod
    def outline(points: tuple[Point, ...], closed: bool, curve: float) -> Outline:
        return through(points, closed, curve) if curve > 0.0 else primitives.polyline(points, closed)

    @staticmethod
    def box(points: tuple[Point, ...], closed: bool, curve: float) -> Box:
        if curve > 0.0:
            return through(points, closed, curve).bounds()
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return (min(xs), min(ys), max(xs), max(ys)) if points else EMPTY

    def says(self) -> str:
        count = len(self.points)
        if self.curve:
            return f"{'closed ' if self.closed else ''}curve through {count} points"
        if self.closed:
            return {3: "triangle", 4: "four-cornered polygon"}.get(count, f"polygon of {count} corners")
        return f"open polyline of {count} point{'' if count == 1 else 's'}"

    def proportion(self) -> tuple[float, float] | None:
        if len(self.points) < 3:
            return None
        xs, ys = zip(*self.points, strict=True)
        return max(xs) - min(xs), max(ys) - min(ys)

    def contours(self) -> list[Contour]:
        points = self.points
        segments = [Segment("L", p) for p in points[1:]]
        if self.closed and points:
            segments.append(Segment("L", points[0]))
        return [Contour(points, tuple(segments), self.closed)] if points else []

    def handles(self, box: Box) -> list[Handle]:
        points, stated = self.points, self.stated("points")

        def mover(i: int) -> Drag:
            def move(q: Point, digits: int, held: bool) -> Change:
                if held and len(points) > 1:
                    before = points[i - 1]
                    x, y = held_direction((q[0] - before[0], q[1] - before[1]), True)
                    q = before[0] + x, before[1] + y
                new = rounded_point(q, digits)
                values = {"points": (*stated[:i], new, *stated[i + 1 :])}
                return Change(values, word=f"point {i + 1}: {new[0]:g}, {new[1]:g}")

            return move

        return [Handle("point", p, mover(i)) for i, p in enumerate(points)]

    def baked(self, m: Affine) -> dict[str, Any]:
        if self.curve > 0.0 and not is_uniform(m):  # how it bends depends on how far its points are apart
            raise ValueProblem("the curve would go another way.", hint="Make it a path first, then bake.")
        return {"points": tuple(rounded_point(m.map(*p), 4) for p in self.points)}
