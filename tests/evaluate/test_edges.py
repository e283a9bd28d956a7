"""What depends on what: texts in shapes, clips, palette colours, groups about their own box, in chains."""

import pytest
from evaluate.test_evaluate import picture
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon import check_scene
from chalcedon.evaluate import DisplayList
from chalcedon.scene import Circle, Group, Rect, Scene, Step, Text

IDS = ("disc", "deck", "first", "second", "third", "crate", "inner")
SMALL = st.integers(-50, 50)
edits = st.one_of(
    st.tuples(st.just("inside"), st.sampled_from(("first", "second", "third")), st.sampled_from(("", *IDS))),
    st.tuples(st.just("clip"), st.sampled_from(("crate", "inner")), st.sampled_from(("", *IDS))),
    st.tuples(st.just("clip_by"), st.sampled_from(("crate", "inner")), st.sampled_from(("fill", "alpha", "luminance"))),
    st.tuples(st.just("opacity"), st.sampled_from(("inner", "disc")), st.sampled_from((0.3, 1))),
    st.tuples(st.just("at"), st.sampled_from(IDS), st.tuples(SMALL, SMALL)),
    st.tuples(st.just("pivot"), st.sampled_from(("crate", "inner")), st.sampled_from(("origin", "center", "top-left"))),
    st.tuples(st.just("anchor"), st.sampled_from(("crate", "inner")), st.sampled_from(("origin", "bottom-right"))),
    st.tuples(st.just("steps"), st.sampled_from(("crate", "inner")), st.integers(0, 90)),
    st.tuples(st.just("size"), st.just("deck"), st.tuples(st.integers(0, 60), st.integers(0, 60))),
    st.tuples(st.just("palette"), st.sampled_from(("tide", "sand")), st.sampled_from(("#102030", "#f0e0d0"))),
    st.tuples(st.just("move"), st.sampled_from(IDS), st.sampled_from(("", "crate", "inner"))),
    st.tuples(st.just("undo"), st.just(""), st.just("")),
)


def harbour():
    second = Text("mole", id="second", inside="first", size=9)
    inner = Group(id="inner", steps=[Step("scale", (1.5, 1))], anchor="bottom-right", children=[second])
    deck, first = Rect(id="deck", size=(30, 20), fill="var(--sand)"), Text("quay", id="first", inside="disc", size=12)
    turned = [Step("rotate", 30)]
    shapes = [
        Circle(id="disc", at=(120, 60), radius=20, fill="var(--tide)"),
        Group(id="crate", at=(10, 5), pivot="center", steps=turned, children=[deck, first, inner]),
        Text("pier", id="third", inside="crate", size=9),
    ]
    return Scene(shapes, size=(200, 150), palette={"tide": "#204060", "sand": "#d0b080"})


def apply(scene, what, id, value):
    if what == "undo":
        scene.undo()
    elif what == "palette":
        scene.palette = {**dict(scene.palette), id: value}
    elif what == "move":
        group = scene[value] if value else scene.top
        if scene[id] is not group and not any(s is group for s in scene[id].walk()):
            scene.move(scene[id], group, 0)
    else:
        scene.set(scene[id], what, [Step("rotate", value)] if what == "steps" else value)


def _loops(display):
    return sorted(loop[0] for loop in display.edges.loops)


def middles(node):
    left, top, right, bottom = node.bounds()
    return (left + right) / 2, (top + bottom) / 2


@settings(max_examples=80)
@given(st.lists(st.tuples(edits, st.booleans()), max_size=12))
def test_however_shapes_depend_on_one_another_the_picture_is_the_fresh_one(changes):
    scene = harbour()
    display = DisplayList(scene)
    for change, now in changes:
        apply(scene, *change)
        if now:
            display.update()
    display.update()
    fresh = DisplayList(scene)
    for (id, world, *rest), (other, expected, *more) in zip(*(picture(d)[0] for d in (display, fresh)), strict=True):
        assert id == other and world == pytest.approx(expected, abs=1e-6) and rest[1:] == more[1:], id
    assert picture(display)[1:] == picture(fresh)[1:] and _loops(display) == _loops(fresh)
    for text in ("first", "second", "third"):
        node = display.node(scene[text])
        if node.host is not None and node.host.bounds()[0] <= node.host.bounds()[2]:
            a, b = node.box, (node.world.map((node.box[0] + node.box[2]) / 2, (node.box[1] + node.box[3]) / 2))
            assert a[0] > a[2] or b == pytest.approx(middles(node.host), abs=1e-6), text
        in_circle = any(loop[0] == text for loop in display.edges.loops)
        assert in_circle == (node.host is None and scene[text].inside != "")


def test_texts_that_sit_in_one_another_are_told_by_name():
    scene = harbour()
    scene["first"].inside = "second"
    said = [r.sentence for r in check_scene(scene) if r.what == "in a circle"]
    assert said == [
        "inside leads back to itself: first → second → first.",
        "inside leads back to itself: second → first → second.",
    ]


def test_only_the_paints_that_use_a_colour_are_evaluated():
    scene = harbour()
    display = DisplayList(scene)
    scene.palette = {**dict(scene.palette), "tide": "#010203"}
    assert [n.shape.id for n in display.update().nodes] == ["disc"]
    scene["deck"].fill = "var(--tide)"
    display.update()
    scene.palette = {**dict(scene.palette), "sand": "#010203"}
    assert not display.update().nodes
    scene.remove(scene["disc"])
    display.update()
    scene.palette = {**dict(scene.palette), "tide": "#040506"}
    assert [n.shape.id for n in display.update().nodes] == ["deck"]
