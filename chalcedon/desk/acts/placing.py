"""The commands that line the selected shapes up. The shape selected last stays and gives edge, size and place."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject

from chalcedon.craft import align
from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.session import Session

GAP = 20.0
"""Scene px that a gap starts with."""


class Placing(QObject):
    def __init__(self, session: Session, messages: MessageBar) -> None:
        super().__init__()
        self.session, self.messages = session, messages

    def align(self, edge: str) -> None:
        self._do(lambda: align.align(self.session.display, self.session.selection, edge), "They are aligned already.")

    def distribute(self, axis: str, by: str) -> None:
        self._do(
            lambda: align.distribute(self.session.display, self.session.selection, axis, by),
            "They are spread evenly already.",
        )

    def gap(self, axis: str) -> None:
        """Asks for the gap, and shows it while the number is typed."""
        gesture = object()
        chosen = list(self.session.selection)

        def attempt(gap: float) -> None:
            self.session.take_back(gesture)
            with self.session.step("", gesture):
                align.distribute(self.session.display, chosen, axis, "gaps", gap)

        way = "across" if axis == "x" else "down"
        self.messages.ask_number(
            f"How many px between them, going {way}?", GAP, attempt, lambda: self.session.take_back(gesture)
        )

    def size(self, which: str) -> None:
        self._do(
            lambda: align.equal_size(self.session.display, self.session.selection, which),
            "They are of one size already.",
        )

    def match(self, which: str) -> None:
        self._do(
            lambda: align.match_position(self.session.display, self.session.selection, which),
            "They are there already.",
        )

    def copies(self) -> None:
        """A copy of every selected shape but the last at each corner of the last."""
        *shapes, host = self.session.selection
        made = []
        with self.session.step(""):
            for shape in shapes:
                made += align.copies_at_corners(self.session.display, shape, host)
        if made and made[0].scene is not None:
            self.session.select(made)
            self.session.say(f"{self.session.scene.undo_name}.")

    def _do(self, act: Callable[[], bool], otherwise: str) -> None:
        changed = None
        with self.session.step(""):
            changed = act()
        if changed is not None:
            self.session.say(f"{self.session.scene.undo_name}." if changed else otherwise)
