"""Gradients, images, blending, shadows, clips and cut-outs: painted px against the definitions in NumPy."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image as Pixels
from PySide6.QtGui import QImage
from scipy.ndimage import gaussian_filter, shift

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.hit import HitTester
from chalcedon.painter import render_image
from chalcedon.painter.blur import blurred
from chalcedon.painter.export import headless
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.painter.planes import pixels
from chalcedon.scene import (
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
from chalcedon.scene.paints import FITS
from chalcedon.scene.shape import BLENDS


@pytest.fixture(autouse=True)
def app(qapp):
    return headless()


def taken(scene, scale):
    """The px of a picture, kept beyond the life of the picture."""
    image = render_image(scene, scale)
    return pixels(image).copy()


def painted(*shapes, size=(40, 30), background="#ffffff", scale=1.0, folder=None, **more):
    """Straight RGBA of the page, float 0 to 255."""
    scene = Scene(shapes, size=size, background=background, **more)
    scene.folder = folder
    bgra = taken(scene, scale).astype(float)
    alpha = np.maximum(bgra[:, :, 3:], 1e-9)
    return np.concatenate([bgra[:, :, 2::-1] * 255 / alpha, bgra[:, :, 3:]], axis=2)


def mixed(stops, t, spread):
    """The colour of a gradient at parameters, by the definition (SVG 2, section 14.2)."""
    if spread == "repeat":
        t = t % 1.0
    elif spread == "reflect":
        t = 1.0 - np.abs(t % 2.0 - 1.0)
    offsets = [o for o, _ in stops]
    return np.stack([np.interp(np.clip(t, 0, 1), offsets, [c[k] for _, c in stops]) for k in range(3)], axis=-1)


STOPS = ((0.0, (255, 0, 0)), (0.3, (0, 255, 0)), (1.0, (0, 0, 255)))
TEXT = tuple((o, "#{:02x}{:02x}{:02x}".format(*c)) for o, c in STOPS)


@settings(max_examples=40)
@given(
    st.tuples(*[st.floats(-0.2, 1.2)] * 4).filter(lambda v: math.dist(v[:2], v[2:]) > 0.3),
    st.sampled_from(["pad", "reflect", "repeat"]),
    st.sampled_from(["box", "scene"]),
)
def test_a_linear_gradient_is_its_definition(line, spread, units):
    w, h = 60, 40
    scale = (w, h) if units == "box" else (1, 1)
    ends = line if units == "box" else tuple(v * s for v, s in zip(line, (w, h, w, h), strict=True))
    image = painted(Rect(size=(w, h), fill=Gradient("linear", ends, TEXT, spread, units)), size=(w, h))
    y, x = np.mgrid[0:h, 0:w] + 0.5
    (x1, y1), (x2, y2) = ends[:2], ends[2:]
    u, v = x / scale[0] - x1, y / scale[1] - y1
    t = (u * (x2 - x1) + v * (y2 - y1)) / ((x2 - x1) ** 2 + (y2 - y1) ** 2)
    expected = mixed(STOPS, t, spread)
    steep = np.abs(np.gradient(t)[0]) + np.abs(np.gradient(t)[1])
    off = np.abs(image[:, :, :3] - expected).max(axis=2)
    assert np.percentile(off - 900 * steep, 95) < 8
    assert np.median(off) < 8


@pytest.mark.parametrize("spread", ["pad", "reflect", "repeat"])
def test_a_radial_gradient_is_its_definition(spread):
    w = h = 80
    image = painted(Rect(size=(w, h), fill=Gradient("radial", (0.5, 0.5, 0.4), TEXT, spread)), size=(w, h))
    y, x = np.mgrid[0:h, 0:w] + 0.5
    t = np.hypot(x / w - 0.5, y / h - 0.5) / 0.4
    off = np.abs(image[:, :, :3] - mixed(STOPS, t, spread)).max(axis=2)
    assert np.median(off) < 6 and np.percentile(off, 90) < 40


def test_a_gradient_follows_palette_steps_and_opacity():
    fill = Gradient("linear", (0, 0, 1, 0), ((0, "var(--tide)"), (1, "var(--tide)")))
    turned = Rect(size=(20, 20), fill=fill, opacity=0.5, pivot="center", steps=[{"rotate": 90}])
    image = painted(turned, palette={"tide": "#ff0000"}, size=(20, 20))
    assert image[10, 10, :3] == pytest.approx((255, 127, 127), abs=2)


# blending


def separable(blend, cb, cs):
    """B(cb, cs) of Compositing and Blending 1, section 10.1."""
    return {
        "multiply": lambda: cb * cs,
        "screen": lambda: cb + cs - cb * cs,
        "overlay": lambda: separable("hard-light", cs, cb),
        "darken": lambda: min(cb, cs),
        "lighten": lambda: max(cb, cs),
        "color-dodge": lambda: 0.0 if cb == 0 else 1.0 if cs == 1 else min(1.0, cb / (1 - cs)),
        "color-burn": lambda: 1.0 if cb == 1 else 0.0 if cs == 0 else 1 - min(1.0, (1 - cb) / cs),
        "hard-light": lambda: 2 * cb * cs if cs <= 0.5 else cb + (2 * cs - 1) - cb * (2 * cs - 1),
        "soft-light": lambda: (
            cb - (1 - 2 * cs) * cb * (1 - cb)
            if cs <= 0.5
            else cb + (2 * cs - 1) * ((((16 * cb - 12) * cb + 4) * cb if cb <= 0.25 else math.sqrt(cb)) - cb)
        ),
        "difference": lambda: abs(cb - cs),
        "exclusion": lambda: cb + cs - 2 * cb * cs,
        "normal": lambda: cs,
    }[blend]()


def lum(c):
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def clipped(c):
    low, high, level = min(c), max(c), lum(c)
    if low < 0:
        c = [level + (v - level) * level / (level - low) for v in c]
    if high > 1:
        c = [level + (v - level) * (1 - level) / (high - level) for v in c]
    return c


def set_lum(c, level):
    return clipped([v + level - lum(c) for v in c])


def set_sat(c, sat):
    low, high = min(c), max(c)
    return [0.0 if high == low else (v - low) * sat / (high - low) for v in c]


def blended(blend, cb, cs):
    sat = lambda c: max(c) - min(c)  # noqa: E731
    whole = {
        "hue": lambda: set_lum(set_sat(cs, sat(cb)), lum(cb)),
        "saturation": lambda: set_lum(set_sat(cb, sat(cs)), lum(cb)),
        "color": lambda: set_lum(cs, lum(cb)),
        "luminosity": lambda: set_lum(cb, lum(cs)),
    }
    return whole[blend]() if blend in whole else [separable(blend, b, s) for b, s in zip(cb, cs, strict=True)]


@pytest.mark.parametrize("blend", BLENDS)
@settings(max_examples=12)
@given(st.tuples(*[st.integers(0, 255)] * 3), st.tuples(*[st.integers(0, 255)] * 3), st.sampled_from([1.0, 0.5]))
def test_blend_modes_are_those_of_the_recommendation(blend, back, front, opacity):
    image = painted(
        Rect(size=(8, 8), fill="rgb({} {} {})".format(*front), blend=blend, opacity=opacity),
        size=(8, 8),
        background="rgb({} {} {})".format(*back),
    )
    cb, cs = [v / 255 for v in back], [v / 255 for v in front]
    expected = [255 * (b + (v - b) * opacity) for b, v in zip(cb, blended(blend, cb, cs), strict=True)]
    assert image[4, 4, :3] == pytest.approx(expected, abs=4)


def test_an_isolated_group_keeps_its_blending_to_itself():
    def inside(isolate):
        top = Rect(size=(8, 8), fill="#ff0000", blend="multiply")
        return painted(Group(isolate=isolate, children=[top]), size=(8, 8), background="#0000ff")[4, 4, :3]

    assert inside(False) == pytest.approx((0, 0, 0), abs=1)
    assert inside(True) == pytest.approx((255, 0, 0), abs=1)


# shadows, clips, cut-outs


def test_a_shadow_is_the_blurred_shape_moved():
    w, h = 80, 60
    image = painted(
        Rect(at=(20, 20), size=(20, 10), fill="#ff0000", shadow=(12, 8, 6, "#0000ff80")), size=(w, h), background="none"
    )
    mask = np.zeros((h, w))
    mask[28:38, 32:52] = 1.0
    alpha = gaussian_filter(mask, 3.0, truncate=3.0, mode="constant") * 128
    clear = np.ones((h, w), bool)
    clear[20:30, 20:40] = False  # where the shape covers it
    assert np.abs(image[:, :, 3] - alpha)[clear].max() < 4
    assert image[25, 30] == pytest.approx((255, 0, 0, 255), abs=1)
    assert image[36, 45, :3] == pytest.approx((0, 0, 255), abs=6)


@settings(max_examples=25, deadline=None)
@given(st.floats(-30, 30), st.floats(0.6, 1.4), st.sampled_from(["clip", "cut", "both"]), st.integers(2, 7))
def test_what_is_clipped_or_cut_out_is_neither_painted_nor_hit(angle, k, how, tips):
    window = Star(id="window", at=(50, 40), tips=tips, outer=38, inner=16, fill=None, visible=how != "cut")
    hole = Circle(id="hole", at=(60, 30), radius=14, cuts=how != "clip", visible=how != "clip")
    field = Rect(id="field", at=(5, 5), size=(85, 70), fill="#ff0000")
    group = Group(
        id="g",
        clip="window" if how != "cut" else "",
        steps=[{"rotate": angle}, {"scale": [k, k]}],
        children=[window, field, hole],
    )
    scene = Scene([group], size=(100, 80), background="#ffffff")
    bgra = taken(scene, 4.0).astype(int)
    tester = HitTester(scene)
    wrong = 0
    for x, y in [(i * 5.3 + 1.1, j * 4.7 + 1.3) for i in range(19) for j in range(16)]:
        patch = bgra[int(4 * y) - 2 : int(4 * y) + 3, int(4 * x) - 2 : int(4 * x) + 3, 0]
        if patch.size == 0 or patch.max() - patch.min() > 8:
            continue  # an edge runs through
        red = patch.mean() < 128
        wrong += red != ("field" in {h.id for h in tester.hit_test(x, y)})
    assert wrong == 0


@settings(max_examples=20)
@given(st.floats(0.3, 8), st.integers(0, 10**6))
def test_blurring_is_that_of_scipy(deviation, seed):
    plane = (np.random.default_rng(seed).random((40, 50)) * 255).astype(np.float32)
    exact = gaussian_filter(plane, deviation, truncate=math.ceil(3 * deviation) / deviation, mode="constant")
    assert np.abs(blurred(plane, deviation) - exact).max() < 1.0


@pytest.mark.parametrize("grouped", [False, True])
@pytest.mark.parametrize(
    ("dx", "dy", "blur"), [(12.4, 8.7, 6), (-15, 10.5, 30), (0, 0, 60), (-70, 0, 4), (3e4, 0, 900)]
)
def test_shadows_of_any_reach_are_the_blurred_shape_moved(grouped, dx, dy, blur):
    w, h = 160, 120
    shape = Rect(at=(90, 30), size=(50, 60), fill="#ff0000")
    caster = Group(children=[shape]) if grouped else shape
    caster.shadow = (dx, dy, blur, "#0000ff")
    image = painted(caster, size=(w, h), background="none")
    mask = np.zeros((h + 400, w + 400))
    mask[230:290, 290:340] = 255.0  # with room for what blurs in from beside the page
    alpha = shift(gaussian_filter(mask, blur / 2, truncate=3.0, mode="constant"), (dy, dx), order=1)[200:-200, 200:-200]
    clear = np.ones((h, w), bool)
    clear[29:91, 89:141] = False
    assert np.abs(image[:, :, 3] - alpha)[clear].max() < 9


# images


@pytest.fixture
def net(tmp_path):
    rows = np.zeros((20, 30, 4), np.uint8)
    rows[:, :15] = (255, 0, 0, 255)
    rows[:, 15:] = (0, 0, 255, 128)
    Pixels.fromarray(rows).save(tmp_path / "net.png")
    return tmp_path


@pytest.mark.parametrize(
    ("fit", "left", "middle_top"),
    [
        ("fill", (255, 0, 0), (255, 0, 0)),
        ("contain", (255, 0, 0), (255, 255, 255)),
        ("cover", (255, 0, 0), (255, 0, 0)),
        ("none", (255, 255, 255), (255, 255, 255)),
    ],
)
def test_images_fit_as_css_object_fit_says(net, fit, left, middle_top):
    image = painted(Image(size=(60, 60), source="net.png", fit=fit), size=(60, 60), folder=str(net))
    assert image[30, 4, :3] == pytest.approx(left, abs=3)
    assert image[4, 26, :3] == pytest.approx(middle_top, abs=3)
    assert image[30, 26, :3] == pytest.approx((255, 0, 0), abs=3)
    assert image[30, 40, :3] == pytest.approx((127, 127, 255), abs=3)


def test_an_image_paints_the_inside_of_a_shape_and_a_missing_one_is_marked(net):
    fill = Picture("net.png", "fill")
    image = painted(Circle(at=(30, 30), radius=20, fill=fill), size=(60, 60), folder=str(net))
    assert image[30, 14, :3] == pytest.approx((255, 0, 0), abs=3) and image[12, 12, :3] == pytest.approx((255,) * 3)
    lost = painted(Image(at=(5, 5), size=(40, 30), source="gone.png"), size=(60, 60), folder=str(net))
    assert np.abs(lost[6:34, 6:44, :3] - 255).max() > 30 and lost[50, 50, :3] == pytest.approx((255,) * 3)


@pytest.mark.parametrize("fit", FITS)
def test_a_picture_as_the_paint_of_the_page_is_that_of_a_shape_as_large(net, fit):
    page = painted(size=(50, 70), background=Picture("net.png", fit), folder=str(net))
    over = painted(Rect(size=(50, 70), fill=Picture("net.png", fit)), size=(50, 70), background="none", folder=str(net))
    shown = [p[:, :, :3] * p[:, :, 3:] / 255 for p in (page, over)]  # where nothing is, any colour would do
    assert over[:, :, 3].max() == 255 and np.abs(page[:, :, 3] - over[:, :, 3]).max() <= 2
    assert np.abs(shown[0] - shown[1]).max() <= 2


@pytest.mark.parametrize("align", ["inside", "outside"])
def test_an_aligned_stroke_lies_on_its_side(align):
    rect = Rect(at=(20, 20), size=(40, 30), fill=None, stroke="#ff0000", stroke_width=6, stroke_align=align)
    image = painted(rect, size=(80, 70))
    inside, outside = image[35, 23, :3], image[35, 17, :3]
    red, white = pytest.approx((255, 0, 0), abs=2), pytest.approx((255,) * 3, abs=2)
    assert (inside == red) == (align == "inside") and (outside == red) == (align == "outside")
    assert (inside == white) == (align == "outside")


def test_a_steady_stroke_keeps_its_width_and_heads_are_painted():
    image = painted(
        Line(at=(10, 20), to=(10, 0), stroke="#000000", stroke_width=4, steady=True, steps=[{"scale": [4, 4]}]),
        size=(60, 40),
    )
    assert (image[:, 20, 0] < 128).sum() == 4
    arrow = painted(
        Line(at=(5, 20), to=(45, 0), stroke="#000000", stroke_width=2, end_head="triangle", head_size=6), size=(60, 40)
    )
    assert (arrow[:, 41, 0] < 128).sum() > 4 and (arrow[:, 20, 0] < 128).sum() == 2


def test_letters_and_holes_are_painted_from_the_same_outlines():
    scene = Scene(
        [
            Text(id="t", at=(4, 4), content="Oo", size=40, fill="#000000"),
            Path(
                id="p", at=(70, 5), data="M0 0 H40 V40 H0 Z M10 10 H30 V30 H10 Z", fill_rule="evenodd", fill="#ff0000"
            ),
        ],
        size=(120, 60),
    )
    bgra = taken(scene, 3.0)
    assert bgra[75, 270, 0] == 255 and bgra[30, 225, 0] == 0
    dark = (bgra[:180, :200, 2] < 100).mean()
    assert 0.03 < dark < 0.3


@pytest.mark.parametrize("far", [0, 30_000])
@pytest.mark.parametrize("closed", [True, False])
def test_ends_that_touch_are_joined_only_when_the_outline_is_closed(closed, far):
    """Qt joins them by itself; SVG does not, and neither does the hit test."""
    points = [(0, 0), (40, 0), (20, -30)] + ([] if closed else [(0, 0)])
    roof = Polyline(
        id="roof", at=(15, 40), points=points, closed=closed, stroke="#000000", stroke_width=10, miter_limit=9
    )
    image = painted(roof, size=(70, 60))
    tip = image[43, 8, 0]  # beyond the corner, where only its miter reaches
    assert (tip < 100) == closed
    scene = Scene([roof.copy()])
    assert bool(HitTester(scene).hit_test(8.5, 43.5)) == closed


@pytest.mark.parametrize(
    "data", ["M20 15 L20 15", "M20 15 Z", "M20 15 L20 15 Z", "M20 15 C20 15 20 15 20 15", "M5 5 L5 6 M20 15 Z"]
)
@pytest.mark.parametrize("cap", ["butt", "round", "square"])
def test_a_subpath_without_length_shows_its_caps_and_is_hit_there(data, cap):
    """SVG 2, section 13.5.4. Qt leaves such subpaths out."""
    dot = Path(id="dot", data=data, stroke="#000000", fill=None, stroke_width=10, cap=cap)
    image = painted(dot)
    corner, middle = image[19, 24, 0] < 128, image[14, 19, 0] < 128
    assert (middle, corner) == (cap != "butt", cap == "square")
    tester = HitTester(Scene([dot.copy()]))
    assert (bool(tester.hit_test(19.5, 14.5)), bool(tester.hit_test(24.5, 19.5))) == (middle, corner)


def test_a_group_whose_shadow_reaches_nothing_seen():
    """What is outside of the picture has an empty sheet."""
    inside = Rect(size=(4, 4), fill="#204060")
    scene = Scene([Group(at=(-5000, 0), shadow=(0, 0, 30, "#000000"), children=[inside])], size=(20, 20))
    display = DisplayList(scene)
    image = QImage(20, 20, FORMAT)
    PaintJob(display, display.order, image, Affine()).run()
    assert not render_image(scene).isNull()


def test_a_fault_while_painting_leaves_no_painter_at_work(monkeypatch):
    """An image that is still painted can't be destroyed: the process would end."""
    scene = Scene([Group(opacity=0.5, children=[Rect(size=(9, 9), shadow=(1, 1, 4, "#000000"))])], size=(20, 20))
    display = DisplayList(scene)
    monkeypatch.setattr("chalcedon.painter.parts.lay_down", lambda *a: 1 / 0)
    for _ in range(20):
        image = QImage(20, 20, FORMAT)
        with pytest.raises(ZeroDivisionError):
            PaintJob(display, display.order, image, Affine()).run()
        del image


@pytest.mark.parametrize("part", ["fill", "stroke"])
@pytest.mark.parametrize("units", ["scene", "box"])
def test_what_moves_is_painted_as_if_it_had_always_been_there(part, units):
    """A gradient in scene px stays on the page while its shape moves under it."""
    line = (0, 0, 200, 0) if units == "scene" else (0, 0, 1, 0)
    paint = Gradient("linear", line, ((0, "#b8482a"), (1, "#7fa3b8")), units=units)
    sail = Rect(at=(10, 10), size=(40, 30), **{"stroke_width": 9, "fill": None, part: paint})
    scene = Scene([sail], size=(200, 100))
    display = DisplayList(scene)
    images = [render_image(display)]
    sail.at = (120, 40)
    display.update()
    images += [render_image(display), render_image(Scene([sail.copy()], size=(200, 100)))]
    first, after, fresh = map(pixels, images)
    assert np.array_equal(after, fresh)
    assert np.array_equal(after[35:90, 110:180], first[5:60, :70]) == (units == "box")
