"""Pictures as files: what of a scene, of which kind; px in WebP, outlines in PDF."""

import io
import re
import zlib

import numpy as np
import pytest
from agree import pixels
from PIL import Image as Picture
from PySide6.QtGui import QColor

import chalcedon
from chalcedon.evaluate import DisplayList
from chalcedon.painter.pictures import Wanted, picture_bytes, picture_image
from chalcedon.painter.sheet import GAP, WORDS, sheet_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Gradient, Group, Rect, Scene, Text
from chalcedon.scene.paints import Pattern


@pytest.fixture
def quay():
    return Scene(
        [
            Rect(id="wall", at=(10, 40), size=(80, 20), fill="#53606f"),
            Group(id="lamp", at=(50, 10), children=[Circle(id="glow", radius=6, fill="#ffe9b0", stroke=None)]),
            Text(id="sign", at=(12, 44), content="QUAY", size=12),
        ],
        size=(100, 80),
        background="#204060",
    )


def rgba(data):
    return np.asarray(Picture.open(io.BytesIO(data)).convert("RGBA"))


def test_px_are_the_same_in_every_kind_without_loss(quay):
    png, webp = (picture_bytes(quay, kind, Wanted(2.0))[0] for kind in ("PNG", "WebP"))
    assert rgba(png).shape == (160, 200, 4) and np.array_equal(rgba(png), rgba(webp))
    clear = rgba(picture_bytes(quay, "WebP", Wanted(clear=True))[0])
    assert clear[0, 0, 3] == 0 and tuple(clear[50, 80]) == (0x53, 0x60, 0x6F, 255)


def test_some_shapes_are_shown_alone_with_their_surroundings_cut_away(quay):
    image = picture_image(DisplayList(quay), Wanted(3.0, [quay["lamp"]]))
    assert (image.width(), image.height()) == (36, 36)
    assert image.pixelColor(0, 0).alpha() == 0 and image.pixelColor(18, 18).name() == "#ffe9b0"
    data, _ = picture_bytes(quay, "SVG", Wanted(only=[quay["glow"], quay["sign"]]))
    text = data.decode()
    assert 'id="lamp"' in text and 'id="glow"' in text and "wall" not in text and "#204060" not in text
    quay["glow"].visible = False
    with pytest.raises(ChalcedonError, match="nothing of that shows"):
        picture_bytes(quay, "PNG", Wanted(only=[quay["lamp"]]))


def content(data):
    """The drawing operators of a PDF, and how many images it holds."""
    found = []
    for raw in re.findall(rb"stream\r?\n(.*?)endstream", data, re.DOTALL):
        try:
            found.append(zlib.decompress(raw))
        except zlib.error:
            continue
    return b"\n".join(found), data.count(b"/Subtype /Image")


def test_outlines_stay_outlines_in_pdf_and_what_fades_together_is_a_picture(quay):
    data, _ = picture_bytes(quay, "PDF")
    drawn, images = content(data)
    assert re.search(rb"/MediaBox \[0 0 75(\.0+)? 60(\.0+)?\]", data) and images == 0
    assert drawn.count(b" c\n") > 4 and b" re\n" in drawn, "curves and rects"
    quay["lamp"].opacity = 0.5
    quay["wall"].fill, quay["wall"].opacity = Gradient("linear", "#fff0", "#53606f"), 0.5
    assert content(picture_bytes(quay, "PDF")[0])[1] >= 2
    with pytest.raises(ChalcedonError, match="can't be made"):
        picture_bytes(Scene(size=(90_000, 10)), "PDF")


GRADIENT = Gradient("linear", "#b8482a", "#7fa3b8")
LOOKS = {
    "fill": ({}, False),
    "fill and stroke": ({"stroke": "#22292e"}, False),
    "a fill that lets through": ({"opacity": 0.5}, False),
    "both let through": ({"stroke": "#22292e", "opacity": 0.5}, True),
    "a stroke lets through": ({"fill": None, "stroke": "#22292e", "opacity": 0.5}, False),
    "a stroke of no width": ({"stroke": "#22292e", "stroke_width": 0, "opacity": 0.5}, False),
    "a stroke that is off": ({"stroke": "#22292e", "stroke_on": False, "opacity": 0.5}, False),
    "gradient": ({"fill": GRADIENT}, False),
    "gradient that lets through": ({"fill": GRADIENT, "opacity": 0.5}, True),
    "gradient stroke that lets through": ({"fill": None, "stroke": GRADIENT, "opacity": 0.5}, True),
    "shadow": ({"shadow": (3, 3, 2, "#00000066")}, True),
    "blend": ({"blend": "multiply"}, True),
    "stroke inside": ({"stroke": "#22292e", "stroke_align": "inside"}, True),
    "pattern": ({"fill": Pattern("dot")}, True),
    "nothing": ({"fill": None}, False),
}


@pytest.mark.parametrize("look", LOOKS)
def test_of_a_page_in_pdf_only_what_must_be_is_a_picture(look):
    values, pictures = LOOKS[look]
    wall = Rect(id="wall", at=(10, 10), size=(40, 30), **{"fill": "#dca443", **values})
    scene = Scene([Circle(id="dot", at=(90, 10), radius=4), wall])
    _drawn, images = content(picture_bytes(scene, "PDF")[0])
    assert (images > 0) == pictures


def test_a_sheet_holds_the_pages_in_rows_with_their_names_below(tmp_path):
    colors = {"quay": "#b8482a", "loom": "#3e7f65", "wide": "#a03fc8"}
    sizes = {"quay": (200, 150), "loom": (60, 60), "wide": (400, 100)}
    files = []
    for name, color in colors.items():
        files.append(tmp_path / f"{name}.chal")
        chalcedon.save(Scene(size=sizes[name], background=color), files[-1])
    (tmp_path / "broken.chal").write_text("{")
    progress = []
    image = sheet_image([*files, tmp_path / "broken.chal"], 3, 100.0, lambda *of: progress.append(of))
    found = pixels(image)
    assert found.shape[:2] == (2 * (75 + WORDS + GAP) + GAP, 3 * (100 + GAP) + GAP) and progress[-1] == (4, 4)
    boxes = {"quay": (24, 24, 124, 99), "loom": (168, 39, 228, 99), "wide": (272, 74, 372, 99)}
    for name, (left, top, right, bottom) in boxes.items():
        same = (abs(found - QColor(colors[name]).getRgb()[:3]).max(axis=2) < 30).nonzero()
        assert (same[1].min(), same[0].min(), same[1].max() + 1, same[0].max() + 1) == pytest.approx(
            (left, top, right, bottom), abs=1
        ), name
    below = found[99 + 1 : 99 + int(WORDS), 24:124]
    assert below.std() > 10, "words"
    drawn = (abs(found[160:] - found[2, 2]).max(axis=2) > 5).nonzero()
    assert (drawn[1].min(), drawn[0].min() + 160, drawn[1].max() + 1) == (24, 167, 124), (
        "a frame where there is no page"
    )
    assert sheet_image([files[0]] * 400, 20, 40.0).width() == 20 * (40 + GAP) + GAP
    for count, columns, cell in ((0, 0, 320.0), (401, 0, 320.0), (1, -1, 320.0), (1, 0, 39.0), (1, 0, 2001.0)):
        with pytest.raises(ChalcedonError, match="Give"):
            sheet_image([files[0]] * count, columns, cell)
    assert sheet_image(files[:1], 0, 40.0).width() == 40 + 2 * GAP


def test_the_least_picture_is_a_px(quay):
    assert [chalcedon.render_array(quay, scale).shape[:2] for scale in (1e-6, 1 / 80, 1 / 50)] == [
        (1, 1),
        (1, 2),
        (2, 2),
    ]


def test_the_name_says_the_kind_and_nothing_is_left_half_written(quay, tmp_path):
    for name, start in (("a.PNG", b"\x89PNG"), ("a.webp", b"RIFF"), ("a.pdf", b"%PDF"), ("a.svg", b"<svg")):
        chalcedon.render(quay, tmp_path / name, 2)
        assert (tmp_path / name).read_bytes().startswith(start)
    with pytest.raises(ChalcedonError, match=r"\.png, \.webp, \.pdf, \.svg"):
        chalcedon.render(quay, tmp_path / "a.bmp")
    before = (tmp_path / "a.webp").read_bytes()
    with pytest.raises(ChalcedonError, match="16383"):
        chalcedon.render(quay, tmp_path / "a.webp", 200)
    assert (tmp_path / "a.webp").read_bytes() == before
