"""Outlines drawn about a centre at 0, 0: elliptical arcs, rings, regular polygons, stars."""

from __future__ import annotations

import math

from chalcedon.geometry import primitives as make
from chalcedon.geometry.path import Outline, PathBuilder


def point_at(rx: float, ry: float, degrees: float) -> tuple[float, float]:
    """The point of an ellipse at a parameter angle, quarter turns exact."""
    quarter, rest = divmod(degrees, 90.0)
    if rest == 0.0:
        c, s = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[int(quarter) % 4]
    else:
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return rx * c, ry * s


def parameter(rx: float, ry: float, degrees: float) -> float:
    """The parameter angle at which an ellipse is met in a direction from its centre. It is in the same quarter turn."""
    if rx == ry or rx <= 0.0 or ry <= 0.0 or degrees % 90.0 == 0.0:
        return degrees
    turns, angle = divmod(degrees, 360.0)
    t = math.degrees(math.atan2(math.sin(math.radians(angle)) * rx, math.cos(math.radians(angle)) * ry))
    return 360.0 * turns + t % 360.0


def toward(rx: float, ry: float, degrees: float) -> tuple[float, float]:
    """The point of an ellipse in a direction from its centre."""
    return point_at(rx, ry, parameter(rx, ry, degrees))


def scaled_angle(sx: float, sy: float, degrees: float) -> float:
    """The direction that another becomes when the plane is scaled by factors above 0; turns are kept."""
    return parameter(sy, sx, degrees)


def arc_to(pen: PathBuilder, rx: float, ry: float, start: float, sweep: float) -> None:
    """Continues along an ellipse about 0, 0; the pen must stand at `start`. Angles are parameter angles."""
    piece = min(45.0, 90.0 / make.cubics_a_quarter(max(rx, ry)))
    count = max(1, math.ceil(abs(sweep) / piece - 1e-9))
    step = sweep / count
    k = 4 / 3 * math.tan(math.radians(step) / 4)
    for i in range(count):
        a, b = start + step * i, start + step * (i + 1)
        (x0, y0), (x1, y1) = point_at(rx, ry, a), point_at(rx, ry, b)
        (dx0, dy0), (dx1, dy1) = point_at(rx, ry, a + 90.0), point_at(rx, ry, b + 90.0)
        pen.cubic(x0 + k * dx0, y0 + k * dy0, x1 - k * dx1, y1 - k * dy1, x1, y1)


def arc(rx: float, ry: float, start: float, sweep: float, ends: str = "open") -> Outline:
    """A part of an ellipse from the point in the direction `start` to that in the direction `start` + `sweep`, seen
    from the centre: open, closed by a chord, or by way of the centre (pie)."""
    sweep = parameter(rx, ry, start + sweep) - parameter(rx, ry, start)
    start = parameter(rx, ry, start)
    if abs(sweep) >= 360.0 and ends != "pie":
        sweep = math.copysign(360.0, sweep)
    pen = PathBuilder()
    if ends == "pie" and abs(sweep) < 360.0:
        pen.move(0.0, 0.0)
        pen.line(*point_at(rx, ry, start))
    else:
        pen.move(*point_at(rx, ry, start))
    arc_to(pen, rx, ry, start, sweep)
    if ends != "open":
        pen.close()
    return pen.path()


def annulus(inner: float, outer: float, start: float, sweep: float) -> Outline:
    """A ring, the inner edge running against the outer one, or a slice of it. The radii may be given either way."""
    small, large = min(inner, outer), max(inner, outer)
    pen = PathBuilder()
    if abs(sweep) >= 360.0:
        pen.move(large, 0.0)
        arc_to(pen, large, large, 0.0, 360.0)
        pen.close()
        if small > 0.0:
            pen.move(small, 0.0)
            arc_to(pen, small, small, 0.0, -360.0)
            pen.close()
        return pen.path()
    pen.move(*point_at(large, large, start))
    arc_to(pen, large, large, start, sweep)
    pen.line(*point_at(small, small, start + sweep))
    if small > 0.0:
        arc_to(pen, small, small, start + sweep, -sweep)
    pen.close()
    return pen.path()


def regular_polygon(sides: int, radius: float, facing: float) -> Outline:
    """Corners at equal angles on a circle about 0, 0, the first in a direction in degrees."""
    return make.polyline([point_at(radius, radius, facing + 360.0 * i / sides) for i in range(sides)], True)


def star(tips: int, outer: float, inner: float, facing: float) -> Outline:
    """Tips on one circle and notches on another, about 0, 0."""
    half = 180.0 / tips
    spots = [point_at(r, r, facing + half * i) for i, r in enumerate([outer, inner] * tips)]
    return make.polyline(spots, True)
