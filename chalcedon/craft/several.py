"""Several shapes as one owner of the values that they have in common: what is equal is told, what isn't is MIXED.

It is asked and changed as a shape is (`stated`, `declared`), so that whatever shows or edits the values of a shape can
do so for several.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Final

from chalcedon.craft.hold import set_anchor, set_pivot
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Scene, Shape
from chalcedon.scene.declare import Property
from chalcedon.scene.limits import within
from chalcedon.scene.proportions import set_following

APART = frozenset(("steps", "points", "data", "content", "source", "inside", "clip", "label", "runs"))
"""What belongs to one shape alone."""
Path = tuple[int, ...]


class _Mixed:
    """Stands where values differ."""

    def __repr__(self) -> str:
        return "mixed"


MIXED: Final = _Mixed()


class Several:
    """What some shapes have in common. Made anew when they change; shapes that have left their scene don't belong."""

    def __init__(self, shapes: Sequence[Shape]) -> None:
        if not shapes:
            raise ValueProblem("there are no shapes to change.")
        self.shapes = list(shapes)
        kinds = list({type(s): s for s in shapes}.values())
        first = kinds[0].properties
        self.properties: dict[str, Property[Any]] = {
            n: p for n, p in first.items() if n not in APART and all(_alike(p, s.properties.get(n)) for s in kinds)
        }
        self._kinds = kinds
        self._given: set[str] = set()
        for shape in shapes:
            self._given.update(shape._values)
        self._known: dict[str, Any] = {}

    @property
    def examples(self) -> list[Shape]:
        """One shape of each kind."""
        return self._kinds

    @property
    def scene(self) -> Scene | None:
        """The scene that they are in."""
        return self.shapes[0].scene

    @property
    def id(self) -> str:
        """How it is called in sentences."""
        return f"{len(self.shapes)} shapes"

    def declared(self, name: str) -> Property[Any]:
        """The property called `name`. Raises ValueProblem for one that not all of them have."""
        if name not in self.properties:
            raise ValueProblem(f"not all of {self.id} have {name}.")
        return self.properties[name]

    def stated(self, name: str) -> Any:
        """The value that all of them state; MIXED where they differ, number by number."""
        if name not in self._known:
            every = self.shapes if name in self._given else self._kinds
            self._known[name] = merged(s.stated(name) for s in every)
        return self._known[name]

    def set(self, display: DisplayList, name: str, value: Any, gesture: object = None) -> None:
        """Gives all of them a value, as one undo step; where it is MIXED, each keeps its own. Raises ValueProblem for
        what one of them can't take; then none does."""
        self._change(display, name, lambda own: filled(value, own), gesture)

    def change(
        self, display: DisplayList, name: str, path: Path, change: Callable[[Any], Any], gesture: object = None
    ) -> None:
        """Changes a number of each of them by what it is, within the limits of its kind."""
        kind = self.declared(name).kind
        self._change(display, name, lambda own: within(kind, changed(own, path, change)), gesture)

    def formulate(self, display: DisplayList, name: str, path: Path, text: str, gesture: object = None) -> None:
        """Has all of them work out a value, or a number of it, by a formula; where that can't be done each keeps what
        it has."""
        kind = self.declared(name).kind

        def last(own: Any) -> Any:
            return own.last if isinstance(own, Formula) else own if path else kind.plain(own)

        self._change(display, name, lambda own: changed(own, path, lambda part: Formula(text, last(part))), gesture)

    def _change(self, display: DisplayList, name: str, new: Callable[[Any], Any], gesture: object) -> None:
        prop = self.declared(name)
        with display.scene.step(f"Change {prop.word} of {self.id}", gesture):
            for shape in self.shapes:
                try:
                    value = new(shape.stated(name))
                    if isinstance(value, Formula):
                        display.scene.set(shape, name, value)
                    elif name == "anchor":
                        set_anchor(display, shape, value)
                    elif name == "pivot":
                        set_pivot(display, shape, value)
                    else:
                        set_following(display.scene, shape, name, value)
                except ChalcedonError as problem:
                    raise ValueProblem(problem.message, f"{shape.id}.{name}", problem.hint) from None


def _alike(one: Property[Any], other: Property[Any] | None) -> bool:
    """Whether two properties hold the same kind of value."""
    return other is not None and type(one.kind) is type(other.kind) and one.section == other.section


def merged(values: Any) -> Any:
    """What some values have in common, part by part of those that have parts; it stops where nothing is left."""
    each = iter(values)
    common = next(each)
    for value in each:
        if value == common:
            continue
        common = _common(common, value)
        if _is_mixed(common):
            break
    return common


def _common(one: Any, two: Any) -> Any:
    if one == two or (isinstance(one, Formula) and isinstance(two, Formula) and one.text == two.text):
        return one
    if type(one) is tuple and type(two) is tuple and len(one) == len(two):
        return tuple(_common(a, b) for a, b in zip(one, two, strict=True))
    return MIXED


def _is_mixed(value: Any) -> bool:
    return value is MIXED or (type(value) is tuple and bool(value) and all(map(_is_mixed, value)))


def filled(value: Any, own: Any) -> Any:
    """A value with what is MIXED in it taken from another."""
    if value is MIXED:
        return own
    if type(value) is tuple and any(v is MIXED for v in value):
        return tuple(filled(v, o) for v, o in zip(value, own, strict=True))
    return value


def changed(value: Any, path: Path, change: Callable[[Any], Any]) -> Any:
    """A value with the number at a path changed."""
    if not path:
        return change(value)
    at, rest = path[0], path[1:]
    return (*value[:at], changed(value[at], rest, change), *value[at + 1 :])
