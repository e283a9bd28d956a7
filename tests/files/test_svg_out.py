"""Scenes as SVG: a second renderer paints them the same; structure, words and what can't be carried."""

import re
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pages import pages
from PIL import Image as Photo
from second import dress, effects, far, gradients, ours, theirs

import chalcedon
from chalcedon.evaluate import DisplayList
from chalcedon.files.svgout import svg_bytes
from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError
from chalcedon.scene import (
    Circle,
    Ellipse,
    Gradient,
    Group,
    Image,
    Line,
    Picture,
    Polyline,
    Rect,
    Scene,
    Star,
    Step,
    Text,
)
from chalcedon.scene.paints import FITS


@settings(max_examples=60)
@given(pages(), st.lists(gradients, max_size=2), st.lists(effects, max_size=3))
def test_a_second_renderer_paints_the_same(scene, paints, more):
    for shape in dress(scene, paints, more):
        # where the other renderer is known to differ from a browser, or to leave out what SVG defines
        shape.steady = False
        shape.stroke_width = min(shape.stroke_width, 5)
        if shape.kind in ("polyline", "path"):
            shape.join = "round"
        if shape.kind not in ("line", "rect"):
            shape.dash = ()
    made = svg_bytes(scene)
    if not any("shadow" in note for note in made.notes):  # stretched ones are told of
        # its masks are px of the page: of strokes that are much squeezed they differ by a fifth of a px
        assert far(ours(scene), theirs(made.data)) <= 56, made.data.decode()


SVG = "{http://www.w3.org/2000/svg}"


def elements(scene, **more):
    made = svg_bytes(scene, **more)
    return ElementTree.fromstring(made.data), made.notes


def tags(element):
    return [(child.tag.removeprefix(SVG), child.get("id")) for child in element]


few = st.sampled_from([0, 0, 5, -12.5])
written_steps = st.lists(
    st.tuples(
        st.sampled_from(
            [
                ("rotate", 30),
                ("scale", 2, 0.5),
                ("skew", 20, 0),
                ("skew", 0, 15),
                ("translate", 3, 0),
                ("matrix", 1, 0.2, 0.1, 1, 4, 5),
            ]
        ),
        st.none() | st.tuples(few, few),
        st.booleans(),
    ).map(lambda v: Step(*v[0], about=v[1] if v[0][0] not in ("translate",) else None, on=v[2] or v[1] is None)),
    max_size=3,
)


@given(st.tuples(few, few), written_steps, st.sampled_from(["origin", "center", "top-left"]))
def test_steps_are_written_as_transforms_that_stand_where_they_did(at, steps, pivot):
    """Read back by the grammar of the standard, whose last transform comes first."""
    scene = Scene([Rect(id="crate", at=at, size=(20, 10), steps=steps, pivot=pivot)], size=(90, 60))
    display = DisplayList(scene)
    node = display.node(scene["crate"])
    (element,) = [e for e in ElementTree.fromstring(svg_bytes(scene).data).iter() if e.get("id") == "crate"]
    m = np.eye(3)
    for name, said in re.findall(r"(\w+)\(([^)]*)\)", element.get("transform", "")):
        n = [float(v) for v in re.findall(r"[-+.\de]+", said)]
        if name == "rotate":
            turned = np.radians(n[0])
            x, y = n[1:] or (0, 0)
            own = shift(x, y) @ linear(np.cos(turned), np.sin(turned), -np.sin(turned), np.cos(turned)) @ shift(-x, -y)
        else:
            own = {
                "translate": lambda x, y=0: shift(x, y),
                "scale": lambda x, y=None: linear(x, 0, 0, x if y is None else y),
                "skewX": lambda a: linear(1, 0, np.tan(np.radians(a)), 1),
                "matrix": lambda a, b, c, d, e, f: shift(e, f) @ linear(a, b, c, d),
            }[name](*n)
        m = m @ own
    x, y, width, height = (float(element.get(k, 0)) for k in ("x", "y", "width", "height"))
    corners = np.array([[x, x + width, x], [y, y, y + height], [1, 1, 1]])
    box = node.box
    wanted = [node.world.map(*p) for p in ((box[0], box[1]), (box[2], box[1]), (box[0], box[3]))]
    found = [tuple(p) for p in (m @ corners)[:2].T]
    assert np.allclose(found, wanted, atol=1e-4)


def shift(x, y):
    return np.array([[1, 0, x], [0, 1, y], [0, 0, 1]])


def linear(a, b, c, d):
    return np.array([[a, c, 0], [b, d, 0], [0, 0, 1]])


def test_no_zero_is_written_below_zero():
    shapes = [Rect(at=(-0.0, -0.0), size=(9, 9)), Line(at=(-0.0, 3), to=(-0.0, 4), steps=[Step("scale", 1, -0.0)])]
    shapes.append(Polyline(points=[(-0.0, 1), (4, -0.0), (2, 2)], steps=[Step("rotate", 30, about=(-0.0, -0.0))]))
    assert not re.search(rb"-0[^.\d]", svg_bytes(Scene(shapes, size=(20, 20))).data)


def test_structure_ids_order_and_words_are_kept():
    scene = Scene(
        [
            Rect(id="sky", size=(100, 60), corners=(4,), label="The sky <at night>", note="a & b\x01"),
            Group(
                id="boat",
                at=(10, 5),
                steps=[Step("rotate", 30)],
                children=[
                    Circle(id="port", at=(3, 4), radius=2, pointer="fill"),
                    Ellipse(id="hull", at=(9, 4), radii=(6, 2), visible=False),
                    Line(id="rope", at=(1, 1), to=(5, 0), stroke="#123", end_head="barb"),
                    Polyline(id="sail", points=[(0, 0), (4, 0), (4, 6)], closed=True),
                    Polyline(id="wake", points=[(0, 0), (4, 0), (4, 6)]),
                    Star(id="flag", tips=5, outer=4, inner=2, opacity=0.5, blend="multiply"),
                ],
            ),
            Rect(id="tilted", at=(20, 30), size=(10, 4), steps=[Step("rotate", 30), Step("skew", 10, 0)]),
        ],
        size=(100, 60),
    )
    root, notes = elements(scene)
    assert root.get("viewBox") == "0 0 100 60" and not notes
    _page, sky, boat, tilted = root
    assert tags(root) == [("rect", None), ("rect", "sky"), ("g", "boat"), ("rect", "tilted")]
    assert [t.tag.removeprefix(SVG) for t in sky] == ["title", "desc"]
    assert (sky[0].text, sky[1].text) == ("The sky <at night>", "a & b\ufffd")
    assert tags(boat) == [
        ("circle", "port"),
        ("ellipse", "hull"),
        ("g", "rope"),
        ("polygon", "sail"),
        ("polyline", "wake"),
        ("path", "flag"),
    ]
    assert (boat[0].get("pointer-events"), boat[1].get("display")) == ("visibleFill", "none")
    assert boat[5].get("style") == "mix-blend-mode:multiply" and boat[5].get("opacity") == "0.5"
    assert tilted.get("transform").startswith("translate(25 32) skewX(10)") and "rotate(30 25 32)" in tilted.get(
        "transform"
    )


def test_what_renderers_have_no_word_for_is_written_out_or_said(tmp_path):
    scene = Scene(
        [
            Circle(id="moon", at=(Formula("20 + time"), 20), radius=12),
            Circle(id="bite", at=(26, 16), radius=9, cuts=True),
            Image(id="photo", at=(40, 4), size=(20, 10), source="gone.png"),
            Rect(id="edge", at=(40, 30), size=(20, 10), stroke="#204060", stroke_width=4, stroke_align="inside"),
            Circle(id="coin", at=(70, 40), radius=4, stroke="#204060", stroke_width=16),
        ],
        size=(100, 60),
        palette={"sea": "#3e7f8b"},
        background="var(--sea)",
    )
    root, notes = elements(scene)
    assert any("1 formula" in n for n in notes) and any("an image is left out" in n for n in notes)
    assert any("wider than its line bends" in n for n in notes)
    page, masked = list(root)[1:3]
    assert page.get("fill") == "#3e7f8b" and tags(masked) == [("circle", "moon")] and masked.get("mask")
    scene["photo"].remove()
    assert far(ours(scene), theirs(svg_bytes(scene).data)) <= 6


@pytest.mark.parametrize("up", [False, True])
def test_text_is_text_or_outlines_that_look_the_same(up):
    runs = [{"first": 4, "last": 9, "weight": 700, "fill": "#b8482a"}]
    words = Text(id="sign", at=(6, 6), content="Low water\nat quay", size=20, runs=runs, fill="#204060")
    scene = Scene([words, Text(id="far", at=(90, 60), content="\u05e9\u05dc\u05d5\u05dd", size=18)], size=(160, 90))
    if up:
        scene.y_axis = "up"
    scene.background = "#ffffff"
    root, _ = elements(scene)
    sign = next(e for e in root.iter() if e.get("id") == "sign")
    lines = list(sign)
    assert sign.tag == SVG + "text" and "".join(lines[0].itertext()) == "Low water" and lines[0][0].text == "water"
    assert lines[0][0].get("font-weight") == "700" and lines[1].text == "at quay"
    assert next(e for e in root.iter() if e.get("id") == "far").tag == SVG + "path", "from the right: as outlines"
    assert far(ours(scene), theirs(svg_bytes(scene, outlines=True).data)) <= 12


@pytest.mark.parametrize("up", [False, True])
@pytest.mark.parametrize("fit", FITS)
def test_a_picture_fills_a_shape_as_it_does_here(tmp_path, up, fit):
    dots = Photo.new("RGB", (14, 9), "#dca443")
    dots.paste("#15213a", (0, 0, 5, 3))
    dots.paste("#b8482a", (9, 5, 14, 9))
    dots.save(tmp_path / "dots.png")
    scene = Scene(size=(80, 60), background="#ffffff", y_axis="up" if up else "down")
    scene.folder = str(tmp_path)
    place = (11, 52 if up else 7)
    scene.add(Rect(id="wall", at=place, size=(50, 40), fill=Picture("dots.png", fit), steps=[{"rotate": 9}]))
    written = svg_bytes(scene)
    assert not written.notes
    mine, other = ours(scene), theirs(written.data)
    assert mine.std() > 10 and far(mine, other) <= 30 * (1 + (fit == "tile"))


@pytest.mark.parametrize("kind", ["linear", "radial"])
def test_gradients_of_any_length_are_those_that_are_painted(kind):
    stops = [(0, "#b8482a"), (0.5, "#f1e4bd"), (1, "#15213a")]
    lines = {
        "linear": [(0.5, 0.5, 0.5, 0.5), (0, 0, 1, 0), (0.2, 0.7, 0.9, 0.1)],
        "radial": [(0.5, 0.5, r) for r in (0, 1, 0.4)],
    }
    scene = Scene(size=(90, 60), background="#ffffff")
    for i, line in enumerate(lines[kind]):
        for row, (units, factor) in enumerate((("box", 1), ("scene", 20))):
            paint = {kind: [v * factor if v != 1 else v for v in line], "stops": stops, "units": units}
            scene.add(Rect(4 + 28 * i, 4 + 28 * row, 24, 24, fill=paint))
    made = svg_bytes(scene)
    assert far(ours(scene), theirs(made.data)) <= 12, made.data.decode()


@pytest.mark.parametrize("up", [False, True])
@pytest.mark.parametrize("paint", ["gradient", "picture"])
def test_a_page_is_painted_with_what_a_shape_can_be(tmp_path, paint, up):
    dots = Photo.new("RGB", (20, 12), "#dca443")
    dots.paste("#15213a", (0, 0, 10, 6))
    dots.save(tmp_path / "dots.png")
    scene = Scene(size=(90, 60), y_axis="up" if up else "down")
    scene.folder = str(tmp_path)
    scene.background = {
        "gradient": Gradient("linear", "#b8482a", "#15213a", line=(10, 5, 80, 50), units="scene"),
        "picture": Picture("dots.png", "tile"),
    }[paint]
    mine, other = ours(scene), theirs(svg_bytes(scene).data)
    assert mine.std() > 10 and abs(mine - other).mean() < 0.6


def test_what_is_cut_out_of_a_turned_and_sized_group_is_cut_out_there():
    cutter = Circle(id="hole", at=(26, 16), radius=9, cuts=True)
    steps = [Step("rotate", 25), Step("scale", 2, 0.6)]
    wall = Rect(id="wall", at=(4, 4), size=(30, 30), fill="#15213a")
    scene = Scene([Group(id="mill", at=(60, 40), children=[wall, cutter], steps=steps)], size=(200, 120))
    scene.background = "#ffffff"
    assert far(ours(scene), theirs(svg_bytes(scene).data)) <= 12
    lone = Scene([Group(id="mill", at=(60, 40), children=[cutter.copy()], steps=steps)], size=(200, 120))
    assert far(ours(lone), theirs(svg_bytes(lone).data)) <= 12


def test_a_file_is_written_safely(tmp_path):
    scene = Scene([Circle(id=f"c{i}", at=(i % 100, i // 100), radius=1) for i in range(300)], size=(100, 100))
    assert chalcedon.render(scene, tmp_path / "dots.svg") == []
    root = ElementTree.parse(tmp_path / "dots.svg").getroot()
    assert [e.get("id") for e in root][1:] == [f"c{i}" for i in range(300)]
    with pytest.raises(ChalcedonError, match="no such folder"):
        chalcedon.render(scene, tmp_path / "none" / "dots.svg")


@pytest.mark.parametrize("join", ["miter", "round", "bevel"])
@pytest.mark.parametrize("align", ["inside", "outside"])
def test_strokes_beside_an_outline_are_as_wide_as_they_are_painted(join, align):
    """To their outermost px: what hides the other side of them reaches farther."""
    star = Star(id="star", at=(80, 80), outer=50, inner=24, fill=None, stroke="#204060", stroke_width=18)
    star.join, star.stroke_align, star.miter_limit = join, align, 1 if join == "miter" else 4
    scene = Scene([star, Circle(at=(190, 80), radius=30, stroke="#b8482a", stroke_width=30, stroke_align=align)])
    scene.size, scene.background = (260, 160), "#ffffff"
    assert np.abs(ours(scene) - theirs(svg_bytes(scene).data)).max() <= 96, "smoothed otherwise, and no more"
