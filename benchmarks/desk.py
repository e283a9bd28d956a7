"""The window: dragging one shape, frames while panning and zooming, the longest freeze, start-up."""

import os
import statistics
import subprocess
import sys
import tempfile
import time

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QImage, QMouseEvent, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from benchmarks.measure import Row, show, timed
from benchmarks.scenes import mixed
from chalcedon.desk.app import open_window, settings
from chalcedon.scene import Group

PAGE = (960, 600)


def window_on(scene):
    window = open_window(settings(), "plaster")
    window.session.new(scene)
    window._sure = True
    window.resize(1280, 800)
    window.show()
    QTest.qWait(100)
    end = time.perf_counter() + 60
    while window.canvas._idle.isActive() and time.perf_counter() < end:
        QApplication.processEvents()
    return window


def move(canvas, x, y, buttons=Qt.MouseButton.LeftButton):
    spot = QPointF(x, y)
    QApplication.sendEvent(
        canvas,
        QMouseEvent(
            QEvent.Type.MouseMove,
            spot,
            QPointF(canvas.mapToGlobal(QPoint(int(x), int(y)))),
            Qt.MouseButton.NoButton,
            buttons,
            Qt.KeyboardModifier.NoModifier,
        ),
    )


class Clock:
    """How long the parts of a frame take: evaluating, painting the picture, and the lists beside it."""

    def __init__(self, window):
        self.spent = {"evaluate": [], "picture": [], "lists": [], "between": []}
        self.inside = True
        """Whether a frame is under way; what the lists take between two of them counts for itself."""
        self._wrap(window.session.document.display, "settle", "evaluate")
        self._wrap(window.ledger, "lay_open", "lists")
        self._wrap(window.canvas, "paintEvent", "picture")
        self._wrap(window.ledger, "paintEvent", "lists")
        self._wrap(window.probe, "paintEvent", "lists")

    def _wrap(self, owner, name, part):
        method = getattr(owner, name)

        def timed_method(*args):
            start = time.perf_counter()
            try:
                return method(*args)
            finally:
                if self.inside or part == "lists":
                    name = part if self.inside else "between"
                    self.spent[name][-1] += time.perf_counter() - start

        setattr(owner, name, timed_method)

    def frame(self):
        for part in self.spent.values():
            part.append(0.0)

    def means(self):
        """Not medians: the lists are painted in some frames only."""
        return {name: statistics.mean(part[20:]) for name, part in self.spent.items()}


def drag(count):
    """From the pointer event to the frame that shows it, everything in the window painted that has to be; and the
    parts of it, which are means. Frames come as on a screen of 60 Hz, since the lists follow so many times a second."""
    scene = mixed(count, page=PAGE)
    window = window_on(scene)
    canvas = window.canvas
    shape = scene.shapes[count // 2]
    x, y = canvas.view.to_widget(480, 300)
    shape.at = (480, 300)
    window.session.flush()
    window.session.select([shape])
    QTest.qWait(200)
    canvas.tool._hit = shape
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(x), round(y)))
    if window.session.current is not shape:
        window.session.select([shape])
    times, clock = [], Clock(window)
    for i in range(160):
        clock.frame()
        clock.inside = True
        start = time.perf_counter()
        move(canvas, x + 4 + i, y + (i % 40))
        QApplication.sendPostedEvents()  # paints every part that asked for it, as the event loop would
        times.append(time.perf_counter() - start)
        clock.inside = False
        while time.perf_counter() < start + 1 / 60:
            QApplication.processEvents()
    assert shape.at != (480, 300), "the drag moved nothing"
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton)
    window.close()
    parts = clock.means()
    between = parts.pop("between")
    parts["rest"] = statistics.mean(times[20:]) - sum(parts.values())
    parts["lists"] += between
    times = sorted(times[20:])
    return times[len(times) // 2], times[int(len(times) * 0.95)], parts


def acts():
    """Selecting, a group's opacity, duplicating and undoing, each to the frame that shows it."""

    def median(act, count):
        times = []
        for i in range(count):
            times.append(timed(lambda i=i: (act(i), QApplication.sendPostedEvents())))
            QApplication.processEvents()
        return statistics.median(times)

    window = window_on(mixed(10_000, page=PAGE))
    session = window.session
    shapes = list(session.scene.shapes)
    selecting = median(lambda i: session.select([shapes[i * 37 % 10_000]]), 30)
    group = session.scene.add(Group())
    with session.step("Group"):
        for shape in shapes[:3]:
            session.scene.move(shape, group, 0)
    session.select([])
    opacity = median(lambda i: (setattr(group, "opacity", 0.3 + 0.01 * i), session.flush()), 30)
    moving = median(lambda i: (setattr(group, "at", (i, i)), session.flush()), 30)
    window.close()
    window = window_on(mixed(100_000, page=PAGE))
    window.session.select([window.session.scene.shapes[50_000]])
    duplicating = median(lambda i: window.run_command("edit.duplicate"), 9)
    undoing = median(lambda i: window.run_command("edit.undo"), 9)
    window.close()
    return selecting, opacity, moving, duplicating, undoing


def blit():
    """The bare limit of a frame: one opaque picture of the canvas's size shown."""
    source, target = (QImage(816, 590, QImage.Format.Format_ARGB32_Premultiplied) for _ in range(2))
    source.fill(0xFF336699)

    def act():
        painter = QPainter(target)
        painter.drawImage(0, 0, source)
        painter.end()

    return statistics.median(timed(act) for _ in range(50))


def view():
    """The longest time that the window did not answer while panning and zooming 10,000 shapes."""
    window = window_on(mixed(10_000, page=PAGE))
    canvas = window.canvas
    frames, longest = [], 0.0
    for i in range(60):
        start = time.perf_counter()
        if i % 2:
            canvas.pan(-7, 5)
        else:
            canvas.zoom_to(canvas.view.zoom * (1.1 if i % 20 < 10 else 0.9), 300, 300)
        canvas.repaint()
        frames.append(time.perf_counter() - start)
        for _ in range(3):
            longest = max(longest, timed(QApplication.processEvents))
    window.close()
    return statistics.median(frames), max(*frames, longest)


START = """
import time, sys, os
begin = time.time() - {spawn}
from chalcedon.desk.app import open_window, settings, make_app
from pathlib import Path
app = make_app()
window = open_window(settings())
window.files.open_path(Path("demo/harbour.chal"))
window.show()
while window.canvas._first:
    app.processEvents()
window._sure = True
print(time.time())
window.close()
"""


def start_up():
    times = []
    for _ in range(7):
        begin = time.time()
        done = subprocess.run([sys.executable, "-c", START.format(spawn=0)], capture_output=True, text=True, check=True)
        times.append(float(done.stdout) - begin)
    bare = []
    code = (
        "import time\nfrom PySide6.QtWidgets import QApplication, QWidget\na = QApplication([])\nw = QWidget()\n"
        "w.show()\na.processEvents()\nprint(time.time())"
    )
    for _ in range(7):
        begin = time.time()
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        bare.append(float(done.stdout) - begin)
    return statistics.median(times), statistics.median(bare)


def rows():
    os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = tempfile.mkdtemp()
    out = []
    limit = blit()
    small, p95, parts = drag(10_000)
    out.append(
        Row(
            "drag one among 10,000: event to frame",
            f"{show(small)}, p95 {show(p95)}",
            f"one blit {show(limit)}",
            f"{small / limit:.1f}",
            "6 ms, p95 12 ms",
        )
    )
    beside = sum(parts.values()) - parts["picture"]
    out.append(
        Row(
            "in a mean frame: evaluating, the picture, lists (also between frames), the rest",
            ", ".join(show(v) for v in parts.values()),
            f"one blit {show(limit)}",
            f"{beside / limit:.1f} beside the picture",
            "half of 4.4 ms, where the blit takes 171 µs",
        )
    )
    large, p95, _parts = drag(100_000)
    out.append(
        Row(
            "drag one among 100,000",
            f"{show(large)}, p95 {show(p95)}",
            f"the same among 10,000 {show(small)}",
            f"{large / small:.2f}",
            "1.5",
        )
    )
    median, longest = view()
    out.append(Row("pan and zoom 10,000: frame", show(median), f"one blit {show(limit)}", f"{median / limit:.1f}", ""))
    out.append(Row("longest freeze while panning and zooming", show(longest), "", "", "50 ms"))
    selecting, opacity, moving, duplicating, undoing = acts()
    out += [
        Row(
            "a shape of 10,000 selected",
            show(selecting),
            f"one blit {show(limit)}",
            f"{selecting / limit:.1f}",
            "15 ms",
        ),
        Row(
            "a group's opacity at 10,000 shapes",
            show(opacity),
            f"it is moved {show(moving)}",
            f"{opacity / moving:.2f}",
            "1",
        ),
        Row(
            "one of 100,000 duplicated",
            show(duplicating),
            f"one blit {show(limit)}",
            f"{duplicating / limit:.1f}",
            "30 ms",
        ),
        Row("and that taken back", show(undoing), f"one blit {show(limit)}", f"{undoing / limit:.1f}", "30 ms"),
    ]
    ours, bare = start_up()
    out.append(
        Row(
            "start to first painted frame, harbour",
            show(ours),
            f"an empty Qt window {show(bare)}",
            f"{ours / bare:.2f}",
            "700 ms",
        )
    )
    return out
