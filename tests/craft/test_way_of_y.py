"""Scenes with y up: the same picture, hits, handles and boxes as the same scene stated with y down."""

import math

import pytest
from agree import pixels
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PySide6.QtGui import QColor, QImage
from strategies import circles, decorated, ellipses, gradient, images, polygons, rects, scenes, texts

from chalcedon import along, hit_test, parse_line, probe
from chalcedon.craft.hold import Start
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import is_empty
from chalcedon.painter.render import render_image
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Path, Picture, Polyline, Rect, Scene, Star, Step, Text
from chalcedon.scene.over import ROUND, run_y
from chalcedon.source import sentence

OTHER = {"down": "up", "up": "down"}


def close(a, b, within=1e-6):
    size = max([1.0, *(abs(v) for v in (*a, *b) if math.isfinite(v))])
    return all(p == q or abs(p - q) <= within * size for p, q in zip(a, b, strict=True))


@settings(max_examples=60)
@given(scenes)
def test_a_scene_restated_for_y_up_is_where_it_was(scene):
    display = DisplayList(scene)
    nodes = [display.node(s) for s in scene.walk()]
    before = [(n.bounds(), n.cull, n.shadow) for n in nodes]
    assume(all(abs(n.value("at")[1]) < 1e8 for n in nodes))
    scene.y_axis = OTHER[scene.y_axis]
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
    def stated():
        return {(s.id, n): s.stated(n) for s in scene.walk() for n in s._values if n != "data"}

    before, way = stated(), scene.y_axis
    try:
        scene.y_axis = OTHER[way]
    except ValueProblem as problem:
        assert "too large" in str(problem), "a place 1e9 px below the page can't be stated from the bottom"
        assert stated() == before and scene.y_axis == way and not scene.undo_name
        return
    scene.y_axis = way
    for (id, name), old in before.items():
        new = scene[id].stated(name)
        assert close(tuple(numbers_of(new)), tuple(numbers_of(old)), 1e-9), (id, name)
    scene.undo(), scene.undo()
    assert stated() == before


away = st.floats(-30, 30)
small = st.floats(6, 58).map(lambda v: round(v, 1))


@st.composite
def pages(draw):
    """A few shapes about a small page, with paints that have places and directions of their own."""
    shapes = draw(st.lists(decorated(), min_size=1, max_size=3))
    for shape in shapes:
        shape.at, shape.opacity, shape.visible = (draw(small), draw(small)), 1, True
        if shape.kind in ROUND:
            shape.dash, shape.mid_head = (), "none"  # these run the other way round, as angles do
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


@pytest.mark.parametrize("look", ["dash 30 7 dash_offset 5", "start_head barb", "mid_head barb", "end_head bar"])
@pytest.mark.parametrize(
    "line",
    ["regular_polygon 100 100 6 60 rotate 10", "star 100 100 5 60 30", "rect 40 50 100 80 corners 20",
     "circle 100 100 60", "ellipse 100 100 60 40",
     "annulus 100 100 60 30", "arc 100 100 60 60 20 200 ends pie", "spiral 100 100 60",
     "line 40 40 150 100", "polyline 40,40 150,60 100,150 closed yes", "text 20 90 Sail size 90"],
)  # fmt: skip
def test_what_then_runs_the_other_way_is_named(line, look):
    shape = parse_line(f"{line} id it fill none stroke black 5 {look}")
    scene = Scene([shape], size=(200, 200))
    before = pixels(render_image(scene))
    named = run_y(scene, "up")
    off = abs(pixels(render_image(scene)) - before).max(axis=2)
    assert ((off > 40).sum() > 20) == bool(named)
    assert named in ([], [f"it.{look.split()[0]}"])


@settings(max_examples=80)
@given(st.one_of(rects, texts, images, circles, ellipses, polygons), away, away, st.booleans())
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


def test_built_with_y_up_from_the_start():
    """As it is read off graph paper: y counts from the bottom, angles run from x toward y, words stand upright."""
    scene = Scene(size=(400, 300), y_axis="up")
    moon = scene.add(Circle(id="moon", at=(100, 250), radius=20))
    quay = scene.add(Rect(id="quay", at=(50, 80), size=(200, 60)))
    mast = scene.add(
        Polyline(id="mast", at=(150, 80), points=[(0, 0), (0, 120)], steps=[{"rotate": 90}], pivot="bottom")
    )
    assert moon.bounds() == (80, 230, 120, 270)
    assert quay.bounds() == (50, 20, 250, 80), "its top left corner is at `at`"
    assert mast.bounds() == pytest.approx((30, 80, 150, 80)), "turned to the left about its foot"
    hits = hit_test(scene, 100, 250)
    assert [h.id for h in hits] == ["moon"] and hits[0].point == (100, 250)
    assert hits[0].distance == pytest.approx(20, abs=0.01) and hit_test(scene, 100, 50)[0].id == "quay"
    assert probe(scene, 100, 250)[0].shape is moon
    assert along(scene, quay).nearest(60, 200)[0].y == pytest.approx(80)
    quay.give({"between": (0, 0, 400, 40)})
    assert quay.bounds() == (0, 0, 400, 40)
    scene.size = (400, 500)
    assert moon.bounds() == (80, 230, 120, 270), "the origin went along with the bottom of the page"
    picture = pixels(render_image(scene))
    assert tuple(picture[499, 200]) == (217, 123, 74) or picture[499, 200].sum() < 765
    assert picture[240, 100].sum() < 765 and picture[500 - 300, 100].sum() == 765


def test_a_line_for_such_a_scene_points_up():
    scene = Scene(size=(400, 300), y_axis="up")
    mast = scene.add(parse_line("line 10 10 0 40", up=True))
    assert sentence(mast).startswith("line going up")
    star, sunk = (scene.add(parse_line(f"star 100 100 tips 5 {more}", up=True)) for more in ("", "facing -90"))
    assert star.facing == 90 and sunk.facing == -90
    crate = scene.add(parse_line("rect between 10 20 60 50", up=True))
    assert crate.bounds() == (10, 20, 60, 50)


def test_formulas_are_turned_and_turned_back_and_what_cannot_be_is_said():
    tide = Formula("tide * 2", 40)
    scene = Scene(
        [
            Circle(id="float", at=(5, tide), steps=[Step("rotate", Formula("swell", 9))]),
            Group(id="g", at=(1, 1), children=[Rect(id="inner", at=(0, tide))]),
            Path(id="odd", data="M0 0 L10 10 oh"),
            Polyline(id="whole", at=Formula("moon.at", (3, 4))),
        ],
        size=(200, 100),
    )
    assert run_y(scene, "up") == ["odd.data", "whole.at"]
    assert scene["float"].stated("at") == (5, Formula("scene.height - (tide * 2)", 60))
    assert scene["float"].steps[0].values == (-9,) and scene["inner"].stated("at")[1] == Formula("-(tide * 2)", -40)
    run_y(scene, "down")
    assert scene["float"].stated("at") == (5, tide) and scene["inner"].stated("at") == (0, tide)
    with pytest.raises(ValueProblem, match="sideways"):
        run_y(scene, "sideways")


def test_words_in_a_shape_and_pictures_stay_upright(tmp_path):
    mark = QImage(8, 8, QImage.Format.Format_RGB32)
    mark.fill(QColor("#ffffff"))
    for x in range(8):
        for y in range(4):
            mark.setPixelColor(x, y, QColor("#204060"))  # dark above
    mark.save(str(tmp_path / "mark.png"))
    scene = Scene(
        [
            Rect(id="crate", at=(4, 4), size=(60, 40), fill=Picture("mark.png", "fill")),
            Circle(id="moon", at=(100, 24), radius=20, fill=Picture("mark.png", "fill")),
            Star(
                id="sun", at=(150, 24), outer=22, fill=Picture("mark.png", "tile"), stroke=Picture("mark.png", "cover")
            ),
            Text(id="name", content="Lp", size=20, inside="moon"),
        ],
        size=(180, 60),
    )
    scene.folder = str(tmp_path)
    before = pixels(render_image(scene))
    scene.y_axis = "up"
    assert (abs(pixels(render_image(scene)) - before).max(axis=2) > 40).sum() <= 12


def test_guides_the_reference_picture_and_presets_go_along():
    scene = Scene(
        [Rect(id="crate", shadow=(2, 5, 4, "#000000"), wears=["deep"])],
        size=(200, 100),
        guides_x=[30],
        guides_y=[20, 90],
        reference="chart.png",
        reference_at=(10, 15),
        presets={"deep": {"shadow": [2, 5, 4, "#000000"], "opacity": 0.5}},
    )
    before = {n: scene.stated(n) for n in scene.properties}
    scene.y_axis = "up"
    assert scene.guides_x == (30,) and scene.guides_y == (80, 10) and scene.reference_at == (10, 85)
    assert scene["crate"].shadow[:2] == (2, -5) == dict(dict(scene.presets)["deep"])["shadow"][:2]
    scene.undo()
    assert {n: scene.stated(n) for n in scene.properties} == before and scene["crate"].shadow[1] == 5


def test_formulas_come_to_the_same_places_and_go_back_to_their_texts():
    inner = Circle(id="inner", at=(Formula("moon.center.x"), Formula("moon.center.y + 10")), radius=3)
    scene = Scene(
        [
            Circle(id="moon", at=(100, 60), radius=20),
            Rect(id="sea", at=(0, Formula("moon.bottom + 40")), size=(400, Formula("moon.at.y / 2"))),
            Group(id="g", at=(50, 50), children=[inner]),
            Circle(id="finger", at=(Formula("pointer.x"), Formula("pointer.y - 30")), radius=3),
        ],
        size=(400, 300),
    )

    def boxes():
        display = DisplayList(scene)
        assert not display.formulas.problems
        return {s.id: pytest.approx(display.node(s).bounds()) for s in scene.walk()}

    def texts():
        return [f.text for s in scene.walk() for many in s.formulas().values() for f in many]

    before, written = boxes(), texts()
    scene.y_axis = "up"
    assert {k: v.expected for k, v in boxes().items()} == before and texts() != written
    scene.y_axis = "down"
    assert {k: v.expected for k, v in boxes().items()} == before and texts() == written
