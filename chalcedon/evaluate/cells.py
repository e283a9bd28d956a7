"""A property whose value is given by formulas: one cell for each node that has it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from chalcedon.evaluate.names import Bound, Names, Source
from chalcedon.evaluate.node import Node
from chalcedon.formula import Formula, FormulaProblem
from chalcedon.formula.memory import Memory
from chalcedon.formula.program import Program, compiled
from chalcedon.formula.types import NOTHING, NUMBER, POINT, SWITCH, TEXT
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property, rewritten
from chalcedon.scene.values import Flag, Number, TextValue, Tuple

if TYPE_CHECKING:
    from chalcedon.evaluate.columns import Column
    from chalcedon.evaluate.displaylist import DisplayList


MOST_REFUSED = 8
"""So many formulas of a property whose values have no place in it are told apart from the others."""
_NONE: Mapping[int, FormulaProblem] = {}


class Part:
    """One formula in the value of a cell."""

    __slots__ = ("bound", "formula", "gets", "memories", "problem", "program")

    def __init__(self, formula: Formula) -> None:
        self.formula = formula
        self.program: Program | None = None
        self.bound: tuple[Bound, ...] = ()
        self.gets: tuple[Any, ...] = ()
        self.memories: tuple[Memory, ...] = ()
        self.problem: FormulaProblem | None = None
        """What is wrong with it; it keeps its last value meanwhile."""

    def bind(self, names: Names) -> None:
        """Looks up what it names."""
        self.problem = self.program = None
        try:
            program = compiled(self.formula.text, names)
            self.bound = tuple(names.find(path) for path in program.reads)
        except FormulaProblem as problem:
            self.problem, self.bound, self.gets = _plain(problem), (), ()
            return
        self.program = program
        self.gets = tuple(b.get for b in self.bound)
        if len(self.memories) != program.memories:
            self.memories = tuple(Memory() for _ in range(program.memories))

    def work_out(self) -> Any:
        """What it comes to. Raises FormulaProblem."""
        if self.program is None:
            assert self.problem is not None
            raise _plain(self.problem)
        try:
            values = [get() for get in self.gets]
        except ValueProblem as problem:
            raise FormulaProblem(problem.message, problem.hint, 0, len(self.formula.text)) from None
        return self.program.run([*values, *self.memories])


class Cell:
    """A property of a node with the formulas in it."""

    __slots__ = (
        "_value",
        "affects",
        "alike",
        "column",
        "level",
        "loop",
        "name",
        "node",
        "parts",
        "plain",
        "problem",
        "prop",
        "reads_cells",
        "reads_geometry",
        "remembers",
        "row",
        "sources",
        "stated",
        "straight",
        "wrong",
    )

    def __init__(self, node: Node, prop: Property[Any], stated: Any) -> None:
        self.node, self.prop, self.name, self.affects = node, prop, prop.name, prop.affects
        self.level = 1
        self.loop: tuple[Cell, ...] = ()
        self.sources: tuple[Source, ...] = ()
        self.reads_cells: tuple[tuple[Node, str], ...] = ()
        self.reads_geometry: tuple[tuple[str, Node], ...] = ()
        self.remembers = False
        self.problem: FormulaProblem | None = None
        """What is wrong with it, or with the first of its formulas that is wrong."""
        self.wrong: Mapping[int, FormulaProblem] = _NONE
        """What is wrong with single formulas, by number, where there is a problem and the others were worked out."""
        self.stated: Any = None
        self.parts: list[Part] = []
        self._value: Any = None
        self.column: Column | None = None
        """What keeps its value meanwhile, in this `row`."""
        self.row = 0
        self.straight: tuple[tuple[Any, ...], float, float, bool] | None = None
        """The way without detours, for a number or a pair of numbers each by a formula of its own: what to call for
        each (a value alone stands for itself), the limits, and whether it is a pair."""
        self.alike: Any = None
        """The same for cells that can be worked out together; None for one that can't."""
        self.state(stated)

    def state(self, stated: Any) -> None:
        """Takes other formulas. What those at the same places remember stays, as far as it fits; and what they came to,
        unless another last value is stated."""
        kind = self.prop.kind
        found = kind.formulas(stated)
        old, before, last = self.parts, self.stated, kind.plain(stated)
        self.stated = stated
        self.parts = [Part(f) for f in found]
        for part, prior in zip(self.parts, old, strict=False):
            part.memories = prior.memories
        if not old or kind.plain(before) != last:
            self.value = last

    @property
    def value(self) -> Any:
        """What its formulas came to when they could be worked out last."""
        return self._value if self.column is None else self.column.values[self.row]

    @value.setter
    def value(self, value: Any) -> None:
        self._value, self.column = value, None

    def bind(self, display: DisplayList) -> None:
        """Looks up the names in it, and what it depends on."""
        names = Names(display, self.node)
        for part in self.parts:
            part.bind(names)
        bound = [b for part in self.parts for b in part.bound]
        self.remembers = any(part.memories for part in self.parts)
        told = [s for b in bound for s in b.sources] + ([("step",)] if self.remembers else [])
        self.sources = tuple(dict.fromkeys(told))
        self.reads_cells = tuple(dict.fromkeys(c for b in bound for c in b.cells))
        self.reads_geometry = tuple({(w, id(n)): (w, n) for b in bound for w, n in b.geometry}.values())
        self.straight = self._straight()
        self.alike = self._alike()

    def _alike(self) -> Any:
        if self.straight is None:
            return None
        calls, low, high, pair = self.straight
        parts = []
        for call in calls:
            if isinstance(call, tuple):
                if not call[3].columnar:
                    return None
                parts.append((call[0], *call[2]))
            elif type(call) in (float, int):
                parts.append(())
            else:
                return None
        return self.name, low, high, pair, *parts

    def _straight(self) -> tuple[tuple[Any, ...], float, float, bool] | None:
        kind, stated = self.prop.kind, self.stated
        pair = isinstance(kind, Tuple) and type(stated) is tuple and len(stated) == 2
        number = kind.of if isinstance(kind, Tuple) and pair else kind  # one formula of a point comes to a point
        if not isinstance(number, Number) or number.whole or not (pair or type(stated) is Formula):
            return None
        if self.remembers or any(p.program is None for p in self.parts):
            return None
        given = iter(self.parts)
        calls = []
        for one in stated if pair else (stated,):
            if isinstance(one, Formula):
                part = next(given)
                assert part.program is not None
                calls.append((part.program.code.run, part.program.constants, part.gets, part.program.code))
            else:
                calls.append(one)
        return tuple(calls), number.low, number.high, pair

    def _at_once(self, fast: tuple[tuple[Any, ...], float, float, bool]) -> Any:
        """What it comes to, or None where the long way has to say what is wrong."""
        calls, low, high, pair = fast
        out = []
        try:
            for call in calls:
                if type(call) is tuple:
                    code, constants, gets, _shared = call
                    value = code(*constants, *[get() for get in gets])
                    if (type(value) is not float and type(value) is not int) or not low <= value <= high:
                        return None
                    out.append(value)
                else:
                    out.append(call)
        except Exception:  # whatever it is, the long way says it
            return None
        return (out[0], out[1]) if pair else out[0]

    def work_out(self, display: DisplayList) -> bool:
        """Works out its formulas; whether the value is another than before. What can't be worked out keeps its value,
        and `problem` says why."""
        if self.straight is not None and not self.loop:
            value = self._at_once(self.straight)
            if value is not None:
                self.problem = None
                if value == self.value:
                    return False
                self.value = value
                return True
        try:
            if self.loop:
                raise FormulaProblem(f"this goes round: {self.said_loop()}.", "One of them has to be a value.")
            moment = display.moment
            if self.remembers:
                for part in self.parts:
                    for memory in part.memories:
                        memory.begin(moment.frame, moment.running, moment.seconds)
            value, self.wrong = self._whole()
        except FormulaProblem as problem:
            self.fail(problem)
            return False
        except ValueProblem as problem:
            self.fail(self._said(problem, self.parts[0]))
            return False
        self.problem = self.wrong[min(self.wrong)] if self.wrong else None
        if value == self.value and type(value) is type(self.value):
            return False
        self.value = value
        return True

    def fail(self, problem: FormulaProblem) -> None:
        """All of it keeps its value."""
        self.problem, self.wrong = _plain(problem), _NONE

    def problem_with(self, formula: Formula) -> FormulaProblem | None:
        """What is wrong with one of its formulas, or with all of it."""
        if self.problem is None or not self.wrong:
            return self.problem
        return next((p for i, p in self.wrong.items() if self.parts[i].formula == formula), None)

    def without(self, formula: Formula) -> Any:
        """What is stated, with the value that one of its formulas came to last in place of that."""
        values = iter(_at_formulas(self.stated, self.value))

        def put(one: Formula) -> Any:
            last = next(values)
            return last if one == formula else one

        return rewritten(self.stated, put)

    def _whole(self) -> tuple[Any, Mapping[int, FormulaProblem]]:
        """What it comes to, and what is wrong with single formulas of several: these keep their own last values."""
        if len(self.parts) == 1:
            return self._read([self._fit(self.parts[0].work_out())]), _NONE
        wrong: dict[int, FormulaProblem] = {}
        came = []
        for i, part in enumerate(self.parts):
            try:
                came.append(self._fit(part.work_out()))
            except FormulaProblem as problem:
                wrong[i] = _plain(problem)
                came.append(None)
        if wrong:
            last = _at_formulas(self.stated, self.value)
            came = [last[i] if i in wrong else value for i, value in enumerate(came)]
        try:
            return self._read(came), wrong or _NONE
        except ValueProblem as problem:
            return self._without_refused(came, wrong, problem)

    def _without_refused(
        self, came: list[Any], wrong: dict[int, FormulaProblem], refused: ValueProblem
    ) -> tuple[Any, Mapping[int, FormulaProblem]]:
        """The same where the place of a formula refuses what it came to. Raises what is wrong where that isn't all."""
        last = _at_formulas(self.stated, self.value)
        bearable = self._refused(last) is None
        for _ in range(min(MOST_REFUSED, len(came) - 1) if bearable else 0):
            low, high = 0, len(came)  # with so many new values it is taken, and refused
            while high - low > 1:
                middle = (low + high) // 2
                if self._refused([*came[:middle], *last[middle:]]) is None:
                    low = middle
                else:
                    high = middle
            problem = self._refused([*came[:high], *last[high:]]) or refused
            wrong[low] = self._said(problem, self.parts[low])
            came = [*came[:low], last[low], *came[high:]]
            if self._refused(came) is None:
                return self._read(came), wrong
        raise wrong[min(wrong)] if wrong else refused

    def _refused(self, values: list[Any]) -> ValueProblem | None:
        try:
            self._read(values)
        except ValueProblem as problem:
            return problem
        return None

    def _read(self, values: list[Any]) -> Any:
        """The property with a value for each formula. Raises ValueProblem."""
        kind, given = self.prop.kind, iter(values)
        if type(self.stated) is Formula:
            return kind.plain(kind.read(next(given)))
        return kind.plain(kind.read(rewritten(self.stated, lambda _formula: next(given))))

    def _fit(self, value: Any) -> Any:
        """True and False count as numbers where a number is due, and anything as true or false where a switch is."""
        if isinstance(self.prop.kind, Flag):
            return bool(value)
        return int(value) if value is True or value is False else value

    def _said(self, problem: ValueProblem, part: Part) -> FormulaProblem:
        """That the value of a formula has no place there, said of the formula."""
        return FormulaProblem(problem.message, self._hint(problem, part), 0, len(part.formula.text))

    def _hint(self, problem: ValueProblem, part: Part) -> str:
        if part.program is None:
            return problem.hint
        due, given = self.prop.kind.gives, part.program.type
        if due == TEXT and given == NUMBER and isinstance(self.prop.kind, TextValue):
            return 'A text is put together as f"{...}", with the number in the brackets.'
        if due == POINT and given <= NUMBER | SWITCH and type(self.stated) is Formula:
            return "A point is due: write (x, y)."
        if due == NUMBER and given == POINT:
            return "A point has .x and .y."
        if given >= NOTHING:
            return problem.hint or "It has no value there."
        return problem.hint

    def said_loop(self) -> str:
        """The way round, in names."""
        names = [f"{c.node.shape.id or 'scene'}.{c.name}" for c in self.loop]
        return " → ".join([*names, names[0]])


def _at_formulas(stated: Any, value: Any) -> list[Any]:
    """What stands in a plain value where formulas are stated, in their order; their last values where it has not as
    many parts."""
    if isinstance(stated, Formula):
        return [value.last if isinstance(value, Formula) else value]
    if isinstance(stated, tuple):
        parts = value if isinstance(value, tuple) and len(value) == len(stated) else stated
        return [v for s, p in zip(stated, parts, strict=True) for v in _at_formulas(s, p)]
    return []


def _plain(problem: FormulaProblem) -> FormulaProblem:
    """The same without where it was raised, which grows by each time and keeps all that was in use there."""
    return problem.at(problem.where)
