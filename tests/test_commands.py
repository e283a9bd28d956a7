"""The command line, run as a person runs it, and the library without Qt."""

import json
import os
import shlex
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner
from PySide6.QtGui import QColor, QImage

import chalcedon
from chalcedon.__main__ import cli
from chalcedon.files import save_scene
from chalcedon.scene import Rect, Scene


@pytest.fixture
def scene_file(tmp_path):
    path = tmp_path / "a.chal"
    run("new", str(path), "--demo", "harbour")
    return path


def run(*args, code=0):
    """The command in a process of its own: no traceback, whatever happens."""
    done = subprocess.run([sys.executable, "-m", "chalcedon", *args], capture_output=True, text=True, timeout=120)
    assert "Traceback" not in done.stderr, done.stderr
    assert done.returncode == code, done.stderr
    return done


def test_render_hit_check_new(scene_file, tmp_path):
    out = tmp_path / "a.png"
    run("render", str(scene_file), str(out), "--scale", "0.5")
    assert (QImage(str(out)).width(), QImage(str(out)).height()) == (480, 300)
    hits = json.loads(run("hit", str(scene_file), "710", "118").stdout)
    assert hits[0]["id"] == "disc" and set(hits[0]) == {"id", "part", "distance"}
    assert "give either X and Y" in run("hit", str(scene_file), "5", code=2).stderr
    points = tmp_path / "p.json"
    points.write_text("[[710, 118], [698, 118], [-500, 3]]")
    rows = json.loads(run("hit", str(scene_file), "--points", str(points)).stdout)
    assert rows[0] == hits and rows[2] == []
    assert rows[1][0]["distance"] == pytest.approx(4, abs=0.02)
    assert run("check", str(scene_file)).stdout == ""
    run("new", str(scene_file), code=2)


def test_problems_are_sentences_with_exit_status(scene_file, tmp_path):
    bad = scene_file.read_text().replace('"radius":48', '"radius":"x"')
    scene_file.write_text(bad)
    line = next(i for i, text in enumerate(bad.splitlines(), 1) if '"radius":"x"' in text)
    found = run("check", str(scene_file), code=1).stdout
    assert f"line {line}, disc.radius: 'x' is not a number" in found
    scene_file.write_text(bad[:500])
    assert "cut off" in run("check", str(scene_file), code=2).stderr
    assert "cut off" in run("render", str(scene_file), str(tmp_path / "o.png"), code=2).stderr
    assert "no such file" in run("hit", "none.chal", "1", "2", code=2).stderr
    assert "no demo harbor" in run("new", str(tmp_path / "b.chal"), "--demo", "harbor", code=2).stderr
    assert "give either X and Y" in run("hit", str(scene_file), "5", code=2).stderr
    points = tmp_path / "p.json"
    points.write_text("[[1]]")
    run("new", str(tmp_path / "c.chal"))
    assert "points can't be read" in run("hit", str(tmp_path / "c.chal"), "--points", str(points), code=2).stderr


def test_scenes_are_listed_put_on_a_sheet_and_packed(tmp_path):
    for name, size, when in (("pier", (300, 200), 2e9), ("net", (64, 128), 1e9)):
        save_scene(Scene([Rect(id=f"{name}_1"), Rect()], size=size), tmp_path / f"{name}.chal")
        os.utime(tmp_path / f"{name}.chal", (when, when))
    (tmp_path / "odd.chal").write_text("{")
    rows = [line.split("\t") for line in run("shelf", str(tmp_path)).stdout.splitlines()]
    assert [Path(row[0]).stem for row in rows] == ["net", "odd", "pier"] and "not valid JSON" in rows[1][1]
    bytes_ = str((tmp_path / "net.chal").stat().st_size)
    assert rows[0][1:] == ["64x128", "2", bytes_, "2001-09-09"] and rows[2][1:3] == ["300x200", "2"]
    newest = [Path(line.split("\t")[0]).stem for line in run("shelf", str(tmp_path), "--newest").stdout.splitlines()]
    assert newest == ["odd", "pier", "net"] or newest == ["pier", "odd", "net"]
    assert "net.chal" in run("shelf", str(tmp_path), "--search", "net_1").stdout
    assert run("shelf", str(tmp_path), "--search", "zzz", code=1).stdout == ""
    files, out = [str(tmp_path / f"{n}.chal") for n in ("pier", "gone", "net")], tmp_path / "sheet.png"
    said = run("sheet", *files, str(out), "--columns", "3", "--px", "100").stderr
    assert "gone.chal" in said and "no such file" in said and 320 <= QImage(str(out)).width() <= 400
    assert "Give 1 to 400" in run("sheet", str(out), code=2).stderr
    assert run("pack", files[0], str(tmp_path / "pier.zip")).stderr == ""
    assert "ZIP" in run("pack", files[0], str(tmp_path / "pier.tar"), code=2).stderr


def test_every_command_has_help():
    for name in (None, *cli.commands):
        result = CliRunner().invoke(cli, [name, "--help"] if name else ["--help"])
        assert result.exit_code == 0 and "Usage" in result.output


def test_the_library_needs_no_qt(tmp_path):
    code = f"""
import sys
sys.modules["PySide6"] = None
import chalcedon as c
scene = c.Scene(size=(100, 100))
moon = scene.add(c.Circle(id="moon", at=(50, 50), radius=20))
moon.radius = 30
assert [h.id for h in c.hit_test(scene, 75, 50)] == ["moon"]
scene.add(c.parse_line("rect 40 40 20 20 fill none pointer all"))
hit = c.hit_test(scene, 45, 50)[0]
assert (hit.id, hit.part, hit.local) == ("rect", "fill", (5.0, 10.0)) and hit.distance == 5
c.save(scene, {str(tmp_path / "x.chal")!r})
assert c.open({str(tmp_path / "x.chal")!r}).equals(scene)
assert c.probe(c.HitTester(scene), 90, 50)[0].reason == "off by 10.0"
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr


def test_the_tour_writes_everything_it_says(scene_file, tmp_path):
    said = run("tour", str(scene_file), str(tmp_path / "out")).stdout
    for name in ("picture.png", "hits.json", "reloaded.chal"):
        assert (tmp_path / "out" / name).stat().st_size > 1000 and name in said


def test_without_a_display_the_window_says_what_works():
    env = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run(
        [sys.executable, "-m", "chalcedon", "desk"], capture_output=True, text=True, env=env, timeout=60
    )
    assert done.returncode == 2 and "`chalcedon render`" in done.stderr and "Traceback" not in done.stderr


def test_two_versions_are_compared_in_words_and_in_a_picture(scene_file, tmp_path):
    other = tmp_path / "b.chal"
    other.write_text(scene_file.read_text().replace('"radius":48', '"radius":40'))
    out = tmp_path / "c.png"
    assert run("diff", str(scene_file), str(scene_file)).stdout == ""
    assert run("diff", str(scene_file), str(other), "--picture", str(out), code=1).stdout == "disc: radius 48 → 40\n"
    both = QImage(str(out))
    assert both.width() > 2 * 960 and both.height() > 600
    row = [QColor(both.pixel(x, 28 + 118)) for x in range(both.width())]
    marks = [x for x, c in enumerate(row) if c.red() > 160 and c.green() < 110 and c.blue() < 90]
    left, right = 24 + 742, 24 + 960 + 24 + 742  # the middle of the disc on either page
    for place in (left - 48, left + 48, right - 40, right + 40):
        assert min(abs(x - place) for x in marks) <= 2, (place, marks)
    assert "End the name in .png" in run("diff", str(scene_file), str(other), "--picture", "c.jpg", code=2).stderr
    new = run("diff", os.devnull, str(other), code=1).stdout
    assert "moon is new: a group" in new and "disc" not in new
    assert "no such file" in run("diff", str(scene_file), "none.chal", code=2).stderr


def git(folder, *args, code=0):
    names = ["-c", "user.name=keeper", "-c", "user.email=keeper@harbour.example"]
    done = subprocess.run(["git", *names, *args], cwd=folder, capture_output=True, text=True, timeout=120)
    assert done.returncode == code, done.stdout + done.stderr
    return done.stdout


@pytest.mark.skipif(shutil.which("git") is None, reason="git isn't there")
def test_version_control_compares_and_merges_scenes(tmp_path):
    """With the drivers that the guide tells."""
    guide = (Path(__file__).parent.parent / "docs" / "guide.md").read_text()
    lines = [line.removeprefix("$ ") for line in guide.splitlines() if line.startswith("$ ")]
    assert len(lines) == 4
    program = f"{shlex.quote(sys.executable)} -m chalcedon"
    git(tmp_path, "init", "-q", "-b", "main")
    for line in lines:
        command = line.replace("chalcedon diff", f"{program} diff").replace("chalcedon merge", f"{program} merge")
        subprocess.run(command, shell=True, cwd=tmp_path, check=True)
    file = tmp_path / "quay.chal"
    scene = chalcedon.Scene([chalcedon.Circle(id="moon", radius=20), chalcedon.Rect(id="quay")])
    chalcedon.save(scene, str(file))
    git(tmp_path, "add", "quay.chal", ".gitattributes")
    git(tmp_path, "commit", "-qm", "A quay")
    git(tmp_path, "checkout", "-qb", "evening")
    scene["moon"].radius = 30
    chalcedon.save(scene, str(file))
    assert git(tmp_path, "diff").strip() == "moon: radius 20 → 30"
    git(tmp_path, "commit", "-qam", "Evening")
    git(tmp_path, "checkout", "-q", "main")
    scene["moon"].radius = 20
    scene["quay"].size = (300, 40)
    chalcedon.save(scene, str(file))
    git(tmp_path, "commit", "-qam", "A longer quay")
    git(tmp_path, "merge", "-q", "-m", "Both", "evening")
    merged = chalcedon.open(str(file))
    assert merged["moon"].radius == 30 and merged["quay"].size == (300, 40)
    git(tmp_path, "checkout", "-qb", "night", "HEAD~1")
    merged["moon"].radius = 10
    chalcedon.save(merged, str(file))
    git(tmp_path, "commit", "-qam", "Night")
    git(tmp_path, "merge", "-q", "evening", code=1)
    kept = chalcedon.open(str(file))
    assert kept["moon"].radius == 10 and kept["moon"].note == "merge: radius is 10 here and 30 in the other version."


@pytest.mark.parametrize(("name", "kind"), [("boat", "no suffix"), ("boat.xyz", ".xyz"), ("boat.", "no suffix")])
def test_what_is_no_kind_of_file_is_named(scene_file, tmp_path, name, kind):
    done = CliRunner().invoke(cli, ["convert", str(scene_file), str(tmp_path / name)])
    assert isinstance(done.exception, chalcedon.ChalcedonError) or done.exit_code == 2
    said = str(done.exception) + done.output
    assert f"{kind} is no kind of file that is written." in said and ".chal for a scene" in said
    assert not (tmp_path / name).exists()
