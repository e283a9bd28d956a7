"""Scenes with y up: the same picture, hits, handles and boxes as the same scene stated with y down."""

import math

from agree import pixels
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import circles, decorated, ellipses, gradient, images, polygons, rects, scenes, texts

from chalcedon.craft.hold import Start
from chalcedon.evaluate import DisplayList
from chalcedon.geometry.boxes import is_empty
from chalcedon.painter.render import render_image
from chalcedon.scene import Group, Scene, Step


def close(a, b, within=1e-6):
    size = max([1.0, *(abs(v) for v in (*a, *b) if math.isfinite(v))])
    return all(p == q or abs(p - q) <= within * size for p, q in zip(a, b, strict=True))


@settings(max_examples=100)
@given(scenes, st.data())
def test_a_scene_restated_for_y_up_is_where_it_was(scene, data):
    display = DisplayList(scene)
    nodes = [display.node(s) for s in scene.walk()]
    before = [(n.bounds(), n.cull, n.shadow) for n in nodes]
    scene.y_axis = "up"
    display.update()
    assert len(scene.history.done) == 1
    for node, (box, cull, shadow) in zip(nodes, before, strict=True):
        assert close(node.bounds(), box, 1e-5) and close(node.cull, cull, 1e-5), node.shape
        assert node.shadow == shadow
    fresh = DisplayList(scene)  # evaluated from scratch it is the same
    assert all(close(fresh.node(n.shape).bounds(), n.bounds()) for n in nodes)


def numbers_of(value):
    if isinstance(value, bool) or value is None:
        return
    if isinstance(value, int | float):
        yield value
    elif isinstance(value, tuple):
        for part in value:
            yield from numbers_of(part)


@settings(max_examples=50)
@given(scenes)
def test_there_and_back_is_what_it_was(scene):
    before = [(s.id, n, s.stated(n)) for s in scene.walk() for n in s._values if n != "data"]
    scene.y_axis = "up"
    scene.y_axis = "down"
    for id, name, old in before:
        new = scene[id].stated(name)
        assert close(tuple(numbers_of(new)), tuple(numbers_of(old)), 1e-9), (id, name)
    scene.undo(), scene.undo()
    assert [(s.id, n, s.stated(n)) for s in scene.walk() for n in s._values if n != "data"] == before


small = st.floats(6, 58).map(lambda v: round(v, 1))


@st.composite
def pages(draw):
    """A few shapes about a small page, with paints that have places and directions of their own."""
    shapes = draw(st.lists(decorated(), min_size=1, max_size=3))
    for shape in shapes:
        shape.at, shape.opacity, shape.visible = (draw(small), draw(small)), 1, True
        if "dash" in shape.properties:
            shape.dash = ()  # it runs the other way round, as angles do
        if "fill" in shape.properties:
            shape.fill = draw(st.one_of(gradient, gradient.map(in_box), st.just("#d97b4a")))
    group = Group(children=shapes[1:], at=(draw(small), draw(small)), steps=draw(st.sampled_from([(), TURNED])))
    return Scene([shapes[0], group], size=(64, 64), background=draw(st.sampled_from(["#ffffff", WASH])))


def in_box(g):
    line = tuple(round(v / 200, 3) for v in g.line)
    return g._replace(line=line[:2] + tuple(abs(v) for v in line[2:]), units="box")


TURNED = (Step("rotate", 30), Step("scale", 0.8, 1.2, about=(3, 4)))
WASH = {"linear": [0, 0, 20, 60], "stops": [[0, "#efe0b0"], [1, "#204060"]], "units": "scene"}


@settings(max_examples=40)
@given(pages())
def test_it_is_painted_as_it_was(scene):
    before = pixels(render_image(scene))
    scene.y_axis = "up"
    off = abs(pixels(render_image(scene)) - before).max(axis=2)
    # edges are rasterised from the other end of their curves: a few px may be off by a shade
    assert (off > 40).sum() <= 6 and (off > 8).mean() < 0.02, (off > 40).sum()


@settings(max_examples=80)
@given(st.one_of(rects, texts, images, circles, ellipses, polygons), st.floats(-30, 30), st.floats(-30, 30), st.booleans())
def test_handles_stand_and_work_where_they_did(shape, dx, dy, held):
    scenes = [Scene([Group(at=(40, 30), steps=TURNED, children=[shape.copy()])], size=(300, 200)) for _ in range(2)]
    scenes[1].y_axis = "up"
    made = []
    for scene in scenes:
        display = DisplayList(scene)
        start = Start(display.node(scene.shapes[0].children[0]))
        if start.from_scene is None or is_empty(start.box):
            return
        made.append((display, start, start.handles()))
    (_, one, first), (_, two, second) = made
    spots = {h: two.scene_of(h.raw) for h in second}
    for handle in first:
        x, y = one.scene_of(handle.raw)
        near = [h for h, spot in spots.items() if math.dist(spot, (x, y)) < 1e-3 and h.role == handle.role]
        assert near, (handle.role, x, y, spots.values())
        boxes = []
        for (display, start, _), h in ((made[0], handle), (made[1], near[0])):
            raw = start.raw_of(x + dx, y + dy)
            for name, value in start.settle(h.drag(raw, 6, held)).items():
                start.shape.assign(name, value)
            display.settle()
            boxes.append(start.node.bounds())
            while display.scene.history.done and not display.scene.undo_name.startswith("Let"):
                display.scene.undo()
            display.settle()
        if handle.role != "corner" or shape.kind == "rect":  # a direction is to whole degrees
            assert close(*boxes, 2e-3), handle.role
