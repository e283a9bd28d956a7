"""What came in and where the run was, so that time can be wound back: snapshots once a second, and the record."""

from __future__ import annotations

import bisect
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.cells import Part
from chalcedon.live.events import Item
from chalcedon.live.state import State
from chalcedon.problems import ValueProblem

if TYPE_CHECKING:
    from chalcedon.live.live import Live

EVERY = 60
"""Steps between two snapshots."""
MOST_SNAPSHOTS = 600
"""Snapshots that are kept; of older ones every second goes, so that any time can still be reached."""
FARTHEST = 36_000
"""Steps that are gone through to reach a time: ten minutes."""


@dataclass(slots=True)
class Snapshot:
    """A run as it was before a step."""

    frame: int
    state: State
    memories: dict[tuple[str, tuple[int, ...], str], list[Any]]
    part: float
    speed: float
    logged: int


class Rewinding:
    """The past of a run."""

    def __init__(self, live: Live) -> None:
        self._live = live
        self.items: list[Item] = []
        """All that came in, by step."""
        self._snapshots: list[Snapshot] = []

    def forget(self) -> None:
        """Lets the past go."""
        self.items, self._snapshots = [], []
        for _key, parts in self._memories():
            for part in parts:
                for memory in part.memories:
                    memory.restore((-1, None, None))

    def came(self, items: list[Item]) -> None:
        """Takes down what is handled at this step."""
        if not self._live.replaying:
            self.items.extend(items)

    def _memories(self) -> Iterator[tuple[tuple[str, tuple[int, ...], str], list[Part]]]:
        for cell in self._live.display.formulas.every():
            if cell.remembers:
                yield (cell.node.shape.id, cell.node.copy, cell.name), cell.parts

    def keep_when_due(self) -> None:
        """Takes a snapshot before a step, when it is time for one."""
        live = self._live
        frame = live.state.frame
        if frame % EVERY or (self._snapshots and self._snapshots[-1].frame >= frame):
            return
        memories = {key: [m.kept() for p in parts for m in p.memories] for key, parts in self._memories()}
        self._snapshots.append(Snapshot(frame, live.state.kept(), memories, 0.0, live.speed, len(live.log)))
        if len(self._snapshots) > MOST_SNAPSHOTS:
            self._snapshots = self._snapshots[: MOST_SNAPSHOTS // 2 : 2] + self._snapshots[MOST_SNAPSHOTS // 2 :]

    @property
    def stateless(self) -> bool:
        """Whether a moment of the run follows from its time alone."""
        live = self._live
        return not self.items and not live.watching.any and not any(True for _ in self._memories())

    def seek(self, seconds: float) -> None:
        """See Live.seek."""
        live = self._live
        if not 0 <= seconds <= 1e6:
            raise ValueProblem(f"{seconds:g} s is no time of a run.", hint="Times go from 0 to 1,000,000 s.")
        frame = live.frames(seconds)
        if self.stateless:
            live.state.frame = frame
            live.load(live.state)
            return
        self._check(frame)
        if frame < live.state.frame:
            self._back_to(frame)
        self._on_to(frame)

    def _check(self, frame: int) -> None:
        """Raises ValueProblem for a step that is too far from any that is known."""
        known = [s.frame for s in self._snapshots if s.frame <= frame]
        start = self._live.state.frame if self._live.state.frame <= frame else max(known, default=0)
        start = max([start, *known])
        if frame - start > FARTHEST:
            seconds = FARTHEST // 60
            raise ValueProblem(
                f"that is more than {seconds} s from anything that this run has been through.",
                hint="A scene that remembers is gone through step by step; go there in parts.",
            )

    def _back_to(self, frame: int) -> None:
        live = self._live
        found = [s for s in self._snapshots if s.frame <= frame]
        if not found:
            self._restore(Snapshot(0, State(), {}, 0.0, 1.0, 0))
        else:
            self._restore(found[-1])
        self._snapshots = found
        while len(live.log) and live.log[-1].frame > live.state.frame:
            live.log.pop()

    def _restore(self, snapshot: Snapshot) -> None:
        live = self._live
        for key, parts in self._memories():
            kept = iter(snapshot.memories.get(key, ()))
            for part in parts:
                for memory in part.memories:
                    memory.restore(next(kept, (-1, None, None)))
        live.speed = snapshot.speed
        live.load(snapshot.state.kept())

    def _on_to(self, frame: int) -> None:
        """Goes on, with what came in then."""
        live = self._live
        live.replaying = True
        pending, live._queue = live._queue, []
        try:
            at = bisect.bisect_right(self.items, live.state.frame, key=lambda i: i.frame)
            while live.state.frame < frame:
                following = live.state.frame + 1
                while at < len(self.items) and self.items[at].frame == following:
                    live._queue.append(self.items[at])
                    at += 1
                live._step()
        finally:
            live.replaying = False
            live._queue = pending

    def cut(self) -> None:
        """Another future begins here: what came in after now is forgotten."""
        frame = self._live.state.frame
        self.items = [i for i in self.items if i.frame <= frame]
