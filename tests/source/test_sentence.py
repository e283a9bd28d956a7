"""The sentence that reads a shape back."""

import pytest
from hypothesis import given
from strategies import trees

from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Line,
    Polyline,
    Rect,
    RegularPolygon,
    Scene,
    Star,
)
from chalcedon.source import sentence


@pytest.mark.parametrize(
    ("shape", "text"),
    [
        (Rect(at=(40, 60), size=(20, 40)), "rect, twice as tall as wide, its top left at 40, 60"),
        (Rect(size=(90, 30), corners=(4,)), "rect with round corners, 3.0 times as wide as tall, its top left at 0, 0"),
        (Rect(size=(5, 5), anchor="center"), "rect, as wide as tall, centred at 0, 0"),
        (Rect(size=(0, 5)), "rect, of no width, its top left at 0, 0"),
        (Circle(at=(1.25, -3), radius=46), "circle 92 across, centred at 1.2, −3"),
        (Ellipse(radii=(30, 20)), "ellipse, 1.5 times as wide as tall, centred at 0, 0"),
        (Line(to=(3, -9)), "line going up and right, starting at 0, 0"),
        (Line(to=(-3, 0)), "line going left, starting at 0, 0"),
        (Line(to=(0, 0)), "line of no length, starting at 0, 0"),
        (
            Polyline(points=[(0, 0), (4, 0), (0, 4)], closed=True, fill="red"),
            "triangle, as wide as tall, its origin at 0, 0",
        ),
        (Polyline(points=[(0, 0)]), "open polyline of 1 point, its origin at 0, 0"),
        (Circle(radius=1, anchor=(0.25, 1)), "circle 2 across, its 0.25, 1 of the box at 0, 0"),
        (Circle(radius=1, visible=False), "circle 2 across, centred at 0, 0; hidden"),
        (Circle(radius=1, fill=None), "circle 2 across, centred at 0, 0; not seen: it has neither fill nor stroke"),
        (Circle(radius=1, opacity=0), "circle 2 across, centred at 0, 0; not seen: its opacity is 0"),
        (
            Rect(size=(2, 2), steps=[{"rotate": -15}, {"scale": [2, 1]}, {"skew": [9, 0], "off": True}]),
            "rect, as wide as tall, its top left at 0, 0; turned by −15°, then scaled by 2, 1",
        ),
        (Arc(start=200, sweep=120), "arc of 120° from 200°, its centre at 0, 0"),
        (Arc(ends="pie", sweep=-90), "pie of −90° from 0°, its centre at 0, 0"),
        (Annulus(inner=30, outer=50), "ring 20 wide, 100 across, its centre at 0, 0"),
        (Annulus(inner=30, outer=50, sweep=45), "slice of 45° of a ring 20 wide, 100 across, its centre at 0, 0"),
        (RegularPolygon(sides=7), "regular polygon of 7 sides, its centre at 0, 0"),
        (Star(tips=5, anchor="top"), "star of 5 tips, its top at 0, 0"),
        (Group(children=[Circle()]), "group of 1 shape, its origin at 0, 0"),
    ],
)
def test_sentences(shape, text):
    assert sentence(shape) == text


def test_it_names_the_group_that_the_numbers_are_in():
    scene = Scene([Group(id="quay", children=[Rect(id="post", at=(40, 60), size=(10, 10))])])
    assert sentence(scene["post"]) == "rect, as wide as tall, its top left at 40, 60 in quay"


@given(trees)
def test_every_shape_can_be_read_back(tree):
    for shape in tree.walk():
        text = sentence(shape)
        assert text and "\n" not in text and "None" not in text
