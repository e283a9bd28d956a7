"""The cells of an opened row, section by section."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

from chalcedon.craft.checkup import Remark
from chalcedon.craft.descriptions import Description
from chalcedon.desk.ledger.cells import ALSO, GAP, LINE, MANY, ROW, Cell, Flow, Metrics
from chalcedon.desk.ledger.parts import show
from chalcedon.formula import Formula
from chalcedon.scene import KINDS, Shape, Step
from chalcedon.scene.declare import Property
from chalcedon.scene.shapes import Painted
from chalcedon.scene.steps import OPS
from chalcedon.scene.tidy import tidy
from chalcedon.source import sentence

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
"""Properties that only a painted stroke has."""
LABEL_X, CONTENT_X = 40.0, 116.0


class Details:
    """Lays out opened rows. Sections whose values and place are those of the last time are taken from there: while a
    shape is dragged most of them are."""

    def __init__(self, metrics: Metrics) -> None:
        self._metrics = metrics
        self._last: dict[str, tuple[tuple[Any, ...], list[Cell], float]] = {}

    def lay(
        self,
        shape: Shape,
        right: float,
        expanded: bool,
        remarks: Sequence[Remark] = (),
        descriptions: Sequence[Description] = (),
        look: object = None,
    ) -> tuple[list[Cell], float]:
        """The cells of an opened row below its first line, and their height. Remarks come first. `look` is what
        the pictures of its steps show."""
        cells: list[Cell] = []
        y = float(ROW)
        for remark in remarks:
            y = _remark(self._metrics, cells, remark, right, y)
        for section, title in SECTIONS:
            own, height = self._section(shape, section, right, y, (expanded, look if section == "steps" else None))
            if not own:
                continue
            cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", title))
            cells += own
            y += height
            if section == "geometry" and descriptions:
                cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", "Or as"))
                flow = Flow(self._metrics, CONTENT_X, right, y)
                for description in descriptions:
                    _description(flow, shape, description)
                cells += flow.cells
                y = flow.y + ROW
        cells.append(Cell(LABEL_X, y, right - LABEL_X, 2 * ROW - 14, "sentence", sentence(shape)))
        return cells, y + ROW - 8

    def _section(
        self, shape: Shape, section: str, right: float, y: float, how: tuple[bool, object]
    ) -> tuple[list[Cell], float]:
        """The cells of a section that begins at `y`, and its height."""
        props = _props(shape.kind, section)
        state = (shape, right, y, how, [shape.stated(p.name) for p in props])
        last = self._last.get(section)
        if last is None or last[0] != state:
            flow = Flow(self._metrics, CONTENT_X, right, y)
            _section(flow, shape, section, props, *how)
            last = self._last[section] = (state, flow.cells, flow.y + ROW - y)
        return last[1:]


@cache
def _props(kind: str, section: str) -> list[Property[Any]]:
    """The properties that a section shows, or that say how."""
    own = KINDS[kind].properties
    also = ("visible", "locked") if section == "pointer" else ()
    return [p for p in own.values() if p.section == section] + [own[n] for n in also]


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
    plain = d.labels in (("x", "y"), ("width", "height")) or len(d.labels) == 1
    for i, number in enumerate(d.numbers):
        value, label = tidy(number, 2), d.word if plain else d.labels[i]
        first = len(flow.cells)
        if plain and i == 0:
            flow.reserve([d.word, *(show(tidy(n, 2)) + "," for n in d.numbers)])
        if not plain or i == 0:
            flow.word(label)
        if d.edit is None:
            flow.put("word", show(value))
        else:
            last = i == len(d.numbers) - 1 or not plain
            more: dict[str, Any] = {"owner": shape, "name": ALSO + d.word, "path": (i,), "value": value}
            flow.put("number", show(value), gap=GAP if last else 0, **more)
            if not last:
                flow.put("word", "×" if d.labels == ("width", "height") else ",", gap=2)
        if not plain or i == 0:
            flow.keep_together(first)


def _section(flow: Flow, shape: Shape, section: str, props: list[Property[Any]], expanded: bool, look: object) -> None:
    if section == "steps":
        _steps(flow, shape, look)
        return
    stroked = isinstance(shape, Painted) and shape.stated("stroke") is not None
    hidden = set() if stroked else STROKE  # a stroke that isn't painted has no looks
    hidden |= set() if shape.is_open or shape.kind == "path" else HEADS
    hidden |= {"stroke_align"} if shape.kind == "line" else set()
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


def _steps(flow: Flow, shape: Shape, look: object) -> None:
    prop = shape.properties["steps"]
    stated: tuple[Step, ...] = shape.stated("steps")
    for i, step in enumerate(stated):
        if i:
            flow.new_line()
        flow.put("switch", str(i + 1), 18, gap=4, owner=shape, name="steps", path=(i,), value=step)
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
        _stages(flow, shape, len(stated), look)
        flow.value(shape, shape.properties["pivot"])
    flow.put("add", "+ step", owner=shape, name="steps")
    if stated:
        flow.put("more", "bake into its numbers", owner=shape, name="steps", value="bake")


STAGE, BETWEEN = 44.0, 20.0
"""Width of the picture after a step, and of the mark between two."""


def _stages(flow: Flow, shape: Shape, count: int, look: object) -> None:
    """The picture after each step, the one without any first; marks say which neighbours could change places. `look`
    is what the pictures show."""
    flow.new_line()
    for i in range(count + 1):
        if flow.x + STAGE > flow.right and flow.x > flow.left:
            flow.x, flow.y = flow.left, flow.y + STAGE + 4
        flow.cells.append(Cell(flow.x, flow.y + 2, STAGE, STAGE - 4, "stage", "", shape, "steps", (i,), look))
        flow.x += STAGE
        if 0 < i < count:
            flow.cells.append(
                Cell(flow.x, flow.y + 2, BETWEEN, STAGE - 4, "between", "", shape, "steps", (i - 1,), look)
            )
        flow.x += BETWEEN
    flow.x, flow.y = flow.left, flow.y + STAGE + 4
