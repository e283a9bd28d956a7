"""Snapping: only to what is there, only within reach, to the nearest."""

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.craft import snap
from chalcedon.craft.snap import Snapper
from chalcedon.evaluate import DisplayList
from chalcedon.scene import Annulus, Circle, Ellipse, Polyline, Rect, RegularPolygon, Scene, Star

place = st.integers(0, 400)
boxes = st.lists(
    st.tuples(place, place, st.integers(1, 90), st.integers(1, 90), st.sampled_from([0, 30])), min_size=1, max_size=8
)


def scene_of(rects):
    return Scene(
        [
            Rect(id=f"r{i}", at=(x, y), size=(w, h), steps=[{"rotate": a}] if a else [])
            for i, (x, y, w, h, a) in enumerate(rects)
        ],
        size=(500, 500),
    )


def lines_of(display, axis):
    """Every place on an axis where something of a scene begins, has its middle or ends; found anew, one by one."""
    out = [0, 250, 500]
    for node in display.order:
        points = [node.world.map(x, y) for x in (node.box[0], node.box[2]) for y in (node.box[1], node.box[3])]
        low, high = min(p[axis] for p in points), max(p[axis] for p in points)
        out += [low, (low + high) / 2, high]
    return out


@given(boxes, st.floats(0, 500), st.floats(0, 500), st.floats(0.5, 12))
def test_a_point_goes_to_the_nearest_of_what_is_there(rects, x, y, reach):
    display = DisplayList(scene_of(rects))
    found = Snapper(display).point(x, y, reach)
    assert abs(found.dx) <= reach + 1e-9 and abs(found.dy) <= reach + 1e-9
    assert bool(found.marks) == (found.x or found.y)
    if found.x and found.y and len(found.marks) == 1:
        return  # a point of a shape or of its outline
    if any("steps" in m.words for m in found.marks):
        return  # told of below
    for axis, at, off, snapped in ((0, x, found.dx, found.x), (1, y, found.dy, found.y)):
        away = min(abs(line - at) for line in lines_of(display, axis))
        assert snapped == (away <= reach + 1e-9) or math.isclose(away, reach, abs_tol=1e-6)
        assert off == 0 if not snapped else abs(abs(off) - away) < 1e-6


@given(boxes, st.tuples(place, place, st.integers(1, 80), st.integers(1, 80)), st.floats(0.5, 12))
def test_a_moved_box_lines_up_or_has_equal_gaps(rects, moved, reach):
    display = DisplayList(scene_of(rects))
    x, y, w, h = moved
    box = (x, y, x + w, y + h)
    found = Snapper(display).box(box, reach)
    assert abs(found.dx) <= reach and abs(found.dy) <= reach
    for axis, off, snapped in ((0, found.dx, found.x), (1, found.dy, found.y)):
        if not snapped:
            assert off == 0
            continue
        mark = next(m for m in found.marks if ("gaps" in m.words) or (m.lines[0][0][axis] == m.lines[0][1][axis]))
        if "gaps" not in mark.words:
            now = [box[axis] + off, (box[axis] + box[axis + 2]) / 2 + off, box[axis + 2] + off]
            lines = lines_of(display, axis)
            assert min(abs(a - b) for a in now for b in lines) < 1e-6


def test_points_centres_outlines_and_words():
    scene = Scene(
        [
            Circle(id="moon", at=(100, 100), radius=40),
            Polyline(id="sail", at=(200, 200), points=[(0, 0), (60, 0), (0, -90)], closed=True),
            Rect(id="crate", at=(300, 40), size=(100, 50)),
        ],
        size=(500, 400),
    )
    snap = Snapper(DisplayList(scene))

    def words(x, y, **how):
        found = snap.point(x, y, 5, **how)
        return [m.words for m in found.marks], (x + found.dx, y + found.dy)

    assert words(98, 103) == (["centre of moon"], (100, 100))
    assert words(262, 199) == (["point of sail"], (260, 200))
    assert words(302, 91) == (["corner of crate"], (300, 90))
    assert words(498, 2) == (["corner of the page"], (500, 0))
    told, (x, y) = words(100 + 29, 100 + 29)
    assert told == ["on moon"] and math.hypot(x - 100, y - 100) == pytest.approx(40, abs=0.02)
    told, at = words(302, 300)
    assert told == ["left of crate"] and at == (300, 300)
    assert words(430, 330)[0] == []
    assert words(118, 287, fixed=(20, 280)) == (["as wide as crate, 100"], (120, 287))
    told, at = words(50, 330, fixed=(20, 300), radial=True)
    assert told == ["as large as moon, radius 40"] and at == pytest.approx([20 + 800**0.5, 300 + 800**0.5])


def test_of_what_is_equally_near_the_page_is_told_then_places_then_sizes():
    scene = Scene(
        [
            Rect(id="quay", at=(0, 200), size=(100, 50)),
            Rect(id="crate", at=(300, 300), size=(60, 60)),
            Rect(id="far", at=(420, 20), size=(40, 30)),
        ],
        size=(500, 400),
    )
    snap = Snapper(DisplayList(scene))
    assert [m.words for m in snap.box((2, 70, 32, 140), 5).marks] == ["left of the page"], "quay begins there as well"
    # 100 px wide from 320 on is where far begins, and as wide as quay
    assert [m.words for m in snap.point(422, 150, 5, fixed=(320, 120)).marks][:1] == ["left of far"]
    assert [m.words for m in snap.point(142, 150, 5, fixed=(40, 120)).marks][:1] == ["as wide as quay, 100"]


@pytest.mark.parametrize(
    "shape",
    [
        Circle(radius=30),
        Star(outer=30, inner=10),
        Annulus(outer=30, inner=10),
        RegularPolygon(radius=30),
        Circle(radius=15, steps=[{"scale": 2}]),
        Star(outer=15, inner=5, steps=[{"scale": 2}, {"rotate": 20}]),
    ],
    ids=lambda s: s.kind,
)
def test_a_radius_snaps_to_that_of_every_round_kind(shape):
    shape = shape.copy()
    shape.id, shape.at = "it", (300, 300)
    scene = Scene([shape, Rect(id="box", at=(200, 20), size=(60, 60))], size=(500, 400))
    snap = Snapper(DisplayList(scene))
    found = snap.point(100 + 28, 100, 5, fixed=(100, 100), radial=True)
    assert [m.words for m in found.marks] == ["as large as it, radius 30"] and found.dx == pytest.approx(2)
    assert not snap.point(100 + 40, 100, 5, fixed=(100, 100), radial=True).marks


def test_equal_gaps_between_and_beyond():
    scene = Scene(
        [Rect(id="a", at=(0, 100), size=(50, 40)), Rect(id="b", at=(110, 100), size=(50, 40))], size=(900, 900)
    )
    snap = Snapper(DisplayList(scene))
    found = snap.box((63, 111, 93, 131), 6)
    assert found.dx == 2 and "equal gaps, 15" in found.marks[0].words, "in the middle between them"
    assert found.marks[0].lines == (((50, 121), (65, 121)), ((95, 121), (110, 121))), "through the middle of the box"
    found = snap.box((222, 107, 300, 127), 6)
    assert found.dx == -2 and "equal gaps, 60: a, b" in found.marks[0].words
    assert len(found.marks[0].lines) == 2
    assert not snap.box((222, 300, 300, 333), 6).marks, "not beside them"


def test_equal_steps_of_centres():
    pair = [Circle(id="a", at=(100, 300), radius=20), Circle(id="b", at=(180, 300), radius=30)]
    snap = Snapper(DisplayList(Scene(pair, size=(1000, 1000))))
    for x, there, step in ((262, 260, 80), (21, 20, 80), (142, 140, 40)):
        found = snap.point(x, 303, 5)
        assert (x + found.dx, 303 + found.dy) == (there, 300)
        assert f"equal steps, {step}: a, b" in found.marks[0].words and len(found.marks[0].lines) == 2
    assert not snap.point(262, 330, 5).x
    pair = [s.copy() for s in pair]
    snap = Snapper(DisplayList(Scene([*pair, Rect(id="c", at=(263, 10), size=(99, 7))], size=(1000, 1000))))
    assert snap.point(262, 303, 5).dx == 1 and snap.point(261, 303, 5).dx == -1, "whichever is nearer"


def test_guides_come_first_and_the_grid_last():
    scene = Scene([Rect(id="a", at=(100, 100), size=(50, 40))], size=(400, 400))
    display = DisplayList(scene)
    snap = Snapper(display, guides=((102,), ()), grid=20)
    assert [m.words for m in snap.point(102, 300, 3).marks] == ["guide at 102"]
    found = snap.point(241, 258, 4)
    assert (found.dx, found.dy) == (-1, 2) and found.marks[0].words == "grid"
    assert [m.words for m in Snapper(display, guides=((20,), (30,))).point(22, 31, 4).marks] == ["where guides cross"]


def test_what_is_moved_is_not_snapped_to_nor_what_is_hidden():
    scene = Scene([Star(id="a", at=(100, 100)), Ellipse(id="b", at=(300, 300), visible=False)], size=(1000, 1000))
    display = DisplayList(scene)
    assert Snapper(display).point(101, 101, 4).marks
    assert not Snapper(display, [display.node(scene["a"])]).point(101, 101, 4).marks
    assert not Snapper(display).point(301, 301, 4).marks


def test_among_very_many_the_same_is_found_as_among_all(monkeypatch):
    """Only those around are looked at until the box has gone too far."""
    chance = random.Random(5)
    shapes = [Rect(at=(chance.uniform(0, 900), chance.uniform(0, 600)), size=(7, 5)) for _ in range(600)]
    display = DisplayList(Scene(shapes, size=(900, 600)))
    whole = Snapper(display)
    monkeypatch.setattr(snap, "AROUND", 90)
    some = Snapper(display)
    looks = []
    look = some._look_around
    monkeypatch.setattr(some, "_look_around", lambda box: looks.append(box) or look(box))
    x, y = 100.0, 80.0
    for i in range(300):
        x, y = (chance.uniform(0, 900), chance.uniform(0, 600)) if i % 60 == 0 else (x + 2.5, y + chance.uniform(-1, 2))
        assert some.box((x, y, x + 9, y + 6), 6.0) == whole.box((x, y, x + 9, y + 6), 6.0)
        assert some.point(x, y, 6.0) == whole.point(x, y, 6.0)
    assert 5 <= len(looks) < 300


def test_a_page_of_one_px_and_none_at_all():
    tiny = Snapper(DisplayList(Scene(size=(1, 1))))
    found = tiny.point(0.6, 0.6, 7)
    assert (0.6 + found.dx, 0.6 + found.dy) == (0.5, 0.5)
    assert Snapper(DisplayList(Scene(size=(9, 9)))).box((100, 100, 120, 120), 5).marks == ()


SWAPPED = {"left": "top", "top": "left", "right": "bottom", "bottom": "right", "wide": "tall", "tall": "wide"}
MIRRORED = {"left": "right", "right": "left"}
WIDTH, HEIGHT = 500, 470


def swapped(x, y):
    return y, x


def mirrored(x, y):
    return WIDTH - x, y


def drawn(many, guides, grid, way):
    """A snapper on shapes whose corners are mapped."""
    shapes = []
    for i, (kind, x, y, w, h) in enumerate(many):
        if kind == "circle":
            shapes.append(Circle(id=f"s{i}", at=way(x, y), radius=w / 2))
            continue
        corners = ((x, y), (x + w, y), (x + w, y + h), (x, y + h)) if kind == "rect" else ((x, y), (x + w, y + h / 3))
        corners = corners if kind == "rect" else (*corners, (x + w / 4, y + h))
        shapes.append(Polyline(id=f"s{i}", points=[way(*p) for p in corners], closed=True))
    size = (HEIGHT, WIDTH) if way is swapped else (WIDTH, HEIGHT)
    across, down = guides[::-1] if way is swapped else guides
    guides = ([WIDTH - x for x in across] if way is mirrored else across), down
    return Snapper(DisplayList(Scene(shapes, size=size)), guides=guides, grid=grid)


def told(mark, words):
    """The words of a mark as they are on the mapped page: those of two shapes in any order, guides without a number."""
    said = [words.get(word, word) for word in mark.words.split()]
    if said[0] == "guide":
        return ["guide"]
    return said[:-2] + sorted(v.strip(",") for v in said[-2:]) if said[0] == "equal" else said


@pytest.mark.parametrize(("way", "words"), [(swapped, SWAPPED), (mirrored, MIRRORED)])
@pytest.mark.parametrize("seed", range(80))
def test_all_sides_are_treated_alike(seed, way, words):
    """A page whose axes have changed places, or in a mirror, snaps as the page does; but the grid, to which the left
    and top of a box snap. Nearly on a lattice, so that there is much to line up with, and never two things at the same
    distance."""
    chance = random.Random(seed)

    def about(step, most):
        return step * chance.randint(1, most) + chance.uniform(-2, 2)

    kinds = [chance.choice(["rect", "circle", "sail"]) for _ in range(chance.randint(1, 7))]
    many = [(kind, about(20, 20), about(20, 20), about(10, 8), about(10, 8)) for kind in kinds]
    guides = [[about(20, 20)] * chance.randint(0, 1) for _ in "xy"]
    grid, radial, fixed = (
        chance.choice([None, 20]) if way is swapped else None,
        chance.random() < 0.5,
        (about(20, 20), about(20, 20)),
    )
    x, y, w, h = about(20, 20), about(20, 20), about(10, 8), about(10, 8)
    one, two = drawn(many, guides, grid, lambda x, y: (x, y)), drawn(many, guides, grid, way)
    corners = way(x, y), way(x + w, y + h)
    box = *map(min, *corners), *map(max, *corners)
    cases = [
        (one.box((x, y, x + w, y + h), 7), two.box(box, 7)),
        (one.point(x, y, 7), two.point(*way(x, y), 7)),
        (one.point(x, y, 7, fixed, radial), two.point(*way(x, y), 7, way(*fixed), radial)),
    ]
    for here, there in cases:
        assert way(x + here.dx, y + here.dy) == pytest.approx(
            [a + d for a, d in zip(way(x, y), (there.dx, there.dy), strict=True)], abs=1e-6
        )
        assert (here.x, here.y) == ((there.y, there.x) if way is swapped else (there.x, there.y))
        assert sorted(told(m, words) for m in here.marks) == sorted(told(m, {}) for m in there.marks)
        for m in here.marks:
            if m.words.startswith("as large as"):  # its line shows a radius of the other shape, always to the right
                ((a, b),) = m.lines
                assert a[1] == b[1] and f"{b[0] - a[0]:.4g}" in m.words and m.spot == b
                assert any(way(*a) == pytest.approx(o.lines[0][0]) for o in there.marks)
                continue
            if m.words == "grid" or m.words.startswith("guide") or (way is mirrored and m.words.startswith("as tall")):
                continue  # heights are shown at the right side
            ends = sorted(sorted(way(*p) for p in line) for line in m.lines)
            same = [o for o in there.marks if told(o, {}) == told(m, words)]
            assert any(
                [v for line in ends for p in line for v in p]
                == pytest.approx([v for line in sorted(map(sorted, o.lines)) for p in line for v in p], abs=1e-6)
                for o in same
            ), m


@pytest.mark.parametrize("way", [(1, 0), (-1, 0), (0, 1), (0, -1)])
def test_the_nearest_are_found_behind_none_of_a_crowd(way):
    """Whatever side it is on, and however the crowd lies that is farther off."""
    for side in ((1, 0), (-1, 0), (0, 1), (0, -1)):
        crowd = [Rect(at=(500 + side[0] * 40 * i, 500 + side[1] * 40 * i), size=(30, 30)) for i in range(4, 90)]
        one = Rect(id="one", at=(500 + way[0] * 60, 500 + way[1] * 60), size=(31, 31))
        snapper = Snapper(DisplayList(Scene([one, *crowd], size=(9000, 9000))))
        found = snapper.box((501, 502, 532, 533), 5)
        assert any("of one" in m.words for m in found.marks), (side, found)
