"""The cells of an opened row, section by section."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from chalcedon.craft.checkup import Remark
from chalcedon.craft.descriptions import Description
from chalcedon.craft.several import Several
from chalcedon.desk.ledger.cells import GAP, LINE, MANY, ROW, Cell, Flow, Metrics, worked_out
from chalcedon.desk.ledger.folds import ALSO, FOLD, OR_AS, SECTIONS, Folding, Folds, Meant, props_of
from chalcedon.desk.ledger.parts import show
from chalcedon.evaluate import Node
from chalcedon.formula import Formula
from chalcedon.scene import Shape, Step
from chalcedon.scene.declare import Property
from chalcedon.scene.steps import OPS
from chalcedon.scene.tidy import tidy
from chalcedon.source import sentence

LABEL_X, CONTENT_X = 40.0, 116.0


@dataclass(frozen=True, slots=True)
class Find:
    """What is being typed to find a value of the row by its name, what it may mean, and which of that is chosen."""

    text: str
    found: tuple[Meant, ...] = ()
    chosen: int = 0


@dataclass(frozen=True, slots=True)
class Around:
    """What an opened row shows beside the values of its shape."""

    folds: Folds
    expanded: bool = False
    """Whether a long list of points is shown whole."""
    remarks: Sequence[Remark] = ()
    descriptions: Sequence[Description] = ()
    """Shown when not empty."""
    or_as: bool = False
    """Whether there are descriptions that could be shown."""
    folding: bool = False
    """Whether something that was opened could be folded again."""
    find: Find | None = None
    look: object = None
    """What the pictures of its steps show."""
    told: Sequence[str] = ()
    """What is said of the value in focus."""
    curve: Cell | None = None
    """The curve of the keyframes that give it."""


class Details:
    """Lays out opened rows. Sections whose values and place are those of the last time are taken from there: while a
    shape is dragged most of them are."""

    def __init__(self, metrics: Metrics) -> None:
        self._metrics = metrics
        self.folds = Folding()
        self._last: dict[str, tuple[tuple[Any, ...], list[Cell], float]] = {}

    def lay(self, shape: Shape | Several, right: float, around: Around) -> tuple[list[Cell], float]:
        """The cells of an opened row below its first line, and their height. Remarks come first."""
        cells: list[Cell] = []
        y = float(ROW)
        if isinstance(shape, Several):
            y = _heading(self._metrics, cells, shape, right, y)
        for remark in around.remarks:
            y = _remark(self._metrics, cells, remark, right, y)
        for section, title in SECTIONS:
            own, height = self._section(shape, section, right, y, around)
            if own:
                cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", title))
                cells += own
                y += height
            if section == "geometry" and around.descriptions:
                cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", "Or as"))
                flow = Flow(self._metrics, CONTENT_X, right, y)
                for description in around.descriptions:
                    assert isinstance(shape, Shape)
                    _description(flow, shape, description)
                cells += flow.cells
                y = flow.y + ROW
        own, height = self._quiet(shape, right, y, around)
        cells += own
        y += height
        for line in around.told:
            text = self._metrics.cut(line, right - LABEL_X)
            cells.append(Cell(LABEL_X, y, right - LABEL_X, LINE + 2, "told", text))
            y += LINE + 2
        if around.curve is not None:
            cells.append(replace(around.curve, x=LABEL_X, y=y, w=right - LABEL_X))
            y += around.curve.h
        told = SEVERAL if isinstance(shape, Several) else sentence(shape)
        lines = 1 if self._metrics.width(told, "italic") <= right - LABEL_X else 2
        cells.append(Cell(LABEL_X, y, right - LABEL_X, lines * LINE + 6, "sentence", told))
        return cells, y + lines * LINE + 10 - ROW

    def _section(
        self, shape: Shape | Several, section: str, right: float, y: float, around: Around
    ) -> tuple[list[Cell], float]:
        """The cells of a section that begins at `y`, and its height."""
        several = isinstance(shape, Several)
        props = props_of((shape.shapes[0] if isinstance(shape, Several) else shape).kind, section)
        shown = [p for p in props if p.name in around.folds.shown]
        if not shown:
            return [], 0.0
        how = around.expanded, around.look if section == "steps" else None
        stated = [shape.stated(p.name) for p in (shown if several else props)]
        state = (shape, right, y, how, shown, stated, worked_out(shape))
        last = self._last.get(section)
        if last is None or last[0] != state:
            flow = Flow(self._metrics, CONTENT_X, right, y)
            _section(flow, shape, section, shown, *how)
            last = self._last[section] = (state, flow.cells, flow.y + ROW - y)
        return last[1:]

    def _quiet(self, shape: Shape | Several, right: float, y: float, around: Around) -> tuple[list[Cell], float]:
        """The words of what isn't shown, each of which opens it; while a name is typed, what it may mean."""
        find, offered = around.find, around.folds.offered
        state = (shape, right, y, find, offered, around.or_as, around.folding)
        last = self._last.get("")
        if last is None or last[0] != state:
            flow = QuietFlow(self._metrics, LABEL_X, right, y + 2)
            if find is not None:
                _finding(flow, shape, find)
            else:
                words = [*offered, (OR_AS, OR_AS)] if around.or_as else offered
                _offers(flow, shape, words, around.folding)
            last = self._last[""] = (state, flow.cells, flow.y + flow.line - y if flow.cells else 0.0)
        return last[1:]


class QuietFlow(Flow):
    style, line = "small", 22


SEVERAL = "what they have in common; *1.2 or +10 changes each by what it is"


def _heading(metrics: Metrics, cells: list[Cell], several: Several, right: float, y: float) -> float:
    """Says of which shapes the values are."""
    cells.append(Cell(LABEL_X, y, CONTENT_X - LABEL_X - 6, ROW, "section", f"All {len(several.shapes)}"))
    flow = Flow(metrics, CONTENT_X, right, y)
    count: Counter[type[Shape]] = Counter(map(type, several.shapes))
    words = [f"{n} {cls.kind.replace('_', ' ')}{'s' if n > 1 else ''}" for cls, n in count.most_common()]
    flow.put("word", metrics.cut(", ".join(words), right - CONTENT_X))
    cells += flow.cells
    return flow.y + ROW


def _offers(flow: Flow, shape: Shape | Several, words: Sequence[tuple[str, str]], folding: bool) -> None:
    if words:
        flow.put("dot", "+", gap=6)
    for i, (name, word) in enumerate(words):
        flow.put("offer", word, gap=5, owner=shape, name=name, value=word)
        following = words[i + 1][1] if i < len(words) - 1 else FOLD if folding else ""
        if following and flow.has_room(["·", following]):
            flow.put("dot", "·", gap=5)
        elif following:
            flow.new_line()
    if folding:
        flow.put("offer", "fold", gap=5, owner=shape, name=FOLD, value=FOLD)


def _finding(flow: Flow, shape: Shape | Several, find: Find) -> None:
    flow.put("dot", "find", gap=6)
    flow.put("typed", find.text, flow.metrics.width(find.text, flow.style) + 3, gap=12)
    for i, meant in enumerate(find.found):
        role = "chosen" if i == find.chosen else "offer"
        flow.put(role, meant.word, gap=12, owner=shape, name=meant.name, path=(meant.number,), value=meant.word)
    if not find.found:
        flow.put("dot", f"nothing of {shape.id} is called that")


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


def _section(
    flow: Flow, shape: Shape | Several, section: str, props: list[Property[Any]], expanded: bool, look: object
) -> None:
    if section == "steps" and isinstance(shape, Shape):
        _steps(flow, shape, any(p.name == "pivot" for p in props), look)
        return
    for prop in props:
        if prop.name == "points" and isinstance(shape, Shape):
            _points(flow, shape, prop, expanded)
        else:
            flow.value(shape, prop)


def _points(flow: Flow, shape: Shape, prop: Property[Any], expanded: bool) -> None:
    flow.word(prop.word)
    stated = shape.stated("points")
    if isinstance(stated, Formula):
        flow.formula(shape, prop, (), stated)
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


def _steps(flow: Flow, shape: Shape, pivot: bool, look: object) -> None:
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
    if pivot:
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


def turned(node: Node) -> tuple[float, ...]:
    """What the steps of a shape make of it, wherever it stands."""
    (a, b, c, d, e, f), (x, y) = node.local, node.at
    return a, b, c, d, round(e - x, 6), round(f - y, 6)
