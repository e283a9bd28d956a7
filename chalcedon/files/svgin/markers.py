"""Markers of SVG: what they show becomes shapes at the points of an outline (SVG 2, section 13.7)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, NamedTuple

from lxml import etree

from chalcedon.files.svgin.effects import clipped, painted_box
from chalcedon.files.svgin.measures import box_of, extent, length, matrix_step, numbers, view_box
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.tree import reference, tag_of
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.geometry.pathdata import Segment, outline_of
from chalcedon.scene import Group, Rect, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader

WORDS = ("marker-start", "marker-mid", "marker-end")
Way = tuple[float, float] | None


class Vertex(NamedTuple):
    """A point of an outline, and the directions in which the line arrives and leaves, where it does."""

    x: float
    y: float
    arrives: Way
    leaves: Way

    def angle(self) -> float:
        """The direction of a marker there, in degrees: halfway between the two."""
        ways = [w for w in (self.arrives, self.leaves) if w is not None]
        if not ways:
            return 0.0
        units = [(x / math.hypot(x, y), y / math.hypot(x, y)) for x, y in ways]
        x, y = sum(u[0] for u in units), sum(u[1] for u in units)
        if math.hypot(x, y) < 1e-9:
            x, y = units[0]
        return math.degrees(math.atan2(y, x))


def has_markers(style: Style) -> bool:
    """Whether a style says any."""
    return any(style.get(word, "none") != "none" for word in WORDS)


def marked(
    reader: Reader, shape: Shape, segments: Iterable[Segment], element: etree._Element, style: Style, world: Affine
) -> Shape:
    """A shape with the markers of its element at the points of its outline, in front of it."""
    points = list(vertices(segments))
    width = extent(style.get("stroke-width"), 1.0, math.hypot(*reader.viewport) / math.sqrt(2), reader.font(style))
    made: list[Shape] = []
    before, reader.inks.context = reader.inks.context, style
    for number, vertex in enumerate(points):
        last = number == len(points) - 1
        for word, there in zip(WORDS, (number == 0, number > 0 and not last, last), strict=True):
            source = reader.ids.get(reference(style.get(word, "none"))) if there else None
            if source is not None and tag_of(source) == "marker" and source not in reader.used:
                found = _marker(reader, source, vertex, word == "marker-start", width, world)
                made += [found] if found is not None else []
    reader.inks.context = before
    if not made:
        return shape
    for one in made:
        one.assign("pointer", "none")  # markers take part in painting alone
    return Group(children=[shape, *made])


def _marker(
    reader: Reader, source: etree._Element, vertex: Vertex, start: bool, stroke_width: float, world: Affine
) -> Shape | None:
    w, h = reader.viewport
    own = reader.styled(source)
    wide, high = (length(source.get(name), 3.0, whole) for name, whole in (("markerWidth", w), ("markerHeight", h)))
    box = box_of(source.get("viewBox"))
    if box is None:
        return None
    fit = IDENTITY
    if box:
        fit = view_box(box, wide, high, source.get("preserveAspectRatio") or "")
    words = {"left": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "bottom": 1.0}

    def ref(name: str, low: float, size: float) -> float:
        text = source.get(name) or "0"
        return low + words[text] * size if text in words else length(text, 0.0, size)

    inner = (box[2], box[3]) if fit != IDENTITY else (wide, high)
    corner = (box[0], box[1]) if fit != IDENTITY else (0.0, 0.0)
    rx, ry = fit.map(ref("refX", corner[0], inner[0]), ref("refY", corner[1], inner[1]))
    orient = source.get("orient") or "0"
    angle = vertex.angle() if orient.startswith("auto") else (numbers(orient.removesuffix("deg")) or [0.0])[0]
    angle += 180.0 if orient == "auto-start-reverse" and start else 0.0
    k = 1.0 if source.get("markerUnits") == "userSpaceOnUse" else stroke_width
    if wide <= 0.0 or high <= 0.0 or k <= 0.0:
        return None
    place = Affine.translate(vertex.x, vertex.y).after(Affine.rotate(angle)).after(Affine.scale(k, k))
    place = place.after(Affine.translate(-rx, -ry))
    reader.used.append(source)
    group = Group(children=reader.content(source, own, world.after(place.after(fit))))
    reader.used.pop()
    if fit != IDENTITY:
        group.steps = (matrix_step(fit),)
    if own.get("overflow", "hidden") == "visible" or _lies_in(painted_box(group), (0.0, 0.0, wide, high)):
        group.steps = (matrix_step(place.after(fit)),)
        return group
    group = clipped(reader, group, [Rect(size=(wide, high), fill="black")], "marker")
    group.steps = (matrix_step(place),)
    return group


def _lies_in(inner: Box, outer: Box) -> bool:
    return inner[0] >= outer[0] and inner[1] >= outer[1] and inner[2] <= outer[2] and inner[3] <= outer[3]


def vertices(segments: Iterable[Segment]) -> Iterator[Vertex]:
    """The points of path data, one a segment, with their directions."""
    points: list[tuple[float, float]] = []
    ways: list[tuple[Way, Way]] = []  # how the segment that ends at each point leaves and arrives
    joins: dict[int, int] = {}  # from the last point of a closed subpath to its first
    pen = start = (0.0, 0.0)
    first = 0
    for segment in segments:
        if segment.letter == "M":
            pen = start = segment.numbers[0], segment.numbers[1]
            first = len(points)
            ways.append((None, None))
        else:
            closing = segment.letter == "Z"
            drawn = Segment("L", start) if closing else segment
            coords = outline_of([Segment("M", pen), drawn]).coords
            flat = list(zip(coords[::2], coords[1::2], strict=True))
            steps = [(b[0] - a[0], b[1] - a[1]) for a, b in itertools.pairwise(flat) if a != b]
            ways.append((steps[0], steps[-1]) if steps else (None, None))
            pen = flat[-1]
            if closing:
                joins[len(points)] = first
        points.append(pen)
    backward = {v: k for k, v in joins.items()}
    for number, (x, y) in enumerate(points):
        arrives = ways[backward[number]][1] if number in backward else ways[number][1]
        after = joins[number] + 1 if number in joins else number + 1
        leaves = ways[after][0] if after < len(ways) else None
        yield Vertex(x, y, arrives, leaves)
