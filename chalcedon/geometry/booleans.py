"""Shape algebra on filled outlines, by Skia's path operations: curves stay curves.

Skia works in single precision, so outlines are moved to the origin and brought to one size before; what comes back
is right to about a millionth of the extent.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

import pathops

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.along import Along, area
from chalcedon.geometry.boxes import Box, is_empty, union
from chalcedon.geometry.contain import Region
from chalcedon.geometry.fit import with_fewer_curves
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.geometry.path import Outline, PathBuilder, as_one, subpaths
from chalcedon.geometry.stroke import Pen, StrokeRegion
from chalcedon.problems import ChalcedonError

_SKIA = {
    "union": pathops.PathOp.UNION,
    "difference": pathops.PathOp.DIFFERENCE,
    "intersection": pathops.PathOp.INTERSECTION,
    "exclusion": pathops.PathOp.XOR,
}
OPERATIONS = tuple(_SKIA)
_CAPS = {"butt": pathops.LineCap.BUTT_CAP, "round": pathops.LineCap.ROUND_CAP, "square": pathops.LineCap.SQUARE_CAP}
_JOINS = {
    "miter": pathops.LineJoin.MITER_JOIN,
    "round": pathops.LineJoin.ROUND_JOIN,
    "bevel": pathops.LineJoin.BEVEL_JOIN,
}
_EXTENT = 4096.0
"""Skia's own tolerances are made for px; at this size a stroke of it is right to a 40,000th of the extent."""

SLIVER, SLIVER_SHARE = 0.01, 2e-4
"""How thick a part of a result is at least, in px and as a share of the extent: round outlines are right to that."""


class Filled(NamedTuple):
    """An outline and the rule that fills it."""

    path: Outline
    even_odd: bool = False


def combine(operation: str, areas: Sequence[Filled]) -> Outline:
    """The union, difference (the first without the others), intersection or exclusion (an odd number of them) of
    areas, as an outline in which both fill rules agree. Empty when nothing is left.

    Raises ChalcedonError when the outlines can't be combined.
    """
    if not areas:
        return Outline("", ())
    first, *others = areas
    if not others:
        return _pair("union", first, Filled(Outline("", ())))
    result = first
    for other in others:
        result = Filled(_pair(operation, result, other))
    return result.path


def _pair(operation: str, one: Filled, two: Filled) -> Outline:
    """One operation on two areas.

    Skia now and then goes wrong on curves that nearly touch, so each result is held against the areas at many points;
    when it is wrong, the same is tried from another angle, and at last on finely flattened outlines.
    """
    box = union([one.path.bounds(), two.path.bounds()])
    for turn in (0.0, 17.0, -31.0, 58.0):
        result = _by_skia(operation, one, two, _Frame(box, turn))
        if result is not None and _agrees(operation, one, two, result, box):
            return _without_slivers(operation, result, box)
    frame = _Frame(box)
    fine = 0.05 / frame.scale
    flat_one, flat_two = (Filled(_flattened(a.path, fine), a.even_odd) for a in (one, two))
    result = _by_skia(operation, flat_one, flat_two, frame)
    if result is not None:
        result = with_fewer_curves(result, 0.5 / frame.scale, lines=True)
        if _agrees(operation, one, two, result, box):
            return _without_slivers(operation, result, box)
    raise ChalcedonError(
        f"the {operation} of these outlines can't be worked out.", hint="Move a point a little and try again."
    )


def _by_skia(operation: str, one: Filled, two: Filled, frame: _Frame) -> Outline | None:
    try:
        result = pathops.simplify(frame.to_skia(one))
        return frame.from_skia(pathops.op(result, frame.to_skia(two), _SKIA[operation]))
    except pathops.PathOpsError:
        return None


def _agrees(operation: str, one: Filled, two: Filled, result: Outline, box: Box) -> bool:
    """Whether a result says the same as the areas at a grid of points, those very near an edge left out."""
    regions = Region(one.path, one.even_odd), Region(two.path, two.even_odd)
    rules = Region(result), Region(result, True)
    near = max(box[2] - box[0], box[3] - box[1]) * 2e-3
    lines: list[tuple[float, float, float, float]] | None = None
    for i in range(_GRID * _GRID):
        # a grid turned a little, so that its lines lie on no edge
        u, v = (i % _GRID + 0.5) / _GRID, (i // _GRID + 0.5) / _GRID
        x = box[0] + (box[2] - box[0]) * (u + 0.013 * (v - 0.5))
        y = box[1] + (box[3] - box[1]) * (v - 0.017 * (u - 0.5))
        expected = _LOGIC[operation](regions[0].contains(x, y), regions[1].contains(x, y))
        if all(r.contains(x, y) == expected for r in rules):
            continue
        if lines is None:
            lines = [e for a in (one, two) for e in edges(flatten(_closed(a.path), near / 20))]
        if distance_to_edges(lines, x, y) > near:
            return False
    return True


_GRID = 20
_LOGIC: dict[str, Callable[[bool, bool], bool]] = {
    "union": lambda a, b: a or b,
    "difference": lambda a, b: a and not b,
    "intersection": lambda a, b: a and b,
    "exclusion": lambda a, b: a != b,
}


def _without_slivers(operation: str, result: Outline, box: Box) -> Outline:
    """A result without what is left between two edges that are the same but for their approximation by cubics.

    What a union has outside is what was given, however thin.
    """
    thin = min(SLIVER, SLIVER_SHARE * max(box[2] - box[0], box[3] - box[1]))
    parts = [(part, area(part)) for part in subpaths(result)]
    way = max((a for _, a in parts), key=abs, default=0.0)
    kept = [
        part
        for part, own in parts
        if 2.0 * abs(own) >= thin * Along(part).length or (operation == "union" and own * way > 0.0)
    ]
    return result if len(kept) == len(parts) else as_one(kept)


def _flattened(path: Outline, tolerance: float) -> Outline:
    pen = PathBuilder()
    for line in flatten(path, tolerance):
        for k, v in enumerate(line.vertices):
            (pen.line if k else pen.move)(v.x, v.y)
        pen.close()
    return pen.path()


def stroke_outline(path: Outline, pen: Pen, heads: Outline | None = None) -> Outline:
    """The outline of a stroke with its caps, joins and dashes, and of arrow heads, as one area.

    Raises ChalcedonError when it can't be worked out.
    """
    box = path.bounds()
    reach = pen.reach()
    frame = _Frame((box[0] - reach, box[1] - reach, box[2] + reach, box[3] + reach))
    skia = frame.to_skia(Filled(path))
    k = frame.scale
    dash = [v * k for v in pen.dash]
    if len(dash) % 2:
        dash += dash
    try:
        skia.stroke(
            pen.width * k,
            _CAPS[pen.cap],
            _JOINS[pen.join],
            pen.miter_limit,
            dash if sum(dash) > 0.0 else None,
            pen.dash_offset * k,
        )
        skia.convertConicsToQuads(0.1)
        skia.simplify()
        if not pen.dash:
            mended = _without_false_holes(frame.from_skia(skia), path, pen, _EXTENT / frame.scale)
            skia = frame.to_skia(Filled(mended))
        if heads is not None and heads.verbs:
            skia = pathops.op(skia, frame.to_skia(Filled(heads)), pathops.PathOp.UNION)
    except pathops.PathOpsError:
        raise ChalcedonError("the outline of this stroke can't be worked out.") from None
    return frame.from_skia(skia)


def offset(filled: Filled, distance: float, join: str = "miter", miter_limit: float = 4.0) -> Outline:
    """An area grown by a distance in px, or shrunk when it is negative. Empty when nothing is left."""
    pen = Pen(2.0 * abs(distance), "butt", join, miter_limit)
    closed = _closed(filled.path)
    if distance == 0.0:
        return combine("union", [filled])
    band = Filled(stroke_outline(closed, pen))
    return combine("union" if distance > 0.0 else "difference", [filled, band])


class _Frame:
    """Brings outlines to a size that suits single precision, and back."""

    def __init__(self, box: Box, turn: float = 0.0) -> None:
        if is_empty(box):
            box = (0.0, 0.0, 1.0, 1.0)
        size = max(box[2] - box[0], box[3] - box[1]) or 1.0
        self.scale = _EXTENT / size
        cx, cy = (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
        grown = Affine(self.scale, 0.0, 0.0, self.scale, -cx * self.scale, -cy * self.scale)
        shrunk = Affine(1 / self.scale, 0.0, 0.0, 1 / self.scale, cx, cy)
        self.there, self.back = Affine.rotate(turn).after(grown), shrunk.after(Affine.rotate(-turn))
        self.digits = max(0, min(12, len(str(int(self.scale))) + 3))

    def to_skia(self, area: Filled) -> Any:
        rule = pathops.FillType.EVEN_ODD if area.even_odd else pathops.FillType.WINDING
        out = pathops.Path(fillType=rule)
        area.path.mapped(self.there).draw(_SkiaPen(out))
        return out

    def from_skia(self, skia: Any) -> Outline:
        skia.convertConicsToQuads(0.1)
        pen = PathBuilder()
        draw: dict[Any, Callable[..., None]] = {
            pathops.PathVerb.MOVE: pen.move,
            pathops.PathVerb.LINE: pen.line,
            pathops.PathVerb.QUAD: pen.quadratic,
            pathops.PathVerb.CUBIC: pen.cubic,
        }
        for verb, points in skia:
            if verb == pathops.PathVerb.CLOSE:
                pen.close()
            else:
                flat = [round(v, self.digits) for p in points for v in self.back.map(*p)]
                draw[verb](*flat)
        return with_fewer_curves(pen.path(), 0.25 / self.scale)


class _SkiaPen:
    """Draws an outline into a Skia path."""

    def __init__(self, skia: Any) -> None:
        self.move, self.line, self.close = skia.moveTo, skia.lineTo, skia.close
        self.quadratic, self.cubic = skia.quadTo, skia.cubicTo


def _without_false_holes(outline: Outline, line: Outline, pen: Pen, size: float) -> Outline:
    """A stroke's outline without the holes that its inner edge leaves where a curve bends more sharply than half the
    width: there the edge turns inside out."""
    parts = subpaths(outline)
    if len(parts) < 2:
        return outline
    biggest = max(parts, key=lambda p: abs(area(p)))
    way = area(biggest)
    region: StrokeRegion | None = None
    kept = []
    for part in parts:
        inner = _inner_point(part, size) if area(part) * way < 0.0 else None
        if inner is not None:
            region = region or StrokeRegion(line, pen, size * 1e-4)
            if region.contains(*inner):
                continue
        kept.append(part)
    return as_one(kept)


def _inner_point(part: Outline, size: float) -> tuple[float, float] | None:
    """A point well inside a closed outline: the middle of the longest of some spans across it."""
    region = Region(part)
    x0, y0, x1, y1 = part.bounds()
    best: tuple[float, tuple[float, float]] | None = None
    for i in range(1, _SPANS):
        y = y0 + (y1 - y0) * i / _SPANS
        inside = [x0 + (x1 - x0) * (k + 0.5) / 64 for k in range(64)]
        run: list[float] = []
        for x in [*inside, math.inf]:
            if x < math.inf and region.contains(x, y):
                run.append(x)
            elif run:
                span = run[-1] - run[0]
                if best is None or span > best[0]:
                    best = span, ((run[0] + run[-1]) / 2, y)
                run = []
    return None if best is None else best[1]


_SPANS = 8


def _closed(path: Outline) -> Outline:
    """Every subpath closed, as filling takes them."""
    pen = PathBuilder()
    draw: dict[str, Callable[..., None]] = {
        "M": pen.move,
        "L": pen.line,
        "Q": pen.quadratic,
        "C": pen.cubic,
        "Z": pen.close,
    }
    before = ""
    for verb, c in path.segments():
        if verb == "M" and before not in ("", "M", "Z"):
            pen.close()
        draw[verb](*c)
        before = verb
    if before not in ("", "M", "Z"):
        pen.close()
    return pen.path()
