"""Growth of memory: many edits of one scene, many scenes one after another, in processes of their own."""

import subprocess
import sys
import tempfile
from pathlib import Path

from benchmarks.measure import Row

EDITS, SCENES, SHAPES = 5000, 200, 100_000
_HEAD = """
import os, gc
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
from PySide6.QtWidgets import QApplication
from benchmarks.scenes import mixed
from chalcedon.desk.app import open_window, settings
from chalcedon.files import read_scene, scene_bytes
from chalcedon.hit import hit_test
from chalcedon.scene import Circle
def now():
    return int(open("/proc/self/statm").read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
def window_on(scene):
    window = open_window(settings(), "plaster")
    window.session.new(scene)
    window.show()
    for _ in range(50):
        QApplication.processEvents()
    return window
def grown(act, warm, count):
    # MB that acting `count` times leaves, after `warm` times
    def rounds(times):
        for i in range(times):
            act(i)
            if i % 10 == 0:
                QApplication.processEvents()
    rounds(warm)
    before = now()
    rounds(count)
    print(now() - before)
    os._exit(0)
"""
_EDITS = """
window = window_on(mixed(1000, page=(960, 600)))
session = window.session
def edit(i):
    with session.step("Add"):
        session.scene.add(Circle(at=(i % 900, i % 600), radius=4))
    session.undo()
grown(edit, 500, COUNT)
"""
_SCENES = """
window = window_on(mixed(100))
data = scene_bytes(mixed(1000, page=(960, 600)))
def scene(i):
    scene = read_scene(data).scene
    hit_test(scene, 50, 50)
    window.session.new(scene)
grown(scene, 60, COUNT)
"""
_ONE = """
data = scene_bytes(mixed(1000, page=(960, 600)))
before = now()
window = window_on(read_scene(data).scene)
print(now() - before)
os._exit(0)
"""


_SHAPES = """
data = open("FILE", "rb").read()
window = window_on(mixed(100)) if WINDOW else None
import numpy
gc.collect()
before = now()
scene = read_scene(data).scene
if WINDOW:
    window.session.new(scene)
    for i in range(10**6):  # until all is painted and the index stands
        QApplication.processEvents()
        if i > 50 and not window.canvas._idle.isActive():
            break
else:
    display = __import__("chalcedon.evaluate", fromlist=["DisplayList"]).DisplayList(scene)
gc.collect()
print((now() - before) * 1000 / COUNT)
os._exit(0)
"""


def _grown(code):
    done = subprocess.run([sys.executable, "-c", _HEAD + code], capture_output=True, text=True, check=True)
    return float(done.stdout.split()[-1])


def rows():
    one = _grown(_ONE)
    out = []
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "many.chal"  # of a process that ends: what it leaves would be used again
        _grown(f"open({str(file)!r}, 'wb').write(scene_bytes(mixed({SHAPES}, page=(960, 600))))\nprint(0)")
        for what, window, target in (
            (f"a shape of {SHAPES:,}, stated and evaluated", False, "2.5 kB"),
            ("the same with its window", True, "4.5 kB"),
        ):
            code = _SHAPES.replace("COUNT", str(SHAPES)).replace("WINDOW", str(window)).replace("FILE", str(file))
            out.append(Row(f"memory of {what}", f"{_grown(code):.2f} kB", "", "", target))
    for what, code, count in (
        (f"memory that {EDITS:,} edits, each undone, leave at 1,000 shapes", _EDITS, EDITS),
        (f"memory that {SCENES} scenes of 1,000 shapes, one after another, leave", _SCENES, SCENES),
    ):
        grown = _grown(code.replace("COUNT", str(count)))
        out.append(
            Row(what, f"{grown:.0f} MB", f"a window on one such scene {one:.0f} MB", f"{grown / one:.2f}", "ratio 2")
        )
    return out
