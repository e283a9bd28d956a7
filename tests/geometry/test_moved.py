"""What is made of an outline follows it: turned by quarters, mirrored, enlarged and moved before or after, it is the
same. The points lie on a small lattice, so that they often coincide, run straight or turn back."""

import math

import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from chalcedon.geometry import Affine, PathBuilder
from chalcedon.geometry import contours as edit
from chalcedon.geometry.along import Along, area
from chalcedon.geometry.bends import bends_within
from chalcedon.geometry.contours import segments_of
from chalcedon.geometry.crossings import crossings
from chalcedon.geometry.extent import stroke_bounds
from chalcedon.geometry.flatten import count_pieces, edges, flatten
from chalcedon.geometry.freehand import smooth_through
from chalcedon.geometry.heads import with_heads
from chalcedon.geometry.path import Outline as Path
from chalcedon.geometry.path import subpaths
from chalcedon.geometry.pathdata import Segment, outline_of
from chalcedon.geometry.pieces import Pen
from chalcedon.geometry.stroke import StrokeRegion

spots = st.tuples(st.integers(-2, 2), st.integers(-2, 2)).map(lambda p: (8.0 * p[0], 8.0 * p[1]))
exact = st.builds(
    lambda turns, mirrored, scale: Affine.rotate(90 * turns).after(Affine.scale(scale, -scale if mirrored else scale)),
    st.integers(0, 3),
    st.booleans(),
    st.sampled_from([0.5, 1.0, 4.0]),
)
maps = st.builds(lambda m, by: Affine.translate(*by).after(m), exact, st.sampled_from([(0.0, 0.0), (64.0, -32.0)]))


@st.composite
def paths(draw):
    pen = PathBuilder()
    for _ in range(draw(st.integers(1, 2))):
        pen.move(*draw(spots))
        for kind in draw(st.lists(st.sampled_from("LQC"), min_size=0, max_size=4)):
            controls = [v for _ in range("LQC".index(kind) + 1) for v in draw(spots)]
            {"L": pen.line, "Q": pen.quadratic, "C": pen.cubic}[kind](*controls)
        if draw(st.booleans()):
            pen.close()
    return pen.path()


pens = st.builds(
    Pen,
    st.sampled_from([0.0, 1.0, 6.0, 24.0]),
    st.sampled_from(["butt", "round", "square"]),
    st.sampled_from(["miter", "round", "bevel"]),
    st.sampled_from([1.0, 4.0, 30.0]),
    st.sampled_from([(), (), (5.03,), (3.07, 0.0), (0.0, 7.09), (9.03, 2.11, 0.0, 4.07)]),
    st.sampled_from([0.31, 3.13, -4.17]),
)


def larger(pen, by):
    return pen._replace(width=pen.width * by, dash=tuple(d * by for d in pen.dash), dash_offset=pen.dash_offset * by)


def close(one, other, within=1e-6):
    assert one == pytest.approx(other, rel=1e-7, abs=within) and all(map(math.isfinite, one))


@settings(max_examples=150)
@given(paths(), pens, maps)
def test_a_stroke(path, pen, way):
    by = way.stretch
    moved, wide = path.mapped(way), larger(pen, by)
    box, other = stroke_bounds(path, pen, Affine()), stroke_bounds(moved, wide, Affine())  # dashed or not
    if box[0] > box[2]:
        assert other[0] > other[2]
    else:
        close(way.map_box(box), other)
        close(stroke_bounds(path, pen, way), other)  # what is mapped afterwards, and what before
    one, two = StrokeRegion(path, pen, 0.05), StrokeRegion(moved, wide, 0.05 * by)
    outline = one.outline()
    assert all(map(math.isfinite, outline.coords))
    if outline.verbs:
        got = outline.bounds()
        assert way.map_box(got) == pytest.approx(two.outline().bounds(), abs=0.05 * by)
        if not pen.dash:
            assert all(a - 0.11 <= b for a, b in zip(box[:2], got[:2], strict=True)), "twice the tolerance"
            assert all(a + 0.11 >= b for a, b in zip(box[2:], got[2:], strict=True))
        for i in range(40):
            x, y = 17.3 * math.sin(i * 1.7) + 0.123, 17.3 * math.sin(i * 2.9) + 0.217
            assert one.contains(x, y) == two.contains(*way.map(x, y))


@settings(max_examples=150)
@given(paths(), maps, spots)
@example(Path("MC", (0, 0, 0, 0, 0, 0, 8, 0)), Affine(), (8.0, 8.0))
def test_ways_along(path, way, point):
    by = way.stretch
    one, two = Along(path), Along(path.mapped(way))
    assert two.length == pytest.approx(one.length * by, rel=1e-7, abs=1e-9)
    for share in (-1.0, 0.0, 0.25, 0.62, 1.0, 2.0):
        here, there = one.at(share * one.length), two.at(share * two.length)
        if here is None:
            assert there is None and one.nearest(*point) is None
            continue
        close(way.map(here.x, here.y), (there.x, there.y))
        length = math.hypot(*here.tangent)
        assert length == pytest.approx(1.0) or (length == 0.0 and one.length == 0.0)
        if share in (0.25, 0.62) and one.length > 0.0:
            turned = way.map(here.x + here.tangent[0], here.y + here.tangent[1])
            close([(a - b) / by for a, b in zip(turned, (there.x, there.y), strict=True)], there.tangent)
            assert here.normal == (-here.tangent[1], here.tangent[0])
    if one.pieces:
        close([one.nearest(*point)[1] * by], [two.nearest(*way.map(*point))[1]])
        part, other = one.part(0.2 * one.length, 0.7 * one.length), two.part(0.2 * two.length, 0.7 * two.length)
        assert part.verbs == other.verbs
        close(part.mapped(way).coords, other.coords)
        assert Along(part).length == pytest.approx(0.5 * one.length, rel=1e-4, abs=1e-4)


@given(paths(), exact)
def test_areas_edges_and_crossings(path, way):
    by, moved = way.stretch, path.mapped(way)
    turned = math.copysign(1.0, way.a * way.d - way.b * way.c)
    assert area(moved) == pytest.approx(turned * area(path) * by * by, abs=1e-6)
    box = path.bounds()
    close(way.map_box(box), moved.bounds())
    fine, other = flatten(path, 0.05), flatten(moved, 0.05 * by)
    assert [len(f.vertices) for f in fine] == [len(f.vertices) for f in other]
    assert len(edges(fine)) <= count_pieces(path, 0.05) + path.verbs.count("M")  # what has no length is left out
    for a, b in zip(fine, other, strict=True):
        for v, w in zip(a.vertices, b.vertices, strict=True):
            close(way.map(v.x, v.y), (w.x, w.y))
            assert v.corner == w.corner
            for along in (v.arrive, v.leave):
                assert math.hypot(*along) == pytest.approx(1.0) or along == (0.0, 0.0)
    met, again = crossings(path, 0.05), crossings(moved, 0.05 * by)
    close(sorted(v for p in met for v in way.map(*p)), sorted(v for p in again for v in p))


@given(paths(), maps, st.sampled_from([0.5, 2.0, 9.0, 60.0]))
def test_bends(path, way, radius):
    assert bends_within(path, radius) == bends_within(path.mapped(way), radius * way.stretch)
    assert not bends_within(path, radius) or bends_within(path, radius * 1.5), "whoever is wider meets the bend, too"


HEADS = st.sampled_from(["none", "triangle", "barb", "dot", "bar", "diamond"])


@given(paths(), maps, HEADS, HEADS, HEADS, st.sampled_from([0.0, 3.0, 30.0]))
def test_heads(path, way, start, end, mid, length):
    assume(all(Along(sub).length > 0.0 or len(sub.verbs) == 1 for sub in subpaths(path)))
    one = with_heads(path, length, start, end, mid)
    two = with_heads(path.mapped(way), length * way.stretch, start, end, mid)
    assert one.line.verbs == two.line.verbs and one.heads.verbs == two.heads.verbs
    close(one.line.mapped(way).coords, two.line.coords)
    # a head is as good as its mirror image: the points are the same, in another order
    close(sorted(one.heads.mapped(way).coords), sorted(two.heads.coords))


@given(st.lists(spots, min_size=1, max_size=12), st.booleans(), maps)
def test_a_line_by_hand(points, closed, way):
    one = smooth_through(points, 0.5, closed)
    two = smooth_through([way.map(*p) for p in points], 0.5 * way.stretch, closed)
    assert one.verbs == two.verbs
    close(one.mapped(way).coords, two.coords)


@st.composite
def contour(draw):
    knots = draw(st.lists(spots, min_size=1, max_size=5))
    ring = draw(st.booleans())
    segments = [
        Segment(kind, tuple(v for _ in range("LQC".index(kind)) for v in draw(spots)) + end)
        for end in [*knots[1:], *([knots[0]] if ring else [])]
        for kind in [draw(st.sampled_from("LQC"))]
    ]
    return edit.Contour(tuple(knots), tuple(segments), ring)


def carried(c, way):
    return edit.Contour(tuple(way.map(*k) for k in c.knots), tuple(mapped(s, way) for s in c.segments), c.closed)


def mapped(segment, way):
    numbers = segment.numbers
    pairs = [way.map(*numbers[i : i + 2]) for i in range(0, len(numbers), 2)]
    return Segment(segment.letter, tuple(v for p in pairs for v in p))


@settings(max_examples=150)
@given(contour(), contour(), st.integers(0, 4), st.sampled_from([0.25, 0.5]), maps, spots)
def test_edits_of_points(c, other, knot, t, way, to):
    knot %= len(c.knots)
    edits = {
        "moved": lambda c, o, p: [edit.moved(c, knot, p)],
        "control": lambda c, o, p: [edit.with_control(c, knot, True, p, True)] if c.leaving(knot) is not None else [],
        "back": lambda c, o, p: [edit.with_control(c, knot, False, p)] if c.arriving(knot) is not None else [],
        "inserted": lambda c, o, p: [edit.inserted(c, knot % len(c.segments), t)] if c.segments else [],
        "deleted": lambda c, o, p: [d for d in [edit.deleted(c, knot)] if d is not None],
        "smoothed": lambda c, o, p: [edit.smoothed(c, knot)],
        "cornered": lambda c, o, p: [edit.cornered(c, knot)],
        "split": lambda c, o, p: edit.split(c, knot),
        "reversed": lambda c, o, p: [edit.reversed_(c)],
        "joined": lambda c, o, p: [edit.joined(c, o)] if not (c.closed or o.closed) else [],
        "closed": lambda c, o, p: [edit.closed(c)] if not c.closed else [],
    }
    for name, made in edits.items():
        one = outline_of([mapped(s, way) for s in segments_of(made(c, other, to))])
        two = outline_of(segments_of(made(carried(c, way), carried(other, way), way.map(*to))))
        assert one.verbs == two.verbs, name
        close(one.coords, two.coords, 0.01 if name == "deleted" else 1e-6)  # a curve is fitted
    assert edit.is_smooth(c, knot) == edit.is_smooth(carried(c, way), knot)
