"""What edits come to in the end, whatever way led there."""

import random

from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.scene import Circle, Group, Polyline, Rect, Scene
from chalcedon.scene.diff import diff
from chalcedon.scene.net import Net, differences, give
from chalcedon.source.told import tell
from tests.strategies import scenes


def followed(scene):
    net = Net()

    def hear(what, step):
        if what in ("done", "redone"):
            for edit in step.edits:
                net.add(edit)
        elif what in ("undone", "taken_back"):
            net.back(step.edits)

    scene.history.listeners.append(hear)
    return net


def wander(scene, chance, count):
    """Changes the scene in every way that there is."""
    for _ in range(count):
        shapes = list(scene.walk())
        act = chance.choice(["set", "move", "add", "remove", "rename", "undo", "redo", "scene"])
        if act == "undo":
            scene.undo()
        elif act == "redo":
            scene.redo()
        elif act == "add" or not shapes:
            groups = [scene.top, *(s for s in shapes if isinstance(s, Group))]
            scene.add(Circle(id=scene.free_id("buoy"), radius=chance.randrange(1, 4)), chance.choice(groups), 0)
        elif act == "set":
            shape = chance.choice(shapes)
            if shape.kind != "unknown":
                shape.at = (chance.randrange(2), 0)
        elif act == "scene":
            scene.background = chance.choice(["white", "black"])
        elif act == "remove":
            scene.remove(chance.choice(shapes))
        elif act == "rename":
            scene.rename(chance.choice(shapes), scene.free_id(f"name_{chance.randrange(3)}"))
        else:
            shape, group = chance.choice(shapes), scene.top
            scene.move(shape, group, chance.randrange(len(group.children)))


@settings(max_examples=40)
@given(scenes, st.integers(0, 10_000))
def test_the_net_is_what_the_two_scenes_differ_by_and_nothing_once_all_is_taken_back(scene, seed):
    looks = {n: scene.stated(n) for n in ("size", "background", "y_axis")}
    before = Scene([s.copy() for s in scene.shapes], **looks)
    net = followed(scene)
    wander(scene, random.Random(seed), 25)
    changes = list(net.changes(scene))
    true = followed(before)
    before.apply(diff(before, scene), "Take over")
    renamed = {c.id for c in changes if c.what == "renamed"}
    if not renamed:  # by id a renamed shape is another one
        new = {s.id for c in changes if c.what in ("came", "left") for s in c.shape.walk()}
        one, other = (
            {(c.id, c.name, repr(c.before), repr(c.after)) for c in found if c.what == "value" and c.id not in new}
            for found in (changes, true.changes(scene))
        )
        assert one == other
    assert all(str(tell(c, scene)) for c in changes)
    while scene.undo():
        pass
    assert not net and not list(net.changes(scene)) and not net.touched(scene)


def test_there_and_back_is_nothing_and_what_came_is_one_line():
    scene = Scene([Circle(id="moon", radius=5), Group(id="boat", children=[Rect(id="hull")])])
    net = followed(scene)
    scene["moon"].radius = 8
    version = net.version
    scene["moon"].radius = 9
    assert net.version == version and [str(tell(c)) for c in net.changes(scene)] == ["moon: radius 5 → 9"]
    scene["moon"].radius = 5
    assert not net and net.version > version
    with scene.step("Add"):
        scene.add(Group(id="fleet", children=[Circle(id="bell")]))
        scene["bell"].radius = 3
    scene.rename(scene["hull"], "deck")
    scene["deck"].at = (4, 0)
    scene.move(scene["deck"], scene.top, 0)
    scene.remove(scene["moon"])
    assert [str(tell(c)) for c in net.changes(scene)] == [
        "deck: id hull → deck",
        "deck: group boat → the scene",
        "deck: at 0, 0 → 4, 0",
        "fleet is new: a group",
        "moon is gone: a circle",
    ]
    assert {s.id for s in net.touched(scene)} == {"deck", "fleet", "bell"}


def test_what_was_changed_before_goes_along_with_another_name():
    scene = Scene([Circle(id="moon", radius=5), Rect(id="luna_", size=(3, 4)), Group(id="boat")])
    net = followed(scene)
    scene["moon"].radius = 8
    scene["luna_"].size = (3, 5)
    scene.move(scene["moon"], scene["boat"], 0)
    scene.rename(scene["moon"], "luna")
    expected = [
        "luna_: size 3, 4 → 3, 5",
        "luna: id moon → luna",
        "luna: group the scene → boat",
        "luna: radius 5 → 8",
    ]
    assert sorted(str(tell(c)) for c in net.changes(scene)) == sorted(expected)
    scene["luna"].radius = 5
    scene.move(scene["luna"], scene.top, 0)
    scene["luna_"].size = (3, 4)
    assert [str(tell(c)) for c in net.changes(scene)] == ["luna: id moon → luna"]
    scene.rename(scene["luna"], "moon")
    assert not net and not list(net.changes(scene))


def test_two_shapes_are_held_against_each_other_and_made_the_same():
    scene = Scene([Circle(id="red", radius=5, fill="red"), Circle(id="blue", at=(9, 9), radius=6, fill="blue")])
    red, blue = scene.shapes
    found = differences(red, blue)
    assert [str(tell(c, red, blue)) for c in found] == [
        "red: at 0, 0 → 9, 9",
        "red: radius 5 → 6",
        "red: fill red → blue",
    ]
    assert give(red, blue, ["radius", "fill"]) == ["radius", "fill"]
    assert [c.name for c in differences(red, blue)] == ["at"] and scene.undo() == "Make blue like red"
    assert [c.name for c in differences(red, Rect(size=(10, 10), fill="red"))][:1] == ["kind"]


def test_of_long_lists_only_what_differs_is_told():
    points = [(i, i) for i in range(9)]
    one, two = Polyline(id="one", points=points), Polyline(id="two", points=[*points[:4], (7, 0), *points[5:]])
    (change,) = differences(one, two)
    assert str(tell(change, one, two)) == "one: points 5: 4, 4 → 5: 7, 0"
    two.points = points[:8]
    assert str(tell(differences(one, two)[0], one, two)) == "one: points 9 → 8"


def test_of_two_kinds_what_only_one_has_is_told_where_it_is_stated():
    circle, rect = Circle(fill="#aabbcc"), Rect(size=(30, 20), fill="#aabbcc", anchor="center")
    assert (
        {c.name for c in differences(circle, rect)} == {c.name for c in differences(rect, circle)} == {"kind", "size"}
    )
    circle.radius, rect.fill = 7, "#b8482a"
    assert {c.name for c in differences(circle, rect)} == {"kind", "size", "radius", "fill"}
    assert differences(circle, circle.copy()) == []
