"""Steps baked into a shape's own numbers leave the picture as it was; commuting is what composing both ways says."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.craft.stepping import after_each, bake, commute, swapped
from chalcedon.evaluate import DisplayList
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.problems import ValueProblem
from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Image,
    Line,
    Path,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
    Text,
)

FREE = st.floats(-3, 3).map(lambda v: round(v, 2)).filter(lambda v: abs(v) > 0.2)
SIMILAR = st.one_of(
    st.floats(-180, 180).map(lambda a: {"rotate": round(a, 1)}),
    FREE.map(lambda k: {"scale": [k, k]}),
    FREE.map(lambda k: {"scale": [-k, k]}),
    st.tuples(FREE, FREE).map(
        lambda t: {
            "translate": [10 * t[0], 10 * t[1]],
        }
    ),
)
ANY = st.one_of(
    SIMILAR, st.tuples(FREE, FREE).map(lambda t: {"scale": list(t)}), FREE.map(lambda a: {"skew": [9 * a, 0]})
)
SQUARE = st.one_of(
    st.sampled_from([-90, 90, 180]).map(lambda a: {"rotate": a}),
    st.tuples(FREE, FREE).map(lambda t: {"scale": list(t)}),
)
KINDS = {
    "similar": [
        Circle(radius=30),
        Arc(radii=(40, 40), start=20, sweep=130, ends="pie"),
        Annulus(inner=10, outer=30, start=-40, sweep=200),
        RegularPolygon(sides=5, radius=30, facing=10),
        Star(tips=5, outer=40, inner=15, facing=3),
        Polyline(points=[(0, 0), (40, 5), (20, 30), (60, 60)], curve=1),
    ],
    "any": [
        Line(to=(50, 20)),
        Polyline(points=[(0, 0), (40, 5), (20, 30)], closed=True),
        Path(data="M0 0 C20 -30 40 10 60 0 Q80 40 30 50 Z"),
    ],
    "square": [Rect(size=(60, 20)), Ellipse(radii=(30, 12))],
}


def outlines_of(shape):
    scene = Scene([shape])
    display = DisplayList(scene)
    node = display.node(shape)
    return scene, display, edges(flatten(node.outline.mapped(node.world), 0.02))


def same_outline(one, two, within):
    return all(distance_to_edges(b, x, y) < within for a, b in ((one, two), (two, one)) for x, y, *_ in a)


@settings(max_examples=80)
@given(st.data())
def test_a_baked_shape_looks_as_before(data):
    group, steps = data.draw(st.sampled_from([("similar", SIMILAR), ("any", ANY), ("square", SQUARE)]))
    shape = data.draw(st.sampled_from(KINDS[group])).copy()
    shape.at = data.draw(st.tuples(st.integers(-50, 50), st.integers(-50, 50)))
    shape.anchor = data.draw(st.sampled_from(["origin", "center", "top-left", "bottom"]))
    shape.steps = data.draw(st.lists(steps, min_size=1, max_size=3))
    shape.stroke = None
    scene, display, before = outlines_of(shape)
    bake(display, shape)
    assert shape.steps == ()
    display.update()
    node = display.node(shape)
    after = edges(flatten(node.outline.mapped(node.world), 0.02))
    size = max(1.0, *(abs(v) for e in before for v in e))
    assert same_outline(before, after, 0.05 + size * 1e-3)
    for name in {"radius", "radii", "size", "outer", "inner", "to", "points"} & shape._values.keys():
        for number in np.ravel(shape._values[name]):
            assert number == round(number, 4), "no digits that nobody could have meant"
    scene.undo()
    assert shape.steps != ()


def test_text_and_corners_scale_along():
    rect = Rect(at=(10, 10), size=(60, 20), corners=(1, 2, 3, 4), steps=[{"rotate": 90}, {"scale": [2, 2]}])
    bake(DisplayList(Scene([rect])), rect)
    assert rect.size == (40, 120) and rect.corners == (8, 2, 4, 6)
    for anchor in ("top-left", "origin", "bottom"):
        text = Text(content="Lamp", size=20, width=100, at=(7, 9), anchor=anchor, steps=[{"scale": [1.5, 1.5]}])
        display = DisplayList(Scene([text]))
        before = display.node(text).bounds()
        bake(display, text)
        assert (text.size, text.width) == (30, 150)
        display.update()
        assert display.node(text).bounds() == pytest.approx(before, abs=0.01)


@pytest.mark.parametrize("step", [{"rotate": 90}, {"rotate": 180}, {"scale": [-1, 1]}, {"scale": [1, -1]}])
def test_a_picture_takes_in_no_step_but_a_size(step):
    image = Image(source="lamp.png", size=(30, 20), steps=[{"scale": [2, 3]}])
    bake(DisplayList(Scene([image])), image)
    assert image.size == (60, 60)
    image.steps = [step]
    with pytest.raises(ValueProblem, match="can't be turned or mirrored"):
        bake(DisplayList(image.scene), image)


def test_a_stroke_grows_with_its_shape_or_says_why_not():
    circle = Circle(radius=10, stroke="red", stroke_width=2, dash=(4, 1), steps=[{"scale": [3, 3]}])
    bake(DisplayList(Scene([circle])), circle)
    assert (circle.radius, circle.stroke_width, circle.dash) == (30, 6, (12, 3))
    steady = Circle(radius=10, stroke="red", stroke_width=2, dash=(4, 1), steady=True, steps=[{"scale": [3, 3]}])
    bake(DisplayList(Scene([steady])), steady)
    assert (steady.radius, steady.stroke_width, steady.dash) == (30, 2, (4, 1))
    line = Line(to=(10, 10), stroke="red", steps=[{"scale": [3, 1]}])
    with pytest.raises(ValueProblem, match="no stroke width does that"):
        bake(DisplayList(Scene([line])), line)
    assert line.steps and line.to == (10, 10)


@pytest.mark.parametrize(
    ("shape", "words"),
    [
        (Rect(size=(10, 20), steps=[{"rotate": 30}]), "turned rect"),
        (Circle(radius=10, steps=[{"scale": [2, 1]}]), "stretched one way"),
        (Ellipse(radii=(10, 5), steps=[{"rotate": 30}]), "turned ellipse"),
        (Text(content="x", steps=[{"rotate": 30}]), "turned letters"),
        (Text(content="x", steps=[{"rotate": 0.3}]), "turned letters"),
        (Polyline(points=[(0, 0), (9, 9), (20, 3)], curve=0.5, stroke=None, steps=[{"scale": [2, 1]}]), "another way"),
        (Rect(), "no steps"),
    ],
)
def test_what_a_kind_cannot_hold_is_refused_with_a_sentence(shape, words):
    scene = Scene([shape])
    with pytest.raises(ValueProblem, match=words):
        bake(DisplayList(scene), shape)
    assert scene.undo_name == ""


def test_a_group_hands_its_steps_down():
    rect = Rect(id="r", at=(10, 20), size=(30, 10), steps=[{"rotate": 10}])
    group = Group(at=(100, 50), children=[rect], steps=[{"rotate": 30}, {"scale": [2, 1]}])
    display = DisplayList(Scene([group]))
    before = display.node(rect).world
    bake(display, group)
    display.update()
    assert group.steps == () and display.node(rect).world == pytest.approx(before)


def test_commuting_is_what_composing_both_ways_says():
    rect = Rect(size=(60, 20), steps=[{"rotate": 30}, {"scale": [2, 2]}, {"scale": [2, 1]}, {"skew": [20, 0]}])
    node = DisplayList(Scene([rect])).node(rect)
    assert [commute(node, i) for i in range(3)] == [True, True, False]
    rect.steps = [{"rotate": 30}, {"scale": [2, 1]}]
    node = DisplayList(Scene([rect.copy()])).order[0]
    assert not commute(node, 0)
    assert math.dist(swapped(node, 0).map(0, 0), after_each(node)[-1].map(0, 0)) > 1
    assert after_each(node)[-1] == node.local
