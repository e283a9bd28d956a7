"""Questions, lifetimes, endings, and hands that hold something which goes away."""

import json
import os
import signal
import subprocess
import sys

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from chalcedon.desk.app import open_window, settings
from chalcedon.files import open_scene, recovery, save_scene
from chalcedon.scene import Circle, Line, Rect, Scene, Text


@pytest.fixture
def two(tmp_path):
    """Two files: X holds a circle, Y a rect."""
    x, y = tmp_path / "x.chal", tmp_path / "y.chal"
    save_scene(Scene([Circle(id="disc", at=(100, 100))]), x)
    save_scene(Scene([Rect(id="wall")]), y)
    return x, y


def ask_about_unsaved(desk, path):
    """Opens X, changes it, and wants a new scene, which is asked about."""
    desk.w.files.open_path(path)
    desk["disc"].radius = 7
    desk.session.flush()
    desk.w.files.new()


# questions


def test_a_question_goes_with_its_scene(desk, two):
    x, y = two
    desk.w.files.open_path(x)
    desk["disc"].radius = 7
    desk.outside(x, x.read_bytes().replace(b"40", b"41"))
    assert not desk.w.files.save() and desk.w.messages.asking
    desk.session.undo()
    desk.w.files.open_path(y)
    assert not desk.w.messages.asking, "it was about x"
    assert b"41" in x.read_bytes() and "wall" in desk.session.scene


def test_a_question_goes_with_its_reason(desk, two):
    x, _ = two
    ask_about_unsaved(desk, x)
    assert "not saved" in desk.said and desk.w.messages.asking
    desk.session.undo()
    assert not desk.w.messages.asking, "there is nothing to save any more"


def test_questions_wait_in_a_row_and_nothing_said_is_lost(desk):
    m = desk.w.messages
    heard = []
    m.ask("First?", [("Yes", lambda: heard.append(1))])
    m.ask("Second?", [("Yes", lambda: heard.append(2))])
    m.ask("Gone?", [("Yes", lambda: heard.append(3))], stands=lambda: False)
    desk.session.say("The disk is full.", "problem")
    assert m.label.text() == "First?" and "disk is full" in m.aside.text() and m.aside.isVisible()
    desk.answer("Yes")
    assert m.label.text() == "Second?" and m.asking
    desk.answer("Yes")
    assert heard == [1, 2] and m.kind == "problem" and "disk is full" in m.label.text()


def test_what_is_said_stays_at_the_foot_of_a_window_that_is_sized(desk, qtbot):
    m = desk.w.messages
    m.ask("Shall the tide come in?", [("Yes", lambda: None)])
    for size in ((900, 600), (1280, 800), (820, 700)):
        desk.w.resize(*size)
        qtbot.waitUntil(lambda size=size: desk.w.width() == size[0])
        place, host = m.geometry(), m.host.rect()
        assert (place.left(), place.width(), place.bottom()) == (0, host.width(), host.bottom())
        assert 36 <= place.height() <= host.height()


def test_asking_the_same_twice_is_one_question(desk):
    m = desk.w.messages
    dropped = []
    m.ask("Again?", [("Yes", lambda: None)], dropped=lambda: dropped.append(1))
    m.ask("Again?", [("Yes", lambda: None)])
    m.dismiss()
    assert not m.asking and dropped == [1]


def test_a_failed_save_is_said_while_a_question_stands(desk, two):
    x, _ = two
    ask_about_unsaved(desk, x)
    x.unlink()
    x.mkdir()
    desk.w.files.save()
    assert "this is a folder" in desk.w.messages.aside.text()


# the file underneath


def test_a_deleted_file_is_noticed_said_and_asked_about(desk, two):
    x, _ = two
    desk.w.files.open_path(x)
    x.unlink()
    desk.w.files._look()
    assert "was deleted or moved" in desk.said and desk.w.isWindowModified()
    desk.w._sure = False
    desk.w.close()
    assert desk.w.isVisible() and "in no file" in desk.said
    desk.answer("Save")
    assert open_scene(x).scene.equals(desk.session.scene) and not desk.session.unsaved


def test_a_change_of_equal_size_and_time_is_noticed(desk, two):
    x, _ = two
    desk.w.files.open_path(x)
    before = x.stat()
    x.write_bytes(x.read_bytes().replace(b'"radius":40', b'"radius":41'))
    os.utime(x, ns=(before.st_atime_ns, before.st_mtime_ns))
    assert desk.session.document.changed_underneath()
    desk["disc"].radius = 7
    assert not desk.w.files.save() and "changed by another program" in desk.said


def test_a_file_that_was_only_touched_is_the_same(desk, two):
    x, _ = two
    desk.w.files.open_path(x)
    os.utime(x)
    assert not desk.session.document.changed_underneath()


def test_a_changed_file_is_taken_over_in_place(desk, two):
    x, _ = two
    desk.w.files.open_path(x)
    canvas, disc = desk.w.canvas, desk["disc"]
    canvas.repaint()
    canvas.zoom_to(3.0, 100, 100)
    place = canvas.view.zoom, canvas.view.x, canvas.view.y
    desk.session.select([disc])
    disc.radius = 12
    desk.w.files.save()
    desk.outside(x, x.read_bytes().replace(b"12", b"41"))
    desk.w.files._look()
    canvas.repaint()
    assert disc.radius == 41 and desk["disc"] is disc and desk.chosen == ["disc"] and desk.w.ledger.opened is disc
    assert (canvas.view.zoom, canvas.view.x, canvas.view.y) == place and not desk.w.isWindowModified()
    desk.w.run_command("edit.undo")
    assert disc.radius == 12 and desk.w.isWindowModified(), "loading is a step like any other"
    desk.w.run_command("edit.undo")
    assert disc.radius == 40


# ending


def test_a_half_typed_line_is_there_again(desk, two):
    desk.w.newline.entry.setText("circle 1 2")
    desk.w.files.open_path(two[0])
    desk.w.files.new()
    assert desk.w.newline.entry.text() == "circle 1 2"
    desk.w._end()
    again = open_window(desk.w.settings)
    assert again.newline.entry.text() == "circle 1 2"
    again._sure = True
    again.close()


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP, signal.SIGINT])
def test_a_signal_ends_cleanly_and_unsaved_work_is_offered(two, tmp_path, number, qtbot, qapp):
    code = f"""
import os
from PySide6.QtCore import QTimer
from chalcedon.desk import app, window
made = []
real = app.open_window
def opened(*args):
    made.append(real(*args))
    def edit():
        made[0].session.scene["disc"].radius = 77
        print("edited", flush=True)
    QTimer.singleShot(100, edit)
    return made[0]
app.open_window = opened
raise SystemExit(app.run({str(two[0])!r}))
"""
    done = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    assert done.stdout.readline().strip() == "edited"
    done.send_signal(number)
    _, errors = done.communicate(timeout=20)
    assert done.returncode == 0 and "Traceback" not in errors, errors
    (entry,) = recovery.kept()
    assert entry.path == two[0] and entry.open().scene["disc"].radius == 77
    assert b'"radius":40' in two[0].read_bytes(), "the file itself is as it was"
    w = open_window(settings())
    qtbot.addWidget(w, before_close_func=lambda x: setattr(x, "_sure", True))
    w.show()
    w.files.offer_recovered()
    assert "had changes in no file" in w.messages.label.text()
    w.messages._answers[0].click()
    assert w.session.scene["disc"].radius == 77 and w.session.unsaved and w.session.path == two[0]
    w.session.undo()
    assert w.session.scene["disc"].radius == 40 and not w.session.unsaved, "what was done can be taken back"
    w.session.redo()
    assert w.files.save() and not recovery.kept() and b'"radius":77' in two[0].read_bytes()


def test_kept_work_of_a_changed_file_is_not_saved_over_it_unasked(desk, two):
    x, _ = two
    desk.w.files.open_path(x)
    desk["disc"].radius = 7
    desk.w.files.keep_unsaved()
    desk.outside(x, x.read_bytes().replace(b"40", b"41"))
    (entry,) = recovery.kept()
    desk.session.scene.history.mark_saved()
    desk.w.files._recover(entry)
    assert not desk.w.files.save() and "changed by another program" in desk.said
    desk.answer("Save over it")
    assert b'"radius":7' in x.read_bytes() and not recovery.kept()


# lifetimes


def counts(w):
    return len(QApplication.topLevelWidgets()), len(w.findChildren(QPushButton)), len(w.children())


def test_panels_and_menus_come_and_go_without_leaving_anything(desk):
    """200 times, in half of them before the event loop had a turn to delete what is let go."""
    w = desk.w
    w.session.scene.palette = {"tide": "#3e7f8b", "sand": "#dca443"}
    w.session.select([desk["wall"]])

    def round_(turns):
        w.show_palette()
        w.palette_panel.rows["tide"]["chip"].click()
        w.palette_panel.picker.close()
        w.palette_panel.close()
        w.show_reference()
        w.reference_panel.close()
        w._context_menu(w.mapToGlobal(w.rect().center()))
        w.context.close()
        cell, _ = desk.cell("wall", "paint", "fill")
        w.ledger.acts.pick_color(cell)
        w.ledger.acts.picker.close()
        choice, _ = desk.cell("wall", "choice", "anchor")
        w.ledger.acts.activate(choice)
        w.ledger.acts._menu.close()
        w.strip.fill.click()
        w.strip.fill.picker.close()
        w.finder.open("ci")
        w.finder.close_finder()
        w.messages.ask("Sure?", [("Yes", lambda: None), ("No", lambda: None)])
        w.messages.dismiss()
        if turns:
            QApplication.processEvents()
            QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    round_(False)
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    before = counts(w)
    for turns in (False, True):
        for _ in range(100):
            round_(turns)
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    after = counts(w)
    assert after[0] <= before[0] and after[1] <= before[1] and after[2] <= before[2] + 1


def test_the_palette_panel_outlives_its_rows(desk):
    """Rows are made anew by what is done in them."""
    w = desk.w
    w.session.scene.palette = {"tide": "#3e7f8b", "sand": "#dca443"}
    for _ in range(3):
        w.show_palette()
        w.palette_panel.rows["tide"]["name"].setText("night")
        w.palette_panel.rows["tide"]["name"].editingFinished.emit()
        assert set(w.palette_panel.rows) == {"night", "sand"}
        w.palette_panel.rows["night"]["remove"].click()
        w.session.undo()
        w.session.undo()
        w.palette_panel.close()


# what goes away while it is held


def test_a_number_pressed_in_another_row_is_measured_on_its_own_shape(desk):
    desk.session.select([desk["wall"]])
    index = desk.w.ledger.index_of(desk["moon"])
    cell = next(c for c in desk.w.ledger.row_cells(index) if c.name == "radius")
    top = desk.w.ledger.top_of(index) - desk.w.ledger.verticalScrollBar().value()
    from PySide6.QtCore import QPoint

    spot = QPoint(int(cell.x + 4), int(top + 14))
    QTest.mousePress(desk.w.ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)
    desk.w.canvas.repaint()
    assert desk.session.value_focus == (desk["moon"], "radius", ())
    QTest.mouseRelease(desk.w.ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)


def test_a_text_taken_back_while_it_is_written(desk):
    shape = desk.session.scene.add(Text(id="sign", at=(100, 100), content="quay"))
    desk.session.flush()
    desk.w.canvas.write(shape)
    editor = desk.w.canvas.words
    desk.session.undo()
    assert desk.w.canvas.words is None
    editor.setPlainText("gone")
    desk.session.flush()
    assert "sign" not in desk.session.scene


def test_a_shape_taken_back_while_it_is_made(desk):
    desk.w.canvas.set_kind("circle")
    desk.drag((300, 200), (340, 200), release=False)
    made = desk.session.current
    desk.session.undo()
    assert made.scene is None and not desk.w.canvas.tool.dragging
    QTest.mouseRelease(desk.w.canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, desk.spot(340, 200))
    assert [s.id for s in desk.session.scene.walk() if s.kind == "circle"] == ["moon"]


def test_a_scrubbed_number_whose_shape_goes(desk):
    desk.session.select([desk["moon"]])
    _cell, spot = desk.cell("moon", "number", "radius")
    port = desk.w.ledger.viewport()
    desk._drag(port, [spot, spot.__class__(spot.x() + 9, spot.y())], Qt.KeyboardModifier.NoModifier, release=False)
    desk.session.scene.remove(desk["moon"])
    desk.session.flush()
    desk._drag(port, [spot, spot.__class__(spot.x() + 30, spot.y())], Qt.KeyboardModifier.NoModifier)
    assert "moon" not in desk.session.scene


@pytest.mark.parametrize("typed", ["7*", "300abc", "1e99"])
def test_what_is_no_number_leaves_the_value_and_says_why(desk, typed):
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "number", "radius")
    desk.type(typed, desk.w.ledger.editor)
    desk.key(Qt.Key.Key_Return, widget=desk.w.ledger.editor)
    assert desk["moon"].radius == 50 and "The value stays as it was" in desk.said


def test_a_cell_keeps_backslashes_and_line_breaks(desk):
    shape = desk.session.scene.add(Text(id="sign", content="a\\n\nb\t\\"))
    desk.session.flush()
    desk.session.select([shape])
    desk.click_cell("sign", "text", "content")
    desk.type("x", desk.w.ledger.editor)
    desk.key(Qt.Key.Key_Escape, widget=desk.w.ledger.editor)
    assert shape.content == "a\\n\nb\t\\"
    desk.click_cell("sign", "text", "content")
    editor = desk.w.ledger.editor
    editor.end(False)
    desk.type("c", editor)
    desk.key(Qt.Key.Key_Return, widget=editor)
    assert shape.content == "a\\n\nb\t\\c"


def test_long_text_is_not_cut_in_a_cell(desk):
    shape = desk.session.scene.add(Text(id="sign", content="y" * 150_000))
    desk.session.flush()
    desk.session.select([shape])
    cell, _ = desk.cell("sign", "text", "content")
    desk.w.ledger.acts.open_editor(cell)
    assert len(desk.w.ledger.editor.text()) == 150_000
    desk.w.newline.entry.setFocus()
    desk.w.newline.entry.insert("z" * 200_000)
    assert len(desk.w.newline.entry.text()) == desk.w.newline.entry.maxLength()


def test_a_point_more_on_a_line_keeps_selection_and_tool(desk):
    from chalcedon.desk.canvas.editpoints import PointsTool

    desk.w.canvas.edit_points(desk["rope"])
    desk.click(170, 400)
    assert desk.chosen == ["rope"] and desk["rope"].kind == "polyline" and len(desk["rope"].points) == 3
    assert isinstance(desk.w.canvas.tool, PointsTool) and desk.w.canvas.tool.chosen == {(0, 1)}


def test_a_dragged_point_stops_at_the_limit(desk):
    sail = desk["sail"]
    sail.points = [(0, 0), (9.99e8, 0), (0, -90)]
    desk.session.flush()
    desk.session.select([sail])
    for _ in range(3):
        desk.drag_cell("sail", "points", 4000, (1, 0), Qt.KeyboardModifier.ShiftModifier)
        sail.points = [(0, 0), (1e9 - 20, 0), (0, -90)]
        desk.session.flush()
    desk.drag_cell("sail", "points", 4000, (1, 0), Qt.KeyboardModifier.ShiftModifier)
    assert sail.points[1][0] == 1e9


def test_a_power_too_large_is_a_sentence(desk):
    desk.line("circle 999999**64")
    assert "too large" in desk.w.newline.hint.text()


def test_a_chosen_image_that_vanished_or_loops_is_said(desk, tmp_path):
    from chalcedon.scene import Image

    shape = desk.session.scene.add(Image(id="net"))
    desk.session.scene.folder = str(tmp_path)
    loop = tmp_path / "loop.png"
    loop.symlink_to(loop)
    for name in ("gone.png", "loop.png"):
        desk.w.files.show_image(shape, str(tmp_path / name))
        assert "net:" in desk.said
    shape.source = "loop.png"
    desk.session.select([shape])
    desk.w.checking.look()
    assert any(r.what == "no image" for r in desk.session.remarks)


# narrow windows


def test_a_narrow_window_keeps_what_tells_most(desk):
    w = desk.w
    w.resize(800, 560)
    QApplication.processEvents()
    assert w.width() == 800 and w.height() == 560 and w.minimumSizeHint().width() <= 800
    strip = w.strip
    right = max(p.geometry().right() for p in (strip.fit, strip.zoom, strip.more))
    assert right <= strip.width() and strip.more.isVisible()
    strip._fill_more()
    hidden = [a.text() for a in strip.more_menu.actions() if a.text()]
    assert "star" in hidden
    next(a for a in strip.more_menu.actions() if a.text() == "star").trigger()
    assert w.canvas.kind == "star" and strip.buttons["star"].isVisible(), "the one in use is in sight"
    w.split.setSizes([280, 520])
    QApplication.processEvents()
    for id, name in (("moon", "radius"), ("wall", "size"), ("rope", "to")):
        cells = w.ledger.row_cells(w.ledger.index_of(desk[id]))
        assert any(c.role == "number" and c.name == name and c.y == 0 for c in cells), id
    assert json.dumps(w.hint.text()) and w.hint.width() < 560


def test_a_window_too_large_for_the_screen_is_fitted(desk):
    w = desk.w
    free = w.screen().availableGeometry()
    w.resize(free.width() + 500, free.height() + 300)
    w.move(free.left() - 50, free.top() + 40)
    w.fit_on_screen()
    assert w.frameGeometry().width() <= free.width() and w.frameGeometry().height() <= free.height()
    assert free.contains(w.frameGeometry().topLeft())
    w.setMinimumSize(1, 1)
    w.resize(free.width() - 60, free.height() - 40)
    for dx, dy in ((-500, 30), (500, 900), (20, 10)):
        w.move(free.left() + dx, free.top() + dy)
        w.fit_on_screen()
        frame = w.frameGeometry()
        assert frame.left() == free.left() + min(max(dx, 0), free.width() - frame.width())
        assert frame.top() == free.top() + min(max(dy, 0), free.height() - frame.height())


def test_lines_are_measured_in_their_own_space(desk):
    """A focus that no longer fits the shape measures nothing instead of failing."""
    from chalcedon.desk.canvas.measure import measure

    line = desk.session.scene.add(Line(id="mast", at=(10, 10)))
    desk.session.flush()
    node = desk.session.node(line)
    for name, path in (("radius", ()), ("points", (3, 0)), ("steps", (0, 0)), ("to", (7,)), ("corners", (2,))):
        assert measure(node, name, path) is None
