"""The journal: whatever was done is there again after a kill, with all that can be taken back."""

import os
import subprocess
import sys
import threading
import time

import pytest
from acting import act, walks
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from strategies import scenes

from chalcedon.files import journal as journals
from chalcedon.files import open_scene, recovery, scene_bytes
from chalcedon.files.journal import Journal
from chalcedon.files.seen import open_seen, save_seen
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Scene
from fuzz import kills


def save(scene, path, journal):
    journal.settle()
    _, seen = save_seen(scene, path)
    scene.history.mark_saved()
    journal.mark_saved(path, seen)


@pytest.fixture(autouse=True)
def patience(monkeypatch):
    """However slow the disk is."""
    monkeypatch.setattr(journals, "PATIENCE", 120.0)


@settings(suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture], max_examples=25)
@given(scenes, st.lists(walks(), min_size=1, max_size=3), st.booleans(), st.booleans())
def test_after_a_kill_scene_and_history_are_what_they_were(tmp_path, scene, parts, in_file, twice):
    """Kills are stood for by a journal that is left. Between the parts the scene is saved."""
    for entry in recovery.kept():
        entry.remove()  # of an example that failed
    path = tmp_path / "a.chal"
    seen = None
    if in_file:
        path.write_bytes(scene_bytes(scene))
        opened, seen = open_seen(path)
        scene = opened.scene
    journal = Journal(scene, path if in_file else None, "a", seen)
    for i, acts in enumerate(parts):
        if i:
            save(scene, path, journal)
        for one in acts:
            act(scene, *one)
    assert journal.leave()
    kept = recovery.kept()
    if not scene.history.changed:
        assert sum(e.steps for e in kept) == 0 or kept[0].open().scene.history.changed is False
    elif twice and kept:
        again = kept[0].open().scene
        journal = Journal(again, entry=kept[0])
        assert recovery.kept() == [], "it is open"
        for copy in (again, scene):
            copy.add(Circle(radius=3))
        assert journal.leave()
        kept = recovery.kept()
    if scene.history.changed:
        (entry,) = kept
        opened = entry.open()
        assert not opened.notices and opened.scene.history.changed
        assert scene_bytes(opened.scene) == scene_bytes(scene)
        while scene.undo():
            assert opened.scene.undo() and scene_bytes(opened.scene) == scene_bytes(scene)
        assert not opened.scene.undo()
    for entry in kept:
        entry.remove()


@pytest.fixture
def moon(tmp_path):
    path = tmp_path / "a.chal"
    path.write_bytes(scene_bytes(Scene([Circle(id="moon", radius=1)])))
    opened, seen = open_seen(path)
    return opened.scene, Journal(opened.scene, path, "a", seen), path


def test_steps_of_one_gesture_become_few_lines(moon):
    scene, journal, _ = moon
    for i in range(500):
        with scene.step("Grow", gesture="drag"):
            scene["moon"].radius = i + 2
    assert journal.leave()
    assert len(recovery.lines(journal.folder)) < 50
    (entry,) = recovery.kept()
    again = entry.open().scene
    assert again["moon"].radius == 501 and again.undo() and again["moon"].radius == 1


def test_a_line_that_was_cut_or_damaged_costs_what_comes_after_it(moon):
    scene, journal, _ = moon
    for i in range(5):
        scene["moon"].radius = i + 2
    assert journal.leave()
    file = journal.folder / recovery.STEPS
    whole = file.read_bytes()
    file.write_bytes(whole[:-4])
    (entry,) = recovery.kept()
    assert entry.open().scene["moon"].radius == 5
    lines = whole.split(b"\n")
    for bad in (b"{", b'{"step":"x","edits":[{"set":"sun","name":"radius","old":1,"new":2}]}', b"\xff", b"[" * 5000):
        file.write_bytes(b"\n".join([*lines[:2], bad, *lines[3:]]))
        opened = entry.open()
        assert opened.scene["moon"].radius == 3 and "The last 3 steps could not be done again" in opened.notices[0]
    journal = Journal(opened.scene, entry=entry)
    opened.scene["moon"].radius = 9
    assert journal.leave() and recovery.kept()[0].open().scene["moon"].radius == 9


def test_what_is_open_elsewhere_is_noticed_and_what_was_saved_is_not_offered(moon, tmp_path):
    scene, journal, path = moon
    os.symlink(path, tmp_path / "other.chal")
    opened, seen = open_seen(tmp_path / "other.chal")
    second = Journal(opened.scene, tmp_path / "other.chal", "other", seen)
    assert journal.settle() and second.settle() and journal.others() == second.others() == 1
    scene["moon"].radius = 5
    save(scene, path, journal)
    second.discard()
    assert journal.others() == 0 and not second.folder.exists()
    assert journal.leave() and recovery.kept() == []


def test_what_is_open_is_nobody_elses_however_many_look(moon):
    """Two starts at once offer the same work: who opens it first has it, and nobody throws it away."""
    scene, journal, _ = moon
    scene["moon"].radius = 5
    assert journal.leave()
    (one,), (other,) = recovery.kept(), recovery.kept()
    seen, opened = [], threading.Event()

    def look():
        while not opened.is_set():
            seen.extend(recovery.kept())

    journal = Journal(one.open().scene, entry=one)
    lookers = [threading.Thread(target=look) for _ in range(3)]
    for looker in lookers:
        looker.start()
    more = []
    for _ in range(20):
        more.append(Journal(Scene([Circle(id="sun")])))
        more[-1]._scene["sun"].radius = 7
        assert more[-1].settle()
    opened.set()
    for looker in lookers:
        looker.join()
    assert seen == [] == recovery.kept()
    with pytest.raises(ChalcedonError, match="somebody has opened it since"):
        other.open()
    other.remove()
    assert one.scene_file.exists() and recovery.lines(one.folder)
    assert all(m.leave() for m in more) and len(recovery.kept()) == len(more)
    journal.discard()
    assert not one.folder.exists()


def test_without_room_it_says_so_and_goes_on_when_there_is(moon, monkeypatch):
    scene, journal, path = moon
    path.write_bytes(b"something else")  # what the steps begin from can't be read any more
    scene["moon"].radius = 5
    assert not journal.settle() and "another" in journal.failed
    scene["moon"].radius = 6
    assert journal.leave(), "from the scene as it is now"
    (entry,) = recovery.kept()
    assert entry.whole and entry.open().scene["moon"].radius == 6
    monkeypatch.setenv("XDG_STATE_HOME", "/dev/null/state")
    lost = Journal(Scene())
    assert lost.failed == "Not a directory"
    lost._scene.add(Circle())
    assert not lost.leave() and "not a folder" in lost.failed
    lost.discard()


def test_a_drag_is_written_within_a_second(moon):
    scene, journal, _ = moon
    end = time.monotonic() + 1.0
    while time.monotonic() < end:
        with scene.step("Grow", gesture="drag"):
            scene["moon"].radius = round(scene["moon"].radius + 0.01, 2)
        time.sleep(0.005)
    found = recovery.lines(journal.folder)
    assert found and len(found) < 12, "while it goes on"
    journal.discard()


def test_programs_killed_at_random_lose_a_moment_and_no_file(tmp_path):
    assert kills.run(7, 4, tmp_path) == []
    assert open_scene(tmp_path / "a.chal").scene["moon"].radius > 1


ENDS = """
from chalcedon.files.journal import Journal
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Scene
scene = Scene()
journal = Journal(scene, None, "a", None)
for i in range(60):
    scene.add(Circle(note="x" * 50_000))
"""


def test_a_program_that_ends_by_itself_writes_what_waits(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    subprocess.run([sys.executable, "-c", ENDS], check=True)
    (entry,) = recovery.kept()
    assert len(entry.open().scene) == 60
