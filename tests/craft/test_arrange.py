"""Other parents, copies and pastes, deep trees."""

from bisect import bisect_left

import pytest
from hypothesis import assume, given, settings
from strategies import leaves, point, steps

from chalcedon.craft import arrange
from chalcedon.evaluate import DisplayList
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Rect, Scene
from chalcedon.scene.scene import MAX_DEPTH


@settings(max_examples=100)
@given(leaves, steps, steps, point)
def test_another_parent_leaves_a_shape_where_it_is(shape, one, other, at):
    scene = Scene([Group(id="a", at=(5, 6), steps=one, children=[shape]), Group(id="b", at=at, steps=other)])
    display = DisplayList(scene)
    node = display.node(shape)
    assume(display.node(scene["b"]).world.shrink > 0.05 and display.node(scene["a"]).world.shrink > 0.05)
    before = node.bounds()
    assume(before[2] - before[0] < 3000)
    arrange.move_keeping_place(display, shape, scene["b"], 0)
    display.update()
    assert shape.parent is scene["b"] and display.node(shape).bounds() == pytest.approx(before, abs=0.01)
    scene.undo()
    display.update()
    assert shape.parent is scene["a"] and display.node(shape).bounds() == pytest.approx(before)


def test_a_group_scaled_to_nothing_takes_no_shapes():
    scene = Scene([Group(id="flat", steps=[{"scale": [0, 1]}]), Circle(id="c")])
    display = DisplayList(scene)
    with pytest.raises(ValueProblem, match="scaled to nothing"):
        arrange.move_keeping_place(display, scene["c"], scene["flat"], 0)
    assert scene["c"].parent is scene.top and not scene.undo_name
    with pytest.raises(ValueProblem, match="nothing to group"):
        arrange.group(display, [])


@settings(max_examples=60)
@given(leaves, steps, point)
def test_moves_are_by_scene_px_under_any_transform(shape, around, by):
    scene = Scene([Group(id="g", steps=around, children=[shape])])
    display = DisplayList(scene)
    assume(display.node(scene["g"]).world.shrink > 0.1)
    before = display.node(shape).bounds()
    arrange.move_by(display, [shape], *by)
    display.update()
    moved = display.node(shape).bounds()
    assert moved == pytest.approx([b + by[i % 2] for i, b in enumerate(before)], abs=0.01)


def test_pasted_trees_get_free_ids_and_keep_their_order():
    scene = Scene([Group(id="g", children=[Rect(id="a"), Rect(id="b")])])
    display = DisplayList(scene)
    twins = arrange.paste(display, [scene["g"].copy(), scene["a"].copy()], scene["g"], 1)
    assert [s.id for s in scene.walk()] == ["g", "a", "g_2", "a_2", "b_2", "a_3", "b"]
    assert [t.id for t in twins] == ["g_2", "a_3"] and scene.undo_name == "Paste 2 shapes"
    arrange.remove(display, [scene["g_2"], scene["a_2"], scene["b"]])
    assert [s.id for s in scene.walk()] == ["g", "a", "a_3"], "what lies in another is not removed twice"
    scene.undo()
    assert len(scene) == 7


def test_groups_nest_so_deep_and_no_deeper():
    scene = Scene()
    display = DisplayList(scene)
    group = scene.top
    for i in range(MAX_DEPTH - 1):
        group = scene.add(Group(id=f"g{i}", at=(1, 0), opacity=0.99), group)
    disc = scene.add(Circle(id="disc", radius=5), group)
    with pytest.raises(ValueProblem, match=f"The most is {MAX_DEPTH}"):
        arrange.group(display, [disc])
    display.update()
    assert display.node(disc).bounds() == pytest.approx((MAX_DEPTH - 6, -5, MAX_DEPTH + 4, 5))
    assert len(display.layers) == MAX_DEPTH - 1
    with pytest.raises(ValueProblem):
        scene.move(scene["g0"], scene["g5"], 0)


def layers(display):
    """The places in the paint order that each layer takes, and its opacity."""
    ranks = [display.rank[node.slot] for node in display.order]
    return [(bisect_left(ranks, a), bisect_left(ranks, b), group.opacity) for a, b, group in display.layers]


def test_layers_nest_and_vanish_with_their_groups():
    scene = Scene(
        [
            Circle(id="x"),
            Group(
                id="a",
                opacity=0.5,
                children=[Circle(id="y"), Group(id="b", opacity=0.2, children=[Circle(id="z"), Circle(id="w")])],
            ),
        ]
    )
    display = DisplayList(scene)
    assert layers(display) == [(1, 4, 0.5), (2, 4, 0.2)]
    scene["a"].opacity = 1
    changes = display.update()
    assert layers(display) == [(2, 4, 0.2)] and len(changes.boxes) == 3
    scene.remove(scene["b"])
    display.update()
    assert display.layers == []
    scene.undo()
    display.update()
    assert layers(display) == [(2, 4, 0.2)] and [n.shape.id for n in display.order] == ["x", "y", "z", "w"]


def test_a_detached_display_list_stays_as_it_was():
    scene = Scene([Circle(id="c", radius=5)])
    display = DisplayList(scene)
    display.detach()
    scene["c"].radius = 50
    assert not display.update() and display.node(scene["c"]).box == (-5, -5, 5, 5)
