"""What a number means in the shape it belongs to. Out of it follow how it is stretched, what a similar map makes of it,
how it is measured and taken hold of on the canvas, and what a drag from the centre gives.

A kind states the role of each property once (`Property(..., role=Radius())`). What roles can't say, it says itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from chalcedon.formula import Formula
from chalcedon.formula.relative import minus
from chalcedon.geometry.round import point_at, toward
from chalcedon.scene.grips import Change, Handle, Point, direction_of, turned_to
from chalcedon.scene.tidy import tidy


class Similar(NamedTuple):
    """A map that keeps shapes similar: first mirrored in the x axis or not, then scaled, then turned by degrees."""

    scale: float
    turn: float
    mirrored: bool


class Gauge(NamedTuple):
    """Lines in raw space: the first of `firm` measures, `faint` ones lead to it. `label` stands at `spot`, or in the
    middle of the first."""

    label: str
    firm: list[list[Point]]
    faint: list[list[Point]]
    spot: Point | None = None


def span(a: Point, b: Point, label: str, *faint: list[Point]) -> Gauge:
    """A straight measure."""
    return Gauge(label, [[a, b]], list(faint))


class Role:
    """A value that stays as it is however its shape is stretched, and has no place on the canvas: a count, a ratio."""

    def stretched(self, value: Any, sx: float, sy: float) -> Any:
        """The value in a shape whose width and height are multiplied."""
        return value

    def mapped(self, value: Any, m: Similar) -> Any:
        """The value in a shape that is mapped."""
        return value

    def over(self, value: Any) -> Any:
        """The value, as it is stated, where y runs the other way."""
        return value

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge | None:
        """What a number measures; None for what has no length on the canvas."""
        return None

    def handles(self, shape: Any, name: str) -> Iterator[Handle]:
        """The places where the value is taken hold of."""
        return iter(())

    def drawn(self, radius: float, way: float) -> Any:
        """The value after a drag from the centre, so far and in a direction in degrees; None to leave it."""
        return None


PLAIN = Role()


def one_factor(sx: float, sy: float) -> float:
    """How much what can't be stretched one way only grows."""
    return sx if sx != 1.0 else sy


class Length(Role):
    """A length that grows with the shape, both ways alike."""

    def stretched(self, value: Any, sx: float, sy: float) -> Any:
        return tidy(value * one_factor(sx, sy), 4)

    def mapped(self, value: Any, m: Similar) -> Any:
        return tidy(value * m.scale, 4)


def _facing(shape: Any) -> float:
    return float(getattr(shape, "facing", 0.0))


class Radius(Length):
    """A length from the centre. `toward` says in which direction (degrees) it is drawn; with `turns`, the name of a
    direction, its handle changes both. `around` gives handles to all four sides. `share` is its part of the radius
    that is dragged; 0 for none. `within` names the radius that it shouldn't exceed."""

    def __init__(
        self,
        toward: Callable[[Any], float] = _facing,
        turns: str = "",
        around: bool = False,
        share: float = 1.0,
        within: str = "",
    ) -> None:
        self.toward, self.turns, self.around, self.share, self.within = toward, turns, around, share, within

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        r = getattr(shape, name)
        return span((0.0, 0.0), point_at(r, r, self.toward(shape)), f"{name} {r:g}")

    def handles(self, shape: Any, name: str) -> Iterator[Handle]:
        way = self.toward(shape)
        radius = getattr(shape, name)

        def drag(q: Point, digits: int, held: bool) -> Change:
            new = tidy(math.hypot(*q), digits)
            values, word = {name: new}, f"{name} {new:g}"
            if self.turns:
                values[self.turns] = turned_to(direction_of(q, held), getattr(shape, self.turns))
                word += f", {self.turns} {values[self.turns]:g}°"
            return Change(values, word=word)

        for i in range(4 if self.around else 1):
            yield Handle("corner" if self.turns else "radius", point_at(radius, radius, way + 90 * i), drag)

    def drawn(self, radius: float, way: float) -> Any:
        return (tidy(radius * self.share, 2) if self.share != 1.0 else radius) if self.share else None


class Radii(Role):
    """Two lengths from the centre, along the axes."""

    def stretched(self, value: Any, sx: float, sy: float) -> Any:
        return tidy(value[0] * sx, 4), tidy(value[1] * sy, 4)

    def mapped(self, value: Any, m: Similar) -> Any:
        return tidy(value[0] * m.scale, 4), tidy(value[1] * m.scale, 4)

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        rx, ry = getattr(shape, name)
        across = path == (0,)
        return span((0.0, 0.0), (rx, 0.0) if across else (0.0, ry), f"rx {rx:g}" if across else f"ry {ry:g}")

    def handles(self, shape: Any, name: str) -> Iterator[Handle]:
        rx, ry = getattr(shape, name)
        kept = getattr(shape, "aspect_ratio", 0.0)
        ratio = kept or (rx / ry if rx > 0.0 and ry > 0.0 else 1.0)

        def across(q: Point, digits: int, held: bool) -> Change:
            new = tidy(abs(q[0]), digits)
            return Change({name: (new, tidy(new / ratio, 4) if held or kept else ry)}, word=f"rx {new:g}")

        def down(q: Point, digits: int, held: bool) -> Change:
            new = tidy(abs(q[1]), digits)
            return Change({name: (tidy(new * ratio, 4) if held or kept else rx, new)}, word=f"ry {new:g}")

        yield Handle("radius", (rx, 0.0), across)
        yield Handle("radius", (-rx, 0.0), across)
        yield Handle("radius", (0.0, ry), down)
        yield Handle("radius", (0.0, -ry), down)

    def drawn(self, radius: float, way: float) -> Any:
        return radius, radius


class Extent(Role):
    """Width and height, from the top left corner."""

    stretched, mapped = Radii.stretched, Radii.mapped

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        w, h = getattr(shape, name)
        if path == (0,):
            return span((0.0, h), (w, h), f"width {w:g}")
        return span((w, 0.0), (w, h), f"height {h:g}")


def _over(point: Any) -> Any:
    return point if isinstance(point, Formula) else (point[0], minus(point[1]))


class Offset(Role):
    """A place, or `many`, counted from `at`."""

    def __init__(self, many: bool = False) -> None:
        self.many = many

    def stretched(self, value: Any, sx: float, sy: float) -> Any:
        if self.many:
            return tuple((tidy(x * sx, 4), tidy(y * sy, 4)) for x, y in value)
        return tidy(value[0] * sx, 4), tidy(value[1] * sy, 4)

    def over(self, value: Any) -> Any:
        if self.many and isinstance(value, tuple):
            return tuple(_over(p) for p in value)
        return _over(value)

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge | None:
        value = getattr(shape, name)
        if self.many:
            if len(path) != 2:
                return None
            value, path = value[path[0]], path[1:]
        x, y = value
        if path == (0,):
            return span((0.0, y), (x, y), f"x {x:g}", [(0.0, 0.0), (0.0, y)])
        return span((x, 0.0), (x, y), f"y {y:g}", [(0.0, 0.0), (x, 0.0)])


class Direction(Role):
    """An angle in degrees from the x axis toward the y axis, which a drag from the centre gives unless `drawn` is
    false."""

    def __init__(self, drawn: bool = True) -> None:
        self._drawn = drawn

    def mapped(self, value: Any, m: Similar) -> Any:
        turned = m.turn - value if m.mirrored else m.turn + value
        return tidy((turned + 180) % 360 - 180, 6)

    def over(self, value: Any) -> Any:
        return minus(value)

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        return protractor(shape, name, 0.0)

    def drawn(self, radius: float, way: float) -> Any:
        return way if self._drawn else None


class Winding(Role):
    """How far something turns: by its sign the other way round in a mirror."""

    def mapped(self, value: Any, m: Similar) -> Any:
        return tidy(-value if m.mirrored else value, 6)

    def over(self, value: Any) -> Any:
        return minus(value)


class Sweep(Winding):
    """A turn in degrees from the direction of `start` on."""

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        return protractor(shape, name, shape.start)


def usual(cls: Any, up: bool) -> dict[str, Any]:
    """What a new shape of a kind states so that it points up, where y runs up; its defaults do where y runs down."""
    if not up:
        return {}
    return {n: -p.default for n, p in cls.properties.items() if isinstance(p.role, Direction) and p.default}


def protractor(shape: Any, name: str, zero: float) -> Gauge:
    """An angle about the centre, from `zero` degrees on."""
    angle = getattr(shape, name)
    rx, ry = (0.6 * r for r in shape.reach())
    count = max(2, min(120, int(abs(angle) / 4) + 2))
    curve = [toward(rx, ry, zero + angle * i / (count - 1)) for i in range(count)]
    legs = [[(0.0, 0.0), toward(rx * 1.5, ry * 1.5, zero)], [(0.0, 0.0), curve[-1]]]
    return Gauge(f"{name} {angle:g}°", [curve], legs, curve[-1])
