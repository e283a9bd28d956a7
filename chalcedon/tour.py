"""The whole round without a screen: rendered, hit, saved, reloaded, compared, and run through its recording."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import orjson

from chalcedon.files import open_scene, save_scene
from chalcedon.hit import HitTester
from chalcedon.live.recording import first_difference, log_lines, read_recording, replay
from chalcedon.painter.export import write_png
from chalcedon.painter.pictures import write_picture
from chalcedon.painter.render import render_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

GRID = 24
"""Hit-test points across the page; the same distance is kept down it."""


def tour(file: str, folder: Path) -> Iterator[str]:
    """Writes picture.png, hits.json, reloaded.chal, run.png and run.log to `folder`; yields a sentence for each.

    Raises ChalcedonError when the reloaded scene differs from the one that was saved, or a run from its log.
    """
    scene = open_scene(file).scene
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise ChalcedonError(f"the folder can't be made: {error.strerror}.", str(folder)) from None
    yield f"Opened {file}: {len(scene)} shapes on a page of {scene.size[0]:g} x {scene.size[1]:g}."

    picture = folder / "picture.png"
    write_picture(scene, picture)
    yield f"Rendered it to {picture.resolve()}."

    width, height = scene.size
    step = width / GRID
    points = [(step * (i + 0.5), step * (j + 0.5)) for j in range(int(height / step)) for i in range(GRID)]
    tester = HitTester(scene)
    rows = [
        {"x": x, "y": y, "hits": [{"id": h.id, "part": h.part, "distance": h.distance} for h in tester.hit_test(x, y)]}
        for x, y in points
    ]
    hits = folder / "hits.json"
    hits.write_bytes(orjson.dumps(rows, option=orjson.OPT_INDENT_2))
    on = {h["id"] for row in rows for h in row["hits"]}  # type: ignore[attr-defined]
    yield f"Hit-tested {len(points)} points, {len(on)} shapes hit: {hits.resolve()}."

    saved = folder / "reloaded.chal"
    save_scene(scene, saved)
    again = open_scene(saved)
    if again.problems or not again.scene.equals(scene):
        raise ChalcedonError("the reloaded scene differs from the one that was saved.", str(saved))
    yield f"Saved and reloaded it, equal in every value: {saved.resolve()}."
    yield from _played(Path(file), scene, folder)


def _played(file: Path, scene: Scene, folder: Path) -> Iterator[str]:
    """Runs a scene through the recording beside its file, if there is one, and checks the log of the run."""
    recording, expected = file.with_suffix(".jsonl"), file.with_suffix(".log")
    if not recording.exists():
        return
    live = replay(scene, read_recording(recording))
    lines = log_lines(live.log)
    log, picture = folder / "run.log", folder / "run.png"
    log.write_text("".join(f"{line}\n" for line in lines))
    write_png(str(picture), lambda: render_image(live.display))
    different = first_difference(lines, expected.read_text().splitlines()) if expected.exists() else ""
    if different:
        raise ChalcedonError(f"the run is another than {expected.name} says: {different}", str(log.resolve()))
    told = f"as {expected.name} says" if expected.exists() else "with no log to compare it with"
    yield f"Ran through {recording.name}, {live.time:.1f} s and {len(lines)} events, {told}: {picture.resolve()}."
