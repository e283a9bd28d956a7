"""Presets of paint and text: worn, changed in one place, departed from."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, scene_bytes
from chalcedon.formula import Formula
from chalcedon.hit import hit_test
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Group, Image, Line, Rect, Scene, Text, palette, presets
from chalcedon.source.line import parse_line
from tests.strategies import leaves, texts


@pytest.fixture
def quay():
    return Scene(
        [
            Rect(id="crate", fill="#c9a227", stroke="#22292e", stroke_width=3),
            Circle(id="buoy", fill="red"),
            Line(id="rope", stroke="blue"),
            Text(id="name", content="Linnet", size=20, weight=700),
            Group(id="rig"),
        ]
    )


def values(scene, *ids):
    return [scene[i].fill for i in ids]


def test_what_wears_a_preset_follows_it_until_it_is_given_something_else(quay):
    presets.make(quay, "brass", quay["crate"])
    presets.wear(quay, [quay["buoy"], quay["name"]], "brass")
    assert values(quay, "crate", "buoy", "name") == ["#c9a227"] * 3 and quay["buoy"].stroke_width == 3
    assert [s.id for s in presets.wearers(quay, "brass")] == ["crate", "buoy", "name"]
    quay["buoy"].fill = "white"
    assert presets.departures(quay, quay["buoy"]) == ["fill"]
    presets.change(quay, "brass", {**presets.preset(quay, "brass"), "fill": "#b08d57", "opacity": 0.5})
    assert values(quay, "crate", "buoy", "name") == ["#b08d57", "white", "#b08d57"]
    assert quay["buoy"].opacity == 0.5, "what is new to a preset goes to all that wear it"
    presets.renew(quay, [quay["buoy"]])
    assert quay["buoy"].fill == "#b08d57" and not presets.departures(quay, quay["buoy"])
    for _ in range(5):
        quay.undo()
    assert not quay.presets and values(quay, "crate", "buoy", "name") == ["#c9a227", "red", "#22292e"]


def test_a_preset_of_text_leaves_other_kinds_alone(quay):
    presets.make(quay, "caption", quay["name"], ["size", "weight"])
    presets.wear(quay, [quay["crate"]], "caption")
    assert quay["crate"].size == (120, 80), "the size of a rect is another matter"
    presets.change(quay, "caption", {"size": 28, "weight": 400})
    assert quay["name"].size == 28 and quay["crate"].size == (120, 80)


def test_the_last_of_several_has_the_last_word(quay):
    presets.make(quay, "brass", quay["crate"])
    presets.make(quay, "tar", quay["rope"], ["stroke"])
    presets.wear(quay, [quay["crate"]], "tar")
    assert quay["crate"].wears == ("brass", "tar") and quay["crate"].stroke == "blue"
    presets.change(quay, "brass", {"stroke": "white", "stroke_width": 3})
    assert quay["crate"].stroke == "blue", "tar lies over it"
    presets.take_off(quay, [quay["crate"]], "tar")
    assert quay["crate"].stroke == "blue" and presets.departures(quay, quay["crate"]) == ["stroke"]


def test_renamed_and_taken_away_while_in_use(quay):
    presets.make(quay, "brass", quay["crate"])
    presets.wear(quay, [quay["buoy"]], "brass")
    presets.rename(quay, "brass", "gilt")
    assert quay["buoy"].wears == ("gilt",)
    presets.make(quay, "tar", quay["rope"], ["stroke"])
    with pytest.raises(ValueProblem, match="already"):
        presets.rename(quay, "tar", "gilt")
    presets.rename(quay, "gilt", "gilt")
    assert dict(quay.presets).keys() == {"gilt", "tar"} and quay["buoy"].wears == ("gilt",)
    presets.remove(quay, "tar")
    presets.remove(quay, "gilt")
    assert quay["buoy"].wears == () and quay["buoy"].fill == "#c9a227", "it keeps what it states"
    assert quay.undo() == "Take the preset gilt away" and quay["buoy"].wears == ("gilt",)


def test_palette_colours_in_presets_are_renamed_and_put_in_place(quay):
    quay.palette = {"tide": "#3e7f8b"}
    presets.make(quay, "wet", quay["crate"], ["fill"])
    presets.change(quay, "wet", {"fill": "var(--tide)", "shadow": (1, 2, 3, "var(--tide)")})
    palette.rename_color(quay, "tide", "ebb")
    assert presets.preset(quay, "wet")["fill"] == "var(--ebb)"
    palette.remove_color(quay, "ebb")
    assert presets.preset(quay, "wet")["fill"] == "#3e7f8b" == presets.preset(quay, "wet")["shadow"].color


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        ({"brass": {"fil": "red"}}, "a preset has no fil."),
        ({"brass": {"fill": "nocolour"}}, "nocolour"),
        ({"a b": {}}, "can't be the name"),
        ({"brass": {"opacity": {"formula": "x", "last": 1}}}, "takes no formula"),
        ({"brass": 3}, "no presets"),
        (7, "no presets"),
    ],
)
def test_what_is_no_preset_is_refused_with_a_sentence(quay, raw, said):
    with pytest.raises(ValueProblem, match=said):
        quay.presets = raw
    assert not quay.presets
    with pytest.raises(ValueProblem, match="there is no preset bras"):
        presets.wear(quay, [quay["crate"]], "bras")
    with pytest.raises(ValueProblem, match="no paint of its own"):
        presets.make(quay, "x", quay["rig"])


@given(st.one_of(leaves, texts), st.one_of(leaves, texts))
def test_any_shape_makes_a_preset_that_any_other_wears_and_a_file_keeps(one, other):
    one.id, other.id = "one", "other"
    scene = Scene([one, other])
    presets.make(scene, "look", one)
    presets.wear(scene, [other], "look")
    assert not presets.departures(scene, other)
    again = read_scene(scene_bytes(scene)).scene
    assert again.equals(scene) and again.presets == scene.presets


def test_a_formula_counts_as_what_it_comes_to(quay):
    quay["crate"].opacity = Formula("clock.time", 0.25)
    presets.make(quay, "haze", quay["crate"], ["opacity"])
    assert presets.preset(quay, "haze") == {"opacity": 0.25}


def test_paint_that_is_switched_off_is_not_seen_nor_hit_and_remembered():
    scene = Scene([Rect(id="crate", size=(100, 80), fill="red", stroke="blue", stroke_width=10)])
    display, crate = DisplayList(scene), scene["crate"]
    crate.fill_on = False
    display.update()
    assert display.node(crate).fill is None and not hit_test(scene, 50, 40) and hit_test(scene, 2, 40)
    crate.stroke_on = False
    display.update()
    assert not hit_test(scene, 2, 40) and crate.fill == "red"
    again = read_scene(scene_bytes(scene)).scene["crate"]
    again.fill_on = again.stroke_on = True
    assert (again.fill, again.stroke) == ("red", "blue")


def test_a_line_says_both():
    shape = parse_line("rect 0 0 9 9 fill red fill_on no wears brass tar")
    assert (shape.fill, shape.fill_on, shape.wears) == ("red", False, ("brass", "tar"))
    assert Image(wears=["brass"]).wears == ("brass",)
