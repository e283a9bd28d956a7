"""Points of a path one by one: what an edit must leave alone, it leaves alone."""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from chalcedon.geometry import contours as edit
from chalcedon.geometry.along import Along, area
from chalcedon.geometry.contours import Contour, contours_of, segments_of
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.geometry.pathdata import Segment, outline_of, parse_path, print_path

number = st.floats(-100, 100).map(lambda v: round(v, 2))
spot = st.tuples(number, number)


@st.composite
def contours(draw, closed=None, least=2):
    knots = draw(st.lists(spot, min_size=least, max_size=6, unique=True))
    ring = draw(st.booleans()) if closed is None else closed
    segments = []
    for end in [*knots[1:], *([knots[0]] if ring else [])]:
        kind = draw(st.sampled_from("LQCA"))
        if kind == "A":
            radii = draw(st.tuples(st.floats(1, 90), st.floats(1, 90)))
            flags = draw(st.tuples(st.sampled_from([0.0, 1.0]), st.sampled_from([0.0, 1.0])))
            segments.append(Segment("A", (*radii, draw(number), *flags, *end)))
        else:
            controls = [v for _ in range("LQC".index(kind)) for v in draw(spot)]
            segments.append(Segment(kind, (*controls, *end)))
    return Contour(tuple(knots), tuple(segments), ring)


def outline(*many):
    return outline_of(segments_of(many))


def lines(*many):
    return edges(flatten(outline(*many), 0.01))


def same_line(one, two, within=0.05):
    return all(distance_to_edges(b, x, y) < within for a, b in ((one, two), (two, one)) for x, y, *_ in a)


@given(st.lists(contours(), min_size=1, max_size=3))
def test_contours_are_the_path_that_they_were_read_from(many):
    data = print_path(segments_of(many))
    again = contours_of(parse_path(data).segments)
    assert print_path(segments_of(again)) == data
    assert [c.closed for c in again] == [c.closed for c in many]
    assert [c.knots for c in again] == [c.knots for c in many]


@settings(max_examples=40)
@given(contours(), st.data(), st.floats(0.05, 0.95))
def test_a_knot_more_leaves_the_outline_as_it_is(contour, data, t):
    segment = data.draw(st.integers(0, len(contour.segments) - 1))
    more = edit.inserted(contour, segment, t)
    assert len(more.knots) == len(contour.knots) + 1 and more.closed == contour.closed
    assert [s.letter for s in more.segments[segment : segment + 2]] == [contour.segments[segment].letter] * 2 or (
        contour.segments[segment].letter == "A"  # a flat arc is a line
    )
    assert same_line(lines(contour), lines(more))


@given(contours(), st.data(), spot)
def test_moving_a_knot_leaves_the_others_and_carries_its_controls(contour, data, to):
    knot = data.draw(st.integers(0, len(contour.knots) - 1))
    moved = edit.moved(contour, knot, to)
    assert moved.knots[knot] == to
    assert [k for i, k in enumerate(moved.knots) if i != knot] == [k for i, k in enumerate(contour.knots) if i != knot]
    for before, after, letter in zip(
        contour.controls(knot),
        moved.controls(knot),
        [s and contour.segments[s].letter for s in (contour.arriving(knot), contour.leaving(knot))],
        strict=True,
    ):
        if before is not None and letter == "C":
            old, new = contour.knots[knot], to
            assert (after[0] - new[0], after[1] - new[1]) == pytest.approx((before[0] - old[0], before[1] - old[1]))


@given(contours(least=3), st.data())
def test_a_smoothed_knot_has_no_corner_and_a_cornered_one_no_controls(contour, data):
    knot = data.draw(st.integers(0, len(contour.knots) - 1))
    assume(contour.arriving(knot) is not None and contour.leaving(knot) is not None)
    smooth = edit.smoothed(contour, knot)
    assert smooth.knots == contour.knots
    one, two = smooth.controls(knot)
    if one is not None and two is not None and one != contour.knots[knot] != two:
        assert edit.is_smooth(smooth, knot)
    sharp = edit.cornered(smooth, knot)
    assert sharp.knots == contour.knots
    assert all(c in (None, contour.knots[knot]) for c in sharp.controls(knot))


@given(contours(), st.data())
def test_a_deleted_knot_is_gone_and_the_rest_is_where_it_was(contour, data):
    knot = data.draw(st.integers(0, len(contour.knots) - 1))
    less = edit.deleted(contour, knot)
    assert less is not None
    assert less.knots == contour.knots[:knot] + contour.knots[knot + 1 :]
    assert all(s.end == less.end_of(i) for i, s in enumerate(less.segments))


def test_a_knot_in_the_middle_of_a_curve_can_be_taken_out_again():
    curve = contours_of(parse_path("M0 0 C20 60 80 60 100 0").segments)[0]
    back = edit.deleted(edit.inserted(curve, 0, 0.4), 1)
    assert back.segments[0].letter == "C"
    assert back.segments[0].numbers == pytest.approx(curve.segments[0].numbers, abs=0.5)


@settings(max_examples=40)
@given(contours(), st.data())
def test_splitting_opens_or_parts_without_a_change_of_the_line(contour, data):
    knot = data.draw(st.integers(0, len(contour.knots) - 1))
    parts = edit.split(contour, knot)
    assert not any(p.closed for p in parts)
    assert same_line(lines(contour), lines(*parts))
    if contour.closed:
        assert len(parts) == 1 and parts[0].knots[0] == parts[0].knots[-1] == contour.knots[knot]
    elif 0 < knot < len(contour.knots) - 1:
        assert len(parts) == 2 and parts[0].knots[-1] == parts[1].knots[0] == contour.knots[knot]


@settings(max_examples=40)
@given(contours())
def test_reversing_twice_is_nothing_and_once_turns_the_area_round(contour):
    back = edit.reversed_(contour)
    assert same_line(lines(contour), lines(back))
    assert area(outline(back)) == pytest.approx(-area(outline(contour)), rel=1e-6, abs=1e-3)
    assert edit.reversed_(back) == contour
    if contour.closed:
        assert back.knots[0] == contour.knots[0]


@given(contours(closed=False))
def test_closing_adds_a_line_or_makes_near_ends_one(contour):
    shut = edit.closed(contour)
    assert shut.closed and edit.closed(shut) == shut
    assert shut.knots == contour.knots
    if len(contour.knots) > 2:
        near = edit.closed(contour, math.dist(contour.knots[0], contour.knots[-1]) + 1)
        assert near.closed and len(near.knots) == len(contour.knots) - 1
        assert near.end_of(len(near.segments) - 1) == contour.knots[0]


@settings(max_examples=60)
@given(contours(closed=False), contours(closed=False))
def test_joining_keeps_both_lines_and_bridges_the_nearest_ends(one, two):
    assume(not {one.knots[0], one.knots[-1]} & {two.knots[0], two.knots[-1]})
    both = edit.joined(one, two)
    assert not both.closed and len(both.knots) == len(one.knots) + len(two.knots)
    bridge = min(math.dist(p, q) for p in (one.knots[0], one.knots[-1]) for q in (two.knots[0], two.knots[-1]))
    length = Along(outline(one)).length + Along(outline(two)).length
    assert Along(outline(both)).length == pytest.approx(length + bridge, rel=1e-5, abs=1e-3)
    joined = edit.joined(one, two, within=bridge + 1e-6)
    assert len(joined.knots) == len(both.knots) - 1


def test_dragging_a_control_turns_the_one_across_when_asked():
    curve = contours_of(parse_path("M0 0 C0 30 20 50 50 50 C80 50 100 30 100 0").segments)[0]
    assert edit.is_smooth(curve, 1)
    bent = edit.with_control(curve, 1, True, (50, 80), mirrored=True)
    one, two = bent.controls(1)
    assert two == (50, 80) and one == pytest.approx((50, 20))
    alone = edit.with_control(curve, 1, True, (50, 80))
    assert alone.controls(1)[0] == (20, 50) and not edit.is_smooth(alone, 1)
    line = contours_of(parse_path("M0 0 L50 50 L100 0").segments)[0]
    assert edit.with_control(line, 1, True, (70, 70)).segments[1].letter == "C"
