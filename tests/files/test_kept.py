"""Whatever opens, or is taken by the library or the text form, can be saved and reads back equal; what can't be kept
is said when it is opened."""

import json
import math
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import scenes

from chalcedon.files import read_scene, scene_bytes
from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError
from chalcedon.scene import KINDS, Circle, Gradient, Group, Picture, Scene, Shadow, Step
from chalcedon.source import parse_text, print_shapes

STRANGE = [
    "1e999",
    "-1e-400",
    "123456789012345678901234567890",
    "-" + "9" * 5000,
    "null",
    "[]",
    "{}",
    "true",
    '"<b>"',
    '{"formula":"x","last":1}',
    '{"formula":"x","last":[1,2]}',
    '{"formula":"x","last":{"formula":"y","last":1}}',
    '{"formula":7,"last":1}',
    '{"formula":"x","last":[{"formula":"y","last":1},2]}',
    '{"rotate":{"formula":"x","last":1}}',
    '[{"translate":{"formula":"x","last":[1,2]}}]',
    '[{"rotate":3,"about":{"formula":"x","last":[1,2]}}]',
    '[{"scale":[{"formula":"x","last":1},2]}]',
    "[" * 300 + "]" * 300,
    '{"a":' * 300 + "1" + "}" * 300,
]


def spots(value, path=()):
    """The path of everything in a JSON value."""
    yield path
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield from spots(inner, (*path, key))


@settings(max_examples=150)
@given(scenes, st.data())
def test_what_opens_can_be_saved(scene, data):
    raw = json.loads(scene_bytes(scene))
    marks = {}
    for _ in range(data.draw(st.integers(1, 3))):
        path = data.draw(st.sampled_from([p for p in spots(raw) if p]))
        *way, last = path
        spot = raw
        for step in way:
            spot = spot[step]
        mark = f"@{len(marks)}@"
        new = data.draw(st.sampled_from(["put", "add"]))
        if new == "add" and isinstance(spot, dict):
            last = data.draw(st.sampled_from(["x", "children", "id", "steps", "kind", "fill", "shapes", "chalcedon"]))
        spot[last] = mark
        marks[mark] = data.draw(st.sampled_from(STRANGE))
    text = json.dumps(raw)
    for mark, strange in marks.items():
        text = text.replace(f'"{mark}"', strange)
    try:
        opened = read_scene(text.encode())
    except ChalcedonError:
        return  # refused whole, with a sentence
    written = scene_bytes(opened.scene)
    again = read_scene(written)
    assert again.scene.equals(opened.scene) and scene_bytes(again.scene) == written
    copied = parse_text(print_shapes(opened.scene.shapes))
    for ours, theirs in zip(opened.scene.shapes, copied, strict=True):
        assert print_shapes([ours]) == print_shapes([theirs])


def test_numbers_no_double_holds_are_written_as_they_were():
    raw = '{"chalcedon":1,"x":1e999,"y":[123456789012345678901234567890,-2E-400,0.1,0e-999],"shapes":[]}'
    scene = read_scene(raw.encode()).scene
    assert scene.extra["x"] == Decimal("1e999") and scene.extra["y"][1] == Decimal("-2e-400")
    again = json.loads(scene_bytes(scene), parse_float=Decimal)
    assert again["y"] == [123456789012345678901234567890, Decimal("-2e-400"), Decimal("0.1"), 0]
    assert again["x"] == Decimal("1e999")


def test_a_number_that_does_not_fit_is_said_and_kept():
    opened = read_scene(b'{"chalcedon":1,"shapes":[{"kind":"circle","id":"a","radius":1e999}]}')
    assert "1E+999 is not a number that fits here" in str(opened.problems[0])
    assert b"1E+999" in scene_bytes(opened.scene)


VALUES = [
    math.nan,
    math.inf,
    2**70,
    10**400,
    True,
    None,
    b"x",
    {1, 2},
    {1: 2},
    "\ud800",
    "none",
    (),
    (1, 2),
    (1, 2, 3, 4),
    [(0, 0), (1, 1)],
    Decimal("1e5"),
    Formula("x", 1),
    Formula("\ud800", 1),
    Formula(3, 1),
    Formula("x", (1, 2)),
    Formula("x", Formula("y", 1)),
    Formula("x", (Formula("y", 1), 2)),
    (Formula("x", 1), Formula("y", 2)),
    Step("rotate", (3,)),
    [Step("rotate", (Formula("x", 1),))],
    [Step("rotate", Formula("x", (1,)))],
    [Step("skew", (1, 2), Formula("x", (1, 2)))],
    [Step("skew", (1, 2), (Formula("x", 1), 2), False)],
    [Step("scale", (1, 2), None, "yes")],
    [Step([], (1, 2))],
    Gradient("linear", (0, 0, 1, Formula("x", 1)), ((Formula("y", 0.5), "red"),)),
    Gradient([], (0, 0, 1, 1), ((0, "red"),)),
    Gradient("radial", (0, 0, 1), ((0, "var(--\ud800)"),), [], {}),
    Formula("x", Gradient("linear", (0, 0, 1, Formula("y", 1)), ((0, "red"),))),
    Picture("\ud800"),
    Picture("a.png", []),
    Shadow(Formula("x", 1), 0, 3, "#000"),
    {"a": "red"},
    {"\ud800": "red"},
    {"linear": [0, 0, 1, 1], 1: 2},
]


@pytest.mark.parametrize("cls", [*(c for k, c in KINDS.items() if k != "unknown"), Scene], ids=lambda c: c.kind)
def test_what_the_library_takes_can_be_saved(cls):
    for name in cls.properties:
        for value in VALUES:
            owner = cls()
            scene = owner if cls is Scene else Scene([owner])
            try:
                scene.set(owner, name, value)
            except ChalcedonError as refusal:
                assert len(str(refusal)) < 400
                continue
            opened = read_scene(scene_bytes(scene))
            assert not opened.problems and opened.scene.equals(scene), (name, value)


@pytest.mark.parametrize(
    "extra",
    [
        "{'a': b'x'}",
        "{'a': {1, 2}}",
        "{1: 2}",
        "{'a': 1e999}",
        "{'a': '\\ud800'}",
        "{'kind': 'rect'}",
        "{'radius': 3}",
        "{'a': (1, 2)}",
        "'[1]'",
        "'{'",
        "7",
    ],
)
def test_data_that_no_file_holds_is_refused_where_it_is_pasted(extra):
    with pytest.raises(ChalcedonError):
        parse_text(f"circle(radius=5, extra={extra})")
    for whole in ("unknown()", "unknown(at=(1, 2), extra='{\"raw\": 1}', written_kind='x')", "unknown(extra='{}')"):
        with pytest.raises(ChalcedonError):
            parse_text(whole)


def shapes_file(*shapes):
    return ('{"chalcedon": 1, "shapes": [' + ",\n".join(shapes) + "]}").encode()


def test_ids_that_stand_in_the_file_win_over_made_ones():
    opened = read_scene(
        shapes_file(
            '{"kind":"circle","radius":1}',
            '{"kind":"nebula","x":1}',
            '{"kind":"circle","id":"circle","radius":2}',
            '{"kind":"group","id":"g","children":[{"kind":"rect","id":"unknown"}]}',
            '{"kind":"circle","id":"circle_2","radius":3}',
        )
    )
    assert [s.id for s in opened.scene.walk()] == ["circle_3", "unknown_2", "circle", "g", "unknown", "circle_2"]
    assert [p.path for p in opened.problems] == [("shapes", 1, "kind")]


LONG = "a" * 300


@pytest.mark.parametrize(
    ("id", "now"), [("null", "circle_2"), ('"circle"', "circle_2"), ('"time"', "time_1"), (f'"{LONG}"', LONG[:188])]
)
def test_an_id_that_can_not_stay_is_said_and_changes_once(id, now):
    data = shapes_file('{"kind":"circle","id":"circle"}', f'{{"kind":"circle","id":{id}}}')
    opened = read_scene(data, "f.chal")
    (problem,) = opened.problems
    assert f"This shape is {now} now" in str(problem) and str(problem).startswith("f.chal, line 2")
    again = read_scene(scene_bytes(opened.scene))
    assert not again.problems and [s.id for s in again.scene.walk()] == ["circle", now]


def test_children_of_a_kind_that_holds_none_and_doubled_keys_are_said():
    text = '{"kind":"circle","id":"a","radius":1,"radius":2,\n"children":[{"kind":"rect"}]}'
    opened = read_scene(shapes_file(text), "f")
    assert [str(p).split(": ")[0] for p in opened.problems] == ["f, line 2, a", "f, line 1, a.radius"]
    assert "holds no shapes" in str(opened.problems[0]) and "stands twice" in str(opened.problems[1])
    assert b'"children":[{"kind":"rect"}]' in scene_bytes(opened.scene)


GROUP = '{"chalcedon":1,"shapes":[{"kind":"group","id":"g","children":7}]}'


@pytest.mark.parametrize("raw", ['{"chalcedon":1,"shapes":7}', GROUP])
def test_a_shape_added_where_no_list_stood_is_saved(raw):
    scene = read_scene(raw.encode()).scene
    before = scene_bytes(scene)
    assert b"7" in before
    parent = scene.get("g")
    scene.add(Circle(id="c"), parent if isinstance(parent, Group) else None)
    again = read_scene(scene_bytes(scene))
    assert "c" in again.scene and not again.problems
    scene.undo()
    assert scene_bytes(scene) == before


def test_a_shape_of_an_unknown_kind_stays_as_it_is():
    scene = read_scene(shapes_file('{"kind":"nebula","id":"neb","at":[1,2]}')).scene
    with pytest.raises(ChalcedonError, match="not known here"):
        scene["neb"].at = (5, 5)
    with pytest.raises(ChalcedonError, match="not known here"):
        scene["neb"].copy().visible = False
    assert b'{"kind":"nebula","id":"neb","at":[1,2]}' in scene_bytes(scene)
