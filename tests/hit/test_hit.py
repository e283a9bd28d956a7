"""Hit tests by rule: what is hit, in which order, and what the probe says of the rest."""

import math
import random

import numpy as np
import pytest
from hypothesis import given, settings
from strategies import scenes

import chalcedon
from chalcedon.evaluate import DisplayList
from chalcedon.hit import HitTester, hit_test, probe
from chalcedon.hit.parts import part_at
from chalcedon.scene import Circle, Group, Line, Polyline, Rect, Scene, Text


def ids(hits):
    return [h.id for h in hits]


# SVG 2, 15.6: for each rule, whether the inside and the stroke are hit, with and without a paint for them
RULES = [
    ("painted", True, True, "fill", "stroke"),
    ("painted", False, True, None, "stroke"),
    ("painted", True, False, "fill", "fill"),
    ("painted", False, False, None, None),
    ("fill", True, True, "fill", "fill"),
    ("fill", False, False, "fill", "fill"),
    ("stroke", True, True, None, "stroke"),
    ("stroke", False, False, None, "stroke"),
    ("all", True, True, "fill", "stroke"),
    ("all", False, False, "fill", "stroke"),
    ("box", False, False, "box", "box"),
    ("none", True, True, None, None),
]


@pytest.mark.parametrize(("rule", "fill", "stroke", "inside", "edge"), RULES)
def test_pointer_rules(rule, fill, stroke, inside, edge):
    shape = Rect(
        size=(100, 100),
        pointer=rule,
        stroke_width=10,
        fill="#00000000" if fill else None,
        stroke="#00000000" if stroke else None,
    )  # a clear paint is a paint: opacity does not matter
    scene = Scene([shape])
    assert [h.part for h in hit_test(scene, 50, 50)] == ([inside] if inside else [])
    assert [h.part for h in hit_test(scene, 97, 50)] == ([edge] if edge else [])
    assert not hit_test(scene, 104, 50) or edge == "stroke"
    shape.visible = False
    assert not hit_test(scene, 50, 50)


def test_front_to_back_through_groups_with_parts_points_and_distances():
    scene = Scene(
        [
            Rect(id="floor", size=(400, 400), fill="white"),
            Group(
                id="g",
                at=(100, 100),
                steps=[{"scale": [2, 2]}],
                children=[Circle(id="disc", radius=20, fill="red", stroke="black", stroke_width=4)],
            ),
            Line(id="bar", at=(0, 100), to=(400, 0), stroke_width=6),
        ]
    )
    hits = hit_test(scene, 120, 100)
    assert [(h.id, h.part) for h in hits] == [("bar", "stroke"), ("disc", "fill"), ("floor", "fill")]
    assert hits[1].local == pytest.approx((10, 0)) and hits[1].point == (120, 100)
    assert hits[0].distance == pytest.approx(0, abs=1e-9)
    assert hits[1].distance == pytest.approx(20, abs=0.02), "in scene px, though the disc is scaled"
    assert ids(hit_test(scene, 120, 100, first=True)) == ["bar"]
    assert ids(hit_test(scene, 120, 100, only={scene["floor"]})) == ["floor"]
    scene["bar"].locked = True
    assert ids(hit_test(scene, 120, 100)) == ["bar", "disc", "floor"], "locked shapes are hit"
    assert ids(hit_test(scene, 120, 100, unlocked=True)) == ["disc", "floor"], "unless they are left out"
    scene["g"].pointer = "none"
    assert ids(hit_test(scene, 120, 100)) == ["bar", "floor"]


@pytest.mark.parametrize("order", ["fill", "stroke"])
def test_what_is_painted_last_is_what_is_hit(order):
    looks = {"fill": "red", "stroke": "black", "stroke_width": 12, "paint_order": order}
    scene = Scene([Text(id="t", content="I", size=80, **looks), Rect(id="r", at=(200, 0), size=(40, 40), **looks)])
    left, top, right, bottom = scene["t"].bounds()
    middle = (left + right) / 2, (top + bottom) / 2
    assert [h.part for h in hit_test(scene, *middle)] == ["text" if order == "stroke" else "stroke"]
    inner = {"fill": "stroke", "stroke": "fill"}[order]
    assert [h.part for h in hit_test(scene, 204, 20)] == [inner], "within the edge both lie over one another"
    assert [h.part for h in hit_test(scene, 196, 20)] == ["stroke"]
    assert [h.part for h in hit_test(scene, 220, 20)] == ["fill"]


def test_a_touch_radius_takes_the_nearest_when_nothing_is_hit():
    scene = Scene([Circle(id="a", at=(0, 0), radius=10), Circle(id="b", at=(100, 0), radius=10)])
    assert ids(hit_test(scene, 48, 0)) == []
    assert ids(hit_test(scene, 48, 0, radius=45)) == ["a"]
    assert ids(hit_test(scene, 55, 0, radius=45)) == ["b"]
    assert ids(hit_test(scene, 55, 0, radius=30)) == []
    assert ids(hit_test(scene, 95, 0, radius=500)) == ["b"], "what is hit exactly comes first"


def test_inside_a_rectangle():
    scene = Scene(
        [
            Rect(id="a", size=(10, 10)),
            Rect(id="b", at=(20, 0), size=(10, 10), locked=True),
            Rect(id="c", at=(40, 0), size=(10, 10), visible=False),
            Rect(id="d", at=(60, 0), size=(50, 10)),
        ]
    )
    tester = HitTester(scene)
    assert [s.id for s in tester.inside((-1, -1, 80, 20))] == ["a", "b"]
    assert [s.id for s in tester.inside((-1, -1, 80, 20), unlocked=True)] == ["a"]


def test_shapes_flattened_to_nothing_are_not_hit_but_said():
    scene = Scene([Rect(id="flat", at=(10, 10), size=(50, 50), steps=[{"scale": [0, 1]}])])
    assert hit_test(scene, 35, 30) == []
    assert [(f.shape.id, f.reason) for f in probe(HitTester(scene), 35, 30)] == [("flat", "scaled to nothing")]


def test_the_probe_explains_every_kind_of_miss():
    scene = Scene(
        [
            Rect(id="under", size=(100, 100), fill="red"),
            Rect(id="over", size=(100, 100), fill="blue"),
            Rect(id="ring", size=(100, 100), fill=None, stroke="black"),
            Rect(id="ghost", size=(100, 100), pointer="none"),
            Rect(id="edge", size=(100, 100), pointer="stroke"),
            Group(id="g", visible=False, children=[Rect(id="inside", size=(100, 100))]),
            Rect(id="off", size=(100, 100), visible=False),
            Rect(id="fixed", size=(100, 100), locked=True),
            Rect(id="near", at=(110, 0), size=(50, 100)),
            Rect(id="bare", size=(100, 100), fill=None),
        ]
    )
    tester = HitTester(scene)
    found = {f.shape.id: (f.part, f.reason) for f in probe(tester, 90, 50)}
    assert found["over"] == ("fill", "covered by fixed") and found["under"] == ("fill", "covered by fixed")
    assert found["ring"] == ("", "no fill here") and found["ghost"] == ("", "pointer none")
    assert found["edge"] == ("", "hit on stroke only") and found["fixed"] == ("", "locked")
    assert found["inside"] == ("", "hidden with g") or len(found) >= 10
    live = {f.shape.id: f.part for f in probe(tester, 90, 50, build=False)}
    assert live["fixed"] == "fill"
    scene["fixed"].visible = False
    assert [f.reason for f in probe(tester, 90, 50) if f.shape.id == "under"] == ["covered by over"]
    near = [f for f in probe(tester, 104, 50) if f.shape.id == "near"]
    assert near[0].reason == "off by 6.0" and near[0].distance == pytest.approx(6)


def test_what_is_hidden_is_found_where_it_would_be_and_nowhere_else():
    scene = Scene(
        [
            Circle(id="off", at=(50, 50), radius=40, visible=False),
            Rect(id="flat", at=(200, 0), steps=[{"scale": [0, 1]}]),
        ]
    )
    tester = HitTester(scene)
    assert [(f.shape.id, f.reason) for f in probe(tester, 50, 50)] == [("off", "hidden")]
    assert probe(tester, 14, 14) == [], "in the corner of its box"
    assert [f.reason for f in probe(tester, 260, 40)] == ["scaled to nothing"]


def brute(display, x, y):
    """Every shape asked in turn, back to front: what the index must not change. A cut-out takes away what its group
    has painted so far."""

    def inside(group):
        found = []
        for shape in group.children:
            node = display.node(shape)
            if shape.cuts and node.visible:
                if any(part_at(leaf, x, y, "painted") for leaf in node.walk_leaves() if leaf.visible):
                    found = []
            elif isinstance(shape, Group):
                found += inside(shape)
            elif node.visible and part_at(node, x, y) is not None:
                found.append(shape.id)
        return found

    return inside(display.scene.top)[::-1]


def crowd(count, seed=3):
    chance = random.Random(seed)
    shapes = []
    for i in range(count):
        at = chance.uniform(0, 900), chance.uniform(0, 500)
        if i % 3:
            shapes.append(Circle(id=f"s{i}", at=at, radius=chance.uniform(1, 12)))
        else:
            shapes.append(
                Polyline(
                    id=f"s{i}",
                    at=at,
                    points=[(0, 0), (30, 5), (10, 30)],
                    closed=True,
                    steps=[{"rotate": chance.uniform(0, 360)}],
                )
            )
    shapes.append(Rect(id="page", at=(-50, -50), size=(2000, 2000)))
    shapes.append(Circle(id="far", at=(8e7, -9e7), radius=10))
    return shapes


def test_the_index_changes_nothing_at_rest_and_in_motion():
    chance = random.Random(5)
    scene = Scene(crowd(900))
    display = DisplayList(scene)
    tester = HitTester(scene, display)
    spots = [(chance.uniform(-20, 920), chance.uniform(-20, 520)) for _ in range(60)] + [(8e7, -9e7), (-1e6, 1e6)]
    tester.index.settle(math.inf)
    for step in range(6):
        for x, y in spots[:: 1 if step in (0, 5) else 4]:
            assert ids(tester.hit_test(x, y)) == brute(display, x, y)
        shapes = list(scene.walk())
        for shape in chance.sample(shapes, 400 if step == 2 else 12):  # a few, then more than the grid follows
            shape.at = (chance.uniform(0, 900), chance.uniform(0, 500))
        scene.remove(chance.choice(shapes[:800]))
        scene.add(Circle(id=f"new{step}", at=(450, 250), radius=30), index=step)
        display.update()
        assert tester.index._grid is None or step != 2, "dropped while much moves"
    tester.index.settle(math.inf)
    assert ids(tester.hit_test(*spots[0])) == brute(display, *spots[0])


def test_the_grid_is_built_in_slices_and_again_after_motion():
    scene = Scene(crowd(1200))
    tester = HitTester(scene)
    calls = 0
    while not tester.index.settle(0.0):
        calls += 1
    assert calls >= 3
    for shape in scene.shapes:
        shape.at = (shape.at[0] + 1, shape.at[1])
    for _ in range(12):
        tester.hit_test(10, 10)
    assert tester.index._grid is not None, "once queries come without changes between them"


@settings(max_examples=40)
@given(scenes)
def test_random_scenes_are_hit_as_asked_one_by_one(scene):
    display = DisplayList(scene)
    tester = HitTester(scene, display)
    for x, y in ((0, 0), (15, 5), (-40, 30), (100, -60)):
        assert ids(tester.hit_test(x, y)) == brute(display, x, y)
        for finding in probe(tester, x, y):
            assert finding.part or finding.reason


def test_near_a_scaled_stroke_counts_from_its_edge():
    """A stroke of 4 scaled by 3 reaches 6 px from its line; a steady one 2."""
    line = Line(id="rope", to=(20, 0), stroke="#000000", stroke_width=4, steps=[{"scale": 3}], pivot="left")
    assert hit_test(Scene([line]), 20, 9, radius=4) and not hit_test(Scene([line.copy()]), 20, 9, radius=2)
    steady = line.copy()
    steady.steady = True
    assert hit_test(Scene([steady]), 20, 5, radius=4) and not hit_test(Scene([steady.copy()]), 20, 9, radius=4)


def test_what_is_cut_out_is_no_px_away():
    scene = Scene(
        [Group(children=[Rect(id="wall", size=(50, 50)), Circle(id="hole", at=(25, 25), cuts=True, radius=9)])]
    )
    (cut,) = [f for f in probe(scene, 25, 25) if f.shape.id == "wall"]
    assert cut.distance == 0.0 and cut.reason == "cut out by hole"


@pytest.mark.parametrize("spacing", [-4, -11, -15])
def test_letters_set_so_tightly_that_they_lie_over_one_another_are_hit_where_they_are_seen(spacing):
    scene = Scene([Text(id="word", at=(60, 20), content="low tide", size=20, letter_spacing=spacing)], size=(160, 80))
    ink = np.argwhere(np.asarray(chalcedon.render_array(scene))[..., :3].max(axis=2) < 60)
    assert len(ink) > 20
    missed = [(x, y) for y, x in ink.tolist() if not hit_test(scene, x + 0.5, y + 0.5)]
    assert len(missed) <= 0.02 * len(ink), missed[:5]
