"""SVG both ways as texts, which were read through and found right: numbers that no picture tells apart."""

import pytest
from recorded import assert_as_recorded

from chalcedon.files.svgin import read_svg
from chalcedon.files.svgout import svg_bytes
from chalcedon.scene import KINDS, OFFERED, Scene
from chalcedon.source import parse_line, print_shapes
from fuzz.scenes import random_scene
from tests.files.test_svg_in import DRAWN, MARKERS, MASKS, ORDERS, PATTERNS, page
from tests.greenhouse import greenhouse

BODIES = {**DRAWN, "masks": MASKS, "patterns": PATTERNS, "markers": MARKERS, "orders": ORDERS}


def test_what_svg_becomes_is_as_it_was_found_right():
    lines = []
    for name, body in BODIES.items():
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
        **{f"random {seed}": random_scene(seed, 5, wild=0.0) for seed in (0, 1, 2, 5, 6, 7)},
    }.items():
        scene.y_axis = "up" if up else "down"
        made = svg_bytes(scene)
        lines += [f"{name}:", *(f"    said: {note}" for note in made.notes)]
        lines += [f"    {line}" for line in made.data.decode().splitlines()]
    assert_as_recorded("svg-out-up" if up else "svg-out", lines)
