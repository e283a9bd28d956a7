"""The edit commands of the window, acting on the selection."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication

from chalcedon.craft import arrange, stepping
from chalcedon.desk.session import Session
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Group, Scene, Shape, order
from chalcedon.scene.axes import is_up
from chalcedon.scene.order import names_of, outermost
from chalcedon.scene.painted import CLAY, INK
from chalcedon.source import parse_line, parse_text, print_shapes

Reordering = Callable[[Scene, Sequence[Shape]], bool]

OFFSET = 16.0
"""Scene px by which the first duplicate is moved."""


class Edits(QObject):
    def __init__(self, session: Session, front_first: Any) -> None:
        super().__init__()
        self.session = session
        self._front_first = front_first  # asks the ledger which way it lists

    # clipboard

    def copy(self) -> None:
        """Puts the selected shapes on the clipboard as their text form."""
        shapes = outermost(self.session.selection)
        # setText, not setMimeData: a clipboard that still holds a Python object when the process ends crashes it
        QGuiApplication.clipboard().setText(print_shapes(shapes))
        self.session.say(f"Copied {names_of(shapes)} as text.")

    def cut(self) -> None:
        self.copy()
        with self.session.step(f"Cut {names_of(outermost(self.session.selection))}"):
            arrange.remove(self.session.display, self.session.selection, "Cut")

    def paste(self) -> None:
        """Adds the shapes that the clipboard's text describes, where the next shape goes."""
        self.paste_text(QGuiApplication.clipboard().text())

    def paste_text(self, text: str) -> None:
        """Adds the shapes that a text describes."""
        if not text.strip():
            self.session.say("The clipboard holds no text, so there is nothing to paste.", "problem")
            return
        try:
            try:
                shapes = parse_text(text)
            except ChalcedonError:
                shapes = [parse_line(line, is_up(self.session.scene)) for line in text.splitlines() if line.strip()]
        except ChalcedonError as problem:
            self.session.say(f"What is on the clipboard is not a shape: {problem}", "problem")
            return
        if not shapes:
            self.session.say("What is on the clipboard is not a shape.", "problem")
            return
        group, index = self.session.paste_place()
        with self.session.step(f"Paste {names_of(shapes)}"):
            arrange.paste(self.session.display, shapes, group, index)
        self.session.select([s for s in shapes if s.scene is not None])

    def duplicate(self) -> None:
        """Copies the selection; done again, each copy is moved as far as the last one was."""
        session = self.session
        chosen = outermost(session.selection)
        again = session.repeat_offset if session.repeat_offset is not None and chosen == self._last_copies else None
        dx, dy = again or (OFFSET, OFFSET)
        copies: list[Any] = []
        with session.step(f"Duplicate {names_of(chosen)}"):
            copies = arrange.duplicate(session.display, chosen, dx, dy)
        if copies and all(c.scene is not None for c in copies):
            self._last_copies = copies
            session.repeat_offset = (dx, dy)
            session.select(copies)

    _last_copies: list[Any] = []  # noqa: RUF012  (replaced, never changed)

    def delete(self) -> None:
        with self.session.step(""):
            arrange.remove(self.session.display, list(self.session.selection))

    # selection

    def select_all(self) -> None:
        """The siblings of the selected shape, or the whole top level."""
        current = self.session.current
        parent = current.parent if current is not None and current.parent is not None else self.session.scene.top
        self.session.select(s for s in parent.children if not s.locked)

    def select_around(self) -> None:
        current = self.session.current
        if current is not None and current.parent is not None and current.parent.id:
            self.session.select([current.parent])

    def select_inside(self) -> None:
        current = self.session.current
        if isinstance(current, Group) and current.children:
            self.session.select(current.children)

    def is_paint_on(self, name: str) -> bool:
        """Whether any of the selected shapes shows its fill or its stroke."""
        able = [s for s in self.session.selection if name in s.properties]
        return any(s.stated(name) is not None and s.stated(f"{name}_on") for s in able)

    def switch_paint(self, name: str) -> None:
        """Switches fills or strokes of the selected shapes off, or on again as they were."""
        able = [s for s in self.session.selection if name in s.properties]
        if not able:
            self.session.say("Nothing that is selected has a paint of its own.")
            return
        off = self.is_paint_on(name)
        paint = self.session.next_paint
        usual = (paint.fill or CLAY) if name == "fill" else (paint.stroke or INK)
        with self.session.step(f"Switch the {name} of {names_of(able)} {'off' if off else 'on'}"):
            for shape in able:
                if off and shape.stated(name) is None:
                    continue
                if not off and shape.stated(name) is None:
                    shape.assign(name, usual)
                shape.assign(f"{name}_on", not off)

    def pick_paint(self) -> None:
        """The next shape gets the paint of the selected one."""
        shape = self.session.current
        if shape is not None and "fill" in shape.properties:
            for name in ("fill", "stroke"):
                self.session.set_next(name, getattr(shape, name))
            self.session.set_next("width", shape.stroke_width)  # type: ignore[attr-defined]

    # tree and order

    def group(self) -> None:
        new: Group | None = None
        with self.session.step(f"Group {names_of(outermost(self.session.selection))}"):
            new = arrange.group(self.session.display, self.session.selection)
        if new is not None and new.scene is not None:
            self.session.select([new])

    def ungroup(self) -> None:
        target = self.session.current
        if isinstance(target, Group):
            freed: list[Any] = []
            lost = [target.properties[n].word for n in arrange.LOST if target.stated(n) != target.properties[n].default]
            with self.session.step(f"Ungroup {target.id}"):
                freed = arrange.ungroup(self.session.display, target)
            if target.scene is None:
                self.session.select(freed)
                if lost:
                    self.session.say(f"Ungrouped {target.id}; gone with it: {', '.join(lost)}.")

    def bake(self) -> None:
        """Takes the steps of the selected shapes into their own numbers."""
        with self.session.step("" if len(self.session.selection) == 1 else "Bake the steps"):
            for shape in self.session.selection:
                stepping.bake(self.session.display, shape)

    def switch(self, name: str) -> None:
        chosen = self.session.selection
        value = not getattr(chosen[-1], name)
        verb = {"visible": ("Hide", "Show"), "locked": ("Unlock", "Lock")}[name][value]
        with self.session.step(f"{verb} {names_of(chosen)}"):
            for shape in chosen:
                shape.assign(name, value)

    def shift_rows(self, way: int) -> None:
        """One row up or down in the ledger."""
        self._reorder(order.forward, order.backward, way)

    def to_end(self, way: int) -> None:
        """To the top or the bottom row of the group."""
        self._reorder(order.to_front, order.to_back, way)

    def _reorder(self, forward: Reordering, backward: Reordering, way: int) -> None:
        front = (way > 0) != self._front_first()
        moved = False
        with self.session.step(""):
            moved = (forward if front else backward)(self.session.scene, self.session.selection)
        chosen = outermost(self.session.selection)
        who = f"{names_of(chosen)} {'is' if len(chosen) == 1 else 'are'}"
        self._name_last(moved, f"{who} at the {'front' if front else 'back'} already.")

    def past_next(self, way: int) -> None:
        front = (way > 0) != self._front_first()
        shape = self.session.current
        if shape is None:
            return
        other = None
        with self.session.step("") as scene:
            other = order.past_next(scene, shape, lambda a, b: arrange.overlaps(self.session.display, a, b), front)
        self._name_last(other is not None, f"Nothing {'in front of' if front else 'behind'} {shape.id} overlaps it.")

    def _name_last(self, moved: bool, otherwise: str) -> None:
        self.session.say(f"{self.session.scene.undo_name}." if moved else otherwise)
