"""How looks are painted, in few px: a dot is white, then from 1 to f ever darker. Beside that by which way, on sheets
of what size: one way takes ten times as long as another, and the picture doesn't show it.
"""

import itertools
from string import ascii_letters

import numpy as np
import pytest
from agree import pixels
from PIL import Image as Picture
from recorded import assert_as_recorded

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.painter import heaps, job, parts
from chalcedon.painter.compose import Sheet
from chalcedon.painter.convert import prepared
from chalcedon.painter.hitmap import HitMap
from chalcedon.painter.job import PaintJob
from chalcedon.painter.render import render_area, render_image
from chalcedon.scene import Arc, Circle, Ellipse, Gradient, Group, Image, Line, Path, Polyline, Rect, Scene, Star, Text
from chalcedon.scene.paints import Pattern
from chalcedon.scene.paints import Picture as PicturePaint
from tests.harbour import harbour

LEVELS = ".123456789abcdef"
SIZE = (30, 12)
FADE = Gradient("linear", "#000", "#fff")
GLOW = Gradient("radial", "#000", "#fff")
ACROSS = Gradient("linear", (0, 0, 30, 0), ((0, "#000"), (0.5, "#fff"), (0.5, "#888"), (1, "#000")), "pad", "scene")
AGAIN = Gradient("linear", (0.2, 0, 0.5, 0), ((0, "#000"), (1, "#fff")), "reflect")


def wall(**values):
    return Rect(**{"id": "wall", "at": (6, 3), "size": (18, 6), "fill": "#666", "stroke": None, **values})


def disc(**values):
    return Circle(**{"id": "disc", "at": (15, 6), "radius": 5, "fill": "#666", "stroke": None, **values})


def tile():
    """Beyond the page, half black and half grey."""
    halves = (Rect(at=(x, 0), size=(2, 4), fill=fill, stroke=None) for x, fill in ((0, "#000"), (2, "#ccc")))
    return Group(*halves, id="tile", at=(40, 0))


def wave(**values):
    return Path(
        id="wave", data="M3 9 C8 -4 12 16 27 3", **{"fill": None, "stroke": "#000", "stroke_width": 2, **values}
    )


LOOKS = {
    "fill": [wall()],
    "fill and stroke": [wall(stroke="#000", stroke_width=2)],
    "stroke inside": [wall(stroke="#000", stroke_width=2, stroke_align="inside")],
    "stroke inside of what fades": [disc(stroke="#000", stroke_width=2, stroke_align="inside", opacity=0.5)],
    "stroke outside": [wall(stroke="#000", stroke_width=2, stroke_align="outside")],
    "stroke outside of what fades": [disc(stroke="#000", stroke_width=2, stroke_align="outside", opacity=0.5)],
    "no fill": [disc(fill=None, stroke="#000", stroke_width=3)],
    "a stroke of no width": [disc(stroke="#000", stroke_width=0)],
    "fill that fades": [wall(opacity=0.5)],
    "both fade as one": [wall(stroke="#000", stroke_width=2, opacity=0.5)],
    "stroke under the fill": [wall(stroke="#000", stroke_width=4, paint_order="stroke")],
    "a line": [Line(id="line", at=(3, 3), to=(24, 6), stroke="#000", stroke_width=2)],
    "a bent line": [wave()],
    "a thick line with a tight bend": [wave(stroke_width=9)],
    "dashes": [wave(dash=(5, 3))],
    "dots": [wave(dash=(0, 4), cap="round")],
    "dashes on a rect": [wall(stroke="#000", stroke_width=2, dash=(4, 2))],
    "heads": [
        Line(id="line", at=(4, 6), to=(22, 0), stroke="#000", end_head="triangle", start_head="dot", head_size=6)
    ],
    "a head between": [
        Polyline(id="line", points=[(3, 9), (15, 3), (27, 9)], stroke="#000", mid_head="diamond", head_size=5)
    ],
    "a steady stroke": [disc(radius=1, stroke="#000", stroke_width=2, steady=True, steps=[{"scale": [10, 3]}])],
    "a stroke that grows along": [disc(radius=1, stroke="#000", stroke_width=0.5, steps=[{"scale": [10, 3]}])],
    "a point": [Polyline(id="line", points=[(15, 6), (15, 6)], stroke="#000", stroke_width=6, cap="round")],
    "ends that touch": [Polyline(id="line", points=[(15, 2), (25, 9), (5, 9), (15, 2)], stroke="#000", stroke_width=4)],
    "an ellipse with a stroke as wide": [
        Ellipse(id="it", at=(15, 6), radii=(10, 3), fill=None, stroke="#000", stroke_width=5)
    ],
    "a gradient": [wall(fill=FADE)],
    "a gradient that glows": [wall(fill=GLOW)],
    "a gradient of the scene": [wall(fill=ACROSS)],
    "a gradient of the scene, turned": [wall(fill=ACROSS, steps=[{"rotate": 90}])],
    "a gradient again and again": [wall(fill=AGAIN)],
    "a gradient that fades": [wall(fill=FADE, opacity=0.5)],
    "a gradient as a stroke": [wall(stroke=FADE, stroke_width=3)],
    "a gradient on what has no height": [Line(id="line", at=(3, 6), to=(24, 0), stroke=FADE, stroke_width=4)],
    "a shadow": [wall(size=(12, 4), shadow=(4, 3, 2, "#000000"))],
    "a shadow without blur": [wall(size=(12, 4), shadow=(4, 3, 0, "#000000"))],
    "a shadow alone": [wall(at=(-20, 3), shadow=(26, 0, 0, "#00000080"))],
    "a wide shadow": [wall(size=(6, 6), shadow=(4, 0, 20, "#000000"))],
    "multiplied": [wall(fill="#aaa"), disc(fill="#aaa", blend="multiply")],
    "its luminosity": [wall(fill="#c86432"), disc(fill="#3264c8", blend="luminosity", opacity=0.5)],
    "a group that fades": [Group(wall(stroke="#000"), disc(fill="#fff"), id="all", opacity=0.5)],
    "a group with a shadow": [Group(wall(size=(6, 4)), disc(radius=2), id="all", shadow=(3, 3, 0, "#00000080"))],
    "a group that multiplies": [wall(fill="#aaa"), Group(disc(fill="#aaa"), id="all", blend="multiply")],
    "a cut-out": [Group(wall(), disc(radius=3, cuts=True), id="all")],
    "a cut-out of the page": [wall(), disc(radius=3, cuts=True)],
    "a clip": [Group(wall(), disc(id="by", fill=None), id="all", clip="by")],
    "a clip along the edges": [Group(wall(), wall(id="by", fill=None, size=(10.5, 3.5)), id="all", clip="by")],
    "a mask": [Group(wall(), wall(id="by", fill=FADE, visible=False), id="all", clip="by", clip_by="luminance")],
    "a mask of what is opaque": [
        Group(wall(), disc(id="by", fill="#0008", visible=False), id="all", clip="by", clip_by="alpha")
    ],
    "tiles": [wall(fill=Pattern("tile")), tile()],
    "tiles, turned": [
        wall(fill=Pattern("tile", ({"rotate": 45},))),
        tile(),
    ],
    "tiles as a stroke": [
        wall(stroke=Pattern("tile"), stroke_width=4),
        Rect(id="tile", at=(40, 0), size=(2, 2), fill="#000", stroke=None),
    ],
    "an image, contain": [Image(id="photo", at=(3, 2), size=(24, 8), source="grey.png", fit="contain")],
    "an image, cover": [Image(id="photo", at=(3, 2), size=(24, 8), source="grey.png", fit="cover")],
    "an image, fill": [Image(id="photo", at=(3, 2), size=(24, 8), source="grey.png", fit="fill")],
    "an image, none": [Image(id="photo", at=(3, 2), size=(24, 8), source="grey.png", fit="none")],
    "an image, again and again": [wall(fill=PicturePaint("grey.png", "tile"))],
    "an image that fades": [Image(id="photo", at=(3, 2), size=(24, 8), source="grey.png", opacity=0.5, stroke="#000")],
    "an image that isn't there": [Image(id="photo", at=(3, 2), size=(24, 8), source="none.png")],
    "an image as a fill": [disc(fill=PicturePaint("grey.png"))],
    "an image as a stroke": [disc(fill=None, stroke=PicturePaint("grey.png"), stroke_width=4)],
    "words": [Text(id="words", at=(2, 0), content="Loom", size=11, fill="#000")],
    "words of two colours": [
        Text(id="words", at=(2, 0), content="Loom", size=11, fill="#000", runs=[(2, 4, {"fill": "#999"})])
    ],
    "even-odd": [
        Path(id="star", data="M15 0 L21 11 L4 4 L26 4 L9 11 Z", fill="#666", stroke=None, fill_rule="evenodd")
    ],
    "a pie": [Arc(id="pie", at=(15, 6), radii=(9, 5), start=0, sweep=250, ends="pie", fill="#666", stroke="#000")],
    "a star": [
        Star(id="star", at=(15, 6), outer=6, inner=2, tips=5, fill="#666", stroke=None, steps=[{"skew": [30, 0]}])
    ],
    "beyond the page": [wall(at=(40, 3), stroke="#000", opacity=0.5)],
    "hidden": [wall(visible=False)],
}


def level(image):
    """Of every px how dark it is, 0 to 15."""
    return (255 - pixels(image).mean(axis=2)) / 17


def drawn(image):
    return ["".join(LEVELS[round(v)] for v in row).rstrip(".") or "." for row in level(image)]


@pytest.fixture
def folder(tmp_path):
    """Where an image is: four by two px, from white to black."""
    Picture.fromarray(np.array([[255, 170, 85, 0], [0, 85, 170, 255]], np.uint8)).save(tmp_path / "grey.png")
    return tmp_path


@pytest.fixture
def sheets(monkeypatch):
    """The sheets that are made."""
    made = []

    class Watched(Sheet):
        def __init__(self, area):
            super().__init__(area)
            made.append(area.getRect())

    for module in (job, parts):
        monkeypatch.setattr(module, "Sheet", Watched)
    return made


def page(shapes, folder, scale=1.0):
    scene = Scene([s.copy() for s in shapes], size=SIZE, background="#fff")
    scene.folder = str(folder)
    display = DisplayList(scene)
    return display, render_image(display, scale)


def told(display, sheets):
    """Which way the shapes are painted."""
    for node in display.order:
        ready = prepared(node)
        area = "" if ready.area is None else f", stroke as an area in {len(ready.area.of(node, 1.0))}"
        yield f"  {node.shape.id}: {'at once' if ready.plain else 'in parts'}{area}"
    if sheets:
        yield f"  sheets {' '.join('{}x{}+{}+{}'.format(*s[2:], *s[:2]) for s in sheets)}"


def test_looks(folder, sheets):
    ways, rows, now = [], [], []
    for name, shapes in LOOKS.items():
        sheets.clear()
        display, image = page(shapes, folder)
        ways += [f"{name}:", *told(display, sheets)]
        now.append(level(image))
        rows += [f"{name}:", *drawn(image)]
    assert_as_recorded("ways", ways)
    assert_as_recorded("looks", rows, same=lambda was: all(map(near, read(was), now)))


def read(lines):
    """The pictures of a record."""
    rows = [[LEVELS.index(c) for c in line.ljust(SIZE[0], ".")] for line in lines if not line.endswith(":")]
    return [np.array(rows[i : i + SIZE[1]]) for i in range(0, len(rows), SIZE[1])]


def near(was, now):
    """The same, but for what another version of the toolkit rounds otherwise."""
    return bool((np.abs(was - now) < 1.0).all())


def test_looks_at_other_scales_and_in_part(folder):
    rows, now = [], []
    some = ("heads", "both fade as one", "a shadow", "a clip along the edges", "tiles", "dashes", "an image, cover")
    for name, shapes in LOOKS.items():
        if name in some:
            display, image = page(shapes, folder, 0.5)
            half = level(image)
            part = level(render_area(display, display.order, (6.0, 2.0, 13.0, 8.0), 2.0))
            assert half.shape == (6, 15) and part.shape == (12, 14)
            both = np.zeros((12, 30))
            both[:6, :15], both[:, 16:] = half, part
            now.append(both)
            rows += [f"{name}:", *("".join(LEVELS[round(v)] for v in row).rstrip(".") or "." for row in both)]
    assert_as_recorded("scaled", rows, same=lambda was: all(map(near, read(was), now)))


def test_what_the_map_of_hits_says_of_every_px():
    scene = harbour()
    display = DisplayList(scene)
    names = {}
    lines = []
    for view in (Affine(0.5, 0, 0, 0.5, 0, 0), Affine(0.3, 0.1, -0.1, 0.3, 20, 2)):
        found = HitMap(display, view, 120, 80)
        while not found.work(1):
            pass
        for slot in np.unique(found.numbers).tolist():
            if slot >= 0:
                names.setdefault(display.slots[slot].shape.id, ascii_letters[len(names)])
        letter = {slot: names[display.slots[slot].shape.id] for slot in np.unique(found.numbers).tolist() if slot >= 0}
        lines += ["".join(letter.get(v, ".") for v in row).rstrip(".") or "." for row in found.numbers[::2].tolist()]
        lines.append("never hit: " + " ".join(s.id for s in found.unreached()))
        assert {s.id for s in found.reached()} == {display.slots[slot].shape.id for slot in letter}
    lines.append(" ".join(f"{letter} {name}" for name, letter in names.items()))
    assert_as_recorded("hitmap", lines)


@pytest.mark.parametrize("count", [200, 201, 400])
def test_a_heap_is_filled_in_bunches(count):
    """From 400 edges across a row of px on; small pieces that lie apart are none."""
    across = Path(id="it", data=" ".join(f"M{i % 3} 0 h30 v8 h-30 Z" for i in range(count)))
    apart = Path(id="it", data=" ".join(f"M{i % 20} {i // 20} h1 v1 h-1 Z" for i in range(count)))
    found = [len(heaps.bunches(DisplayList(Scene([shape])).order[0].outline)) for shape in (across, apart)]
    assert found == [-(-count // heaps.BUNCH) if count > 200 else 1, 1]


def test_a_job_stops_in_time_and_goes_on():
    """After as many shapes as are painted between two looks at the clock."""
    scene = Scene(
        [Circle(at=(i, 6), radius=3, fill="#666", stroke=None) for i in range(20)], size=SIZE, background=None
    )
    display = DisplayList(scene)
    whole = render_image(display)
    image = render_image(Scene(size=SIZE))
    image.fill(0)
    work = PaintJob(display, display.order, image, Affine())
    steps = list(itertools.takewhile(lambda done: not done, iter(lambda: work.run(0.0), None)))
    assert len(steps) == 2 and image == whole
