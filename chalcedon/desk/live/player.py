"""What drives the run of an open scene: the clock, and which mode the desk is in."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.moment import Moment
from chalcedon.hit import HitTester
from chalcedon.live.events import Event, Item
from chalcedon.live.live import STEP, Live

if TYPE_CHECKING:
    from chalcedon.live.recording import Recording

SPEEDS = (0.25, 0.5, 1.0, 2.0, 4.0)
MOST_LATE = 4
"""Steps that one turn of the clock makes up for; what is later is left out."""
RANGE = 10.0
"""Seconds that the line of time shows at first."""


class Player(QObject):
    """The clock of one document. In Build the scene stands at a time; in Live it runs."""

    switched = Signal()
    """Build became Live, or the other way round; or the clock was started or stopped."""
    moved = Signal()
    """The time is another."""
    gone_to = Signal(str)
    """A response asked for another scene of the folder; by its name."""
    failed = Signal(str)
    """A response, or what a program does, went wrong: a sentence, once for each run."""

    def __init__(self, display: DisplayList, tester: HitTester, parent: QObject) -> None:
        super().__init__(parent)
        self.display, self.tester = display, tester
        self.live: Live | None = None
        self.playing = False
        self.speed = 1.0
        self._last = 0.0
        self._due = 0.0
        self._replayed: list[Item] = []
        self._next = ""
        self._told = 0
        """Faults of the run that have been told."""
        self.doors: list[Callable[[Live], object]] = []
        """Called with every run that begins."""
        self.sources: list[Callable[[Live], object]] = []
        """Called before every step: what gives the run what came from elsewhere."""
        self.dropped = 0
        """Steps that came too late and were left out."""
        self._timer = QTimer(self)
        self._timer.setTimerType(Qt.TimerType.PreciseTimer)
        self._timer.setInterval(round(STEP * 1000))
        self._timer.timeout.connect(self._tick)

    @property
    def time(self) -> float:
        """Seconds at which the scene stands."""
        return self.display.moment.time

    @property
    def range(self) -> float:
        """Seconds that the line of time shows."""
        shown = RANGE
        while shown < self.time:
            shown *= 2
        return shown

    # modes

    def enter(self, play: bool = True) -> None:
        """Has the scene live, and the clock run."""
        if self.live is None:
            start = self.display.moment
            self.live, self._told = Live(self.display, tester=self.tester), 0
            self.live.on("goto", self._go_to)
            for door in self.doors:
                door(self.live)
            if start.frame:
                self.live.seek(start.time)
        if play:
            self.play()
        else:
            self.switched.emit()

    def leave(self) -> None:
        """Goes back to the scene as it is built."""
        self.pause()
        self._replayed = []
        if self.live is not None:
            live, self.live = self.live, None
            live.detach()
            self.display.update()
        self.switched.emit()
        self.moved.emit()

    def toggle(self) -> None:
        """Build becomes Live, Live becomes Build."""
        if self.live is None:
            self.enter()
        else:
            self.leave()

    # the clock

    def play(self) -> None:
        """Starts the clock; in Build the scene comes alive first."""
        if self.live is None:
            self.enter()
            return
        self.playing = True
        self._last, self._due = time.perf_counter(), 0.0
        self._timer.start()
        self.switched.emit()

    def pause(self) -> None:
        """Stops the clock; the run stays where it is."""
        self.playing = False
        self._timer.stop()
        self.switched.emit()

    def toggle_clock(self) -> None:
        """Starts the clock or stops it."""
        if self.playing:
            self.pause()
        else:
            self.play()

    def step(self) -> None:
        """One step, with the clock standing."""
        self.pause()
        if self.live is None:
            self.enter(play=False)
        assert self.live is not None
        self.live.past.cut()
        self.live.advance()
        self._after()

    def zero(self) -> None:
        """Back to time 0: of a run, to its beginning."""
        if self.live is not None:
            self.live.reset()
            self.display.update()
        else:
            self._stand_at(0.0)
        self.moved.emit()

    def seek(self, seconds: float) -> None:
        """Goes to a time. Raises ChalcedonError for one that can't be reached."""
        if self.live is not None:
            self.live.seek(max(0.0, seconds))
            self.display.update()
        else:
            self._stand_at(max(0.0, seconds))
        self.moved.emit()

    def _stand_at(self, seconds: float) -> None:
        frame = round(seconds / STEP)
        self.display.to(Moment(time=frame * STEP, frame=frame))
        self.display.update()

    def set_speed(self, speed: float) -> None:
        """How fast the clock goes; 1 is as time does."""
        self.speed = speed
        self.switched.emit()

    def _tick(self) -> None:
        live = self.live
        if live is None:
            return
        now = time.perf_counter()
        self._due += (now - self._last) * self.speed * live.speed
        self._last = now
        steps = int(self._due / STEP)
        if steps <= 0:
            return
        self._due -= steps * STEP
        most = max(1, round(MOST_LATE * max(1.0, self.speed * live.speed)))
        if steps > most:
            self.dropped += steps - most
            steps, self._due = most, 0.0
        live.past.cut()
        for _ in range(steps):
            self._feed()
            live.advance()
        self._after()

    def _after(self) -> None:
        live = self.live
        assert live is not None
        wants, live.wants = live.wants, ""
        if wants == "stop":
            self.pause()
        elif wants == "start" and not self.playing:
            self.play()
        elif wants == "reset":
            live.reset()
        self.moved.emit()
        new, self._told = live.faults[self._told :], len(live.faults)
        for sentence in new:
            self.failed.emit(sentence)
        name, self._next = self._next, ""
        if name:
            self.gone_to.emit(name)

    def _go_to(self, event: Event) -> None:
        self._next = str((event.values or {}).get("scene", ""))

    def replay(self, recording: Recording) -> None:
        """Begins anew and runs through a recording, as fast as the clock goes."""
        if self.live is None:
            self.enter(play=False)
        assert self.live is not None
        self.live.reset()
        self.live.seed = recording.seed
        self._replayed = list(recording.items)
        self.play()

    def _feed(self) -> None:
        """What a recording has for the next step."""
        live = self.live
        assert live is not None
        for source in self.sources:
            source(live)
        while self._replayed and self._replayed[0].frame <= live.state.frame + 1:
            live.come_in(self._replayed.pop(0))

    # what a person does to the run

    def take(self, what: str, *said: Any, **more: Any) -> None:
        """Has something come into the run: pointer_move, key_down, ... While the clock stands nothing does."""
        if self.live is not None and self.playing:
            getattr(self.live, what)(*said, **more)

    def try_response(self, id: str, number: int) -> None:
        """Has a response of a shape be done; in Build the scene comes alive for it."""
        if self.live is None or not self.playing:
            self.play()
        assert self.live is not None
        self.live.try_response(id, number)
