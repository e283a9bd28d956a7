"""Many shapes in hand: all of 10,000 selected and moved, snapping, the hit map, Where is it?"""

import statistics

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from benchmarks.desk import PAGE, blit, move, window_on
from benchmarks.measure import Row, show, timed
from benchmarks.scenes import mixed
from chalcedon.craft.snap import Snapper
from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.hit.tester import HitTester
from chalcedon.hit.where import where
from chalcedon.painter.hitmap import HitMap

COUNT = 10_000


def rows():
    blit_time = blit()
    selecting, dragging, painting = all_in_hand()
    point, box = snapping()
    mapped, painted, looked = seen()
    return [
        _row("all of 10,000 selected, with their box", selecting, "one blit", blit_time, "30 ms"),
        _row("a frame of moving them all", dragging, "all painted anew", painting, "16 ms more"),
        _row("a point snaps at 10,000 shapes", point, "one blit", blit_time, "1 ms"),
        _row("a moved box snaps at 10,000 shapes", box, "one blit", blit_time, "1 ms"),
        _row("hit map of 960 x 600 px at 10,000 shapes", mapped, "the page painted", painted, "250 ms"),
        _row("Where is it? for one of 10,000", looked, "one blit", blit_time, "100 ms"),
    ]


def _row(what, ours, name, reference, target):
    return Row(what, show(ours), f"{name} {show(reference)}", f"{ours / reference:.1f}", target)


def all_in_hand():
    """Selecting all to the frame that shows it; a frame of moving them, and of painting as much."""
    window = window_on(mixed(COUNT, page=PAGE))
    session, canvas = window.session, window.canvas
    shapes = list(session.scene.shapes)
    selecting = []
    for _ in range(7):
        session.select([])
        QApplication.sendPostedEvents()
        selecting.append(timed(lambda: (session.select(shapes), QApplication.sendPostedEvents())))
    x, y = canvas.view.to_widget(*session.node(shapes[0]).world.map(0, 0))
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(x), round(y)))
    dragging = []
    for i in range(7):
        dragging.append(timed(lambda i=i: (move(canvas, x + 5 + 3 * i, y), QApplication.sendPostedEvents())))
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton)
    painting = []
    for _ in range(5):
        canvas.tiles.forget()
        painting.append(timed(lambda: canvas.tiles.refine(canvas.view, canvas.width(), canvas.height(), 60.0)))
    window.close()
    return statistics.median(selecting), statistics.median(dragging[1:]), statistics.median(painting)


def snapping():
    snapper = Snapper(DisplayList(mixed(COUNT, page=PAGE)))
    spots = [(100 + i * 3.3, 100 + i * 1.7) for i in range(200)]
    point = statistics.median(timed(lambda s=s: snapper.point(*s, 7)) for s in spots)
    box = statistics.median(timed(lambda s=s: snapper.box((*s, s[0] + 20, s[1] + 20), 7)) for s in spots)
    return point, box


def seen():
    scene = mixed(COUNT, page=PAGE)
    tester = HitTester(scene)
    tester.display.update()
    tester.index.settle(60.0)

    def hit_map():
        made = HitMap(tester.display, Affine(), *PAGE)
        made.work(60)
        made.tinted()
        made.unreached()

    from chalcedon.painter.render import render_image

    hit_map()
    mapped = statistics.median(timed(hit_map) for _ in range(5))
    painted = statistics.median(timed(lambda: render_image(tester.display)) for _ in range(5))
    looked = statistics.median(timed(lambda s=s: where(tester, s)) for s in scene.shapes[::500])
    return mapped, painted, looked
