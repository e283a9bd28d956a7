"""Bundles: a scene with all it needs in one file, which opens anywhere and harms nobody."""

import io
import os
import zipfile

import pytest
from fontTools.ttLib import TTFont
from PIL import Image as Pillow

import chalcedon
from chalcedon import Circle, Image, Rect, Scene, Text
from chalcedon.files.anything import open_any
from chalcedon.files.packed import pack
from chalcedon.files.seen import save_seen
from chalcedon.files.writer import save_scene
from chalcedon.problems import ChalcedonError
from chalcedon.text import beside, fonts


@pytest.fixture
def place(tmp_path, monkeypatch):
    """A folder with pictures and two fonts of our own, one of which may not be handed on."""
    monkeypatch.setattr(beside, "_known", {})
    fonts.choose.cache_clear()
    fonts.fallback.cache_clear()
    folder = tmp_path / "here"
    (folder / "pictures").mkdir(parents=True)
    Pillow.effect_mandelbrot((40, 30), (-2, -1, 1, 1), 50).convert("RGB").save(folder / "pictures" / "net.png")
    (folder / "fonts").mkdir()
    for name, bits, weight in (("Quay Open", 0, "Black"), ("Quay Shut", 2, "Regular")):
        font = TTFont(fonts.shipped_folder() / f"SourceSansPro-{weight}.otf")
        for record in font["name"].names:
            if record.nameID in (1, 16):
                record.string = name
        font["OS/2"].fsType = bits
        font.save(folder / "fonts" / f"{name.replace(' ', '')}.otf")
    yield folder
    fonts.choose.cache_clear()
    fonts.fallback.cache_clear()


def signs(folder):
    scene = Scene(size=(300, 200), background={"image": "pictures/net.png", "fit": "tile"})
    scene.add(Image(id="net", source="pictures/net.png", size=(80, 60)))
    scene.add(Text("Ferry", id="ferry", at=(20, 100), family="Quay Open", size=48))
    scene.add(Text("Shut", id="shut", at=(20, 160), family="Quay Shut", size=30))
    scene.add(Text("Gone", id="gone", at=(150, 160), family="No Such Font", size=30))
    scene.add(
        Circle(
            id="lamp", at=(250, 50), radius=20, responses=[{"on": "click", "do": [{"goto": "night"}, {"goto": "day"}]}]
        )
    )
    chalcedon.save(scene, folder / "signs.chal")
    chalcedon.save(Scene([Rect(id="dark")]), folder / "night.chal")
    return chalcedon.open_scene(folder / "signs.chal").scene


def test_a_bundle_has_what_a_scene_needs_and_paints_the_same_opened_or_unpacked(place, tmp_path, monkeypatch):
    scene = signs(place)
    plain = chalcedon.render_bytes(Scene([Text("Ferry", at=(20, 100), size=48)], size=(300, 200)))
    here = chalcedon.render_bytes(scene, 2)
    notes = "\n".join(chalcedon.pack(scene, tmp_path / "signs.zip"))
    assert "QuayShut.otf is not in it: its licence" in notes and "No Such Font is not on this machine" in notes
    assert "goes to day, which is not in it" in notes and notes.count("\n") == 2
    with zipfile.ZipFile(tmp_path / "signs.zip") as archive:
        names = archive.namelist()
        archive.extractall(tmp_path / "there")
    assert names == ["signs.chal", "pictures/net.png", "fonts/QuayOpen.otf", "night.chal"]
    (place / "fonts" / "QuayShut.otf").unlink()  # elsewhere it isn't there either
    (place / "fonts" / "QuayOpen.otf").rename(place / "QuayOpen.otf")
    fonts.look_beside(place)
    assert fonts.choose("Quay Open").substitute
    opened = open_any(tmp_path / "signs.zip")
    assert not opened.problems and "1 more scenes" in opened.notices[0]
    whole = chalcedon.render_bytes(opened.scene, 2)
    monkeypatch.setattr(beside, "_known", {})
    fonts.choose.cache_clear()
    unpacked = chalcedon.render_bytes(chalcedon.open_scene(tmp_path / "there" / "signs.chal").scene, 2)
    assert whole == unpacked
    differs = [
        (x, y)
        for y in range(0, 400, 3)
        for x in range(0, 600, 3)
        if px(here, x, y) != px(whole, x, y) and not (40 <= x < 300 and 320 <= y < 400)
    ]
    assert not differs, "all but the words in the font that may not be handed on"
    assert plain != here


def px(data, x, y, kept={}):  # noqa: B006
    if data not in kept:
        kept[data] = Pillow.open(io.BytesIO(data)).convert("RGB").load()
    return kept[data][x, y]


def test_images_that_can_not_be_had_are_named_and_the_rest_goes_along(place, tmp_path):
    away = ["http://quay.example/net.png", "../net.png", "pictures/gone.png", "pictures"]
    scene = Scene([Image(source=source) for source in (*away, "pictures/net.png")])
    scene.folder = str(place)
    notes = chalcedon.pack(scene, tmp_path / "signs.zip")
    assert [n.removeprefix("An image is not in it: ") for n in notes] == [
        "'http://quay.example/net.png' is not a file. Images are not fetched from elsewhere.",
        "'../net.png' lies outside the scene's folder. Put it beside the scene, or embed it.",
        "pictures/gone.png: No such file or directory.",
        "pictures: Is a directory.",
    ]
    assert zipfile.ZipFile(tmp_path / "signs.zip").namelist() == ["signs.chal", "pictures/net.png"]


def test_what_is_no_bundle_or_would_harm_is_refused_with_a_sentence(tmp_path):
    def made(name, *files):
        with zipfile.ZipFile(tmp_path / name, "w", zipfile.ZIP_DEFLATED) as archive:
            for file, data in files:
                archive.writestr(file, data)
        return tmp_path / name

    (tmp_path / "no.zip").write_bytes(b"PK\x03\x04 nothing more")
    scene = ("one.chal", b'{"chalcedon": 1, "shapes": [{"kind": "image", "source": "../../etc/x.png"}]}')
    for path, why in (
        (tmp_path / "no.zip", "not a bundle"),
        (tmp_path / "none.zip", "no such file"),
        (made("empty.zip"), "no scene in it"),
        (made("deep.zip", ("in/one.chal", b"{}")), "no scene in it"),
        (made("bomb.zip", scene, ("a.png", bytes(30 << 20))), "far more than it seems"),
        (made("many.zip", *((f"{i}.png", b"") for i in range(2001))), "far more than it seems"),
        (made("bad.zip", ("one.chal", b'{"chalcedon": 1')), "not valid JSON"),
    ):
        with pytest.raises(ChalcedonError, match=why):
            open_any(path)
    before = set(os.listdir(tmp_path))
    opened = open_any(made("out.zip", scene, ("../../evil.png", b"x"), ("fonts/../../evil.otf", b"x")))
    assert "is not in the bundle" in opened.notices[0] and opened.scene["image"].source == "../../etc/x.png"
    assert set(os.listdir(tmp_path)) == before | {"out.zip"}
    with pytest.raises(ChalcedonError, match="ZIP"):
        pack(Scene(), "x", tmp_path / "scene.tar")


@pytest.mark.parametrize("name", ["a.zip", "a.SVG", "a.png"])
def test_a_scene_is_not_saved_under_a_name_by_which_it_could_not_be_opened(tmp_path, name):
    (tmp_path / name).write_text("mine")
    for save in (save_scene, lambda scene, path: save_seen(scene, path)):
        with pytest.raises(ChalcedonError, match=r"End it in \.chal"):
            save(Scene(), tmp_path / name)
    assert (tmp_path / name).read_text() == "mine"


def test_the_nearest_face_beside_a_scene_is_taken_before_those_of_the_machine(place):
    fonts.look_beside(place)
    assert fonts.choose("quay open", 400).face.file.endswith("QuayOpen.otf")
    assert [a.embeds for a in beside.all_beside()] == [True, False]
    (place / "fonts" / "broken.ttf").write_bytes(b"\0\1\0\0 nothing")
    fonts.look_beside(place)
    assert len(beside.all_beside()) == 2, "what is no font is left out"


def test_only_fonts_that_lie_beside_the_scene_are_taken(place):
    own = place / "fonts"
    elsewhere = place.parent / "elsewhere.otf"
    (own / "QuayOpen.otf").rename(elsewhere)
    (own / "linked.otf").symlink_to(elsewhere)
    (own / "QuayShut.otf").rename(own / "QuayShut.otf.bak")
    fonts.look_beside(place)
    assert fonts.choose("Quay Open").substitute and fonts.choose("Quay Shut").substitute
    (own / "QuayShut.otf.bak").rename(own / "QuayShut.OTF")
    fonts.look_beside(place)
    assert not fonts.choose("Quay Shut").substitute
