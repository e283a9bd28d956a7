"""Frames of a run: what is written is what the run looks like at those times."""

import numpy as np
import pytest
from agree import pixels
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image as Pillow
from PySide6.QtGui import QImage

from chalcedon.__main__ import cli
from chalcedon.files import save_scene
from chalcedon.formula import Formula
from chalcedon.live import Live
from chalcedon.live.recording import recording_of, write_recording
from chalcedon.painter import render_image
from chalcedon.painter.frames import MOST_FRAMES, Take, durations, frames, write_frames
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Rect, Scene


def loom():
    scene = Scene([Rect(id="warp", size=(80, 60), fill="#204060")], size=(80, 60))
    scene.add(Circle(id="shuttle", at=(Formula("10 + time * 60"), 30), radius=8, fill="#f0e0b0"))
    scene["shuttle"].responses = [{"on": "click", "do": [{"set": "warp.fill", "to": "#b8482a"}]}]
    return scene


def at(seconds):
    live = Live(loom())
    live.advance(seconds)
    return pixels(render_image(live.display))


@pytest.mark.parametrize("suffix", [".gif", ".webp"])
def test_a_picture_that_moves_holds_the_frames_at_their_times(tmp_path, suffix):
    path = tmp_path / f"loom{suffix}"
    assert write_frames(Live(loom()), str(path), Take(0.2, 1.0, 10)) == 8
    with Pillow.open(path) as found:
        assert (found.n_frames, found.size, found.info["loop"]) == (8, (80, 60), 0)
        for i in (0, 3, 7):
            found.seek(i)
            shown = np.asarray(found.convert("RGB")).astype(int)
            off = np.abs(shown - at(0.2 + i / 10))
            assert off.max() == 0 if suffix == ".webp" else off.mean() < 1, "of a GIF the colours are chosen"


def test_numbered_pictures_and_a_recording(tmp_path):
    save_scene(loom(), tmp_path / "loom.chal")
    live = Live(loom())
    live.advance(0.25)
    live.click(*live.value("shuttle", "at"))
    live.advance(0.5)
    write_recording(recording_of(live), tmp_path / "run.jsonl")
    args = ["frames", str(tmp_path / "loom.chal"), str(tmp_path / "f.png"), "--to", "0.5", "--rate", "4"]
    done = CliRunner().invoke(cli, [*args, "--recording", str(tmp_path / "run.jsonl")], catch_exceptions=False)
    assert done.exit_code == 0 and sorted(p.name for p in tmp_path.glob("*.png")) == ["f-0001.png", "f-0002.png"]
    before, after = (pixels(QImage(str(tmp_path / f"f-000{n}.png"))) for n in (1, 2))
    assert tuple(before[5, 70]) == (0x20, 0x40, 0x60)
    live = Live(loom())
    shown = list(frames(live, Take(0.5, 0.5, 1), recording_of_click()))
    assert tuple(pixels(shown[0])[5, 70]) == (0xB8, 0x48, 0x2A) and after.shape == before.shape


def test_frames_of_chance_have_the_seed_of_the_recording_and_else_0(tmp_path):
    scene = loom()
    scene["shuttle"].at = (Formula('random("shuttle", 5, 75)'), 30)
    save_scene(scene, tmp_path / "loom.chal")
    live = Live(scene, seed=7)
    live.advance(0.5)
    write_recording(recording_of(live), tmp_path / "run.jsonl")
    seen = []
    for seed, more in ((0, []), (7, ["--recording", str(tmp_path / "run.jsonl")])):
        args = ["frames", str(tmp_path / "loom.chal"), str(tmp_path / f"{seed}.png"), "--to", "0.5", "--rate", "2"]
        assert CliRunner().invoke(cli, [*args, *more], catch_exceptions=False).exit_code == 0
        seen.append(pixels(QImage(str(tmp_path / f"{seed}-0001.png"))))
        (expected,) = (pixels(image) for image in frames(Live(scene, seed=seed), Take(0, 0.5, 2)))
        assert np.array_equal(seen[-1], expected)
    assert not np.array_equal(*seen)


def recording_of_click():
    live = Live(loom())
    live.advance(0.25)
    live.click(*live.value("shuttle", "at"))
    live.advance(0.5)
    return recording_of(live)


@given(st.integers(1, 400), st.floats(0.5, 60))
def test_a_gif_keeps_to_its_rate_on_the_whole(count, rate):
    shown = durations(count, rate)
    assert len(shown) == count and all(ms % 10 == 0 and ms > 0 for ms in shown)
    assert abs(sum(shown) - 1000 * count / rate) <= 10


@pytest.mark.parametrize(
    ("path", "take", "says"),
    [
        ("a.mov", Take(), "End the name in"),
        ("a", Take(), "no suffix"),
        ("a.gif", Take(2, 1), "before the beginning"),
        ("a.gif", Take(0, 1, 90), "rate: 90 is not possible"),
        ("a.gif", Take(0, float("nan")), "to: nan"),
        ("a.gif", Take(0, 1e9), "to: 1e"),
        ("a.gif", Take(0, 30_000), "frames are too many"),
        ("a.gif", Take(0, MOST_FRAMES / 60 - 1, 60, 60), "too much"),
        ("none/a.gif", Take(0, 0.1), "none/a.gif"),
    ],
)
def test_what_cannot_be_is_said(tmp_path, monkeypatch, path, take, says):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(ChalcedonError) as problem:
        write_frames(Live(loom()), path, take)
    assert says in str(problem.value) and not list(tmp_path.iterdir())
