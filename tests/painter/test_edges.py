"""Values at the edge: gradients on thin boxes, stops that coincide, text and its letters, exported files."""

import math
import os
import stat
import subprocess
import sys

import numpy as np
import pytest
from agree import pixels
from hypothesis import given, settings
from hypothesis import strategies as st

from chalcedon.craft.align import equal_size
from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, save_scene, scene_bytes
from chalcedon.painter import heaps, parts, render_image, strokes
from chalcedon.painter.pictures import write_picture
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Arc, Circle, Ellipse, Gradient, Polyline, Rect, Scene, Step, Text
from chalcedon.source import parse_line

STOPS = ((0, "#ff0000"), (1, "#0000ff"))


def drawn(*shapes, size=(60, 40)):
    return pixels(render_image(Scene(shapes, size=size, background="#ffffff")))


@pytest.mark.parametrize("width", [1, 0.5, 0.01])
def test_a_gradient_down_a_thin_box_runs_from_end_to_end(width):
    rect = Rect(at=(30, 0), size=(width, 40), fill=Gradient("linear", (0, 0, 0, 1), STOPS))
    column = drawn(rect)[:, 30].astype(float)
    ink = 255.0 - column[:, 1]  # green is none in the gradient
    if width == 1:
        assert column[1, 0] > 240 and column[38, 2] > 240 and np.all(np.diff(column[:, 0]) <= 1)
    assert ink.max() - ink.min() <= 2, "as strong everywhere"


def test_of_two_stops_at_one_offset_the_colour_jumps():
    """SVG 2, section 14.2.4: the first up to the offset, the last from it on."""
    fill = Gradient("linear", (0, 0, 1, 0), ((0, "#ff0000"), (0.5, "#ff0000"), (0.5, "#00ff00"), (1, "#00ff00")))
    row = drawn(Rect(size=(60, 40), fill=fill))[20]
    assert (row[:29] == (255, 0, 0)).all() and (row[31:] == (0, 255, 0)).all()
    alike = Gradient("linear", (0, 0, 1, 0), ((0, "#0000ff"), (0, "#ff0000"), (1, "#ff0000"), (1, "#0000ff")))
    assert (drawn(Rect(size=(60, 40), fill=alike))[20, 1:59] == (255, 0, 0)).all()


@settings(max_examples=25)
@given(
    st.text(alphabet="Hxgj W", min_size=1, max_size=8).filter(str.strip),
    st.sampled_from(["left", "center", "right"]),
    st.integers(8, 30),
)
def test_the_box_of_a_text_is_that_of_its_lines(content, align, size):
    """Letters lie in it but for what a font lets hang over, and the ink is where the layout says."""
    text = Text(at=(60, 60), content=content, size=size, align=align, fill="#000000")
    scene = Scene([text], size=(400, 200), background="#ffffff")
    display = DisplayList(scene)
    left, top, right, bottom = display.node(text).bounds()
    assert bottom - top == pytest.approx(size * 1.25) and right > left
    rows, columns = np.nonzero(pixels(render_image(display)).min(axis=2) < 200)
    assert left - size * 0.2 <= columns.min() and columns.max() <= right + size * 0.2
    assert top <= rows.min() and rows.max() <= bottom
    ink = columns.max() + 1 - columns.min()
    assert ink <= right - left + size * 0.4 and ink >= (right - left) * 0.3 - size


def test_arcs_are_resized_with_their_ends():
    """Stretched unevenly, the ends of an arc are where the stretched ends were."""
    scene = Scene([Arc(id="a", at=(50, 50), radii=(20, 20), start=20, sweep=100), Rect(id="b", size=(90, 10))])
    display = DisplayList(scene)
    node = display.node(scene["a"])
    box = node.bounds()
    first, last = node.outline.coords[:2], node.outline.coords[-2:]
    equal_size(display, [scene["a"], scene["b"]], "width")
    display.update()
    node = display.node(scene["a"])
    k = (node.bounds()[2] - node.bounds()[0]) / (box[2] - box[0])
    assert k == pytest.approx(90 / (box[2] - box[0]), rel=1e-3)
    for before, after in ((first, node.outline.coords[:2]), (last, node.outline.coords[-2:])):
        assert after == pytest.approx((before[0] * k, before[1]), abs=0.02)


def test_an_arc_of_unequal_radii_begins_in_its_direction():
    node = DisplayList(Scene([Arc(id="a", radii=(80, 20), start=45, sweep=90)])).order[0]
    x, y = node.outline.coords[:2]
    assert x == pytest.approx(y) and x == pytest.approx(1 / np.hypot(1 / 80, 1 / 20))


def test_words_for_numbers_in_a_line():
    pill = parse_line("rect 1 2 80 30 corners max")
    assert pill.corners == (1e9,) and DisplayList(Scene([pill])).order[0].outline.verbs.count("C") == 4


def test_one_of_two_points_taken_away_takes_the_shape():
    from chalcedon.craft.points import delete_points

    scene = Scene([Polyline(id="p", points=[(0, 0), (9, 9)])])
    before = scene_bytes(scene)
    assert delete_points(DisplayList(scene), scene["p"], [(0, 1)]) is None and "p" not in scene
    scene.undo()
    assert scene_bytes(scene) == before


@pytest.mark.parametrize("scale", ["nan", "inf", "0", "-1", "1e99"])
def test_a_scale_that_makes_no_picture_is_a_sentence(scale, tmp_path):
    save_scene(Scene(), tmp_path / "a.chal")
    run = [sys.executable, "-m", "chalcedon", "render", str(tmp_path / "a.chal"), str(tmp_path / "a.png")]
    done = subprocess.run([*run, "--scale", scale], capture_output=True, text=True)
    assert done.returncode == 2 and "scale" in done.stderr and "Traceback" not in done.stderr


def test_an_exported_picture_has_the_usual_permissions_and_keeps_those_it_had(tmp_path):
    path = tmp_path / "a.png"
    before = os.umask(0o022)
    try:
        write_picture(Scene(size=(10, 10)), str(path))
        assert stat.S_IMODE(path.stat().st_mode) == 0o644
        path.chmod(0o600)
        write_picture(Scene(size=(10, 10)), str(path))
        assert stat.S_IMODE(path.stat().st_mode) == 0o600 and sorted(p.name for p in tmp_path.iterdir()) == ["a.png"]
    finally:
        os.umask(before)
    pipe = tmp_path / "b.png"
    os.mkfifo(pipe)
    with pytest.raises(ChalcedonError, match="device or a pipe"):
        write_picture(Scene(size=(10, 10)), str(pipe))


OLD = b"""{"chalcedon": 1,
"size": [960,600],
"background": "#15213a",
"shapes": [
{"kind":"group","id":"moon","at":[742,112],"children":[
 {"kind":"circle","id":"disc","at":[0,0],"radius":46,"fill":"#f1e4bd"},
 {"kind":"arc","id":"rim","at":[0,0],"radii":[46,46],"start":10,"sweep":90,"ends":"open","stroke":"#22292e","stroke_width":2}
]},
{"kind":"line","id":"mast","at":[2,-6],"to":[0,-104],"stroke":"#5a3a26","stroke_width":4,"cap":"round"}
]}
"""


def test_a_file_of_an_earlier_version_reads_and_is_written_to_the_byte():
    opened = read_scene(OLD)
    assert not opened.problems and not opened.notices and scene_bytes(opened.scene) == OLD
    assert isinstance(opened.scene["disc"], Circle) and not isinstance(opened.scene["disc"], Ellipse)


@pytest.mark.parametrize("manner", [{"steady": True}, {"stroke_align": "inside"}, {"end_head": "triangle"}])
@pytest.mark.parametrize(("scale", "stroke"), [(1.0, "#20406080"), (2.0, "fade")])
def test_a_heap_of_dashes_looks_as_if_filled_at_once(manner, stroke, scale, monkeypatch, qapp):
    """Hundreds of pieces over one another are filled in bunches, as quickly as they are many."""
    tips = [(70 + (50 - i % 3) * math.cos(i), 60 + 45 * math.sin(1.7 * i)) for i in range(32)]
    closed = "stroke_align" in manner
    curl = Polyline(points=tips, curve=0.5, closed=closed, stroke_width=25, dash=(3, 2), fill=None, **manner)
    curl.stroke = Gradient("linear", (0, 0, 1, 1), STOPS) if stroke == "fade" else stroke
    curl.steps = [Step("rotate", 20)]
    scene = Scene([curl], size=(140, 120))
    paths = []
    fill = heaps.fill_heap
    monkeypatch.setattr(parts, "fill_heap", lambda *given: (paths.append(given[2]), fill(*given)))
    piled = pixels(render_image(scene, scale)).astype(int)
    assert len(paths) == 1 and len(paths[0]) > 20
    monkeypatch.setattr(heaps, "MOST_EDGES", 1e9)
    at_once = pixels(render_image(scene, scale)).astype(int)
    off = np.abs(piled - at_once).max(axis=2)
    assert len(paths) == 1 and (off > 40).mean() < 0.01 and off.mean() < 1.2  # edges, which are not quite alike


def test_a_stroke_that_is_painted_in_turn_at_several_scales_is_made_once_for_each(monkeypatch, qapp):
    """On the canvas, in its row, and finely where a cut-out goes through it."""
    made, area = [], strokes.StrokeArea
    monkeypatch.setattr(strokes, "StrokeArea", lambda *given: made.append(given) or area(*given))
    ring = parse_line("circle 30 20 12 fill none stroke #22292e 14 dash 3 2")
    display = DisplayList(Scene([ring], size=(60, 40)))
    for _ in range(4):
        for scale in (1.0, 8.0, 0.25):
            render_image(display, scale)
    assert len(made) == 3
