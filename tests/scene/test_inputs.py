"""Inputs of a scene: what is one, what is none and why, what a value may be."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, scene_bytes
from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem
from chalcedon.scene import Circle, Scene
from chalcedon.scene.inputs import MOST, kind_of

EXAMPLE = '"number": 0.4, "low": 0, "high": 1}}.'


@pytest.mark.parametrize(
    ("raw", "said", "hint"),
    [
        (7, "7 are not inputs", 'Write {"tide": {"number": 0.4}}.'),
        ({"tide": 3}, "3 is not an input", '{"tide": {' + EXAMPLE),
        ({"tide": {}}, "'tide' has no kind", "One of number, switch, choice, colour, text, point."),
        ({"tide": {"number": 1, "text": "a"}}, "'tide' has no kind", '{"tide": {' + EXAMPLE),
        ({"tide": {"number": 1, "hihg": 2}}, "'hihg' says nothing of an input", "high"),
        ({"tide": {"number": "high"}}, "input tide: 'high' is not a number", ""),
        ({"tide": {"number": 3, "high": 2}}, "input tide: .*3", ""),
        ({"tide": {"number": 1, "low": -1}}, "", None),
        ({"tide": {"number": 2, "low": 3, "high": 1}}, "its least value, 3, is more than its largest, 1", ""),
        ({"tide": {"number": 1, "step": -1}}, "-1", ""),
        ({"tide": {"switch": 1}}, "input tide: 1 is", ""),
        ({"tide": {"choice": "a"}}, "needs words to choose from", 'choices=("low", "high")'),
        ({"tide": {"choice": "a", "choices": ["b", "c"]}}, "input tide: 'a'", "b, c"),
        ({"tide": {"choice": "a", "choices": ["a", 3]}}, "3", ""),
        ({"tide": {"choice": "a", "choices": "abc"}}, "needs words to choose from", ""),
        ({"tide": {"colour": "sea"}}, "input tide: 'sea'", ""),
        ({"tide": {"point": [1, 2, 3]}}, "input tide: .* is not 2 numbers", "x, y"),
        ({"tide": {"text": "low", "label": 4}}, "4", ""),
        ({"low tide": {"number": 1}}, "low tide", ""),
        ({f"n{i}": {"number": i} for i in range(MOST)}, "", None),
        ({f"n{i}": {"number": i} for i in range(MOST + 1)}, "501 inputs are too many", "At most 500"),
        ({"tide": {"choice": "w1", "choices": [f"w{i}" for i in range(200)]}}, "", None),
        ({"tide": {"choice": "w1", "choices": [f"w{i}" for i in range(201)]}}, "needs words", ""),
    ],
)
def test_what_is_no_input_is_refused_with_a_sentence(raw, said, hint):
    if hint is None:
        assert list(Scene(inputs=raw).inputs) == list(raw)
        return
    with pytest.raises(ValueProblem, match=said) as caught:
        Scene(inputs=raw)
    assert hint in caught.value.hint


NUMBERS = st.floats(-1e4, 1e4).map(lambda v: round(v, 3))
INPUTS = st.one_of(
    st.builds(lambda a, b: {"number": min(a, b), "low": min(a, b), "high": max(a, b), "step": 0.5}, NUMBERS, NUMBERS),
    st.builds(lambda a, unit: {"number": a, "unit": unit}, NUMBERS, st.sampled_from(("px", "deg", "knots"))),
    st.builds(lambda on: {"switch": on, "label": "Lamp", "group": "Quay"}, st.booleans()),
    st.builds(lambda at: {"choice": "abc"[at], "choices": ["a", "b", "c"]}, st.integers(0, 2)),
    st.builds(lambda c: {"colour": f"#{c:06x}"}, st.integers(0, 0xFFFFFF)),
    st.builds(lambda a, b: {"point": [a, b]}, NUMBERS, NUMBERS),
    st.builds(lambda words: {"text": words}, st.text("tide\n<b>", max_size=9)),
)


@given(st.dictionaries(st.sampled_from(("tide", "lit", "side", "at", "low")), INPUTS))
def test_inputs_are_written_as_they_were_said(raw):
    scene = Scene(inputs=raw)
    again = read_scene(scene_bytes(scene))
    assert not again.problems and again.scene.equals(scene)
    for name, said in raw.items():
        kind = next(k for k in said if k in ("number", "switch", "choice", "colour", "point", "text"))
        value = scene.inputs[name]
        assert value == (tuple(said[kind]) if kind == "point" else said[kind]) == again.scene.inputs[name]
        if kind not in ("choice", "text"):
            assert kind_of(value) == kind
        one = scene.inputs.spec(name)
        assert {n: getattr(one, n) for n in said if n not in (kind, "choices")} == {
            n: v for n, v in said.items() if n not in (kind, "choices")
        }
        if kind == "number" and "low" in said:
            for beyond in (said["low"] - 1, said["high"] + 1):
                with pytest.raises(ValueProblem, match=re.escape(f"input {name}")):
                    scene.inputs[name] = beyond


def test_formulas_read_inputs_of_every_kind_and_the_parts_of_points():
    scene = Scene(
        [Circle(id="buoy")],
        inputs={
            "tide": {"number": 0.4},
            "lit": {"switch": True},
            "wind": {"choice": "calm", "choices": ["calm", "storm"]},
            "paint": {"colour": "#204060"},
            "mark": {"point": [30, 50]},
        },
    )
    buoy = scene["buoy"]

    def comes_to(name, text):
        setattr(buoy, name, Formula(text))
        return getattr(buoy, name)

    assert comes_to("radius", "mark.x + mark.y * tide") == 50
    assert comes_to("at", "mark") == (30, 50) and comes_to("fill", "paint if lit else 'red'") == "#204060"
    assert comes_to("visible", "wind == 'calm' and lit") is True
    scene.inputs["mark"] = (10, 20)
    assert buoy.radius == 18 and buoy.at == (10, 20)
    display = DisplayList(scene)
    for text, why, hint in (
        ("mark.z", "the input mark has no z.", "A point has .x and .y."),
        ("mark.x.y", "the input mark has no x.", "A point has .x and .y."),
        ("tide.x", "the input tide has no x.", "Write tide alone."),
    ):
        buoy.radius = Formula(text, 7)
        display.update()
        (problem,) = [c.problem for c in display.formulas.problems]
        assert why in str(problem) and hint in str(problem)


@given(st.integers(0, 3), st.integers(-2, 6))
def test_an_input_is_put_at_its_place_in_the_order_or_the_nearest(which, index):
    names = ["tide", "wind", "mark", "lit"]
    scene = Scene(inputs={name: {"number": i} for i, name in enumerate(names)})
    scene.inputs.move(names[which], index)
    rest = [n for n in names if n != names[which]]
    rest.insert(max(index, 0), names[which])
    assert list(scene.inputs) == rest
    scene.undo()
    assert list(scene.inputs) == names
