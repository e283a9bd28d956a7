"""What is made of outlines, written out as path data: strokes and dashes, heads, edits of points, fitted curves.

The properties beside this hold what is right of any outline; here it is held that it is made so finely and no finer,
begins where it began, and stays so where values stand on the edge between two cases.
"""

import itertools
import math

import numpy as np
from recorded import assert_as_recorded, number, numbers

from chalcedon.geometry import Affine, Outline, arcdata
from chalcedon.geometry.along import Along, area
from chalcedon.geometry.batch import controls_of, edges_of, flatten_cubics
from chalcedon.geometry.bends import bends_within
from chalcedon.geometry.booleans import Filled, combine, offset, stroke_outline
from chalcedon.geometry.contours import (
    closed,
    contours_of,
    cornered,
    deleted,
    inserted,
    is_smooth,
    joined,
    moved,
    reversed_,
    smoothed,
    split,
    with_control,
)
from chalcedon.geometry.crossings import crossings
from chalcedon.geometry.dash import Dashes
from chalcedon.geometry.extent import stroke_bounds
from chalcedon.geometry.fit import single_cubic, with_fewer_curves
from chalcedon.geometry.flatten import affordable, count_pieces, flatten
from chalcedon.geometry.freehand import smooth_through
from chalcedon.geometry.heads import with_heads
from chalcedon.geometry.pathdata import from_outline, outline_of, parse_path, without_arcs
from chalcedon.geometry.pieces import Pieces
from chalcedon.geometry.primitives import ellipse, fit_corners, polyline, rect, smooth_rect
from chalcedon.geometry.round import annulus, arc, regular_polygon, star
from chalcedon.geometry.spline import through
from chalcedon.geometry.stroke import Pen, StrokeRegion, dashes_at_most

WRITTEN = {
    "straight": "M0 0 L40 0",
    "hook": "M0 0 L40 0 L40 30",
    "back and forth": "M0 0 L40 0 L10 0",
    "wedge": "M0 0 L40 0 L0 10",
    "triangle": "M0 0 L40 0 L0 30 Z",
    "closed by hand": "M0 0 L40 0 L0 30 L0 0",
    "twice the same": "M0 0 L20 0 L20 0 L40 0 Z",
    "dot": "M5 5 L5 5",
    "dot, closed": "M5 5 Z",
    "move alone": "M5 5 M0 0 L10 0",
    "bow": "M0 0 C0 30 40 30 40 0",
    "cusp": "M0 0 C60 30 -20 30 40 0",
    "tight bend": "M0 0 C38 2 40 2 40 30",
    "stands still": "M0 0 C0 0 40 30 40 30",
    "out and back": "M0 0 C40 0 40 0 0 0",
    "quadratic": "M0 0 Q20 40 40 0",
    "drop": "M0 0 Q30 30 0 40 Q-30 30 0 0 Z",
    "two arcs": "M0 0 A20 20 0 0 1 40 0 A20 10 30 1 0 0 0 Z",
    "eight": "M0 0 C60 40 60 -40 0 0 C-60 40 -60 -40 0 0 Z",
    "two parts": "M0 0 L10 0 L10 10 Z M20 0 C20 20 40 20 40 0",
}
FIGURES = {
    **{name: outline_of(parse_path(text).segments) for name, text in WRITTEN.items()},
    "ellipse": ellipse(20, 10),
    "disc": ellipse(300, 300),
    "rect": rect(40, 30),
    "round rect": rect(40, 30, (8, 0, 4, 99)),
    "smooth rect": smooth_rect(40, 30, (8, 0, 4, 30)),
    "pie": arc(20, 20, 0, 120, "center"),
    "arc": arc(20, 10, -30, 300),
    "chord": arc(20, 20, 0, -90, "chord"),
    "ring": annulus(10, 20, 0, 360),
    "gap": annulus(10, 20, 90, 270),
    "hexagon": regular_polygon(6, 20, 0),
    "star": star(5, 20, 8, -90),
    "through": through([(0, 0), (20, 10), (40, 0), (40, 30)], False, 1.0),
    "through, closed": through([(0, 0), (20, 10), (40, 0), (40, 30)], True, 0.5),
}


def data(what):
    """Path data, of an outline, of segments or of a contour."""
    if what is None:
        return "nothing"
    if hasattr(what, "written"):
        what = what.written()
    parts = what.segments() if isinstance(what, Outline) else what
    return " ".join(f"{letter}{numbers(n)}" for letter, n in parts) or "nothing"


def measures(path):
    yield f"  {data(path)}"
    along = Along(path)
    yield f"  box {numbers(path.bounds())}, length {number(along.length)}, area {number(area(path))}"
    for share in (0.0, 0.3, 1.0):
        spot = along.at(share * along.length)
        if spot is not None:
            yield f"  at {share:g}: {numbers((spot.distance, spot.x, spot.y, *spot.tangent))}"
    for x, y in ((20, 5), (0, 0)):
        found = along.nearest(x, y)
        if found is not None:
            yield f"  nearest to {x},{y}: {numbers((found[0].distance, found[0].x, found[0].y, found[1]))}"
    quarter, half = along.length / 4, along.length / 2
    yield f"  second quarter: {data(along.part(quarter, half))}"
    yield f"  all but the start: {data(along.part(1.0, along.length))}"
    yield f"  crosses itself: {'; '.join(numbers(p) for p in crossings(path, 0.1)) or 'nowhere'}"
    tight = [r for r in (0.5, 1, 2, 5, 9.8, 10, 20, 40, 100) if bends_within(path, r)]
    yield f"  bends within: {numbers(tight) or 'none'}"
    flat = [(t, flatten(path, t)) for t in (1.0, 0.1, 0.01)]
    counts = (f"{t:g} -> {count_pieces(path, t)}/{sum(len(x.vertices) for x in lines)}" for t, lines in flat)
    yield f"  edges/points at a tolerance: {', '.join(counts)}"
    for line in flat[0][1][:2]:
        for v in line.vertices[:3]:
            yield f"    {numbers(v[:2])} arrives {numbers(v.arrive)} leaves {numbers(v.leave)}{' corner' * v.corner}"
    yield f"  fewer curves: {data(with_fewer_curves(path, 0.2))}"


def test_measures():
    lines = []
    for name, path in FIGURES.items():
        lines += [f"{name}:", *measures(path)]
    assert_as_recorded("outlines", lines, 0.001)


PENS = {
    "butt": Pen(6),
    "round": Pen(6, "round", "round"),
    "square, bevel": Pen(6, "square", "bevel"),
    "thick": Pen(30, "butt", "miter", 10),
    "no wider than nothing": Pen(0),
    "dashes": Pen(4, "butt", "miter", 4, (8, 4)),
    "dots": Pen(4, "round", "miter", 4, (0, 8), 2),
    "uneven dashes": Pen(4, "square", "round", 4, (7,), -3),
}


def stroked(path, pen):
    region = StrokeRegion(path, pen, 0.1)
    pieces = next(region._pieces(), Pieces(pen, 0.1))
    out = region.outline()
    box = stroke_bounds(path, pen, Affine.translate(1.0, -2.0).after(Affine.rotate(30.0)))
    yield f"bands and corners {len(pieces.polygons)}, wedges {len(pieces.wedges)}, covers {number(area(out))}"
    if out.verbs:
        yield f"box {numbers(out.bounds())}, turned by 30: {numbers(box)}, reach {number(pen.reach())}"
    x, y = zip(*[(i % 8 * 7 - 5, i // 8 * 7 - 5) for i in range(48)], strict=True)
    yield "".join(".#"[region.contains(px + 0.3, py + 0.2)] for px, py in zip(x, y, strict=True))


def test_strokes():
    lines = []
    for name in (
        "straight", "hook", "back and forth", "wedge", "triangle", "closed by hand", "twice the same", "dot",
        "dot, closed", "bow", "cusp", "tight bend", "stands still", "out and back", "drop", "eight", "two parts",
        "ellipse", "rect", "star",
    ):  # fmt: skip
        lines.append(f"{name}:")
        for how, pen in PENS.items():
            first, *others = stroked(FIGURES[name], pen)
            lines += [f"  {how}: {first}", *(f"    {text}" for text in others)]
    for how, name in itertools.product(("butt", "round", "square, bevel"), ("hook", "bow")):
        lines.append(f"{name}, {how}: {data(StrokeRegion(FIGURES[name], PENS[how], 1.0).outline())}")
    assert_as_recorded("strokes", lines, 0.002)


def test_a_stroke_of_very_many_edges():
    """Such a one is asked run by run."""
    zigzag = [(i % 40 * (1 if i // 40 % 2 else -1) + 40.0, i * 0.4 + i % 2 * 6) for i in range(400)]
    lines = []
    for how in ("butt", "dashes", "uneven dashes"):
        region = StrokeRegion(polyline(zigzag), PENS[how], 0.1)
        assert not region.short
        rows = ((".#"[region.contains(x + 0.3, y + 0.2)] for x in range(-4, 84, 2)) for y in range(-4, 170, 8))
        lines += [f"{how}: {area(region.outline()):.1f}", *("".join(row) for row in rows)]
    assert_as_recorded("zigzag", lines, 0.1)


def test_dashes():
    lines = []
    for pattern, shift, length, ring in (
        ((8, 4), 0, 30, False), ((8, 4), 3, 30, False), ((8, 4), -3, 30, False), ((8, 4), 8, 30, False),
        ((8, 4), 12, 36, False), ((8, 4), 0, 36, True), ((8, 4), 2, 36, True), ((8, 4), 0, 30, True),
        ((5,), 0, 20, False), ((5,), 5, 20, True), ((0, 5), 0, 20, False), ((0, 5), 0, 20, True), ((0, 5), 1, 20, True),
        ((5, 0), 0, 20, False), ((5, 0), 0, 20, True), ((0, 0), 0, 20, False), ((40, 1), 0, 20, True),
        ((1, 2, 3), 0, 20, False), ((1, 40), 20.5, 20, True), ((1, 40), 0, 0, False), ((40, 1), 0, 0, False),
        ((1, 1), 0, 20_000, False), ((1, 1), 0, 20_001, False),
    ):  # fmt: skip
        found = Dashes(pattern, shift, length, ring)
        places = [*found.between(0.0, length)]
        shown = (f"{numbers(d[:2])}{'' if d.begins else ' <'}{'' if d.ends else ' >'}" for d in places[:12])
        inside = (numbers(d[:2]) for d in found.between(9.0, 12.0)) if length < 100 else ()
        lines.append(f"{numbers(pattern)} from {shift:g} along {length}{' closed' * ring}: {len(places)}")
        lines.append(
            f"  {'; '.join(shown)}. Between 9 and 12: {'; '.join(inside)}. A dot: {found.whole or found.dot()}"
        )
    for name in ("hook", "bow", "two parts"):
        lines.append(f"{name}, at most {number(dashes_at_most(FIGURES[name], PENS['dashes']))}")
    assert_as_recorded("dashes", lines, 0.001)


def test_heads():
    lines = []
    for name in ("straight", "hook", "bow", "stands still", "back and forth", "triangle", "two parts", "dot"):
        for start, mid, end in (
            ("none", "none", "triangle"), ("barb", "none", "none"), ("dot", "bar", "diamond"),
            ("bar", "triangle", "bar"),
        ):  # fmt: skip
            for length in (10.0, 60.0) if mid == "none" else (10.0, 0.5):
                line, heads = with_heads(FIGURES[name], length, start, end, mid)
                lines.append(f"{name}, {start} {mid} {end} of {length:g}: {data(line)} | {data(heads)}")
    assert_as_recorded("heads", lines, 0.001)


KNOTS = {
    "lines": "M0 0 L40 0 L40 30 L0 30 Z",
    "curves": "M0 0 C0 20 20 40 40 40 S80 20 80 0",
    "straight curve": "M0 0 C10 0 30 0 40 0 L80 0",
    "mixed": "M0 0 Q20 20 40 0 A20 20 0 0 1 80 0 C80 40 40 60 0 40 Z",
    "a line back": "M0 0 L40 0 Z",
    "a point": "M0 0",
}


def test_edits_of_points():
    lines = []
    for name, text in KNOTS.items():
        (c,) = contours_of(parse_path(text).segments)
        lines.append(f"{name}: {data(c)}, reversed {data(reversed_(c))}, closed {data(closed(c))}")
        for knot in range(len(c.knots)):
            one, two = c.controls(knot)
            about = f"  {knot}{' smooth' * is_smooth(c, knot)}, controls {numbers(one or ())} | {numbers(two or ())}"
            lines += [
                about,
                f"    moved {data(moved(c, knot, (50, 50)))}",
                f"    with a control {data(with_control(c, knot, True, (30, -30)))}",
                f"    mirrored {data(with_control(c, knot, False, (30, -30), True))}",
                f"    deleted {data(deleted(c, knot))}",
                f"    smoothed {data(smoothed(c, knot))}",
                f"    cornered {data(cornered(c, knot))}",
                f"    split {' + '.join(data(p) for p in split(c, knot))}",
            ]
        for segment in range(len(c.segments)):
            lines.append(f"  a knot more on {segment}: {data(inserted(c, segment, 0.25))}")
    ends = [
        contours_of(parse_path(text).segments)[0] for text in ("M0 0 L40 0", "M40 4 C60 4 60 30 40 30", "M0 3 L0 40")
    ]
    for within, i, j in itertools.product((0.0, 4.0, 3.0), (0, 2), (1, 2)):
        lines.append(f"joined {i} and {j} within {within:g}: {data(joined(ends[i], ends[j], within))}")
    for within in (0.0, 5.0):
        bent = contours_of(parse_path("M0 0 L40 0 L3 4").segments)[0]
        lines.append(f"closed within {within:g}: {data(closed(bent, within))}")
    assert_as_recorded("contours", lines, 0.001)


def trembling(count, size, noise):
    angles = np.linspace(0.0, 2 * math.pi, count)
    far = size + noise * np.sin(angles * 17)
    return list(zip((far * np.cos(angles)).tolist(), (far * np.sin(angles)).tolist(), strict=True))


def test_lines_by_hand_and_curves_that_are_fitted():
    square = [(x, 0) for x in range(0, 40, 3)] + [(40, y) for y in range(0, 30, 3)]
    drawn = {
        "a dot": [(0, 0), (0.4, 0)],
        "two points": [(0, 0), (40, 0)],
        "three in a row": [(0, 0), (20, 0.4), (40, 0)],
        "a bend": [(0, 0), (20, 9), (40, 0)],
        "a corner": square,
        "a trembling circle": trembling(60, 30, 0.4),
        "half of it": trembling(60, 30, 0.4)[:30],
        "there and back": [(x, 0) for x in range(0, 40, 4)] + [(x, 0) for x in range(40, 0, -4)],
    }
    lines = []
    for name, points in drawn.items():
        for tolerance, ring in ((1.0, False), (1.0, True), (4.0, False)):
            found = smooth_through(points, tolerance, ring)
            lines.append(f"{name} within {tolerance:g}{' closed' * ring}: {data(found)}")
    for name, text in {
        "halves of a bow": "M0 0 C0 15 10 22.5 20 22.5 C30 22.5 40 15 40 0",
        "a corner between": "M0 0 C0 15 10 22.5 20 22.5 C20 30 40 15 40 0",
        "a line before": "M-20 0 L0 0 C10 0 20 10 20 20",
        "quadratics": "M0 0 Q10 0 15 5 T30 20 Q40 40 60 40",
        "many lines": "M" + " L".join(f"{x} {x * x / 60:g}" for x in range(0, 40, 2)),
    }.items():
        path = outline_of(parse_path(text).segments)
        one = single_cubic(path)
        lines.append(f"{name}: {data(with_fewer_curves(path, 0.1))}")
        lines.append(f"  with lines {data(with_fewer_curves(path, 0.5, lines=True))}")
        lines.append(f"  as one {numbers((*one[0], *one[1])) if one else 'none'}")
    assert_as_recorded("fitted", lines, 0.002)


def test_path_data_and_batches():
    lines = []
    for text in (
        "m1 2 3 4l5-6h7v-8z", "M0,0c1 2 3 4 5 6s1 1 2 2S9 9 8 8", "M0 0q5 5 10 0t10 0T40 0", "M0 0a5 10 20 1 0 8 8",
        "M0 0 A5 5 0 0 1 0 0", "M0 0 A0 5 0 0 1 9 9", "M0 0 A1 1 0 0 1 20 0", "M0 0L1e1.5.5-.5", "M0 0 L", "L1 1",
        "M0 0 a5 5 0 015 5",
        "M0 0 A5 5 0 2 0 1 1", "M1 1 L2 2 x", "M0 0 T10 10 S5 5 6 6",
    ):  # fmt: skip
        found = parse_path(text)
        lines.append(f"{text}: {data(found.segments)}")
        lines.append(
            f"  without arcs {data(without_arcs(found.segments))}, as outline {data(outline_of(found.segments))}"
        )
        lines += [f"  {field} {value}" for field, value in found._asdict().items() if field != "segments" and value]
    for name, segments in {
        "whole": arcdata.whole(20, 10), "whole, back": arcdata.whole(20, 10, False),
        "turn": arcdata.turn(20, 10, 30, 200),
        "back": arcdata.turn(20, 20, 0, -90), "part": arcdata.part(20, 10, 0, 90, "open"),
        "chord": arcdata.part(20, 10, 0, 360, "chord"), "pie": arcdata.part(20, 20, 45, 90, "pie"),
        "all of the pie": arcdata.part(20, 20, 0, 360, "pie"), "ring": arcdata.ring(10, 20, 0, 360),
        "disc": arcdata.ring(0, 20, 0, -360), "gap": arcdata.ring(20, 10, 90, 180),
        "slice": arcdata.ring(0, 20, 90, 60),
        "rounded": arcdata.rounded(40, 30, (8, 0, 4, 30)), "pill": arcdata.rounded(40, 20, (10,)),
        "one round": arcdata.rounded(40, 30, (0, 0, 0.5, 0)),
    }.items():  # fmt: skip
        lines.append(f"{name}: {data(segments)}")
    for corners in (
        (5,),
        (5, 5, 5, 5),
        (30, 10, 0, 0),
        (0, 20, 20, 0),
        (0, 0, 30, 30),
        (10, 0, 0, 40),
        (1e-10, 1, 2, 3),
    ):
        lines.append(f"corners {numbers(corners)}: {numbers(fit_corners(40, 30, corners))}")
        lines.append(f"  {data(rect(40, 30, corners))}")
        lines.append(f"  smooth: {data(smooth_rect(40, 30, corners))}")
    lines.append(f"back from an outline: {data(from_outline(FIGURES['drop']))}")
    for name in ("hook", "bow", "drop", "two parts"):
        points, counts = flatten_cubics(controls_of(FIGURES[name]), 0.5)
        lines.append(f"{name} in a batch: {counts.tolist()}: {numbers(points.ravel()[:12])}")
    for count in (39, 40, 41):
        wave = polyline([(i * 3.0, i % 2) for i in range(count)], count == 40)
        lines.append(f"{count}: {len(edges_of(wave, 0.1))} edges, the last {numbers(edges_of(wave, 0.1)[-1])}")
    huge = Outline(
        "M" + "C" * 120, (0.0, 0.0, *(v for i in range(120) for v in (1e7, 1e9 * (-1) ** i, 2e7, 1e9, 3e7, 0.0)))
    )
    lines.append(f"what is larger than any page: {number(affordable(huge, 0.01))}, {count_pieces(huge, 0.01)}")
    assert_as_recorded("pathdata", lines, 0.001)


def test_areas_made_of_areas():
    """Skia's results are those of its version: only how many segments, and how much area."""

    def told(path):
        kinds = {verb: path.verbs.count(verb) for verb in "MLQCZ"}
        return f"{kinds}, area {area(path):.1f}, box {' '.join(f'{v:.1f}' for v in path.bounds())}".replace(
            "-0.0", "0.0"
        )

    disc = ellipse(20, 20)
    lines = []
    for operation in ("union", "difference", "intersection", "exclusion"):
        for name in ("rect", "star", "ring", "eight"):
            lines.append(
                f"{operation} of a disc and {name}: {told(combine(operation, [Filled(disc), Filled(FIGURES[name])]))}"
            )
    for name in ("rect", "star", "drop"):
        for distance in (-3.0, 3.0):
            lines.append(f"{name} by {distance:g}: {told(offset(Filled(FIGURES[name]), distance))}")
    for name in ("hook", "bow", "tight bend"):
        for how in ("butt", "round", "dashes"):
            lines.append(f"{name} stroked, {how}: {told(stroke_outline(FIGURES[name], PENS[how]))}")
    assert_as_recorded("areas", lines, 0.11)
