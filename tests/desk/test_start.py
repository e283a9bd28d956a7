"""Starting the desk as a person does, and the colour picker from the keyboard."""

import json
import subprocess
import sys

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from chalcedon.desk.panels.strip import KEYS
from chalcedon.desk.picker.colorpicker import ColorPicker
from chalcedon.files import save_scene
from chalcedon.scene import Circle, Scene
from chalcedon.scene.shapes import MADE

Key, Mod = Qt.Key, Qt.KeyboardModifier


LOOK = """
import json, sys
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from chalcedon.desk import app

def look():
    window = next(w for w in QApplication.topLevelWidgets() if type(w).__name__ == "Window" and w.isVisible())
    window.canvas.repaint()
    print(json.dumps({"title": window.session.title, "count": len(window.session.scene),
                      "shelf": window.shelving.shown,
                      "said": window.messages.label.text(), "focus": window.focusWidget() is window.canvas}))
    window._sure = True
    window.close()

app.make_app()
QTimer.singleShot(400, look)
sys.exit(app.run(sys.argv[1] if len(sys.argv) > 1 else None))
"""


def started(file=None):
    """Runs the desk in a process of its own until it is idle; returns what its window showed."""
    done = subprocess.run(
        [sys.executable, "-c", LOOK, *([file] if file else [])], capture_output=True, text=True, timeout=60
    )
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


def test_the_first_start_shows_the_demo_and_the_next_the_shelf(tmp_path):
    first = started()
    assert (first["title"], first["count"]) == ("harbour", 61) and first["focus"]
    second = started()
    assert second["count"] == 0 and second["shelf"] and not first["shelf"]
    path = tmp_path / "night.chal"
    save_scene(Scene([Circle(), Circle()]), path)
    third = started(str(path))
    assert (third["title"], third["count"]) == ("night", 2)
    missing = started(str(tmp_path / "none.chal"))
    assert missing["count"] == 0 and "there is no such file" in missing["said"]


def test_without_a_display_the_desk_says_what_works():
    env = {"PATH": "/usr/bin:/bin", "HOME": "/nonexistent"}
    done = subprocess.run([sys.executable, "-m", "chalcedon", "a.chal"], capture_output=True, text=True, env=env)
    assert done.returncode == 2 and "no display" in done.stderr and "Traceback" not in done.stderr


def test_a_strip_button_for_each_kind_with_its_key(desk):
    for kind in MADE:
        desk.key(getattr(Key, f"Key_{KEYS[kind]}"), widget=desk.w.canvas)
        assert desk.w.canvas.kind == kind and desk.w.strip.buttons[kind].isChecked()
        assert KEYS[kind] in desk.w.strip.buttons[kind].toolTip()
        assert desk.w.hint.text() == desk.w.canvas.tool.hint
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk.w.canvas.kind == "" and desk.w.strip.buttons[""].isChecked()


def test_a_kind_locked_on_makes_several(desk):
    button = desk.w.strip.buttons["circle"]
    QTest.mouseDClick(button, Qt.MouseButton.LeftButton)
    for x in (500, 600):
        desk.drag((x, 400), (x + 5, 400), (x + 20, 400))
    assert desk.w.canvas.kind == "circle" and {"circle", "circle_2"} <= set(desk.order)
    desk.key(Key.Key_V, widget=desk.w.canvas)
    assert desk.w.canvas.kind == ""


def test_the_next_shape_wears_the_paint_that_is_shown(desk):
    desk.w.strip.fill._pick()
    picker = desk.w.strip.fill.picker
    picker._swatch("#f1e4bd")
    picker.close()
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((500, 400), (510, 410), (540, 430))
    assert desk["rect"].fill == "#f1e4bd" and desk["rect"].stroke is None
    desk.session.select([desk["rope"]])
    assert desk.session.next_fill == "#f1e4bd", "never changed by a selection"
    desk.w.run_command("shape.pick")
    assert desk.session.next_stroke == "#ffffff" and desk.session.next_width == 6


def test_the_picker_from_the_keyboard(desk):
    picked = []
    scene = Scene([Circle(fill="linen")])
    picker = ColorPicker(desk.w, scene, "#804020", "fill of moon")
    picker.picked.connect(picked.append)
    picker.open_at(QPoint(0, 0))
    for bar, key in (
        (picker.fields.plane, Key.Key_Right),
        (picker.fields.plane, Key.Key_Up),
        (picker.fields.hues, Key.Key_Right),
        (picker.fields.alphas, Key.Key_Left),
    ):
        bar.setFocus()
        QTest.keyClick(bar, key)
    assert len(picked) == 4 and len(set(picked)) == 4 and all(p.startswith("#") for p in picked)
    assert len(picked[-1]) == 9, "with alpha"
    picker.text.setText("")
    QTest.keyClicks(picker.text, "none")
    assert picked[-1] is None
    QTest.keyClick(picker.text, Key.Key_Return)
    assert not picker.isVisible()
