"""Recordings: what came into a run, as a file of JSON lines.

    {"chalcedon recording": 1, "scene": "harbour.chal", "step": 0.016666666666666666, "seed": 7, "steps": 600}
    {"frame": 12, "move": {"pointer": 1, "kind": "mouse", "x": 480, "y": 300}}
    {"frame": 90, "input": {"name": "tide", "value": 0.4}}

The first line says what it is of, how long a step is in seconds, and how many steps there were. Every other line is one
thing that came in: `frame` is the step at which it was handled, counted from 1, and the other key says what it was.
Places are in px of the page, from its top left. The log of a run has a line for every event in the same way.
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from pathlib import Path
from typing import Any, NamedTuple

import orjson

from chalcedon.live.events import NUMBERED, Event, Item, counts
from chalcedon.live.live import STEP, Live
from chalcedon.problems import ChalcedonError, nearest, shorten
from chalcedon.scene import Scene

VERSION = 1
WHAT: dict[str, tuple[str, ...]] = {
    "move": ("x", "y"),
    "down": ("x", "y"),
    "up": ("x", "y"),
    "leave": (),
    "cancel": (),
    "wheel": ("x", "y"),
    "keydown": ("key",),
    "keyup": ("key",),
    "focus": ("target",),
    "input": ("name", "value"),
    "emit": ("name",),
    "try": ("target",),
}
"""What can come in, and what has to be said of it."""
MOST_STEPS = 1_000_000


class Recording(NamedTuple):
    """What came into a run."""

    items: tuple[Item, ...]
    steps: int
    seed: int = 0
    scene: str = ""


def recording_of(live: Live, scene: str = "") -> Recording:
    """What came into a run so far."""
    return Recording(tuple(live.past.items), live.state.frame, live.seed, scene)


def write_recording(recording: Recording, path: str | Path) -> None:
    """Writes a recording to a file."""
    head = {"chalcedon recording": VERSION, "scene": recording.scene, "step": STEP}
    head.update({"seed": recording.seed, "steps": recording.steps})
    lines = [head, *({"frame": i.frame, i.what: dict(i.said)} for i in recording.items)]
    Path(path).write_bytes(b"".join(orjson.dumps(line) + b"\n" for line in lines))


def read_recording(path: str | Path) -> Recording:
    """Reads a recording. Raises ChalcedonError naming the first line that isn't right."""
    try:
        raw = Path(path).read_bytes()
    except OSError as error:
        raise ChalcedonError(f"it can't be read ({error.strerror}).", str(path)) from None
    lines = [line for line in raw.split(b"\n") if line.strip()]
    head = _line(lines[0], f"{path}:1") if lines else {}
    if head.get("chalcedon recording") != VERSION:
        raise ChalcedonError("this is no recording of a scene.", f"{path}:1", "Its first line says what it is.")
    if abs(float(head.get("step", STEP)) - STEP) > 1e-9:
        raise ChalcedonError(f"its steps of {head['step']:g} s aren't 1/60 s.", f"{path}:1")
    items = [_item(_line(line, f"{path}:{n}"), f"{path}:{n}") for n, line in enumerate(lines[1:], 2)]
    for n, (one, following) in enumerate(pairwise(items), 3):
        if following.frame < one.frame:
            raise ChalcedonError(f"step {following.frame} comes after step {one.frame}.", f"{path}:{n}")
    steps = head.get("steps", items[-1].frame if items else 0)
    if type(steps) is not int or not 0 <= steps <= MOST_STEPS:
        raise ChalcedonError(f"{shorten(steps)} is no number of steps.", f"{path}:1", f"At most {MOST_STEPS}.")
    return Recording(tuple(items), steps, int(head.get("seed", 0)), str(head.get("scene", "")))


def _line(raw: bytes, where: str) -> dict[str, Any]:
    try:
        found = orjson.loads(raw)
    except orjson.JSONDecodeError as error:
        raise ChalcedonError(f"this line is not JSON ({error.msg}).", where) from None
    if not isinstance(found, dict):
        raise ChalcedonError(f"{shorten(found)} is no line of a recording.", where)
    return found


def _item(line: dict[str, Any], where: str) -> Item:
    kinds = [k for k in line if k != "frame"]
    if len(kinds) != 1 or kinds[0] not in WHAT:
        known = nearest(str(kinds[0]), WHAT) if kinds else ""
        raise ChalcedonError("this line does not say one thing that came in.", where, known)
    frame, said = line.get("frame"), line[kinds[0]]
    if type(frame) is not int or not 1 <= frame <= MOST_STEPS:
        raise ChalcedonError(f"{shorten(frame)} is no step.", where, "Steps count from 1.")
    if not isinstance(said, dict):
        raise ChalcedonError(f"{shorten(said)} says nothing of {kinds[0]}.", where)
    if not isinstance(said.get("values", {}), dict):
        raise ChalcedonError(f"{shorten(said['values'])} are no values of an event.", where, 'Write {"level": 0.5}.')
    for name in WHAT[kinds[0]]:
        value = said.get(name)
        if name in ("x", "y") and not (isinstance(value, int | float) and abs(value) <= 1e9):
            raise ChalcedonError(f"{kinds[0]} has no {name}.", where)
        if name in ("key", "target", "name") and not isinstance(value, str):
            raise ChalcedonError(f"{kinds[0]} has no {name}.", where)
    for name in NUMBERED:
        if name in said and not counts(said[name]):
            raise ChalcedonError(f"{shorten(said[name])} is no number of a {name}.", where)
    return Item(frame, kinds[0], tuple((k, tuple(v) if isinstance(v, list) else v) for k, v in said.items()))


def check_fits(recording: Recording, scene: Scene) -> None:
    """Raises ChalcedonError for a recording that speaks of what the scene hasn't, naming the first."""
    for item in recording.items:
        where = f"step {item.frame}"
        if item.what == "input":
            try:
                scene.inputs.worked_out(item.get("name")).read(item.get("value"))
            except ChalcedonError as problem:
                raise ChalcedonError(f"{problem.message}", where, problem.hint) from None
        elif item.what in ("focus", "try") and item.get("target") and item.get("target") not in scene:
            raise ChalcedonError(f"there is no shape {item.get('target')}.", where)


def replay(scene: Scene, recording: Recording, inputs: Iterable[tuple[str, Any]] = ()) -> Live:
    """Runs a scene through a recording, to its end. Raises ChalcedonError when it doesn't fit the scene."""
    check_fits(recording, scene)
    live = Live(scene, recording.seed)
    for name, value in inputs:
        live.set_input(name, value)
    at = 0
    while live.state.frame < recording.steps:
        while at < len(recording.items) and recording.items[at].frame == live.state.frame + 1:
            live.come_in(recording.items[at])
            at += 1
        live.advance()
    return live


def log_lines(log: Iterable[Event]) -> list[str]:
    """The log of a run, a line of JSON for each event."""
    return [orjson.dumps(event.said(), option=orjson.OPT_SERIALIZE_NUMPY).decode() for event in log]


def first_difference(found: list[str], expected: list[str]) -> str:
    """A sentence about the first line in which two logs differ; empty when none does."""
    for n, (mine, theirs) in enumerate(zip(found, expected, strict=False), 1):
        if mine != theirs:
            return f"line {n}: {mine} instead of {theirs}"
    if len(found) != len(expected):
        shared = min(len(found), len(expected))
        more, rest = ("more", found) if len(found) > shared else ("fewer", expected)
        return f"line {shared + 1}: {more} events than expected, first {rest[shared]}"
    return ""
