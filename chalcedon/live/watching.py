"""What happens by itself: the start, every step, every so often, conditions that become true, shapes that meet."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from chalcedon.evaluate.node import Node
from chalcedon.geometry.boxes import overlap
from chalcedon.live.events import Event
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Declared
from chalcedon.scene.responses import Response

if TYPE_CHECKING:
    from chalcedon.live.live import Live

Place = tuple[str, int]
"""The id of an owner, "" for the scene, and the number of one of its responses."""


class Watching:
    """Looks after responses that no pointer and no key sets off."""

    def __init__(self, live: Live) -> None:
        self._live = live
        self._found: dict[str, list[tuple[Place, Response]]] | None = None

    def forget(self) -> None:
        """To be called when there may be other responses."""
        self._found = None

    def _all(self) -> dict[str, list[tuple[Place, Response]]]:
        if self._found is None:
            self._found = {}
            scene = self._live.scene
            owners: list[tuple[str, Declared]] = [("", scene), *((s.id, s) for s in scene.walk())]
            for id, owner in owners:
                for number, response in enumerate(owner._values.get("responses", ())):
                    self._found.setdefault(response.on, []).append(((id, number), response))
        return self._found

    def of_event(self, name: str) -> list[Place]:
        """The responses to an emitted event, in paint order after those of the scene."""
        return [place for place, r in self._all().get("event", ()) if r.detail == name]

    def answers(self, name: str) -> bool:
        """Whether anything in the scene answers events of a name."""
        return name in self._all()

    @property
    def any(self) -> bool:
        """Whether anything in the scene answers anything."""
        return bool(self._all())

    def started(self) -> None:
        """The run begins."""
        self._each("start")

    def _each(self, name: str) -> None:
        live = self._live
        places = [place for place, _r in self._all().get(name, ())]
        for id, number in places:
            event = Event(name, id, (), live.time, live.state.frame)
            if name != "step":
                live.log.append(event)
            live.answer(id, number, event)

    def step(self) -> None:
        """One step has come."""
        found = self._all()
        if not found:
            return
        self._each("step")
        frame = self._live.state.frame
        for (id, number), response in list(found.get("every", ())):
            if frame % max(1, self._live.frames(response.detail)) == 0:
                self._tell("every", id, number)
        for (id, number), response in list(found.get("when", ())):
            self._edge("when", id, number, partial(self._live.asking.work_out, response.detail, id, None))
        for name in ("contact", "parting"):
            for (id, number), response in list(found.get(name, ())):
                self._edge(name, id, number, partial(self._as_said, id, response))

    def _as_said(self, id: str, response: Response) -> bool:
        """Whether a shape meets the other, or doesn't, as its response waits for."""
        return self._meet(id, response.detail) == (response.on == "contact")

    def _tell(self, name: str, id: str, number: int) -> None:
        live = self._live
        event = Event(name, id, (), live.time, live.state.frame)
        live.log.append(event)
        live.answer(id, number, event)

    def _edge(self, name: str, id: str, number: int, asked: Callable[[], object]) -> None:
        """Tells when a condition becomes true; at the start of a run a parting that is has not just become."""
        live, key = self._live, (id, number)
        truths = live.state.truths

        def look() -> None:
            now = bool(asked())
            before = truths.get(key, name == "parting")
            truths[key] = now
            if now and not before:
                self._tell(name, id, number)

        live.guarded(look, id, name)

    def _meet(self, id: str, other: str) -> bool:
        """Whether the outlines of two shapes, or of any in groups, overlap."""
        live = self._live
        if other not in live.scene:
            raise ValueProblem(f"there is nothing called {other}.")
        a, b = live.node(id), live.node(other)
        return any(_touch(x, y) for x in a.walk_leaves() for y in b.walk_leaves() if x.visible and y.visible)


def _touch(a: Node, b: Node) -> bool:
    if a is b or not overlap(a.cull, b.cull):
        return False
    from chalcedon.evaluate.hulls import NodeHull  # NumPy, only where it is needed

    return NodeHull(a, a.world).overlaps(NodeHull(b, b.world))
