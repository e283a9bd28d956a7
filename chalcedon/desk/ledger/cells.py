"""What stands in a row and where: words, numbers, chips and marks, laid out from the declarations."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtGui import QFontMetricsF

from chalcedon.desk.ledger.parts import Path, part, show
from chalcedon.desk.theme import font
from chalcedon.evaluate.checkup import Remark
from chalcedon.evaluate.descriptions import Description
from chalcedon.evaluate.tidy import tidy
from chalcedon.formula import Formula
from chalcedon.geometry.pathdata import parse_path
from chalcedon.scene import Arc, Gradient, Group, Line, Picture, Polyline, Scene, Shape, Step
from chalcedon.scene import Path as PathShape
from chalcedon.scene.declare import Declared, Property
from chalcedon.scene.paints import Paint, ShadowValue, palette_name
from chalcedon.scene.shapes import Painted, Unknown
from chalcedon.scene.steps import OPS
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, Number, Ref, TextValue, Tuple
from chalcedon.source import sentence

ROW = 28
LINE = 20
"""Height of a line of a remark."""
END = 19
"""Height of the two lines that name the ends."""
HEAD = ROW + 4
INDENT = 9
GAP = 7.0
PAD = 2.0
"""Px around the text of a value."""
LEAST_TEXT = 60.0
"""Px below which a text is left out rather than cut short."""
MANY = 16
"""Points shown before `and N more`."""

ALSO = "also "

EDITED = frozenset(("number", "text", "id"))
"""Roles that open an editor."""


@dataclass(slots=True)
class Cell:
    """Something to see or to take hold of. x, y, w, h are px from the top left of the row."""

    x: float
    y: float
    w: float
    h: float
    role: str
    text: str = ""
    owner: Declared | None = None
    name: str = ""
    path: Path = ()
    value: Any = None

    def holds(self, x: float, y: float) -> bool:
        return self.x <= x <= self.x + self.w and self.y <= y <= self.y + self.h

    @property
    def also(self) -> str:
        """The word of the description that a number belongs to (evaluate/descriptions.py); else empty."""
        return self.name.removeprefix(ALSO) if self.name.startswith(ALSO) else ""

    @property
    def key(self) -> tuple[str, str, Path]:
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
            "repair",
            "id",
            "up",
        )


class Metrics:
    """Widths of text in the ledger's fonts. Made after the application."""

    def __init__(self) -> None:
        self._plain = QFontMetricsF(font())
        self._bold = QFontMetricsF(font(bold=True))
        self._italic = QFontMetricsF(font(13, italic=True))
        self._known: dict[tuple[str, str], float] = {}

    def width(self, text: str, style: str = "plain") -> float:
        key = (style, text)
        found = self._known.get(key)
        if found is None:
            if len(self._known) > 20_000:
                self._known.clear()
            metrics = {"bold": self._bold, "italic": self._italic}.get(style, self._plain)
            found = self._known[key] = metrics.horizontalAdvance(text)
        return found

    def cut(self, text: str, width: float) -> str:
        """A text cut short with an ellipsis."""
        return self._plain.elidedText(text, Qt.TextElideMode.ElideRight, width)


class Flow:
    """Cells one after another, with line breaks where `right` is reached."""

    def __init__(self, metrics: Metrics, x: float, right: float, y: float = 0.0, wrap: bool = True) -> None:
        self.metrics, self.left, self.right, self.wrap = metrics, x, right, wrap
        self.x, self.y = x, y
        self.cells: list[Cell] = []
        self.full = False

    def put(self, role: str, text: str, width: float | None = None, gap: float = GAP, **more: Any) -> Cell | None:
        """Adds a cell; None when there is no room and lines don't wrap."""
        w = (
            self.metrics.width(text) + (PAD * 2 if role in ("number", "text", "choice", "flag", "step-op") else 0)
            if width is None
            else width
        )
        if self.full:
            return None
        if role == "text" and width is None:
            room = self.right - (self.left if self.wrap else self.x)
            if w > room >= LEAST_TEXT:
                text, w = self.metrics.cut(text, room - 2 * PAD), room
        if self.x + w > self.right and (self.x > self.left or not self.wrap):
            if not self.wrap:
                self.full = True
                return None
            self.x = self.left
            self.y += ROW
        w = min(w, max(24.0, self.right - self.x))
        cell = Cell(self.x, self.y, w, ROW, role, text, **more)
        self.cells.append(cell)
        self.x += w + gap
        return cell

    def new_line(self) -> None:
        self.x = self.left
        self.y += ROW

    def word(self, text: str, gap: float = 3.0) -> None:
        self.put("word", text, gap=gap)

    def value(self, owner: Declared, prop: Property[Any], words: bool = True) -> None:
        """The cells of a property, whatever its kind."""
        first = len(self.cells)
        if words:
            self.word(prop.word)
        self._value(owner, prop)
        if words and first + 1 < len(self.cells):
            self._keep_together(first)

    def _keep_together(self, first: int) -> None:
        """A word whose value went to the next line follows it there."""
        word, value = self.cells[first], self.cells[first + 1]
        if value.y <= word.y:
            return
        shift = word.w + 3
        word.x, word.y = self.left, value.y
        for cell in self.cells[first + 1 :]:
            if cell.y == value.y:
                cell.x += shift
                if cell.role == "text" and cell.x + cell.w > self.right:
                    cell.w = self.right - cell.x
                    cell.text = self.metrics.cut(cell.text, cell.w - 2 * PAD)
        if self.y == value.y:
            self.x += shift

    def _value(self, owner: Declared, prop: Property[Any]) -> None:
        stated = owner.stated(prop.name)
        kind = prop.kind
        more: dict[str, Any] = {"owner": owner, "name": prop.name}
        if isinstance(stated, Formula):
            self.put("number", show(stated), value=stated, **more)
        elif isinstance(kind, Paint):
            self.put("paint", prop.name, 18, gap=4, value=stated, **more)
            self.put("text", paint_words(stated), value=stated, **more)
        elif isinstance(kind, Flag):
            self.put("flag", "yes" if stated else "no", value=stated, **more)
        elif isinstance(kind, Choice):
            self.put("choice", stated, value=stated, **more)
        elif isinstance(kind, Anchor):
            text = stated.replace("-", " ") if isinstance(stated, str) else ", ".join(show(v) for v in stated)
            self.put("choice", text, value=stated, **more)
        elif isinstance(kind, ShadowValue):
            self._shadow(owner, prop, stated)
        elif isinstance(kind, Ref):
            self.put("text", stated or "none", value=stated, **more)
        elif isinstance(kind, TextValue):
            stated = stated.replace("\n", " ⏎ ")
            if stated.startswith("data:"):
                stated = f"embedded, {len(stated) * 3 // 4096} KB"
            self.put("text", stated[:200] or "–", value=owner.stated(prop.name), **more)
            if prop.name == "content" and self.wrap:
                self.put("more", "write on the canvas", value="write", **more)
            if prop.name == "source" and self.wrap:
                self.put("more", "choose…", value="file", **more)
            if kind.remark(owner.stated(prop.name)) and self.wrap:
                self.put("remark", kind.remark(owner.stated(prop.name)), **more)
        elif isinstance(kind, Number):
            self.number(owner, prop, ())
        elif isinstance(kind, Tuple):
            self._tuple(owner, prop, kind, stated)
        elif isinstance(kind, Many) and isinstance(kind.of, Number):
            self._numbers(owner, prop, stated, isinstance(kind, Corners))

    def number(self, owner: Declared, prop: Property[Any], path: Path, gap: float = GAP) -> Cell | None:
        value = part(owner.stated(prop.name), path)
        if isinstance(value, Formula) and self.wrap:
            cell = self.put("number", show(value), gap=3, owner=owner, name=prop.name, path=path, value=value)
            self.put("word", "(not running)", gap=gap or 2)
            return cell
        return self.put("number", show(value), gap=gap, owner=owner, name=prop.name, path=path, value=value)

    def _tuple(self, owner: Declared, prop: Property[Any], kind: Tuple, stated: tuple[Any, ...]) -> None:
        between = "×" if kind.labels == ("width", "height") else ","
        for i in range(len(stated)):
            last = i == len(stated) - 1
            self.number(owner, prop, (i,), gap=GAP if last else 0)
            if not last:
                self.put("word", between, gap=2 if between == "×" else 1)

    def _shadow(self, owner: Declared, prop: Property[Any], stated: Any) -> None:
        more: dict[str, Any] = {"owner": owner, "name": prop.name}
        if stated is None:
            self.put("more", "none", value="shadow", **more)
            return
        for i in range(3):
            if i == 2:
                self.word("blur")
            self.number(owner, prop, (i,), gap=3)
        self.put("paint", "shadow", 18, gap=4, path=(3,), value=stated.color, **more)
        self.put("more", "take away", value="shadow", **more)

    def _numbers(self, owner: Declared, prop: Property[Any], stated: tuple[Any, ...], corners: bool) -> None:
        for i in range(len(stated)):
            self.number(owner, prop, (i,), gap=3)
        more: dict[str, Any] = {"owner": owner, "name": prop.name, "gap": GAP}
        if corners:
            self.put("more", "one each" if len(stated) == 1 else "one for all", value="corners", **more)
        elif stated:
            self.put("more", "no dash", value="clear", **more)
        else:
            self.put("more", "none", value="dash", **more)


def summary(metrics: Metrics, shape: Shape, x: float, right: float) -> list[Cell]:
    """The values of a closed row: what places and measures the shape. Each is shown whole or not at all."""
    flow = Flow(metrics, x, right, wrap=False)
    for name in (*shape.leading, "steps"):
        start = len(flow.cells)
        _summarise(flow, shape, name)
        if flow.full:
            del flow.cells[start:]
            break
    if isinstance(shape, Unknown):
        flow.word(f"{shape.written_kind}: not known here, kept")
    return flow.cells


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
        flow.put("word", f"{len(shape.children)} inside")
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


def scene_cells(metrics: Metrics, scene: Scene, x: float, right: float) -> list[Cell]:
    flow = Flow(metrics, x, right, wrap=False)
    flow.value(scene, scene.properties["size"], words=False)
    flow.word("background")
    flow.put("paint", "background", 18, gap=GAP, owner=scene, name="background", value=scene.stated("background"))
    count = len(scene)
    flow.word(f"{count} shape{'s' if count != 1 else ''}")
    return flow.cells


def paint_words(paint: Any) -> str:
    """A paint in a few words."""
    if isinstance(paint, Gradient):
        return f"{paint.kind}, {len(paint.stops)} stop{'s' if len(paint.stops) != 1 else ''}"
    if isinstance(paint, Picture):
        return "image"
    return palette_name(paint) or paint or "none"


SECTIONS = (
    ("geometry", "Geometry"),
    ("paint", "Paint"),
    ("effects", "Effects"),
    ("steps", "Steps"),
    ("pointer", "Pointer"),
    ("notes", "Notes"),
)
HEADS = frozenset(("start_head", "end_head", "head_size"))
STROKE = HEADS | {
    "stroke_width",
    "stroke_align",
    "cap",
    "join",
    "miter_limit",
    "dash",
    "dash_offset",
    "steady",
}
OPEN = (Line, Polyline, Arc, PathShape)
"""Kinds whose outline can have ends."""
LABEL_X, CONTENT_X = 40.0, 116.0


def details(
    metrics: Metrics,
    shape: Shape,
    right: float,
    expanded: bool,
    remarks: Sequence[Remark] = (),
    descriptions: Sequence[Description] = (),
) -> tuple[list[Cell], float]:
    """The cells of an opened row below its first line, and their height. Remarks come first."""
    cells: list[Cell] = []
    y = float(ROW)
    for remark in remarks:
        y = _remark(metrics, cells, remark, right, y)
    for section, title in SECTIONS:
        flow = Flow(metrics, CONTENT_X, right, y)
        _section(flow, shape, section, expanded)
        if not flow.cells:
            continue
        cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", title))
        cells += flow.cells
        y = flow.y + ROW
        if section == "geometry" and descriptions:
            cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", "Or as"))
            flow = Flow(metrics, CONTENT_X, right, y)
            for description in descriptions:
                _description(flow, shape, description)
            cells += flow.cells
            y = flow.y + ROW
    cells.append(Cell(LABEL_X, y, right - LABEL_X, 2 * ROW - 14, "sentence", sentence(shape)))
    return cells, y + ROW - 8


def _remark(metrics: Metrics, cells: list[Cell], remark: Remark, right: float, y: float) -> float:
    """A sentence of the check-up, broken into lines, and its repairs."""
    words, line = remark.sentence.split(), ""
    cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", "Check"))
    for i, word in enumerate(words):
        longer = f"{line} {word}".strip()
        if metrics.width(longer, "italic") > right - CONTENT_X and line:
            cells.append(Cell(CONTENT_X, y, right - CONTENT_X, LINE, "remark", line))
            line, y = word, y + LINE
        else:
            line = longer
        if i == len(words) - 1:
            cells.append(Cell(CONTENT_X, y, right - CONTENT_X, LINE, "remark", line))
            y += LINE
    flow = Flow(metrics, CONTENT_X, right, y)
    for repair in remark.repairs:
        flow.put("repair", repair.words, gap=14, owner=remark.shape, name=remark.name, value=(repair, remark))
    cells += flow.cells
    return flow.y + ROW if flow.cells else y + 6


def _description(flow: Flow, shape: Shape, d: Description) -> None:
    """Another way to say the same; what can't be set is a word."""
    first = len(flow.cells)
    flow.word(d.word)
    for i, number in enumerate(d.numbers):
        value = tidy(number, 2)
        if d.edit is None:
            flow.put("word", show(value))
        else:
            last = i == len(d.numbers) - 1
            more: dict[str, Any] = {"owner": shape, "name": ALSO + d.word, "path": (i,), "value": value}
            flow.put("number", show(value), gap=GAP if last else 0, **more)
            if not last:
                flow.put("word", "×" if d.labels == ("width", "height") else ",", gap=2)
    flow._keep_together(first)


def _section(flow: Flow, shape: Shape, section: str, expanded: bool) -> None:
    props = [p for p in shape.properties.values() if p.section == section]
    if section == "steps":
        _steps(flow, shape)
        return
    if section == "pointer":
        props += [shape.properties["visible"], shape.properties["locked"]]
    stroked = isinstance(shape, Painted) and shape.stated("stroke") is not None
    hidden = set() if stroked else STROKE  # a stroke that isn't painted has no looks
    hidden |= set() if isinstance(shape, OPEN) else HEADS
    hidden |= {"stroke_align"} if isinstance(shape, Line) else set()
    if stroked and shape.stated("start_head") == shape.stated("end_head") == "none":
        hidden |= {"head_size"}
    for prop in props:
        if prop.name in hidden:
            continue
        if prop.name == "miter_limit" and shape.join != "miter":  # type: ignore[attr-defined]
            continue
        if prop.name == "dash_offset" and not shape.stated("dash"):
            continue
        if prop.name == "points":
            _points(flow, shape, prop, expanded)
        else:
            flow.value(shape, prop)


def _points(flow: Flow, shape: Shape, prop: Property[Any], expanded: bool) -> None:
    flow.word(prop.word)
    stated = shape.stated("points")
    if isinstance(stated, Formula):
        flow.put("number", show(stated), owner=shape, name="points", value=stated)
        return
    count = len(stated) if expanded else min(len(stated), MANY)
    for i in range(count):
        if isinstance(stated[i], Formula):
            flow.number(shape, prop, (i,))
            continue
        flow.number(shape, prop, (i, 0), gap=0)
        flow.put("word", ",", gap=1)
        flow.number(shape, prop, (i, 1))
    if count < len(stated):
        flow.put("more", f"and {len(stated) - count} more", owner=shape, name="points", value="expand")


def _steps(flow: Flow, shape: Shape) -> None:
    prop = shape.properties["steps"]
    stated: tuple[Step, ...] = shape.stated("steps")
    for i, step in enumerate(stated):
        if i:
            flow.new_line()
        flow.word(str(i + 1))
        flow.put("step-op", step.op, gap=2, owner=shape, name="steps", path=(i,), value=step)
        for k, label in enumerate(OPS[step.op]):
            if len(step.values) > 1:
                flow.word(label, gap=1)
            flow.number(shape, prop, (i, k), gap=3)
        if step.about is not None:
            flow.word("about")
            flow.number(shape, prop, (i, -1, 0), gap=0)
            flow.put("word", ",", gap=1)
            flow.number(shape, prop, (i, -1, 1), gap=3)
        if len(stated) > 1 and i > 0:
            flow.put("up", "↑", 16, gap=2, owner=shape, name="steps", path=(i,), value=step)
        flow.put("remove", "×", 16, owner=shape, name="steps", path=(i,), value=step)
    if stated:
        flow.new_line()
        pivot = shape.properties["pivot"]
        flow.value(shape, pivot)
    flow.put("add", "+ step", owner=shape, name="steps")
