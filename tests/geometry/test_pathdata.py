"""Path data against the grammar of SVG 2, Qt's own arcs, and itself."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainterPath

from chalcedon.geometry.along import Along
from chalcedon.geometry.flatten import edges, flatten
from chalcedon.geometry.pathdata import Segment, arc_centre, outline_of, parse_path, print_path
from chalcedon.geometry.round import point_at

number = st.floats(-500, 500).map(lambda v: round(v, 3))
flag = st.sampled_from([0.0, 1.0])
segment = st.one_of(
    st.tuples(number, number).map(lambda n: Segment("L", n)),
    st.tuples(number, number).map(lambda n: Segment("M", n)),
    st.tuples(*[number] * 4).map(lambda n: Segment("Q", n)),
    st.tuples(*[number] * 6).map(lambda n: Segment("C", n)),
    st.tuples(number.map(abs), number.map(abs), number, flag, flag, number, number).map(lambda n: Segment("A", n)),
)


@given(st.tuples(number, number), st.lists(segment, max_size=8))
def test_printed_path_data_reads_as_the_same_segments(start, rest):
    segments = (Segment("M", start), *rest)
    parsed = parse_path(print_path(segments))
    assert parsed.error == "" and parsed.segments == segments


@pytest.mark.parametrize(
    ("loose", "strict"),
    [
        ("m10,20 30 40-5-5", "M10 20 L40 60 L35 55"),
        ("M1 2h3v4H-5V6z", "M1 2 L4 2 L4 6 L-5 6 L-5 6 Z"),
        ("M0 0c1 2 3 4 5 6s7 8 9 10", "M0 0 C1 2 3 4 5 6 C7 8 12 14 14 16"),
        ("M0 0s7 8 9 10", "M0 0 C0 0 7 8 9 10"),
        ("M0 0q1 2 3 4t5 6 7 8", "M0 0 Q1 2 3 4 Q5 6 8 10 Q11 14 15 18"),
        ("M0 0t5 6", "M0 0 Q0 0 5 6"),
        ("M0 0a5 5 0 0110 0", "M0 0 A5 5 0 0 1 10 0"),
        ("M.5.5-.5e1+1", "M0.5 0.5 L-5 1"),
        ("M1 1zl2 2", "M1 1 Z M1 1 L3 3"),
        ("  ", ""),
    ],
)
def test_short_forms_come_to_absolute_segments(loose, strict):
    parsed = parse_path(loose)
    assert parsed.error == ""
    assert print_path(parsed.segments) == strict


@pytest.mark.parametrize(
    ("text", "position", "words", "kept"),
    [
        ("L1 1", 0, "begins with M", 0),
        ("M0 0 L10", 8, "number 2 is missing", 1),
        ("M0 0 L10 10 20", 14, "number 2 is missing", 2),
        ("M0 0 X5 5", 5, "not a command", 1),
        ("M0 0 L1 1, ", 11, "after the comma", 2),
        ("M0 0 A5 5 0 2 0 1 1", 12, "flag of an arc", 1),
        ("M0 0 L1e99 0", 6, "too large", 1),
        ("M0 0 L1 1 5 nonsense", 12, "number 2 is missing", 2),
    ],
)
def test_an_error_is_placed_and_what_precedes_it_is_kept(text, position, words, kept):
    parsed = parse_path(text)
    assert words in parsed.error
    assert parsed.position == position
    assert len(parsed.segments) == kept


@given(st.text(alphabet="MmLlHhVvCcSsQqTtAaZz0123456789.,-+e \n#", max_size=40))
def test_whatever_is_read_prints_and_reads_again(text):
    parsed = parse_path(text)
    assert parse_path(print_path(parsed.segments)).segments == parsed.segments
    assert bool(parsed.error) or parsed.position == 0
    outline_of(parsed.segments)


@settings(max_examples=200)
@given(
    st.floats(5, 200),
    st.floats(5, 200),
    st.floats(0, 360),
    st.floats(-350, 350).filter(lambda v: abs(v) > 5),
)
def test_arcs_are_those_of_qt(rx, ry, start, sweep):
    theirs = QPainterPath()
    theirs.arcMoveTo(QRectF(-rx, -ry, 2 * rx, 2 * ry), -start)
    theirs.arcTo(QRectF(-rx, -ry, 2 * rx, 2 * ry), -start, -sweep)
    first, last = (point_at(rx, ry, a) for a in (start, start + sweep))
    large, positive = float(abs(sweep) > 180), float(sweep > 0)
    n = (rx, ry, 0.0, large, positive, *last)
    middle = arc_centre(*first, n)
    assert (middle.cx, middle.cy) == pytest.approx((0, 0), abs=1e-4 * max(rx, ry))
    assert middle.sweep == pytest.approx(sweep, abs=1e-4)
    ours = Along(outline_of([Segment("M", first), Segment("A", n)]))
    for k in range(11):
        spot = theirs.pointAtPercent(k / 10)
        _, away = ours.nearest(spot.x(), spot.y())
        assert away < 2e-3 * max(rx, ry)


def test_radii_too_small_grow_and_flat_arcs_are_lines():
    grown = arc_centre(0, 0, (1, 1, 0, 0, 1, 10, 0))
    assert (grown.rx, grown.ry, grown.cx, grown.cy) == pytest.approx((5, 5, 5, 0))
    assert outline_of([Segment("M", (0, 0)), Segment("A", (0, 5, 0, 0, 1, 10, 0))]).verbs == "ML"


@given(st.floats(0, 90), st.floats(1, 100))
def test_a_turned_half_ellipse_keeps_its_length(turn, rx):
    straight = Along(outline_of(parse_path(f"M0 0 A{rx} 20 0 0 1 {2 * rx} 0").segments)).length
    x, y = 2 * rx * math.cos(math.radians(turn)), 2 * rx * math.sin(math.radians(turn))
    turned = Along(outline_of(parse_path(f"M0 0 A{rx} 20 {turn} 0 1 {x!r} {y!r}").segments)).length
    assert turned == pytest.approx(straight, rel=1e-4)


def test_edges_of_a_closed_path_come_back_to_the_start():
    lines = edges(flatten(outline_of(parse_path("M0 0 L10 0 L10 10 Z M20 20 L30 20").segments), 0.1))
    assert (10, 10, 0, 0) in lines and (30, 20, 20, 20) not in lines


@given(st.lists(st.tuples(*[st.integers(-5000, 5000).map(lambda v: v / 100)] * 2), min_size=1, max_size=9))
def test_relative_commands_come_back_to_where_they_began(ways):
    """Sums of decimals are off by rounding: an edge of that length would join its neighbours at any angle."""
    back = [-sum(round(100 * w[i]) for w in ways) / 100 for i in (0, 1)]
    said = parse_path("M0.1 0.7 " + "".join(f"l{x} {y}" for x, y in [*ways, back]) + "z").segments
    assert said[-2].numbers == (0.1, 0.7) and said[-1].letter == "Z"
    assert all(v == round(v, 2) for s in said for v in s.numbers)
