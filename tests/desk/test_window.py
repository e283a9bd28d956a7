"""The window: new line, commands, finder, clipboard, files and what goes wrong with them."""

import os

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QFileDialog, QPushButton

from chalcedon.desk.commands import COMMANDS
from chalcedon.files import open_scene, save_scene
from chalcedon.scene import Circle, Scene

Key, Mod = Qt.Key, Qt.KeyboardModifier


def test_new_line_adds_in_front_of_the_row_that_was_chosen(desk):
    desk.session.select([desk["hull"]], place=True)
    desk.line("circle 10 10 5 fill linen")
    assert desk.order == ["sky", "wall", "boat", "hull", "circle", "sail", "moon", "rope"]
    assert desk.chosen == ["circle"] and desk["circle"].fill == "linen"
    desk.session.set_next("fill", "#123456")
    desk.line("lamp = rect 0 0 5 5")
    assert desk["lamp"].fill == "#123456", "wears the next shape's paint"
    desk.line("circle 1 2")
    assert "circle_2" in desk.session.scene
    desk.line("circle 1 2 -4")
    assert "is negative" in desk.w.newline.hint.text() and desk.w.newline.entry.text() == "circle 1 2 -4"


def test_new_line_completes_and_hints(desk):
    line = desk.w.newline
    line.entry.setFocus()
    desk.type("ci", line.entry)
    assert line.list.isVisible() and line.list.item(0).text() == "circle"
    desk.key(Key.Key_Tab, widget=line.entry)
    assert line.entry.text() == "circle "
    desk.type("10 20 ", line.entry)
    assert "radius" in line.hint_title.text() and "centre to edge" in line.hint.text()
    desk.type("30 ro", line.entry)
    desk.key(Key.Key_Down, widget=line.entry)
    desk.key(Key.Key_Return, widget=line.entry)
    assert line.entry.text() == "circle 10 20 30 rotate "
    desk.type("15", line.entry)
    desk.key(Key.Key_Return, widget=line.entry)
    assert desk["circle"].steps[0].values == (15,)
    desk.key(Key.Key_Up, widget=line.entry)
    assert line.entry.text() == "circle 10 20 30 rotate 15", "earlier lines come back"


def test_duplicate_repeats_the_last_offset(desk):
    desk.session.select([desk["moon"]])
    desk.w.run_command("edit.duplicate")
    assert desk["moon_2"].at == (616, 116)
    desk.drag((616, 116), (606, 130), (556, 186))
    assert desk["moon_2"].at == (556, 186)
    desk.w.run_command("edit.duplicate")
    assert desk["moon_3"].at == (512, 272), "as far again as the first copy came to lie"
    assert desk.order.index("moon_3") == desk.order.index("moon") + 2


def test_undo_goes_back_to_what_was_selected_when_nothing_of_its_step_is_left(desk):
    desk.session.select([desk["hull"], desk["moon"]])
    desk.w.run_command("edit.duplicate")
    assert desk.chosen == ["hull_2", "moon_2"]
    desk.w.run_command("edit.duplicate")
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["hull_2", "moon_2"]
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["hull", "moon"]
    desk.w.run_command("edit.redo")
    assert desk.chosen == ["hull_2", "moon_2"], "what came again"
    desk.w.run_command("edit.undo")
    desk.session.select([])
    desk.w.run_command("edit.redo")
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["hull", "moon"], "as before the step was done first"


def test_copy_cut_paste_go_through_text(desk):
    desk.session.select([desk["boat"]])
    desk.w.run_command("edit.copy")
    text = QGuiApplication.clipboard().text()
    assert text.startswith("group(id='boat', at=(400, 300), children=[")
    desk.w.run_command("edit.paste")
    assert [s.id for s in desk["boat_2"].walk()] == ["boat_2", "hull_2", "sail_2"]
    desk.w.run_command("edit.cut")
    assert "boat_2" not in desk.session.scene and desk.session.scene.undo_name == "Cut boat_2"
    QGuiApplication.clipboard().setText("circle 5 5 5\nrect 1 1 2 2")
    desk.w.run_command("edit.paste")
    assert desk.chosen == ["circle", "rect"]
    QGuiApplication.clipboard().setText("dear harbour master")
    desk.w.run_command("edit.paste")
    assert "not a shape" in desk.said


def test_group_ungroup_delete(desk):
    desk.session.select([desk["wall"], desk["moon"]])
    desk.w.run_command("shape.group")
    assert desk.chosen == ["group"] and [s.id for s in desk["group"].children] == ["wall", "moon"]
    desk.w.run_command("shape.ungroup")
    assert desk.chosen == ["wall", "moon"] and "group" not in desk.session.scene
    desk.w.run_command("edit.delete")
    assert "moon" not in desk.session.scene and desk.session.scene.undo_name == "Delete 2 shapes"
    desk.session.select([])
    desk.w.run_command("edit.delete")
    assert "nothing is selected" in desk.said
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["wall", "moon"], "what came back is selected, so that it is seen"


def test_find_anything(desk):
    desk.key(Key.Key_K, Mod.ControlModifier, widget=desk.w.canvas)
    finder = desk.w.finder
    assert finder.isVisible()
    desk.type("sail", finder.entry)
    desk.key(Key.Key_Return, widget=finder.entry)
    assert desk.chosen == ["sail"] and not finder.isVisible()
    finder.open()
    desk.type("zoom 100", finder.entry)
    desk.key(Key.Key_Return, widget=finder.entry)
    assert desk.w.canvas.view.zoom == 1.0
    finder.open()
    desk.type("opacity of", finder.entry)
    desk.key(Key.Key_Return, widget=finder.entry)
    assert desk.w.ledger.focus_key[1] == "opacity"
    finder.open()
    desk.type("xyzzy", finder.entry)
    assert finder.list.item(0).text() == "Nothing has that name."
    desk.key(Key.Key_Escape, widget=finder.entry)


def test_every_command_runs_or_says_why_not(desk, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: ("", ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    keys = [k for c in COMMANDS for k in c.keys]
    assert len(keys) == len(set(keys)), "no shortcut twice"
    titles = [c.title(desk.w).strip() for c in COMMANDS]
    assert len(titles) == len(set(titles)) and all(titles)
    for chosen in ([], ["boat"], ["wall", "moon"]):
        for command in COMMANDS:
            if command.name == "file.quit":
                continue
            desk.w.messages.dismiss()
            desk.session.select(desk[i] for i in chosen if i in desk.session.scene)
            possible = command.when is None or command.when(desk.w)
            desk.w.run_command(command.name)
            assert possible or desk.said, command.name
            desk.w.finder.hide()
    desk.w.set_theme("plaster")


def test_open_save_and_reload(desk, tmp_path, monkeypatch):
    path = tmp_path / "a"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    desk.session.select([desk["moon"]])
    desk.drag_cell("moon", "radius", 8)
    assert desk.w.isWindowModified()
    desk.key(Key.Key_S, Mod.ControlModifier, widget=desk.w.canvas)
    saved = tmp_path / "a.chal"
    assert open_scene(saved).scene.equals(desk.session.scene) and not desk.w.isWindowModified()
    desk.w.run_command("edit.undo")
    assert desk.w.isWindowModified()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(saved), ""))
    desk.w.run_command("file.open")
    answers = {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}
    assert "not saved" in desk.said and set(answers) == {"Save", "Discard them", "Stay here"}
    answers["Discard them"].click()
    assert desk["moon"].radius == 58 and desk.w.files.recent_files.there() == [str(saved)]


def test_an_ending_that_is_added_replaces_nothing_unasked(desk, tmp_path, monkeypatch):
    there = tmp_path / "b.chal"
    there.write_text("precious")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "b"), ""))
    assert not desk.w.files.save_as() and "exists already" in desk.said and there.read_text() == "precious"
    answers = {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}
    desk.key(Key.Key_Escape, widget=answers["Stay here"])
    assert desk.said == "" and desk.w.focusWidget() is desk.w.canvas, "Escape answers nothing, and the keyboard goes on"
    desk.w.files.save_as()
    {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}["Replace it"].click()
    assert open_scene(there).scene.equals(desk.session.scene)
    assert (tmp_path / "b.chal~").read_text() == "precious"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    desk["moon"].radius = 7
    desk.session.flush()
    assert desk.w.files.save_as() is False and desk.w.isWindowModified(), "no name is chosen"


def test_a_damaged_file_leaves_the_open_scene(desk, tmp_path):
    path = tmp_path / "a.chal"
    before = desk.session.scene
    for data, text in ((b'{"chalcedon": 1, "shapes": [', "cut off"), (b"hello", "not valid JSON"), (b"\xff", "UTF-8")):
        path.write_bytes(data)
        assert not desk.w.files.open_path(path)
        assert text in desk.said and desk.session.scene is before
    path.write_text('{"chalcedon": 1,\n"shapes": [\n{"kind":"circle","id":"c","radius":"x"}]}')
    assert desk.w.files.open_path(path)
    assert desk.said.startswith("Opened, with things to look at:\nLine 3, c.radius: ") and desk["c"].radius == 40


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write anywhere")
def test_a_folder_that_may_not_be_written(desk, tmp_path):
    tmp_path.chmod(0o500)
    assert not desk.w.files._save(tmp_path / "a.chal")
    assert "may not be written" in desk.said
    tmp_path.chmod(0o700)


def test_a_full_disk_loses_nothing(desk, tmp_path, monkeypatch):
    desk.line("circle 1 2 3")

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    assert not desk.w.files._save(tmp_path / "a.chal")
    assert "the disk is full" in desk.said and desk.w.isWindowModified() and "circle" in desk.session.scene


def test_a_file_changed_underneath(desk, tmp_path, qtbot):
    path = tmp_path / "a.chal"
    save_scene(Scene([Circle(id="c", radius=1)]), path)
    desk.w.files.open_path(path)
    desk.session.select([desk["c"]])
    save_scene(Scene([Circle(id="c", radius=22)]), path)
    qtbot.waitUntil(lambda: desk["c"].radius == 22, timeout=15000)
    assert desk.chosen == ["c"], "nothing of ours was lost, so it is loaded"
    desk["c"].radius = 5
    desk.session.flush()
    save_scene(Scene([Circle(id="c", radius=33)]), path)
    qtbot.waitUntil(lambda: "changes of your own" in desk.said, timeout=15000)
    {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}["Keep mine"].click()
    assert not desk.w.files.save() and "changed by another program" in desk.said
    assert open_scene(path).scene["c"].radius == 33
    {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}["Save over it"].click()
    assert open_scene(path).scene["c"].radius == 5


def test_changes_of_ones_own_taken_back_let_the_other_version_in(desk, tmp_path, qtbot):
    path = tmp_path / "a.chal"
    save_scene(Scene([Circle(id="c", radius=1)]), path)
    desk.w.files.open_path(path)
    desk.line("circle 1 2 3")
    save_scene(Scene([Circle(id="c", radius=33)]), path)
    qtbot.waitUntil(lambda: "changes of your own" in desk.said, timeout=15000)
    desk.w.run_command("edit.undo")
    assert "changes of your own" not in desk.said, "it is no longer true"
    qtbot.waitUntil(lambda: desk["c"].radius == 33, timeout=15000)


def test_closing_asks_when_something_is_not_saved(desk):
    desk.line("circle 1 2 3")
    assert not desk.w.close() and "not saved" in desk.said
    {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}["Stay here"].click()
    assert desk.w.isVisible()
    desk.w.run_command("edit.undo")
    assert desk.w.close()


def test_a_fault_of_our_own_is_written_down_and_said_and_the_window_goes_on(desk, tmp_path, monkeypatch):
    """The binding crashes on exceptions that C code raised when they leave a method that Qt calls."""
    import sys

    from chalcedon.desk import guard

    monkeypatch.setattr(guard, "faults_file", lambda: tmp_path / "state" / "faults.txt")
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    guard.install(desk.session.say)
    broken = desk.w.canvas.tool
    monkeypatch.setattr(broken, "draw", lambda painter: [].remove("something that isn't there"))
    for _ in range(3):
        desk.w.canvas.repaint()
    assert "A fault in Chalcedon itself: ValueError" in desk.said and "Your scene is as it was" in desk.said
    text = (tmp_path / "state" / "faults.txt").read_text()
    assert text.count("Traceback") == 1, "said once, not at every frame"
    monkeypatch.undo()
    desk.click(600, 100)
    assert desk.chosen == ["moon"]


def test_what_is_said_stays_along_the_foot_of_the_window(desk):
    desk.session.say("The tide turns.", "problem")
    for size in ((900, 600), (1200, 700), (820, 580)):
        desk.w.resize(*size)
        place, around = desk.w.messages.geometry(), desk.w.messages.host.rect()
        assert (place.left(), place.right(), place.bottom()) == (0, around.right(), around.bottom())
        assert desk.w.messages.isVisible()


def test_each_fault_is_said_once_also_one_that_comes_from_nowhere(desk, tmp_path, monkeypatch):
    import sys

    from chalcedon.desk import guard

    monkeypatch.setattr(guard, "faults_file", lambda: tmp_path / "faults.txt")
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    said = []
    guard.install(lambda *words: said.append(words[0]))
    faults = [lambda: 1 / 0, lambda: {}["gull"], lambda: [].pop(), lambda: {}.pop()]
    for fault in (*faults, *faults):
        try:
            fault()
        except Exception as error:
            sys.excepthook(type(error), error, error.__traceback__)
    sys.excepthook(ValueError, ValueError("of no place"), None)
    kinds = [words.split(": ")[1].split(",")[0] for words in said]
    assert kinds == ["ZeroDivisionError", "KeyError", "IndexError", "TypeError", "ValueError"]


def test_a_line_goes_in_front_of_all_unless_a_row_was_chosen(desk):
    where = desk.w.newline.where
    assert where.text() == "Enter adds in front of all"
    desk.click(150, 150)  # selects the wall on the canvas, which chooses no place
    desk.line("circle 150 150 20 id buoy")
    assert desk.order[-1] == "buoy"
    desk.click_cell("sky", "id", opened=False)
    assert where.text() == "Enter adds in front of sky"
    desk.line("circle 150 150 20 id low")
    desk.line("circle 150 160 20 id lower")
    assert desk.order[:4] == ["sky", "low", "lower", "wall"], "lines follow one another from there"
    desk.click_cell("boat", "id", opened=False)
    assert where.text() == "Enter adds into boat"
    desk.line("circle 0 0 9 id bell")
    assert [s.id for s in desk["boat"].children] == ["hull", "sail", "bell"]
    desk.session.scene.undo()
    desk.session.flush()
    desk.click_cell("moon", "id", opened=False)
    desk.key(Qt.Key.Key_Delete)
    desk.line("circle 5 5 5 id last")
    assert desk.order[-1] == "last", "a place that is gone is no place"
