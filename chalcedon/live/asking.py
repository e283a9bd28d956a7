"""The formulas of responses, worked out when they are asked for."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.names import Bound, Names, back
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.formula.program import Program, compiled
from chalcedon.formula.types import NUMBER, TEXT
from chalcedon.live.events import Event
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene.responses import FACTS

if TYPE_CHECKING:
    from chalcedon.live.live import Live

WORDS = ("key", "target", "name")
NUMBERS = tuple(name for name in FACTS if name not in WORDS)


class _EventNames(Names):
    """The names of a formula, and `event` beside them."""

    def __init__(self, live: Live, node: Node) -> None:
        super().__init__(live.display, node)
        self.live = live

    def _find(self, path: tuple[str, ...]) -> Bound:
        if path[0] != "event":
            return super()._find(path)
        live, parent = self.live, self.node.parent
        word = path[1] if len(path) == 2 else ""
        if word in ("x", "y"):
            return Bound(NUMBER, lambda: back(parent, live.display.across(live.event_place()))["xy".index(word)], ())
        if word in NUMBERS:
            return Bound(NUMBER, lambda: getattr(live.event, word), ())
        if word in WORDS:
            return Bound(TEXT, lambda: getattr(live.event, word), ())
        values = (live.event.values or {}) if live.event is not None else {}
        if word in values:
            kind = NUMBER if isinstance(values[word], int | float) else TEXT
            return Bound(kind, lambda: (live.event.values or {})[word], ())
        raise ValueProblem(f"an event has no {word or 'value by itself'}.", hint=nearest(word, (*NUMBERS, *WORDS)))


class Asking:
    """Works out formulas at the run's moment, for an owner and an event."""

    def __init__(self, live: Live) -> None:
        self._live = live
        self._ready: dict[tuple[str, int], tuple[Program, list[Any]]] = {}

    def forget(self) -> None:
        """To be called when names may mean something else than before."""
        self._ready.clear()

    def work_out(self, text: str, owner: str, event: Event | None) -> Any:
        """What a formula of a shape ("" for the scene) comes to. Raises FormulaProblem."""
        live = self._live
        node = live.node(owner)
        live.event = event  # type: ignore[assignment]
        key = text, id(node)
        found = self._ready.get(key)
        if found is None or (event is not None and event.values):
            names = _EventNames(live, node)
            program = compiled(text, names)
            if program.memories:
                raise FormulaProblem("a response can't remember.", "follow, spring and the like belong into values.")
            found = program, [names.find(path).get for path in program.reads]
            self._ready[key] = found
        program, gets = found
        try:
            values = [get() for get in gets]
        except FormulaProblem:
            raise
        except ValueProblem as problem:
            raise FormulaProblem(problem.message, problem.hint, 0, len(text)) from None
        return program.run(values)

    def given(self, value: Any, owner: str, event: Event | None) -> Any:
        """A value of a response, formulas worked out."""
        if isinstance(value, Formula):
            return self.work_out(value.text, owner, event)
        if isinstance(value, tuple):
            return tuple([self.given(v, owner, event) for v in value])
        return value
