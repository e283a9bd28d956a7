"""Masks by opacity and by light: seen whether the mask is visible or not, hit where they let anything through."""

import numpy as np
import pytest
from second import ours

from chalcedon import Circle, Gradient, Group, Rect, Scene, Step, hit_test, probe
from chalcedon.evaluate import DisplayList
from chalcedon.files.svgout import document, svg_bytes
from chalcedon.geometry import Affine
from chalcedon.hit.tester import HitTester
from chalcedon.painter import job
from chalcedon.painter.hitmap import HitMap
from chalcedon.scene.paints import Pattern

FADE = Gradient("linear", (0, 0, 1, 0), ((0, "#ffffff"), (1, "#000000")))


def masked(kind, *mask, **values):
    by = Group(*mask, id="by", visible=False)
    group = Group(Rect(id="wall", size=(100, 50), fill="#ff0000"), by, id="house", clip="by", clip_by=kind, **values)
    return Scene([group], size=(100, 50), background="#ffffff")


@pytest.mark.parametrize(
    ("kind", "paint", "share"),
    [
        ("alpha", "#00000080", 128 / 255),
        ("alpha", "#ffffff00", 0),
        ("luminance", "#000000", 0),
        ("luminance", "#ffffff", 1),
        ("luminance", "#00ff00", 0.7154),
        ("luminance", "#ffffff80", 128 / 255),
        ("luminance", "#808080", 128 / 255),
    ],
)
def test_a_mask_lets_through_what_css_masking_says(kind, paint, share):
    picture = ours(masked(kind, Rect(id="pane", at=(20, 0), size=(40, 50), fill=paint)))
    assert (picture[:, :20] == 255).all() and (picture[:, 60:] == 255).all()
    assert np.abs(picture[:, 21:59] - (255, 255 * (1 - share), 255 * (1 - share))).max() <= 1


def test_a_mask_of_a_gradient_within_groups_that_fade_and_clip():
    inner = Group(Rect(size=(100, 50), fill=FADE), opacity=0.5)
    picture = ours(masked("luminance", inner, opacity=0.5))
    middle = 255 * (1 - 0.5 * 0.5 * 0.5)
    assert abs(picture[25, 50, 1] - middle) <= 2 and picture[25, 0, 1] < picture[25, 50, 1] < picture[25, 99, 1]


def test_what_the_mask_lets_through_is_hit():
    disc = Circle(id="disc", at=(50, 25), radius=20, fill="#ffffff", stroke="#000000", stroke_width=4)
    scene = masked("luminance", disc, Circle(id="hole", at=(50, 25), radius=8, fill="#000000"))
    hits = {x: [h.id for h in hit_test(scene, x, 25)] for x in (5, 31, 36, 50, 64, 69)}
    assert hits == {5: [], 31: [], 36: ["wall"], 50: [], 64: ["wall"], 69: []}
    assert any("clipped by by" in str(f) for f in probe(scene, 50, 25))
    tester = HitTester(scene)
    tester.display.update()
    made = HitMap(tester.display, Affine(), 100, 50)
    made.work(10)
    mine = np.array([[bool(hit_test(scene, x + 0.5, y + 0.5)) for x in range(100)] for y in range(50)])
    assert np.count_nonzero((made.numbers >= 0) != mine) <= 60, "but for the px that an edge goes through"
    scene["house"].clip_by = "alpha"
    assert [h.id for h in hit_test(scene, 50, 25)] == ["wall"]


def test_a_mask_that_changes_or_holds_itself_is_painted_anew_and_ends():
    scene = masked("luminance", Rect(id="pane", size=(50, 50), fill="#ffffff"))
    display = DisplayList(scene)
    display.update()
    for change in (lambda: setattr(scene["pane"], "fill", "#808080"), lambda: setattr(scene["by"], "opacity", 0.5)):
        change()
        boxes = display.update().boxes
        assert any(b[2] - b[0] == 100 for b in boxes), "what it masks looks otherwise"
    scene["house"].clip = "house"
    assert ours(scene)[25, 25].tolist() == [255, 0, 0], "nothing masks itself"
    scene["house"].clip, scene["by"].clip, scene["by"].clip_by = "by", "house", "alpha"
    assert ours(scene).shape == (50, 100, 3)
    scene["pane"].fill = "#ffffff"
    display.update()


def test_masks_and_tiles_that_multiply_come_to_an_end(monkeypatch):
    """Each level is used three times by the next: all of them would be 3 to the power of 18."""
    monkeypatch.setattr(job, "MOST_INNER", 200)
    monkeypatch.setattr(document, "MOST_REPEATED", 5000)
    scene = Scene(size=(60, 60), background="#ffffff")
    for level in range(18):
        before = f"m{level - 1}"
        twice = [
            Group(Rect(size=(60, 60), fill="#ffffff"), clip=before if level else "", clip_by="alpha") for _ in range(3)
        ]
        scene.add(Group(*twice, id=f"m{level}", visible=False))
        fill = Pattern(f"t{level - 1}", (Step("scale", 1.1, 1.1),)) if level else "#ff0000"
        tiles = [Rect(at=(20 * k, 0), size=(20, 20), fill=fill) for k in range(3)]
        scene.add(Group(*tiles, id=f"t{level}", visible=False))
    scene.add(Group(Rect(id="wall", size=(60, 60), fill=Pattern("t17")), id="top", clip="m17", clip_by="alpha"))
    assert ours(scene).shape == (60, 60, 3)
    assert [h.id for h in hit_test(scene, 30, 30)] == ["wall"]
    made = svg_bytes(scene)
    assert any("multiply" in note for note in made.notes) and len(made.data) < 30_000_000


@pytest.mark.parametrize("around", [{}, {"opacity": 0.999}, {"isolate": True}])
def test_what_cuts_within_a_mask_leaves_a_hole_in_it(around):
    dark = Group(  # a hole through what is dark lets the light through
        Circle(at=(50, 25), radius=20, fill="#000000"), Circle(at=(50, 25), radius=8, fill="black", cuts=True), **around
    )
    scene = masked("luminance", Rect(size=(100, 50), fill="#ffffff"), dark)
    picture = ours(scene)
    for (x, y), seen in (((50, 25), True), ((50, 10), False), ((10, 25), True)):
        assert np.abs(picture[y, x] - ((255, 0, 0) if seen else (255, 255, 255))).max() <= 1, (x, y)
