"""Lining up: edges, gaps, sizes and places are where they were asked to be, whatever the transforms."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import leaves

from chalcedon.craft.align import (
    EDGES,
    align,
    anchor_point,
    copies_at_corners,
    corners_of,
    distribute,
    equal_size,
    match_position,
)
from chalcedon.evaluate import DisplayList
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Ellipse, Group, Line, Path, Polyline, Rect, RegularPolygon, Scene, Star, Text


def boxes(display, shapes):
    display.update()
    return [display.node(s).bounds() for s in shapes]


def place(box, edge):
    axis, fraction = EDGES[edge]
    return box[axis] + (box[axis + 2] - box[axis]) * fraction


@settings(max_examples=60)
@given(st.lists(leaves, min_size=2, max_size=4), st.sampled_from(sorted(EDGES)))
def test_edges_meet_and_the_last_shape_stays(shapes, edge):
    group = Group(children=shapes[:1], at=(7, -3), steps=[{"rotate": 25}, {"scale": [1.5, 0.7]}])
    scene = Scene([group, *shapes[1:]])
    display = DisplayList(scene)
    before = boxes(display, shapes)
    align(display, shapes, edge)
    after = boxes(display, shapes)
    assert after[-1] == pytest.approx(before[-1])
    assert all(place(b, edge) == pytest.approx(place(after[-1], edge), abs=0.01) for b in after)
    for b, a in zip(before, after, strict=True):
        assert (a[2] - a[0], a[3] - a[1]) == pytest.approx((b[2] - b[0], b[3] - b[1]), abs=0.01)
    if scene.undo_name:
        scene.undo()
        assert boxes(display, shapes) == [pytest.approx(b) for b in before]


def test_one_shape_is_aligned_to_the_page_and_any_to_what_is_named():
    scene = Scene(
        [Rect(id="a", at=(5, 5), size=(100, 50)), Rect(id="b", at=(300, 100), size=(20, 20))], size=(800, 600)
    )
    display = DisplayList(scene)
    assert align(display, [scene["a"]], "center") and scene["a"].at == (350, 5)
    assert align(display, [scene["a"]], "bottom", scene["b"]) and scene["a"].at == (350, 70)
    assert not align(display, [scene["a"]], "bottom", scene["b"])
    with pytest.raises(ChalcedonError, match="Did you mean middle"):
        align(display, [scene["a"]], "midle")
    with pytest.raises(ChalcedonError, match="empty"):
        align(display, [scene.add(Group(id="none"))], "left")


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.integers(0, 400), st.integers(1, 60)), min_size=3, max_size=6, unique_by=lambda t: t[0]),
    st.sampled_from("xy"),
)
def test_gaps_and_steps_are_even_and_the_outer_two_stay(spans, axis):
    i = "xy".index(axis)
    made = [Rect(at=(s, 0) if i == 0 else (0, s), size=(n, 9) if i == 0 else (9, n)) for s, n in spans]
    for by, key in (("gaps", None), ("centers", 0.5)):
        shapes = [s.copy() for s in made]
        scene = Scene(shapes)
        display = DisplayList(scene)
        order = sorted(shapes, key=lambda s: 2 * s.at[i] + s.size[i])
        first, *_, last = boxes(display, order)
        distribute(display, shapes, axis, by)
        after = boxes(display, order)
        assert after[0] == pytest.approx(first, abs=0.001) and after[-1] == pytest.approx(last, abs=0.001)
        ends = [(b[i], b[i + 2]) for b in after]
        if key is None:
            steps = [b[0] - a[1] for a, b in itertools.pairwise(ends)]
        else:
            steps = [(b[0] + b[1] - a[0] - a[1]) / 2 for a, b in itertools.pairwise(ends)]
        assert max(steps) - min(steps) < 0.01


def test_a_gap_can_be_given():
    scene = Scene([Rect(at=(x, 0), size=(10, 10)) for x in (0, 100, 37)])
    distribute(DisplayList(scene), scene.shapes, "x", gap=5)
    assert sorted(s.at[0] for s in scene.shapes) == [0, 15, 30]
    with pytest.raises(ChalcedonError, match="3 shapes"):
        distribute(DisplayList(scene), scene.shapes[:2], "x")


SIZED = [
    Line(to=(30, 10)),
    Polyline(points=[(0, 0), (30, 5), (10, 20)], closed=True),
    Path(data="M0 0 C10 -30 30 10 40 0 A10 5 0 0 1 20 20 Z"),
    Rect(size=(30, 20)),
    Ellipse(radii=(30, 20)),
]


@pytest.mark.parametrize("shape", SIZED, ids=lambda s: s.kind)
def test_equal_size_stretches_about_the_middle(shape):
    shape = shape.copy()
    shape.at = (50, 60)
    model = Rect(id="model", at=(300, 300), size=(90, 70))
    scene = Scene([shape, model])
    display = DisplayList(scene)
    (before, _) = boxes(display, [shape, model])
    equal_size(display, [shape, model])
    (after, _) = boxes(display, [shape, model])
    assert (after[2] - after[0], after[3] - after[1]) == pytest.approx((90, 70), abs=0.05)
    assert place(after, "center") == pytest.approx(place(before, "center"), abs=0.05)
    assert place(after, "middle") == pytest.approx(place(before, "middle"), abs=0.05)


@pytest.mark.parametrize("shape", [Circle(radius=9), RegularPolygon(radius=9), Star(outer=9), Text(content="Quay")])
def test_round_ones_keep_their_proportions(shape):
    shape = shape.copy()
    model = Rect(at=(300, 300), size=(90, 70))
    display = DisplayList(Scene([shape, model]))
    ((x0, y0, x1, y1), _) = boxes(display, [shape, model])
    equal_size(display, [shape, model], "width")
    ((u0, v0, u1, v1), _) = boxes(display, [shape, model])
    assert u1 - u0 == pytest.approx(90, abs=0.5)
    assert (u1 - u0) / (x1 - x0) == pytest.approx((v1 - v0) / (y1 - y0), rel=0.01)


def test_a_turned_shape_and_a_group_have_no_size_to_set():
    model = Rect(id="m", size=(90, 70))
    turned = Rect(id="t", steps=[{"rotate": 10}])
    group = Group(id="g", children=[Rect()])
    scene = Scene([turned, group, model])
    for shape, words in ((turned, "turned"), (group, "no size")):
        with pytest.raises(ChalcedonError, match=words):
            equal_size(DisplayList(scene), [shape, model])
    assert scene.undo_name == ""


def test_places_match_through_groups():
    inner = Circle(id="inner", at=(3, 4))
    scene = Scene([Group(at=(50, 60), steps=[{"rotate": 40}], children=[inner]), Rect(id="r", at=(200, 100))])
    display = DisplayList(scene)
    assert match_position(display, [inner, scene["r"]])
    display.update()
    assert anchor_point(display.node(inner)) == pytest.approx((200, 100), abs=0.01)


def test_a_copy_stands_at_every_corner():
    scene = Scene([Circle(id="dot", at=(9, 9), radius=2), RegularPolygon(id="six", at=(100, 100), sides=6, radius=50)])
    display = DisplayList(scene)
    spots = corners_of(display.node(scene["six"]))
    copies = copies_at_corners(display, scene["dot"], scene["six"])
    assert len(spots) == len(copies) == 6
    assert [c.at for c in copies] == [pytest.approx(s, abs=0.001) for s in spots]
    assert len({c.id for c in copies}) == 6 and scene["dot"].at == (9, 9)
    with pytest.raises(ChalcedonError, match="its own corners"):
        copies_at_corners(display, scene["dot"], scene["dot"])


def test_formulas_follow_and_what_holds_one_is_not_overwritten():
    scene = Scene([Rect(id="a", at=({"formula": "sea.at.x", "last": 5}, 0)), Rect(id="b", at=(100, 0), size=(50, 50))])
    display = DisplayList(scene)
    align(display, scene.shapes, "left")
    assert scene["a"].stated("at")[0].last == 100 and "+ 95" in scene["a"].stated("at")[0].text
    scene["a"].size = ({"formula": "9", "last": 9}, 9)
    with pytest.raises(ChalcedonError, match="formula"):
        equal_size(display, scene.shapes)
