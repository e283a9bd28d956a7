"""Hit tests, files and painting."""

import os
import random
import statistics
import tempfile
from functools import partial
from pathlib import Path

import numpy as np
import orjson
import uharfbuzz as hb
from lxml import etree
from PySide6.QtGui import QColor, QImage, QPainter, QTransform

from benchmarks.measure import Row, each, interleaved, show, timed
from benchmarks.scenes import mixed
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.outlines import OUTLINES
from chalcedon.files import read_scene, save_scene, scene_bytes
from chalcedon.files.journal import Journal
from chalcedon.files.svgin import read_svg
from chalcedon.files.svgout import svg_bytes
from chalcedon.geometry.batch import flatten_cubics
from chalcedon.hit import HitTester
from chalcedon.painter import render_image
from chalcedon.painter.convert import prepared
from chalcedon.painter.job import FORMAT
from chalcedon.text.fonts import choose
from chalcedon.text.layout import Block, lay_out
from chalcedon.text.shape import Style


def repaint():
    scene = mixed(10_000, page=(960, 600), pen=1.5)
    display = DisplayList(scene)
    render_image(display)
    ready = [(prepared(n), QTransform(*n.world)) for n in display.order]

    def bare():
        image = QImage(960, 600, FORMAT)
        image.fill(QColor("white"))
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for r, matrix in ready:
            painter.setTransform(matrix)
            painter.setPen(r.pen)
            painter.setBrush(r.brush)
            painter.drawPath(r.path)
        painter.end()

    ours, reference = interleaved(lambda: render_image(display), bare)
    return Row(
        "full repaint, 10,000 shapes", show(ours), f"bare loop {show(reference)}", f"{ours / reference:.2f}", "1.15"
    )


def hits():
    rows = []
    for count, rest, moving in ((10_000, 40, 100), (100_000, 60, 400)):
        scene = mixed(count)
        width, height = scene.size
        tester = HitTester(scene)
        chance = random.Random(2)
        points = [(chance.uniform(0, width), chance.uniform(0, height)) for _ in range(2000)]
        tester.index.settle(1e9)
        over = sum(len(tester.index.at(*p)) for p in points) / len(points)
        topmost = partial(tester.hit_test, first=True)
        each(topmost, points)  # outlines are made when first hit
        median, p95 = each(topmost, points)
        boxes = [n.cull for n in tester.display.order]
        columns = [np.array(c, dtype=np.float32) for c in zip(*boxes, strict=True)]

        def scan(x, y, c=columns):
            return np.flatnonzero((c[0] <= x) & (c[2] >= x) & (c[1] <= y) & (c[3] >= y))

        reference, _ = each(scan, points[:300])
        rows.append(
            Row(
                f"topmost hit at rest, {count:,} ({over:.1f} boxes over a point)",
                f"{show(median)}, p95 {show(p95)}",
                f"scan of the same boxes {show(reference)}",
                f"{median / reference:.2f}",
                f"{rest} µs",
            )
        )
        index = tester.index
        index._grid, index._building = None, None
        index.within((0, 0, 1, 1))

        def moved(x, y, t=tester):
            t.index._calm = 0  # as right after everything moved
            return t.hit_test(x, y, first=True)

        median, p95 = each(moved, points)
        rows.append(
            Row(
                f"topmost hit while all move, {count:,}",
                f"{show(median)}, p95 {show(p95)}",
                f"scan of the same boxes {show(reference)}",
                f"{median / reference:.2f}",
                f"{moving} µs",
            )
        )
    return rows


def files():
    scene = mixed(10_000)
    data = scene_bytes(scene)

    def scene_only():
        read_scene(data)

    def evaluated():
        DisplayList(read_scene(data).scene)

    read, whole, reference = interleaved(scene_only, evaluated, lambda: orjson.loads(data))
    rows = [
        Row(
            "10,000 shapes from bytes to a scene",
            show(read),
            f"orjson.loads {show(reference)}",
            f"{read / reference:.1f}",
            "180 ms",
        ),
        Row(
            "the same, evaluated for painting and hits",
            show(whole),
            f"orjson.loads {show(reference)}",
            f"{whole / reference:.1f}",
            "7 times",
        ),
    ]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "a.chal"
        raw = orjson.loads(data)

        def bare():
            with open(path.with_suffix(".raw"), "wb") as file:
                file.write(orjson.dumps(raw))
                file.flush()
                os.fsync(file.fileno())

        ours, reference = interleaved(lambda: save_scene(scene, path), bare)
    rows.append(
        Row(
            "10,000 shapes saved, synced",
            show(ours),
            f"orjson.dumps, write, fsync {show(reference)}",
            f"{ours / reference:.1f}",
            "80 ms, 5 times",
        )
    )
    rows += _svg(scene)
    for count in (10_000, 100_000):
        rows.append(_journaled(mixed(count) if count > 10_000 else scene, count))
    return rows


def _svg(scene):
    """Writing and reading SVG, against the parsing of the same bytes."""
    display = DisplayList(scene)
    data = svg_bytes(display).data
    wrote, reference = interleaved(lambda: svg_bytes(display), lambda: etree.fromstring(data))
    read, again = interleaved(lambda: read_svg(data), lambda: etree.fromstring(data))
    name = f"lxml parsing its {len(data) / 1e6:.1f} MB"
    return [
        Row("10,000 shapes as SVG", show(wrote), f"{name} {show(reference)}", f"{wrote / reference:.1f}", "400 ms"),
        Row("10,000 shapes from SVG", show(read), f"{name} {show(again)}", f"{read / again:.1f}", "900 ms"),
    ]


def _journaled(scene, count):
    """What a step takes with a journal, against the same step without."""
    shape, turn = scene.top.children[count // 2], iter(range(10**6))

    def step():
        shape.opacity = next(turn) % 90 / 100

    with tempfile.TemporaryDirectory() as folder:
        os.environ["XDG_STATE_HOME"] = folder
        bare = statistics.median(timed(step) for _ in range(500))
        journal = Journal(scene)
        step()
        journal.settle()
        ours = statistics.median(timed(step) for _ in range(500))
        journal.discard()
    return Row(
        f"a step journaled at {count:,} shapes", show(ours), f"the step {show(bare)}", f"{ours / bare:.1f}", "1 ms"
    )


def geometry():
    """Flattening, outlines a change, text, stroking and shape algebra."""
    chance = random.Random(3)
    controls = np.array([[[chance.uniform(0, 60) for _ in range(2)] for _ in range(4)] for _ in range(20_000)])

    def copied():
        return np.concatenate([controls[:, :1], controls[:, 1:]], axis=1).copy()

    ours, reference = interleaved(lambda: flatten_cubics(controls, 0.1), copied)
    points = len(flatten_cubics(controls, 0.1)[0])
    rows = [
        Row(
            f"flattening 20,000 cubics into {points:,} points",
            f"{show(ours)}: {len(controls) / ours / 1000:.0f} a ms",
            f"copying their controls {show(reference)}",
            f"{ours / reference:.1f}",
            "300 a ms",
        ),
        _outlines(),
    ]
    words = [chance.choice(("harbour", "lamp", "tide", "quay", "water", "buoy", "of", "the")) for _ in range(1000)]
    style = Style("Source Sans Pro", 16)
    text = " ".join(words)
    count = iter(range(10**6))

    def laid_out():
        return lay_out(Block(f"{next(count)} {text}", style, 400))  # never the same twice: nothing is remembered

    def shaped():
        buffer = hb.Buffer()
        buffer.add_str(f"{next(count)} {text}")
        buffer.guess_segment_properties()
        hb.shape(choose(style.family).face.font, buffer)

    ours, reference = interleaved(laid_out, shaped)
    rows.append(
        Row(
            "1,000 words of wrapped text laid out",
            show(ours),
            f"shaped once in one run {show(reference)}",
            f"{ours / reference:.1f}",
            "50 ms",
        )
    )
    return rows


def _outlines():
    """How often an outline is built while shapes are moved, and while one number of one of them is changed."""
    scene = mixed(1000)
    display = DisplayList(scene)
    tester = HitTester(scene, display)
    render_image(display)
    made = 0
    for kind, (outline, box) in list(OUTLINES.items()):

        def counted(values, outline=outline):
            nonlocal made
            made += 1
            return outline(values)

        OUTLINES[kind] = counted, box
    for node in display.order:
        node.kind.outline = OUTLINES[node.shape.kind][0]
    one = next(s for s in scene.walk() if "size" in s.properties)
    for i in range(100):  # moved, painted, hit, measured
        for shape in list(scene.walk())[:20]:
            if "at" in shape.properties and shape.kind != "group":
                shape.at = (i, i)
        display.update()
        render_image(display)
        tester.hit_test(i, i)
    moved, made = made, 0
    for i in range(100):
        one.size = (10 + i, 20)
        display.update()
        render_image(display)
        tester.hit_test(*one.at)
        display.node(one).painted_bounds()
    return Row(
        "outlines built while 20 of 1,000 shapes are moved 100 times; while one size is changed 100 times",
        f"{moved}; {made}",
        "one a change of geometry: 0; 100",
        f"{made / 100:.2f}",
        "1 a change",
    )
