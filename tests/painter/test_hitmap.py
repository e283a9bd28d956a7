"""The hit map says at every px what the hit test says there."""

import gc
import random

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from chalcedon.evaluate.kept import display_of
from chalcedon.geometry import Affine
from chalcedon.hit.tester import HitTester
from chalcedon.painter.hitmap import HitMap
from chalcedon.painter.hittint import tint_of
from chalcedon.scene import Circle, Ellipse, Group, Image, Rect, Scene, Step, Text
from tests.greenhouse import greenhouse
from tests.strategies import decorated, groups

STEPS = (-0.7, -0.47, -0.23, 0.0, 0.23, 0.47, 0.7)
AROUND = [(dx, dy) for dx in STEPS for dy in STEPS]
"""Within less than a px of its middle."""


def assert_is_hit(scene, count, seed=1):
    """Every px says what is hit at its middle or, where an edge runs through it, within it."""
    tester = HitTester(scene)
    tester.display.update()
    width, height = 160, 120
    view = Affine(0.25, 0, 0, 0.25, 10, 10)
    made = HitMap(tester.display, view, width, height)
    while not made.work(1):
        pass
    numbers = made.numbers
    back = view.inverse()
    chance = random.Random(seed)
    for _ in range(count):
        x, y = chance.randrange(1, width - 1), chance.randrange(1, height - 1)
        around = set()
        for dx, dy in AROUND:
            hits = tester.hit_test(*back.map(x + 0.5 + dx, y + 0.5 + dy), first=True)
            around.add(hits[0].shape.id if hits else "")
        slot = numbers[y, x]
        told = tester.display.slots[slot].shape.id if slot >= 0 else ""
        if told not in around and told:
            around |= stepped_over(tester, back.map(x + 0.5, y + 0.5), tester.display.slots[slot], around)
        assert told in around, f"{told or 'nothing'} at {x}, {y}; hit is {sorted(around)}"
    return tester, made


def stepped_over(tester, point, node, around):
    """The shape of a node if it is so thin that no sample fell on it, though it is there within a px and lies in front
    of something that a sample did fall on."""
    near = tester.hit_test(*point, first=True, only={node.shape}, radius=4.0)
    behind = {"", *(n.shape.id for n in tester.display.order[: tester.display.rank[node.slot]])}
    return {node.shape.id} if near and around & behind else set()


@settings(max_examples=30)
@given(st.lists(st.one_of(decorated(), groups(decorated())), max_size=5), st.integers(0, 1000))
def test_any_scene_is_mapped_as_it_is_hit(shapes, seed):
    scene = Scene(shapes, size=(600, 400))
    # the toolkit's px of an edge that comes from millions of px away are not to be told from one another
    assume(all(max(map(abs, n.world)) < 1e6 for n in display_of(scene).order))
    assert_is_hit(scene, 60, seed)


def test_the_stroke_of_what_is_thinner_than_a_px_is_mapped():
    """It is hit by a stroke that isn't painted."""
    thin = Image(id="net", size=(1, 32), pointer="stroke")
    _, made = assert_is_hit(Scene([thin], size=(600, 400)), 2000, 3)
    assert thin in made.reached()


def test_a_stroke_that_lies_over_itself_is_mapped_without_holes():
    pond = Ellipse(
        id="pond", at=(17.42, 8.33), anchor=(0.14, 0.38), steps=[Step("scale", (1.3662, 2.4408))],
        radii=(41, 0.5), stroke="#22292e", stroke_width=23.5, miter_limit=1,
    )  # fmt: skip
    assert_is_hit(Scene([pond], size=(600, 400)), 4000, 4)


def test_a_thin_stroke_that_is_scaled_unevenly_is_no_wider_than_it_is_hit():
    hoop = Circle(
        id="hoop", radius=111, steps=[Step("scale", (2.43, 0.75))], fill="none", stroke="navy", stroke_width=1
    )
    _, made = assert_is_hit(Scene([hoop], size=(600, 400)), 6000, 2)
    assert hoop in made.reached()


def test_a_scene_with_everything_is_mapped_as_it_is_hit():
    assert_is_hit(greenhouse(), 1500)


def test_a_cut_out_gives_way_to_what_is_behind_its_group():
    scene = Scene(
        [
            Rect(id="sky", size=(400, 400)),
            Group(
                children=[
                    Circle(id="moon", at=(200, 200), radius=150),
                    Rect(id="bite", at=(200, 50), size=(200, 300), cuts=True),
                ]
            ),
        ],
        size=(400, 400),
    )
    _, made = assert_is_hit(scene, 400)
    assert {s.id for s in made.reached()} == {"sky", "moon"}


def test_what_is_never_hit_is_listed():
    scene = Scene(
        [
            Circle(id="lost", at=(100, 100), radius=20),
            Rect(id="sea", size=(400, 300)),
            Rect(id="glass", at=(10, 10), size=(50, 50), pointer="none"),
            Text(id="name", at=(200, 200), content="Linnet"),
            Circle(id="away", at=(4000, 100)),
            Circle(id="hidden", at=(100, 100), visible=False),
        ],
        size=(400, 300),
    )
    _, made = assert_is_hit(scene, 200)
    assert [s.id for s in made.unreached()] == ["lost"], "glass is meant not to be hit"


def test_shapes_along_the_edges_of_a_map_are_in_it():
    size = 30, 20
    sides = {"left": (0, 0, 1, 20), "top": (1, 0, 28, 1), "right": (29, 0, 1, 20), "below": (1, 19, 28, 1)}
    scene = Scene([Rect(*box, id=id) for id, box in sides.items()], size=size)
    tester = HitTester(scene)
    tester.display.update()
    made = HitMap(tester.display, Affine.scale(1, 1), *size)
    while not made.work(1):
        pass
    for id, (x, y, w, h) in sides.items():
        assert (made.numbers[y : y + h, x : x + w] == tester.display.node(scene[id]).slot).all(), id


def test_a_map_that_is_dropped_half_done_leaves_no_painter_behind():
    scene = greenhouse()
    tester = HitTester(scene)
    tester.display.update()
    for i in range(12):
        made = HitMap(tester.display, Affine.scale(0.2 + i / 100, 0.2), 120, 90)
        made.work(1e-5)
        assert not made._image.paintingActive(), "freeing the image would end the process"
        del made
        gc.collect()


def test_the_picture_has_the_colours_of_the_shapes_and_comes_in_slices():
    scene = Scene([Rect(id="sea", size=(400, 300))], size=(400, 300))
    tester = HitTester(scene)
    tester.display.update()
    made = HitMap(tester.display, Affine.scale(0.1, 0.1), 50, 40)
    assert not made.work(0) and not made.done
    assert made.work(10) and made.done
    picture, color = made.tinted(), tint_of(tester.display.order[0].slot)
    shown = picture.pixelColor(20, 15)
    assert abs(shown.hue() - color.hue()) < 4 and 0 < shown.alpha() < 255
    assert picture.pixelColor(45, 35).alpha() == 0
    assert np.count_nonzero(made.numbers >= 0) == 40 * 30


def test_tints_are_colours_that_can_be_told_apart():
    tints = [tint_of(i).getRgb()[:3] for i in range(40)]
    apart = [sum(abs(a - b) for a, b in zip(one, two, strict=True)) for i, one in enumerate(tints) for two in tints[:i]]
    assert min(apart) >= 6 and all(60 < sum(t) < 700 for t in tints)
