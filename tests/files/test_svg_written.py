"""SVG both ways as texts, which were read through and found right: numbers that no picture tells apart."""

import itertools

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


DATA = (
    "data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAIAAAABCAYAAAD0In+KAAAADklEQVR42mNk"
    "+M9QDwADhQGAWjR9awAAAABJRU5ErkJggg=="
)
ELEMENTS = {
    '<rect stroke="red" {}/>': {
        "x": "3", "y": "4", "width": "30", "height": "20", "rx": "5", "ry": "2",
        "stroke-width": "2",
    },
    '<circle {}/>': {"cx": "3", "cy": "4", "r": "9"},
    '<ellipse {}/>': {"cx": "3", "cy": "4", "rx": "9", "ry": "5"},
    '<line stroke="red" {}/>': {
        "x1": "1", "y1": "2", "x2": "30", "y2": "40", "stroke-width": "2", "stroke-dasharray": "3 2",
        "stroke-dashoffset": "1", "stroke-miterlimit": "3",
    },
    f'<image href="{DATA}" {{}}/>': {"x": "3", "y": "4", "width": "30", "height": "20", "preserveAspectRatio": "none"},
    '<defs><path id="p" d="M0 0L9 9L0 9Z"/></defs><use href="#p" {}/>': {"x": "3", "y": "4", "width": "5"},
    '<text {}>low tide</text>': {
        "x": "3", "y": "40", "dx": "2", "dy": "1", "font-size": "20", "letter-spacing": "1", "textLength": "60",
        "font-weight": "700", "baseline-shift": "4",
    },
    '<svg {}><rect width="10" height="10"/></svg>': {
        "x": "3", "y": "4", "width": "30", "height": "20", "viewBox": "0 0 10 10", "preserveAspectRatio": "xMinYMax",
    },
    '<linearGradient id="g" {}><stop offset="10%" stop-color="red"/><stop offset=".9"/></linearGradient>'
    '<rect width="30" height="20" fill="url(#g)"/>': {
        "x1": ".1", "y1": ".2", "x2": ".9", "y2": ".8", "gradientUnits": "userSpaceOnUse", "spreadMethod": "repeat",
        "gradientTransform": "rotate(20)",
    },
    '<radialGradient id="g" {}><stop stop-color="red"/><stop offset="1"/></radialGradient>'
    '<rect width="30" height="20" fill="url(#g)"/>': {
        "cx": ".4", "cy": ".6", "r": ".7", "fx": ".3", "fy": ".5", "fr": ".1", "gradientUnits": "userSpaceOnUse",
        "gradientTransform": "rotate(20) scale(3)",
    },
    '<pattern id="g" {}><rect width="4" height="4"/></pattern><rect width="30" height="20" fill="url(#g)"/>': {
        "x": "1", "y": "2", "width": "8", "height": "6", "patternUnits": "userSpaceOnUse",
        "patternTransform": "scale(2)",
    },
    '<mask id="g" {}><rect width="20" height="20" fill="#fff"/></mask><rect width="30" height="20" mask="url(#g)"/>': {
        "x": "1", "y": "2", "width": "20", "height": "10", "maskUnits": "userSpaceOnUse",
        "maskContentUnits": "objectBoundingBox",
    },
    '<clipPath id="g" {}><rect width="1" height=".5"/></clipPath><rect width="30" height="20" clip-path="url(#g)"/>': {
        "clipPathUnits": "objectBoundingBox",
    },
    '<marker id="g" {}><path d="M0 0L4 2L0 4Z"/></marker><path d="M9 9H40V40" stroke="red" marker-end="url(#g)"/>': {
        "refX": "1", "refY": "2", "markerWidth": "4", "markerHeight": "5", "orient": "auto", "viewBox": "0 0 4 4",
        "markerUnits": "userSpaceOnUse",
    },
    '<filter id="g"><feDropShadow {}/></filter><rect width="30" height="20" filter="url(#g)"/>': {
        "dx": "3", "dy": "4", "stdDeviation": "2", "flood-color": "red", "flood-opacity": ".5",
    },
}  # fmt: skip


def shortened(line):
    return line if len(line) <= 200 else f"{line[:120]} ... {line[-60:]}"


INSTEAD = None, "40%", "2em", "1in", "-5", "0", "low"


def test_what_each_attribute_is_read_as_and_what_stands_for_it_when_it_is_not_there():
    lines = []
    for element, given in ELEMENTS.items():
        lines.append(element.replace(DATA, "..."))
        for name in ("", *given):
            read = {}
            for value in INSTEAD if name else (None,):
                values = {k: value if k == name else v for k, v in given.items()}
                written = " ".join(f'{k}="{v}"' for k, v in values.items() if v is not None)
                opened = read_svg(page(element.format(written)))
                shapes = print_shapes(opened.scene.shapes[1:]).replace(DATA, "...").splitlines()
                read.setdefault((*map(str, opened.notices), *shapes), []).append(value or "gone")
            for told, values in read.items():
                lines += [f"  {name or 'as given'} {', '.join(values)}:", *(f"    {shortened(line)}" for line in told)]
    assert_as_recorded("svg-attributes", lines, 0.001)


ROOTS = (
    "", 'width="50"', 'height="20"', 'width="50%" height="2in"', 'viewBox="0 0 40 20"',
    'viewBox="0 0 40 20" width="80"',
    'viewBox="5 10 40 20" height="80"', 'viewBox="0 0 40 20" width="80" height="80"', 'viewBox="0 0 0 20" width="30"',
    'viewBox="0 0 40 20" width="80" height="80" preserveAspectRatio="none"', 'width="0" height="-5"',
    'viewBox="0 0 40 20" width="80" height="80" preserveAspectRatio="xMaxYMin slice"', 'width="1e9" height="9"',
    'viewBox="0 0 1 1" width="0.2" height="70000"',
)  # fmt: skip


def test_how_large_the_page_is_and_what_is_on_it_where():
    lines = []
    for root in ROOTS:
        body = f'<svg xmlns="http://www.w3.org/2000/svg" {root}><rect x="50%" width="10" height="10"/></svg>'
        opened = read_svg(body.encode())
        lines.append(f"{root or 'nothing said'}: {opened.scene.size} {' '.join(map(str, opened.notices))}".rstrip())
        lines += [f"    {s}" for s in print_shapes(opened.scene.shapes).splitlines()]
    assert_as_recorded("svg-pages", lines, 0.001)


MARKS = {
    "refX": ("left", "center", "right", "3"), "refY": ("top", "center", "bottom"),
    "orient": ("auto", "auto-start-reverse", "30", "45deg", "low"), "viewBox": ("2 1 8 4", "0 0 0 0"),
    "overflow": ("visible", "hidden"), "preserveAspectRatio": ("none", "xMaxYMax slice"),
    "markerUnits": ("strokeWidth",),
}  # fmt: skip


def test_how_marks_stand_on_a_line():
    lines = []
    for name, values in MARKS.items():
        for value, where in itertools.product(values, ("start", "mid", "end")):
            marker = (
                f'<marker id="g" markerWidth="6" markerHeight="5" {name}="{value}"><path d="M0 0L4 2L0 4Z"/></marker>'
            )
            line = f'<path d="M9 9H40V40" stroke="red" stroke-width="2" marker-{where}="url(#g)"/>'
            opened = read_svg(page(marker + line))
            lines += [f"{name} {value} at the {where}: {' '.join(map(str, opened.notices))}"]
            lines += [f"    {s}" for s in print_shapes(opened.scene.shapes[1:]).splitlines()[2:3]]
    assert_as_recorded("svg-marks", lines, 0.001)


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
