"""Scenes that live: formulas worked out, a step of the harbour, pointers over many shapes, noise."""

import random
import statistics

import numpy as np

from benchmarks.measure import Row, show, timed
from chalcedon.demos import demo_scene
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.formula.noisecolumns import noise_column
from chalcedon.live import Live
from chalcedon.scene import Circle, Rect, Scene, Star

COUNT = 10_000


def rows():
    own, alike, places, bare = many()
    step = harbour()
    moved, scan = pointers()
    places_of_noise = np.arange(3000) * 0.37
    noise = median(lambda: noise_column(0, places_of_noise, 0.5, 0.2), 9)
    few, few_bare = moving(1000, 16)
    many_, many_bare = moving(COUNT, 1)
    name = "calls of as many plain functions"
    return [
        _row("10,000 formulas of their own worked out", own, name, bare, "10 ms"),
        _row("10,000 formulas alike worked out", alike, name, bare, "3 ms"),
        _row("the same with what hangs on them: places, boxes", places, name, bare, ""),
        _row("a step of the harbour alive, painting left out", step, name, bare, "8 ms"),
        _row("1,000 pointer moves over 10,000 shapes", moved, "a scan of their boxes for one", scan, "1 s"),
        _row("3,000 points of noise in columns", noise, name, bare, "1 ms"),
        _row("a frame of 1,000 circles and stars that move", few, "the same QPainter calls alone", few_bare, "0.35"),
        _row("a frame of 10,000 of one look that move", many_, "the same QPainter calls alone", many_bare, "0.2"),
    ]


def _row(what, ours, name, reference, target):
    return Row(what, show(ours), f"{name} {show(reference)}", f"{ours / reference:.2f}", target)


def median(act, times):
    return statistics.median(timed(act) for _ in range(times))


def many():
    """All cells worked out, without and with the places of their shapes; and a call each of as many functions."""
    out = []
    for texts in (
        [f"{'abs(' * (i % 4)}time * {i} + {i % 7}{')' * (i % 4)}" for i in range(COUNT)],
        ["time * 3 + 1"] * COUNT,
    ):
        scene = Scene([Circle(at=(Formula(t), 5), radius=3) for t in texts])
        display = DisplayList(scene)
        frames = iter(range(1, 1000))

        def work(display=display, frames=frames):
            frame = next(frames)
            display.moment = display.moment._replace(time=frame / 60, frame=frame)
            display.formulas.touched([("time",)])
            display.formulas.work_out(lambda: False, lambda cells, column=None: None)

        out.append(median(work, 7))

        def whole(display=display, frames=frames):
            frame = next(frames)
            display.to(display.moment._replace(time=frame / 60, frame=frame))
            display.update()

        places = median(whole, 5)
    functions = [eval(f"lambda t: t * {i} + {i % 7}") for i in range(COUNT)]
    bare = median(lambda: [f(0.5) for f in functions], 7)
    return (*out, places, bare)


def harbour():
    live = Live(demo_scene("harbour"))
    frames = iter(range(10_000))

    def step():
        live.pointer_move(300 + next(frames) % 400, 300)
        live.advance()

    for _ in range(60):
        step()
    return median(step, 60)


def moving(count, looks):
    """A frame of a scene that lives in a window of its own, formulas and all, after a second of it; and the painting of
    what moves by bare calls. Between every five that move stands one that is still."""
    from PySide6.QtGui import QImage, QPainter, QTransform
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from chalcedon.desk.live.playwindow import PlayWindow
    from chalcedon.painter.convert import prepared

    chance = random.Random(3)
    colors = [f"#{chance.randrange(1 << 24):06x}" for _ in range(max(1, looks // 2))]
    shapes = []
    for i in range(count):
        x, y, p, q = (chance.uniform(*limits) for limits in ((80, 880), (60, 540), (2, 5), (2, 5)))
        at = Formula(f"{x:.2f} + wave({p:.2f}, -60, 60)"), Formula(f"{y:.2f} + wave({q:.2f}, -40, 40)")
        look = {"fill": colors[i % len(colors)], "stroke": "#22292e", "stroke_width": 1.5}
        star = looks > 1 and i % 2
        shapes.append(Star(at=at, outer=20, inner=9, tips=5, **look) if star else Circle(at=at, radius=20, **look))
        if i % 5 == 0 and count <= 1000:
            shapes.append(Rect(at=(x, y), size=(40, 30), fill="#7fa3b8", stroke="#22292e"))
    window = PlayWindow(Scene(shapes, size=(960, 600)), "moving")
    window.resize(960, 600)
    window.player._timer.stop()
    QTest.qWaitForWindowExposed(window)
    QApplication.processEvents()

    def frame():
        painted = window.tiles.painted
        window.player.live.advance()
        window.repaint()
        while window._stale:
            window._stale = False
            window.repaint()
        assert window.tiles.painted - painted >= count * 0.9, "the frame was painted"

    for _ in range(60 if count <= 1000 else 20):
        frame()
    whole = median(frame, 15 if count <= 1000 else 5)
    image, matrix = QImage(960, 600, QImage.Format.Format_RGB32), QTransform()
    nodes = [n for n in window.display.order if n.shape._formulas]

    def bare():
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for node in nodes:
            ready, (a, b, c, d, e, f) = prepared(node), node.world
            matrix.setMatrix(a, b, 0, c, d, 0, e, f, 1)
            painter.setTransform(matrix)
            painter.setPen(ready.pen)
            painter.setBrush(ready.brush)
            painter.drawPath(ready.path)
        painter.end()

    alone = median(bare, 5 if count <= 1000 else 3)
    window.close()
    return whole, alone


def pointers():
    scene = Scene([Circle(at=(i % 100 * 9.6, i // 100 * 6), radius=5) for i in range(COUNT)])
    live = Live(scene)
    live.advance()
    boxes = [n.cull for n in live.display.order]

    def second():
        for i in range(60):
            for k in range(17):
                live.pointer_move((i * 17 + k) * 0.9 % 960, (i * 7 + k) % 600)
            live.advance()

    scan = median(lambda: [b for b in boxes if b[0] <= 400 <= b[2] and b[1] <= 300 <= b[3]], 7)
    return median(second, 3), scan
