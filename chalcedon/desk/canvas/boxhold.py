"""What the pointer does to the box around several shapes, or a group."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from chalcedon.craft.together import Together, box_around, mirror
from chalcedon.desk.canvas import boxhandles
from chalcedon.desk.canvas.carried import FEW, Carried, waiting
from chalcedon.desk.canvas.snapping import EXACT
from chalcedon.desk.canvas.tool import GRAB
from chalcedon.geometry import EMPTY, Box
from chalcedon.geometry.boxes import is_empty
from chalcedon.scene import Group
from chalcedon.scene.axes import is_up
from chalcedon.scene.grips import Point
from chalcedon.scene.order import names_of, outermost
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas


class BoxHold:
    """The box around the selection, and what is done with the handle in hand."""

    def __init__(self, canvas: Canvas) -> None:
        self.canvas, self.session = canvas, canvas.session
        self._box: tuple[object, Box] | None = None  # and what it was found for
        self._together: Together | None = None
        self._handle: boxhandles.Spot = "size", 0
        self.carried: Carried | None = None
        """Many shapes that are sized or turned, as a picture."""
        self._asked: boxhandles.Asked | None = None

    @property
    def box(self) -> Box:
        """The box around several shapes, or a group, that has handles of its own; EMPTY for any other selection."""
        chosen = self.session.selection
        if len(chosen) < 2 and not isinstance(self.session.current, Group):
            return EMPTY
        display = self.session.display
        state = display.version, chosen  # which is replaced, never changed
        if self._box is None or self._box[0] != state:
            nodes = [n for s in outermost(chosen) if (n := display.find(s)) is not None and not n.locked]
            self._box = state, box_around(nodes)
        return self._box[1]

    def spots(self, box: Box | None = None) -> list[tuple[boxhandles.Spot, Point]]:
        """The handles in widget px, of a box that is on its way or as it is; a group is turned by its `turn_stalk`."""
        box = self.box if box is None else box
        if is_empty(box):
            return []
        return boxhandles.spots(box, self.canvas.view, self.canvas.area(), len(self.session.selection) > 1)

    def spot(self, p: Pointer) -> boxhandles.Spot | None:
        """The handle within reach."""
        for spot, (x, y) in self.spots():
            if boxhandles.is_on(spot, x, y, p, self.session.strokes_grow, GRAB):
                return spot
        return None

    def press(self, spot: boxhandles.Spot) -> str:
        """Takes hold of a handle, or does what a press on it does; what is under way then."""
        kind, index = spot
        if kind == "strokes":
            self.session.strokes_grow = not self.session.strokes_grow
            return ""
        if kind == "mirror":
            with self.session.step(""):
                mirror(self.session.display, self.session.selection, "xy"[index])
            return ""
        self._handle = spot
        self._together = Together(self.session.display, self.session.selection)
        self.canvas.snapping.begin(self.session.selection)
        nodes = self._together.nodes
        self.carried = Carried(self.canvas, nodes) if Carried.are_many(nodes, FEW) else None
        return f"box {kind}"

    def drop(self) -> None:
        """Lets go; what is carried as a picture stays as it was."""
        self.carried = self._asked = None

    def put_down(self, gesture: object) -> None:
        """Does to the shapes what was done to their picture."""
        if self.carried is not None and self._asked is not None:
            with waiting():
                self._apply(self._asked, gesture)
        self.drop()

    def _apply(self, asked: boxhandles.Asked, gesture: object) -> None:
        both = self._together
        assert both is not None
        verb = f"{'Rotate' if self._handle[0] == 'turn' else 'Size'} {names_of(both.shapes)}"
        with self.session.step(verb, gesture):
            both.apply(asked.made(), verb, gesture)

    def drag(self, down: Pointer, p: Pointer, numbers: Sequence[float], gesture: object) -> str:
        """Sizes or turns the selection as far as the pointer, or numbers that are typed, say; in a word."""
        both = self._together
        assert both is not None
        if self._handle[0] == "turn":
            asked = boxhandles.turned(both, down, p, numbers)
        else:
            if not p.shift and not numbers:
                p = self._snapped(both, down, p)
            digits = EXACT if p.snapped else self.canvas.view.digits
            grow = self.session.strokes_grow
            asked = boxhandles.sized(both, self._handle[1], down, p, numbers, grow, digits)
        if self.carried is not None:
            self.carried.way, self._asked = asked.way, asked
            self.canvas.update()
        else:
            self._apply(asked, gesture)
        return asked.word

    def step(self, index: int, dx: float, dy: float) -> None:
        """Moves a handle of the size by so many scene px, without a pointer."""
        both = Together(self.session.display, self.session.selection)
        left, top, right, bottom = both.box
        fx, fy = boxhandles.PLACES[index]
        sx, sy = (
            1.0 if f == 0.5 or not size else 1.0 + (d if f else -d) / size
            for f, d, size in ((fx, dx, right - left), (fy, dy, bottom - top))
        )
        fixed = left + (right - left) * (1.0 - fx), top + (bottom - top) * (1.0 - fy)
        verb = f"Size {names_of(both.shapes)}"
        with self.session.step(verb):
            both.apply(both.sized(fixed, sx, sy, self.session.strokes_grow), verb)

    def turn(self, degrees: float) -> None:
        """Turns the selection about its middle, without a pointer."""
        both = Together(self.session.display, self.session.selection)
        verb = f"Rotate {names_of(both.shapes)}"
        with self.session.step(verb):
            both.apply(both.turned(both.middle, -degrees if is_up(self.session.scene) else degrees), verb)

    def _snapped(self, both: Together, down: Pointer, p: Pointer) -> Pointer:
        x, y = boxhandles.place_of(both.box, self._handle[1])
        fixed = both.box[0] + both.box[2] - x, both.box[1] + both.box[3] - y
        return self.canvas.snapping.along((x, y), down, p, fixed)
