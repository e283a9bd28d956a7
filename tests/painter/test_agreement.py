"""What is seen is what is hit: the paint of the topmost hit is the colour of the picture, away from edges."""

import math

import numpy as np
import pytest
from agree import Agreement, pixels
from hypothesis import given, settings
from hypothesis import strategies as st
from pages import PAGE, pages
from second import far, ours, theirs

from chalcedon.files.svgin import read_svg
from chalcedon.files.svgout import svg_bytes
from chalcedon.painter import render_image
from chalcedon.scene import (
    Circle,
    Ellipse,
    Group,
    Line,
    Polyline,
    Rect,
    Scene,
)
from chalcedon.source import print_shapes
from tests.each import each_change, page


@settings(max_examples=70)
@given(pages(), st.sampled_from([1.0, 1.0, 2.0]))
def test_the_topmost_hit_is_what_is_seen(scene, scale):
    wrong = Agreement(scene, scale).wrong()
    # the toolkit draws curves to a quarter of a px, so that two that nearly coincide may show between them
    assert len(wrong) <= 2, (wrong[:5], scale, print_shapes(scene.shapes))


def test_what_cuts_clips_or_hides_does_so_for_the_pointer_as_for_the_eye():
    """Groups too, with what cuts and clips within them; also as another program shows them, and read back."""
    scene = page()
    for id in ("net", "word", "sign"):  # no colour to compare; words are hit between their letters
        scene.remove(scene[id])
    scene.background = "#ffffff"
    cases = {"cuts": 0, "clip": 0, "visible": 0}
    for what, done in each_change(scene):
        if not done or what[1] not in cases:
            continue
        cases[what[1]] += 1
        wrong = Agreement(scene, 0.4).wrong()
        assert len(wrong) <= 2, (what, wrong[:5])
        picture, told = ours(scene), svg_bytes(scene, outlines=True)
        assert not told.notes and far(picture, theirs(told.data)) <= 12, what
        assert far(picture, ours(read_svg(told.data).scene)) <= 12, what
    assert min(cases.values()) > 3


def test_a_disagreement_would_be_seen():
    """The comparison itself: a picture of another scene must not pass."""
    agreement = Agreement(Scene([Circle(at=(32, 32), radius=12)], size=(PAGE, PAGE)))
    agreement.picture = pixels(render_image(Scene([Circle(at=(35, 32), radius=12)], size=(PAGE, PAGE))))
    assert len(agreement.wrong()) > 20


@pytest.mark.parametrize("align", ["center", "inside"])
def test_a_stroke_wider_than_its_circle_has_no_hole(align):
    circle = Circle(at=(32, 32), radius=5, stroke="#204060", stroke_width=40, stroke_align=align)
    picture = pixels(render_image(Scene([circle], size=(PAGE, PAGE))))
    assert tuple(picture[32, 32]) == (0x20, 0x40, 0x60)


@pytest.mark.parametrize(
    "shape",
    [
        Rect(at=(10, 10), size=(0, 30)),
        Rect(at=(10, 10), size=(30, 0), corners=(5,)),
        Rect(at=(10, 10), size=(0, 30), corners=(5,), corner_style="smooth"),
        Circle(at=(30, 30), radius=0),
        Ellipse(at=(30, 30), radii=(0, 10)),
        Polyline(points=[(30, 30)]),
        Rect(at=(10, 10), size=(30, 30), steps=[{"scale": [0, 1]}], steady=True),
        Polyline(points=[(30, 30), (30, 30)], dash=(5, 5), dash_offset=7),
    ],
    ids=lambda s: s.kind,
)
def test_what_svg_does_not_paint_is_neither_seen_nor_hit(shape):
    shape = shape.copy()
    shape.stroke, shape.stroke_width, shape.cap = "#204060", 12, "square"
    agreement = Agreement(Scene([shape], size=(PAGE, PAGE)))
    assert (agreement.picture == 255).all()
    assert not any(agreement.tester.hit_test(x, y) for x in range(0, PAGE, 3) for y in range(0, PAGE, 3))


@pytest.mark.parametrize("turned", [0, 33])
@pytest.mark.parametrize("fill", ["#204060", "#20406080"])
def test_a_cut_flush_with_edges_leaves_no_seam(turned, fill):
    """Half of half a px would be left standing, where two edges that coincide cross a px. What comes after the cut is
    over it once."""

    def picture(*corners):
        scene = Scene(size=(PAGE, PAGE), background="#ffffff")
        group = scene.add(Group(at=(32.5, 32.5), steps=[{"rotate": turned}]))
        for number, ((left, top), (right, bottom)) in enumerate(corners):
            points = [(left, top), (right, top), (right, bottom), (left, bottom)]
            shape = Polyline(points=points, closed=True, fill=fill, stroke=None)
            if number > 0:
                shape.fill, shape.cuts = "black", True
            scene.add(shape, group)
        scene.add(Polyline(points=[(-9, -9), (9, -9), (9, 9), (-9, 9)], closed=True, fill="#d97b4a80"), group)
        return pixels(render_image(scene))

    cut = picture(((-20, -12), (20, 12)), ((-20, 2), (20, 12)))
    assert abs(cut - picture(((-20, -12), (20, 2)))).max() <= 8


@pytest.mark.parametrize("within", [False, True], ids=["alone", "in a group that is clipped"])
@pytest.mark.parametrize("turned", [0, 33])
@pytest.mark.parametrize("fill", ["#204060", "#20406080"])
def test_a_clip_flush_with_what_it_clips_leaves_no_seam(fill, turned, within):
    def picture(clip, **looks):
        hull = Rect(id="hull", at=(10.5, 12.5), size=(40, 30), **{"fill": None} | looks)
        scene = Scene(size=(PAGE, PAGE), background="#ffffff")
        outer = scene.add(Group(clip="window" if within else ""))
        if within:
            scene.add(Circle(id="window", at=(32, 32), radius=31, fill=None, stroke=None), outer)
        scene.add(Group(children=[hull], clip=clip, steps=[{"rotate": turned}]), outer)
        return pixels(render_image(scene))

    assert abs(picture("hull", fill=fill) - picture("", fill=fill)).max() <= 16
    assert abs(picture("hull", stroke=fill, stroke_width=9, stroke_align="outside") - 255).max() <= 16


@pytest.mark.parametrize("cuts", [False, True])
@pytest.mark.parametrize("paint", ["#204060", "#20406080"])
def test_a_fill_and_the_stroke_outside_it_meet_without_a_seam(paint, cuts):
    disc = Circle(id="disc", at=(32.3, 31.7), radius=14.4, fill=paint, stroke=paint, stroke_width=9)
    disc.stroke_align, disc.cuts = "outside", cuts
    scene = Scene([Group(children=[Rect(size=(64, 64), fill="#d97b4a"), disc])], size=(64, 64), background="#ffffff")
    picture = pixels(render_image(scene))
    within = [picture[y, x] for y in range(64) for x in range(64) if math.hypot(x + 0.5 - 32.3, y + 0.5 - 31.7) < 21]
    assert np.ptp(np.array(within), axis=0).max() <= 3


def test_a_translucent_arrow_is_one_area():
    arrow = Line(at=(8, 32), to=(48, 0), stroke="#20406080", stroke_width=8, end_head="triangle", head_size=3)
    picture = pixels(render_image(Scene([arrow], size=(PAGE, PAGE))))
    inked = picture[32, 10:50]
    assert (abs(inked - inked[0]).max(axis=1) <= 2).all()


def test_gradients_interpolate_colour_and_opacity_apart():
    """SVG 2, section 14.2.4: half way to a transparent red, opaque white is half transparent and half red."""
    scene = Scene(size=(100, 10), background="#000000")
    scene.background = {"linear": [0, 0, 1, 0], "stops": [[0, "#ffffff"], [1, "#ff000000"]]}
    image = render_image(scene)
    middle = image.pixelColor(50, 5)
    assert abs(middle.alpha() - 127) <= 3 and abs(middle.green() - 127) <= 3 and middle.red() >= 252
