"""Hit tests, files and painting."""

import os
import random
import tempfile
from functools import partial
from pathlib import Path

import numpy as np
import orjson
from PySide6.QtGui import QColor, QImage, QPainter, QTransform

from benchmarks.measure import Row, each, interleaved, show
from benchmarks.scenes import mixed
from chalcedon.evaluate import DisplayList
from chalcedon.files import read_scene, save_scene, scene_bytes
from chalcedon.hit import HitTester
from chalcedon.painter import render_image
from chalcedon.painter.convert import prepared
from chalcedon.painter.job import FORMAT


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
            "180 ms",
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
            "80 ms",
        )
    )
    return rows
