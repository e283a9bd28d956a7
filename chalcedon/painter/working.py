"""The helper that writes what takes long, a program of its own: pictures of large scenes, frames of a run, sheets.

    python -m chalcedon.painter.working

On its standard input stands a line of JSON, the order, and then the scene as its file would be. It says how far it is
({"at", "of"}), and at the end {"done", "notes"} or {"failed"}: sentences.
"""

from __future__ import annotations

import sys
from typing import Any

import orjson

from chalcedon.files.reader import read_scene
from chalcedon.painter.frames import Take, write_frames
from chalcedon.painter.pictures import Wanted, write_picture
from chalcedon.painter.sheet import write_sheet
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene


def main(data: bytes) -> None:
    """Does what the module says."""
    first, _, rest = data.partition(b"\n")
    order: dict[str, Any] = orjson.loads(first)
    try:
        notes = DOES[order["do"]](order, rest)
    except ChalcedonError as problem:
        _say({"failed": problem.sentence})
    except (MemoryError, RecursionError):
        _say({"failed": "There is not enough memory for that. Make it smaller."})
    else:
        _say({"done": order["name"], "notes": notes})


def order(do: str, name: str, scene: bytes = b"", **more: Any) -> bytes:
    """What `main` takes: `name` is what is written, as it is told."""
    return orjson.dumps({"do": do, "name": name, **more}) + b"\n" + scene


def _scene(order: dict[str, Any], data: bytes) -> Scene:
    scene = read_scene(data).scene
    scene.folder = order["folder"]
    return scene


def _picture(order: dict[str, Any], data: bytes) -> list[str]:
    scene = _scene(order, data)
    wanted = order["wanted"]
    only = tuple(scene[id] for id in wanted.pop("only"))
    return write_picture(scene, order["out"], Wanted(only=only, **wanted))


def _frames(order: dict[str, Any], data: bytes) -> list[str]:
    from chalcedon.live import Live
    from chalcedon.live.recording import check_fits, read_recording

    scene, recording = _scene(order, data), None
    if order["recording"]:
        recording = read_recording(order["recording"])
        check_fits(recording, scene)
    live = Live(scene, seed=0 if recording is None else recording.seed)
    write_frames(live, order["out"], Take(*order["take"]), recording, _progress)
    return []


def _sheet(order: dict[str, Any], data: bytes) -> list[str]:
    write_sheet(order["files"], order["out"], order["columns"], order["cell"], _progress)
    return []


DOES = {"picture": _picture, "frames": _frames, "sheet": _sheet}


def _progress(at: int, of: int) -> None:
    _say({"at": at, "of": of})


def _say(line: dict[str, Any]) -> None:
    sys.stdout.buffer.write(orjson.dumps(line) + b"\n")
    sys.stdout.buffer.flush()


if __name__ == "__main__":
    main(sys.stdin.buffer.read())
