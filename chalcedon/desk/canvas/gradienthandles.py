"""Handles for a gradient: its two ends or its circle, and every stop on the line between. No Qt here."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from chalcedon.craft.hold import Start
from chalcedon.formula import Formula
from chalcedon.scene import Gradient
from chalcedon.scene.axes import across
from chalcedon.scene.grips import Change, Handle, Point
from chalcedon.scene.tidy import tidy

DIGITS = 4

StopDrag = Callable[[Point, int, bool], Change]


def gradient_of(start: Start, name: str) -> Gradient | None:
    """The gradient that a paint of a shape states, when its numbers can be dragged."""
    stated = start.shape.stated(name) if name in start.shape.properties else None
    if not isinstance(stated, Gradient):
        return None
    numbers = [*stated.line, *(o for o, _ in stated.stops)]
    return None if any(isinstance(n, Formula) for n in numbers) else stated


def gradient_handles(start: Start, name: str) -> list[Handle]:
    """The handles of the gradient in `fill` or `stroke`; none when it holds no gradient."""
    gradient = gradient_of(start, name)
    if gradient is None:
        return []
    space = _Space(start, gradient)
    first, last = space.ends()
    out: list[Handle] = []
    if gradient.kind == "linear":
        out += [
            Handle("gradient", first, _linear_end(space, name, 0), last),
            Handle("gradient", last, _linear_end(space, name, 2)),
        ]
    else:
        centre = space.to_raw(*gradient.line[:2])
        out += [
            Handle("gradient", centre, _centre(space, name), last),
            Handle("gradient", last, _radius(space, name)),
        ]
        if len(gradient.line) == 5:
            out.append(Handle("focus", space.to_raw(*gradient.line[3:]), _focus(space, name), centre))
    # an end lies under its stop: the end is what is taken hold of there, the stop's bar moves the stop
    return out + [_stop(space, name, i) for i in range(len(gradient.stops))]


class _Space:
    """Between the numbers of a gradient and the raw space of its shape."""

    def __init__(self, start: Start, gradient: Gradient) -> None:
        self.start, self.gradient = start, gradient
        self.box = start.box
        self.up = start.node.kind.lie.up

    def to_raw(self, x: float, y: float) -> Point:
        if self.gradient.units == "scene":
            return self.start.raw_of(*self._page(x, y)) or (0.0, 0.0)
        x0, y0, x1, y1 = self.box
        return x0 + (x1 - x0) * x, y0 + (y1 - y0) * (1.0 - y if self.up else y)

    def from_raw(self, q: Point) -> Point:
        if self.gradient.units == "scene":
            x, y = self._page(*self.start.scene_of(q))
            return tidy(x, 2), tidy(y, 2)
        x0, y0, x1, y1 = self.box
        fx = (q[0] - x0) / (x1 - x0) if x1 > x0 else 0.0
        fy = (q[1] - y0) / (y1 - y0) if y1 > y0 else 0.0
        return tidy(fx, DIGITS), tidy(1.0 - fy if self.up else fy, DIGITS)

    def _page(self, x: float, y: float) -> Point:
        """A place that a gradient states in scene units in px of the page, or the other way round."""
        scene = self.start.shape.scene
        return across(scene, x, y) if scene is not None else (x, y)

    def ends(self) -> tuple[Point, Point]:
        """Where offset 0 and offset 1 are shown; on a radial gradient from the focus, or centre, to the right."""
        line = self.gradient.line
        if self.gradient.kind == "linear":
            return self.to_raw(*line[:2]), self.to_raw(*line[2:])
        return self.to_raw(*(line[3:] or line[:2])), self.to_raw(line[0] + line[2], line[1])

    def change(self, name: str, word: str, **values: Any) -> Change:
        return Change({name: self.gradient._replace(**values)}, (0.0, 0.0), (0.0, 0.0), word)


def _held(space: _Space, q: Point, other: Point, held: bool) -> Point:
    """With `held`, the direction between the ends snaps to steps of 15 degrees."""
    if not held:
        return q
    dx, dy = q[0] - other[0], q[1] - other[1]
    length = math.hypot(dx, dy)
    angle = math.radians(round(math.degrees(math.atan2(dy, dx)) / 15) * 15)
    return other[0] + length * math.cos(angle), other[1] + length * math.sin(angle)


def _linear_end(space: _Space, name: str, at: int) -> StopDrag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        line = space.gradient.line
        other = space.to_raw(*(line[2:] if at == 0 else line[:2]))
        x, y = space.from_raw(_held(space, q, other, held))
        new = (x, y, *line[2:]) if at == 0 else (*line[:2], x, y)
        return space.change(name, f"{'start' if at == 0 else 'end'} {x:g}, {y:g}", line=new)

    return drag


def _centre(space: _Space, name: str) -> StopDrag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        x, y = space.from_raw(q)
        line = space.gradient.line
        focus = tuple(tidy(f + n - o, DIGITS) for f, n, o in zip(line[3:], (x, y), line[:2], strict=False))
        return space.change(name, f"centre {x:g}, {y:g}", line=(x, y, line[2], *focus))

    return drag


def _radius(space: _Space, name: str) -> StopDrag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        line = space.gradient.line
        x, y = space.from_raw(q)
        radius = max(tidy(math.hypot(x - line[0], y - line[1]), DIGITS), 0.001)
        return space.change(name, f"radius {radius:g}", line=(*line[:2], radius, *line[3:]))

    return drag


def _focus(space: _Space, name: str) -> StopDrag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        x, y = space.from_raw(q)
        return space.change(name, f"focus {x:g}, {y:g}", line=(*space.gradient.line[:3], x, y))

    return drag


def _stop(space: _Space, name: str, index: int) -> Handle:
    """A stop is dragged along the line; it does not pass its neighbours."""
    first, last = space.ends()
    stops = space.gradient.stops
    offset = float(stops[index][0])

    def drag(q: Point, digits: int, held: bool) -> Change:
        dx, dy = last[0] - first[0], last[1] - first[1]
        square = dx * dx + dy * dy
        t = ((q[0] - first[0]) * dx + (q[1] - first[1]) * dy) / square if square else 0.0
        low = float(stops[index - 1][0]) if index else 0.0
        high = float(stops[index + 1][0]) if index + 1 < len(stops) else 1.0
        t = round(t * 20) / 20 if held else t
        t = tidy(min(max(t, low), high), 3)
        new = (*stops[:index], (t, stops[index][1]), *stops[index + 1 :])
        return space.change(name, f"stop {index + 1} at {t:g}", stops=new)

    place = first[0] + (last[0] - first[0]) * offset, first[1] + (last[1] - first[1]) * offset
    return Handle(f"stop {index}", place, drag)
