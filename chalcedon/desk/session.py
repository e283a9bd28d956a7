"""What the desk has open: a scene, its display list and hit tester, the selection, the paint of the next shape."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any, NamedTuple

from PySide6.QtCore import QObject, Signal

from chalcedon.craft.checkup import Remark
from chalcedon.desk.document import Document
from chalcedon.desk.earlier import Earlier
from chalcedon.evaluate import Changes, DisplayList, Node
from chalcedon.evaluate.copies import Copy
from chalcedon.files.recovery import Recovered
from chalcedon.files.seen import open_seen
from chalcedon.files.versions import save_kept
from chalcedon.hit import HitTester
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Group, Image, Scene, Shape, Text
from chalcedon.scene.diff import diff
from chalcedon.scene.history import UndoStep
from chalcedon.scene.order import outermost, place_of
from chalcedon.scene.shapes import CLAY, INK

MOST_SHOWN = 100
"""Shapes that undo and redo select; a step that touched more leaves the selection alone."""


class NextPaint(NamedTuple):
    """Fill, stroke and its width."""

    fill: Any
    stroke: Any
    width: float


class Session(QObject):
    """The state that every part of the window shows. Parts change the scene inside `step` and hear `changed`."""

    let_go = Signal()
    """A hand let go of what it dragged on a canvas."""
    changed = Signal(object)
    """Changes of the display list, after every edit."""
    replaced = Signal()
    """Another scene is open."""
    selection_changed = Signal()
    flashed = Signal(object)
    """Places in scene px are to light up once."""
    laid_changed = Signal()
    """Two shapes are laid over each other, or no longer."""
    presets_asked = Signal()
    value_asked = Signal(object, str)
    """A value of a shape, by its name, is to be shown in the ledger."""
    place_changed = Signal()
    """The place of the next shape was chosen anew, with the same shapes selected."""
    focus_changed = Signal()
    """Another value is in focus in the ledger."""
    next_paint_changed = Signal()
    manners_changed = Signal()
    """Snapping, the grid, or whether strokes grow was switched."""
    lit_changed = Signal()
    ghost_changed = Signal()
    remarks_changed = Signal()
    """There is something else to say about what is selected."""
    edit_words = Signal(object)
    """A text is to be written on the canvas."""
    choose_image = Signal(object)
    """A file is to be chosen for an image."""
    added = Signal(object)
    """A shape was made by hand or by a line."""
    saved = Signal()
    """The scene was written to a file."""
    said = Signal(str, str)
    """A sentence for the person, and its kind: note or problem."""

    def __init__(self, document: Document | None = None) -> None:
        super().__init__()
        self.document: Document
        self.selection: list[Shape] = []  # replaced, never changed
        self._among: tuple[list[Shape], set[Shape]] = self.selection, set()
        self.picked: Copy = ()
        """The copy of the shape selected last that was picked on the canvas."""
        self.under_hand = False
        """Whether something is held on a canvas, to be dragged there."""
        self.active_group: Group
        self.placed: Shape | None = None
        """The shape whose row was chosen in the ledger: the next one goes in front of it, and so on from there."""
        self.value_focus: tuple[Shape, str, tuple[int, ...]] | None = None
        self.next_fill: Any = CLAY
        self.next_stroke: Any = None
        self.next_width: float = 2
        self.sought: Shape | None = None
        """The shape that is looked for: it shows through what covers it."""
        self.hit_map = False
        """Whether each shape's region where the pointer hits it is tinted."""
        self.unreached: list[Shape] = []
        """The shapes in view that the pointer never hits, while that is shown."""
        self.laid: tuple[Shape, Shape] | None = None
        """Two shapes that are shown laid over each other."""
        self.last_folder = ""
        """That of the file that was opened or saved last, here or by the program before."""
        self.snaps = True
        """Whether what is drawn and moved by hand snaps to what is near."""
        self.grid: float | None = None
        """Scene px between the lines of the grid; None when none is shown."""
        self.strokes_grow = False
        """Whether strokes grow with shapes that are sized by the box around them."""
        self.repeat_offset: tuple[float, float] | None = None
        """How far the last duplicate was moved; the next duplicate is moved as far."""
        self.paint_focus: tuple[Shape, str] | None = None
        """The fill or stroke in focus in the ledger: a gradient there has its handles on the canvas."""
        self.lit: tuple[Shape, str] | None = None
        """The property that what is under the pointer on the canvas belongs to."""
        self.ghost: tuple[Shape, str, int] | None = None
        """A shape to be drawn as it is after a step (`after`), or with a step and the next changed (`swap`)."""
        self.remarks: list[Remark] = []
        """What the check-up says about the selected shapes."""
        self.formula_focus: tuple[Shape, str] | None = None
        """The property in focus in the ledger, if formulas give it."""
        self.formula_editor: Any = None
        """The editor of a cell that lost the focus to a click while a formula was written in it: what is clicked may be
        picked for it."""
        self.hands: list[Callable[[], bool]] = []
        """Each takes back what the pressed pointer is changing in its part, and says whether that was anything."""
        self._show_document(document or Document(Scene()))
        if document is None:
            self.document.begin_journal()

    def _show_document(self, document: Document) -> None:
        if hasattr(self, "document"):
            self.close()
        self.document = document
        document.views += 1
        document.changed.connect(self._follow)
        document.saved.connect(self.saved)
        self.selection, self.picked = [], ()
        self._earlier = Earlier(self.scene, lambda: self.selection)
        self.active_group = self.scene.top
        self.value_focus = self.formula_focus = None
        self.repeat_offset = None
        self.remarks = []
        self.ghost = self.lit = self.paint_focus = self.sought = None
        self.unreached = []

    def close(self) -> None:
        """Shows its document no longer."""
        self._earlier.close()
        self.document.changed.disconnect(self._follow)
        self.document.saved.disconnect(self.saved)
        self.document.leave()

    @property
    def scene(self) -> Scene:
        return self.document.scene

    @property
    def display(self) -> DisplayList:
        return self.document.display

    @property
    def tester(self) -> HitTester:
        return self.document.tester

    @property
    def path(self) -> Path | None:
        return self.document.path

    @property
    def title(self) -> str:
        return self.document.title

    @property
    def folder(self) -> Path:
        """Where a question for a file begins: in the folder of the scene, or in that of the last file."""
        return self.path.parent if self.path else Path(self.scene.folder or self.last_folder or Path.home())

    @property
    def unsaved(self) -> bool:
        return self.document.unsaved

    # files

    def new(self, scene: Scene | None = None, name: str = "untitled") -> None:
        """A scene that is in no file yet, empty or the given one."""
        self._show_document(Document(Scene() if scene is None else scene))  # an empty scene counts as false
        self.document.name = name
        self.document.begin_journal()
        self.replaced.emit()

    def open(self, path: Path) -> list[str]:
        """Opens a file and returns what was wrong in it. Raises ChalcedonError; the open scene then stays."""
        opened, seen = open_seen(path)
        self._show_document(Document(opened.scene))
        self.document.path, self.document.seen = path, seen
        self.document.begin_journal()
        self.replaced.emit()
        return [*opened.notices, *map(str, opened.problems), *self._grave()]

    def take_over(self) -> list[str]:
        """Makes the scene what its file says now, as one step, and returns what was wrong in it. Shapes that are in
        both stay the objects they are. Raises ChalcedonError; the scene then stays as it is."""
        assert self.path is not None
        opened, seen = open_seen(self.path)
        if self.document.journal is not None:
            self.document.journal.brace()
        self.scene.apply(diff(self.scene, opened.scene), f"Load {self.path.name} again")
        self.document.seen, self.document.missing = seen, False
        self.document.mark_saved()
        self.replaced_pictures()
        self.document.saved.emit()
        return [*opened.notices, *map(str, opened.problems), *self._grave()]

    def _grave(self) -> list[str]:
        """What in the scene can't be shown: missing images, names that lead nowhere."""
        from chalcedon.files.check import check_links

        return [str(r) for r in check_links(self.display) if r.grave]

    def recover(self, entry: Recovered) -> list[str]:
        """Opens unsaved work of an earlier run. It stays unsaved, and belongs to the file that it was of."""
        opened = entry.open()
        self._show_document(Document(opened.scene))
        document = self.document
        self.scene.folder = str(entry.path.parent) if entry.path is not None else None
        document.path, document.name, document.seen = entry.path, entry.name, entry.seen
        document.begin_journal(entry)
        self.replaced.emit()
        return [*opened.notices, *map(str, opened.problems)]

    def save(self, path: Path) -> list[str]:
        """Writes the scene; gives sentences about what of the old file could not be kept. Raises ChalcedonError; scene
        and file are then as they were."""
        document = self.document
        if document.journal is not None:
            document.journal.settle()
        lost, document.seen = save_kept(self.scene, path)
        document.path, document.missing = path, False
        document.mark_saved()
        document.lost_links = []
        if self.scene.folder != str(path.parent):
            self.scene.folder = str(path.parent)  # links are looked for there from now on
            self.replaced_pictures()
            document.lost_links = self._grave()
        document.saved.emit()
        return lost

    def replaced_pictures(self) -> None:
        """Linked images may look different: everything that shows one is painted again."""
        for node in self.display.order:
            if node.picture is not None:
                self.display.touch(node)
        self.flush()

    # editing

    @contextmanager
    def step(self, name: str, gesture: object = None) -> Iterator[Scene]:
        """One undo step. A ChalcedonError inside takes it back and is said, not raised."""
        try:
            with self.scene.step(name, gesture):
                yield self.scene
        except ChalcedonError as problem:
            self.say(problem.sentence, "problem")
        finally:
            self.flush()

    def flush(self) -> None:
        """Evaluates what changed and tells the parts of every window on the scene."""
        self.document.flush()

    def _follow(self, changes: Changes) -> None:
        # a shape that another was put in the place of stays selected as that one
        alive = [s if s.scene is self.scene else self.scene.get(s.id) for s in self.selection]
        if alive != self.selection:
            self.select(s for s in alive if s is not None)
        if self.active_group.scene is not self.scene:
            self.active_group = self.scene.top
        if self.value_focus is not None and self.value_focus[0].scene is not self.scene:
            self.focus_value(None)
        if self.formula_focus is not None and self.formula_focus[0].scene is not self.scene:
            self.focus_formula(None)
        self.changed.emit(changes)

    def take_back(self, gesture: object) -> None:
        """Takes the step of a gesture back for good."""
        if self.scene.take_back(gesture):
            self.flush()

    def end_gesture(self) -> None:
        self.scene.history.end_gesture()

    def undo(self) -> None:
        if any([take_back() for take_back in self.hands]):
            self.say("Took back what was under way.")
            return
        steps = self.scene.history.done[-1:]
        name = self.scene.undo()
        self._show(steps, self._earlier.before(steps[0]) if steps else ())
        self.say(f"Took back: {name}." if name else "There is nothing to undo.")

    def redo(self) -> None:
        steps = self.scene.history.undone[-1:]
        name = self.scene.redo()
        self._show(steps)
        self.say(f"Did again: {name}." if name else "There is nothing to redo.")

    def _show(self, steps: list[UndoStep], before: Sequence[Shape] = ()) -> None:
        """Selects what an undone or redone step touched, to be seen; `before` when nothing of it is left."""
        self.flush()
        ids = dict.fromkeys(i for step in steps for e in step.edits for i in (e.about, e.inverse().about))
        alive = [s for s in map(self.scene.get, ids) if s is not None] or list(before)
        if alive and len(alive) <= MOST_SHOWN:
            self.select(outermost(alive))

    def say(self, text: str, kind: str = "note") -> None:
        self.said.emit(text, kind)

    # selection

    def select(self, shapes: Iterable[Shape], copy: Copy = (), place: bool = False) -> None:
        """Makes these the selection, in the given order; the last is the one that is opened. Of one that is painted
        several times, `copy` is the painting that handles and measures belong to. With `place`, the last also says
        where the next shape goes."""
        chosen = list(dict.fromkeys(shapes))
        before, self.placed = self.placed, chosen[-1] if place and chosen else None
        if chosen == self.selection and copy == self.picked and before is not self.placed:
            self.place_changed.emit()
        if chosen != self.selection or copy != self.picked:
            self.selection, self.picked = chosen, copy
            if self.value_focus is not None and self.value_focus[0] not in chosen:
                self.value_focus = None
                self.focus_changed.emit()
            self.selection_changed.emit()

    def toggle(self, shape: Shape, place: bool = False) -> None:
        chosen = [s for s in self.selection if s is not shape]
        self.select(chosen if len(chosen) < len(self.selection) else [*self.selection, shape], place=place)

    def is_selected(self, shape: Shape) -> bool:
        """Whether a shape is among the selected ones, however many those are."""
        if self._among[0] is not self.selection:
            self._among = self.selection, set(self.selection)
        return shape in self._among[1]

    @property
    def current(self) -> Shape | None:
        """The shape selected last."""
        return self.selection[-1] if self.selection else None

    def node(self, shape: Shape) -> Node:
        """What a shape is painted as: that copy which was picked, or the first."""
        picked = self.picked if shape is self.current else ()
        return next((n for n in self.display.nodes(shape) if n.copy == picked), None) or self.display.node(shape)

    def focus_value(self, focus: tuple[Shape, str, tuple[int, ...]] | None) -> None:
        """Puts a value into focus: shape, property, path to the component. Its measure is drawn on the canvas."""
        if focus != self.value_focus:
            self.value_focus = focus
            self.focus_changed.emit()

    def focus_paint(self, focus: tuple[Shape, str] | None) -> None:
        if focus != self.paint_focus:
            self.paint_focus = focus
            self.focus_changed.emit()

    def focus_formula(self, focus: tuple[Shape, str] | None) -> None:
        """Puts a value that formulas give into focus: what it reads is shown on the canvas."""
        if focus != self.formula_focus:
            self.formula_focus = focus
            self.focus_changed.emit()

    def light_up(self, lit: tuple[Shape, str] | None) -> None:
        if lit != self.lit:
            self.lit = lit
            self.lit_changed.emit()

    def seek(self, shape: Shape | None) -> None:
        """Has a shape shown through what covers it; None ends that."""
        if shape is not self.sought:
            self.sought = shape
            self.manners_changed.emit()

    def show_hit_map(self, on: bool) -> None:
        """Shows the hit map, or ends that."""
        self.hit_map, self.unreached = on, []
        self.manners_changed.emit()

    def lay_over(self, pair: tuple[Shape, Shape] | None) -> None:
        """Shows two shapes laid over each other by their reference points; None for no longer."""
        if pair != self.laid:
            self.laid = pair
            self.laid_changed.emit()

    def tell_unreached(self, shapes: list[Shape]) -> None:
        """These are the shapes in view that are never hit."""
        self.unreached = shapes
        self.manners_changed.emit()

    def show_ghost(self, ghost: tuple[Shape, str, int] | None) -> None:
        if ghost != self.ghost:
            self.ghost = ghost
            self.ghost_changed.emit()

    def pick_for_formula(self, shape: Shape, name: str = "", index: int = -1) -> bool:
        """Puts a reference to what was clicked into the formula that is being written; False when none is."""
        editor = self.formula_editor
        if editor is None:
            return False
        editor.pick(shape, name, index)
        return True

    def end_formula(self) -> None:
        """Ends the writing of a formula that a click left without picking anything."""
        editor, self.formula_editor = self.formula_editor, None
        if editor is not None:
            editor.commit()

    # new shapes

    def insertion_place(self) -> tuple[Group, int]:
        """Where the next shape goes: in front of the one whose row was chosen, else in front of all that is in the
        group it goes into."""
        before = self.chosen_place()
        if before is None:
            group = self.target_group()
            return group, len(group._children)
        group, index = place_of(before)
        return group, index + 1

    def paste_place(self) -> tuple[Group, int]:
        """Where what is pasted goes: in front of the shape selected last, beside it even if it is a group."""
        current = self.current
        if current is None or current.parent is None:
            return self.insertion_place()
        group, index = place_of(current)
        return group, index + 1

    def chosen_place(self) -> Shape | None:
        """The shape that the next one goes in front of, if a place was chosen; a group is gone into."""
        there = self.placed is not None and self.placed.scene is self.scene and self.placed is self.current
        return self.placed if there and not isinstance(self.placed, Group) else None

    def target_group(self) -> Group:
        """The group that new shapes go into: the selected one, else the active one."""
        current = self.current
        if isinstance(current, Group) and len(self.selection) == 1 and not current.locked:
            return current
        return self.active_group

    @property
    def next_paint(self) -> NextPaint:
        """The paint of the next shape, as it is now."""
        return NextPaint(self.next_fill, self.next_stroke, self.next_width)

    def dress(self, shape: Shape, paint: NextPaint | None = None) -> None:
        """Gives a shape in no scene the paint that is shown beside the strip of kinds, or was when it was begun."""
        fill, stroke, width = paint or self.next_paint
        if "fill" not in shape.properties:
            return
        if isinstance(shape, Image):
            return
        if isinstance(shape, Text):  # letters in the pale colour of a panel could not be read
            if fill is not None and fill != CLAY:
                shape.assign("fill", fill)
            return
        if shape.is_open:  # open: seen by its stroke
            shape.assign("stroke", stroke or INK)
            shape.assign("stroke_width", width)
            if getattr(shape, "closed", False) or getattr(shape, "ends", "open") != "open":
                shape.assign("fill", fill)
                shape.assign("stroke", stroke)
        else:
            shape.assign("fill", fill)
            if stroke is not None:
                shape.assign("stroke", stroke)
                shape.assign("stroke_width", width)

    def set_palette(self, palette: Any) -> None:
        with self.step("Change the palette", "palette") as scene:
            scene.palette = palette

    def add(self, shape: Shape, parent: Group, index: int) -> None:
        """Adds a shape as an undo step and selects it."""
        shape.id = self.scene.free_id(shape.id or shape.kind) if shape.id not in self.scene else shape.id
        follows = self.chosen_place() is not None and self.insertion_place() == (parent, index)
        with self.step(f"Add {shape.id}") as scene:
            scene.add(shape, parent, index)
        if shape.scene is self.scene:
            self.select([shape], place=follows)
            self.added.emit(shape)

    def set_next(self, name: str, value: Any) -> None:
        setattr(self, f"next_{name}", value)
        self.next_paint_changed.emit()
