"""Pictures as files: what of a scene, of which kind; px in WebP, outlines in PDF."""

import io
import re
import zlib

import numpy as np
import pytest
from PIL import Image as Picture

import chalcedon
from chalcedon.evaluate import DisplayList
from chalcedon.painter.pictures import Wanted, picture_bytes, picture_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Gradient, Group, Rect, Scene, Text


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
