"""The document: ids, edits, history, order."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import scenes

from chalcedon.files import read_scene, scene_bytes
from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS, OFFERED, Circle, Group, Line, Rect, Scene, order


def harbour():
    return Scene(
        [
            Rect(id="sky", size=(960, 600)),
            Group(id="boat", children=[Rect(id="hull"), Line(id="mast")]),
            Circle(id="moon", radius=46),
        ]
    )


def names(scene):
    return [s.id for s in scene.walk()]


def test_ids_are_made_unique_and_checked():
    scene = Scene([Circle(), Circle()])
    assert names(scene) == ["circle", "circle_2"]
    for bad, why in (("circle", "taken"), ("2x", "can't be an id"), ("pointer", "formulas"), ("for", "formulas")):
        with pytest.raises(ValueProblem, match=why):
            scene.add(Circle(id=bad))
    assert len(scene) == 2
    with pytest.raises(ValueProblem, match="Did you mean circle"):
        scene["circel"]


def test_a_wrong_value_says_where_why_and_what_would_work():
    moon = harbour()["moon"]
    for name, value, text in (
        ("radius", -1, "moon.radius: -1 is negative. It must be 0 or more."),
        ("radius", True, "moon.radius: True is not a number."),
        ("radius", float("nan"), "not a finite number"),
        ("radius", 1e12, "too large"),
        ("fill", "carnelain", "not a CSS colour"),
        ("fill", "lnen", "Did you mean linen?"),
        ("at", (1, 2, 3), "Write x, y."),
        ("pointer", "paint", "Did you mean painted?"),
        ("steps", [{"rotat": 3}], "Did you mean rotate?"),
        ("opacity", 2, "The most is 1."),
    ):
        with pytest.raises(ValueProblem) as problem:
            moon.assign(name, value)
        assert text in str(problem.value)
    with pytest.raises(ValueProblem, match="Did you mean radius"):
        moon.assign("radios", 1)
    assert moon.radius == 46 and not moon.scene.history.done


def test_undo_names_and_gestures():
    scene = harbour()
    moon = scene["moon"]
    for x in range(5):
        with scene.step("Move moon", gesture="drag"):
            moon.at = (x + 1, 0)
    assert scene.undo_name == "Move moon" and len(scene.history.done) == 1
    assert scene.undo() == "Move moon" and moon.at == (0, 0)
    scene.redo()
    assert moon.at == (5, 0)
    with pytest.raises(ValueProblem), scene.step("Two things"):
        moon.radius = 10
        moon.radius = -1
    assert moon.radius == 46, "a step that fails is taken back whole"
    assert scene.undo_name == "Move moon"


def test_renaming_follows_through_formulas():
    scene = harbour()
    scene["hull"].size = (Formula("moon.radius * 2 + moonlight.x", 92), 10)
    scene["mast"].steps = [{"rotate": Formula("sin(moon.at.x)", 0.5), "about": [Formula("moon.at.x", 1), 2]}]
    scene.rename(scene["moon"], "luna")
    assert scene["hull"].stated("size")[0].text == "luna.radius * 2 + moonlight.x"
    step = scene["mast"].stated("steps")[0]
    assert step.values[0].text == "sin(luna.at.x)" and step.about[0].text == "luna.at.x"
    scene.undo()
    assert scene["hull"].stated("size")[0].text == "moon.radius * 2 + moonlight.x"
    assert "luna" not in scene and scene["hull"].size == (92, 10)


def test_order_commands_and_their_names():
    scene = harbour()
    order.forward(scene, [scene["sky"]])
    assert names(scene) == ["boat", "hull", "mast", "sky", "moon"]
    assert scene.undo_name == "Bring sky in front of boat"
    order.to_front(scene, [scene["boat"], scene["sky"]])
    assert [s.id for s in scene.shapes] == ["moon", "boat", "sky"], "their own order is kept"
    assert not order.forward(scene, [scene["sky"]]), "at the front already"
    found = order.past_next(scene, scene["moon"], lambda a, b: b.id == "sky")
    assert found.id == "sky" and scene.undo_name == "Bring moon in front of sky"
    assert [s.id for s in scene.shapes] == ["boat", "sky", "moon"]
    order.to_back(scene, [scene["sky"], scene["moon"]])
    assert [s.id for s in scene.shapes] == ["sky", "moon", "boat"]


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 10_000), st.integers(0, 10_000)), max_size=60))
def test_a_group_tells_where_each_of_its_shapes_stands(edits):
    scene = Scene()
    group, other = scene.add(Group()), scene.add(Group())
    for _ in range(200):
        scene.add(Circle(), group)
    for what, i, j in edits:
        shape = group.children[i % len(group.children)]
        if what == 0:
            scene.add(Circle(), group, j % (len(group.children) + 1))
        elif what == 1 and len(group.children) > 1:
            scene.remove(shape)
        elif what == 2:
            scene.move(shape, group, j % len(group.children))
        asked = group.children[j % len(group.children)]
        assert group.children[group.index_of(asked)] is asked
    with pytest.raises(ValueError, match="not in"):
        group.index_of(other)


def test_a_group_can_not_go_into_itself():
    scene = harbour()
    boat = scene["boat"]
    inner = scene.add(Group(id="inner"), boat)
    with pytest.raises(ValueProblem, match="into itself"):
        scene.move(boat, inner, 0)
    assert boat.parent is scene.top


def test_every_kind_is_complete_and_visible_at_once():
    for kind in OFFERED:
        shape = KINDS[kind]()
        assert shape.visible
        if kind not in ("group", "image"):  # an image without a source shows its mark
            assert shape.fill is not None or shape.stroke is not None
        assert next(iter(KINDS[kind].__signature__.parameters)) == "id"


edit = st.tuples(st.integers(0, 8), st.integers(0, 50), st.integers(0, 50), st.floats(-100, 100))


def apply(scene, what, i, j, value):
    shapes = list(scene.walk())
    if not shapes or what == 0:
        scene.add(Circle(at=(value, value)))
        return
    shape, other = shapes[i % len(shapes)], shapes[j % len(shapes)]
    if what == 1:
        scene.remove(shape)
    elif what == 2:
        shape.at = (value, i)
    elif what == 3:
        shape.steps = [{"rotate": value}]
    elif what == 4:
        scene.rename(shape, scene.free_id(f"n{i}"))
    elif what == 5 and isinstance(other, Group):
        try:
            scene.move(shape, other, i)
        except ValueProblem:
            pass
    elif what == 6:
        order.forward(scene, [shape, other])
    elif what == 7:
        scene.size = (abs(value) + 1, 100)
    else:
        shape.visible = not shape.visible


@settings(max_examples=60)
@given(scenes, st.lists(edit, max_size=20))
def test_undo_takes_everything_back_and_redo_does_it_again(scene, edits):
    before = scene_bytes(scene)
    for what in edits:
        apply(scene, *what)
    after = scene_bytes(scene)
    while scene.undo():
        pass
    assert scene_bytes(scene) == before
    assert not scene.history.changed
    while scene.redo():
        pass
    assert scene_bytes(scene) == after
    assert read_scene(after).scene.equals(scene)
