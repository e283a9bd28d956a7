"""The display list: incremental equals fresh, boxes are exact, arranging keeps the picture."""

import itertools
import math

import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st
from PySide6.QtGui import QTransform
from scene.test_scene import apply, edit
from strategies import anchor, leaves, scenes, steps

from chalcedon.craft import arrange
from chalcedon.craft.hold import set_anchor, set_pivot
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.outlines import OUTLINES
from chalcedon.formula import Formula
from chalcedon.geometry import EMPTY
from chalcedon.geometry.path import subpaths
from chalcedon.hit import HitTester
from chalcedon.painter.outlines import painter_path
from chalcedon.scene import Arc, Circle, Group, Line, Path, Rect, Scene

PAINT = (
    *(("stroke_on", False), ("fill_on", False), ("stroke", "#204060"), ("stroke", None), ("stroke_width", 0)),
    *(("stroke_width", 3), ("cap", "square"), ("join", "round"), ("miter_limit", 9), ("dash", (3, 2))),
    *(("dash_offset", 1), ("stroke_align", "inside"), ("stroke_align", "outside"), ("start_head", "dot")),
    *(("end_head", "barb"), ("steady", True), ("paint_order", "stroke"), ("opacity", 0.5), ("blend", "multiply")),
    ("cuts", True),
)


def picture(display):
    return (
        [
            (n.shape.id, n.world, n.cull, n.outline, n.fill, n.stroke, n.pen, n.opacity, n.visible, n.locked, n.pointer)
            for n in display.order
        ],
        [(a.first, a.last, a.group.shape.id) for a in display.layers],
        [(n.shape.id, *r) for n, *r in display.cutters],
    )


def going_round(display):
    return {(cell.node.shape.id, cell.name) for cell in display.formulas.every() if cell.loop}


def failing(display):
    return {(cell.node.shape.id, cell.name) for cell in display.formulas.problems}


@pytest.mark.parametrize("kind", [Rect, Line, Arc])
def test_a_node_has_the_paint_that_is_stated(kind):
    """Each of it alone and with any other; and the usual one again when that is taken back."""
    for first, second in itertools.combinations_with_replacement(PAINT, 2):
        has_the_paint_that_is_stated(kind(), dict((first, second)))


def has_the_paint_that_is_stated(shape, said):
    for name, value in said.items():
        shape.assign(name, value)
    scene = Scene([shape])
    display = DisplayList(scene)
    for _ in range(2):
        (node,) = display.order
        pen, manner = node.pen, node.manner
        assert (node.fill is None) == (not shape.fill_on or shape.fill is None)
        assert (node.stroke is None) == (not shape.stroke_on or shape.stroke is None)
        closed = node.outline.verbs.count("M") == node.outline.verbs.count("Z") > 0
        assert manner.align == (shape.stroke_align if closed else "center")
        assert pen.width == shape.stroke_width * (1 if manner.align == "center" else 2)
        assert pen[1:] == (shape.cap, shape.join, shape.miter_limit, shape.dash, shape.dash_offset)
        assert (manner.start, manner.end) == (("none", "none") if closed else (shape.start_head, shape.end_head))
        assert (manner.steady, manner.under) == (shape.steady, shape.paint_order == "stroke")
        assert (node.opacity, node.blend, node.cuts) == (shape.opacity, shape.blend, shape.cuts)
        for name in said:
            scene.set(shape, name, shape.properties[name].default)
        display.update()


@settings(max_examples=60)
@given(scenes, st.lists(st.tuples(edit, st.booleans()), max_size=14))
def test_incremental_equals_fresh(scene, edits):
    display = DisplayList(scene)
    tester = HitTester(scene, display)
    tester.index.settle(math.inf)
    for what, now in edits:
        if now:
            scene.undo() if what[0] == 8 else apply(scene, *what)
            display.update()
        else:
            apply(scene, *what)
            if what[0] % 2:
                display.settle()  # in the middle of a step: what changed is told with the rest
    display.update()
    fresh = DisplayList(scene)
    # in a group that turns about its own box a place in it may depend on itself: it keeps what it came to before,
    # which is not what is stated, and so does what follows it
    assert going_round(display) == going_round(fresh)
    if display.formulas.loops:
        return
    assert failing(display) == failing(fresh) == set()
    assert picture(display) == picture(fresh)
    again = HitTester(scene, fresh)
    for x, y in ((0, 0), (10, -30), (100, 40), (-80, 90)):
        assert [h.id for h in tester.hit_test(x, y)] == [h.id for h in again.hit_test(x, y)]
        near = (x - 40, y - 40, x + 40, y + 40)
        assert [n.shape.id for n in tester.index.within(near)] == [n.shape.id for n in again.index.within(near)]


def test_only_what_depends_on_an_edit_is_evaluated():
    scene = Scene([Group(id="a", children=[Circle(id="x"), Circle(id="y")]), Circle(id="z")])
    display = DisplayList(scene)
    scene["x"].radius = 3
    assert [n.shape.id for n in display.update().nodes] == ["x"]
    scene["a"].at = (5, 5)
    assert {n.shape.id for n in display.update().nodes} == {"x", "y"}
    scene["a"].note = "no effect on the picture"
    assert not display.update()
    scene["a"].steps, scene["a"].pivot = [{"rotate": 30}], "center"
    display.update()
    scene["x"].at = (50, 0)  # the group turns about the middle of what is in it
    assert {n.shape.id for n in display.update().nodes} == {"x", "y"}


@settings(max_examples=100)
@given(leaves)
@example(Rect(size=(14, 0.72), corners=1, corner_style="smooth", stroke="red", join="miter"))  # sides without length
def test_boxes_are_those_of_qt(shape):
    """Exact bounds of outlines and of strokes, and the short way for each kind against its outline."""
    node = DisplayList(Scene([Group(steps=[{"rotate": 33}], children=[shape])])).node(shape)
    # Qt leaves out a subpath without length
    assume(all(len({s.coords[i : i + 2] for i in range(0, len(s.coords), 2)}) > 1 for s in subpaths(node.outline)))
    box = QTransform(*node.world).map(painter_path(node.outline)).boundingRect()
    if not node.outline.verbs:
        assert node.bounds() == EMPTY
        return
    # Qt looks for the extrema of a quadratic among those of a cubic whose first term is noise
    off = 0.05 if "Q" in node.outline.verbs else 1e-6
    assert node.bounds() == pytest.approx((box.left(), box.top(), box.right(), box.bottom()), abs=off)
    outline, quick = OUTLINES[shape.kind]
    assert quick(shape.plain_values()) == pytest.approx(outline(shape.plain_values()).bounds(), abs=1e-9)
    painted, cull = node.painted_bounds(), node.cull
    assert cull[0] <= painted[0] + 1e-6 and cull[3] >= painted[3] - 1e-6
    assert cull[1] <= painted[1] + 1e-6 and cull[2] >= painted[2] - 1e-6


@pytest.mark.parametrize("data", ["M10 10 L10 10", "M10 10 Z", "M10 10 C10 10 10 10 10 10", "M2 9 M10 10 H10"])
def test_a_subpath_without_length_is_as_large_as_its_caps(data):
    """SVG 2, 13.5.4: round and square caps are drawn, and nothing without them."""
    shape = Path(data=data, stroke="red", stroke_width=8, fill=None, cap="butt")
    node = DisplayList(Scene([shape])).node(shape)
    assert node.painted_bounds() == (10, 10, 10, 10)
    for cap in ("round", "square"):
        shape.cap = cap
        node = DisplayList(shape.scene).node(shape)
        assert node.painted_bounds() == (6, 6, 14, 14)


@settings(max_examples=100)
@given(leaves, anchor, anchor)
def test_anchor_and_pivot_change_without_moving_the_shape(shape, new, pivot):
    scene = Scene([shape])
    display = DisplayList(scene)
    before = display.node(shape).bounds()
    assume(math.hypot(*(before[2] - before[0], before[3] - before[1])) < 2000)
    set_anchor(display, shape, new)
    set_pivot(display, shape, pivot)
    display.update()
    assert shape.anchor == new and shape.pivot == pivot
    assert display.node(shape).bounds() == pytest.approx(before, abs=0.02)


@settings(max_examples=100)
@given(st.lists(leaves, min_size=1, max_size=4), steps, steps, anchor)
def test_grouping_and_ungrouping_keep_the_picture(shapes, outer, own, where):
    scene = Scene([Group(id="outer", at=(30, 40), steps=outer, children=shapes), Rect(id="last")])
    display = DisplayList(scene)
    before = [n.bounds() for n in display.order]
    new = arrange.group(display, shapes[:2])
    display.update()
    assert [n.shape for n in display.order if n.shape in shapes[:2]] == shapes[:2]
    new.at, new.steps = (new.at[0] + 1, 2), own
    display.update()
    moved = {n.shape: n.bounds() for n in display.order}
    arrange.ungroup(display, new)
    display.update()
    for node in display.order:
        assert node.bounds() == pytest.approx(moved[node.shape], abs=1e-4)
    arrange.ungroup(display, scene["outer"])
    display.update()
    for node in display.order:
        assert node.bounds() == pytest.approx(moved[node.shape], abs=1e-3)
    while scene.undo():
        pass
    display.update()
    for node, box in zip(display.order, before, strict=True):
        assert node.bounds() == pytest.approx(box)


def test_steps_apply_in_reading_order_about_the_carried_pivot():
    scene = Scene([Rect(id="r", at=(10, 10), size=(20, 10))])
    display, shape = DisplayList(scene), scene["r"]
    shape.steps = [{"translate": [100, 0]}, {"rotate": 90}]
    display.update()
    assert display.node(shape).bounds() == pytest.approx((115, 5, 125, 25)), "turned where it was carried to"
    shape.steps = [{"rotate": 90, "about": [0, 0]}, {"scale": [2, 1]}]
    display.update()
    assert display.node(shape).bounds() == pytest.approx((-25, 10, -5, 30)), "scaled along the parent's axes"
    shape.steps = [{"rotate": 90, "off": True}]
    display.update()
    assert display.node(shape).bounds() == (10, 10, 30, 20)


def test_moving_goes_through_groups_and_formulas():
    scene = Scene(
        [
            Group(
                id="g",
                steps=[{"rotate": 90}],
                pivot="origin",
                children=[Circle(id="c", at=(Formula("pointer.x - 130", 50), 0))],
            )
        ]
    )
    display = DisplayList(scene)
    x = display.node(scene["c"]).bounds()[0]
    arrange.move_by(display, [scene["c"], scene["g"]], 0, 10)
    display.update()
    assert display.node(scene["c"]).bounds()[0] == pytest.approx(x), "the group moved, and its child only with it"
    arrange.move_by(display, [scene["c"]], 0, 10)
    assert scene["c"].stated("at")[0] == Formula("pointer.x - 120", 60)
    assert scene["c"].at == (170, 0), "the pointer is in the middle of the page, at 290 in the turned group"


def test_duplicates_get_ids_of_their_own():
    scene = Scene([Group(id="g", children=[Circle(id="c")])])
    display = DisplayList(scene)
    (twin,) = arrange.duplicate(display, [scene["g"]], 5, 6)
    assert (twin.id, twin.children[0].id, twin.at) == ("g_2", "c_2", (5, 6))
    scene.undo()
    assert [s.id for s in scene.walk()] == ["g", "c"]
