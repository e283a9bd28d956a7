"""Images: their sizes and px against Pillow, what is refused, and what is remembered."""

import base64
import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from chalcedon.files import images
from chalcedon.files.images import image_key, image_size, load_image, source_for
from chalcedon.painter import images as painted
from chalcedon.painter.export import headless
from chalcedon.problems import ChalcedonError


def saved(path, mode="RGB", size=(12, 8), **more):
    rng = np.random.default_rng(3)
    count = len(Image.new(mode, (1, 1)).getbands())
    data = rng.integers(0, 255, (size[1], size[0], count), dtype=np.uint8)
    Image.fromarray(data.squeeze()).save(path, **more)
    return data


@pytest.mark.parametrize("turn", range(1, 9))
def test_a_photo_is_turned_as_its_file_says(tmp_path, turn):
    """EXIF 2.3: orientations 5 to 8 lie on their side."""
    exif = Image.Exif()
    exif[0x0112] = turn
    saved(tmp_path / "photo.png", exif=exif)
    shown = load_image("photo.png", str(tmp_path))
    flat = np.asarray(Image.open(tmp_path / "photo.png").convert("RGBA"))
    expected = {
        1: flat, 2: flat[:, ::-1], 3: flat[::-1, ::-1], 4: flat[::-1], 5: flat.transpose(1, 0, 2),
        6: np.rot90(flat, -1), 7: flat[::-1, ::-1].transpose(1, 0, 2), 8: np.rot90(flat),
    }[turn]  # fmt: skip
    assert np.array_equal(shown, expected)
    assert image_size("photo.png", str(tmp_path)) == (expected.shape[1], expected.shape[0])


@settings(max_examples=30, deadline=None)
@given(
    st.sampled_from(["RGB", "RGBA", "L", "LA", "1", "P"]),
    st.integers(1, 70),
    st.integers(1, 70),
    st.integers(0, 3),
    st.sampled_from(["PNG", "WEBP", "GIF", "JPEG"]),
)
def test_halved_images_are_averages(mode, width, height, halvings, form):
    """Against block averages in NumPy, colours weighed by how opaque they are."""
    base = Image.fromarray(
        np.random.default_rng(width * 71 + height).integers(0, 255, (height, width, 4), np.uint8), "RGBA"
    )
    stored = base.convert(mode) if form == "PNG" else base.convert("RGB")
    out = io.BytesIO()
    stored.save(out, form, **({"lossless": True} if form == "WEBP" else {"quality": 100} if form == "JPEG" else {}))
    source = "data:image/x;base64," + base64.b64encode(out.getvalue()).decode()
    whole = np.asarray(Image.open(out).convert("RGBA")).astype(float)
    small = load_image(source, None, halvings).astype(float)
    k = 2**halvings
    assert small.shape[:2] == (-(-height // k), -(-width // k)) or form == "JPEG"
    if form == "JPEG" or small.shape[0] * small.shape[1] == 0:
        return  # its decoder averages in its own way
    block = whole[:k, :k].reshape(-1, 4)
    alpha = block[:, 3].mean()
    color = (block[:, :3] * block[:, 3:]).sum(0) / max(1e-9, block[:, 3].sum())
    assert abs(small[0, 0, 3] - alpha) <= 1.5
    if alpha > 40:
        assert np.abs(small[0, 0, :3] - color).max() <= 6


def test_what_can_not_be_shown_is_a_sentence(tmp_path):
    (tmp_path / "text.png").write_text("no image")
    saved(tmp_path / "cut.png")
    (tmp_path / "cut.png").write_bytes((tmp_path / "cut.png").read_bytes()[:200])
    loop = tmp_path / "loop.png"
    loop.symlink_to(loop)
    (tmp_path / "folder.png").mkdir()
    outside = tmp_path.parent / "outside.png"
    saved(outside)
    (tmp_path / "link.png").symlink_to(outside)
    for source, text in (
        ("text.png", "not a PNG"),
        ("gone.png", "no file"),
        ("loop.png", "circle|no file"),
        ("folder.png", "not a file"),
        ("../outside.png", "outside"),
        ("link.png", "outside"),
        ("http://x/y.png", "not fetched"),
        ("a\0b", "not a file"),
        ("data:image/png;base64,@@", "not base64"),
        ("data:image/png", "no data"),
        ("", "no file is named"),
    ):
        with pytest.raises(ChalcedonError, match=text):
            image_size(source, str(tmp_path))
    assert image_size("cut.png", str(tmp_path)) == (12, 8)
    with pytest.raises(ChalcedonError, match="damaged"):
        load_image("cut.png", str(tmp_path))
    for name in ("gone.png", "loop.png", "cut.png"):
        with pytest.raises(ChalcedonError):
            source_for(tmp_path / name, str(tmp_path))
    with pytest.raises(ChalcedonError, match="no folder"):
        image_size("text.png", None)


def test_an_image_of_too_many_px_is_refused_by_its_head(tmp_path, monkeypatch):
    saved(tmp_path / "a.png")
    monkeypatch.setattr(images, "LARGEST", 95)
    with pytest.raises(ChalcedonError, match="12 x 8 px"):
        image_size("a.png", str(tmp_path))


def test_a_colour_that_is_clear_is_not_mixed_in():
    """Of an RGB picture one colour may stand for what is clear (PNG, tRNS)."""
    dots = Image.new("RGB", (4, 4), (250, 0, 250))
    dots.paste((10, 90, 30), (0, 0, 1, 4))
    out = io.BytesIO()
    dots.save(out, "PNG", transparency=(250, 0, 250))
    source = "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()
    assert load_image(source, None, 1) == pytest.approx(np.array([[(10, 90, 30, 128), (0, 0, 0, 0)]] * 2), abs=1)


@pytest.mark.parametrize(
    ("pixels", "within", "size"),
    [((30, 20), (99, 99), (30, 20)), ((30, 70), (99, 10), (4.29, 10)), ((300, 70), (100, 99), (100, 23.33))],
)
def test_a_picture_is_placed_at_its_own_size_or_as_large_as_there_is_room(pixels, within, size):
    assert images.natural_size(pixels, within) == size


def test_a_file_that_is_too_heavy_is_not_read(tmp_path, monkeypatch):
    saved(tmp_path / "a.png")
    weight = (tmp_path / "a.png").stat().st_size
    monkeypatch.setattr(images, "HEAVIEST", weight)
    assert image_size("a.png", str(tmp_path)) == (12, 8)
    monkeypatch.setattr(images, "HEAVIEST", weight - 1)
    with pytest.raises(ChalcedonError, match=r"'a.png' has .* MB; up to 0 are read"):
        image_size("a.png", str(tmp_path))


def test_pictures_are_remembered_by_bytes_at_the_size_they_are_shown_at(tmp_path, monkeypatch):
    headless()
    for i in range(6):
        saved(tmp_path / f"p{i}.png", size=(400, 300))
    painted._pictures.clear()
    folder = str(tmp_path)
    assert painted.picture("p0.png", folder, (90, 70)).width() == 100
    assert painted.picture("p0.png", folder, (399, 299)).width() == 400
    assert painted.picture("p0.png", folder, (9999, 1)).width() == 400
    monkeypatch.setattr(painted, "KEPT", 3 * 400 * 300 * 4)
    for i in range(6):
        painted.picture(f"p{i}.png", folder, (400, 300))
    assert sum(p.sizeInBytes() for p in painted._pictures.values()) <= 3 * 400 * 300 * 4
    before = image_key("p1.png", folder)
    saved(tmp_path / "p1.png", size=(200, 100))
    assert image_key("p1.png", folder) != before
    assert painted.picture("p1.png", folder, (400, 300)).width() == 200, "another file is another picture"


def test_tiles_keep_their_size_whatever_is_decoded(tmp_path):
    """A tile of the image's own size, painted at a quarter: every second tile begins where it should."""
    from chalcedon.painter import render_image
    from chalcedon.scene import Picture, Rect, Scene

    half = np.zeros((64, 64, 4), np.uint8)
    half[:, :32] = (255, 0, 0, 255)
    half[:, 32:] = (0, 0, 255, 255)
    Image.fromarray(half).save(tmp_path / "t.png")
    scene = Scene([Rect(size=(640, 64), fill=Picture("t.png", "tile"))], size=(640, 64))
    scene.folder = str(tmp_path)
    picture = render_image(scene, 0.25)
    for i in range(10):
        assert picture.pixelColor(i * 16 + 4, 8).red() > 200 and picture.pixelColor(i * 16 + 12, 8).blue() > 200
