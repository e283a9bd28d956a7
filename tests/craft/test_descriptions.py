"""Other descriptions say the same shape: what they show is true, and setting one keeps the point it promises."""

import math
import re

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from strategies import leaves

from chalcedon.craft.descriptions import describe, set_description
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError
from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Line,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
    Text,
)


def said(scene, shape):
    display = DisplayList(scene)
    return {d.word: d for d in describe(display.node(shape))}


@settings(max_examples=80)
@given(leaves, st.booleans())
def test_edges_and_centre_are_those_of_the_box_without_steps(shape, grouped):
    shape.id, shape.steps = "it", ()
    scene = Scene([Group(at=(5, 9), children=[shape])] if grouped else [shape])
    words = said(scene, shape)
    node = DisplayList(scene).node(shape)
    if not node.outline.verbs:
        assert words == {}
        return
    dx, dy = (5, 9) if grouped else (0, 0)
    left, top, right, bottom = words["edges"].numbers
    assert node.bounds() == pytest.approx((left + dx, top + dy, right + dx, bottom + dy), abs=1e-6)
    assert words["centre"].numbers == pytest.approx(((left + right) / 2, (top + bottom) / 2))


@settings(max_examples=80)
@given(leaves, st.integers(0, 3), st.floats(-300, 300).map(lambda v: round(v, 1)))
def test_setting_an_edge_puts_it_there(shape, index, value):
    shape.id, shape.steps = "it", ()
    scene = Scene([shape])
    display = DisplayList(scene)
    words = {d.word: d for d in describe(display.node(shape))}
    assume("edges" in words and not getattr(shape, "curve", 0))  # a smooth curve does not stretch with its points
    before = words["edges"].numbers
    size = before[2] - before[0], before[3] - before[1]
    assume(all(s > 1 for s in size))
    try:
        set_description(display, shape, "edges", index, value)
    except ChalcedonError as problem:
        assert "inside out" in str(problem) and scene.undo_name == ""
        return
    display.update()
    after = {d.word: d for d in describe(display.node(shape))}["edges"].numbers
    within = 0.02 + 1e-3 * max(map(abs, (*before, *after)))
    assert after[index] == pytest.approx(value, abs=within)
    if "the opposite edge stays" in words["edges"].help:
        assert after[(index + 2) % 4] == pytest.approx(before[(index + 2) % 4], abs=within)


@settings(max_examples=80)
@given(leaves, st.integers(0, 1), st.floats(1, 300).map(lambda v: round(v, 1)))
def test_setting_a_width_or_a_height_keeps_the_top_left(shape, index, value):
    shape.id, shape.steps = "it", ()
    display = DisplayList(Scene([shape]))
    words = {d.word: d for d in describe(display.node(shape))}
    assume("extent" in words and not getattr(shape, "curve", 0) and min(words["extent"].numbers) > 1)
    left, top = words["edges"].numbers[:2]
    set_description(display, shape, "extent", index, value)
    display.update()
    after = {d.word: d for d in describe(display.node(shape))}
    within = 0.02 + 1e-3 * max(map(abs, (left, top, *after["extent"].numbers, *words["extent"].numbers)))
    assert after["extent"].numbers[index] == pytest.approx(value, abs=within)
    assert after["edges"].numbers[:2] == pytest.approx((left, top), abs=within)


CASES = [
    (Circle(radius=20), "diameter", 0, 90, {"radius": 45}),
    (Ellipse(radii=(20, 10)), "diameters", 1, 50, {"radii": (20, 25)}),
    (Line(at=(10, 20), to=(30, 40)), "end", 0, 100, {"to": (90, 40)}),
    (Line(to=(30, 40)), "polar", 0, 100, {"to": (60, 80)}),
    (Line(to=(30, 0)), "polar", 1, 90, {"to": (0, 30)}),
    (Arc(start=30, sweep=60), "until", 0, 200, {"start": 30, "sweep": 170}),
    (Annulus(inner=10, outer=30), "ring", 0, 5, {"inner": 25, "outer": 30}),
    (Annulus(start=10, sweep=100), "until", 0, 90, {"sweep": 80}),
    (RegularPolygon(sides=6, radius=20), "side", 0, 33, {"radius": 33}),
    (RegularPolygon(sides=4, radius=20), "inradius", 0, 10, {"radius": pytest.approx(10 * math.sqrt(2), abs=1e-3)}),
    (Star(outer=40, inner=10), "ratio", 0, 0.5, {"inner": 20, "outer": 40}),
    (Star(outer=4000, inner=10), "ratio", 0, 1 / 3, {"inner": 1333.3333, "outer": 4000}),
    (Star(outer=0.8, inner=0.4), "ratio", 0, 0.25, {"inner": 0.2, "outer": 0.8}),
    (Circle(radius=20), "diameter", 0, 1 / 3, {"radius": 0.1667}),
    (Rect(at=(5, 5), size=(10, 20)), "centre", 1, 100, {"at": (5, 90), "size": (10, 20)}),
    (Polyline(points=[(0, 0), (10, 5)]), "extent", 0, 30, {"points": ((0, 0), (30, 5))}),
    (Text(content="Quay"), "centre", 0, 300, {}),
]


@pytest.mark.parametrize(
    ("shape", "word", "index", "value", "expected"), CASES, ids=[f"{c[0].kind}-{c[1]}" for c in CASES]
)
def test_setting_a_description_changes_the_shapes_own_numbers(shape, word, index, value, expected):
    shape = shape.copy()
    scene = Scene([shape])
    display = DisplayList(scene)
    set_description(display, shape, word, index, value)
    for name, wanted in expected.items():
        got = getattr(shape, name)
        assert got == wanted or got == pytest.approx(wanted, abs=1e-3)
    display.update()
    assert {d.word: d for d in describe(display.node(shape))}[word].numbers[index] == pytest.approx(value, abs=0.01)
    assert scene.undo_name == f"Change {word} of {shape.id}"


@settings(max_examples=60)
@given(
    st.floats(10, 90),
    st.floats(-180, 180),
    st.floats(30, 300),
    st.sampled_from(["from", "by way of", "to"]),
    st.integers(0, 1),
)
def test_a_point_of_an_arc_moves_and_the_other_two_stay(radius, start, sweep, word, index):
    arc = Arc(at=(50, 60), radii=(radius, radius), start=start, sweep=sweep)
    scene = Scene([arc])
    before = said(scene, arc)
    points = {w: before[w].numbers for w in ("from", "by way of", "to")}
    goal = points[word][index] + 3
    display = DisplayList(scene)
    try:
        set_description(display, arc, word, index, goal)
    except ChalcedonError:
        return  # on one line with the others
    assume(arc.radii[0] < 1e4)
    after = said(scene, arc)
    assert after[word].numbers[index] == pytest.approx(goal, abs=0.1) or word == "by way of"
    for other in {"from", "to"} - {word}:
        assert after[other].numbers == pytest.approx(points[other], abs=0.1)


def test_what_is_only_read_and_what_cannot_be():
    scene = Scene([Circle(id="c", radius=10), Rect(id="r", size=(Formula("9", 9), 5)), Group(id="g")])
    words = said(scene, scene["c"])
    assert words["length"].numbers[0] == pytest.approx(20 * math.pi, rel=1e-3)
    assert words["area"].numbers[0] == pytest.approx(100 * math.pi, rel=1e-3)
    display = DisplayList(scene)
    for id, word, value, message in (
        ("c", "length", 5, "can be set"),
        ("c", "diameter", -5, "below 0"),
        ("c", "diameter", 1e12, "too large"),
        ("r", "edges", 4, "formula"),
        ("g", "edges", 4, "can be set"),
    ):
        with pytest.raises(ChalcedonError, match=message):
            set_description(display, scene[id], word, 0, value)
    assert scene.undo_name == ""


def test_steps_are_left_out_and_the_fixed_point_stays_on_the_page():
    rect = Rect(at=(10, 10), size=(40, 20), steps=[{"rotate": 30}])
    scene = Scene([rect])
    display = DisplayList(scene)
    corner = display.node(rect).world.map(0, 0)
    set_description(display, rect, "edges", 2, 90)
    display.update()
    assert rect.size[0] == 80
    assert display.node(rect).world.map(0, 0) == pytest.approx(corner, abs=0.01)


@pytest.mark.parametrize("shape", {type(c[0]): c[0] for c in CASES}.values(), ids=lambda shape: shape.kind)
def test_what_a_description_comes_to_is_a_short_number(shape):
    shape = shape.copy()
    scene = Scene([shape])
    display = DisplayList(scene)
    tried = 0
    for description in describe(display.node(shape)):
        for index, number in enumerate(description.numbers if description.edit else ()):
            try:
                set_description(display, shape, description.word, index, number * 1.0123456789 + 0.0123456789)
            except ChalcedonError:
                continue  # a line that lies flat can't be made taller
            said = re.findall(r"-?[\d.]+(?:e-?\d+)?", str({n: v for n, v in shape._values.items() if n != "id"}))
            assert all(round(float(text), 4) == float(text) for text in said), (description.word, said)
            scene.undo()
            display.update()
            tried += 1
    assert tried > 2
