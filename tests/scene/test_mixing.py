"""Colours by numbers, mixes, tints, and colours told apart."""

import itertools

import pytest
from coloraide import Color
from hypothesis import given
from hypothesis import strategies as st

from chalcedon import Circle, Rect, tints, told_apart
from chalcedon.problems import ValueProblem
from chalcedon.scene.color import rgba

part = st.integers(0, 255)


@given(part, part, part)
def test_numbers_are_what_their_hex_form_says(r, g, b):
    shape = Rect(fill=(r, g, b))
    assert rgba(shape.fill) == (r, g, b, 255)
    assert Rect(fill=r << 16 | g << 8 | b).fill == shape.fill == Rect(fill=[r, g, b, 1]).fill
    assert rgba(Rect(fill=(r, g, b, 0.5)).fill) == (r, g, b, 128)
    assert Rect(fill=(r / 255, g / 255, b / 255)).fill == shape.fill


@pytest.mark.parametrize(
    "wrong",
    [
        (1, 2),
        (256, 0, 0),
        (0.5, 2.0, 0),
        (0, 0, 0, 2),
        0x1000000,
        -1,
        True,
        (True, 0, 0),
        ("1", 2, 3),
        (10**400, 0, 0),
        10**400,
    ],
)
def test_numbers_that_are_no_colour_are_refused(wrong):
    with pytest.raises(ValueProblem) as problem:
        Circle(fill=wrong)
    assert problem.value.hint or "CSS colour" in str(problem.value)


@pytest.mark.parametrize("space", ["srgb", "srgb-linear", "lab", "oklab", "lch", "oklch", "hsl", "hwb"])
def test_mixes_are_what_css_says(space):
    """Against coloraide, asked in another way, with and without shares."""
    for text, at in (("red, blue", 0.5), ("red 30%, blue", 0.7), ("25% red, blue", 0.75), ("red, blue 10%", 0.1)):
        wanted = Color("red").mix("blue", at, space=space).convert("srgb").fit().coords(nans=False)
        got = rgba(f"color-mix(in {space}, {text})")
        assert all(abs(g - round(w * 255)) <= 1 for g, w in zip(got, wanted, strict=False)), text


def test_shares_and_alpha():
    assert rgba("color-mix(in srgb, red, white)") == (255, 128, 128, 255)
    assert rgba("color-mix(in srgb, red 20%, blue 20%)") == (128, 0, 128, 102), "what is missing to 100 % is clear"
    assert rgba("color-mix(in srgb, rgb(255 0 0 / 50%), rgb(0 0 255 / 50%))") == (128, 0, 128, 128)
    assert Rect(fill="color-mix(in oklab, red 30%, white)").fill.startswith("color-mix("), "kept as it was written"


@pytest.mark.parametrize(
    "text",
    [
        "color-mix(red, blue)",
        "color-mix(in srgb, red)",
        "color-mix(in rgb, red, blue)",
        "color-mix(in srgb, red 120%, blue)",
        "color-mix(in srgb, red 0%, blue 0%)",
        "color-mix(in srgb, rod, blue)",
        "color-mix(in srgb, red, blue",
        "color-mix()",
    ],
)
def test_what_is_no_mix_is_said(text):
    with pytest.raises(ValueProblem) as problem:
        Rect(fill=text)
    assert str(problem.value).endswith((".", ")")) or problem.value.hint


def test_tints_go_from_light_to_dark_in_one_hue():
    made = tints("#b8482a", 6)
    lab = [Color(c).convert("oklch") for c in made]
    assert all(a["lightness"] > b["lightness"] for a, b in itertools.pairwise(lab))
    assert all(abs(c["hue"] - Color("#b8482a").convert("oklch")["hue"]) < 6 for c in lab[1:-1])
    assert all(len(c) == 9 and c.endswith("80") for c in tints("#b8482a80"))


@pytest.mark.parametrize("count", [1, 2, 8, 20, 60])
def test_colours_are_told_apart(count):
    colors = told_apart(count)
    assert len(set(colors)) == count and colors == told_apart(count)
    lab = [Color(c).convert("oklab").coords() for c in colors]
    apart = min(
        (sum((a - b) ** 2 for a, b in zip(p, q, strict=True)) ** 0.5 for p, q in itertools.combinations(lab, 2)),
        default=1,
    )
    assert apart > {8: 0.15, 20: 0.1, 60: 0.05}.get(count, 0.2)
    for wrong in (0, -1, 257, 2.5, True):
        with pytest.raises(ValueProblem):
            told_apart(wrong)
