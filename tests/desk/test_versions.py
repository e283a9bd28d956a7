"""What was kept: versions of a file, the one of another program, work that a kill interrupted, a file open twice."""

import pytest
from PySide6.QtCore import Qt

from chalcedon.desk.session import Session
from chalcedon.files import open_scene, recovery
from chalcedon.files.versions import MOST, versions
from chalcedon.scene import Circle, Rect

Key = Qt.Key


@pytest.fixture
def saved(desk, tmp_path):
    """Saved three times: with a moon of radius 50, 60, and 60 beside a disc."""
    path = tmp_path / "night.chal"
    desk.w.files._save(path)
    desk["moon"].radius = 60
    desk.w.files.save()
    desk.session.scene.add(Circle(id="disc", at=(100, 100), radius=8))
    desk.w.files.save()
    return path


def rows(tree):
    count = tree.columnCount()
    return [[tree.topLevelItem(i).text(c) for c in range(count)] for i in range(tree.topLevelItemCount())]


def test_versions_are_seen_compared_and_taken_shape_by_shape(desk, saved, qtbot):
    panel = desk.w.files.versions_panel
    desk.w.run_command("file.versions")
    qtbot.waitUntil(lambda: not panel._ahead.isActive())
    assert [row[1] for row in rows(panel.list)] == [
        "disc is new: a circle",
        "moon: radius 50 → 60",
        "the first that is kept",
    ]
    assert rows(panel.differences) == [] and "what is open here" in panel.note.text() and not panel.all.isEnabled()
    panel.list.setCurrentItem(panel.list.topLevelItem(2))
    qtbot.waitUntil(lambda: len(panel._previews._views) == 2)
    assert rows(panel.differences) == [["moon", "radius", "60", "50"], ["disc", "is gone", "a circle", ""]]
    panel.some.click()
    assert "Choose lines first" in panel.complaint.text()
    panel.differences.setCurrentItem(panel.differences.topLevelItem(0))
    desk.key(Key.Key_Return, widget=panel.differences)
    assert desk["moon"].radius == 50 and "disc" in desk.session.scene
    assert rows(panel.differences) == [["disc", "is gone", "a circle", ""]]
    panel.all.click()
    assert "disc" not in desk.session.scene and not panel.isVisible()
    desk.session.undo()
    desk.session.undo()
    assert desk["moon"].radius == 60 and not desk.session.unsaved
    desk.w.run_command("file.versions")
    panel.list.setCurrentItem(panel.list.topLevelItem(1))
    panel.copy.click()
    assert desk.session.path is None and desk.session.title.startswith("night, ") and desk["moon"].radius == 60
    assert "disc" not in desk.session.scene


def test_versions_are_few_and_a_broken_one_is_said(desk, saved):
    for i in range(MOST):
        desk["moon"].radius = 70 + i
        desk.w.files.save()
    kept = versions(saved)
    assert len(kept) == MOST and kept[0].open()["moon"].radius == 70 + MOST - 1
    desk.w.files.save()
    assert [v.file for v in versions(saved)] == [v.file for v in kept], "the same again is no version"
    kept[0].file.write_bytes(b"{")
    desk.w.run_command("file.versions")
    panel = desk.w.files.versions_panel
    assert panel.complaint.text() and not panel.copy.isEnabled()
    panel.close()


def test_when_both_changed_the_versions_are_laid_side_by_side(desk, saved):
    desk.outside(
        saved, saved.read_bytes().replace(b'"radius":60', b'"radius":61').replace(b'"radius":8', b'"radius":9')
    )
    desk["moon"].opacity = 0.5
    desk.session.flush()
    desk.w.files._changed_outside()
    desk.answer("Compare them…")
    panel = desk.w.files.versions_panel
    assert rows(panel.list)[0][0] == "in the file now"
    assert ["disc", "radius", "8", "9"] in rows(panel.differences)
    line = [r[:2] for r in rows(panel.differences)].index(["disc", "radius"])
    panel.differences.setCurrentItem(panel.differences.topLevelItem(line))
    panel.some.click()
    assert desk["disc"].radius == 9 and desk["moon"].radius == 60 and desk["moon"].opacity == 0.5
    panel.close()
    assert desk.w.files.save(), "it was looked at: no more questions"
    scene = open_scene(saved).scene
    assert (scene["moon"].radius, scene["moon"].opacity, scene["disc"].radius) == (60, 0.5, 9)
    assert any(v.open()["moon"].radius == 61 for v in versions(saved)), "nothing is lost of the other either"


def test_a_file_that_is_open_twice_is_noticed(desk, saved):
    other = Session()
    other.open(saved)
    assert desk.session.document.journal.settle() and other.document.journal.settle()
    desk.w.files.open_path(saved)
    assert "night is open in another window too" in desk.said
    other.close()
    desk.w.messages.dismiss()
    desk.w.files.open_path(saved)
    assert "another window" not in desk.said


def test_work_that_a_kill_interrupted_is_offered_with_pictures(desk, saved, qtbot):
    """Here the kill is a session that leaves its journal."""
    lost = Session()
    lost.open(saved)
    lost.scene.add(Rect(id="shed", at=(5, 5)))
    lost.document.kept = lost.document.journal.leave()
    assert lost.document.kept
    lost.close()
    desk.w.files.offer_recovered()
    assert "night had changes in no file (1 step)" in desk.said
    previews = desk.w.messages._previews
    qtbot.waitUntil(lambda: len(previews._views) == 2)
    assert ["shed" in view.display.scene for view in previews._views] == [True, False]
    desk.answer("Open it")
    assert "shed" in desk.session.scene and desk.session.unsaved and desk.session.path == saved
    desk.session.undo()
    assert "shed" not in desk.session.scene and not desk.session.unsaved
    desk.session.redo()
    assert desk.w.files.save() and "shed" in open_scene(saved).scene and recovery.kept() == []


@pytest.mark.parametrize("answer", ["Open it", "Throw it away"])
def test_what_another_start_has_opened_meanwhile_is_left_to_it(desk, saved, answer):
    lost = Session()
    lost.open(saved)
    lost.scene.add(Rect(id="shed", at=(5, 5)))
    lost.document.kept = lost.document.journal.leave()
    lost.close()
    desk.w.files.offer_recovered()
    assert "night had changes in no file (1 step)" in desk.said
    other = Session()
    other.recover(recovery.kept()[0])
    desk.answer(answer)
    assert "shed" not in desk.session.scene and other.document.journal.folder.exists()
    assert answer != "Open it" or "somebody has opened it since" in desk.said
    other.scene.add(Circle(id="lamp"))
    assert other.document.journal.settle(), "it goes on being kept"
    other.document.kept = other.document.journal.leave()
    other.close()
    (entry,) = recovery.kept()
    assert {"shed", "lamp"} <= {s.id for s in entry.open().scene.walk()}
    entry.remove()
    assert recovery.kept() == []


def test_after_a_save_a_kill_loses_nothing_and_what_comes_after_is_offered(desk, saved):
    """As above; undoing what was recovered ends at what the file holds."""
    lost = Session()
    lost.open(saved)
    lost.scene.add(Rect(id="shed", at=(5, 5)))
    lost.save(saved)
    lost.document.journal.settle()
    assert not lost.unsaved and sum(e.steps for e in recovery.kept()) == 0
    lost.scene.add(Rect(id="mast", at=(5, 5)))
    assert lost.document.journal.leave()
    (entry,) = recovery.kept()
    again = entry.open().scene
    assert "mast" in again and again.history.changed
    again.undo()
    assert "shed" in again and not again.history.changed
    entry.remove()
    lost.document.kept = True
    lost.close()


def test_that_nothing_can_be_kept_is_said_once(desk, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", "/dev/null/state")
    desk.session.new()
    desk.session.scene.add(Circle())
    desk.session.document.journal.settle()
    desk.w.files._look()
    assert "unsaved work would be lost" in desk.said
    desk.w.messages.dismiss()
    desk.w.files._look()
    assert not desk.w.messages.isVisible()
    desk.session.scene.history.mark_saved()
