"""The basic shapes of SVG, and paths."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from lxml import etree

from chalcedon.files.svgin.measures import LARGEST, length, numbers, rule
from chalcedon.files.svgin.styles import Style
from chalcedon.geometry import Box
from chalcedon.geometry.pathdata import Segment, outline_of, parse_path
from chalcedon.scene import Circle, Ellipse, Line, Path, Polyline, Rect, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader

AUTO = -1.0
"""A radius that is as the other one (SVG 2, section 7.4)."""


class Found(NamedTuple):
    """A shape without paint, its box in the user space of its element, and the segments that markers go by."""

    shape: Shape
    box: Box
    segments: Iterable[Segment] = ()


def made(cls: type[Shape], **values: Any) -> Shape:
    """A shape in no scene, without an id. The values are in stored form: lengths stay far below what a scene takes."""
    shape = cls.bare("")
    for name, value in values.items():
        store(shape, name, value)
    return shape


def store(shape: Shape, name: str, value: Any) -> None:
    """Sets a property of such a shape to a value in stored form that is no formula."""
    if value != shape.properties[name].default:
        shape._values[name] = value
    else:
        shape._values.pop(name, None)


def put(shape: Shape, name: str, value: Any) -> None:
    """Sets a property of such a shape to any value but a formula. Raises ValueProblem."""
    store(shape, name, shape.properties[name].kind.read(value))


def basic(reader: Reader, element: etree._Element, tag: str, style: Style, font: float) -> Found | None:
    """The shape of an element; None for one that is nothing, which is noted where it isn't meant to be."""
    w, h = reader.viewport

    def at(name: str, whole: float, usual: float = 0.0) -> float:
        return length(style.get(name) or element.get(name), usual, whole, font)

    if tag == "rect":
        x, y, width, height = at("x", w), at("y", h), at("width", w), at("height", h)
        if width <= 0 or height <= 0:
            return None
        box = (x, y, x + width, y + height)
        return Found(_rect(box, at("rx", w, AUTO), at("ry", h, AUTO)), box)
    if tag == "circle":
        x, y, r = at("cx", w), at("cy", h), at("r", math.hypot(w, h) / math.sqrt(2))
        return Found(made(Circle, at=(x, y), radius=r), (x - r, y - r, x + r, y + r)) if r > 0 else None
    if tag == "ellipse":
        x, y, rx, ry = at("cx", w), at("cy", h), at("rx", w, AUTO), at("ry", h, AUTO)
        rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
        if rx <= 0 or ry <= 0:
            return None
        return Found(made(Ellipse, at=(x, y), radii=(rx, ry)), (x - rx, y - ry, x + rx, y + ry))
    if tag == "line":
        x, y, x2, y2 = at("x1", w), at("y1", h), at("x2", w), at("y2", h)
        line = made(Line, at=(x, y), to=(x2 - x, y2 - y))
        return Found(line, (min(x, x2), min(y, y2), max(x, x2), max(y, y2)), _through([(x, y), (x2, y2)]))
    if tag in ("polyline", "polygon"):
        flat = [max(-LARGEST, min(LARGEST, v)) for v in numbers(element.get("points") or "")]
        points = tuple(zip(flat[::2], flat[1::2], strict=False))
        if not points:
            return None
        closed = tag == "polygon"
        fill_rule = rule(style.get("fill-rule"))
        found = made(Polyline, points=points, closed=closed, fill_rule=fill_rule)
        return Found(found, _around(points), _through(points, closed))
    if tag == "path":
        return _path(reader, element, style)
    reader.note(f"<{tag}>", element)
    return None


def _path(reader: Reader, element: etree._Element, style: Style) -> Found | None:
    data = style.get("d") or element.get("d") or ""
    data = data.removeprefix("path(").strip("\"')") if data.startswith("path(") else data
    parsed = parse_path(data)
    if parsed.error:
        reader.note("path data after a mistake", element)
    if not parsed.segments:
        return None
    shape = made(Path, data=data.strip(), fill_rule=rule(style.get("fill-rule")))
    box = outline_of(parsed.segments).bounds()
    return Found(shape, box, parsed.segments)


def _through(points: Sequence[tuple[float, float]], closed: bool = False) -> list[Segment]:
    lines = [Segment("M" if i == 0 else "L", p) for i, p in enumerate(points)]
    return [*lines, Segment("Z", ())] if closed else lines


def _around(points: Sequence[tuple[float, float]]) -> Box:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _rect(box: Box, rx: float, ry: float) -> Shape:
    x0, y0, x1, y1 = box
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0.0), (x1 - x0) / 2), min(max(ry, 0.0), (y1 - y0) / 2)
    if rx == ry or not rx or not ry:
        radius = rx if rx and ry else 0.0
        return made(Rect, at=(x0, y0), size=(x1 - x0, y1 - y0), corners=(radius,))
    arc = f"A{rx} {ry} 0 0 1"
    return made(
        Path,
        data=f"M{x0 + rx} {y0}H{x1 - rx}{arc} {x1} {y0 + ry}V{y1 - ry}{arc} {x1 - rx} {y1}"
        f"H{x0 + rx}{arc} {x0} {y1 - ry}V{y0 + ry}{arc} {x0 + rx} {y0}Z",
    )
