"""The shelf in a real window, and what is written beside the window."""

from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from chalcedon.desk.acts.working import MOST_TOLD, say_done
from chalcedon.desk.shelf import looking
from chalcedon.desk.shelf.board import CELL, Board
from chalcedon.desk.shelf.entries import Entry
from chalcedon.files import save_scene
from chalcedon.files.shelf import kept_summary
from chalcedon.formula import Formula
from chalcedon.painter.frames import Take
from chalcedon.painter.pictures import Wanted
from chalcedon.scene import Circle, Rect, Scene, Text

Key, Mod = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def folder(tmp_path):
    """Scenes of two folders, one within the other, and one that is broken."""
    place = tmp_path / "scenes"
    (place / "loom").mkdir(parents=True)
    save_scene(Scene([Circle(id="moon"), Text("Mind the step")], size=(200, 100)), place / "quay.chal")
    save_scene(Scene([Rect(id="thread")], size=(100, 200)), place / "loom" / "twill.chal")
    (place / "broken.chal").write_text('{"chalcedon": 1, "shapes": [')
    return place


@pytest.fixture
def shelf(desk, qtbot, folder):
    """The shelf of a window, with the folder on it, all looked at."""
    desk.w.run_command("file.shelf")
    page = desk.w.shelving.page
    page.add_folder(str(folder))
    qtbot.waitUntil(lambda: not page.looking.busy, timeout=20_000)
    return page


def test_words_are_sought_in_names_before_files_are_looked_into():
    quay, new = Entry("file", "Low Quay", "/quay.chal"), Entry("new", "a new scene")
    assert [quay.has(text) for text in ("", "qu", "LOW quay", "quay low", "quays", "low tide")] == [True] * 4 + [
        False
    ] * 2
    assert not new.has("") and not new.has("new")


def names(page):
    return {s.board.accessibleName(): [e.name for e in s.board.entries.shown] for s in page.sections}


def choose(page, name):
    for section in page.sections:
        for row, entry in enumerate(section.board.entries.shown):
            if entry.name == name and (entry.path or entry.kind == "new"):
                section.board.setFocus()
                section.board.setCurrentIndex(section.board.entries.index(row))
                return section.board, entry
    raise AssertionError(name)


def test_scenes_stand_there_are_searched_and_opened_from_the_keyboard(desk, shelf, folder):
    assert names(shelf)["scenes"] == ["broken", "quay", "twill"]
    assert shelf.sections[0].board.entries.shown[0].kind == "new"
    desk.session.scene.set(desk["moon"], "radius", 40)
    _board, broken = choose(shelf, "broken")
    assert "not valid JSON" in shelf.foot.told.text() and broken.about() == "can't be read"
    chosen = shelf.foot.told.grab().toImage()
    shelf.foot.say(shelf.foot.told.text(), wrong=False)
    said = shelf.foot.told.grab().toImage()
    shelf.foot.say(shelf.foot.told.text(), wrong=True)
    assert shelf.foot.told.grab().toImage() != said != chosen, "in other colours"
    board, quay = choose(shelf, "quay")
    assert "200 × 100 px · 2 shapes" in shelf.foot.told.text() and not shelf.foot.seek.isVisible()
    desk.key(Key.Key_S, widget=board)  # the key of a command, which is a letter here
    assert desk.w.focusWidget() is shelf.search and shelf.search.text() == "s"
    desk.type("tep")
    assert names(shelf) == {"scenes": ["quay"]} and desk.order == [
        "sky",
        "wall",
        "boat",
        "hull",
        "sail",
        "moon",
        "rope",
    ]
    desk.key(Key.Key_Return)
    assert not desk.w.shelving.shown and desk.session.title == "untitled", "unsaved work is asked about first"
    desk.answer("Discard")
    assert desk.session.path == folder / "quay.chal" and desk.order == ["moon", "text"]
    assert quay.path == str(folder / "quay.chal")


def test_arrows_go_from_the_search_through_all_boards_and_back(desk, shelf):
    seen = []
    shelf.search.setFocus()
    desk.key(Key.Key_Return)
    assert desk.w.shelving.shown, "nothing was sought, so nothing is opened"
    desk.type("zzz")
    desk.key(Key.Key_Return)
    assert desk.w.shelving.shown, "and nothing that isn't found"
    desk.key(Key.Key_A, Mod.ControlModifier)
    desk.key(Key.Key_Delete)
    for _ in range(8):
        desk.key(Key.Key_Down)
        board = desk.w.focusWidget()
        seen.append((board.accessibleName(), board.currentIndex().row()))
    assert [s for i, s in enumerate(seen) if s not in seen[:i]] == [("Begin", 0), ("scenes", 0)]
    for _ in range(3):
        desk.key(Key.Key_Right)
    assert shelf.chosen[0].name == "twill", "beyond the last there is nothing"
    desk.key(Key.Key_Up)
    desk.key(Key.Key_Up)
    assert desk.w.focusWidget() is shelf.search
    desk.key(Key.Key_Escape)
    assert not desk.w.shelving.shown


def test_arrows_go_over_a_board_as_over_a_grid_and_leave_it_at_its_first_and_last_row(qtbot):
    board, left = Board("scenes"), []
    qtbot.addWidget(board)
    board.left.connect(left.append)
    board.entries.show([Entry("file", f"quay {i}", f"/quay{i}.chal") for i in range(7)])
    board.resize(3 * CELL.width() + 20, 3 * CELL.height())
    board.show()
    for at in range(7):
        for key, by, leaves in (
            (Key.Key_Up, -3, at < 3),
            (Key.Key_Down, 3, at == 6),
            (Key.Key_Left, -1, False),
            (Key.Key_Right, 1, False),
        ):
            left.clear()
            board.setCurrentIndex(board.entries.index(at))
            QTest.keyClick(board, key)
            to = at + by if 0 <= at + by < 7 else at
            assert left == ([by // 3] if leaves else []), (at, key)
            assert board.currentIndex().row() == to or (key == Key.Key_Down and at in (4, 5)), (at, key)


def test_commands_that_would_change_what_is_not_seen_show_it_instead(desk, shelf):
    desk.session.select([desk["moon"]])
    before = desk.order
    desk.w.run_command("edit.delete")
    assert desk.order == before and not desk.w.shelving.shown and "behind the shelf" in desk.said
    desk.w.run_command("file.shelf")
    desk.w.run_command("view.basalt")
    assert desk.w.shelving.shown
    desk.w.run_command("view.fit")
    assert not desk.w.shelving.shown
    desk.w.run_command("view.plaster")


def test_what_is_gone_is_greyed_and_found_again(desk, shelf, folder, qtbot, tmp_path, monkeypatch):
    shelf.recent.put(str(tmp_path / "old" / "quay.chal"))
    shelf.recent.put(str(tmp_path / "old" / "lamp.chal"))
    shelf.look()
    qtbot.waitUntil(lambda: not shelf.looking.busy, timeout=20_000)
    board, lamp = choose(shelf, "lamp")
    assert lamp.gone and shelf.foot.seek.isVisible() and not shelf.foot.there.isVisible()
    desk.key(Key.Key_Delete, widget=board)
    assert [Path(p).name for p in shelf.recent.all()] == ["quay.chal"]
    board.setCurrentIndex(board.entries.index(0))
    assert shelf.foot.there.text() == "Open the one in scenes"
    desk.session.scene.history.mark_saved()
    shelf.foot.there.click()
    assert desk.session.path == folder / "quay.chal"
    assert shelf.recent.all() == [str(folder / "quay.chal")]
    folder.rename(tmp_path / "moved")
    desk.w.run_command("file.shelf")
    section = shelf.sections[-1]
    assert section.seek.isVisible() and "not there any more" in section.remark.text()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path / "moved"))
    section.seek.click()
    desk.session.say("quay.chal was moved.", "problem")
    assert desk.w.shelving.shown and shelf.foot.told.text() == "quay.chal was moved."
    qtbot.waitUntil(lambda: names(shelf).get("moved") == ["broken", "quay", "twill"], timeout=20_000)


def test_a_file_that_holds_the_helper_up_is_left_out(desk, qtbot, folder, monkeypatch):
    monkeypatch.setattr(looking, "PATIENCE_MS", 3000)
    monkeypatch.setattr(looking, "MODULE", "stuck")
    monkeypatch.setenv("PYTHONPATH", str(Path(__file__).parent.parent))
    ended, quay = [], str(folder / "quay.chal")
    look = looking.Looking(lambda line: None, lambda: ended.append(True))
    look.begin([], [quay])
    qtbot.waitUntil(lambda: bool(ended), timeout=30_000)
    assert "too much memory or time" in kept_summary(quay).problem and not look.busy


# what is written beside the window


def wait(desk, qtbot):
    working = desk.w.picturing.working
    qtbot.waitUntil(lambda: not working.name, timeout=30_000)


@pytest.mark.parametrize("count", [0, 1, MOST_TOLD, MOST_TOLD + 1, MOST_TOLD + 7])
def test_of_many_notes_the_first_are_told_and_the_rest_counted(desk, count):
    say_done(desk.session, "Wrote quay.svg.", [f"note {i}" for i in range(count)])
    told = min(count, MOST_TOLD)
    assert desk.said.startswith("Wrote quay.svg.") and desk.said.count("Note ") == told
    assert desk.said.endswith(f" And {count - told} more.") == (count > told)


def test_a_sheet_of_several_scenes_is_written_beside_the_window(desk, shelf, folder, qtbot, monkeypatch):
    target = folder / "all.webp"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    board, _ = choose(shelf, "broken")
    desk.key(Key.Key_A, Mod.ControlModifier, widget=board)
    assert shelf.foot.told.text() == "3 are chosen." and not shelf.foot.open.isVisible()
    shelf.foot.make_sheet.click()
    assert desk.w.head.work.isVisible() and "all.webp" in desk.w.head.work.text()
    wait(desk, qtbot)
    qtbot.waitUntil(lambda: shelf.foot.told.text() == "Wrote all.webp.")
    assert not desk.w.head.cancel.isVisible()
    shelf.foot.show_chosen(shelf.chosen)
    assert shelf.foot.told.text() == "Wrote all.webp.", "the folder, which holds one more now, was looked at again"
    choose(shelf, "broken")
    assert "all.webp" not in shelf.foot.told.text() and shelf.foot.told.text() != "3 are chosen."
    with Image.open(target) as picture:
        assert picture.size == (2 * 344 + 24, 2 * (240 + 44 + 24) + 24)
        # twill, in the second row, stands on its name with its page of 100 x 200 px
        assert picture.convert("RGB").getpixel((24 + 160, 24 + 308 + 239)) == (255, 255, 255)


def test_frames_and_large_pictures_are_written_beside_the_window_and_can_be_cancelled(desk, qtbot, tmp_path):
    write = desk.w.picturing
    desk.session.scene.set(desk["wall"], "fill", Formula("hsl(time * 200, 60, 50)"))
    write.frames_panel.open_at(desk.w.below_strip())
    for field, text in zip(write.frames_panel.fields, ("0", "0.5", "10", "1/4"), strict=True):
        field.setText(text)
    assert write.frames_panel.measures.text() == "5 frames of 200 × 125 px"
    write.frames_panel.fields[2].setText("99")
    assert not write.frames_panel.choose.isEnabled() and "60" in write.frames_panel.complaint.text()
    write.frames_panel.close()
    write.write_frames(tmp_path / "run.gif", Take(0, 0.5, 10, 0.25), "")
    write.write_picture(tmp_path / "large.png", Wanted(5.0, (desk["moon"],)))
    write.write_frames(tmp_path / "long.webp", Take(0, 20, 60), "")
    wanted = tmp_path / "no" / "such.png"
    write.write_picture(wanted, Wanted(8.0))
    qtbot.waitUntil(lambda: write.working.name == "long.webp" and write.working.of == 1200, timeout=30_000)
    assert desk.w.head.work.text().startswith("long.webp") and "of 1200" in desk.w.head.work.text()
    desk.session.scene.history.mark_saved()
    assert not desk.w.close() and "long.webp is still being written" in desk.said
    desk.answer("Wait")
    desk.w.head.cancel.click()
    assert "long.webp was not written: it was cancelled." in desk.said
    wait(desk, qtbot)
    assert "such.png" in desk.said and not (tmp_path / "long.webp").exists()
    with Image.open(tmp_path / "run.gif") as run:
        assert (run.size, run.n_frames) == ((200, 125), 5)
    with Image.open(tmp_path / "large.png") as large:
        assert large.size == (500, 500), "the moon alone, of radius 50"
