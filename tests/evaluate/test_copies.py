"""A group painted three times, each time with other values: painting, hits, probe, measures tell the copies apart."""

import pytest
from agree import pixels
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chalcedon.craft.descriptions import describe
from chalcedon.desk.canvas.measure import measure
from chalcedon.evaluate import DisplayList
from chalcedon.hit import HitTester, probe
from chalcedon.painter import render_image
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Rect, Scene

COLORS = ("#ff0000", "#00ff00", "#0000ff")


class Toy:
    """Paints what is in groups called `lamps...` so many times, each 30 px further, with another colour and radius."""

    def __init__(self, times=3):
        self.times = times

    def count(self, group):
        return self.times if group.id.startswith("lamps") else None

    def values(self, shape, copy):
        i = copy[-1]
        if self.count(shape):
            return {"at": (30 * i, 0)}
        return {"fill": COLORS[i % 3], "radius": 5 + i} if shape.kind == "circle" else {}


def row(**more):
    scene = Scene(size=(100, 40), background="#ffffff")
    group = scene.add(Group(id="lamps", at=(10, 20), **more))
    scene.add(Circle(id="lamp", radius=1, fill="black"), group)
    return scene


def test_each_copy_has_its_own_values_place_and_hits():
    scene = row()
    display = DisplayList(scene, Toy())
    lamp = scene["lamp"]
    assert [(n.copy, n.values["radius"], n.world[4:]) for n in display.nodes(lamp)] == [
        ((0,), 5, (10, 20)), ((1,), 6, (40, 20)), ((2,), 7, (70, 20)),
    ]  # fmt: skip
    assert lamp.radius == 1 and display.node(lamp).copy == (0,) and display.node(lamp, (2,)).values["radius"] == 7
    picture = pixels(render_image(display))
    assert [tuple(picture[20, x]) for x in (10, 40, 70)] == [(255, 0, 0), (0, 255, 0), (0, 0, 255)]
    tester = HitTester(scene, display)
    assert [(h.id, h.copy, h.local) for h in tester.hit_test(76, 20)] == [("lamp", (2,), (6, 0))]
    assert not tester.hit_test(16, 20), "the first is smaller"
    assert next((f.copy, f.part) for f in probe(tester, 40, 20)) == ((1,), "fill")
    assert {f.copy for f in probe(tester, 25, 20)} >= {(0,), (1,)}, "near misses"
    assert [measure(n, "radius", ()).label for n in display.nodes(lamp)] == ["radius 5", "radius 6", "radius 7"]
    widths = [next(d.numbers for d in describe(n) if d.word == "diameter") for n in display.nodes(lamp)]
    assert widths == [(10,), (12,), (14,)]
    spots = [measure(n, "radius", ()).firm[0][0] for n in display.nodes(lamp)]
    assert spots == [(10, 20), (40, 20), (70, 20)]


def test_the_copies_may_be_others_after_they_are_renewed():
    scene, toy = row(), Toy()
    display = DisplayList(scene, toy)
    tester = HitTester(scene, display)
    toy.times = 2
    display.renew(scene["lamps"])
    changes = display.update()
    assert changes.order and len(display.nodes(scene["lamp"])) == 2
    assert not tester.hit_test(70, 20) and tester.hit_test(40, 20)
    assert any(box[0] <= 70 <= box[2] for box in changes.boxes), "where the third was is repainted"


def told(display):
    return [(n.shape.id, n.copy, n.world, n.box, n.cull, n.fill, n.visible, n.opacity) for n in display.order]


@settings(max_examples=60, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(st.tuples(st.integers(0, 8), st.integers(0, 50), st.integers(0, 50)), max_size=14))
def test_copies_follow_edits_as_if_made_anew(acts):
    scene = Scene(size=(200, 100))
    for name in ("lamps", "lamps_inner", "plain"):
        scene.add(Group(id=name), scene["lamps"] if name == "lamps_inner" else None)
    display = DisplayList(scene, Toy())
    tester = HitTester(scene, display)
    for kind, i, j in acts:
        shapes, groups = list(scene), scene.find("group") or [scene.top]
        shape, group = shapes[i % len(shapes)] if shapes else None, groups[j % len(groups)]
        if kind < 3 or shape is None:
            new = (Circle(radius=j + 1), Rect(at=(i, j)), Group(Circle(at=(i, 0)), at=(j, 0)))[kind % 3]
            scene.add(new, group, i % (len(group.children) + 1))
        elif kind == 3:
            scene.remove(shape)
        elif kind == 4 and group.scene is scene and not any(g is group for g in shape.walk()):
            scene.move(shape, group, i % 3)
        elif kind == 5:
            shape.at = (i, j)
        elif kind == 6:
            shape.steps = ({"rotate": i},)
        elif kind == 7:
            scene.undo()
        else:
            shape.visible = not shape.visible
        if j % 3 == 0:
            display.update()
    display.update()
    fresh = DisplayList(scene, Toy())
    assert told(display) == told(fresh)
    again = HitTester(scene, fresh)
    for x in range(0, 120, 13):
        for y in range(0, 60, 13):
            ours, theirs = ([(h.id, h.copy, h.part) for h in t.hit_test(x, y)] for t in (tester, again))
            assert ours == theirs


def test_a_clip_inside_a_copy_is_that_of_the_copy():
    scene = row()
    scene.add(Rect(id="pane", at=(0, -20), size=(4, 40), fill="#123456"), scene["lamps"], 0)
    inner = scene.add(Group(id="inner", clip="pane"), scene["lamps"])
    scene.move(scene["lamp"], inner, 0)
    tester = HitTester(scene, DisplayList(scene, Toy()))
    assert [h.copy for h in tester.hit_test(41, 20) if h.id == "lamp"] == [(1,)]
    assert not [h for h in tester.hit_test(45, 20) if h.id == "lamp"], "clipped by the pane of its own copy"


def test_a_copy_that_there_is_not():
    scene = row()
    with pytest.raises(ValueProblem, match="has no copy"):
        DisplayList(scene, Toy()).node(scene["lamp"], (7,))
