"""What changed and what differs: listed, lit up, marked, proved."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from chalcedon import Circle, Scene
from chalcedon.files import open_scene
from tests.agree import pixels

Key, Mod = Qt.Key, Qt.KeyboardModifier


def lines(panel):
    tree = panel.list
    return [[tree.topLevelItem(i).text(c) for c in range(tree.columnCount())] for i in range(tree.topLevelItemCount())]


def shown(desk):
    """The px of the canvas."""
    return pixels(desk.w.canvas.grab().toImage()).astype(int)


def dot_of(desk, id):
    """The colour in the middle of where a row's mark for unsaved changes stands."""
    ledger = desk.w.ledger
    ledger.viewport().repaint()
    index = ledger.index_of(desk[id])
    row = ledger.rows[index]
    top = ledger.top_of(index) - ledger.verticalScrollBar().value()
    picture = ledger.viewport().grab().toImage()
    ratio = picture.devicePixelRatio()
    return picture.pixelColor(round((43 + row.depth * 9 + 20.5) * ratio), round((top + 5.5) * ratio))


@pytest.fixture
def saved(desk, tmp_path):
    desk.w.files._save(tmp_path / "mooring.chal")
    return desk


def test_the_last_step_is_listed_and_lit_up_after_an_edit_an_undo_and_a_redo(desk):
    panel = desk.w.changes_panel
    desk.w.run_command("edit.changed")
    assert not panel.isVisible() and desk.said == "Nothing has been changed since this was opened."
    desk["moon"].radius = 62
    desk.session.flush()
    desk.key(Key.Key_F3)
    assert panel.head.text() == "Change radius of moon" and lines(panel) == [["moon", "radius", "50", "62"]]
    assert desk.w.canvas.flash.boxes
    panel.close()
    desk.session.undo()
    desk.w.run_command("edit.changed")
    assert panel.head.text() == "Took back: Change radius of moon" and lines(panel) == [["moon", "radius", "62", "50"]]
    panel.close()
    desk.session.redo()
    desk.w.run_command("edit.changed")
    assert panel.head.text() == "Did again: Change radius of moon"
    desk.key(Key.Key_Return, widget=panel.list)
    assert not panel.isVisible() and desk.chosen == ["moon"]
    assert desk.w.ledger.focus_key[1] == "radius", "Enter leads to the value"


def test_a_line_leads_to_its_shape_and_shows_a_value_only_where_there_is_one(desk):
    asked = []
    desk.session.value_asked.connect(lambda shape, name: asked.append((shape.id, name)))
    panel = desk.w.changes_panel

    def last(number=0):
        desk.session.flush()
        desk.session.select([])
        desk.w.run_command("edit.changed")
        panel.go_to(number)
        return desk.chosen

    desk.session.scene.add(Circle(id="buoy", radius=4))
    assert last() == ["buoy"] and asked == [] and not panel.isVisible()
    desk["buoy"].radius = 5
    assert last() == ["buoy"] and asked.pop() == ("buoy", "radius")
    desk.session.scene.rename(desk["buoy"], "float")
    assert last() == ["float"] and asked == []
    desk["hull"].remove()
    assert last() == [] and asked == []
    panel.close()


def test_a_gesture_is_one_step_from_where_it_began(desk):
    desk.drag((600, 100), (620, 110), (640, 130))
    desk.w.run_command("edit.changed")
    assert lines(desk.w.changes_panel) == [["moon", "at", "600, 100", "640, 130"]]


def test_the_flash_is_seen_and_ends(desk, qtbot):
    desk["moon"].fill = "#000001"
    desk.session.flush()
    quiet = shown(desk)
    desk.session.flashed.emit(desk.session.document.followed.last.boxes)
    assert (abs(shown(desk) - quiet).max(axis=2) > 20).sum() > 500
    qtbot.waitUntil(lambda: not desk.w.canvas.flash.boxes, timeout=4000)
    assert not desk.w.canvas.flash._timer.isActive()
    assert (abs(shown(desk) - quiet).max(axis=2) > 20).sum() == 0


def test_rows_are_marked_until_they_are_saved_or_as_they_were(saved, tmp_path):
    desk = saved
    clean = dot_of(desk, "hull")
    desk["hull"].size = (90, 40)
    desk.session.flush()
    dotted, ring = dot_of(desk, "hull"), dot_of(desk, "boat")
    assert dotted != clean and ring != dotted, "full for itself, a ring for the group around it"
    assert {s.id for s in desk.session.document.followed.changed()[0]} == {"hull"}
    desk["hull"].size = (120, 40)
    desk.session.flush()
    assert dot_of(desk, "hull") == clean, "there and back is no change"
    desk["hull"].size = (90, 40)
    desk.session.flush()
    desk.w.files._save(tmp_path / "mooring.chal")
    assert dot_of(desk, "hull") == clean
    desk.session.undo()
    assert dot_of(desk, "hull") == dotted, "what is undone past the save differs from it"


def test_after_saving_the_file_is_read_back_and_that_is_said_in_a_word(saved, qtbot, monkeypatch, tmp_path):
    desk = saved
    qtbot.waitUntil(lambda: desk.said == "Saved mooring.chal. Verified.")
    desk["moon"].radius = 51
    desk.session.flush()

    def liar(path):
        opened = open_scene(path)
        opened.scene["moon"].radius = 50
        return opened

    monkeypatch.setattr("chalcedon.desk.acts.proving.open_scene", liar)
    desk.w.files._save(tmp_path / "mooring.chal")
    qtbot.waitUntil(lambda: "moon: radius 51 → 50" in desk.said)
    assert desk.said.startswith("mooring.chal was written, but read back it isn't what is open")


def test_what_is_changed_while_the_file_is_read_back_is_not_held_against_it(saved, qtbot, tmp_path):
    desk = saved
    proof = desk.w.files._proof
    desk["moon"].radius = 51
    desk.session.flush()
    answered = []
    proof._answer = answered.append
    proof._compare((proof._run, desk.session.scene, Scene([Circle()])))
    assert not answered


def test_two_shapes_are_laid_over_each_other_and_made_the_same(desk):
    desk.session.select([desk["wall"], desk["hull"]])
    quiet = shown(desk)
    desk.key(Key.Key_F3, Mod.ShiftModifier)
    panel = desk.w.changes_panel
    assert panel.head.text() == "Same and different: wall and hull"
    assert [row[1:] for row in lines(panel)] == [
        ["at", "100, 100", "0, 0"],
        ["size", "200, 120", "120, 40"],
        ["fill", "#dca443", "#b8482a"],
    ]
    assert (abs(shown(desk) - quiet).max(axis=2) > 20).sum() > 1000
    panel.list.topLevelItem(2).setSelected(True)
    panel.forth.click()
    assert desk["hull"].fill == "#dca443" and desk["hull"].size == (120, 40) and len(lines(panel)) == 2
    panel.list.clearSelection()
    panel.back.click()
    assert desk["wall"].size == (120, 40) and desk["wall"].at == (100, 100), "all but the place"
    panel.close()
    QApplication.processEvents()
    assert desk.session.laid is None
    desk.session.undo()
    desk.session.undo()
    assert desk["wall"].size == (200, 120) and desk["hull"].fill == "#b8482a"
    desk.session.select([desk["wall"]])
    desk.w.run_command("outline.compare")
    assert "exactly two shapes" in desk.said
