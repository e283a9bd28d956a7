"""What takes long is written by a helper beside the window, which shows how far it is and can end it."""

from __future__ import annotations

from collections import deque
from typing import Any

from PySide6.QtCore import QObject, Signal

from chalcedon.desk.helper import Helper
from chalcedon.desk.session import Session

MOST_TOLD = 4


class Working(QObject):
    """One piece of work at a time; others wait."""

    changed = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.session = session
        self.helper = Helper(self._said, self._over, self)
        self.name = ""
        """What is being written; "" when nothing is."""
        self.at = self.of = 0
        """How far it is; zeros while that isn't known."""
        self._waiting: deque[tuple[str, bytes]] = deque()

    def begin(self, name: str, order: bytes) -> None:
        """Has an order (`painter/working.py`) carried out, after those before it."""
        self._waiting.append((name, order))
        if not self.name:
            self._next()

    def cancel(self) -> None:
        """Ends what is being written, and goes on with what waits."""
        if self.name:
            name = self.name
            self.helper.stop()
            self.session.say(f"{name} was not written: it was cancelled.")
            self._next()

    def end(self) -> None:
        """Ends all of it, unsaid."""
        self._waiting.clear()
        self.helper.stop()
        self.name = ""

    def _next(self) -> None:
        self.name, self.at, self.of = "", 0, 0
        self._answered = False
        if self._waiting:
            self.name, order = self._waiting.popleft()
            self.helper.start("chalcedon.painter.working", data=order)
        self.changed.emit()

    def _said(self, line: dict[str, Any]) -> None:
        if "of" in line:
            self.at, self.of = line["at"], line["of"]
            self.changed.emit()
        elif "failed" in line:
            self._answered = True
            self.session.say(line["failed"], "problem")
        else:
            self._answered = True
            say_done(self.session, f"Wrote {line['done']}.", line["notes"])

    def _over(self) -> None:
        if not self._answered:
            self.session.say(f"{self.name} was not written: the program that writes it ended.", "problem")
        self._next()


def say_done(session: Session, done: str, notes: list[str]) -> None:
    """Says that a picture was made, and what it shows otherwise than the scene."""
    told = " ".join(f"{note[:1].upper()}{note[1:]}." for note in notes[:MOST_TOLD])
    more = f" And {len(notes) - MOST_TOLD} more." if len(notes) > MOST_TOLD else ""
    session.say(f"{done} {told}{more}".strip(), "problem" if notes else "note")
