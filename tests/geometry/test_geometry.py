"""Affine maps, curves, paths, flattening, dashes and the corner cases of strokes."""

import bisect
import itertools
import math
import random

import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st
from PySide6.QtGui import QTransform

from chalcedon.geometry import EMPTY, Affine, Box, Outline, PathBuilder, arcdata, stroke
from chalcedon.geometry import primitives as make
from chalcedon.geometry import round as about
from chalcedon.geometry.boxes import from_corners, inflate, is_empty, overlap, union
from chalcedon.geometry.contain import Region
from chalcedon.geometry.curves import cubic_extrema, cubic_point, quadratic_extrema, quadratic_point, split_cubic
from chalcedon.geometry.dash import MAX_DASHES, Dashes, Ruler
from chalcedon.geometry.extent import stroke_bounds
from chalcedon.geometry.flatten import affordable, count_pieces, distance_to_edges, edges, flatten
from chalcedon.geometry.pathdata import outline_of, parse_path
from chalcedon.geometry.stroke import Pen, StrokeRegion

number = st.floats(-50, 50).map(lambda v: round(v, 3))
maps = st.tuples(*[st.floats(-3, 3)] * 4, number, number).map(lambda v: Affine(*v))
points = st.tuples(number, number)
controls = st.tuples(number, number, number, number)


@given(maps, maps, points)
def test_maps_compose_as_qt_composes_them(m, n, p):
    ours = m.after(n).map(*p)
    theirs = (QTransform(*n) * QTransform(*m)).map(*p)
    assert ours == pytest.approx(theirs, abs=1e-9)
    assert m.map(*n.map(*p)) == pytest.approx(ours, abs=1e-9)


@given(maps, points)
def test_the_inverse_takes_back(m, p):
    back = m.inverse()
    if back is None:
        assert abs(m.determinant) < 1e-9
    elif abs(m.determinant) > 1e-3:
        assert back.map(*m.map(*p)) == pytest.approx(p, abs=1e-6)


@given(maps)
def test_stretch_and_shrink_are_the_singular_values(m):
    lengths = [math.hypot(*m.map_vector(math.cos(a), math.sin(a))) for a in (i * math.pi / 720 for i in range(720))]
    assert max(lengths) == pytest.approx(m.stretch, abs=1e-3)
    assert min(lengths) == pytest.approx(m.shrink, abs=1e-2)


@pytest.mark.parametrize("turns", range(-5, 6))
def test_quarter_turns_are_exact(turns):
    x, y = Affine.rotate(90 * turns).map(3, 1)
    assert (x, y) == [(3, 1), (-1, 3), (-3, -1), (1, -3)][turns % 4]


def test_maps_with_a_fixed_point():
    turn = Affine.rotate(30).about(4, 5)
    assert turn.map(4, 5) == pytest.approx((4, 5))
    assert Affine.skew(45, 0).map(0, 2) == pytest.approx((2, 2)), "skewX leans x by y"
    assert Affine.scale(0, 1).inverse() is None


@given(maps, st.tuples(points, points))
def test_boxes_of_mapped_boxes(m, corners):
    box = from_corners(*corners[0], *corners[1])
    xs, ys = zip(*[m.map(x, y) for x in (box[0], box[2]) for y in (box[1], box[3])], strict=True)
    assert m.map_box(box) == pytest.approx((min(xs), min(ys), max(xs), max(ys)), abs=1e-9)


def test_boxes():
    a: Box = (0, 0, 10, 10)
    assert union([]) == EMPTY and is_empty(EMPTY) and not is_empty(a)
    assert union([a, (20, -5, 21, 3)]) == (0, -5, 21, 10)
    assert overlap(a, (10, 10, 20, 20)) and not overlap(a, (10.1, 0, 20, 20))
    assert inflate(a, 2) == (-2, -2, 12, 12)
    assert Affine.rotate(40).map_box(EMPTY) == EMPTY


@given(controls)
def test_extrema_are_where_the_curve_turns(p):
    fine = [cubic_point(*p, i / 400) for i in range(401)]
    values = [p[0], p[3], *(cubic_point(*p, t) for t in cubic_extrema(*p))]
    assert min(values) <= min(fine) + 1e-9 and max(values) >= max(fine) - 1e-9
    assert min(values) >= min(fine) - 0.01 and max(values) <= max(fine) + 0.01
    q = p[:3]
    fine = [quadratic_point(*q, i / 400) for i in range(401)]
    values = [q[0], q[2], *(quadratic_point(*q, t) for t in quadratic_extrema(*q))]
    assert (min(values), max(values)) == pytest.approx((min(fine), max(fine)), abs=0.01)


@given(controls, st.floats(0, 1), st.floats(0, 1))
def test_a_part_of_a_cubic_runs_along_it(p, a, b):
    part = split_cubic(p, a, b)
    for t in (0, 0.3, 1):
        assert cubic_point(*part, t) == pytest.approx(cubic_point(*p, a + (b - a) * t), abs=1e-9)


curved = st.lists(st.tuples(points, points, points), min_size=1, max_size=4)


def path_of(pieces, closed):
    pen = PathBuilder()
    pen.move(0, 0)
    for i, (a, b, c) in enumerate(pieces):
        if i % 3 == 0:
            pen.cubic(*a, *b, *c)
        elif i % 3 == 1:
            pen.quadratic(*a, *c)
        else:
            pen.line(*c)
    if closed:
        pen.close()
    return pen.path()


@settings(max_examples=60)
@given(curved, st.booleans(), st.sampled_from([0.5, 0.05, 0.005]))
def test_flattening_keeps_within_its_tolerance(pieces, closed, tolerance):
    path = path_of(pieces, closed)
    rough, fine = edges(flatten(path, tolerance)), edges(flatten(path, tolerance / 50))
    for x, y, _x1, _y1 in fine[:: max(1, len(fine) // 60)]:
        assert distance_to_edges(rough, x, y) <= tolerance * 1.01
    for line in flatten(path, tolerance):
        for v in line.vertices:
            assert math.hypot(*v.arrive) == pytest.approx(1) and math.hypot(*v.leave) == pytest.approx(1)


@settings(max_examples=60)
@given(st.tuples(*[points] * 4))
def test_vertices_of_a_curve_know_its_direction(controls):
    """Against the quotient of differences beside each, in numbers of more digits."""
    p = [complex(*c) for c in controls]
    pen = PathBuilder()
    pen.move(*controls[0])
    pen.cubic(*(n for c in controls[1:] for n in c))
    (line,) = flatten(pen.path(), 0.05) or (None,)
    assume(line is not None)
    count = len(line.vertices) - 1
    assume(count == count_pieces(pen.path(), 0.05))

    def at(t):
        return sum(c * math.comb(3, k) * (1 - t) ** (3 - k) * t**k for k, c in enumerate(p))

    for i, v in enumerate(line.vertices[1:-1], 1):
        t = i / count
        way = at(t + 1e-6) - at(t - 1e-6)
        if abs(way) > 1e-6:  # where it doesn't stand still
            assert complex(*v.arrive) == pytest.approx(way / abs(way), abs=1e-3) and v.arrive == v.leave


@settings(max_examples=60)
@given(curved, points, st.booleans())
def test_winding_is_that_of_the_flattened_outline(pieces, p, even_odd):
    """Against angles added up around the point, which is the definition of the winding number."""
    path = path_of(pieces, True)
    ring = edges(flatten(path, 0.0005))
    if distance_to_edges(ring, *p) < 0.01:
        return
    total = 0.0
    for x0, y0, x1, y1 in ring:
        a, b = (x0 - p[0], y0 - p[1]), (x1 - p[0], y1 - p[1])
        total += math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1])
    turns = round(total / (2 * math.pi))
    region = Region(path, even_odd)
    assert region.winding(*p) == turns
    assert region.contains(*p) == (turns % 2 == 1 if even_odd else turns != 0)


def test_paths_are_drawn_through_pens_and_compare_by_value():
    path = path_of([((1, 2), (3, 4), (5, 6)), ((1, 1), (2, 2), (9, 0)), ((0, 0), (0, 0), (4, 4))], True)
    pen = PathBuilder()
    path.draw(pen)
    assert pen.path() == path and hash(pen.path()) == hash(path)
    assert path.mapped(Affine.translate(1, 1)) != path
    assert path.mapped(Affine.rotate(90)).bounds() == pytest.approx(
        (-path.bounds()[3], path.bounds()[0], -path.bounds()[1], path.bounds()[2])
    )
    assert Outline("", ()).bounds() == EMPTY


@pytest.mark.parametrize("corners", [(5,), (5, 10, 15, 20), (500,), (0, 30, 0, 30), (40, 40, 0, 0)])
def test_corner_radii_shrink_together_until_they_fit(corners):
    """CSS Backgrounds 3, 5.5: all radii are scaled by one factor, so that none overlap."""
    fitted = make.fit_corners(60, 40, corners)
    assert fitted[0] + fitted[1] <= 60 + 1e-9 and fitted[1] + fitted[2] <= 40 + 1e-9
    full = corners * 4 if len(corners) == 1 else corners
    ratios = {round(f / c, 9) for f, c in zip(fitted, full, strict=True) if c}
    assert len(ratios) == 1
    assert make.rect(60, 40, corners).bounds() == pytest.approx((0, 0, 60, 40))


def line(*spots, closed=False):
    return flatten(make.polyline(list(spots), closed), 0.01)[0]


def lengths(line, pattern, offset=0):
    length = Ruler(line).at[-1]
    dashes = Dashes(pattern, offset, length, line.closed).between(0.0, length)
    return [(round(d.end - d.start, 6), d.begins, d.ends) for d in dashes]


def test_dashes_as_svg_defines_them():
    straight = line((0, 0), (100, 0))
    own = True, True
    assert lengths(straight, (30, 20)) == [(30, *own), (30, *own)]
    assert lengths(straight, (30, 20), 10) == [(20, *own), (30, *own), (10, *own)], "where the pattern starts"
    assert lengths(straight, (30, 20), -10) == [(30, *own), (30, *own)]
    assert lengths(straight, (40,)) == [(40, *own), (20, *own)], "an odd pattern is repeated"
    assert lengths(straight, (0, 0), 3) == [(100, *own)], "a sum of zero means no dashing"
    assert lengths(straight, (0, 25)) == [(0, *own)] * 4, "dots"
    assert lengths(straight, (1e-9, 1e-9)) == [(100, *own)] and MAX_DASHES > 1000
    ring = line((0, 0), (10, 0), (10, 10), (0, 10), closed=True)
    assert lengths(ring, (6, 4)) == [(6, *own)] * 4
    assert lengths(ring, (6, 4), 3) == [(3, True, False), (3, False, True), *[(6, *own)] * 3], "over the closing point"
    assert lengths(ring, (60, 4), 3) == [(40, False, False)], "one that goes all around has no ends"


@given(
    st.lists(points, min_size=2, max_size=9, unique=True),
    st.booleans(),
    st.lists(st.floats(0, 40), min_size=1, max_size=4),
    st.floats(-60, 60),
    st.floats(0, 1),
)
def test_a_point_of_the_line_is_in_a_butt_stroke_where_the_pattern_is_on(spots, closed, pattern, offset, share):
    """By the definition: the pattern, shifted by the offset and repeated, at the length of the point."""
    ruler = Ruler(line(*spots, closed=closed))
    at = share * ruler.at[-1]
    i = max(0, min(len(ruler.at) - 2, bisect.bisect_right(ruler.at, at) - 1))
    a, b = ruler.ring[i], ruler.ring[i + 1]
    t = (at - ruler.at[i]) / (ruler.at[i + 1] - ruler.at[i])
    point = a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t
    even = pattern if len(pattern) % 2 == 0 else pattern * 2
    marks = list(itertools.accumulate(even))
    if marks[-1] < 1 or ruler.at[-1] / marks[-1] > 500:
        return
    phase = (at + offset) % marks[-1]
    if min(abs(phase - m) for m in (0.0, *marks)) < 1e-6 or any(
        math.hypot(point[0] - v.x, point[1] - v.y) < 0.01 for v in ruler.ring
    ):
        return
    on = bisect.bisect_right(marks, phase) % 2 == 0
    thin = StrokeRegion(make.polyline(list(spots), closed), Pen(1e-3, "butt", "bevel", 4, tuple(pattern), offset), 0.01)
    others = [e for k, e in enumerate(edges([line(*spots, closed=closed)])) if k != i]
    if distance_to_edges(others, *point) > 0.01:
        assert thin.contains(*point) is on


def test_a_long_outline_is_asked_piece_by_piece_with_the_same_answers(monkeypatch):
    chance = random.Random(4)
    path = about.star(130, 90, 60, 10)
    closed = make.polyline([(chance.uniform(-90, 90), chance.uniform(-90, 90)) for _ in range(70)], True)
    both = Outline(path.verbs + closed.verbs, path.coords + closed.coords)
    for pen in (Pen(3), Pen(5, "round", "round", 4, (7, 5, 0, 6), 3), Pen(2, "square", "bevel", 4, (0.4, 1.1))):
        lazy = StrokeRegion(both, pen, 0.01)
        assert lazy._all is None
        with monkeypatch.context() as patched:
            patched.setattr(stroke, "SHORT", 10**9)
            whole = StrokeRegion(both, pen, 0.01)
        with monkeypatch.context() as patched:
            patched.setattr(stroke, "KEPT", 100)  # one subpath pushes the other out
            for _ in range(15):
                x, y = chance.uniform(-95, 95), chance.uniform(-95, 95)
                assert lazy.contains(x, y) == whole.contains(x, y)
            assert len(lazy._opened) == 1
        assert lazy.outline().bounds() == pytest.approx(whole.outline().bounds())


def test_ends_of_very_many_dashes_are_off_by_no_more_than_a_share_of_the_width(monkeypatch):
    path = outline_of(parse_path("M-40 0A40 40 0 1 1 40 0C40 60 -10 60 -30 30").segments)
    pen = Pen(12, dash=(3, 2))
    fine = StrokeRegion(path, pen, 0.001)
    monkeypatch.setattr(stroke, "MANY", 0)
    rough = StrokeRegion(path, pen, 0.001)
    assert len(rough.outline().verbs) < len(fine.outline().verbs) * 0.8
    chance, off, reach = random.Random(3), 0, stroke.SHARE * 12
    around = [(reach * math.cos(a), reach * math.sin(a)) for a in range(7)]
    for _ in range(4000):
        x, y = chance.uniform(-50, 50), chance.uniform(-50, 70)
        if fine.contains(x, y) != rough.contains(x, y):
            off += 1
            assert any(fine.contains(x + dx, y + dy) == rough.contains(x, y) for dx, dy in around), (x, y)
    assert off < 40


@pytest.mark.parametrize(
    ("cap", "inside", "outside"),
    [
        ("butt", [(1, 4.9)], [(-0.1, 0), (5, 5.1)]),
        ("square", [(-4.9, 4.9), (-4.9, 0)], [(-5.1, 0)]),
        ("round", [(-4.9, 0), (-3, 3)], [(-4.9, 4.9), (-5.1, 0)]),
    ],
)
def test_caps(cap, inside, outside):
    region = StrokeRegion(make.polyline([(0, 0), (50, 0)]), Pen(10, cap), 0.01)
    for p in inside:
        assert region.contains(*p), p
    for p in outside:
        assert not region.contains(*p), p


@given(st.floats(0, 2 * math.pi), st.floats(4, 9), st.floats(0.3, 1.2), st.floats(10, 50), st.floats(0.05, 0.5))
@example(math.pi / 4, 6, 0.7, 40, 0.1)
@example(0.0, 6, 0.7, 40, 0.1)
def test_a_wide_stroke_ends_at_a_right_angle_to_its_curve(way, length, bend, half, tolerance):
    """However coarsely the curve is flattened: near an end the stroke is what lies beside the true tangent."""
    unit, length = (math.cos(way), math.sin(way)), length * half
    to = length * math.cos(way + bend), length * math.sin(way + bend)
    path = outline_of(
        parse_path(f"M0 0 C{unit[0] * length / 2} {unit[1] * length / 2} {to[0]} {to[1]} {to[0]} {to[1]}").segments
    )
    region = StrokeRegion(path, Pen(2 * half, "butt"), tolerance)
    for along, across in itertools.product((-2.5, 2.5), (-0.9, -0.5, 0.5, 0.9)):
        x = unit[0] * along * tolerance - unit[1] * across * half
        y = unit[1] * along * tolerance + unit[0] * across * half
        assert region.contains(x, y) is (along > 0), (along, across)


@pytest.mark.parametrize(
    ("join", "limit", "tip", "corner"),
    [("miter", 4, True, True), ("miter", 1.2, False, False), ("bevel", 4, False, False), ("round", 4, False, True)],
)
def test_joins_and_the_miter_limit(join, limit, tip, corner):
    """A right angle: its miter reaches 7.07 px from the corner, a round join 5, a bevel 3.54."""
    region = StrokeRegion(make.polyline([(-50, 0), (0, 0), (0, 50)]), Pen(10, "butt", join, limit), 0.01)
    assert region.contains(4.9, -4.9) is tip
    assert region.contains(3.4, -3.4) is corner
    assert region.contains(2.4, -2.4) and not region.contains(5.1, -5.1)


def test_a_zero_length_subpath_shows_only_its_caps():
    """SVG 2, 13.5.5."""
    point = make.polyline([(10, 10), (10, 10)])
    assert not StrokeRegion(point, Pen(8, "butt"), 0.01).contains(10, 10)
    square = StrokeRegion(point, Pen(8, "square"), 0.01)
    assert square.contains(13.9, 13.9) and not square.contains(14.1, 10)
    disc = StrokeRegion(point, Pen(8, "round"), 0.01)
    assert disc.contains(12.7, 12.7) and not disc.contains(13.9, 13.9)
    assert not StrokeRegion(point, Pen(0, "round"), 0.01).contains(10, 10)


def test_a_line_that_turns_back_on_itself():
    spots = [(0, 0), (50, 0), (20, 0)]
    miter = StrokeRegion(make.polyline(spots), Pen(10, "butt", "miter", 1000), 0.01)
    assert not miter.contains(51, 0), "a miter of a full turn would be endless: it is bevelled"
    assert StrokeRegion(make.polyline(spots), Pen(10, "butt", "round"), 0.01).contains(54, 0)


@settings(max_examples=40)
@given(
    curved,
    st.booleans(),
    st.floats(1, 20),
    st.sampled_from(["butt", "round", "square"]),
    st.sampled_from(["miter", "round", "bevel"]),
    st.lists(points, min_size=5, max_size=20),
)
@example([((0, 0), (0, 0.5), (1, 1))], False, 1.0, "butt", "miter", [])  # bends as tightly as the pen is wide
@example([((4.25, -11.75), (0, -0.5), (10, 0)), ((12.109, 11.781), (0, 0), (10, 0))], False, 1.0, "butt", "miter", [])
def test_the_outline_of_a_stroke_is_its_region(pieces, closed, width, cap, join, spots):
    region = StrokeRegion(path_of(pieces, closed), Pen(width, cap, join), 0.01)
    outline = region.outline()
    filled = Region(outline)
    border = edges(flatten(outline, 0.01))
    for p in spots:
        if region.contains(*p) != filled.contains(*p):
            assert distance_to_edges(border, *p) < 0.02
    reach = Pen(width, cap, join).reach()
    drawn = path_of(pieces, closed)
    assert all(a >= b - 1e-4 for a, b in zip(outline.bounds()[:2], inflate(drawn.bounds(), reach)[:2], strict=True))
    # beyond the ends of tight bends the bands lean out by as much as an edge turns: fine edges turn little
    outline = StrokeRegion(drawn, Pen(width, cap, join), 1e-4).outline()
    turned = Affine(0.8, 0.4, -0.7, 1.1, 3, 4)
    for world in (Affine(), turned):
        ours = stroke_bounds(drawn, Pen(width, cap, join), world)
        assert ours == pytest.approx(outline.mapped(world).bounds(), abs=0.01 + 0.025 * width)


@given(st.floats(1, 500), st.floats(1, 500), st.floats(-400, 400), st.floats(-360, 360))
def test_arcs_run_along_their_ellipse(rx, ry, start, sweep):
    path = about.arc(rx, ry, start, sweep)
    for line in flatten(path, min(rx, ry) / 5000):
        for v in line.vertices:
            assert math.hypot(v.x / rx, v.y / ry) == pytest.approx(1, abs=1 / 4000)
    for (x, y), angle in ((path.coords[:2], start), (path.coords[-2:], start + sweep)):
        off = math.degrees(math.atan2(y, x)) - angle
        assert abs((off + 180) % 360 - 180) < 1e-4, "seen from the centre"
    whole = about.parameter(rx, ry, start + sweep) - about.parameter(rx, ry, start)
    assert abs(whole - sweep) < 180 and whole * sweep >= 0, "the same number of turns"


def area(path, tolerance=0.001):
    return abs(sum(x0 * y1 - x1 * y0 for x0, y0, x1, y1 in edges(flatten(path, tolerance)))) / 2


FIGURES = {
    "rect": lambda k: make.rect(30 * k, 20 * k),
    "rounded": lambda k: make.rect(30 * k, 20 * k, (5 * k, 9 * k, 0.0, 2 * k)),
    "smooth": lambda k: make.smooth_rect(30 * k, 20 * k, (5 * k,)),
    "ellipse": lambda k: make.ellipse(30 * k, 20 * k),
    "pie": lambda k: about.arc(30 * k, 20 * k, 90, 100, "pie"),
    "chord": lambda k: about.arc(30 * k, 20 * k, 90, -300, "chord"),
    "annulus": lambda k: about.annulus(10 * k, 30 * k, 0, 360),
    "slice": lambda k: about.annulus(10 * k, 30 * k, 20, 70),
    "polygon": lambda k: about.regular_polygon(6, 10 * k, 12),
    "star": lambda k: about.star(5, 10 * k, 4 * k, 0),
}


@pytest.mark.parametrize("name", FIGURES)
@pytest.mark.parametrize("k", [0.003, 0.02, 0.04, 500])
def test_figures_of_any_size_are_alike(name, k):
    """None is too thin to be, none turns coarse; what nobody could see of a corner may be left out."""
    loss = 0.02 if k < 0.01 else 1e-3
    assert area(FIGURES[name](k), 0.001 * k) == pytest.approx(k * k * area(FIGURES[name](1.0)), rel=loss)


@pytest.mark.parametrize("sweep", [360, 359, 90, -360])
def test_a_ring_without_a_hole_is_a_disc_or_a_slice(sweep):
    """Nothing lies at its middle but the corner of the slice."""
    hollow, full = (arcdata.ring(inner, 50, 20, sweep) for inner in (10, 0))
    assert [s.letter for s in full].count("M") == 1 and [s.letter for s in hollow].count("M") == 1 + (abs(sweep) == 360)
    places = [s.numbers[-2:] for s in full if s.letter != "Z"]
    assert sum(math.hypot(*p) < 1e-9 for p in places) == (abs(sweep) != 360)
    assert len(full) < len(hollow)


def test_areas_of_round_figures():
    """Against the formulas of geometry."""
    assert area(about.arc(30, 20, 90, 90, "pie")) == pytest.approx(math.pi * 600 / 4, rel=1e-4)
    assert area(about.arc(30, 30, 0, 180, "chord")) == pytest.approx(math.pi * 450, rel=1e-4)
    assert area(about.annulus(10, 30, 0, 360)) == pytest.approx(math.pi * 800, rel=1e-4)
    assert area(about.annulus(30, 10, 77, -90)) == pytest.approx(math.pi * 200, rel=1e-4)
    assert area(about.annulus(0, 30, 0, 360)) == pytest.approx(math.pi * 900, rel=1e-4)
    assert area(about.regular_polygon(6, 10, 12)) == pytest.approx(1.5 * math.sqrt(3) * 100)
    assert area(about.star(5, 10, 4, 0)) == pytest.approx(5 * 10 * 4 * math.sin(math.pi / 5))
    hole = Region(about.annulus(10, 30, 0, 360))
    assert not hole.contains(0, 0) and hole.contains(20, 0) and not hole.contains(31, 0)


def test_what_is_larger_than_any_page_is_flattened_more_coarsely():
    """Thousands of curves of millions of px would fall into more edges than there is memory for."""
    pen = PathBuilder()
    pen.move(0, 0)
    for i in range(400):
        pen.cubic(1e8, i, 1e8, -i, 0, i)
    path = pen.path()
    tolerance = affordable(path, 0.004)
    assert count_pieces(path, 0.004) == 800_000 and 50_000 < count_pieces(path, tolerance) <= 200_000
    assert affordable(make.ellipse(500, 300), 0.004) == 0.004
    assert StrokeRegion(path, Pen(10), 0.004).contains(0, 300)


@given(st.floats(0, 360), st.floats(5, 175), st.booleans(), st.floats(0.02, 0.98))
def test_a_round_join_is_a_part_of_a_disc(way, turn, left, share):
    """Whatever directions it lies between: all of its rim is there, and nothing beyond it."""
    a, b = math.radians(way), math.radians(way + (turn if left else -turn))
    spots = [(-80 * math.cos(a), -80 * math.sin(a)), (0, 0), (80 * math.cos(b), 80 * math.sin(b))]
    region = StrokeRegion(make.polyline(spots), Pen(20, "butt", "round"), 0.01)
    outer = -math.pi / 2 if left else math.pi / 2
    rim = a + outer + (b - a) * share
    assert region.contains(9.9 * math.cos(rim), 9.9 * math.sin(rim))
    assert not region.contains(10.1 * math.cos(rim), 10.1 * math.sin(rim))
