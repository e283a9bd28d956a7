"""A gradient counted in other units lies where it was."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from second import ours

from chalcedon import Gradient, Group, Rect, Scene
from chalcedon.craft.gradients import in_units
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula

STOPS = ((0, "#ffffff"), (0.5, "#b8482a"), (1, "#15213a"))
part = st.floats(0, 1).map(lambda v: round(v, 2))


def page(gradient, way="down", turn=0, factor=1, side=80):
    bed = Rect(id="bed", at=(20, 25), size=(80, side), fill=gradient, steps=[{"rotate": turn}])
    return Scene([Group(bed, id="yard", at=(10, 5), steps=[{"scale": factor}])], size=(240, 220), y_axis=way)


def restated(scene, units):
    return in_units(DisplayList(scene), scene["bed"], scene["bed"].stated("fill"), units)


@settings(max_examples=30, deadline=None)
@given(
    st.one_of(
        st.tuples(part, part, part, part).map(lambda line: Gradient("linear", line, STOPS)),
        st.tuples(part, part, part.map(lambda r: r + 0.05)).map(
            lambda line: Gradient("radial", line, STOPS, "reflect")
        ),
        st.tuples(st.just(0.5), st.just(0.5), st.just(0.5), st.just(0.25), part).map(
            lambda line: Gradient("radial", line, STOPS)
        ),
    ),
    st.sampled_from(["down", "up"]),
    st.integers(0, 359),
    st.sampled_from([0.5, 1, 1.6]),
)
def test_on_a_square_it_looks_the_same_however_that_stands(gradient, way, turn, factor):
    scene = page(gradient, way, turn, factor)
    before = ours(scene)
    scene["bed"].fill = there = restated(scene, "scene")
    assert there.units == "scene" and there.stops == STOPS and there.spread == gradient.spread
    if gradient.kind == "radial" or np.hypot(*np.subtract(gradient.line[:2], gradient.line[2:])) > 0.1:
        off = np.abs(ours(scene) - before).max(axis=2)
        assert (off > 12).sum() <= 2, "but for the px at a focus on the rim, where all shades meet"
    back = restated(scene, "box")
    assert (
        back.line == pytest.approx(gradient.line, abs=3e-4 / factor) and back._replace(line=gradient.line) == gradient
    )


@pytest.mark.parametrize("line", [(0, 0.3, 1, 0.3), (0.2, 0, 0.2, 1)])
def test_on_any_box_lines_along_its_sides_do(line):
    scene = page(Gradient("linear", line, STOPS), turn=30, side=40)
    before = ours(scene)
    scene["bed"].fill = restated(scene, "scene")
    assert np.abs(ours(scene) - before).max() <= 4


@pytest.mark.parametrize("way", ["down", "up"])
def test_the_page_has_a_box_as_well(way):
    scene = Scene([], size=(120, 80), y_axis=way, background=Gradient("linear", (0.25, 0.5, 0.75, 0.5), STOPS))
    before = ours(scene)
    scene.background = in_units(DisplayList(scene), scene, scene.background, "scene")
    assert scene.background.line == (30, 40, 90, 40)
    assert np.abs(ours(scene) - before).max() <= 2


def test_what_formulas_place_and_what_has_no_box_stays_finite():
    moving = Gradient("linear", (0, 0, Formula("time", 1), 0), STOPS)
    assert restated(page(moving), "scene") == moving._replace(units="scene")
    flat = page(Gradient("radial", (10, 20, 30), STOPS, units="scene"), side=0)
    flat["bed"].size = (0, 0)
    assert restated(flat, "box").line == (0, 0, 0)
    same = page(Gradient("linear", (0, 0, 1, 1), STOPS))
    assert restated(same, "box") == same["bed"].fill
