"""A scene that runs, without a screen.

    live = chalcedon.Live(chalcedon.open("harbour.chal"), seed=7)
    live.inputs["tide"] = 0.4
    live.on("lit", lambda event: print(event.time, event.values))
    for i in range(600):
        live.pointer_move(480 + i, 300)
        live.advance()
    print(live.value("boat", "at"), [hit.id for hit in live.hits(500, 300)])

A run moves in steps of 1/60 s. What comes in between two steps is handled at the next, in order of arrival, so that a
run follows from the scene, the seed and what came in: it can be recorded, repeated, and wound back.
"""

from __future__ import annotations

import importlib
import logging
import re
from collections import deque
from collections.abc import Callable
from typing import Any

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.moment import Moment
from chalcedon.evaluate.node import Node
from chalcedon.hit import HitTester
from chalcedon.hit.tester import Hit
from chalcedon.live.asking import Asking
from chalcedon.live.doing import Doing
from chalcedon.live.dragging import Dragging
from chalcedon.live.events import BUBBLES, Event, Item
from chalcedon.live.incoming import Incoming
from chalcedon.live.pointing import Pointing
from chalcedon.live.rewinding import Rewinding
from chalcedon.live.state import State
from chalcedon.live.watching import Watching
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Scene, Shape
from chalcedon.scene.axes import is_up
from chalcedon.scene.edits import DropRaw, Edit, KeepRaw, SetValue

STEP = 1 / 60
"""Seconds of a step."""
EMITTED = "*"
"""Under what name the handlers of all that is emitted are kept."""
MOST_FAULTS = 200
"""Faults of a run that are written down."""
MOST_EVENTS = 1000
"""Events that responses may emit in one step."""
LONGEST_LOG = 100_000
"""Events that are remembered; the oldest go first."""
Handler = Callable[[Event], object]
log = logging.getLogger(__name__)
_NUMBERS = re.compile(r"\d[\d.e+-]*")


class Live(Incoming):
    """A run of a scene. It changes nothing in the scene; `keep` makes an undo step of what it came to."""

    def __init__(self, scene: Scene | DisplayList, seed: int = 0, tester: HitTester | None = None) -> None:
        self.display = scene if isinstance(scene, DisplayList) else DisplayList(scene)
        self._owns = self.display is not scene
        self.scene = self.display.scene
        self.tester = tester or HitTester(self.scene, self.display)
        self._own_tester = tester is None
        self.seed = seed
        self.state = State()
        self.event: Event = Event("start", "")
        """The event that is being answered."""
        self.log: deque[Event] = deque(maxlen=LONGEST_LOG)
        """What has happened, oldest first."""
        self.faults: list[str] = []
        """Sentences about what went wrong in the run: responses and handlers that failed. Those that differ only in
        their numbers are one."""
        self._kinds_of_faults: set[str] = set()
        self.speed = 1.0
        """How fast a clock that drives the run should go; set by responses."""
        self.wants = ""
        """What a response asked of the clock: start, stop or reset. Whoever drives the run takes it away."""
        self.changed = False
        self.stopped = False
        self.replaying = False
        self._queue = []
        self._handlers: dict[str, list[Handler]] = {}
        self._emitted: deque[tuple[Event, bool]] = deque()
        self._emitted_in_step = 0
        self._part = 0.0
        self.asking, self.doing, self.pointing = Asking(self), Doing(self), Pointing(self)
        self.dragging, self.watching, self.past = Dragging(self), Watching(self), Rewinding(self)
        self.scene.observers.append(self._note)
        self._to_moment()
        self.display.update()  # chance is that of the seed from the beginning

    def detach(self) -> None:
        """Ends the run: lets go of what it was on, and of the scene."""
        self.scene.observers.remove(self._note)
        if self._own_tester:
            self.display.readers.remove(self.tester.index.follow)
        self._clear_display()
        self.display.to(Moment())
        if self._owns:
            self.display.detach()

    def _note(self, edit: Edit) -> None:
        if not isinstance(edit, SetValue | DropRaw | KeepRaw):
            self.asking.forget()
        if not isinstance(edit, SetValue) or edit.name in ("responses", "inputs"):
            self.watching.forget()
            self.asking.forget()
            self._kinds_of_faults.clear()  # what is still wrong is said again
        self.changed = True

    # going on

    @property
    def time(self) -> float:
        """Seconds since the run began."""
        return self.state.frame * STEP

    @property
    def frame(self) -> int:
        """Steps since then."""
        return self.state.frame

    @property
    def upward(self) -> bool:
        """Whether y runs up in the scene."""
        return is_up(self.scene)

    def frames(self, seconds: float) -> int:
        """How many steps some seconds are."""
        return round(seconds / STEP)

    def advance(self, seconds: float | None = None) -> int:
        """Goes on by one step, or by as many as fit into some seconds; what is left of these counts next time. Gives
        how many steps there were."""
        if seconds is None:
            self._step()
            return 1
        if not 0 <= seconds <= 3600:
            raise ValueProblem(f"{seconds:g} seconds can't be gone on by.", hint="Give 0 to 3600.")
        self._part += seconds
        steps = int(self._part / STEP + 1e-9)
        self._part -= steps * STEP
        for _ in range(steps):
            self._step()
        return steps

    def _step(self) -> None:
        state = self.state
        self.past.keep_when_due()
        state.frame += 1
        self._emitted_in_step = 0
        items, self._queue = [i._replace(frame=state.frame) for i in self._queue], []
        self.past.came(items)
        if state.frame == 1:
            self.watching.started()
        for item in items:
            self._handle(item)
        self.watching.step()
        self.doing.go_on()
        self._answer_emitted()
        self._to_moment()
        self.display.update()
        self._look_again()

    def _handle(self, item: Item) -> None:
        if item.what == "input":
            self.state.inputs[item.get("name")] = item.get("value")
            self.changed = True
        elif item.what == "try":
            self._try(item.get("target"), item.get("number"))
        elif item.what == "emit":
            self.emit(item.get("name"), dict(item.get("values", {})), told=False)
        else:
            self.refresh()  # what is hit is what the event before left
            self.pointing.handle(item)
        self._answer_emitted()

    def _look_again(self) -> None:
        """Shapes may have moved under a pointer that rests."""
        for pointer in list(self.state.pointers.values()):
            if pointer.inside and not pointer.captured:
                self.pointing.look(pointer)
        self._answer_emitted()
        self.refresh()

    def refresh(self) -> None:
        """Evaluates what the run has set since."""
        if self.changed:
            self._to_moment()
            self.display.update()

    def _to_moment(self) -> None:
        """Has the display list be at the moment that the run is at."""
        state, before = self.state, self.display.moment
        self.changed = False
        main = state.pointers.get(state.leading)
        hovered = frozenset(id for p in state.pointers.values() for id in p.path)
        pressed = frozenset(id for p in state.pointers.values() if p.buttons for id in p.down_path)
        dragged = frozenset(p.drag for p in state.pointers.values() if p.dragging)
        overrides = before.overrides if before.overrides == state.overrides else dict(state.overrides)
        self.display.to(
            Moment(
                time=state.frame * STEP,
                frame=state.frame,
                seconds=STEP,
                running=True,
                pointer=(main.x, main.y) if main is not None else None,
                down=bool(main and main.buttons),
                pressure=main.pressure if main is not None else 0.0,
                inside=bool(main and main.inside),
                keys=frozenset(state.keys),
                seed=self.seed,
                inputs=before.inputs if before.inputs == state.inputs else dict(state.inputs),
                hovered=hovered,
                pressed=pressed,
                dragged=dragged,
                overrides=overrides,
            )
        )

    def _try(self, id: str, number: int) -> None:
        owner = self.scene.get(id) if id else self.scene
        told = owner._values.get("responses", ()) if owner is not None else ()
        if number < len(told):
            box = self.node(id).bounds() if id else (0.0, 0.0, *self.scene.size)
            x, y = self.display.across(((box[0] + box[2]) / 2, (box[1] + box[3]) / 2))
            event = Event(told[number].on, id, (id,), self.time, self.state.frame, x, y)
            self.log.append(event)
            self.answer(id, number, event)

    # events

    def on(self, name: str, handler: Handler) -> Callable[[], None]:
        """Has a function be called with every event of a name: click, enter, ..., or one that a response emits. Gives
        what takes it off again. What a handler raises is written to `faults`; the others are called all the same."""
        self._handlers.setdefault(name, []).append(handler)
        return lambda: self._handlers[name].remove(handler)

    def on_emitted(self, handler: Handler) -> Callable[[], None]:
        """Has a function be called with every event that a response of the scene emits, whatever its name. Gives what
        takes it off again."""
        return self.on(EMITTED, handler)

    def send(self, name: str, target: str, path: tuple[str, ...], **said: Any) -> None:
        """Dispatches an event: to the target, then along the path; at last to the handlers of the program."""
        event = Event(name, target, path, self.time, self.state.frame, **said)
        self.log.append(event)
        way = path if name in BUBBLES else path[:1]
        self.stopped = False
        for id in way:
            self._respond(id, event)
            if self.stopped:
                break
        self._call_handlers(event)

    def _respond(self, id: str, event: Event) -> None:
        owner = self.scene.get(id) if id else self.scene
        if owner is None:
            return  # it went meanwhile
        for number, response in enumerate(owner._values.get("responses", ())):
            if response.on == event.name and (
                response.detail in ("", event.key) or event.name not in ("keydown", "keyup")
            ):
                self.answer(id, number, event)

    def answer(self, id: str, number: int, event: Event) -> None:
        """Does what a response says, if its condition holds."""
        owner = self.scene.get(id) if id else self.scene
        responses = owner._values.get("responses", ()) if owner is not None else ()
        if number >= len(responses):
            return
        response = responses[number]

        def answered() -> None:
            if response.condition and not self.asking.work_out(response.condition, id, event):
                return
            for act in response.do:
                self.doing.act(act, id, event)
                self.refresh()  # the next act sees what this one did

        self.guarded(answered, id, response.on)

    def guarded(self, what: Callable[[], object], id: str, word: str) -> None:
        """Does something of a shape; a mistake is written down and nothing else stops."""
        try:
            what()
        except ChalcedonError as problem:
            self._fault(f"{id or 'scene'}, on {word}: {problem}")

    def _fault(self, sentence: str) -> None:
        kind = _NUMBERS.sub("0", sentence)
        if kind not in self._kinds_of_faults and len(self.faults) < MOST_FAULTS:
            self._kinds_of_faults.add(kind)
            self.faults.append(sentence)
            log.warning("%s", sentence)

    def _call_handlers(self, event: Event, name: str = "") -> None:
        if self.replaying:
            return  # what handlers did is in the record
        for handler in list(self._handlers.get(name or event.name, ())):
            try:
                handler(event)
            except Exception as error:
                what = f"{type(error).__name__}: {error}"
                self._fault(f"{event.target or 'scene'}, on {event.name}: a handler of the program failed ({what}).")

    def emit(self, name: str, values: dict[str, Any] | None = None, origin: str = "", told: bool = True) -> None:
        """Has an event of a name of one's own happen; responses to it are done after what is being done now. `told` is
        whether those of `on_emitted` hear of it."""
        self._emitted_in_step += 1
        if self._emitted_in_step > MOST_EVENTS:
            if self._emitted_in_step == MOST_EVENTS + 1:
                self._fault(
                    f"{origin or 'scene'}: more than {MOST_EVENTS} events were emitted in one step; the rest is left."
                )
            return
        event = Event(name, origin, (), self.time, self.state.frame, values=dict(values or {}))
        self._emitted.append((event, told))

    def _answer_emitted(self) -> None:
        while self._emitted:
            event, told = self._emitted.popleft()
            self.log.append(event)
            for id, number in self.watching.of_event(event.name):
                self.answer(id, number, event)
            self._call_handlers(event)
            if told:
                self._call_handlers(event, EMITTED)

    def listens(self, id: str) -> bool:
        """Whether a shape answers keys or the focus."""
        told = self.scene[id]._values.get("responses", ()) if id in self.scene else ()
        return any(r.on in ("keydown", "keyup", "focus", "blur") for r in told)

    # asking

    def node(self, id: str) -> Node:
        """The node of a shape, or for "" that of the scene. Raises ValueProblem."""
        return self.display.nodes(self.scene[id])[0] if id else self.display.root

    def event_place(self) -> tuple[float, float]:
        """Where the event that is being answered was, in the scene's coordinates."""
        return self.event.x, self.event.y

    def value(self, shape: Shape | str, name: str) -> Any:
        """What a property of a shape comes to now; of "" one of the scene. Raises ValueProblem."""
        id = shape if isinstance(shape, str) else shape.id
        if not id:
            self.scene.declared(name)
            return self.display.page.get(name, self.scene.properties[name].default)
        self.scene[id].declared(name)
        return self.node(id).value(name)

    def hits(self, x: float, y: float) -> list[Hit]:
        """The shapes at a place in the scene's coordinates, front to back."""
        return self.tester.hit_test(*self.display.across((x, y)))

    @property
    def cursor(self) -> str:
        """The CSS cursor of what the pointer is on."""
        main = self.state.pointers.get(1)
        if main is None:
            return "auto"
        for id in main.path:
            shape = self.scene.get(id)
            if shape is not None and shape.cursor != "auto":
                return str(shape.cursor)
            if shape is not None and shape.dragging != "none":
                return "grabbing" if main.dragging else "grab"
        return "auto"

    def picture(self, scale: float = 1.0) -> Any:
        """What the run looks like now, as an array of height × width × 4 bytes (red, green, blue, alpha). Needs Qt."""
        export = importlib.import_module("chalcedon.painter.export")  # nothing else here needs Qt
        return export.rgba_array(self.display, scale)

    # the run as a whole

    def seek(self, seconds: float) -> None:
        """Goes to another time of the run: back by its snapshots, forward step by step. Raises ValueProblem for times
        that can't be reached."""
        self.past.seek(seconds)

    def reset(self) -> None:
        """Begins anew: the scene as it is built, at time 0. What was recorded is forgotten."""
        self.past.forget()
        self.load(State())
        self._queue, self._part = [], 0.0
        self.log.clear()

    def load(self, state: State) -> None:
        """Takes another state of the run for its own."""
        self._clear_display()
        self.state = state
        for one in state.placed:
            if one.shape in self.scene:
                self.display.place(self.scene[one.shape], one.serial, {"at": one.at})
        self.display.arrange(state.orders)
        self._to_moment()
        self.display.update()

    def _clear_display(self) -> None:
        for one in self.state.placed:
            self.display.take_away(one.serial)
        self.display.arrange({})

    def keep(self) -> list[str]:
        """Takes what the run has set into the scene as one undo step: values, inputs, order. Gives the ids of the
        shapes that have other values now. Copies that were put down stay with the run."""
        scene, state = self.scene, self.state
        kept = []
        with scene.step("Keep what the run came to"):
            for name, value in state.inputs.items():
                if name in scene.inputs:
                    scene.inputs.set(name, value)
            for (id, name), value in state.overrides.items():
                if id in scene and name in scene[id].properties:
                    scene.set(scene[id], name, value)
                    kept.append(id)
            self._keep_orders()
        return list(dict.fromkeys(kept))

    def _keep_orders(self) -> None:
        scene, orders = self.scene, self.state.orders
        for parent in {scene[id].parent for id in orders if id in scene}:
            if parent is None:
                continue
            stated = {s.id: float(i) for i, s in enumerate(parent.children)}
            for index, shape in enumerate(sorted(parent.children, key=lambda s: orders.get(s.id, stated[s.id]))):
                scene.move(shape, parent, index)

    @property
    def has_kept_values(self) -> bool:
        """Whether there is anything that `keep` would take."""
        return bool(self.state.overrides or self.state.inputs or self.state.orders)
