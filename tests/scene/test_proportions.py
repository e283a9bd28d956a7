"""Two numbers that keep their ratio, however either of them is changed."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.craft.descriptions import set_description
from chalcedon.craft.several import MIXED, Several
from chalcedon.craft.stepping import bake
from chalcedon.craft.together import Together
from chalcedon.evaluate import DisplayList
from chalcedon.files.check import check_scene
from chalcedon.problems import ValueProblem
from chalcedon.scene import Ellipse, Image, Rect, Scene, Step, presets
from chalcedon.scene.proportions import following, held_to, keep_ratios, set_following
from chalcedon.source.line import parse_line

KINDS = st.sampled_from([Rect, Ellipse, Image])
LENGTH = st.floats(1, 900).map(lambda v: round(v, 2))


def assign_following(shape, name, value):
    for each, new in following(shape, name, value).items():
        shape.assign(each, new)


def kept(kind, w, h):
    shape = kind(id="it", at=(40, 30))
    setattr(shape, kind.pair, (w, h))
    keep_ratios([shape], True)
    return shape, DisplayList(Scene([shape]))


@given(KINDS, LENGTH, LENGTH, st.lists(st.tuples(st.integers(0, 1), st.integers(0, 500)), max_size=12))
def test_numbers_changed_one_by_one_keep_the_ratio_through_nothing_and_back(kind, w, h, changes):
    shape, _ = kept(kind, w, h)
    first = getattr(shape, shape.pair)
    for i, number in [*changes, (0, first[0])]:
        pair = list(getattr(shape, shape.pair))
        pair[i] = number
        assign_following(shape, shape.pair, tuple(pair))
        assert getattr(shape, shape.pair)[i] == number
    assert getattr(shape, shape.pair) == pytest.approx(first, abs=1e-4)


@given(KINDS, LENGTH, LENGTH, st.data())
def test_every_handle_that_changes_the_size_keeps_the_ratio(kind, w, h, data):
    shape, display = kept(kind, w, h)
    box = display.node(shape).box
    handle = data.draw(st.sampled_from([x for x in shape.handles(box) if x.role in ("size", "edge", "radius")]))
    q = data.draw(st.tuples(st.floats(-700, 700), st.floats(-700, 700)))
    change = handle.drag(q, 4, False)
    new_w, new_h = change.values[shape.pair]
    assert new_w == pytest.approx(new_h * w / h, abs=2e-3 * max(1, w / h))


@pytest.mark.parametrize("held", [False, True])
def test_an_edge_grows_both_ways_about_the_middle_of_the_other(held):
    shape, _ = kept(Rect, 80, 40)
    if held:
        shape.aspect_ratio = 0  # Shift does for one drag what the ratio does for good
    edge = next(h for h in shape.handles((0, 0, 80, 40)) if h.role == "edge" and h.raw == (80, 20))
    change = edge.drag((120, 3), 2, held)
    assert change.values["size"] == (120, 60)
    assert (change.before, change.after) == ((0, 20), (0, 30))


def test_a_corner_is_dragged_to_where_the_pointer_lies_inside():
    shape, _ = kept(Rect, 80, 40)
    corner = next(h for h in shape.handles((0, 0, 80, 40)) if h.raw == (0, 0))
    change = corner.drag((60, -40), 2, False)
    assert change.values["size"] == (160, 80) and (change.before, change.after) == ((80, 40), (160, 80))


def test_box_descriptions_bakes_and_several_keep_it():
    shape, display = kept(Rect, 80, 40)
    both = Together(display, [shape])
    both.apply(both.sized((0, 0), 3, 2), "Size")
    assert shape.size == (160, 80)
    set_description(display, shape, "centre", 0, 100.0)
    assert shape.size == (160, 80)
    Several([shape]).set(display, "size", (40, MIXED))
    assert shape.size == (40, 20)
    shape.steps = [Step("rotate", (90,))]
    bake(display, shape)
    assert shape.size == (20, 40) and shape.aspect_ratio == 0.5


def test_a_new_ratio_takes_the_height_from_the_width_and_what_does_not_fit_is_told():
    shape, display = kept(Rect, 80, 40)
    assign_following(shape, "aspect_ratio", 4)
    assert shape.size == (80, 20)
    shape.size = (50, 50)  # both at once stand as they are given
    display.update()
    (remark,) = [r for r in check_scene(display) if r.what == "not in its ratio"]
    assert remark.sentence == "50 × 50 isn't in the ratio 4."
    height, ratio_now = remark.repairs
    ratio_now.act(display)
    assert (shape.size, shape.aspect_ratio) == ((50, 50), 1)
    shape.scene.undo()
    height.act(display)
    assert shape.size == (50, 12.5)
    display.update()
    assert not [r for r in check_scene(display) if r.what == "not in its ratio"]


def test_a_square_is_one_by_construction():
    square = parse_line("square 10 20 50")
    assert (square.size, square.aspect_ratio) == ((50, 50), 1)
    assign_following(square, "size", (70, 50))
    assert square.size == (70, 70)


def test_a_shape_that_has_left_its_scene_is_not_changed_behind_its_back():
    """A picker or a menu may still be open for it; undo would bring back another shape than the one that went."""
    shape, display = kept(Rect, 80, 40)
    scene = display.scene
    presets.make(scene, "brass", shape)
    scene.remove(shape)
    before = dict(shape._values)
    with pytest.raises(ValueProblem, match="not in this scene"):
        set_following(scene, shape, "size", (90, 40))
    for act in (presets.wear, presets.take_off):
        with pytest.raises(ValueProblem, match="not in this scene"):
            act(scene, [shape], "brass")
    assert shape._values == before


@given(st.floats(0.1, 9), st.floats(-90, 90), st.floats(-90, 90))
def test_a_size_of_a_ratio_is_the_smallest_that_holds_what_is_asked(ratio, width, height):
    wide, tall = held_to(ratio, width, height)
    assert abs(wide) == pytest.approx(abs(tall) * ratio)
    assert (wide < 0) is (width < 0 and wide != 0) and (tall < 0) is (height < 0 and tall != 0)
    near = pytest.approx(0, abs=1e-9)
    assert abs(wide) - abs(width) == near or abs(tall) - abs(height) == near, "it touches one of the two"
    assert abs(wide) >= abs(width) - 1e-9 and abs(tall) >= abs(height) - 1e-9
