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


def _between(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    left, top, right, bottom = min(n[0], n[2]), min(n[1], n[3]), max(n[0], n[2]), max(n[1], n[3])
    return {"at": (left, top), "size": (right - left, bottom - top), "anchor": "top-left"}


def _around(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    return {"at": (n[0], n[1]), "size": (n[2], n[3]), "anchor": "center"}


def _box(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    middle = (n[0] + n[2]) / 2, (n[1] + n[3]) / 2
    return {"at": middle, "radii": (abs(n[2] - n[0]) / 2, abs(n[3] - n[1]) / 2), "anchor": "center"}


def _across(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    middle = (n[0] + n[2]) / 2, (n[1] + n[3]) / 2
    return {"at": middle, "radius": math.hypot(n[2] - n[0], n[3] - n[1]) / 2, "anchor": "center"}


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


def _through(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    x, y, radius = circle_through(n)
    return {"at": (x, y), "radius": radius, "anchor": "center"}


def arc_through(n: Sequence[float]) -> tuple[float, float, float, float, float]:
    """Centre, radius, start and sweep of the arc from the first point by way of the second to the third."""
    x, y, radius = circle_through(n)
    a, b, c = (math.degrees(math.atan2(n[i + 1] - y, n[i] - x)) for i in (0, 2, 4))
    way, via = (c - a) % 360, (b - a) % 360
    return x, y, radius, a, way if via <= way else way - 360


def _arc(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    x, y, radius, start, sweep = arc_through(n)
    return {"at": (x, y), "radii": (radius, radius), "start": start, "sweep": sweep, "anchor": "origin"}


def _line_end(n: Sequence[float], values: Mapping[str, Any]) -> Values:
    x, y = values.get("at", (0.0, 0.0))
    return {"to": (n[0] - x, n[1] - y)}


def _polar(n: Sequence[float], _: Mapping[str, Any]) -> Values:
    angle = math.radians(n[1])
    return {"to": (round(n[0] * math.cos(angle), 6), round(n[0] * math.sin(angle), 6))}


def _until(n: Sequence[float], values: Mapping[str, Any]) -> Values:
    return {"sweep": max(-360.0, min(360.0, n[0] - values.get("start", 0.0)))}


def _sides(values: Mapping[str, Any]) -> int:
    return max(3, int(values.get("sides", 6)))


FOUR = ("x", "y", "x2", "y2")
GIVEN: dict[str, dict[str, Given]] = {
    "line": {
        "end": Given(("x", "y"), "where it ends, not how far away that is", _line_end),
        "polar": Given(("length", "angle"), "how long it is, and its direction in degrees", _polar),
    },
    "rect": {
        "between": Given(FOUR, "two opposite corners, in any order", _between),
        "around": Given(("x", "y", "width", "height"), "its centre and its size", _around),
    },
    "image": {
        "between": Given(FOUR, "two opposite corners, in any order", _between),
        "around": Given(("x", "y", "width", "height"), "its centre and its size", _around),
    },
    "circle": {
        "diameter": Given(("diameter",), "edge to edge, by way of the centre", lambda n, _: {"radius": n[0] / 2}),
        "across": Given(FOUR, "two points of its edge that lie opposite", _across),
        "through": Given((*FOUR, "x3", "y3"), "three points of its edge", _through),
    },
    "ellipse": {
        "diameters": Given(
            ("width", "height"), "its whole width and height", lambda n, _: {"radii": (n[0] / 2, n[1] / 2)}
        ),
        "between": Given(FOUR, "two opposite corners of its box", _box),
    },
    "arc": {
        "until": Given(("angle",), "the angle at which it ends, not how far it sweeps", _until),
        "through": Given((*FOUR, "x3", "y3"), "where it starts, a point it passes, where it ends", _arc),
    },
    "annulus": {
        "until": Given(("angle",), "the angle at which it ends, not how far it sweeps", _until),
    },
    "regular_polygon": {
        "side": Given(
            ("length",),
            "length of a side",
            lambda n, v: {"radius": n[0] / (2 * math.sin(math.pi / _sides(v)))},
        ),
        "inradius": Given(
            ("radius",), "centre to the middle of a side", lambda n, v: {"radius": n[0] / math.cos(math.pi / _sides(v))}
        ),
    },
}
"""For each kind the words it can be given by beside its own properties."""


def converted(kind: str, given: Mapping[str, Sequence[float]], values: Mapping[str, Any]) -> Values:
    """The properties that some given words come to. Raises ValueProblem when the numbers can't work."""
    out: Values = {}
    for word, numbers in given.items():
        form = GIVEN[kind][word]
        flat = [float(v) for n in numbers for v in (n if isinstance(n, tuple | list) else (n,))]
        if len(flat) != len(form.labels):
            raise ValueProblem(f"{word} takes {len(form.labels)} numbers: {', '.join(form.labels)}.", kind)
        if not all(math.isfinite(v) and abs(v) <= 1e9 for v in flat):
            raise ValueProblem(f"{word}: these numbers are too large.", kind)
        for name, value in form.convert(flat, {**values, **out}).items():
            out[name] = tuple(_short(v) for v in value) if isinstance(value, tuple) else _short(value)
    return out


def _short(value: Any) -> Any:
    if not isinstance(value, float):
        return value
    short = round(value, 6)
    return int(short) if short == int(short) else short
