"""The check-up finds what is planted, says nothing of what is sound, and its repairs repair."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image as Pixels
from strategies import leaves

from chalcedon.craft.checkup import check_up
from chalcedon.evaluate import DisplayList
from chalcedon.files import scene_bytes
from chalcedon.files.check import check_scene
from chalcedon.files.svgout import svg_bytes
from chalcedon.hit import hit_test
from chalcedon.hit.where import where
from chalcedon.painter import render_image
from chalcedon.scene import (
    Annulus,
    Circle,
    Gradient,
    Group,
    Image,
    Line,
    Path,
    Picture,
    Polyline,
    Rect,
    Scene,
    Star,
    Text,
)

TOUCHING = Polyline(id="roof", points=[(0, 0), (50, 0), (25, -40), (0, 0)])
PLANTED = [
    (TOUCHING, "touching ends", "Close it"),
    (Polyline(points=[(0, 0), (50, 0), (25, -40), (0, 1.5)]), "gap", "Close it"),
    (Polyline(points=[(0, 0), (50, 0), (25, -40), (0, 0)], closed=True), "repeated point", "Take the last point away"),
    (Polyline(points=[(0, 0), (50, 0), (50, 0), (25, -40)]), "no length", "Take it out"),
    (Polyline(points=[(7, 7)]), "one point", None),
    (Path(data="M0 0 L50 0 L20 40 Z M90 90"), "lone move", "Take it out"),
    (Path(data="M0 0 L50 0 M50 1 L20 40", fill=None, stroke="red"), "gap", "Join them"),
    (Path(data="M0 0 L50 0 L50 0 L20 40 Z"), "no length", "Take it out"),
    (Path(data="M0 -50 L29 40 L-48 -15 L48 -15 L-29 40 Z"), "crosses itself", "Fill by evenodd"),
    (Path(data="M0 -50 L29 40 L-48 -15 L48 -15 L-29 40 Z"), "crosses itself", "Keep only its edge"),
    (Polyline(points=[(0, 0), (80, 4), (0, 8)], stroke_width=6), "miter over its limit", None),
    (
        Star(tips=9, outer=80, inner=70, stroke="black", stroke_width=3, miter_limit=1),
        "miter over its limit",
        "Round joins",
    ),
    (Rect(stroke="#d97b4a"), "hidden stroke", "No stroke"),
    (Rect(stroke="black", stroke_width=0), "no width", "Width 1"),
    (Line(to=(50, 20), fill="red"), "fill without effect", "No fill"),
    (Polyline(points=[(0, 0), (40, 20), (80, 40)], fill="red"), "fill without effect", "No fill"),
    (Line(to=(50, 20), stroke_align="inside"), "align without effect", "Align to the middle"),
    (Rect(stroke="black", end_head="barb"), "heads without effect", None),
    (Rect(size=(40, 20), corners=30), "corner too large", "A pill"),
    (Annulus(inner=50, outer=20), "inner over outer", "Swap them"),
    (Circle(wears=["brass"]), "no such preset", "Take it off"),
    (Text(content="low", runs=[(1, 9, {"weight": 700})]), "run beyond the text", "End it there"),
    (Text(family="Nonesuch Gothic"), "no such font", None),
]


@pytest.mark.parametrize(("shape", "what", "words"), PLANTED, ids=[f"{w}-{r}" for _, w, r in PLANTED])
def test_what_is_planted_is_found_and_repaired(shape, what, words):
    shape = shape.copy()
    shape.id, shape.at = "it", (100, 80)
    scene = Scene([Group(id="g", at=(10, 20), children=[shape])])
    display = DisplayList(scene)
    found = {r.what: r for r in check_scene(display)}
    assert what in found, sorted(found)
    remark = found[what]
    assert str(remark).startswith("it: ") and remark.sentence.endswith((".", "?"))
    box = display.node(shape).bounds()
    for x, y in remark.spots if what != "lone move" else ():  # that one lies outside
        assert box[0] - 1 <= x <= box[2] + 1 and box[1] - 1 <= y <= box[3] + 1
    if words is None:
        return
    repair = next(r for r in remark.repairs if r.words == words)
    repair.act(display)
    left = {r.what for r in check_scene(display, [scene["it"]])}
    if words != "Fill by evenodd":  # that one is a choice, not a cure
        assert what not in left
    assert scene.undo_name
    scene.undo()
    assert what in {r.what for r in check_scene(display, [scene["it"]])}


@settings(max_examples=60)
@given(leaves)
def test_remarks_about_any_shape_can_be_said_and_repaired(shape):
    shape.id = "it"
    scene = Scene([shape])
    display = DisplayList(scene)
    for remark in check_up(display):
        assert remark.sentence and remark.shape is shape
        for repair in remark.repairs:
            repair.act(display)
            display.update()
            assert remark.what not in {r.what for r in check_up(display)} or repair.words.startswith("Fill by")
            scene.undo()


@given(st.integers(0, 4), st.integers(1, 2), st.booleans())
def test_points_that_repeat_are_counted_and_taken_out_wherever_they_stand(at, times, closed):
    corners = [(0, 0), (50, 0), (60, 40), (20, 70), (-20, 30)]
    points = [*corners[: at + 1], *[corners[at]] * times, *corners[at + 1 :]]
    line = Polyline(id="it", points=points, closed=closed)
    display = DisplayList(Scene([line]))
    (remark,) = [r for r in check_up(display) if r.what in ("no length", "repeated point")]
    if remark.what == "no length":
        assert remark.sentence.startswith("a segment has" if times == 1 else "2 segments have")
        assert all(s == corners[at] for s in remark.spots) and len(remark.spots) == times
    else:
        assert remark.spots == (corners[0],)
    for _ in range(2):
        left = [r for r in check_up(display) if r.what in ("no length", "repeated point")]
        if left:
            left[0].repairs[0].act(display)
            display.update()
    assert [tuple(p) for p in line.points] == corners


@pytest.mark.parametrize(
    "path",
    [
        Path(data="M0 0 L60 40 L60 0 L0 40 Z"),  # a bow tie: either rule fills both halves
        Path(data="M0 0.01 C88.26 0 -23.76 0.75 108.67 0"),  # laid over itself, a thread apart
    ],
)
def test_crossings_are_told_only_where_the_fill_rules_differ(path):
    for rule in ("nonzero", "evenodd"):
        path.fill_rule = rule
        assert "crosses itself" not in {r.what for r in check_up(DisplayList(Scene([path.copy()])))}


def test_sound_shapes_are_left_in_peace():
    scene = Scene(
        [
            Rect(stroke="black", corners=5),
            Circle(),
            Polyline(points=[(0, 0), (50, 0), (25, -40)], closed=True),
            Path(at=(300, 300), data="M0 0 H50 V50 H0 Z M10 10 V40 H40 V10 Z", fill_rule="evenodd"),
            Line(at=(500, 500), to=(40, 0)),
            Text(at=(200, 400), content="Quay"),
            Path(at=(500, 300), data="M0 0 C80 0 0 80 0 0 Z"),  # one point, and a segment from it to itself
        ]
    )
    assert check_scene(DisplayList(scene)) == []


def test_ends_that_touch_and_ends_that_are_apart_are_told_in_other_words():
    def said(last):
        line = Polyline(id="roof", points=[(0, 0), (50, 0), (25, -40), last], stroke="black")
        return [r.sentence for r in check_scene(Scene([line]))]

    assert said((0, 0)) == ["its ends touch but it isn't closed, so the corner there isn't joined."]
    assert said((0, 1.5)) == ["its ends are 1.5 px apart; was it meant to be closed?"]


@pytest.mark.parametrize("size", [1e-300, 1e-160, 1e-12, 1e9])
def test_the_least_and_the_largest_go_through_everything(size):
    for make in (
        lambda: Rect(size=(size, size), corners=size / 3),
        lambda: Circle(radius=size),
        lambda: Line(to=(size, 0), start_head="dot"),
        lambda: Polyline(points=[(0, 0), (size, 0), (0, size)], closed=True, curve=0.5),
        lambda: Path(data=f"M0 0L{size} 0L0 {size}C0 0 {size} {size} 0 {size}Z"),
        lambda: Star(outer=size, inner=size / 2),
        lambda: Rect(size=(9, 9), steps=[{"scale": (size, 1)}], steady=True),
    ):
        for width, dash in ((min(size, 1e4), ()), (3, (4, 2)))[: 1 if size > 1 else 2]:
            shape = make()
            shape.id, shape.stroke, shape.stroke_width, shape.dash = "it", "#15213a", width, dash
            if "fill" in shape.properties:
                shape.fill = Gradient("radial", "red", "blue")
            scene = Scene([shape], size=(60, 40))
            assert all(str(remark) for remark in check_scene(scene))
            assert render_image(scene).width() == 60 and svg_bytes(scene).data and scene_bytes(scene)
            hit_test(scene, 0, 0), where(scene, shape)


def test_names_that_lead_nowhere_and_missing_images(tmp_path):
    Pixels.new("RGB", (4, 3), "teal").save(tmp_path / "net.png")
    (tmp_path / "bad.png").write_bytes(b"\x89PNG\r\n\x1a\nnot much of a picture")
    scene = Scene(
        [
            Group(id="deck", clip="hul", children=[Rect(id="plank", fill="var(--tied)")]),
            Group(id="loop", clip="loop"),
            Text(id="sign", inside="plate"),
            Path(id="wave", data="M0 0 L10 nonsense"),
            Image(id="net", source="net.png"),
            Image(id="gone", source="gone.png"),
            Image(id="bad", source="bad.png"),
            Image(id="out", source="../secret.png"),
            Rect(id="tile", fill=Picture("gone.png")),
        ],
        palette={"tide": "#3e7f8b"},
    )
    scene.folder = str(tmp_path)
    said = {str(r) for r in check_scene(DisplayList(scene)) if r.grave}
    for words in (
        "deck: clip names hul, and there is no such shape. Known: deck",
        "plank: fill names tied, and the palette has no such colour. Did you mean tide?",
        "loop: clip names loop, which is the shape itself",
        "sign: inside names plate",
        "wave: data, at character 10: L takes 2 numbers",
        "gone: source: there is no file 'gone.png'",
        "bad: source: 'bad.png' is",
        "out: source: '../secret.png' lies outside the scene's folder",
        "tile: fill: there is no file 'gone.png'",
    ):
        assert any(line.startswith(words) for line in said), (words, said)
    assert not any(line.startswith("net:") for line in said)
