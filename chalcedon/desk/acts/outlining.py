"""The commands that work on outlines, acting on the selection: shape algebra, strokes and offsets as paths."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QObject

from chalcedon.craft import points
from chalcedon.desk.canvas.editpoints import EDITABLE, PointsTool
from chalcedon.desk.canvas.widget import Canvas
from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.session import Session
from chalcedon.scene import Group, Image, Polyline, Shape
from chalcedon.scene.order import names_of
from chalcedon.scene.painted import Painted

OFFSET = 10.0
"""Scene px that an offset starts with."""
POLYLINE = 0.5
"""Scene px that the tolerance of a polyline starts with."""
NAMED = 3
"""So many formulas that are given up are named."""
CLOSE_WITHIN = 1.0
"""Px between ends that become one point when an outline is closed."""


class Outlining(QObject):
    def __init__(self, session: Session, canvas: Canvas, messages: MessageBar) -> None:
        super().__init__()
        self.session, self.canvas, self.messages = session, canvas, messages
        canvas.points_asked.connect(self.whole)

    def combine(self, operation: str) -> None:
        from chalcedon.craft.algebra import combined

        made: list[Shape] = []
        formulas = self._formulas()
        with self.session.step(""):
            made.append(combined(self.session.display, self.session.selection, operation))
        self._show(made, formulas)

    def stroke(self) -> None:
        from chalcedon.craft.algebra import stroke_as_path

        made: list[Shape] = []
        chosen = list(self.session.selection)
        with self.session.step("" if len(chosen) == 1 else "Outline strokes"):
            made += [stroke_as_path(self.session.display, shape) for shape in chosen]
        self._show(made)

    def to_path(self) -> None:
        from chalcedon.craft.algebra import as_path

        made: list[Shape] = []
        chosen = list(self.session.selection)
        formulas = self._formulas()
        with self.session.step("" if len(chosen) == 1 else "Make paths") as scene:
            made += [as_path(scene, self.session.node(shape)) for shape in chosen]
        self._show(made, formulas)

    def to_polyline(self) -> None:
        """Asks how far the straight lines may be off, and shows them while the number is typed."""
        from chalcedon.craft.algebra import as_polyline

        gesture = object()
        ids = [s.id for s in self.session.selection]

        def attempt(tolerance: float) -> None:
            self.session.take_back(gesture)
            chosen = [self.session.scene[i] for i in ids if i in self.session.scene]
            made: list[Shape] = []
            with self.session.step("" if len(chosen) == 1 else f"Make {names_of(chosen)} polylines", gesture) as scene:
                made += [as_polyline(scene, self.session.node(s), tolerance) for s in chosen]
            self.session.select([s for s in made if s.scene is self.session.scene] or chosen)

        straight = [s.id for s in self.session.selection if isinstance(s, Polyline) and s.stated("curve") == 0]
        lost = [(i, n) for i, n in self._formulas() if n not in Painted.properties and i not in straight]
        self.messages.ask_number(
            f"How far may the straight lines be from the outline of {names_of(self.session.selection)}, in px?"
            + self._given_up(lost, "then"),
            POLYLINE,
            attempt,
            lambda: self.session.take_back(gesture),
        )

    # points

    def edit_points(self) -> None:
        """Begins to edit the points of the selected shape; other kinds are offered to become a path."""
        shape = self.session.current
        if shape is None:
            return
        if isinstance(shape, EDITABLE):
            self.canvas.edit_points(shape)
            return
        if isinstance(shape, Group | Image):
            self.session.say(f"A {shape.kind} has no points. Select a shape with an outline.", "problem")
            return

        def convert() -> None:
            self.to_path()
            if isinstance(self.session.current, EDITABLE):
                self.canvas.edit_points(self.session.current)

        self.messages.ask(
            f"A {shape.kind} is made by its numbers, not by points. As a path it can be edited point by point.",
            [("Make it a path", convert), ("Leave it", lambda: None)],
        )

    def act(self, what: str) -> None:
        """Does something to the chosen points; on whole outlines when it is meant for those."""
        tool = self.canvas.tool
        if isinstance(tool, PointsTool):
            tool.act(what)
        else:
            self.session.say("No points are being edited. Double-click a path or polyline, or press Shift+E.")

    def delete(self) -> bool:
        """Takes the chosen points away, when there are any."""
        tool = self.canvas.tool
        if isinstance(tool, PointsTool) and tool.chosen:
            tool.act("delete")
            return True
        return False

    def close(self) -> None:
        with self.session.step(f"Close {names_of(self.session.selection)}"):
            for shape in list(self.session.selection):
                points.close(self.session.display, shape, CLOSE_WITHIN)

    def reverse(self) -> None:
        with self.session.step(""):
            points.reverse(self.session.display, list(self.session.selection))

    def join(self) -> None:
        made: list[Shape] = []
        formulas = self._formulas()
        with self.session.step(""):
            made.append(points.join(self.session.display, self.session.selection))
        self._show(made, formulas)

    def whole(self, what: str) -> None:
        {"close": self.close, "reverse": self.reverse}[what]()

    def offset(self) -> None:
        """Asks how far, and shows the offset while the number is typed."""
        from chalcedon.craft.algebra import offset_path

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

    def _formulas(self) -> list[tuple[str, str]]:
        """The ids and names of what formulas give in the selected shapes."""
        within = [shape for chosen in self.session.selection for shape in chosen.walk()]
        return list(dict.fromkeys((s.id, n) for s in within for n in sorted(s._formulas or ())))

    @staticmethod
    def _given_up(lost: Sequence[tuple[str, str]], when: str) -> str:
        some = ", ".join(f"{id}.{name}" for id, name in lost[:NAMED])
        more = f" and {len(lost) - NAMED} more" if len(lost) > NAMED else ""
        return f" Formulas that are plain values {when}: {some}{more}." if lost else ""

    def _show(self, made: list[Shape], formulas: Sequence[tuple[str, str]] = ()) -> None:
        """Selects what was made, and says what was done; and which of `formulas` are values from now on."""
        scene = self.session.scene
        alive = [s for s in made if s.scene is scene]
        if alive:
            self.session.select(alive)
            lost = [(id, n) for id, n in formulas if id not in scene or n not in (scene[id]._formulas or ())]
            self.session.say(f"{scene.undo_name}.{self._given_up(lost, 'now')}")
