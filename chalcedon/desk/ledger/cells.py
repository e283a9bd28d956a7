"""What stands in a row and where: words, numbers, chips and marks, laid out from the declarations."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetricsF

from chalcedon.craft.several import MIXED, Several
from chalcedon.desk.ledger.folds import ALSO
from chalcedon.desk.ledger.formulacells import is_number, now, problem_of
from chalcedon.desk.ledger.formulacells import words as words_of
from chalcedon.desk.ledger.parts import Way, part, show
from chalcedon.desk.ledger.valuecells import GAP, SENTENCE_X, put_mixed, put_responses, put_value
from chalcedon.desk.looks.lettering import advance
from chalcedon.desk.looks.theme import font
from chalcedon.evaluate.kept import formulas_at, set_by_run
from chalcedon.formula import Formula
from chalcedon.geometry.pathdata import parse_path
from chalcedon.scene import Group, Scene, Shape
from chalcedon.scene.declare import Declared, Property
from chalcedon.scene.paints import Paint
from chalcedon.scene.shapes import Unknown
from chalcedon.scene.values import Number, Tuple

ROW = 28
LINE = 20
"""Height of a line of a remark."""
END = 19
"""Height of the two lines that name the ends."""
HEAD = ROW + 4
FLIP = 102
"""Px at the right of the scene's own line for which end is listed first."""
INDENT = 9
WORD_GAP = 4.0
PAD = 2.0
"""Px around the text of a value."""
LEAST_TEXT = 60.0
"""Px below which a text is left out rather than cut short."""
MOST_KNOWN = 500
"""Closed rows whose cells are remembered."""
MOST_FOLLOWED = 200
"""Of several shapes, those whose formulas are followed while their row is open."""
MANY = 16
"""Points shown before `and N more`."""


Owner = Declared | Several
"""Whose values stand in cells: a shape, the scene, or several shapes at once."""


@dataclass(slots=True)
class Cell:
    """Something to see or to take hold of. x, y, w, h are px from the top left of the row."""

    x: float
    y: float
    w: float
    h: float
    role: str
    text: str = ""
    owner: Owner | None = None
    name: str = ""
    path: Way = ()
    value: Any = None
    wrong: str = ""
    """Why its formula can't be worked out."""

    def holds(self, x: float, y: float) -> bool:
        return self.x <= x <= self.x + self.w and self.y <= y <= self.y + self.h

    @property
    def also(self) -> str:
        """The word of the description that a number belongs to (craft/descriptions.py); else empty."""
        return self.name.removeprefix(ALSO) if self.name.startswith(ALSO) else ""

    @property
    def key(self) -> tuple[str, str, Way]:
        return self.role, self.name, self.path

    @property
    def live(self) -> bool:
        """Whether it can be focused and changed."""
        return self.role in (
            "number",
            "text",
            "choice",
            "flag",
            "paint",
            "step-op",
            "remove",
            "add",
            "more",
            "switch",
            "repair",
            "id",
            "up",
            "offer",
            "switch-paint",
        )


STYLES = {
    "plain": (14, False, False),
    "bold": (14, True, False),
    "italic": (13, False, True),
    "small": (13, False, False),
}
"""Size, and whether bold and italic, of the ledger's letters."""
VALUES = frozenset(("number", "text", "choice", "flag", "step-op"))
"""What has its value to be taken hold of: a little wider than the text."""


class Metrics:
    """Widths of text in the ledger's fonts. Made after the application."""

    def width(self, text: str, style: str = "plain") -> float:
        return advance(text, *STYLES[style])

    def cut(self, text: str, width: float) -> str:
        """A text cut short with an ellipsis."""
        return QFontMetricsF(font()).elidedText(text, Qt.TextElideMode.ElideRight, width)


class Flow:
    """Cells one after another, with line breaks where `right` is reached."""

    style, line = "plain", ROW
    """Of the letters, and the height of a line."""

    def __init__(self, metrics: Metrics, x: float, right: float, y: float = 0.0, wrap: bool = True) -> None:
        self.metrics, self.left, self.right, self.wrap = metrics, x, right, wrap
        self.x, self.y = x, y
        self.cells: list[Cell] = []
        self.full = False

    def put(self, role: str, text: str, width: float | None = None, gap: float = GAP, **more: Any) -> Cell | None:
        """Adds a cell; None when there is no room and lines don't wrap."""
        if self.full:
            return None
        w = width
        if w is None:
            w = self.metrics.width(text, self.style) + (PAD * 2 if role in VALUES else 0)
        if role == "text" and width is None:
            room = self.right - (self.left if self.wrap else self.x)
            if w > room >= LEAST_TEXT:
                text, w = self.metrics.cut(text, room - 2 * PAD), room
        if self.x + w > self.right and (self.x > self.left or not self.wrap):
            if not self.wrap:
                self.full = True
                return None
            self.new_line()
        w = min(w, max(24.0, self.right - self.x))
        cell = Cell(self.x, self.y, w, self.line, role, text, **more)
        self.cells.append(cell)
        self.x += w + gap
        return cell

    def new_line(self) -> None:
        self.x = self.left
        self.y += self.line

    def reserve(self, texts: Sequence[str]) -> None:
        """Begins a new line unless some texts, put one after another, fit into this one."""
        if self.x > self.left and not self.has_room(texts):
            self.new_line()

    def has_room(self, texts: Sequence[str]) -> bool:
        """Whether some texts, put one after another, fit into this line."""
        return self.x + sum(self.metrics.width(t, self.style) + 2 * PAD + WORD_GAP for t in texts) <= self.right

    def word(self, text: str, gap: float = WORD_GAP) -> None:
        self.put("word", text, gap=gap)

    def value(self, owner: Owner, prop: Property[Any], words: bool = True) -> None:
        """The cells of a property, whatever its kind."""
        first = len(self.cells)
        stated = owner.stated(prop.name)
        if words and self.wrap and isinstance(prop.kind, Tuple) and isinstance(stated, tuple):
            self.reserve([prop.word, *map(show, stated)])  # a pair is not torn apart
        if words:
            self.word(prop.word)
        self._value(owner, prop)
        if words and first + 1 < len(self.cells):
            self.keep_together(first)
        if self.wrap and isinstance(owner, Shape) and prop.name in (now := set_by_run(owner)):
            self.put("run", f"now {words_of(now[prop.name])}", owner=owner, name=prop.name)

    def keep_together(self, first: int) -> None:
        """A word whose value went to the next line follows it there."""
        word, value = self.cells[first], self.cells[first + 1]
        if value.y <= word.y:
            return
        shift = word.w + WORD_GAP
        word.x, word.y = self.left, value.y
        line = [c for c in self.cells[first + 1 :] if c.y == value.y]
        for cell in line:
            cell.x += shift
        over = line[-1].x + line[-1].w - self.right
        text = next((c for c in reversed(line) if c.role == "text"), None)
        if over > 0 and text is not None:  # a text gives way to what stands after it
            text.w -= over
            text.text = self.metrics.cut(text.text, text.w - 2 * PAD)
            for cell in line[line.index(text) + 1 :]:
                cell.x -= over
            self.x -= over if self.y == value.y else 0.0
        if self.y == value.y:
            self.x += shift

    def _value(self, owner: Owner, prop: Property[Any]) -> None:
        stated = owner.stated(prop.name)
        if isinstance(stated, Formula):
            self.formula(owner, prop, (), stated)
        elif stated is MIXED:
            put_mixed(prop.kind, self, owner, prop)
        else:
            put_value(prop.kind, self, owner, prop, stated)

    def formula(self, owner: Owner, prop: Property[Any], path: Way, stated: Formula, gap: float = GAP) -> Cell | None:
        """The cell of a formula: it shows what that comes to."""
        problem = problem_of(owner, prop.name, stated)
        wrong = problem.sentence if problem is not None else ""
        value = Formula(stated.text, now(owner, prop.name, path, stated))
        shown, color = words_of(value.last), isinstance(prop.kind, Paint) or (path and isinstance(value.last, str))
        role = "number" if (path and not color) or is_number(prop) else "text"
        if color:
            self.put("paint", prop.name, 18, gap=4, owner=owner, name=prop.name, path=path, value=value)
        return self.put(role, shown, gap=gap, owner=owner, name=prop.name, path=path, value=value, wrong=wrong)

    def number(self, owner: Owner, prop: Property[Any], path: Way, gap: float = GAP) -> Cell | None:
        value = part(owner.stated(prop.name), path)
        if isinstance(value, Formula):
            return self.formula(owner, prop, path, value, gap)
        return self.put("number", show(value), gap=gap, owner=owner, name=prop.name, path=path, value=value)


def summary(metrics: Metrics, shape: Shape, x: float, right: float, kind: bool = True) -> list[Cell]:
    """The values of a closed row: what places and measures the shape, after its kind. Each is shown whole or not at
    all. Where there is little room the kind goes first, then what says how large the shape is comes before where."""
    if kind and (width := metrics.width(shape.kind, "italic")) and x + width <= right:
        word = Cell(x, 0, width, ROW, "kind", shape.kind)
        found, whole = _values_in(metrics, shape, x + width + 10, right, shape.leading)
        if whole or len(found) > 2 or isinstance(shape, Group | Unknown):
            return [word, *found]
    found, whole = _values_in(metrics, shape, x, right, shape.leading)
    if whole or shape.leading[:1] != ("at",):
        return found
    size_first = (*shape.leading[1:], "at")
    found, _ = _values_in(metrics, shape, x, right, size_first)
    return found if found else _values_in(metrics, shape, x, right, size_first, words=False)[0]


def worked_out(owner: Owner) -> object:
    """What the formulas of a shape come to, and what is wrong with them: all that its cells show beside its values."""
    if isinstance(owner, Several):
        return tuple(worked_out(s) for s in owner.shapes[:MOST_FOLLOWED] if s._formulas) or None
    if not isinstance(owner, Shape):
        return None
    run = set_by_run(owner)
    if not owner._formulas:
        return run or None
    found = [(name, formulas_at(owner, name)) for name in sorted(owner._formulas)]
    return run, [(name, c and (c.value, c.problem and c.problem.message)) for name, c in found]


class Summaries:
    """Summaries of closed rows, laid out anew when what they say has changed."""

    def __init__(self) -> None:
        self._known: dict[Shape, tuple[object, list[Cell]]] = {}

    def forget(self) -> None:
        self._known.clear()

    def of(self, metrics: Metrics, shape: Shape, x: float, right: float) -> list[Cell]:
        """As `summary`. The cells are not to be changed."""
        inside = len(shape._children) if isinstance(shape, Group) else 0
        state = metrics, shape.id, x, right, inside, dict(shape._values), worked_out(shape)
        known = self._known.get(shape)
        if known is None or known[0] != state:
            if len(self._known) > MOST_KNOWN:
                self._known.clear()
            known = self._known[shape] = state, summary(metrics, shape, x, right)
        return known[1]


def _values_in(
    metrics: Metrics, shape: Shape, x: float, right: float, names: Sequence[str], words: bool = True
) -> tuple[list[Cell], bool]:
    """The cells of those properties that fit, and whether all of them do."""
    flow = Flow(metrics, x, right, wrap=False)
    whole = True
    for name in (*names, "steps"):
        start, before = len(flow.cells), flow.x
        if words or not isinstance(shape.properties[name].kind, Number | Tuple):
            _summarise(flow, shape, name)
        else:
            flow.value(shape, shape.properties[name], words=False)
        if flow.full:
            del flow.cells[start:]
            flow.x, flow.full, whole = before, False, False
    if isinstance(shape, Unknown):
        flow.word(f"{shape.written_kind}: not known here, kept")
    return flow.cells, whole


def _summarise(flow: Flow, shape: Shape, name: str) -> None:
    prop = shape.properties[name]
    if name == "points":
        count = len(shape.points)  # type: ignore[attr-defined]
        closed = ", closed" if shape.closed else ""  # type: ignore[attr-defined]
        flow.word(f"{count} point{'s' if count != 1 else ''}{closed}")
    elif name == "corners":
        if shape.stated(name) != prop.default:
            flow.word("corner")
            flow.number(shape, prop, (0,))
    elif name == "at" and isinstance(shape, Group) and shape.at == (0, 0):
        flow.put("word", f"{len(shape._children)} inside")
    elif name == "steps":
        for i, step in enumerate(shape.stated("steps")):
            flow.word(step.op)
            for k in range(len(step.values)):
                flow.number(shape, prop, (i, k), gap=GAP if k == len(step.values) - 1 else 2)
    elif name == "data":
        parsed = parse_path(shape.data)  # type: ignore[attr-defined]
        pieces = sum(s.letter not in "MZ" for s in parsed.segments)
        flow.word(f"{pieces} segment{'s' if pieces != 1 else ''}" + (", broken off" if parsed.error else ""))
    elif name in ("content", "source"):
        flow.value(shape, prop, words=False)
    elif name != "closed":
        flow.value(shape, prop)


def scene_cells(metrics: Metrics, scene: Scene, width: float, front_first: bool) -> list[Cell]:
    """What the scene states of itself, which end of the paint order is listed first, and the scene's own responses on
    a line each below that."""
    flow = Flow(metrics, 62, width - FLIP, wrap=False)
    flow.value(scene, scene.properties["size"], words=False)
    flow.value(scene, scene.properties["y_axis"])
    flow.word("background")
    flow.put("paint", "background", 18, gap=GAP, owner=scene, name="background", value=scene.stated("background"))
    if scene.palette:
        for name, color in scene.palette[:6]:
            flow.put("palette", name, 12, gap=2, owner=scene, name="palette", value=color)
        flow.x += 4
    count = len(scene)
    flow.word(f"{count} shape{'s' if count != 1 else ''}")
    flow.put("add", "+ response", owner=scene, name="responses")
    text = "front first ↓" if front_first else "back first ↓"
    wide = metrics.width(text)
    lines = Flow(metrics, SENTENCE_X, width - 14, wrap=True)
    put_responses(lines, scene, scene.stated("responses"))
    return [*flow.cells, Cell(width - 14 - wide, 0, wide, ROW, "flip", text), *lines.cells]
