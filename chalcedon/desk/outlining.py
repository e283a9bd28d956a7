"""The commands that work on outlines, acting on the selection: shape algebra, strokes and offsets as paths."""

from __future__ import annotations

from PySide6.QtCore import QObject

from chalcedon.desk.messages import MessageBar
from chalcedon.desk.session import Session
from chalcedon.scene import Shape

OFFSET = 10.0
"""Scene px that an offset starts with."""


class Outlining(QObject):
    def __init__(self, session: Session, messages: MessageBar) -> None:
        super().__init__()
        self.session, self.messages = session, messages

    def combine(self, operation: str) -> None:
        from chalcedon.evaluate.algebra import combined

        made: list[Shape] = []
        with self.session.step(""):
            made.append(combined(self.session.display, self.session.selection, operation))
        self._show(made)

    def stroke(self) -> None:
        from chalcedon.evaluate.algebra import stroke_as_path

        made: list[Shape] = []
        chosen = list(self.session.selection)
        with self.session.step("" if len(chosen) == 1 else "Outline strokes"):
            made += [stroke_as_path(self.session.display, shape) for shape in chosen]
        self._show(made)

    def to_path(self) -> None:
        from chalcedon.evaluate.algebra import as_path

        made: list[Shape] = []
        chosen = list(self.session.selection)
        with self.session.step("" if len(chosen) == 1 else "Make paths") as scene:
            made += [as_path(scene, self.session.node(shape)) for shape in chosen]
        self._show(made)

    def offset(self) -> None:
        """Asks how far, and shows the offset while the number is typed."""
        from chalcedon.evaluate.algebra import offset_path

        shape = self.session.current
        if shape is None:
            return
        gesture = object()

        def attempt(distance: float) -> None:
            self.session.take_back(gesture)
            if distance == 0.0 or shape.scene is not self.session.scene:
                return
            with self.session.step("", gesture):
                offset_path(self.session.display, shape, distance)

        self.messages.ask_number(
            f"Offset {shape.id} by how many px? Below 0 goes inward.",
            OFFSET,
            attempt,
            lambda: self.session.take_back(gesture),
        )

    def _show(self, made: list[Shape]) -> None:
        alive = [s for s in made if s.scene is self.session.scene]
        if alive:
            self.session.select(alive)
            self.session.say(f"{self.session.scene.undo_name}.")
