"""Shapes whose numbers are formulas: what a hand does to them comes to what it does to the same numbers stated."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import point, steps, whatever

from chalcedon.craft import points
from chalcedon.craft.hold import Start, set_anchor, set_pivot
from chalcedon.craft.stepping import bake
from chalcedon.craft.together import mirror, turn
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import is_empty
from chalcedon.problems import ValueProblem
from chalcedon.scene import Group, Polyline, Scene

away = st.floats(-30, 30).map(lambda v: round(v, 2))


def given_by_formulas(value):
    """A stated value with a formula for each of its numbers, that comes to it only when it is worked out."""
    if isinstance(value, tuple):
        inner = [given_by_formulas(v) for v in value]
        return type(value)(*inner) if hasattr(value, "_fields") else tuple(inner)
    if isinstance(value, int | float) and not isinstance(value, bool):
        return Formula(f"(tide) * {value!r} + (0)" if value else "tide - 1", value)
    return value


NAMES = ("at", "steps", "size", "radius", "radii", "points", "to", "outer", "inner", "start", "sweep", "facing")


def two_of(shape, around, names=NAMES):
    """The display lists of two scenes: the shape as it is, and by formulas."""
    out = []
    for by_formulas in (False, True):
        own = shape.copy()
        if by_formulas:
            for name in names:
                if name in own.properties:
                    try:
                        own.assign(name, given_by_formulas(own.stated(name)))
                    except ValueProblem:
                        pass  # a value that is no formula
        scene = Scene(
            [Group(at=(40, 30), steps=around, children=[own])], size=(300, 200), inputs={"tide": {"number": 1}}
        )
        display = DisplayList(scene)
        display.settle()
        out.append(display)
    return out


def leaf(display):
    return display.node(display.scene.shapes[0].children[0])


def same_after(displays, act):
    """Whether an act comes to the same in both scenes; it is taken back."""
    seen = []
    for display in displays:
        try:
            with display.scene.step("act"):
                act(display, leaf(display))
            display.settle()
            seen.append(leaf(display).bounds())
        except ValueProblem as problem:
            seen.append(str(problem))
        while display.scene.undo_name:
            display.scene.undo()
        display.settle()
    plain, formulated = seen
    if isinstance(formulated, str):
        assert isinstance(plain, str) or "formula" in formulated, (plain, formulated)
    else:
        assert formulated == pytest.approx(plain, abs=0.02), "but for digits that are given up"


@settings(max_examples=40)
@given(whatever, steps, point, away, away, st.booleans())
def test_a_hand_does_the_same_to_numbers_that_formulas_give(shape, around, at, dx, dy, held):
    shape.at = at
    displays = two_of(shape, around)
    start = Start(leaf(displays[0]))
    if start.from_scene is None or is_empty(start.box):
        return

    def dragged(i):
        def act(display, node):
            start = Start(node)
            handle = start.handles()[i]
            x, y = start.scene_of(handle.raw)
            for name, value in start.settle(handle.drag(start.raw_of(x + dx, y + dy), 6, held)).items():
                node.shape.assign(name, value)

        return act

    for i in range(len(start.handles())):
        same_after(displays, dragged(i))
    same_after(displays, lambda display, node: set_anchor(display, node.shape, "bottom-right"))
    same_after(displays, lambda display, node: set_pivot(display, node.shape, (0.3, 0.6)))
    same_after(displays, lambda display, node: turn(display, [node.shape], 33))
    same_after(displays, lambda display, node: mirror(display, [node.shape], "y"))


@given(st.lists(point, min_size=2, max_size=6, unique=True), st.booleans(), steps)
def test_points_by_formulas_are_edited_one_by_one(spots, closed, around):
    displays = two_of(Polyline(points=spots, closed=closed), around)
    for what in (points.close, lambda d, s: points.reverse(d, [s])):
        same_after(displays, lambda display, node, what=what: what(display, node.shape))
    scene = displays[1].scene
    line = scene.shapes[0].children[0]
    told = line.stated("points")
    points.reverse(displays[1], [line])
    assert scene.shapes[0].children[0].stated("points") == (told[:1] + told[:0:-1] if closed else told[::-1]), (
        "each keeps its formulas"
    )
    scene.undo()


@settings(max_examples=40)
@given(whatever, st.lists(st.sampled_from([{"rotate": 90}, {"scale": 2}, {"scale": [-1, 1]}]), min_size=1, max_size=3))
def test_baked_steps_leave_what_formulas_give_where_it_is(shape, turned):
    shape.steps, shape.at = turned, (20, 30)
    if "stroke" in shape.properties:
        shape.stroke, shape.stroke_width, shape.dash = "red", 3, (9, 4)
    displays = two_of(shape, (), (*(n for n in NAMES if n != "steps"), "stroke_width", "dash"))
    before = leaf(displays[1]).bounds()
    for display in displays:
        try:
            bake(display, leaf(display).shape)
        except ValueProblem:
            assert leaf(display).shape.steps, "nothing is done by halves"
        display.settle()
    plain, formulated = (leaf(display) for display in displays)
    assert formulated.bounds() == pytest.approx(before, abs=0.02)
    if plain.shape.stated("steps") == formulated.shape.stated("steps") and plain.pen is not None:
        assert formulated.pen.width == pytest.approx(plain.pen.width) and formulated.pen.dash == pytest.approx(
            plain.pen.dash
        )
