"""What cells do: marks that switch, numbers that are dragged, values that open an editor, a menu or a picker."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPoint, QRect, Qt, QTimer
from PySide6.QtWidgets import QMenu

from chalcedon.craft.descriptions import set_description
from chalcedon.craft.gradients import in_units
from chalcedon.craft.hold import set_anchor, set_pivot
from chalcedon.craft.several import MIXED, Several
from chalcedon.craft.stepping import bake
from chalcedon.desk.acts.axis import let_y_run
from chalcedon.desk.ledger.cells import ROW, Cell, Owner
from chalcedon.desk.ledger.editor import CellEditor, step_of
from chalcedon.desk.ledger.folds import ALSO, FOLD, OR_AS
from chalcedon.desk.ledger.parts import moved, part, with_part
from chalcedon.desk.looks.plain import in_menu
from chalcedon.desk.panels.panel import dispose
from chalcedon.desk.picker.colorpicker import ColorPicker
from chalcedon.formula import Formula
from chalcedon.scene import Group, Scene, Shape, Step, Text, presets
from chalcedon.scene.declare import told_now
from chalcedon.scene.limits import within
from chalcedon.scene.proportions import keep_ratios, ratio_of, set_following
from chalcedon.scene.steps import OPS
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Anchor, Choice
from chalcedon.source.answers import EXAMPLE, SCENE_EXAMPLE, parse_response

if TYPE_CHECKING:
    from chalcedon.desk.ledger.widget import Ledger

NEW_STEPS: dict[str, tuple[float, ...]] = {
    "rotate": (15,),
    "scale": (1.5, 1.5),
    "translate": (20, 0),
    "skew": (15, 0),
    "matrix": (1, 0, 0, 1, 0, 0),
}
MARKS = frozenset(("fold", "eye", "lock", "pointer", "lost", "palette", "flip", "curve"))
"""What acts, or is taken hold of, as soon as it is pressed."""


class CellActs:
    """Everything that changes the scene through a cell of the ledger."""

    def __init__(self, ledger: Ledger) -> None:
        self.ledger = ledger
        self.picker: ColorPicker | None = None
        self._menu: QMenu | None = None

    def _fresh_menu(self) -> QMenu:
        """The one menu for choices, emptied."""
        if self._menu is None:
            self._menu = QMenu(self.ledger)
        self._menu.clear()
        return self._menu

    def cursor_for(self, cell: Cell | None) -> Qt.CursorShape:
        if cell is None:
            return Qt.CursorShape.ArrowCursor
        if cell.role == "number":
            return Qt.CursorShape.SizeHorCursor
        held = (cell.live and cell.role != "id") or cell.role in MARKS
        return Qt.CursorShape.PointingHandCursor if held else Qt.CursorShape.ArrowCursor

    # marks

    def press_mark(self, shape: Shape | None, cell: Cell) -> bool:
        """Marks act when pressed. False for cells that are not marks."""
        if cell.role == "palette":
            self.ledger.palette_asked.emit()
            return True
        if cell.role == "flip":
            self.set_direction(not self.ledger.front_first)
            return True
        if shape is None:
            return False
        if cell.role == "fold" and isinstance(shape, Group):
            self.toggle_fold(shape)
            return True
        if cell.role == "lost":
            self.ledger.sought.emit(shape)
            return True
        if cell.role in ("eye", "lock", "pointer"):
            self.switch(shape, {"eye": "visible", "lock": "locked"}.get(cell.role, "pointer"))
            return True
        return False

    def switch(self, shape: Shape, name: str) -> None:
        """Turns a mark over, on all selected shapes when this is one of them."""
        chosen = self.ledger.session.selection if self.ledger.session.is_selected(shape) else [shape]
        value: Any = "painted" if name == "pointer" else not shape.stated(name)
        verbs = {
            ("visible", True): "Show",
            ("visible", False): "Hide",
            ("locked", True): "Lock",
            ("locked", False): "Unlock",
        }
        who = chosen[0].id if len(chosen) == 1 else f"{len(chosen)} shapes"
        with self.ledger.session.step(f"{verbs.get((name, value), 'Let the pointer hit')} {who}"):
            for s in chosen:
                s.assign(name, value)

    def toggle_fold(self, group: Group) -> None:
        if group in self.ledger.folded:
            self.ledger.folded.discard(group)
        else:
            self.ledger.folded.add(group)
        self.ledger.rebuild()

    def set_direction(self, front_first: bool) -> None:
        """Which end of the paint order is listed first."""
        self.ledger.front_first = front_first
        self.ledger.rebuild()

    def fold_all(self, fold: bool) -> None:
        groups: set[Shape] = {s for s in self.ledger.session.scene.walk() if isinstance(s, Group)}
        self.ledger.folded = groups if fold else set()
        self.ledger.rebuild()

    # numbers by hand

    def scrub(self, cell: Cell, far: int, mods: Qt.KeyboardModifier) -> None:
        """A number dragged sideways: one step a px, ten with Shift, a tenth with Ctrl."""
        if not self.ledger.pointer.scrubbed and abs(far) < 3:
            return
        delta = far - self.ledger.pointer.scrubbed
        if delta:
            self.ledger.pointer.scrubbed = far
            self.nudge(cell, delta, mods, self.ledger.pointer.scrub_gesture)

    def nudge(self, cell: Cell, notches: float, mods: Qt.KeyboardModifier, gesture: object) -> None:
        assert cell.owner is not None
        factor = (
            10 if mods & Qt.KeyboardModifier.ShiftModifier else 0.1 if mods & Qt.KeyboardModifier.ControlModifier else 1
        )
        if cell.also:
            assert isinstance(cell.owner, Shape)
            value = tidy(cell.value + notches * factor, 4)
            with self.ledger.session.step("", gesture):
                set_description(self.ledger.session.display, cell.owner, cell.also, cell.path[0], value, gesture)
            return
        by = notches * factor * step_of(cell)
        if isinstance(cell.owner, Several):
            with self.ledger.session.step("", gesture):
                cell.owner.change(
                    self.ledger.session.display, cell.name, cell.path, lambda own: moved(own, by, 4), gesture
                )
            return
        stated = cell.owner.stated(cell.name)
        with self.ledger.session.step("", gesture):
            new = within(cell.owner.declared(cell.name).kind, moved(part(stated, cell.path), by, 4))
            self.put(cell.owner, cell.name, with_part(stated, cell.path, new), gesture)

    def put(self, owner: Owner, name: str, value: Any, gesture: object = None) -> None:
        prop = owner.declared(name)
        who = getattr(owner, "id", "scene")
        if name == "y_axis":
            let_y_run(self.ledger.session, value)
            return
        with self.ledger.session.step(f"Change {prop.word} of {who}", gesture) as scene:
            if isinstance(owner, Several):
                owner.set(self.ledger.session.display, name, value, gesture)
            elif isinstance(owner, Shape) and name == "anchor":
                set_anchor(self.ledger.session.display, owner, value)
            elif isinstance(owner, Shape) and name == "pivot":
                set_pivot(self.ledger.session.display, owner, value)
            elif isinstance(owner, Shape):
                set_following(scene, owner, name, value)
            else:
                scene.set(owner, name, value)

    # values that open something

    def activate(self, cell: Cell) -> None:
        """A click or Enter on a value."""
        owner = cell.owner
        if cell.role in ("flag", "switch-paint") and owner is not None:
            if isinstance(cell.value, bool) or cell.value is MIXED:
                self.put(owner, cell.name, cell.value is not True)
        elif cell.role == "choice" and cell.name == "wears":
            self._choose_preset(cell)
        elif cell.role == "choice":
            self._choose(cell)
        elif cell.role == "paint":
            self.pick_color(cell)
        elif cell.role == "step-op":
            self._choose_step(cell, replace=True)
        elif cell.role == "add":
            self._add(cell)
        elif cell.role == "remove" and cell.name in ("runs", "responses") and owner is not None:
            rest = tuple(r for i, r in enumerate(owner.stated(cell.name)) if i != cell.path[0])
            self.put(owner, cell.name, rest)
        elif cell.role in ("remove", "up") and owner is not None:
            steps = list(owner.stated("steps"))
            step = steps.pop(cell.path[0])
            if cell.role == "up":
                steps.insert(cell.path[0] - 1, step)
            self.put(owner, "steps", tuple(steps))
        elif cell.role == "more":
            self._more(cell)
        elif cell.role in ("offer", "chosen") and owner is not None:
            self.open_value(owner, cell.name, cell.path[0] if cell.path else 0)
        elif cell.role == "switch" and owner is not None:
            self._switch_step(owner, cell.path[0])
        elif cell.role == "repair":
            self.ledger.repaired.emit(*cell.value)
        else:
            self.open_editor(cell)

    def _add(self, cell: Cell) -> None:
        """Adds one to a list: a run, a response, a step."""
        if cell.name == "runs":
            self._add_run(cell)
        elif cell.name == "responses":
            assert cell.owner is not None
            self.add_response(cell.owner)
        else:
            self._choose_step(cell, replace=False)

    def open_value(self, shape: Owner, name: str, index: int = 0) -> None:
        """Shows a value that is folded away and puts it, or one of its numbers, into focus."""
        ledger = self.ledger
        ledger.keys.naming.end()
        if name == FOLD:
            ledger.fold(shape)
            return
        also = name == OR_AS or name.startswith(ALSO)
        ledger.unfold(shape, OR_AS if also else name)
        if name == "steps" and isinstance(shape, Shape) and not shape.stated("steps"):
            ledger.focus_key = ("add", "steps", ())
            add = ledger.keys.focused_cell()
            if add is not None:
                self._choose_step(add, replace=False)
        elif not ledger.keys.focus_property(name if name != OR_AS else f"{ALSO}edges", index):
            word = shape.properties[name].word if name in shape.properties else name
            who = getattr(shape, "id", "the scene")
            ledger.session.say(f"{word} means nothing for {who} as it is now.")

    def _more(self, cell: Cell) -> None:
        owner = cell.owner
        if cell.value == "try":
            self.ledger.session.document.player.try_response(getattr(owner, "id", ""), cell.path[0])
            return
        assert isinstance(owner, Shape)
        if cell.value == "expand":
            self.ledger.expanded.add(owner)
            self.ledger.lay_open()
            self.ledger.viewport().update()
        elif cell.value == "corners":
            corners = owner.stated("corners")
            self.put(owner, "corners", corners * 4 if len(corners) == 1 else corners[:1])
        elif cell.value == "ratio":
            kept = ratio_of(owner)
            with self.ledger.session.step(f"{'Free' if kept else 'Keep'} the ratio of {owner.id}"):
                keep_ratios([owner], not kept)
        elif cell.value == "renew":
            with self.ledger.session.step("") as scene:
                presets.renew(scene, [owner])
        elif cell.value == "clear":
            self.put(owner, "dash", ())
        elif cell.value == "bake":
            with self.ledger.session.step(""):
                bake(self.ledger.session.display, owner)
        elif cell.value == "shadow":
            self.put(owner, "shadow", (4, 6, 8, "#00000066") if owner.stated("shadow") is None else None)
        elif cell.value == "write":
            self.ledger.session.edit_words.emit(owner)
        elif cell.value == "file":
            self.ledger.session.choose_image.emit(owner)
        else:
            width = owner.stroke_width  # type: ignore[attr-defined]
            self.put(owner, "dash", (max(1, round(width * 3)), max(1, round(width * 2))))

    def _choose(self, cell: Cell) -> None:
        owner = cell.owner
        assert owner is not None
        kind = owner.declared(cell.name).kind
        assert isinstance(kind, Choice | Anchor)
        menu = self._fresh_menu()
        for word in kind.words:
            action = menu.addAction(word.replace("-", " "))
            action.setCheckable(True)
            action.setChecked(word == cell.value)
            action.triggered.connect(lambda _=False, w=word: self.put(owner, cell.name, w))
        self.popup(menu, cell)

    def _add_run(self, cell: Cell) -> None:
        """A run about the first word, put into an editor to be said otherwise."""
        owner = cell.owner
        assert isinstance(owner, Text)
        runs = owner.stated("runs")
        first = owner.content.split(maxsplit=1)[0] if owner.content.split() else " "
        self.put(owner, "runs", (*runs, (0, len(first), {"weight": 700})))
        self._open_made("runs", len(runs))

    def add_response(self, owner: Owner) -> None:
        """A response, put into an editor to be said otherwise."""
        told = owner.stated("responses")
        about = isinstance(owner, Scene)
        self.put(owner, "responses", (*told, parse_response(SCENE_EXAMPLE if about else EXAMPLE)))
        if about:
            self.ledger.session.select([])
        self._open_made("responses", len(told))

    def _open_made(self, name: str, number: int) -> None:
        self.ledger.focus_key = ("text", name, (number,))
        made = self.ledger.keys.focused_cell()
        if made is not None:
            self.open_editor(made)

    def _choose_preset(self, cell: Cell) -> None:
        """What there is to wear; what is worn is taken off by choosing it again."""
        scene, owner = self.ledger.session.scene, cell.owner
        shapes = owner.shapes if isinstance(owner, Several) else [owner] if isinstance(owner, Shape) else []
        menu = self._fresh_menu()
        for name, _values in scene.presets:
            worn = all(name in s.stated("wears") for s in shapes)
            action = menu.addAction(in_menu(name))
            action.setCheckable(True)
            action.setChecked(worn)
            act = presets.take_off if worn else presets.wear
            action.triggered.connect(lambda _=False, n=name, a=act: self._dress(a, shapes, n))
        menu.addSeparator()
        menu.addAction("Presets…").triggered.connect(lambda _=False: self.ledger.session.presets_asked.emit())
        self.popup(menu, cell)

    def _dress(self, act: Callable[..., object], shapes: list[Shape], name: str) -> None:
        with self.ledger.session.step("") as scene:
            act(scene, shapes, name)

    def _choose_step(self, cell: Cell, replace: bool) -> None:
        owner = cell.owner
        assert owner is not None
        menu = self._fresh_menu()
        for op in OPS:
            action = menu.addAction(op)
            action.triggered.connect(lambda _=False, o=op: self.add_step(owner, o, cell.path[0] if replace else None))
        if replace:
            menu.addSeparator()
            on = cell.value.on
            menu.addAction("switch off" if on else "switch on").triggered.connect(
                lambda _=False: self._switch_step(owner, cell.path[0])
            )
        self.popup(menu, cell)

    def add_step(self, owner: Owner, op: str, index: int | None = None) -> None:
        steps = list(owner.stated("steps"))
        new = Step(op, NEW_STEPS[op])
        if index is None:
            steps.append(new)
        else:
            steps[index] = new
        self.put(owner, "steps", tuple(steps))

    def _switch_step(self, owner: Owner, index: int) -> None:
        steps = list(owner.stated("steps"))
        steps[index] = steps[index]._replace(on=not steps[index].on)
        self.put(owner, "steps", tuple(steps))

    def pick_color(self, cell: Cell) -> None:
        owner = cell.owner
        assert owner is not None
        of = owner.shapes[0] if isinstance(owner, Several) else owner
        value = self._now(of, cell) if isinstance(of, Shape | Scene) else part(of.stated(cell.name), cell.path)
        value = value.last if isinstance(value, Formula) else value
        who = getattr(owner, "id", "scene")
        part_of = bool(cell.path)  # a colour inside a value, such as the shadow's
        dispose(self.picker)
        self.picker = ColorPicker(
            self.ledger,
            self.ledger.session.scene,
            value,
            f"{cell.name} of {who}",
            not part_of,
            part_of,
            not isinstance(owner, Scene),
        )
        if isinstance(of, Shape | Scene):
            self.picker.in_units = partial(in_units, self.ledger.session.display, of)
        gesture = object()

        def take(paint: Any) -> None:
            new = with_part(owner.stated(cell.name), cell.path, paint) if part_of else paint
            self.put(owner, cell.name, new, gesture)
            if new is not None and owner.properties.get(f"{cell.name}_on") and not owner.stated(f"{cell.name}_on"):
                self.put(owner, f"{cell.name}_on", True, gesture)  # what is picked is meant to be seen

        self.picker.picked.connect(take)
        self.picker.named.connect(self.ledger.session.set_palette)
        self.picker.closed.connect(self.ledger.session.end_gesture)
        self.picker.open_at(self.spot(cell))

    def _now(self, owner: Shape | Scene, cell: Cell) -> Any:
        """What a shape or the scene states in a cell, where a chip shows none for what is switched off; formulas in it
        are told what they come to."""
        display = self.ledger.session.display
        node = display.find(owner) if isinstance(owner, Shape) else None
        now, stated = display.page if node is None else node.values, owner.stated(cell.name)
        return part(told_now(stated, now[cell.name]) if cell.name in now else stated, cell.path)

    def popup(self, menu: QMenu, cell: Cell) -> None:
        menu.popup(self.spot(cell))
        now = next((a for a in menu.actions() if a.isChecked()), None)
        if now is not None:
            menu.setActiveAction(now)  # the arrow keys go on from what is so

    def spot(self, cell: Cell) -> QPoint:
        """The screen point below a cell."""
        box = self.box_of(cell)
        return self.ledger.viewport().mapToGlobal(box.bottomLeft() + QPoint(0, 2))

    def box_of(self, cell: Cell) -> QRect:
        """A cell's place in the viewport."""
        if isinstance(cell.owner, Several):
            top = self.ledger.top_of(self.ledger.open_index()) - self.ledger.verticalScrollBar().value()
        elif isinstance(cell.owner, Shape):
            top = self.ledger.top_of(self.ledger.index_of(cell.owner)) - self.ledger.verticalScrollBar().value()
        else:
            top = -self.ledger.verticalScrollBar().value()
        return QRect(int(cell.x), int(top + cell.y), int(cell.w), ROW)

    # typing

    def open_editor(self, cell: Cell, start: str | None = None) -> None:
        self.close_editor()
        editor = CellEditor(self.ledger.viewport(), self.ledger.session, cell, start)
        self.ledger.editor = editor
        box = self.box_of(cell)
        need = self.ledger.metrics.width(editor.text()) + 26
        width = int(max(box.width() + 8, min(max(need, 64), 400 if cell.name == "responses" else 260)))
        left = min(box.left() - 2, self.ledger.viewport().width() - width - 4)
        editor.setGeometry(left, box.top() + 3, width, ROW - 6)
        editor.finished.connect(self._edited)
        editor.complained.connect(self._complain)
        editor.show()
        editor.setFocus()

    def place_editor(self) -> None:
        """Keeps the editor over its value, wherever rows have gone; it ends where the value isn't shown any more."""
        editor = self.ledger.editor
        if editor is None:
            return
        cell = editor.cell
        if isinstance(cell.owner, Shape | Several):
            several = isinstance(cell.owner, Several)
            index = self.ledger.open_index() if several else self.ledger.index_of(cell.owner)  # type: ignore[arg-type]
            cells = self.ledger.row_cells(index) if index >= 0 else []
            found = next((c for c in cells if c.key == cell.key and (c.y > 0) == (cell.y > 0)), None)
            if found is None:
                QTimer.singleShot(0, self.close_editor)  # not in the middle of what made it go
                return
            editor.cell = found
        editor.move(editor.x(), self.box_of(editor.cell).top() + 3)

    def close_editor(self) -> None:
        if self.ledger.editor is not None:
            self.ledger.editor.commit()

    def _edited(self, way: int) -> None:
        editor, self.ledger.editor = self.ledger.editor, None
        if editor is not None:
            if editor.hasFocus():
                self.ledger.setFocus()  # before it is hidden: Qt would pass the focus on along the tab order
            editor.hide()
            editor.deleteLater()
        if way:
            self.ledger.keys.go(way, edit=True)
        self.ledger.viewport().update()

    def _complain(self, text: str) -> None:
        if text != self.ledger.complaint:
            self.ledger.complaint = text
            self.ledger.session.say(text, "problem" if text else "note")
