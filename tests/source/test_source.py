"""The text form and the new line."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from strategies import trees

from chalcedon.formula import calculate
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import KINDS, OFFERED, Group, Rect
from chalcedon.scene.scene import MAX_DEPTH, Scene
from chalcedon.source import hint_at, parse_line, parse_text, print_shapes


@settings(max_examples=100)
@given(st.lists(trees, max_size=3))
def test_printing_and_parsing_give_the_same_shapes(shapes):
    scene = Scene(shapes)
    text = print_shapes(scene.shapes)
    assert Scene(parse_text(text), **{}).top and print_shapes(parse_text(text)) == text
    assert Scene(parse_text(text)).equals(Scene([s.copy() for s in scene.shapes]))


@pytest.mark.parametrize(
    ("line", "text"),
    [
        ("circle 200 120 40 fill #d97b4a", "circle(at=(200, 120), radius=40, fill='#d97b4a')"),
        ("circle(200, 120, 40, fill=linen)", "circle(at=(200, 120), radius=40, fill='linen')"),
        ("moon = circle 1 2 3*4+1", "circle(id='moon', at=(1, 2), radius=13, fill='#d97b4a')"),
        (
            "rect door 0 0 10 20 2 anchor bottom",
            "rect(id='door', at=(0, 0), size=(10, 20), corners=2, anchor='bottom', fill='#d97b4a')",
        ),
        (
            "rect 0 0 9 9 1 2 3 4 rotate 15 scale 2",
            "rect(at=(0, 0), size=(9, 9), corners=[1, 2, 3, 4], steps=[rotate(15), scale(2, 2)], fill='#d97b4a')",
        ),
        (
            "circle 0 0 5 translate 3 -4 skew 10 0 scale 2 3 rotate -15",
            "circle(at=(0, 0), radius=5, steps=[translate(3, -4), skew(10, 0), scale(2, 3), rotate(-15)], "
            "fill='#d97b4a')",
        ),
        (
            "polyline 5 5 0,0 9,0 9,9 closed fill rgb(1 2 3)",
            "polyline(at=(5, 5), points=[(0, 0), (9, 0), (9, 9)], closed=True, fill='rgb(1 2 3)', "
            "stroke='#22292e', stroke_width=2)",
        ),
        (
            "line 0 0 9 -9 stroke black 3 dash 4 2 cap round",
            "line(at=(0, 0), to=(9, -9), stroke='black', stroke_width=3, cap='round', dash=(4, 2))",
        ),
        ("oval 10 20 30 40", "ellipse(at=(10, 20), radii=(30, 40), fill='#d97b4a')"),
        ("square 10 20 30 6", "rect(at=(10, 20), size=(30, 30), corners=6, fill='#d97b4a', aspect_ratio=1)"),
        ("ring 10 20 5 9", "annulus(at=(10, 20), inner=5, outer=9, fill='#d97b4a')"),
        ("triangle 10 20 30", "regular_polygon(at=(10, 20), sides=3, radius=30, fill='#d97b4a')"),
        ("Circle x 10 y 20 r 30", "circle(at=(10, 20), radius=30, fill='#d97b4a')"),
        ("box 1 2 width 30 height 40", "rect(at=(1, 2), size=(30, 40), fill='#d97b4a')"),
        (
            "rect 1 2 30 40 border black width 3",
            "rect(at=(1, 2), size=(30, 40), fill='#d97b4a', stroke='black', stroke_width=3)",
        ),
        ("oval cx 1 cy 2 rx 5 ry 6 colour red", "ellipse(at=(1, 2), radii=(5, 6), fill='red')"),
        ("line 0 0 9 9 color red", "line(at=(0, 0), to=(9, 9), stroke='red', stroke_width=2)"),
        (
            'ellipse 1 2 3 4 label "left eye" visible no',
            "ellipse(at=(1, 2), radii=(3, 4), label='left eye', visible=False, fill='#d97b4a')",
        ),
    ],
)
def test_loose_lines(line, text):
    assert print_shapes([parse_line(line)]).strip() == text


@pytest.mark.parametrize(
    ("line", "problem"),
    [
        ("", "starts with a kind"),
        ("circl 1 2 3", "Did you mean circle?"),
        ("circle 1", "at has no y"),
        ("circle 1 2 q", "radius: q has no place here"),
        ("circle 1 2 3 fil red", "Did you mean fill?"),
        ("circle 1 2 3 4", "has no place here"),
        ("circle 1 2 3 hidden", "hidden has no place here. Here it is called visible."),
        ("rect 1 2 3 4 transform rotate", "Here it is called steps."),
        ("circle 1 2 -3", "circle.radius: -3 is negative"),
        ("circle 1 2 3 fill", "fill has no value"),
        ("circle 1 2 1/0", "divides by zero"),
        ("polyline 0 0 1 2 3", "x 3 has no y"),
        ("rect 0 0 1 2 visible maybe", "neither yes nor no"),
        ("circle 1 2 3 @", "@ can't stand here"),
        ("circle 1 2 3 id", "id has no value"),
        ("circle 1 2 3 scale", "scale has no x"),
        ("circle 1 2 3 skew 5", "skew has no y"),
        ("circle 1 2 3 id 5", "can't be an id"),
        ("circle sin(3) 20 40", "sin(...) can't stand here"),
        ("circle nan 20 40", "nan can't stand here"),
        ("circle linen 20 40 9", "linen is a colour"),
        ("regular_polygon 300 440 120 sides 3", "sides is given twice"),
        ("circle 1 2 3 x 5", "at is given twice"),
        ("circle x 5 x 6", "at is given twice"),
        ("circle 1 2 3 fill red fill blue", "fill is given twice"),
        ("circle radius 3 x", "at has a number missing"),
        ("text 1 2 hello world", 'in quotes: "hello world"'),
    ],
)
def test_a_line_that_can_not_be_read_says_why(line, problem):
    with pytest.raises(ValueProblem) as refusal:
        parse_line(line)
    assert problem in str(refusal.value), str(refusal.value)


@pytest.mark.parametrize(
    "text",
    [
        "import os",
        "circle(__import__('os').system('x'))",
        "circle(radius=(lambda: 3)())",
        "x = circle()",
        "circle(",
        "circle(radius=9**9**9)",
        "circle(fill=f'{1}')",
        "print(1)",
        "circle(radius=1, radius=2)",
        "[circle()]",
    ],
)
def test_text_is_parsed_and_never_run(text):
    with pytest.raises(ChalcedonError):
        parse_text(text)


@settings(max_examples=200)
@given(st.text(alphabet="circle rect 0123456789.-+*/()[],=#'\" fillrotatey", max_size=40))
def test_no_line_crashes_parsing_or_hints(text):
    hint_at(text, len(text))
    try:
        parse_line(text)
    except ValueProblem as problem:
        assert str(problem)


def test_groups_nest_in_a_text_as_deeply_as_in_a_scene():
    shape = Rect(id="wall")
    for _ in range(MAX_DEPTH - 1):
        shape = Group(children=[shape])
    text = print_shapes([shape])
    assert print_shapes(parse_text(text)) == text
    with pytest.raises(ChalcedonError, match="nest deeper"):
        parse_text(print_shapes([Group(children=[shape])]))


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("a = rect()", "a is in no group"),
        ("a = rect()\na = circle()\ngroup(children=[a])", "line 2: a is another shape already"),
        ("a = rect()\ngroup(children=[a, a])", "line 2: a shape is written kind"),
        ("group(children=[a])\na = rect()", "line 1: a shape is written kind"),
        ("a = b = rect()", "only shapes belong here"),
        ("a.b = rect()", "only shapes belong here"),
    ],
)
def test_a_part_under_a_name_is_taken_once(text, said):
    with pytest.raises(ChalcedonError, match=said):
        parse_text(text)
    (group,) = parse_text("a = rect(id='wall')\nb = group(children=[a])\ngroup(children=[b, circle()])")
    assert group.children[0].children[0].id == "wall" and len(group.children) == 2


def test_hints_name_the_value_being_typed():
    def at(text):
        return hint_at(text, len(text))

    assert set(at("").candidates) == set(OFFERED)
    assert at("ci").candidates == ("circle",)
    assert at("circle")[:2] == ("circle", "x y  radius"), "what is due, before the space is typed"
    assert at("line").help == "x y  to x y"
    assert (at("circle ").title, at("circle 10 ").title) == ("at x", "at y")
    assert at("circle 10 20 ")[:2] == ("radius", "centre to edge")
    assert at("circle 1 2 3 f").candidates[0] == "fill"
    assert at("circle 1 2 3 id ").title == "id" and parse_line("circle 1 2 3 id fill fill red").id == "fill"
    assert "linen" in at("circle 1 2 3 fill lin").candidates
    assert "Did you mean" in at("circle 1 2 3 fil red ").help
    for kind in OFFERED:
        for name, prop in KINDS[kind].properties.items():
            if name not in ("steps",):
                assert at(f"{kind} {name} ").help, f"{kind} {name}"
            assert prop.help


def test_arithmetic():
    assert calculate("120*2+5") == 245 and calculate("(3+4)/2") == 3.5 and calculate("−4 × 2") == -8
    assert isinstance(calculate("4"), int)
    for bad in (
        "",
        "1/0",
        "moon",
        "9**99",
        "2**0.5**-9**9",
        "[1]",
        "1 if 2 else 3",
        "1e999",
        "(-8)**0.5",
        "True",
        "x" * 999,
    ):
        with pytest.raises(ValueProblem) as problem:
            calculate(bad)
        assert str(problem.value)
