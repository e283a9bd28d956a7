"""What responses do, one act after the other. They change the run, never the document."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from chalcedon.formula.easing import easing
from chalcedon.formula.timing import between
from chalcedon.live.events import Event
from chalcedon.live.state import Ease, Later, Placed
from chalcedon.live.targets import Found, find
from chalcedon.problems import ValueProblem
from chalcedon.scene.limits import within
from chalcedon.scene.responses import Act

if TYPE_CHECKING:
    from chalcedon.live.live import Live

MOST_PLACED = 5000
"""Copies of shapes that a run holds at once."""


class Doing:
    """Does acts, and goes on with what they began."""

    def __init__(self, live: Live) -> None:
        self._live = live

    def act(self, act: Act, owner: str, event: Event | None, waited: bool = False) -> None:
        """Does one act of a response of a shape, now or after its delay. Raises ValueProblem."""
        delay = act.get("delay", 0)
        if delay and not waited:
            live = self._live
            live.state.later.append(Later(live.state.frame + live.frames(delay), owner, act, event))
            return
        getattr(self, f"_{act.op}")(act, owner, event)

    def _set(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        found = find(live.scene, act.target, owner)
        value = found.checked(live.asking.given(act.get("to"), owner, event), live)
        self._towards(found, value, act)

    def _add(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        found = find(live.scene, act.target, owner)
        now, by = found.value(live), live.asking.given(act.get("by", 1), owner, event)
        if isinstance(now, tuple) and isinstance(by, tuple) and len(now) == len(by):
            value: Any = tuple(a + b for a, b in zip(now, by, strict=True))
        elif isinstance(now, int | float) and isinstance(by, int | float):
            value = now + by
        else:
            raise ValueProblem(f"nothing can be added to {act.target}.", hint="Numbers and points can.")
        self._towards(found, found.checked(value, live), act)

    def _toggle(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        found = find(live.scene, act.target, owner)
        now = found.value(live)
        if not isinstance(now, bool):
            raise ValueProblem(f"{act.target} is no switch.", hint="Something that is true or false can be toggled.")
        self.put(found, found.checked(not now, live))

    def _next(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        found = find(live.scene, act.target, owner)
        many = list(act.get("of", ())) or list(found.words())
        if not many:
            raise ValueProblem(
                f"there is no list to go through for {act.target}.", hint='Say it: "of": ["red", "green"].'
            )
        values = [found.checked(live.asking.given(v, owner, event), live) for v in many]
        now = found._replace(number=-1).value(live)
        at = values.index(now) + 1 if now in values else 0
        self.put(found, values[at % len(values)])

    def _order(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        id = owner if act.target == "self" else act.target
        shape = live.scene[id]
        siblings = [s.id for s in shape.parent.children] if shape.parent is not None else []
        places = {s: live.state.orders.get(s, float(i)) for i, s in enumerate(siblings)}
        to = act.get("to", "front")
        if to == "front":
            place = max(places.values()) + 1
        elif to == "back":
            place = min(places.values()) - 1
        else:
            if to not in places:
                raise ValueProblem(f"{to} is not beside {id}.", hint="Only shapes of one group can pass each other.")
            above = [p for s, p in places.items() if p > places[to] and s != id]
            place = (places[to] + min(above)) / 2 if above else places[to] + 1
        live.state.orders[id] = place
        live.display.arrange(live.state.orders)

    def _place(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        id = owner if act.target == "self" else act.target
        shape = live.scene[id]
        at = live.asking.given(act.get("at"), owner, event)
        if at is None:
            raise ValueProblem("there is no place to put it.", hint='Say "at": {"formula": "(event.x, event.y)"}.')
        at = shape.declared("at").read(at, id)
        placed = live.state.placed
        own = [p for p in placed if p.shape == id]
        spacing = act.get("spacing", 0)
        if spacing and own and _apart(own[-1].at, at) < spacing:
            return
        if len(placed) >= MOST_PLACED and len(own) < act.get("most", 100):
            raise ValueProblem(f"there are {MOST_PLACED} copies already; no more are put down.")
        live.state.serial += 1
        placed.append(Placed(live.state.serial, id, at))
        live.display.place(shape, live.state.serial, {"at": at})
        for old in own[: max(0, len(own) + 1 - act.get("most", 100))]:
            self.take_away(old)

    def take_away(self, old: Placed) -> None:
        """Takes a copy away again."""
        self._live.state.placed.remove(old)
        self._live.display.take_away(old.serial)

    def _remove(self, act: Act, owner: str, event: Event | None) -> None:
        id = owner if act.target == "self" else act.target
        found = find(self._live.scene, f"{id}.visible", owner)
        self.put(found, False)

    def _emit(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        values = {name: live.asking.given(v, owner, event) for name, v in act.get("values", ())}
        live.emit(act.target, values, owner)

    def _run(self, act: Act, owner: str, event: Event | None) -> None:
        live = self._live
        if act.target == "speed":
            live.speed = act.get("speed", 1)
        else:
            live.wants = act.target

    def _goto(self, act: Act, owner: str, event: Event | None) -> None:
        self._live.emit("goto", {"scene": act.target}, owner)

    def _stop(self, act: Act, owner: str, event: Event | None) -> None:
        self._live.stopped = True

    # values

    def _towards(self, found: Found, value: Any, act: Act) -> None:
        live = self._live
        frames = live.frames(act.get("over", 0))
        if frames <= 0:
            self.put(found, value)
            return
        start = found._replace(number=-1).value(live)
        self._drop_eases(found)
        ease = Ease((found.id, found.name), start, value, live.state.frame, frames, act.get("ease", "ease"))
        live.state.eases.append(ease)

    def put(self, found: Found, value: Any) -> None:
        """Sets a value of the run; what was on its way there stops."""
        self._drop_eases(found)
        self._store((found.id, found.name), value)

    def _drop_eases(self, found: Found) -> None:
        eases = self._live.state.eases
        eases[:] = [e for e in eases if e.target != (found.id, found.name)]

    def _store(self, target: tuple[str, str], value: Any) -> None:
        live = self._live
        if target[0]:
            live.state.overrides[target] = value
        else:
            live.state.inputs[target[1]] = value
        live.changed = True

    def go_on(self) -> None:
        """Takes every value that is on its way one step farther, and does what has waited long enough."""
        live = self._live
        now = live.state.frame
        for waiting in [w for w in live.state.later if w.frame <= now]:
            live.state.later.remove(waiting)
            live.guarded(lambda w=waiting: self.act(w.act, w.owner, w.event, True), waiting.owner, waiting.act.op)  # type: ignore[misc]
        for ease in list(live.state.eases):
            share = (now - ease.first) / ease.frames
            if share >= 1:
                live.state.eases.remove(ease)
                self._store(ease.target, ease.end)
            elif share > 0:
                self._store(ease.target, self._kept_in(ease, between(ease.start, ease.end, easing(ease.how)(share))))

    def _kept_in(self, ease: Ease, value: Any) -> Any:
        """A value that an easing may have swung past what the property allows."""
        shape = self._live.scene.get(ease.target[0])
        return value if shape is None else within(shape.properties[ease.target[1]].kind, value)


def _apart(a: tuple[float, float], b: tuple[float, float]) -> float:
    return float(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5)
