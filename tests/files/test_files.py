"""The scene file: exact round trips, damaged and hostile files, saving that can't destroy."""

import json

import jsonschema
import orjson
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import scenes

from chalcedon.files import open_scene, read_scene, scene_bytes
from chalcedon.files.schema import schema
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group, Rect, Scene

validator = jsonschema.Draft202012Validator(schema())


@settings(max_examples=120)
@given(scenes)
def test_saving_and_reloading_gives_an_equal_scene(scene):
    data = scene_bytes(scene)
    opened = read_scene(data)
    assert not opened.problems and opened.scene.equals(scene)
    assert scene_bytes(opened.scene) == data, "and the same bytes again"
    validator.validate(json.loads(data))


def test_one_shape_a_line_in_a_stable_order():
    scene = Scene([Group(id="g", note="n", children=[Circle(id="c", fill="red", at=(0.1, 1e-7))]), Rect(id="r")])
    lines = scene_bytes(scene).decode().splitlines()
    assert lines[4:] == [
        '{"kind":"group","id":"g","at":[0,0],"note":"n","children":[',
        ' {"kind":"circle","id":"c","at":[0.1,1e-7],"radius":40,"fill":"red"}',
        "]},",
        '{"kind":"rect","id":"r","at":[0,0],"size":[120,80],"fill":"#d97b4a"}',
        "]}",
    ]


FILE = b"""{"chalcedon": 1,
"size": [960,600],
"shapes": [
{"kind":"circle","id":"moon","radius":46},
{"kind":"group","id":"boat","children":[
 {"kind":"rect","id":"hull","size":[10,20]}
]}
]}
"""


@pytest.mark.parametrize(
    ("old", "new", "line", "text"),
    [
        (b'"radius":46', b'"radius":"big"', 4, "moon.radius: 'big' is not a number"),
        (b'"radius":46', b'"radius":-3', 4, "moon.radius: -3 is negative"),
        (b'"radius":46', b'"radius":5000000000', 4, "moon.radius: 5,000,000,000 is too large"),
        (b'"radius":46', b'"radius":{"formula":"x","lost":1}', 4, "a formula is written"),
        (b"[10,20]", b"[10]", 6, "hull.size: [10] is not 2 numbers. Write width, height."),
        (b'"id":"hull"', b'"id":"moon"', 6, "the id moon stands twice. This shape is moon_2 now"),
        (b'"id":"hull"', b'"id":"my hull"', 6, "can't be an id"),
        (b'"kind":"rect"', b'"kind":"rekt"', 6, "Did you mean rect?"),
        (b'{"kind":"rect","id":"hull","size":[10,20]}', b"17", 6, "17 is not a shape"),
        (b"[960,600]", b"[0,600]", 2, "scene.size: 0 is too small"),
    ],
)
def test_what_is_wrong_is_named_with_its_line_and_kept(old, new, line, text):
    assert old in FILE
    opened = read_scene(FILE.replace(old, new), "f.chal")
    (problem,) = opened.problems
    assert str(problem).startswith(f"f.chal, line {line}") and text in str(problem), str(problem)
    assert "moon" in opened.scene and len(opened.scene) == 3, "the rest is opened"
    kept = json.loads(scene_bytes(opened.scene))
    if b"id" not in new and new != b"17":
        assert new.split(b":")[-1].strip(b'"}') in scene_bytes(opened.scene), "and written back as it was"
    assert len(kept["shapes"]) == 2


def test_a_refused_value_is_dropped_when_the_property_is_set():
    opened = read_scene(FILE.replace(b'"radius":46', b'"radius":"big"'))
    scene = opened.scene
    scene["moon"].radius = 40
    assert b"big" not in scene_bytes(scene) and not read_scene(scene_bytes(scene)).problems
    scene.undo()
    assert b"big" in scene_bytes(scene)


@pytest.mark.parametrize(
    ("data", "text"),
    [
        (b"", "the file is empty"),
        (FILE[:90], "cut off"),
        (b"[1, 2]", "not a scene"),
        (b'{"size": [1, 2]}', "no chalcedon version"),
        (FILE.replace(b"46", b"NaN"), "line 4"),
        (FILE.replace(b"moon", b"\xff\xfe"), "not UTF-8"),
        (b'{"chalcedon": 1,\n"shapes": [\n\n"\xff"]}', "line 4"),
        (b"[" * 200_000, "nested too deeply"),
        (FILE.replace(b"46", b"1e999").replace(b"960", b"NaN"), "not valid JSON"),
        (b"\x00" * 50, "not valid JSON"),
    ],
)
def test_what_is_no_scene_at_all_is_refused_with_a_sentence(data, text):
    with pytest.raises(ChalcedonError) as refusal:
        read_scene(data, "f.chal")
    assert "f.chal" in str(refusal.value) and text in str(refusal.value), str(refusal.value)


def test_groups_nested_too_deeply_are_kept_but_not_shown():
    deep = b'{"kind":"group","children":[' * 300 + b"]}" * 300
    opened = read_scene(b'{"chalcedon":1,"shapes":[' + deep + b"]}")
    assert "nest deeper than 200" in str(opened.problems[0])
    again = read_scene(scene_bytes(opened.scene))
    assert scene_bytes(again.scene) == scene_bytes(opened.scene)
    assert scene_bytes(opened.scene).count(b'"kind":"group"') == 300


def test_unknown_properties_kinds_and_newer_versions_survive():
    data = FILE.replace(b'"chalcedon": 1', b'"chalcedon": 7').replace(
        b'"radius":46', b'"radius":46,"aura":{"deep":[1]}'
    )
    data = data.replace(b'"kind":"rect"', b'"kind":"nebula"')
    opened = read_scene(data)
    assert "newer Chalcedon" in opened.notices[0]
    out = json.loads(scene_bytes(opened.scene))
    assert out["chalcedon"] == 7 and out["shapes"][0]["aura"] == {"deep": [1]}
    assert out["shapes"][1]["children"][0] == {"kind": "nebula", "id": "hull", "size": [10, 20]}


json_value = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(2**53), 2**53)
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=5),
    lambda inner: (
        st.lists(inner, max_size=3)
        | st.dictionaries(
            st.sampled_from(["kind", "id", "at", "steps", "formula", "last", "children", "rotate", "points", "x"]),
            inner,
            max_size=4,
        )
    ),
    max_leaves=10,
)


@settings(max_examples=200)
@given(
    st.lists(json_value, max_size=4),
    st.dictionaries(st.sampled_from(["size", "shapes", "background", "y"]), json_value),
)
def test_no_json_crashes_the_reader_or_is_lost(items, head):
    shapes = [
        {"kind": kind, **v} if isinstance(v, dict) else v
        for v, kind in zip(items, ["rect", "group", "polyline", "line"], strict=False)
    ]
    data = orjson.dumps({"chalcedon": 1, "shapes": shapes, **head})
    opened = read_scene(data)
    written = scene_bytes(opened.scene)
    again = read_scene(written)
    assert scene_bytes(again.scene) == written and again.scene.equals(opened.scene)


@settings(max_examples=200)
@given(st.binary(max_size=60), st.integers(0, len(FILE)))
def test_no_bytes_crash_the_reader(junk, at):
    for data in (junk, FILE[:at] + junk + FILE[at:], FILE[:at]):
        try:
            read_scene(data)
        except ChalcedonError as refusal:
            assert str(refusal)


def test_places_that_can_not_be_read(tmp_path):
    with pytest.raises(ChalcedonError, match="no such file"):
        open_scene(tmp_path / "none.chal")
    with pytest.raises(ChalcedonError, match="a folder"):
        open_scene(tmp_path)
    with pytest.raises(ChalcedonError, match="a device or a pipe"):
        open_scene("/dev/zero")
    loop = tmp_path / "loop.chal"
    loop.symlink_to(loop)
    with pytest.raises(ChalcedonError, match="symbolic links"):
        open_scene(loop)
    with pytest.raises(ChalcedonError, match="can't be read"):
        open_scene("a\0b")
