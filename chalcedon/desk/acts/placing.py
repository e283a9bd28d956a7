"""The commands that line the selected shapes up. The shape selected last stays and gives edge, size and place."""

from __future__ import annotations

from collections.abc import Callable
from itertools import cycle

from PySide6.QtCore import QObject

from chalcedon.craft import align
from chalcedon.craft.together import Made, Together, mirror
from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.session import Session
from chalcedon.problems import ValueProblem
from chalcedon.scene.axes import is_up
from chalcedon.scene.order import names_of
from chalcedon.scene.painted import Painted
from chalcedon.scene.proportions import keep_ratios, present_ratio, ratio_of
from chalcedon.scene.tints import told_apart

MOST_COLORS = 64
GRID = 20.0
"""Scene px between the lines of a grid that is first shown."""
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

    def scale(self) -> None:
        """Asks for a factor, and shows what it does while the number is typed."""
        both = Together(self.session.display, self.session.selection)

        def make(factor: float) -> Made:
            if factor <= 0:
                raise ValueProblem(f"{factor:g} is not a factor of a size.", hint="Factors are above 0.")
            return both.sized(both.middle, factor, factor, self.session.strokes_grow)

        self._ask("Size", "How many times as large?", 1.0, make, both)

    def turn(self) -> None:
        """Asks for degrees, and shows what they do while the number is typed."""
        both = Together(self.session.display, self.session.selection)
        self._ask("Rotate", "Turned by how many degrees?", 0.0, lambda a: both.turned(both.middle, a), both)

    def _ask(self, verb: str, question: str, first: float, make: Callable[[float], Made], both: Together) -> None:
        gesture = object()

        def attempt(number: float) -> None:
            with self.session.step("", gesture):
                both.apply(make(number), f"{verb} {names_of(both.shapes)}", gesture)

        self.messages.ask_number(question, first, attempt, lambda: self.session.take_back(gesture))

    def mirror(self, axis: str) -> None:
        with self.session.step(""):
            mirror(self.session.display, self.session.selection, axis)

    def grow_strokes(self) -> None:
        """Switches whether strokes grow with shapes that are sized together."""
        self.session.strokes_grow = not self.session.strokes_grow
        how = "grow along" if self.session.strokes_grow else "keep their width"
        self.session.say(f"Strokes {how} when shapes are sized by the box around them.")
        self.session.manners_changed.emit()

    def tell_apart(self) -> None:
        """Gives each selected shape a colour of its own: a line its stroke, anything else its fill."""
        chosen = [s for s in self.session.selection if isinstance(s, Painted)]
        if not chosen:
            self.session.say("Nothing that is selected has a paint of its own.")
            return
        with self.session.step(f"Tell {names_of(chosen)} apart"):
            for shape, color in zip(chosen, cycle(told_apart(min(len(chosen), MOST_COLORS))), strict=False):
                shape.assign("stroke" if shape.is_open else "fill", color)

    def keep_ratio(self) -> None:
        """Has the selected shapes keep their proportions, or leaves them free when all of them keep theirs."""
        able = [s for s in self.session.selection if present_ratio(s) or ratio_of(s)]
        keep = any(not ratio_of(s) for s in able)
        if not able:
            self.session.say("Nothing that is selected has a width and a height of its own.")
            return
        with self.session.step(f"{'Keep' if keep else 'Free'} the proportions of {names_of(able)}"):
            done = keep_ratios(able, keep)
        said = "keeps its proportions" if len(done) == 1 else "keep their proportions"
        self.session.say(f"{names_of(done)} {said}." if keep else f"The proportions of {names_of(done)} are free.")

    # what is snapped to

    def snap(self) -> None:
        """Switches snapping on or off."""
        self.session.snaps = not self.session.snaps
        self.session.say(
            "Shapes snap to what is near; Alt suspends it." if self.session.snaps else "Nothing snaps any more."
        )
        self.session.manners_changed.emit()

    def grid(self) -> None:
        """Shows the grid, or takes it away."""
        self.session.grid = None if self.session.grid else GRID
        self.session.manners_changed.emit()

    def grid_of(self) -> None:
        """Asks how far apart the lines of the grid are."""
        before = self.session.grid

        def attempt(step: float) -> None:
            self.session.grid = step if step > 0 else None
            self.session.manners_changed.emit()

        question = "How many px between the lines of the grid?"
        self.messages.ask_number(question, before or GRID, attempt, lambda: attempt(before or 0))

    def guide(self, axis: str) -> None:
        """Asks where a guide goes."""
        gesture = object()
        name = f"guides_{axis}"
        others = getattr(self.session.scene, name)

        def attempt(at: float) -> None:
            with self.session.step(f"Add a guide at {axis} {at:g}", gesture) as scene:
                scene.set(scene, name, (*others, at))

        way = "left" if axis == "x" else "bottom" if is_up(self.session.scene) else "top"
        self.messages.ask_number(
            f"A guide how many px from the {way}?", 0.0, attempt, lambda: self.session.take_back(gesture)
        )

    def no_guides(self) -> None:
        """Takes all guides away."""
        scene = self.session.scene
        if not scene.guides_x and not scene.guides_y:
            self.session.say("There are no guides. Drag one out of a ruler.")
            return
        with self.session.step("Take the guides away"):
            scene.set(scene, "guides_x", ())
            scene.set(scene, "guides_y", ())

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
