"""Saving can't destroy, and loses nothing about a file without a word."""

import errno
import os
import signal
import stat
import subprocess
import sys
import time

import pytest

from chalcedon.files import open_scene, save_scene
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Scene


@pytest.fixture
def saved(tmp_path):
    path = tmp_path / "a.chal"
    assert save_scene(Scene([Circle(id="c")]), path) == []
    return path


def names(folder):
    return sorted(p.name for p in folder.iterdir())


def test_the_old_file_is_kept_as_a_backup_with_its_permissions(saved):
    first = saved.read_bytes()
    os.chmod(saved, 0o640)
    scene = Scene([Circle(id="c", radius=5)])
    assert save_scene(scene, saved) == []
    assert saved.with_name("a.chal~").read_bytes() == first
    assert stat.S_IMODE(saved.stat().st_mode) == 0o640
    assert open_scene(saved).scene.equals(scene)
    assert names(saved.parent) == ["a.chal", "a.chal~"], "nothing else is left behind"


def test_a_new_file_has_the_usual_permissions(tmp_path):
    before = os.umask(0o027)
    try:
        save_scene(Scene(), tmp_path / "a.chal")
    finally:
        os.umask(before)
    assert stat.S_IMODE((tmp_path / "a.chal").stat().st_mode) == 0o640


@pytest.mark.parametrize(
    ("call", "number", "text"),
    [("fsync", errno.ENOSPC, "the disk is full"), ("replace", errno.EIO, "Input/output"), ("link", None, "")],
)
def test_a_failing_disk_leaves_the_old_file(saved, monkeypatch, call, number, text):
    before = saved.read_bytes()

    def fail(*args, **more):
        raise OSError(number or errno.EPERM, os.strerror(number or errno.EPERM))

    monkeypatch.setattr(os, call, fail)
    if number is None:  # no hard links there: the backup is copied
        save_scene(Scene(), saved)
        assert saved.with_name("a.chal~").read_bytes() == before
        return
    with pytest.raises(ChalcedonError, match=text):
        save_scene(Scene([Circle()]), saved)
    monkeypatch.undo()
    assert saved.read_bytes() == before and not [n for n in names(saved.parent) if n.endswith(".part")]


def test_what_stands_where_the_backup_or_a_temporary_file_goes(saved, tmp_path):
    saved.with_name("a.chal~").mkdir()
    before, elsewhere = saved.read_bytes(), tmp_path / "elsewhere"
    saved.with_name(".a.chal.old").symlink_to(elsewhere)  # where an earlier version put the backup first
    save_scene(Scene(), saved)
    assert saved.with_name("a.chal~2").read_bytes() == before
    assert not elsewhere.exists(), "nothing is written through a link that leads nowhere"
    os.rmdir(saved.with_name("a.chal~"))
    saved.with_name("a.chal~").symlink_to(elsewhere)
    save_scene(Scene(), saved)
    assert not elsewhere.exists() and not saved.with_name("a.chal~").is_symlink()


def test_links_stay_links_and_other_names_are_told_of(saved, tmp_path):
    link = tmp_path / "link.chal"
    link.symlink_to("a.chal")
    scene = Scene([Circle(id="d")])
    assert save_scene(scene, link) == []
    assert link.is_symlink() and open_scene(saved).scene.equals(scene)
    os.link(saved, tmp_path / "other.chal")
    (lost,) = save_scene(Scene(), saved)
    assert "hard links" in lost and open_scene(tmp_path / "other.chal").scene.equals(scene)
    assert save_scene(Scene(), saved) == []
    dangling = tmp_path / "new.chal"
    dangling.symlink_to("b.chal")
    save_scene(scene, dangling)
    assert dangling.is_symlink() and (tmp_path / "b.chal").exists()


def test_attributes_and_owner_are_kept_or_their_loss_is_said(saved, monkeypatch):
    try:
        os.setxattr(saved, "user.project", b"quay")
    except OSError:
        pytest.skip("this file system keeps no extended attributes")
    assert save_scene(Scene(), saved) == [] and os.getxattr(saved, "user.project") == b"quay"

    def refuse(*args):
        raise OSError(errno.EPERM, "no")

    monkeypatch.setattr(os, "setxattr", refuse)
    monkeypatch.setattr(os, "chown", refuse)
    real = os.stat

    def foreign(path, *args, **more):
        about = real(path, *args, **more)
        if str(path).endswith("a.chal"):
            return os.stat_result((*about[:4], about.st_uid + 1, *about[5:]))
        return about

    monkeypatch.setattr(os, "stat", foreign)
    assert [t.split(" could")[0] for t in save_scene(Scene(), saved)] == [
        "Its owner",
        "Its extended attribute user.project",
    ]


@pytest.mark.skipif(os.geteuid() != 0, reason="only root gives files away")
def test_root_keeps_the_owner(saved):
    os.chown(saved, 12345, 23456)
    assert save_scene(Scene(), saved) == []
    assert (saved.stat().st_uid, saved.stat().st_gid) == (12345, 23456)


def test_what_is_no_file_is_refused_before_anything_is_written(saved, tmp_path):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    before = names(tmp_path)
    for target, text in (
        (pipe, "a device or a pipe"),
        ("/dev/null", "a device or a pipe"),
        (tmp_path, "this is a folder"),
        (tmp_path / "none" / "a.chal", "no such folder"),
        (saved / "a.chal", "not a folder"),
        (str(tmp_path / "a\0b"), "NUL"),
        (tmp_path / ("é" * 125), "too long: 250 bytes"),
        (tmp_path / "\ud800", "half a character"),
    ):
        with pytest.raises(ChalcedonError, match=text):
            save_scene(Scene(), target)
    assert names(tmp_path) == before
    save_scene(Scene(), tmp_path / ("x" * 225))


def test_what_killed_savings_left_is_cleared_up(saved, tmp_path):
    code = f"""
import os, chalcedon
os.fsync = lambda handle: (print("there", flush=True), __import__("time").sleep(60))
chalcedon.save(chalcedon.Scene(), {str(saved)!r})
"""
    process = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE)
    process.stdout.readline()
    save_scene(Scene(), saved)
    assert any(n.endswith(".part") for n in names(tmp_path)), "a saving that still runs is left alone"
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    time.sleep(0.05)
    save_scene(Scene(), saved)
    assert names(tmp_path) == ["a.chal", "a.chal~"]
