"""SVG both ways as texts, which were read through and found right: numbers that no picture tells apart."""

import pytest
from recorded import assert_as_recorded

from chalcedon.files.svgin import read_svg
from chalcedon.files.svgout import svg_bytes
from chalcedon.scene import KINDS, OFFERED, Rect, Scene, Text
from chalcedon.source import parse_line, print_shapes
from fuzz.scenes import random_scene
from tests.files.test_svg_in import DRAWN, MARKERS, MASKS, ORDERS, PATTERNS, page
from tests.greenhouse import greenhouse

BODIES = {**DRAWN, "masks": MASKS, "patterns": PATTERNS, "markers": MARKERS, "orders": ORDERS}
"""By what is tried in them."""


def said():
    """Runs of a text, and each kind of step."""
    runs = [(0, 3, {"weight": 700}), (3, 5, {"weight": 400, "italic": True}), (5, 8, {"family": "Low Tide 2"})]
    runs += [(8, 9, {"size": 50.5, "fill": "#b8482a"}), (9, 10, {"family": "Nunito", "italic": False})]
    steps = [{"rotate": 30}, {"scale": [2, 0.5]}, {"skew": [10, 0]}, {"skew": [0, 10]}, {"translate": [3, 4]}]
    steps += [{"matrix": [1, 0.5, 0, 1, 2, 3]}, {"rotate": 15, "about": [3, 4]}, {"scale": [3, 3], "off": True}]
    shapes = [Text("the tide is low", id="tide", at=(10, 40), size=24, runs=runs, weight=300)]
    shapes += [Rect(id=f"r{i}", at=(20 * i, 80), size=(10, 6), steps=[step]) for i, step in enumerate(steps)]
    return Scene([*shapes, Rect(id="all", at=(9, 9), steps=steps[:4])], size=(200, 120))


ANGLES = "".join(
    f'<rect width="9" height="4" style="transform:rotate({angle}) translate({i}px,{i}px)"/>'
    for i, angle in enumerate(("90deg", "100grad", "0.25turn", "1.5707963rad", "90"))
)


def test_what_svg_becomes_is_as_it_was_found_right():
    lines = []
    for name, body in {**BODIES, "angles": ANGLES}.items():
        opened = read_svg(page(body))
        lines += [f"{name}: {opened.scene.size}", *(f"    said: {note}" for note in opened.notices)]
        lines += [f"    {line}" for line in print_shapes(opened.scene.shapes).splitlines()]
    assert_as_recorded("svg-in", lines)


@pytest.mark.parametrize("up", [False, True])
def test_what_a_scene_becomes_is_as_it_was_found_right(up):
    lines = []
    for name, scene in {
        **{kind: Scene([parse_line(KINDS[kind].example)], size=(280, 130)) for kind in OFFERED},
        "greenhouse": greenhouse(),
        "texts and steps": said(),
        **{f"random {seed}": random_scene(seed, 5, wild=0.0) for seed in (0, 1, 2, 5, 6, 7)},
    }.items():
        scene.y_axis = "up" if up else "down"
        made = svg_bytes(scene)
        lines += [f"{name}:", *(f"    said: {note}" for note in made.notes)]
        lines += [f"    {line}" for line in made.data.decode().splitlines()]
    assert_as_recorded("svg-out-up" if up else "svg-out", lines)
