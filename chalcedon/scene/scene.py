"""A scene: its size, its background, and its shapes in paint order."""

from __future__ import annotations

import operator
from collections.abc import Callable, Container, Iterable, Iterator
from contextlib import contextmanager
from typing import Any, TypeVar

from chalcedon.formula import Formula, rename_in
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.ask import ask
from chalcedon.scene.copies import fresh_ids
from chalcedon.scene.declare import NOTHING, Declared, Property
from chalcedon.scene.edits import DropRaw, Edit, Insert, Move, Remove, Rename, SetValue
from chalcedon.scene.history import History, UndoStep
from chalcedon.scene.ids import RESERVED, check_id, stem_of
from chalcedon.scene.inputs import Inputs, InputsOf, InputsProperty
from chalcedon.scene.paints import Paint, Palette
from chalcedon.scene.presets import Presets
from chalcedon.scene.responses import Response, Responses, renamed
from chalcedon.scene.shape import KINDS, Group, Shape, Unknown, ancestry, require
from chalcedon.scene.values import Choice, Many, Number, TextValue, Tuple, same

Observer = Callable[[Edit], None]
S = TypeVar("S", bound=Shape)


class Scene(Declared):
    """A whole document. Every change is an edit, recorded in `history`, and told to `observers`."""

    __slots__ = ("__weakref__", "_by_id", "_hints", "_open", "folder", "history", "kept", "observers", "top")

    kind = "scene"
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=Number(low=1.0, high=100_000.0)), (960, 600), "the page, in px", always=True
    )
    y_axis: Property[str] = Property(
        Choice("down", "up"),
        "down",
        "which way y grows: down from the top left of the page, or up from its bottom left",
        word="y",
    )
    background: Property[Any] = Property(
        Paint(patterns=False), "#ffffff", "painted first", affects="paint", section="paint", always=True
    )
    palette: Property[tuple[tuple[str, str], ...]] = Property(
        Palette(), (), "named colours, referred to as var(--name)", affects="paint", section="paint"
    )

    inputs: Property[InputsOf] = InputsProperty(
        Inputs(), (), "named values that a person or a program sets; formulas read them", affects="nothing"
    )
    responses: Property[tuple[Response, ...]] = Property(
        Responses(), (), "what changes when something happens to the scene", affects="nothing"
    )
    presets: Property[tuple[tuple[str, Any], ...]] = Property(
        Presets(), (), "named paint and text settings, which shapes wear", affects="nothing", section="paint"
    )
    guides_x: Property[tuple[float, ...]] = Property(
        Many(Number(), 0, 200, "places on the x axis"), (), "upright lines to snap to; never part of the picture"
    )
    guides_y: Property[tuple[float, ...]] = Property(
        Many(Number(), 0, 200, "places on the y axis"), (), "level lines to snap to; never part of the picture"
    )
    reference: Property[str] = Property(
        TextValue(), "", "an image to draw and measure by, laid under the shapes; never part of the picture"
    )
    reference_at: Property[tuple[float, float]] = Property(
        Tuple("x", "y"), (0, 0), "where its top left corner lies", word="reference at"
    )
    reference_width: Property[float] = Property(
        Number(low=0.0), 0, "how wide it is drawn; 0: at its own size", word="reference width"
    )
    reference_opacity: Property[float] = Property(
        Number(low=0.0, high=1.0, unit="", step=0.05), 0.5, "how strongly it is drawn", word="reference opacity"
    )

    def __init__(self, shapes: Iterable[Shape] = (), **values: Any) -> None:
        self._values = {}
        self._formulas = None
        self._extra = NOTHING
        self._by_id: dict[str, Shape] = {}
        self._hints: dict[str, int] = {}
        self._open: UndoStep | None = None
        self.history = History()
        self.observers: list[Observer] = []
        self.kept: dict[str, Any] = {}
        """What others derive from the scene and keep exactly as long as it lives, each under a name of its own."""
        self.folder: str | None = None
        """Where linked files are looked for; set by whoever opens or saves the scene."""
        self.top = Group()
        """The group that holds the top level. It is not a shape of the scene itself and has no id."""
        self.top._scene = self
        for name, value in values.items():
            self.store(name, self.declared(name).read(value, "scene"))
        for shape in shapes:
            require(shape, Shape)
            self.adopt(shape)

    # reading

    @property
    def shapes(self) -> tuple[Shape, ...]:
        """The top level, back to front."""
        return self.top.children

    def __getitem__(self, id: str) -> Shape:
        try:
            return self._by_id[id]
        except KeyError:
            raise ValueProblem(f"there is no shape {id}.", hint=nearest(id, self._by_id)) from None

    def get(self, id: str) -> Shape | None:
        """The shape with an id, or None."""
        return self._by_id.get(id)

    def owner(self, id: str) -> Declared:
        """The shape with an id, or the scene itself for "". Raises KeyError."""
        return self._by_id[id] if id else self

    def group(self, id: str) -> Group:
        """The group with an id, or the top level for "". Raises KeyError when there is no such group."""
        found = self._by_id[id] if id else self.top
        if not isinstance(found, Group):
            raise KeyError(id)
        return found

    def enrol(self, shapes: Iterable[Shape]) -> None:
        """Has shapes belong to the scene, without an edit. For edits and readers only."""
        for shape in shapes:
            shape._scene = self
            self._by_id[shape._id] = shape

    def dismiss(self, shapes: Iterable[Shape]) -> None:
        """Has shapes no longer belong to it, without an edit. For edits and readers only."""
        for shape in shapes:
            shape._scene = None
            del self._by_id[shape._id]

    def __contains__(self, shape: object) -> bool:
        """Whether a shape, or one with an id, is in the scene."""
        return shape._scene is self if isinstance(shape, Shape) else shape in self._by_id

    def __iter__(self) -> Iterator[Shape]:
        """Every shape in paint order, groups before what they hold."""
        return self.walk()

    def find(self, kind: str = "", where: Callable[[Any], object] | None = None) -> list[Shape]:
        """The shapes of a kind, or of all, for which `where` is true, in paint order.

        scene.find("circle", where=lambda c: c.radius > 20). Raises ValueProblem for a kind that there isn't.
        """
        if kind and kind not in KINDS:
            raise ValueProblem(f"{kind} is not a kind of shape.", hint=nearest(kind, KINDS))
        return [s for s in self.walk() if (not kind or s.kind == kind) and (where is None or where(s))]

    def __repr__(self) -> str:
        width, height = self.size
        return f"<scene {width:g} × {height:g} of {len(self)} shape{'' if len(self) == 1 else 's'}>"

    def __len__(self) -> int:
        return len(self._by_id)

    def walk(self) -> Iterator[Shape]:
        """Every shape in paint order, groups before their children."""
        for shape in self.top.walk():
            if shape is not self.top:
                yield shape

    def equals(self, other: Scene) -> bool:
        """Whether both scenes state the same, formulas, unknown properties and order included."""
        return _same_owner(self, other) and _same_children(self.top, other.top)

    # changing

    @contextmanager
    def step(self, name: str, gesture: object = None) -> Iterator[None]:
        """Everything inside is one undo step. When it raises, all of it is taken back.

        Steps with the same `gesture` (anything but None), one after another, become one. A step inside
        another is part of it.
        """
        if self._open is not None:
            # an outer step without a name of its own takes that of the first step inside that has one
            self._open.name = self._open.name or name
            yield
            return
        self._open = step = UndoStep(name, gesture=gesture)
        try:
            yield
        except BaseException:
            for edit in reversed(step.edits):
                self._tell(edit.inverse())
            self.history.tell("failed", step)
            raise
        else:
            self.history.push(step)
        finally:
            self._open = None

    def _do(self, edit: Edit, name: str) -> None:
        with self.step(name):
            assert self._open is not None
            self._tell(edit)
            self._open.edits.append(edit)

    def apply(self, edits: Iterable[Edit], name: str, gesture: object = None) -> None:
        """Does edits that fit this scene as it is now (of `diff`, or read from a file), as one step."""
        with self.step(name, gesture):
            for edit in edits:
                self._do(edit, "")

    def _tell(self, edit: Edit) -> None:
        edit.apply(self)
        for observer in self.observers:
            observer(edit)

    def comes_to(self, name: str) -> Any:
        """What a property comes to, by its formulas. Raises ValueProblem for what there isn't."""
        return ask("comes_to", self, name)

    def assign(self, name: str, value: Any) -> None:
        self.set(self, name, value)

    def put(self, name: str, value: Any) -> None:
        """Sets a property. Another way of y leaves what is there where it is on the page: its numbers are rewritten."""
        if name == "y_axis":
            ask("run_y", self, value)
        else:
            self.assign(name, value)

    def set(self, target: Declared, name: str, value: Any) -> None:
        """Checks and sets a property of a shape of this scene, or of the scene."""
        if isinstance(target, Unknown):
            target.assign(name, value)  # says why not
        if not isinstance(target, Declared):
            require(target, Shape)
        prop = target.declared(name)
        about = target._id if isinstance(target, Shape) else ""
        owner = about or "scene"
        if isinstance(target, Shape) and target._scene is not self:
            raise ValueProblem(f"{target._called} is not in this scene.", hint="Add it first.")
        old = target._values.get(name, prop.default)
        new = prop.read(value, owner, prop.kind.plain(old) if target._formulas else old)
        if same(old, new) and name not in target._extra:
            return
        with self.step(f"Change {prop.word} of {owner}"):
            if name in target._extra:
                self._do(DropRaw(about, name, target._extra[name]), "")
            self._do(SetValue(about, name, old, new), "")

    def add(self, shape: S, parent: Group | None = None, index: int | None = None) -> S:
        """Adds a shape with all it holds, in front of its new siblings unless `index` says otherwise, counted from the
        back.

        Shapes without an id get one made from their kind; copies get another where theirs is taken. Any other id that
        is taken raises ValueProblem.
        """
        parent = self.top if parent is None else parent
        require(shape, Shape)
        require(parent, Group)
        if parent._scene is not self:
            raise ValueProblem(f"{parent._called} is not in this scene.")
        if shape._parent is not None or shape._scene is not None:
            raise ValueProblem(f"{shape._called} already has a place.", hint="Move it, or add a copy.")
        check_depth(parent, shape)
        if shape._copied:
            fresh_ids(self, shape)
        self._name_all(shape)
        room = len(parent._children)
        place = room if index is None else _place_within(index, room)
        with self.step(f"Add {shape._id}"):
            self._make_room(parent)
            self._do(Insert(shape, parent._id, place), "")
        shape._copied = False
        return shape

    def _make_room(self, parent: Group) -> None:
        """Gives up what stood in the file where a list of shapes belongs, since there will be one now."""
        owner, name = (self, "shapes") if parent is self.top else (parent, "children")
        if name in owner._extra:
            self._do(DropRaw(parent._id, name, owner._extra[name]), "")

    def adopt(self, shape: Shape) -> None:
        """Puts a shape at the front of the top level without an edit. For readers only."""
        self._name_all(shape)
        Insert(shape, "", len(self.top._children)).apply(self)

    def _name_all(self, shape: Shape) -> None:
        """Checks the ids of a subtree and gives the missing ones. Nothing is changed when one is wrong."""
        given = [s._id for s in shape.walk() if s._id]
        seen: set[str] = set()
        for id in given:
            check_id(id)
            if id in self._by_id or id in seen or self._is_input(id):
                raise ValueProblem(f"the id {id} is taken.", hint=f"Free: {self.free_id(id, seen)}.")
            seen.add(id)
        for s in shape.walk():
            if not s._id:
                s._id = self.free_id(s.kind, seen)
                seen.add(s._id)

    def free_id(self, wanted: str, also_taken: Container[str] = ()) -> str:
        """`wanted` when no shape has it, else wanted_2, wanted_3, ..."""
        if wanted not in self._by_id and wanted not in also_taken and not self._means_more(wanted):
            return wanted
        stem = stem_of(wanted)
        # numbers below the hint were all found taken before; shapes deleted since leave gaps, no more
        number = self._hints.get(stem, 2)
        while f"{stem}_{number}" in self._by_id or f"{stem}_{number}" in also_taken:
            number += 1
        if self._is_input(f"{stem}_{number}"):
            return self.free_id(f"{stem}_{number}_2", also_taken)
        if len(self._by_id) > 100:
            self._hints[stem] = number
        return f"{stem}_{number}"

    def _is_input(self, name: str) -> bool:
        return "inputs" in self._values and name in self.inputs

    def _means_more(self, name: str) -> bool:
        """Whether a name means something else than a shape in formulas."""
        return name in RESERVED or self._is_input(name)

    def remove(self, shape: Shape) -> None:
        """Takes a shape, with all it holds, out of the scene."""
        parent, index = self._place(shape)
        self._do(Remove(shape, parent._id, index), f"Delete {shape._id}")

    def move(self, shape: Shape, parent: Group, index: int, name: str = "") -> None:
        """Gives a shape another place in the list. `index` counts as if it had been taken out first."""
        old_parent, old_index = self._place(shape)
        require(parent, Group)
        if any(g is shape for g in ancestry(parent)):
            raise ValueProblem(f"{shape._called} can't be put into itself.")
        if parent._scene is not self:
            raise ValueProblem(f"{parent._called} is not in this scene.")
        room = len(parent._children) - (1 if parent is old_parent else 0)
        check_depth(parent, shape)
        index = _place_within(index, room)
        if (old_parent, old_index) != (parent, index):
            with self.step(name or f"Reorder {shape._id}"):
                self._make_room(parent)
                self._do(Move(shape._id, old_parent._id, old_index, parent._id, index), "")

    def rename(self, shape: Shape, new: str) -> None:
        """Gives a shape another id and changes everything that names it."""
        self._place(shape)
        if new == shape._id:
            return
        check_id(new)
        if new in self._by_id or new in self.inputs:
            raise ValueProblem(f"the id {new} is taken.", hint=f"Free: {self.free_id(new)}.")
        old = shape._id
        with self.step(f"Rename {old} to {new}"):
            self._do(Rename(old, new), "")
            self.rename_in_formulas(old, new)
            for shape, name in self.references(old):
                was = shape._values[name]
                self._do(SetValue(shape._id, name, was, shape.properties[name].kind.referring(was, new)), "")

    def rename_in_formulas(self, old: str, new: str) -> None:
        """Has every formula that uses a name use another."""
        for owner in (self, *self.walk()):
            about = owner._id if isinstance(owner, Shape) else ""
            for name in sorted(owner._formulas or ()):
                was = owner._values[name]
                now = owner.rewrite_formulas(name, lambda f: Formula(rename_in(f.text, old, new), f.last))
                if was != now:
                    self._do(SetValue(about, name, was, now), "")
            told = owner._values.get("responses", ())
            follow = tuple(renamed(r, old, new) for r in told)
            if follow != told:
                self._do(SetValue(about, "responses", told, follow), "")

    def references(self, id: str) -> list[tuple[Shape, str]]:
        """The shapes, and their properties, that refer to a shape by its id (clip, inside, a pattern)."""
        return [(s, n) for s in self.walk() for n, v in s._values.items() if s.properties[n].kind.refers(v) == id]

    def _place(self, shape: Shape) -> tuple[Group, int]:
        require(shape, Shape)
        if shape._scene is not self or shape._parent is None:
            raise ValueProblem(f"{shape._called} is not in this scene.")
        return shape._parent, shape._parent.index_of(shape)

    # history

    @property
    def undo_name(self) -> str:
        """What undo would take back; empty when there is nothing."""
        return self.history.done[-1].name if self.history.done else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again; empty when there is nothing."""
        return self.history.undone[-1].name if self.history.undone else ""

    def undo(self) -> str:
        """Takes back the last step and returns its name, empty when there was none."""
        if not self.history.done:
            return ""
        step = self._back()
        self.history.undone.append(step)
        self.history.tell("undone", step)
        return step.name

    def _back(self) -> UndoStep:
        step = self.history.done.pop()
        for edit in reversed(step.edits):
            self._tell(edit.inverse())
        step.gesture = None
        return step

    def take_back(self, gesture: object) -> bool:
        """Undoes the last step for good, when it belongs to `gesture`. Returns whether it did."""
        done = self.history.done
        if not done or gesture is None or done[-1].gesture is not gesture:
            return False
        self.history.tell("taken_back", self._back())
        return True

    def redo(self) -> str:
        """Does the last undone step again and returns its name, empty when there was none."""
        if not self.history.undone:
            return ""
        step = self.history.undone.pop()
        for edit in step.edits:
            self._tell(edit)
        self.history.done.append(step)
        self.history.tell("redone", step)
        return step.name


MAX_DEPTH = 200
"""How deep groups may nest."""


def levels(shape: Shape) -> int:
    """How many shapes stand in one another, a shape itself and in it the deepest of each."""
    count, level = 0, [shape]
    while level:
        count += 1
        level = [c for s in level if isinstance(s, Group) for c in s._children]
    return count


def check_depth(parent: Group, shape: Shape) -> None:
    """Raises ValueProblem when `shape` in `parent` would nest deeper than MAX_DEPTH."""
    depth = sum(1 for _ in ancestry(parent)) - 1 + levels(shape)  # the top group doesn't count
    if depth > MAX_DEPTH:
        raise ValueProblem(f"that would nest {depth} groups in each other.", hint=f"The most is {MAX_DEPTH}.")


def _place_within(index: int, room: int) -> int:
    """A place in a list of siblings, the nearest that there is. Raises ValueProblem for what is no whole number."""
    try:
        return min(max(operator.index(index), 0), room)
    except TypeError:
        hint = "A whole number belongs here, counted from the back."
        raise ValueProblem(f"{shorten(index)} is not a place among shapes.", hint=hint) from None


def _same_owner(a: Declared, b: Declared) -> bool:
    if type(a) is not type(b) or a._values.keys() != b._values.keys() or a._extra != b._extra:
        return False
    return all(same(v, b._values[n]) for n, v in a._values.items())


def _same_children(a: Group, b: Group) -> bool:
    stack = [(a, b)]
    while stack:
        left, right = stack.pop()
        if len(left._children) != len(right._children):
            return False
        for x, y in zip(left._children, right._children, strict=True):
            if x._id != y._id or not _same_owner(x, y):
                return False
            if isinstance(x, Group) and isinstance(y, Group):
                stack.append((x, y))
    return True
