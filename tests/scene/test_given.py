"""Other ways to give a shape: in the classes, the new line and the text form, with the same result."""

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS, Arc, Circle, Ellipse, Image, Line, Rect, RegularPolygon
from chalcedon.scene.given import arc_through, circle_through
from chalcedon.source import parse_line, parse_text, print_shapes
from chalcedon.source.complete import hint_at

number = st.floats(-200, 200).map(lambda v: round(v, 1))
spot = st.tuples(number, number)


@pytest.mark.parametrize(
    ("shape", "values"),
    [
        (Rect(between=(90, 60, 10, 20)), {"at": (10, 20), "size": (80, 40)}),
        (Rect(around=(50, 50, 40, 20)), {"at": (50, 50), "size": (40, 20), "anchor": "center"}),
        (Image(between=((0, 0), (9, 5))), {"at": (0, 0), "size": (9, 5)}),
        (Circle(at=(3, 4), diameter=9), {"at": (3, 4), "radius": 4.5}),
        (Circle(across=(0, 0, 6, 8)), {"at": (3, 4), "radius": 5}),
        (Circle(through=[(0, 0), (50, 50), (100, 0)]), {"at": (50, 0), "radius": 50}),
        (Ellipse(diameters=(30, 8)), {"radii": (15, 4)}),
        (Ellipse(between=(10, 10, 0, 30)), {"at": (5, 20), "radii": (5, 10)}),
        (Line(at=(10, 10), end=(50, 20)), {"to": (40, 10)}),
        (Line(polar=(10, 90)), {"to": (0, 10)}),
        (Arc(start=20, until=80), {"sweep": 60}),
        (RegularPolygon(sides=6, side=10), {"radius": 10}),
    ],
)
def test_they_come_to_the_shapes_own_properties(shape, values):
    for name, value in values.items():
        assert getattr(shape, name) == value or getattr(shape, name) == pytest.approx(value)
    assert print_shapes(parse_text(print_shapes([shape]))) == print_shapes([shape])


@given(spot, spot, spot)
def test_a_circle_goes_through_its_three_points_and_an_arc_in_their_order(a, b, c):
    try:
        x, y, radius = circle_through((*a, *b, *c))
    except ValueProblem as problem:
        assert "one line" in str(problem)
        return
    assume(radius < 1e4)
    assert all(math.dist((x, y), p) == pytest.approx(radius, abs=1e-4 * radius) for p in (a, b, c))
    x, y, radius, start, sweep = arc_through((*a, *b, *c))
    at = [math.degrees(math.atan2(p[1] - y, p[0] - x)) for p in (b, c)]
    via, end = ((v - start) % 360 if sweep > 0 else -((start - v) % 360) for v in at)
    assert end == pytest.approx(sweep, abs=1e-6) and abs(via) <= abs(sweep) + 1e-6


def test_every_word_works_in_a_line_and_explains_itself():
    for kind, words in ((k, cls.words) for k, cls in KINDS.items()):
        for word, form in words.items():
            line = f"{kind} {word}"
            for i, label in enumerate(form.labels):
                hint = hint_at(line + " ", len(line) + 1)
                assert hint.title == f"{word} {label}" and hint.help == form.help
                line += f" {(7, 11, 43, 29, 31, 5)[i]}"
            assert hint_at(line + " ", len(line) + 1).title == "that is"
            numbers = (7, 11, 43, 29, 31, 5)[: len(form.labels)]
            typed, made = parse_line(line), KINDS[kind](**{word: numbers})
            written = parse_text(f"{kind}({word}={list(numbers)!r})")[0]
            for name in made._values:
                assert typed.stated(name) == made.stated(name) == written.stated(name)


@pytest.mark.parametrize(
    ("line", "words"),
    [
        ("rect between 1 2 3", "between has no y2"),
        ("circle through 0 0 1 1 2 2", "one line"),
        ("circle diameter", "diameter has no diameter"),
        ("circle 1 2 3 accross 4", "Did you mean across"),
    ],
)
def test_what_cannot_be_is_said(line, words):
    with pytest.raises(ValueProblem, match=words):
        parse_line(line)


def test_a_live_shape_takes_them_too():
    circle = Circle(radius=3)
    circle.give({"diameter": 50})
    assert circle.radius == 25
    with pytest.raises(ValueProblem, match="takes 4 numbers"):
        Rect(between=(1, 2))
    with pytest.raises(ValueProblem, match="too large"):
        Circle(diameter=1e12)
