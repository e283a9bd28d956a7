"""What every kind of shape says of itself, and what follows from the roles of its values."""

import inspect
import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from strategies import leaves

import chalcedon
from chalcedon.desk.commands import COMMANDS
from chalcedon.evaluate.outlines import OUTLINES
from chalcedon.geometry import Affine
from chalcedon.geometry.along import Along
from chalcedon.problems import ValueProblem
from chalcedon.scene import KINDS, Rect, Scene
from chalcedon.scene.shapes import MADE
from chalcedon.source import parse_line
from chalcedon.source.sentence import sentence

Spiral = chalcedon.Spiral


@pytest.mark.parametrize("kind", MADE)
def test_every_kind_that_is_offered_has_every_facet(kind):
    cls = KINDS[kind]
    assert inspect.getdoc(cls) and cls.leading[0] == "at" and set(cls.leading) <= set(cls.properties)
    assert sum(KINDS[k].key == cls.key for k in MADE) == 1 and sum(KINDS[k].rank == cls.rank for k in MADE) == 1
    assert type(parse_line(cls.example)) is cls and all(parse_line(g.replace("INK", "#000000")) for g in cls.glyph)
    assert cls.glyph and (cls.hint or cls.made_by == "points")
    for function in (cls.outline, *([cls.box] if hasattr(cls, "box") else [])):
        names = set(inspect.signature(function).parameters)
        assert names == {"values"} or names <= set(cls.properties)
    keys = [c.name for c in COMMANDS if cls.key in c.keys]
    assert keys == [f"shape.{kind}"] and getattr(chalcedon, cls.__name__) is cls
    shape = cls()
    assert shape.says() and shape.says() in sentence(shape)
    if cls.made_by == "centre":
        drawn = shape.drawn(30, 40)
        assert drawn and set(drawn) <= set(cls.properties)
        box = OUTLINES[kind][1]({**shape._values, **drawn})
        assert max(map(abs, box)) == pytest.approx(30, rel=0.1), "the pointer is on its edge"


@given(leaves, st.floats(0.2, 5), st.floats(0.2, 5))
def test_stretching_multiplies_the_box(shape, sx, sy):
    _outline, box = OUTLINES[shape.kind]
    before = box(shape.plain_values())
    after = box({**shape.plain_values(), **shape.stretched(sx, sy)})
    grown = (sx, sy) if shape.stretches else (sx if sx != 1 else sy,) * 2
    if shape.kind == "arc" or getattr(shape, "curve", 0):  # an outline that isn't its ellipse, or bends by its lengths
        return
    for i in (0, 1):
        wide = before[i + 2] - before[i]
        assert after[i + 2] - after[i] == pytest.approx(wide * grown[i], rel=1e-3, abs=0.01 * max(1, wide))


@given(leaves, st.floats(0.2, 5), st.integers(-180, 180), st.booleans())
def test_what_is_baked_is_what_was_mapped(shape, scale, degrees, mirrored):
    c, s = scale * math.cos(math.radians(degrees)), scale * math.sin(math.radians(degrees))
    m = Affine(c, s, -s, c, 0, 0).after(Affine(1, 0, 0, -1 if mirrored else 1, 0, 0))
    try:
        values = shape.baked(m)
    except ValueProblem:
        return
    outline, box = OUTLINES[shape.kind]
    raw = outline(shape.plain_values()).mapped(m).bounds()
    new = box({**shape.plain_values(), **values})
    size = max(1.0, raw[2] - raw[0], raw[3] - raw[1])
    moved = shape.upright  # its raw space begins at the new top left
    for i in (0, 1):
        assert new[i + 2] - new[i] == pytest.approx(raw[i + 2] - raw[i], abs=2e-3 * size)
        assert moved or new[i] == pytest.approx(raw[i], abs=2e-3 * size)


@given(st.floats(-9, 9), st.floats(0, 900), st.floats(0, 900), st.floats(-360, 360), st.floats(0, 1))
def test_a_spiral_grows_evenly(turns, inner, outer, facing, t):
    """Archimedes: the distance from the centre grows by as much for every degree."""
    path = Spiral.outline(turns, inner, outer, facing)
    assert path.coords[:2] == pytest.approx(_at(turns, inner, outer, facing, 0), abs=1e-6)
    assert path.coords[-2:] == pytest.approx(_at(turns, inner, outer, facing, 1), abs=1e-6)
    line = Along(path)  # exact lengths of the cubics
    spots = [_at(turns, inner, outer, facing, i / 4000) for i in range(4001)]
    length = sum(math.dist(a, b) for a, b in itertools.pairwise(spots))
    assert line.length == pytest.approx(length, rel=1e-3, abs=0.02)
    x, y = _at(turns, inner, outer, facing, t)
    found = line.nearest_parameter(x, y)
    assert (found is None and length == 0) or found[2] < 0.01


def _at(turns, inner, outer, facing, t):
    way, r = math.radians(facing) + math.tau * turns * t, inner + (outer - inner) * t
    return r * math.cos(way), r * math.sin(way)


def test_a_spiral_is_a_kind_like_any_other():
    scene = Scene([Spiral(id="shell", at=(50, 50), turns=2, inner=5, outer=30)])
    assert sentence(scene["shell"]) == "spiral of 2 turns, 60 across, its centre at 50, 50"
    assert [f.rule for f in Spiral(inner=9, outer=3).flaws()] == [], "it may wind inward"
    assert Spiral().baked(Affine(0, 2, -2, 0, 0, 0)) == {"inner": 12, "outer": 100, "facing": 0}


@pytest.mark.parametrize(
    ("size", "corners", "words"),
    [
        *[((40, 20), 0, "rect"), ((40, 20), 9.9, "rect with round corners"), ((40, 20), 10, "pill")],
        *[((40, 1.5), 0.75, "pill"), ((20, 40), (0, 0, 0, 10), "pill"), ((40, 0), 10, "rect with round corners")],
    ],
)
def test_a_rect_says_what_its_corners_make_of_it(size, corners, words):
    assert Rect(size=size, corners=corners).says() == words
