"""Format 1 is frozen: files of every earlier state are what they were, and what they say keeps its meaning."""

import hashlib
from pathlib import Path

import jsonschema
import orjson
import pytest
from recorded import HOME

from chalcedon.files import migrate, open_scene, read_scene, scene_bytes
from chalcedon.files.schema import schema
from chalcedon.painter.render import render_image
from chalcedon.scene import KINDS, OFFERED, Scene
from chalcedon.scene.diff import diff

EARLIER = sorted((Path(__file__).parent / "earlier").glob("*.chal"))


@pytest.mark.parametrize("file", EARLIER, ids=lambda f: f.stem)
def test_files_of_earlier_states_open_as_what_they_were(file):
    opened = open_scene(file)
    assert not opened.problems and not opened.notices and not any(s.extra for s in opened.scene.walk())
    jsonschema.Draft202012Validator(schema()).validate(orjson.loads(file.read_bytes()))
    again = read_scene(scene_bytes(opened.scene)).scene
    assert not diff(opened.scene, again)
    image = render_image(opened.scene, 0.25)
    seen = hashlib.sha1(bytes(image.constBits())).hexdigest()
    assert seen == hashlib.sha1(bytes(render_image(again, 0.25).constBits())).hexdigest()


def said(name, cls):
    """What a file can say of a kind, and what it means to leave it out: a line each."""
    for word, prop in cls.properties.items():
        yield f"{name}.{word} is {prop.kind.write(prop.default)!r} where it isn't stated"
        yield from (f"{name}.{word} can be {one!r}" for one in words_of(prop.kind.schema()))


def words_of(taken):
    """The words that a value may be, in the order of the schema."""
    if isinstance(taken, dict):
        yield from taken.get("enum", ())
        taken = list(taken.values())
    if isinstance(taken, list):
        for inner in taken:
            yield from words_of(inner)


def test_nothing_that_format_1_says_comes_to_mean_something_else():
    frozen = (HOME / "format-1.txt").read_text().splitlines()
    now = set(said("scene", Scene)).union(*(said(kind, KINDS[kind]) for kind in OFFERED))
    assert len(frozen) > 500 and not [line for line in frozen if line not in now]


def test_a_file_of_an_earlier_version_is_brought_on_step_by_step(monkeypatch):
    """Versions to come, with steps made up: a property gets another name, then counts otherwise."""

    def renamed(raw):
        for shape in raw["shapes"]:
            shape["radius"] = shape.pop("halfwidth")

    def doubled(raw):
        for shape in raw["shapes"]:
            shape["radius"] *= 2

    monkeypatch.setattr(migrate, "VERSION", 3)
    monkeypatch.setattr(migrate, "STEPS", {1: renamed, 2: doubled})
    text = b'{"chalcedon": 1, "shapes": [{"kind": "circle", "id": "moon", "halfwidth": 20}]}'
    opened = read_scene(text)
    assert opened.scene["moon"].radius == 40 and not opened.problems
    assert scene_bytes(opened.scene).startswith(b'{"chalcedon": 3')
    second = read_scene(text.replace(b'"chalcedon": 1', b'"chalcedon": 2').replace(b"halfwidth", b"radius"))
    assert second.scene["moon"].radius == 40
    newer = read_scene(b'{"chalcedon": 4, "shapes": []}')
    assert "newer" in newer.notices[0] and scene_bytes(newer.scene).startswith(b'{"chalcedon": 4')
