"""A small share of `make fuzz`, and proof that it would see what it looks for."""

import sys

import pytest

from chalcedon.files import scene_bytes
from fuzz import files, svgs, walk
from fuzz.scenes import random_scene


def test_mutated_files_go_through_everything():
    opened, failures = files.run(12, first=40)
    assert not failures, failures
    assert opened > 6, "most mutated files open"


def test_mutated_svg_files_are_read_or_refused_with_a_sentence():
    read, failures = svgs.run(110, first=1)
    assert not failures, failures
    assert read > 30, "many mutated files are read"


def test_a_random_walk_records_no_fault_and_undoes_to_the_byte(qapp, tmp_path):
    assert walk.run(11, 40, tmp_path) == []


def test_a_fault_in_the_window_would_be_seen(qapp, tmp_path, monkeypatch):
    from chalcedon.desk.canvas.select import SelectTool

    monkeypatch.setattr(SelectTool, "press", lambda self, p: 1 / 0)
    assert any("ZeroDivisionError" in text for text in walk.run(11, 30, tmp_path))


def test_an_undo_that_leaves_something_would_be_seen(qapp, tmp_path):
    w = walk.Walk(3, tmp_path)
    try:
        w.window.session.scene["circle"].store("radius", 3.25)  # past the history
        w.check_undo()
        assert w.faults == ["undo did not give the bytes there were"]
    finally:
        w.close()


def test_the_scenes_use_every_kind_and_property():
    used = {(s.kind, name) for seed in range(150) for s in random_scene(seed).walk() for name in s._values}
    from chalcedon.scene import KINDS

    every = {(k, n) for k, c in KINDS.items() if k != "unknown" for n in c.properties}
    assert len(every - used) < len(every) * 0.05, sorted(every - used)


@pytest.mark.parametrize("data", [b"{", b"\xff", b"[]"])
def test_what_is_refused_is_no_failure(data):
    assert files.attack(data) is False and sys.excepthook is not None


def test_random_files_are_the_same_for_a_seed():
    assert scene_bytes(random_scene(5)) == scene_bytes(random_scene(5)) and files.mutated(9) == files.mutated(9)
