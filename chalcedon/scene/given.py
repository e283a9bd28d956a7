"""Other ways to give a shape: two corners, a diameter, points on its edge. They are converted once, when given.

Nothing here is stored: a shape keeps its own properties only. The words work in the new line, in the text form and as
arguments of the classes: Rect(between=(10, 10, 90, 60)), Circle(through=(0, 0, 50, 50, 100, 0)).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any, NamedTuple

from chalcedon.problems import ValueProblem

Values = dict[str, Any]


class Given(NamedTuple):
    """`labels` name the numbers, `help` says what they are, `convert` makes properties of the numbers and of those
    properties that were given beside them."""

    labels: tuple[str, ...]
    help: str
    convert: Callable[[Sequence[float], Mapping[str, Any]], Values]
    hangs: bool = False
    """Whether `at` becomes the corner from which a `size` leads down."""


FOUR = ("x", "y", "x2", "y2")


def corners_of(n: Sequence[float]) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of the box with two opposite corners."""
    return min(n[0], n[2]), min(n[1], n[3]), max(n[0], n[2]), max(n[1], n[3])


def not_negative(value: float, word: str) -> float:
    """The number. Raises ValueProblem below 0."""
    if value < 0:
        raise ValueProblem(f"a {word} below 0 can't be.", hint="Give 0 or more.")
    return value


def circle_through(n: Sequence[float]) -> tuple[float, float, float]:
    """Centre and radius of the circle through three points. Raises ValueProblem when they lie on one line."""
    (ax, ay, bx, by, cx, cy) = n
    bx, by, cx, cy = bx - ax, by - ay, cx - ax, cy - ay
    det = 2 * (bx * cy - by * cx)
    size = max(abs(bx), abs(by), abs(cx), abs(cy))
    if abs(det) <= 1e-12 * size * size:
        raise ValueProblem("no circle goes through three points of one line.", hint="Move one of them.")
    b, c = bx * bx + by * by, cx * cx + cy * cy
    x, y = (cy * b - by * c) / det, (bx * c - cx * b) / det
    return ax + x, ay + y, math.hypot(x, y)


def arc_through(n: Sequence[float]) -> tuple[float, float, float, float, float]:
    """Centre, radius, start and sweep of the arc from the first point by way of the second to the third."""
    x, y, radius = circle_through(n)
    a, b, c = (math.degrees(math.atan2(n[i + 1] - y, n[i] - x)) for i in (0, 2, 4))
    way, via = (c - a) % 360, (b - a) % 360
    return x, y, radius, a, way if via <= way else way - 360


def converted(
    kind: str,
    words: Mapping[str, Given],
    given: Mapping[str, Sequence[float]],
    values: Mapping[str, Any],
    up: bool = False,
) -> Values:
    """The properties that some given words of a kind come to, in a scene in which y runs `up` or down. Raises
    ValueProblem when the numbers can't work."""
    out: Values = {}
    for word, numbers in given.items():
        form = words[word]
        flat = [float(v) for n in numbers for v in (n if isinstance(n, tuple | list) else (n,))]
        if len(flat) != len(form.labels):
            raise ValueProblem(f"{word} takes {len(form.labels)} numbers: {', '.join(form.labels)}.", kind)
        if not all(math.isfinite(v) and abs(v) <= 1e9 for v in flat):
            raise ValueProblem(f"{word}: these numbers are too large.", kind)
        found = form.convert(flat, {**values, **out})
        if up and form.hangs:
            x, y = found["at"]
            found["at"] = x, y + found["size"][1]
        for name, value in found.items():
            out[name] = tuple(_short(v) for v in value) if isinstance(value, tuple) else _short(value)
    return out


def _short(value: Any) -> Any:
    if not isinstance(value, float):
        return value
    short = round(value, 6)
    return int(short) if short == int(short) else short
