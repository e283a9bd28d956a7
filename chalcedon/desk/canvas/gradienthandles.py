"""Handles for a gradient: its two ends or its circle, and every stop on the line between. No Qt here."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from chalcedon.craft.gradients import DIGITS, GradientSpace, is_plain
from chalcedon.craft.hold import Start
from chalcedon.scene import Gradient
from chalcedon.scene.grips import Change, Handle, Point
from chalcedon.scene.tidy import tidy

StopDrag = Callable[[Point, int, bool], Change]


def gradient_of(start: Start, name: str) -> Gradient | None:
    """The gradient that a paint of a shape states, when its numbers can be dragged."""
    stated = start.still.stated(name) if name in start.shape.properties else None  # colours as they come to now
    if not isinstance(stated, Gradient):
        return None
    return stated if is_plain(stated) else None


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


class _Space(GradientSpace):
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
