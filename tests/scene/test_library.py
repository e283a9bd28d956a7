"""The library as a coder meets it: short constructors, asking shapes and scenes, copies, types."""

import io
import os
import subprocess
import sys
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import chalcedon as c
from chalcedon.files import read_scene, scene_bytes
from chalcedon.formula import Formula


def nested(depth):
    out = []
    for _ in range(depth):
        out = [out]
    return out


@pytest.mark.parametrize(
    ("short", "long"),
    [
        (lambda: c.Rect(10, 10, 30, 40), lambda: c.Rect(at=(10, 10), size=(30, 40))),
        (lambda: c.Rect((10, 10), (30, 40), 5), lambda: c.Rect(at=(10, 10), size=(30, 40), corners=5)),
        (lambda: c.Circle(1, 2, 3, fill=None), lambda: c.Circle(at=(1, 2), radius=3, fill=None)),
        (lambda: c.Circle((1, 2), diameter=6), lambda: c.Circle(at=(1, 2), radius=3)),
        (lambda: c.Text("hello"), lambda: c.Text(content="hello")),
        (lambda: c.Text(4, 5, "hello", 12), lambda: c.Text(at=(4, 5), content="hello", size=12)),
        (lambda: c.Polyline(0, 0, [(1, 2), (3, 4)], True), lambda: c.Polyline(points=[(1, 2), (3, 4)], closed=True)),
        (lambda: c.Path("M0 0H9"), lambda: c.Path(data="M0 0H9")),
        (lambda: c.Spiral(1, 2, 4.5), lambda: c.Spiral(at=(1, 2), turns=4.5)),
        (lambda: c.Group(c.Circle(), c.Circle(id="b")), lambda: c.Group(children=[c.Circle(), c.Circle(id="b")])),
        (lambda: c.Rect(steps=[c.Step("rotate", 30)]), lambda: c.Rect(steps=[{"rotate": 30}])),
        (
            lambda: c.Rect(steps=[c.Step("scale", 2, 1, about=(4, 4))]),
            lambda: c.Rect(steps=[{"scale": [2, 1], "about": [4, 4]}]),
        ),
        (
            lambda: c.Rect(fill=c.Gradient("linear", "red", "blue")),
            lambda: c.Rect(fill={"linear": [0, 0.5, 1, 0.5], "stops": [[0, "red"], [1, "blue"]]}),
        ),
        (lambda: c.Circle(*np.array([1, 2, 3.5])), lambda: c.Circle(1, 2, 3.5)),
        (lambda: c.Circle(np.float32(0.5), np.int64(2), Fraction(1, 4)), lambda: c.Circle(0.5, 2, 0.25)),
        (lambda: c.Circle(at=np.array([1, 2]), diameter=np.float64(6)), lambda: c.Circle(1, 2, 3)),
        (lambda: c.Rect(between=np.array([[9, 9], [1, 2]])), lambda: c.Rect(1, 2, 8, 7)),
        (
            lambda: c.Polyline(points=np.arange(6.0).reshape(3, 2), closed=np.True_),
            lambda: c.Polyline(points=[(0, 1), (2, 3), (4, 5)], closed=True),
        ),
        (
            lambda: c.Rect(steps=[c.Step("rotate", np.float64(30)), {"scale": np.array([2, 1])}]),
            lambda: c.Rect(steps=[{"rotate": 30}, {"scale": [2, 1]}]),
        ),
        (
            lambda: c.Rect(fill={"linear": np.array([0, 0.5, 1, 0.5]), "stops": [[np.float64(0), "red"], [1, "blue"]]}),
            lambda: c.Rect(fill=c.Gradient("linear", "red", "blue")),
        ),
    ],
)  # fmt: skip
def test_what_is_written_short_is_what_it_says(short, long):
    assert c.Scene([short()]).equals(c.Scene([long()]))
    assert read_scene(scene_bytes(c.Scene([short()]))).scene.equals(c.Scene([long()]))


@pytest.mark.parametrize("index", [-(10**30), -5, -1, 0, 1, 2, 3, 99, np.int64(1), True])
def test_a_place_beyond_the_ends_is_the_end_and_undo_takes_back_what_was_done(index):
    scene = c.Scene([c.Circle(id="a"), c.Circle(id="b")])
    scene.add(c.Rect(id="new"), index=index)
    expected = min(max(int(index), 0), 2)
    assert [s.id for s in scene].index("new") == expected
    scene.undo()
    assert [s.id for s in scene] == ["a", "b"]
    scene.redo()
    scene.move(scene["new"], scene.top, 0)
    scene.move(scene["new"], scene.top, index)
    assert [s.id for s in scene].index("new") == expected
    for wrong in (1.5, "1", None if expected else [1]):
        with pytest.raises(c.ChalcedonError, match="place"):
            scene.move(scene["a"], scene.top, wrong)


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: c.Rect(10, 10, 30), "2 numbers. Write width, height"),
        (lambda: c.Circle(1, 2, "red"), "x, y, radius"),
        (lambda: c.Circle(1, 2, 3, 4), "given by name"),
        (lambda: c.Circle(1, 2, at=(3, 4)), "at is given twice"),
        (lambda: c.Circle(radius=5, diameter=20), "radius and diameter say the same thing"),
        (lambda: c.Rect(between=(0, 0, 9, 9), size=(3, 3)), "size and between"),
        (lambda: c.Circle(radius=True), "radius"),
        (lambda: c.Circle(radius=np.array([1, 2])), "not a number"),
        (lambda: c.Circle(radius=np.True_), "not a number"),
        (lambda: c.Circle(radius=np.float64("nan")), "not a finite number"),
        (lambda: c.Circle(at=np.zeros((2, 2))), "2 numbers|not a number"),
        (lambda: c.Circle(at=nested(5000)), "2 numbers|not a number"),
        (lambda: c.Circle(radius=nested(900)), "not a number"),
        (lambda: c.Rect(steps=[c.Step("rotate", 30, 40)]), "rotate"),
    ],
)
def test_what_does_not_fit_says_what_to_write(make, words):
    with pytest.raises(c.ChalcedonError, match=words):
        make()


def test_scenes_are_looked_through():
    scene = c.Scene([c.Group(c.Circle(id="a", radius=3), c.Rect(id="b"), id="g"), c.Circle(id="d", radius=30)])
    assert [s.id for s in scene] == ["g", "a", "b", "d"] and len(scene) == 4
    assert "a" in scene and scene["a"] in scene and c.Circle() not in scene and "z" not in scene
    assert [s.id for s in scene.find("circle")] == ["a", "d"]
    assert scene.find(where=lambda s: s.kind != "group" and s.bounds()[2] > 100) == [scene["b"]]
    with pytest.raises(c.ChalcedonError, match="Did you mean circle"):
        scene.find("circel")
    assert repr(scene["d"]) == "<circle d at 0, 0 radius 30>" and "960 × 600 of 4 shapes" in repr(scene)
    for given, shown in ((38, 38), (39, 37), (500, 37)):
        image = c.Image(id="pic", source="x" * given)
        assert repr(image).count("x") == shown, "cut to 40 characters with its quotes and …"


def test_what_can_not_have_a_place_is_named():
    scene, loose = c.Scene(), c.Circle()
    group = c.Group(loose, id="quay")
    for act, said in (
        (lambda: scene.add(loose), "circle already has a place"),
        (lambda: scene.add(group.children[0]), "circle already has a place"),
        (lambda: scene.add(c.Scene().top), "group already has a place"),
        (lambda: scene.add(c.Rect(), group), "quay is not in this scene"),
        (lambda: scene.add(c.Rect(), c.Group()), "group is not in this scene"),
        (lambda: scene.set(loose, "radius", 3), "circle is not in this scene"),
        (lambda: scene.remove(loose), "circle is not in this scene"),
        (lambda: c.Group(loose), "circle already has a place"),
        (lambda: scene.remove("quay"), "'quay' is no shape. Write scene"),
        (lambda: scene.add(None), "None is no shape"),
        (lambda: scene.add([c.Rect()]), "is no shape"),
        (lambda: scene.add(c.Rect(), "quay"), "'quay' is no group. Write scene"),
        (lambda: scene.add(c.Rect(), loose), "circle is no group"),
        (lambda: scene.set("quay", "at", (0, 0)), "'quay' is no shape"),
        (lambda: scene.rename("quay", "pier"), "'quay' is no shape"),
        (lambda: c.Group("quay"), "'quay'"),
        (lambda: c.Group(children=["quay"]), "'quay' is no shape"),
        (lambda: c.Scene([7]), "7 is no shape"),
        *(
            (lambda v=v: setattr(loose, "responses", [{"on": "click", "do": [{"set": "x", "to": v}]}]), said)
            for v, said in (
                (10**30, "too large"),
                (float("inf"), "too large"),
                ([2, -(10**19)], "too large"),
                ("\ud800", "half a character"),
            )
        ),
        (lambda: c.Circle(id="a b"), "'a b' can't be an id"),
        (lambda: c.Circle(id="self"), "self means something else in formulas"),
        (lambda: setattr(c.Circle(), "id", 3), "3 can't be an id"),
        (lambda: setattr(c.Circle(), "id", "x" * 201), "longer than 200"),
    ):
        with pytest.raises(c.ChalcedonError, match=said):
            act()
    assert len(scene) == 0 and scene.undo_name == "" and c.Circle(id="").id == "" == c.Circle(id=None).id
    tide = c.Circle()
    tide.id = "tide"
    assert scene.add(tide).id == "tide"


def test_what_is_asked_of_a_scene_is_answered_or_refused_with_a_sentence():
    scene, loose = c.Scene([c.Circle(id="a", radius=c.Formula("2 * 3", 1))], size=(90, 60)), c.Circle()
    assert scene["a"].comes_to("radius") == 6 and scene["a"].comes_to("opacity") == 1 == loose.comes_to("opacity")
    assert loose.comes_to("radius") == loose.radius and scene.comes_to("size") == (90, 60)
    assert scene.comes_to("y_axis") == "down"
    nan, far = float("nan"), float("inf")
    for ask, said in (
        (lambda: scene["a"].comes_to("radiu"), "has no property radiu. Did you mean radius"),
        (lambda: loose.comes_to("size"), "circle has no property size"),
        (lambda: scene.comes_to("siz"), "Did you mean size"),
        (lambda: c.where(scene, loose), "circle is no shape of this scene"),
        (lambda: c.along(scene, loose), "circle is no shape of this scene"),
        (lambda: c.hit_test(scene, nan, 3), "nan, 3 is no place"),
        (lambda: c.hit_test(scene, 3, far), "3, inf is no place"),
        (lambda: c.probe(scene, -far, 3), "-inf, 3 is no place"),
        (lambda: c.hit_test(scene, "a", None), "'a', None is no place"),
        (lambda: c.hit_test(scene, 10**400, 0), "is no place"),
        (lambda: c.Live(scene).pointer_move("a", 3), "'a', 3 is no place for a pointer"),
    ):
        with pytest.raises(c.ChalcedonError, match=said):
            ask()
    assert c.hit_test(scene, 1e300, 3) == [] and c.probe(scene, 1e300, 3) == []


def test_shapes_know_their_place():
    scene = c.Scene(
        [c.Circle(100, 100, 50, id="moon", steps=[c.Step("scale", 2, 2)]), c.Rect(id="sea"), c.Group(id="sky")]
    )
    moon, sea, sky = scene
    assert moon.bounds() == (0, 0, 200, 200)
    moon.radius = 10
    assert moon.bounds() == (80, 80, 120, 120), "as it is now"
    with pytest.raises(c.ChalcedonError, match="no bounds"):
        sky.bounds()
    moon.to_front()
    sky.to_back()
    assert scene.shapes == (sky, sea, moon)
    moon.behind(sea)
    assert scene.shapes == (sky, moon, sea) and scene.undo_name == "Reorder moon"
    star = scene.add(c.Star(id="star"), sky)
    moon.in_front_of(star)
    assert sky.children == (star, moon)
    sky.remove()
    assert list(scene) == [sea]
    for act in (moon.bounds, moon.remove, moon.to_front, lambda: moon.behind(sea)):
        with pytest.raises(c.ChalcedonError, match="in no scene"):
            act()


def test_another_anchor_leaves_a_shape_where_it_is():
    scene = c.Scene([c.Rect(10, 20, 30, 40, id="box", steps=[c.Step("rotate", 20)])])
    box = scene["box"]
    before = box.bounds()
    box.anchor = "center"
    assert box.at == (25, 40) and box.bounds() == pytest.approx(before, abs=0.01)
    assert scene.undo_name == "Change anchor of box" and scene.undo() and box.at == (10, 20)
    with pytest.raises(c.ChalcedonError, match="anchor"):
        box.anchor = "middling"
    loose = c.Rect(10, 20, 30, 40)
    loose.anchor = "center"
    assert loose.at == (10, 20), "in no scene it has no place yet"


def test_a_copy_can_be_added_at_once_and_names_its_own():
    window = c.Group(c.Rect(id="pane"), c.Text("x", id="name", inside="pane", label="pane"), id="window", clip="pane")
    window.children[1].opacity = Formula("pane.opacity + other.opacity", 1)
    scene = c.Scene([window, c.Circle(id="other")])
    twin = scene.add(window.copy())
    assert (twin.id, twin.clip) == ("window_2", "pane_2")
    pane, name = twin.children
    assert (pane.id, name.id, name.inside, name.label) == ("pane_2", "name_2", "pane_2", "pane"), "a label is no name"
    assert name.stated("opacity").text == "pane_2.opacity + other.opacity"
    with pytest.raises(c.ChalcedonError, match="taken"):
        scene.add(c.Circle(id="other"))


def test_the_functions_take_a_scene():
    scene = c.Scene([c.Circle(100, 100, 50, id="moon"), c.Rect(id="sea", corners=500)])
    assert [h.id for h in c.hit_test(scene, 100, 100)] == ["moon"]
    assert c.probe(scene, 100, 100)[0].shape is scene["moon"]
    assert c.along(scene, "moon").length == pytest.approx(314.16, abs=0.05)
    assert [r.what for r in c.check_scene(scene) if r.name == "corners"] == ["corner too large"]
    scene["moon"].at = (300, 300)
    assert not c.hit_test(scene, 100, 100) and c.hit_test(scene, 300, 300)
    assert c.along(scene, "moon").at(0).x == pytest.approx(350)


def test_pictures_as_bytes_and_arrays():
    scene = c.Scene([c.Rect(1, 1, 2, 2, fill="#ff000080")], size=(4, 3), background=None)
    array = c.render_array(scene, 2)
    assert array.shape == (6, 8, 4) and array.dtype == np.uint8
    assert tuple(array[3, 3]) == (255, 0, 0, 128) and not array[0, 0].any()
    png = Image.open(io.BytesIO(c.render_bytes(scene, 2))).convert("RGBA")
    assert (np.asarray(png) == array).all()


PROGRAM = """
import chalcedon

scene = chalcedon.Scene(size=(960, 600))
moon = scene.add(chalcedon.Circle(742, 118, radius=46, fill="#efe0b0"))
moon.radius = moon.radius + 4
twin = scene.add(moon.copy())
reveal_type(twin.radius)
reveal_type(twin.at)
reveal_type(chalcedon.Spiral(turns=3).turns)
for shape in scene:
    reveal_type(shape.bounds())
reveal_type(chalcedon.open("a.chal").find("circle"))
reveal_type(chalcedon.render_array(scene))
chalcedon.Circle(radius="wide")
moon.radius = "wide"
"""


def test_the_types_are_seen_by_a_strict_checker(tmp_path):
    (tmp_path / "program.py").write_text(PROGRAM)
    run = [sys.executable, "-m", "mypy", "--strict", "--no-incremental", "--config-file=", "program.py"]
    there = {**os.environ, "PYTHONPATH": str(Path(__file__).resolve().parents[2])}  # as if it were installed
    out = subprocess.run(run, cwd=tmp_path, capture_output=True, text=True, env=there).stdout
    shown = [line.split('"')[1] for line in out.splitlines() if "Revealed type" in line]
    assert [s.replace("builtins.", "") for s in shown[:4]] == [
        "float", "tuple[float, float]", "float", "tuple[float, float, float, float]",
    ]  # fmt: skip
    assert shown[4].endswith("Shape]") and "ndarray" in out
    wrong = [line for line in out.splitlines() if ": error:" in line]
    assert len(wrong) == 2 and "radius" in wrong[0] and ":16:" in wrong[1], out


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: c.Circle(r=5), "Here it is called radius."),
        (lambda: c.Rect(width=5), "width is the first number of size."),
        (lambda: c.Line(colour="red"), "Here it is called stroke."),
        (lambda: c.Circle(radios=3), "Did you mean radius?"),
    ],
)
def test_words_of_the_trade_are_told_their_name_here(make, words):
    with pytest.raises(c.ChalcedonError) as refusal:
        make()
    assert words in str(refusal.value)
