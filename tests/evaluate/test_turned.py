"""A whole scene turned by quarters, mirrored or enlarged is the same scene seen so: in its boxes, hits and reasons."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import is_empty
from chalcedon.hit import HitTester
from chalcedon.scene import Group, Scene
from tests.strategies import trees

turned = st.tuples(st.integers(0, 3), st.booleans(), st.sampled_from([1.0, 1.0, 2.0]))


def shown(shapes, steps):
    scene = Scene([Group(id="all", children=shapes, steps=steps, pivot="origin", anchor="origin")], size=(400, 300))
    return DisplayList(scene)


@settings(max_examples=40)
@given(st.lists(trees, min_size=1, max_size=3), turned)
def test_what_is_turned_is_the_same(shapes, how):
    turns, mirrored, scale = how
    walked = [s for tree in shapes for s in tree.walk()]
    for shape in walked:
        shape.at = tuple(
            v.last if isinstance(v, Formula) else v for v in shape.stated("at")
        )  # pointers are turned, too
        if "shadow" in shape.properties:
            shape.shadow = None
        if scale != 1.0 and "steady" in shape.properties:
            shape.steady = False
    steps = [{"rotate": 90 * turns}, {"scale": (scale, -scale if mirrored else scale)}]
    one, two = shown([s.copy() for s in shapes], []), shown([s.copy() for s in shapes], steps)
    way = two.node(two.scene["all"]).world
    boxes = []
    for a, b in zip(one.scene.walk(), two.scene.walk(), strict=True):
        here, there = one.find(a), two.find(b)
        assert (here is None) == (there is None)
        if here is None:
            continue
        for box, other in (
            (here.bounds(), there.bounds()),
            (here.painted_bounds(), there.painted_bounds()),
        ):
            if is_empty(box):
                assert is_empty(other)
                continue
            assert way.map_box(box) == pytest.approx(other, abs=1e-6, rel=1e-9), a.kind
        if not here.group:
            boxes.append(here.painted_bounds())
    hits, again = HitTester(one.scene, one), HitTester(two.scene, two)
    for box in boxes[:6]:
        if is_empty(box):
            continue
        for i in range(12):
            x = box[0] + (box[2] - box[0]) * (0.5 + 0.52 * math.sin(1.3 + 2.1 * i))
            y = box[1] + (box[3] - box[1]) * (0.5 + 0.52 * math.sin(0.4 + 3.7 * i))
            found = names(hits, x, y)
            if found != names(again, *way.map(x, y)):
                near = [names(hits, x + 0.2 * dx, y + 0.2 * dy) for dx in (-1, 0, 1) for dy in (-1, 0, 1)]
                assert any(n != found for n in near), (x, y, found)


def names(tester, x, y):
    return [h.shape.id for h in tester.hit_test(x, y)]
