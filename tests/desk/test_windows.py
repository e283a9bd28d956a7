"""Two windows on one scene."""

import pytest
from evaluate.test_copies import Toy, row
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from chalcedon.desk import window as windows
from chalcedon.evaluate import DisplayList
from chalcedon.files import save_scene
from chalcedon.scene import Circle, Scene


@pytest.fixture
def other(desk, qtbot):
    desk.w.run_command("view.window")
    window = windows.others[-1]
    qtbot.waitExposed(window)
    window.canvas.repaint()
    yield window
    desk.close_others()
    assert not windows.others, "nobody holds a window that is closed"


def test_what_is_done_in_one_shows_in_both_and_each_has_its_own_view(desk, other):
    assert other.session.scene is desk.session.scene and other.session is not desk.session
    desk.line("circle 700 400 33 fill #123456")
    assert other.ledger.index_of(desk["circle"]) >= 0 and other.isWindowModified()
    assert other.session.selection == [] and desk.chosen == ["circle"]
    other.session.select([desk["wall"]])
    other.canvas.zoom_to(3.0)
    assert desk.chosen == ["circle"] and desk.w.canvas.view.zoom == 1.0
    with other.session.step("Move"):
        desk["circle"].at = (100, 50)
    cell, _ = desk.cell("circle", "number", "at", (0,))
    assert cell.text == "100"
    assert next(h.id for h in desk.session.tester.hit_test(100, 50)) == "circle"
    other.run_command("edit.undo")
    desk.w.run_command("edit.undo")
    assert "circle" not in desk.session.scene and not desk.w.isWindowModified() and not other.isWindowModified()


def test_what_one_deletes_is_not_selected_in_the_other(desk, other):
    other.session.select([desk["moon"]])
    other.session.active_group = desk["boat"]
    desk.session.scene.remove(desk["moon"])
    desk.session.scene.remove(desk["boat"])
    desk.session.flush()
    assert other.session.selection == [] and other.session.active_group is desk.session.scene.top
    desk.w.run_command("edit.undo")


def test_only_the_last_window_asks_about_what_is_unsaved(desk, other, tmp_path):
    desk.line("circle 700 400 33")
    assert other.close(), "the scene is open in the first window still"
    assert not desk.w.close() and "not saved" in desk.said
    {b.text(): b for b in desk.w.messages.findChildren(QPushButton)}["Stay here"].click()
    assert desk.session.document.views == 1 and desk.w.files._save(tmp_path / "a.chal")
    assert not desk.w.isWindowModified()


def test_another_scene_opens_in_one_window_only(desk, other, tmp_path):
    save_scene(Scene([Circle(id="c")]), tmp_path / "b.chal")
    desk.line("circle 700 400 33")
    other.files._unless_unsaved(lambda: other.files.open_path(tmp_path / "b.chal"))
    assert "c" in other.session.scene and "wall" in desk.session.scene and desk.w.isWindowModified()
    assert desk.session.document.views == other.session.document.views == 1
    other.session.scene["c"].radius = 9
    other.session.flush()
    assert other.isWindowModified()


def test_saving_in_one_is_told_in_the_other(desk, other, tmp_path):
    desk.line("circle 700 400 33")
    assert desk.w.files._save(tmp_path / "a.chal")
    assert not other.isWindowModified() and other.session.path == tmp_path / "a.chal"
    assert other.windowTitle().startswith("a[")


def test_a_click_picks_a_copy_and_handles_belong_to_it(desk, monkeypatch):
    monkeypatch.setattr("chalcedon.desk.document.DisplayList", lambda scene: DisplayList(scene, Toy()))
    desk.session.new(row())
    desk.w.canvas.view.zoom = 4.0
    desk.w.canvas.view.place(40, 40)
    lamp = desk["lamp"]
    for x, copy in ((10, (0,)), (70, (2,)), (40, (1,))):
        desk.click(x, 20)
        assert desk.chosen == ["lamp"] and desk.session.node(lamp).copy == copy
        start, _handles = desk.w.canvas.tool.handles()
        assert start.scene_of((0, 0)) == (x, 20)
    desk.session.select([lamp])
    assert desk.session.node(lamp).copy == (0,), "by its row it is the first"
    desk.click(70, 20, Qt.KeyboardModifier.AltModifier)
    assert desk.session.node(lamp).copy == (2,)
