"""Scenes found without opening them: which there are, what is in them, what is kept of that between runs."""

import os

import pytest

from chalcedon.files import save_scene, shelf
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Group, Scene, Text


def test_scenes_are_found_below_a_folder_but_not_in_hidden_or_linked_ones(tmp_path):
    for name in ("b.chal", "a.chal", "deep/er/c.chal", ".hidden/d.chal", "note.txt", ".e.chal"):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text("{}")
    (tmp_path / "round").symlink_to(tmp_path, target_is_directory=True)
    found = shelf.scenes_in(tmp_path)
    assert [str(f.relative_to(tmp_path)) for f in found.files] == ["a.chal", "b.chal", "deep/er/c.chal"]
    assert not found.more
    with pytest.raises(ChalcedonError, match="can't be read"):
        shelf.scenes_in(tmp_path / "none")


def test_a_large_tree_is_not_walked_for_ever(tmp_path, monkeypatch):
    monkeypatch.setattr(shelf, "MOST_FILES", 3)
    for i in range(5):
        (tmp_path / f"{i}.chal").write_text("{}")
    assert len(shelf.scenes_in(tmp_path).files) == 3 and shelf.scenes_in(tmp_path).more


def test_a_summary_has_what_is_written_in_the_scene_and_is_found_by_all_words(tmp_path):
    scene = Scene(size=(300, 200))
    scene.add(Group(Circle(id="buoy", label="Red Buoy"), Text("Mind the step"), id="quay", note="by the ferry"))
    path = tmp_path / "low tide.chal"
    save_scene(scene, path)
    one = shelf.summary_of(path)
    assert (one.page, one.shapes, one.size, one.problem) == ((300, 200), 3, path.stat().st_size, "")
    for sought in ("", "tide", "STEP mind", "buoy low", "ferry quay", "red"):
        assert one.has(sought), sought
    assert not one.has("tide lighthouse")
    path.write_text('{"chalcedon": 1, "shapes": [')
    broken = shelf.summary_of(path)
    assert "not valid JSON" in broken.problem and broken.has("low") and not broken.has("buoy")


def test_what_is_kept_holds_until_the_file_changes(tmp_path):
    path = tmp_path / "quay.chal"
    save_scene(Scene([Circle()]), path)
    assert shelf.kept_summary(path) is None
    one = shelf.summary_of(path)
    shelf.keep_summary(one, b"picture")
    assert shelf.kept_summary(path) == one and shelf.kept_file(path, ".png").read_bytes() == b"picture"
    os.utime(path, ns=(one.changed + 1, one.changed + 1))
    assert shelf.kept_summary(path) is None and shelf.kept_summary(path, stale=True) == one
    path.unlink()
    assert shelf.kept_summary(path) is None and shelf.kept_summary(path, stale=True) == one
    shelf.kept_file(path, ".json").write_text('{"path": 3}')
    assert shelf.kept_summary(path, stale=True) is None, "what is broken there is no summary"


def test_only_the_latest_are_kept(tmp_path, monkeypatch):
    monkeypatch.setattr(shelf, "MOST_KEPT", 2)
    for i in range(4):
        path = tmp_path / f"{i}.chal"
        save_scene(Scene(), path)
        shelf.keep_summary(shelf.summary_of(path), b"")
        os.utime(shelf.kept_file(path, ".json"), (i, i))
    shelf.thin_kept()
    kept = [i for i in range(4) if shelf.kept_summary(tmp_path / f"{i}.chal") is not None]
    assert kept == [2, 3] and len(list(shelf.cache_folder().iterdir())) == 4
