"""Shapes made from outlines: hit where the shapes were, in place, in one undo step."""

import pytest
from hypothesis import given, settings
from strategies import leaves

from chalcedon.craft.algebra import as_one_area, as_path, combined, offset_path, stroke_as_path
from chalcedon.evaluate import DisplayList
from chalcedon.geometry.flatten import distance_to_edges, edges, flatten
from chalcedon.hit import HitTester, hit_test
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group, Image, Line, Path, Polyline, Rect, Scene, Star, Text

GRID = [(x * 7.3 + 0.11, y * 7.1 + 0.13) for x in range(-12, 13) for y in range(-12, 13)]


def hits(scene, points=GRID):
    tester = HitTester(scene)
    return [tuple(h.id for h in tester.hit_test(x, y)) for x, y in points]


def pair(**more):
    one = Rect(id="one", at=(-60, -40), size=(80, 60), fill="red", steps=[{"rotate": 20}])
    two = Circle(id="two", at=(20, 10), radius=35, fill="blue", **more)
    return Scene([one, Group(id="g", at=(5, 5), steps=[{"scale": [1.2, 0.9]}], children=[two])])


LOGIC = {
    "union": lambda a, b: a or b,
    "difference": lambda a, b: a and not b,
    "intersection": lambda a, b: a and b,
    "exclusion": lambda a, b: a != b,
}


@pytest.mark.parametrize("operation", LOGIC)
def test_the_result_is_hit_where_logic_says(operation):
    scene = pair()
    before = hits(scene)
    display = DisplayList(scene)
    new = combined(display, [scene["one"], scene["two"]], operation)
    assert new.scene is scene and new.id == operation and new.fill == "red"
    assert new.parent is scene["g"] and "one" not in scene and "two" not in scene
    after = hits(scene)
    wrong = [
        p for p, b, a in zip(GRID, before, after, strict=True) if LOGIC[operation]("one" in b, "two" in b) != bool(a)
    ]
    assert len(wrong) <= 2, wrong  # a point may lie on an edge
    assert scene.undo_name.startswith(("Unite", "Subtract", "Intersect", "Exclude"))
    scene.undo()
    assert hits(scene) == before


def test_kept_operands_groups_and_what_cannot_be():
    scene = pair()
    scene.add(Line(id="line", to=(10, 10)))
    display = DisplayList(scene)
    combined(display, [scene["one"], scene["g"]], "union", keep=True)
    assert {"one", "two", "union"} <= {s.id for s in scene.walk()}
    for shapes, words in (
        ([scene["one"]], "two shapes"),
        ([scene["one"], scene["line"]], "encloses no area"),
    ):
        with pytest.raises(ChalcedonError, match=words):
            combined(display, shapes, "union")
    far = scene.add(Circle(id="far", at=(900, 900), radius=5))
    with pytest.raises(ChalcedonError, match="nothing is left"):
        combined(display, [scene["one"], far], "intersection")
    with pytest.raises(ChalcedonError, match="Did you mean union"):
        combined(display, [scene["one"], far], "unoin")
    assert far.scene is scene


@pytest.mark.parametrize("align", ["center", "inside", "outside"])
def test_a_stroke_as_a_path_is_hit_where_the_stroke_was(align):
    star = Star(id="s", outer=60, inner=25, stroke="red", fill="blue", stroke_width=9, stroke_align=align, join="round")
    star.steps = [{"rotate": 12}, {"scale": [1.1, 0.8]}]
    scene = Scene([star])
    before = [h[0].part if (h := hit_test(scene, x, y)) else "" for x, y in GRID]
    new = stroke_as_path(DisplayList(scene), star)
    assert (new.fill, star.stroke, new.id) == ("red", None, "s_stroke")
    after = [h[0].id if (h := hit_test(scene, x, y)) else "" for x, y in GRID]
    wrong = [p for p, b, a in zip(GRID, before, after, strict=True) if (b == "stroke") != (a == "s_stroke")]
    assert len(wrong) <= 2, wrong


def test_a_line_becomes_its_stroke_with_caps_dashes_and_heads():
    line = Line(id="l", at=(10, 10), to=(100, 0), stroke="red", stroke_width=10, dash=(30, 10), end_head="triangle")
    scene = Scene([line])
    new = stroke_as_path(DisplayList(scene), line)
    assert [s.id for s in scene.shapes] == ["l_stroke"]
    node = DisplayList(scene).node(new)
    assert node.bounds()[2] == pytest.approx(110, abs=0.1) and node.bounds()[3] > 20
    assert not hit_test(scene, 45, 10) and hit_test(scene, 30, 10)
    with pytest.raises(ChalcedonError, match="no stroke"):
        stroke_as_path(DisplayList(scene), new)
    thin = stroke_as_path(DisplayList(scene), scene.add(Line(id="hair", to=(100, 0), stroke="red", stroke_width=0.4)))
    assert DisplayList(scene).node(thin).bounds() == pytest.approx((0, -0.2, 100, 0.2), abs=1e-3)


def test_an_offset_lies_around_or_inside():
    scene = Scene([Rect(id="r", at=(10, 10), size=(60, 40), join="miter", steps=[{"rotate": 30}])])
    display = DisplayList(scene)
    outer, inner = offset_path(display, scene["r"], 5), offset_path(display, scene["r"], -5)
    assert [s.id for s in scene.shapes] == ["r_offset", "r", "r_offset_2"]
    display.update()
    widths = [b[2] - b[0] for b in (display.node(s).bounds() for s in (inner, scene["r"], outer))]
    assert widths == sorted(widths) and widths[2] - widths[1] == pytest.approx(widths[1] - widths[0], abs=0.1)
    with pytest.raises(ChalcedonError, match="nothing is left"):
        offset_path(display, scene["r"], -21)


@settings(max_examples=60)
@given(leaves)
def test_any_kind_as_a_path_looks_the_same(shape):
    shape.id = "it"
    scene = Scene([shape])
    display = DisplayList(scene)
    node = display.node(shape)
    before, world_pen = edges(flatten(node.outline.mapped(node.world), 0.05)), (node.pen, node.stroke, node.fill)
    path = as_path(scene, node)
    assert isinstance(path, Path) and path.id == "it" and scene["it"] is path
    display.update()
    new = display.node(path)
    after = edges(flatten(new.outline.mapped(new.world), 0.05))
    size = max([1.0, *(abs(v) for e in before for v in e)])
    assert all(distance_to_edges(after, x, y) < 0.1 + size * 1e-4 for x, y, *_ in before[:60])
    assert (new.pen, new.stroke, new.fill) == world_pen
    scene.undo()
    assert scene["it"] is shape or scene["it"].kind == shape.kind


def test_letters_become_outlines_and_pictures_do_not():
    scene = Scene([Text(id="t", at=(10, 10), content="Lamp", size=40, steps=[{"rotate": 30}]), Image(id="view")])
    display = DisplayList(scene)
    box = display.node(scene["t"]).painted_bounds()
    path = as_path(scene, display.node(scene["t"]))
    display.update()
    assert display.node(path).bounds() == pytest.approx(box, abs=0.01)
    with pytest.raises(ChalcedonError, match="no outline"):
        as_path(scene, display.node(scene["view"]))


def test_an_outline_that_crosses_itself_becomes_one_area_filled_as_before():
    five = Polyline(id="p", closed=True, points=[(0, -50), (29, 40), (-48, -15), (48, -15), (-29, 40)], fill="red")
    for rule in ("nonzero", "evenodd"):
        shape = five.copy()
        shape.fill_rule = rule
        scene = Scene([shape])
        before = hits(scene)
        area = as_one_area(DisplayList(scene), shape)
        assert area.fill_rule == "nonzero"
        assert sum(a != b for a, b in zip(before, hits(scene), strict=True)) <= 1
