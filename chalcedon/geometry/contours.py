"""A path taken by its points: what editing a point at a time works on.

A contour is a subpath: its knots in order, each with the segment that arrives at it. Segments nobody touches keep
their kind (arcs and quadratics too), so that a path stays as it was written elsewhere.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from chalcedon.geometry.curves import Cubic, raise_quadratic, split_cubic
from chalcedon.geometry.pathdata import Segment, arc_centre, outline_of

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Contour:
    """`knots[0]` is the start; `segments[i]` (L, Q, C or A) leads from knot i to the next. When closed, the last
    segment leads back to the start, and there are as many segments as knots; else one fewer."""

    knots: tuple[Point, ...]
    segments: tuple[Segment, ...]
    closed: bool = False

    def __post_init__(self) -> None:
        assert len(self.segments) == len(self.knots) - (0 if self.closed else 1)

    def written(self) -> list[Segment]:
        """As path data has it; a straight way back is the Z itself."""
        out = [Segment("M", self.knots[0])]
        segments = list(self.segments)
        if self.closed and segments and segments[-1].letter == "L":
            segments.pop()
        out += segments
        if self.closed:
            out.append(Segment("Z", ()))
        return out

    def end_of(self, i: int) -> Point:
        """The point that segment `i` leads to."""
        return self.knots[(i + 1) % len(self.knots)]

    def arriving(self, knot: int) -> int | None:
        """The number of the segment that leads to a knot."""
        if knot > 0:
            return knot - 1
        return len(self.segments) - 1 if self.closed and self.segments else None

    def leaving(self, knot: int) -> int | None:
        """The number of the segment that leaves a knot; None at the end of an open contour."""
        return knot if knot < len(self.segments) else None

    def controls(self, knot: int) -> tuple[Point | None, Point | None]:
        """The control points beside a knot: of the curve that arrives and of the one that leaves."""
        before, after = self.arriving(knot), self.leaving(knot)
        one = two = None
        if before is not None and self.segments[before].letter in "CQ":
            one = self.segments[before].numbers[-4:-2]
        if after is not None and self.segments[after].letter in "CQ":
            two = self.segments[after].numbers[:2]
        return one, two  # type: ignore[return-value]


def contours_of(segments: Iterable[Segment]) -> list[Contour]:
    """The contours of path segments. A move that draws nothing is a contour of one knot."""
    out: list[Contour] = []
    knots: list[Point] = []
    run: list[Segment] = []

    def finish(closed: bool) -> None:
        nonlocal knots, run
        if not knots:
            return
        if closed and len(knots) > 1 and knots[-1] == knots[0]:
            knots.pop()  # the last segment leads to the start already
        elif closed:
            run.append(Segment("L", knots[0]))
        out.append(Contour(tuple(knots), tuple(run), closed))
        knots, run = [], []

    for s in segments:
        if s.letter == "M":
            finish(False)
            knots = [s.end]
        elif s.letter == "Z":
            finish(True)
        else:
            run.append(s)
            knots.append(s.end)
    finish(False)
    return out


def segments_of(contours: Sequence[Contour]) -> list[Segment]:
    """Contours as segments of path data, each from a move on."""
    return [s for c in contours for s in c.written()]


# each of these gives a changed contour; the one given stays as it is


def moved(c: Contour, knot: int, to: Point) -> Contour:
    """A knot elsewhere; the controls beside it go along."""
    dx, dy = to[0] - c.knots[knot][0], to[1] - c.knots[knot][1]
    segments = list(c.segments)
    before, after = c.arriving(knot), c.leaving(knot)
    if before is not None:
        s = segments[before]
        n = [*s.numbers[:-2], *to]
        if s.letter == "C":
            n[2:4] = n[2] + dx, n[3] + dy
        segments[before] = Segment(s.letter, tuple(n))
    if after is not None and segments[after].letter == "C":
        n = list(segments[after].numbers)
        n[:2] = n[0] + dx, n[1] + dy
        segments[after] = Segment("C", tuple(n))
    knots = (*c.knots[:knot], to, *c.knots[knot + 1 :])
    return Contour(knots, tuple(segments), c.closed)


def with_control(c: Contour, knot: int, leaving: bool, to: Point, mirrored: bool = False) -> Contour:
    """A control elsewhere. `mirrored` turns the one across the knot along, keeping its distance."""
    index = c.leaving(knot) if leaving else c.arriving(knot)
    if index is None:
        return c
    segments = list(c.segments)
    segments[index] = _put_control(segments[index], c.knots[index], leaving, to)
    across = c.arriving(knot) if leaving else c.leaving(knot)
    if mirrored and across is not None and segments[across].letter == "C":
        x, y = c.knots[knot]
        n = segments[across].numbers
        old = n[2:4] if leaving else n[:2]
        length, size = math.dist(old, (x, y)), math.dist(to, (x, y))
        if size > 0.0:
            k = length / size
            other = x - (to[0] - x) * k, y - (to[1] - y) * k
            segments[across] = _put_control(segments[across], c.knots[across], not leaving, other)
    return replace(c, segments=tuple(segments))


def _put_control(s: Segment, start: Point, leaving: bool, to: Point) -> Segment:
    if s.letter == "Q":
        return Segment("Q", (*to, *s.end))
    n = list(as_cubic(s, start).numbers)
    n[0 if leaving else 2 : 2 if leaving else 4] = to
    return Segment("C", tuple(n))


def as_cubic(s: Segment, start: Point) -> Segment:
    """A segment as one cubic: exact for lines and quadratics, an arc's best single one."""
    x, y = s.end
    if s.letter == "C":
        return s
    if s.letter == "Q":
        xs, ys = raise_quadratic(start[0], s.numbers[0], x), raise_quadratic(start[1], s.numbers[1], y)
        return Segment("C", (xs[1], ys[1], xs[2], ys[2], x, y))
    if s.letter == "A":
        joined = _joined([(start, s)])
        if joined is not None:
            return joined
    return Segment(
        "C",
        (
            start[0] + (x - start[0]) / 3,
            start[1] + (y - start[1]) / 3,
            x - (x - start[0]) / 3,
            y - (y - start[1]) / 3,
            x,
            y,
        ),
    )


def inserted(c: Contour, segment: int, t: float) -> Contour:
    """A knot more, on a segment at a parameter strictly inside 0 to 1. The outline stays as it is."""
    start, s = c.knots[segment], c.segments[segment]
    first, second = _split(start, s, t)
    return Contour(
        (*c.knots[: segment + 1], first.end, *c.knots[segment + 1 :]),
        (*c.segments[:segment], first, second, *c.segments[segment + 1 :]),
        c.closed,
    )


def _split(start: Point, s: Segment, t: float) -> tuple[Segment, Segment]:
    x, y = s.end
    if s.letter == "L":
        middle = start[0] + (x - start[0]) * t, start[1] + (y - start[1]) * t
        return Segment("L", middle), s
    if s.letter == "A":
        return _split_arc(start, s, t)
    if s.letter == "Q":
        cx, cy = s.numbers[:2]
        one = start[0] + (cx - start[0]) * t, start[1] + (cy - start[1]) * t
        two = cx + (x - cx) * t, cy + (y - cy) * t
        middle = one[0] + (two[0] - one[0]) * t, one[1] + (two[1] - one[1]) * t
        return Segment("Q", (*one, *middle)), Segment("Q", (*two, x, y))
    xs, ys = cubics(start, s)
    (ax, ay), (bx, by) = ((split_cubic(p, 0.0, t) for p in (xs, ys)), (split_cubic(p, t, 1.0) for p in (xs, ys)))
    return (
        Segment("C", (ax[1], ay[1], ax[2], ay[2], ax[3], ay[3])),
        Segment("C", (bx[1], by[1], bx[2], by[2], x, y)),
    )


def _split_arc(start: Point, s: Segment, t: float) -> tuple[Segment, Segment]:
    ellipse = arc_centre(*start, s.numbers)
    if ellipse is None:
        return _split(start, Segment("L", s.end), t)
    angle = math.radians(ellipse.start + ellipse.sweep * t)
    turn = math.radians(ellipse.turn)
    px, py = ellipse.rx * math.cos(angle), ellipse.ry * math.sin(angle)
    middle = (
        ellipse.cx + px * math.cos(turn) - py * math.sin(turn),
        ellipse.cy + px * math.sin(turn) + py * math.cos(turn),
    )
    rx, ry, phi, _large, sweep = (ellipse.rx, ellipse.ry, *s.numbers[2:5])
    one, two = (float(abs(ellipse.sweep) * part > 180.0) for part in (t, 1.0 - t))
    return Segment("A", (rx, ry, phi, one, sweep, *middle)), Segment("A", (rx, ry, phi, two, sweep, *s.end))


def cubics(start: Point, s: Segment) -> tuple[Cubic, Cubic]:
    """The control values of a C segment."""
    n = s.numbers
    return (start[0], n[0], n[2], n[4]), (start[1], n[1], n[3], n[5])


def deleted(c: Contour, knot: int) -> Contour | None:
    """A knot less. The segments beside it become one that stays as near to them as a single one can; None when
    nothing is left."""
    if len(c.knots) <= 1:
        return None
    before, after = c.arriving(knot), c.leaving(knot)
    knots = c.knots[:knot] + c.knots[knot + 1 :]
    segments = list(c.segments)
    if before is None or after is None:
        del segments[after if before is None else before]  # type: ignore[arg-type]
        return Contour(knots, tuple(segments), c.closed)
    if len(c.knots) == 2:  # closed, with both ways between the two
        return Contour(knots, (), False)
    start, end = c.knots[before], c.end_of(after)
    pair = [(start, segments[before]), (c.knots[knot], segments[after])]
    if all(s.letter == "L" for _, s in pair):
        new = Segment("L", end)
    else:
        new = _joined(pair) or Segment("L", end)
    segments[before] = new
    del segments[after]
    return Contour(knots, tuple(segments), c.closed)


def _joined(parts: list[tuple[Point, Segment]]) -> Segment | None:
    """One cubic near several segments that follow each other."""
    from chalcedon.geometry.fit import single_cubic

    curve = single_cubic(outline_of([Segment("M", parts[0][0]), *(s for _, s in parts)]))
    if curve is None:
        return None
    xs, ys = curve
    return Segment("C", (xs[1], ys[1], xs[2], ys[2], *parts[-1][1].end))


def smoothed(c: Contour, knot: int) -> Contour:
    """The outline passes a knot without a corner: the controls beside it are put on one line, a third of the way to
    the neighbours, or as far as they were."""
    before, after = c.arriving(knot), c.leaving(knot)
    if before is None or after is None:
        return c
    (x, y), prior, following = c.knots[knot], c.knots[before], c.end_of(after)
    one, two = c.controls(knot)
    # the direction in which the curve is to pass: between its tangents where it has them, else along the neighbours
    ax, ay = _unit(one or prior, (x, y))
    bx, by = _unit((x, y), two or following)
    wx, wy = ax + bx, ay + by
    if math.hypot(wx, wy) < 1e-9:
        wx, wy = following[0] - prior[0], following[1] - prior[1]
    size = math.hypot(wx, wy)
    if size == 0.0:
        return c
    wx, wy = wx / size, wy / size
    back = math.dist(one, (x, y)) if one else math.dist(prior, (x, y)) / 3
    ahead = math.dist(two, (x, y)) if two else math.dist(following, (x, y)) / 3
    segments = list(c.segments)
    for index, leaving, control in (
        (before, False, (x - wx * back, y - wy * back)),
        (after, True, (x + wx * ahead, y + wy * ahead)),
    ):
        segments[index] = _put_control(as_cubic(segments[index], c.knots[index]), c.knots[index], leaving, control)
    return replace(c, segments=tuple(segments))


def _unit(a: Point, b: Point) -> Point:
    size = math.dist(a, b)
    return ((b[0] - a[0]) / size, (b[1] - a[1]) / size) if size > 0.0 else (0.0, 0.0)


def cornered(c: Contour, knot: int) -> Contour:
    """A corner at a knot: the controls beside it are taken back into it, and curves without any become lines."""
    segments = list(c.segments)
    for index, leaving in ((c.arriving(knot), False), (c.leaving(knot), True)):
        if index is None or segments[index].letter == "L":
            continue
        start, end = c.knots[index], c.end_of(index)
        s = _put_control(as_cubic(segments[index], start), start, leaving, c.knots[knot])
        if all(_on_chord(start, end, (s.numbers[i], s.numbers[i + 1])) for i in (0, 2)):
            s = Segment("L", end)
        segments[index] = s
    return replace(c, segments=tuple(segments))


def _on_chord(a: Point, b: Point, p: Point) -> bool:
    """Whether a point lies on the straight way from a to b."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    size = math.hypot(dx, dy)
    if size == 0.0:
        return p == a
    across = abs((p[0] - a[0]) * dy - (p[1] - a[1]) * dx) / size
    along = ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / size
    return across <= 1e-3 + 1e-6 * size and -1e-3 <= along <= size + 1e-3


def is_smooth(c: Contour, knot: int) -> bool:
    """Whether the outline passes a knot without a corner, between two controls."""
    one, two = c.controls(knot)
    if one is None or two is None:
        return False
    (ax, ay), (bx, by) = _unit(one, c.knots[knot]), _unit(c.knots[knot], two)
    return ax * bx + ay * by > 0.9998


def split(c: Contour, knot: int) -> list[Contour]:
    """A closed contour opened at a knot; an open one in two, each with an end there."""
    if c.closed:
        knots = c.knots[knot:] + c.knots[:knot] + (c.knots[knot],)
        return [Contour(knots, c.segments[knot:] + c.segments[:knot], False)]
    if knot in (0, len(c.knots) - 1):
        return [c]
    return [
        Contour(c.knots[: knot + 1], c.segments[:knot]),
        Contour(c.knots[knot:], c.segments[knot:]),
    ]


def reversed_(c: Contour) -> Contour:
    """The same contour drawn the other way round, from the same start when it is closed."""
    back: list[Segment] = []
    for i, s in reversed(list(enumerate(c.segments))):
        start = c.knots[i]
        n = s.numbers
        if s.letter == "C":
            n = (*n[2:4], *n[:2], *start)
        elif s.letter == "Q":
            n = (*n[:2], *start)
        elif s.letter == "A":
            n = (*n[:4], 1.0 - n[4], *start)
        else:
            n = start
        back.append(Segment(s.letter, n))
    knots = (c.knots[0], *reversed(c.knots[1:])) if c.closed else tuple(reversed(c.knots))
    return Contour(knots, tuple(back), c.closed)


def closed(c: Contour, within: float = 0.0) -> Contour:
    """The contour closed; ends nearer than `within` become one knot, farther ones get a line between them."""
    if c.closed or len(c.knots) < 2:
        return c
    if len(c.knots) > 2 and math.dist(c.knots[0], c.knots[-1]) <= within:
        met = moved(c, len(c.knots) - 1, c.knots[0])
        return Contour(met.knots[:-1], met.segments, True)
    return Contour(c.knots, (*c.segments, Segment("L", c.knots[0])), True)


def joined(a: Contour, b: Contour, within: float = 0.0) -> Contour:
    """Two open contours as one, at their ends that lie nearest to each other: one knot when they are nearer than
    `within`, else with a line between them."""
    ways = [(math.dist(p.knots[-1], q.knots[0]), p, q) for p in (a, reversed_(a)) for q in (b, reversed_(b))]
    apart, p, q = min(ways, key=lambda w: w[0])
    if apart <= within:
        q = moved(q, 0, p.knots[-1])
        return Contour(p.knots + q.knots[1:], p.segments + q.segments)
    return Contour(p.knots + q.knots, (*p.segments, Segment("L", q.knots[0]), *q.segments))
