"""Programs that edit, save and keep a journal, killed at random instants: a whole version opens, a moment is lost."""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import time
from pathlib import Path

from chalcedon.files import open_scene, recovery, save_scene
from chalcedon.scene import Circle, Scene

LOST = 1.0
"""Seconds of work that a kill may take."""
EDITOR = """
import sys, time, json, random
from pathlib import Path
from chalcedon.files.journal import Journal
from chalcedon.files.seen import open_seen, save_seen
from chalcedon.scene import Rect
path, seed = Path(sys.argv[1]), int(sys.argv[2])
opened, seen = open_seen(path)
scene, chance = opened.scene, random.Random(seed)
journal, moon = Journal(scene, path, "a", seen), scene["moon"]
n = int(moon.radius)
while True:
    n += 1
    with scene.step("Grow", gesture="drag" if chance.random() < 0.7 else None):
        moon.radius = n
        if chance.random() < 0.1:
            scene.add(Rect(note="x" * chance.choice((1, 100_000))))
    if chance.random() < 0.03:
        journal.settle()
        _, seen = save_seen(scene, path)
        scene.history.mark_saved()
        journal.mark_saved(path, seen)
    print(json.dumps([n, time.time()]), flush=True)
    time.sleep(chance.choice((0, 0.001, 0.02)))
"""


def run(seed: int, count: int, folder: Path) -> list[str]:
    """Kills `count` programs at work on a file in a folder, which is to be empty. Gives what was wrong after each."""
    os.environ["XDG_STATE_HOME"] = str(folder / "state")
    path, failures = folder / "a.chal", []
    save_scene(Scene([Circle(id="moon", radius=1)]), path)
    for number in range(count):
        chance = random.Random(seed * 10**6 + number)
        program = subprocess.Popen(
            [sys.executable, "-c", EDITOR, str(path), str(seed + number)], stdout=subprocess.PIPE, text=True
        )
        assert program.stdout is not None
        said = [program.stdout.readline()]
        time.sleep(chance.uniform(0, 1.6))
        program.kill()
        at = time.time()
        said += program.stdout.readlines()
        program.stdout.close()
        program.wait()
        done = [json.loads(line) for line in said if line.endswith("]\n")]
        failures += [f"kill {number}: {text}" for text in _wrong(path, [n for n, when in done if when < at - LOST])]
    return failures


def _wrong(path: Path, safe: list[int]) -> list[str]:
    """What is wrong with a file and its journal when the steps `safe` were done long enough before."""
    held = int(open_scene(path).scene["moon"].radius)  # raises when it is no whole version
    found = recovery.kept()
    out = []
    if len(found) > 1:
        out.append(f"{len(found)} entries were kept")
    for entry in found:
        opened = entry.open()
        scene = opened.scene
        if opened.notices or opened.problems:
            out.append(f"opened with {[*opened.notices, *map(str, opened.problems)]}")
        last = held = max(held, int(scene["moon"].radius))
        while scene.undo():
            if not 0 < scene["moon"].radius <= last:
                out.append("undoing doesn't lead back")
            last = int(scene["moon"].radius)
        entry.remove()
    if safe and held < safe[-1]:
        out.append(f"step {safe[-1]} was done {LOST} s before, {held} is the last that is kept")
    return out
