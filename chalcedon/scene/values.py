"""Kinds of value: how each is checked, written to JSON, resolved and described by a schema.

Any leaf (a number, a colour, a switch, a word) may be a Formula. `read` takes JSON or Python values and
returns the stored form (numbers, strings, tuples, Formula); `write` is its inverse; `plain` replaces every
formula by its last value. All stored forms are immutable.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from chalcedon.exact import require_text
from chalcedon.formula import Formula
from chalcedon.formula.types import LIST, NUMBER, POINT, SWITCH, TEXT, Type
from chalcedon.formula.value import UNKNOWN
from chalcedon.geometry.digits import told
from chalcedon.problems import ValueProblem, nearest, shorten

LIMIT = 1e9
"""The largest number a scene holds, in px or degrees: beyond it a double has no hundredth of a pixel left."""


class Value:
    """The protocol of a kind of value."""

    labels: tuple[str, ...] = ()
    """Names of the components, for kinds made of several numbers."""
    words: Sequence[str] = ()
    """Words that may stand for a value, or for part of it."""
    direct = True
    """Whether a stored value without formulas is its own JSON form (tuples stand for arrays)."""
    gives: Type = LIST
    """What a formula that reads it gets."""
    plainest: Any = ()
    """A value to use for a formula that has none yet."""

    @property
    def each(self) -> tuple[str, ...]:
        """The labels of the numbers it is written with, those of a list over and over."""
        return self.labels

    def read(self, raw: Any) -> Any:
        """The stored form of `raw`. Raises ValueProblem with a sentence."""
        if isinstance(raw, Formula):
            return self._formula(raw.text, raw.last)
        if isinstance(raw, dict) and "formula" in raw:
            return self._read_formula(raw)
        return self.check(raw)

    def _read_formula(self, raw: dict[str, Any]) -> Formula:
        text = raw["formula"]
        if not isinstance(text, str) or set(raw) - {"formula", "last"}:
            raise ValueProblem('a formula is written {"formula": "text", "last": value}.')
        return self._formula(text, raw.get("last", UNKNOWN))

    def _formula(self, text: Any, last: Any) -> Formula:
        if not isinstance(text, str):
            raise ValueProblem(f"{shorten(text)} is not the text of a formula.")
        require_text(text)
        if last is UNKNOWN:
            return Formula(text, self.plainest)
        if isinstance(last, Formula):
            raise ValueProblem("the last value of a formula is a formula.", hint="It must be a plain value.")
        value = self.check(last)
        if self.formulas(value):
            raise ValueProblem("the last value of a formula holds a formula.", hint="It must be a plain value.")
        return Formula(text, value)

    def check(self, raw: Any) -> Any:
        """The stored form of what is no formula. Raises ValueProblem with a sentence."""
        raise NotImplementedError

    def write(self, value: Any) -> Any:
        """The JSON of a stored value."""
        if isinstance(value, Formula):
            return {"formula": value.text, "last": self.write(value.last)}
        return value

    def spelled(self, value: Any) -> Any:
        """A stored value as text states it: itself, or something shorter that reads as the same."""
        return value

    def plain(self, value: Any) -> Any:
        """A stored value with every formula replaced by its last value."""
        return value.last if isinstance(value, Formula) else value

    def schema(self) -> dict[str, Any]:
        """A JSON schema of what is read."""
        raise NotImplementedError

    def describe(self) -> str:
        """What it takes, in a few words."""
        raise NotImplementedError

    def formulas(self, value: Any) -> list[Formula]:
        """Every formula inside a stored value."""
        return [value] if isinstance(value, Formula) else []

    def remark(self, value: Any) -> str:
        """What is wrong with a value that is kept and used all the same; empty when nothing is."""
        return ""

    def refers(self, value: Any) -> str:
        """The id of the shape that a stored value names; empty when it names none."""
        return ""

    def referring(self, value: Any, id: str) -> Any:
        """The same value, naming another shape instead."""
        return value


def or_formula(schema: dict[str, Any]) -> dict[str, Any]:
    """The schema of a value that may be a formula instead."""
    formula = {
        "type": "object",
        "required": ["formula"],
        "additionalProperties": False,
        "properties": {"formula": {"type": "string"}, "last": schema},
    }
    return {"anyOf": [schema, formula]}


class Number(Value):
    """A number between limits, `unit` px, deg or none; `whole` ones only, if so asked."""

    gives = NUMBER

    def __init__(
        self, low: float = -LIMIT, high: float = LIMIT, unit: str = "px", step: float = 1.0, whole: bool = False
    ) -> None:
        self.low, self.high, self.unit, self.step, self.whole = low, high, unit, step, whole
        self.plainest = min(max(0, low), high)
        self.named: dict[str, float] = {}
        """What words that stand for a number come to."""

    def read(self, raw: Any) -> Any:
        kind = type(raw)
        if (kind is float or kind is int) and self.low <= raw <= self.high and not self.whole:  # nearly always
            return raw
        return super().read(raw)

    def check(self, raw: Any) -> float:
        if isinstance(raw, str) and raw in self.named:
            return self.named[raw]
        if isinstance(raw, Decimal):
            raise ValueProblem(
                f"{shorten(raw)} is not a number that fits here.", hint=f"The most is {told(self.high)}."
            )
        if type(raw) is not float and type(raw) is not int:
            raise ValueProblem(f"{shorten(raw)} is not a number.", hint="A number belongs here.")
        if self.low <= raw <= self.high:
            if self.whole and raw != int(raw):
                raise ValueProblem(f"{told(raw)} is not a whole number.", hint=f"Try {round(raw)}.")
            return int(raw) if self.whole else raw
        if type(raw) is int and abs(raw) > 2**1000:
            raise ValueProblem(f"{shorten(raw)} is far too large.", hint=f"The most is {told(self.high)}.")
        if not math.isfinite(raw):
            raise ValueProblem(f"{raw} is not a finite number.")
        if raw < self.low == 0.0:
            raise ValueProblem(f"{told(raw)} is negative.", hint="It must be 0 or more.")
        if raw < self.low:
            raise ValueProblem(f"{told(raw)} is too small.", hint=f"The least is {told(self.low)}.")
        raise ValueProblem(f"{told(raw)} is too large.", hint=f"The most is {told(self.high)}.")

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": "integer" if self.whole else "number", "minimum": self.low, "maximum": self.high})

    def describe(self) -> str:
        word, limits = "whole number" if self.whole else "number", f", {told(self.low)} to {told(self.high)}"
        bounds = limits if self.high < LIMIT else ", 0 or more" if self.low == 0 else ""
        return f"{word} ({self.unit}{bounds})" if self.unit else f"{word}{bounds}"


_NUMBERS = frozenset((float, int))  # not bool


class Tuple(Value):
    """Several numbers with names: a point, a size, a pair of radii."""

    def __init__(self, *labels: str, of: Number | None = None) -> None:
        self.labels = labels
        self.of = of or Number()
        self._count, self._low, self._high = len(labels), self.of.low, self.of.high
        self.gives = POINT if len(labels) == 2 else LIST
        self.plainest = (self.of.plainest,) * len(labels)

    def read(self, raw: Any) -> Any:
        if type(raw) is list or type(raw) is tuple:
            if len(raw) == 2 == self._count:  # nearly always, so first
                x, y = raw
                if type(x) in _NUMBERS and type(y) in _NUMBERS:
                    low, high = self._low, self._high
                    if low <= x <= high and low <= y <= high:
                        return x, y
            if len(raw) == len(self.labels):
                read = self.of.read
                return tuple([read(v) for v in raw])
        elif isinstance(raw, Formula) or (isinstance(raw, dict) and "formula" in raw):
            return super().read(raw)
        raise ValueProblem(
            f"{shorten(raw)} is not {len(self.labels)} numbers.", hint=f"Write {', '.join(self.labels)}."
        )

    def check(self, raw: Any) -> Any:
        if isinstance(raw, dict | Formula):
            raise ValueProblem("the last value of a formula is a formula.", hint="It must be a plain value.")
        return self.read(raw)

    def read_each(self, raw: Any) -> tuple[Any, ...]:
        """As `read`, where a formula may stand for each number but not for all of them."""
        if isinstance(raw, Formula) or (isinstance(raw, dict) and "formula" in raw):
            raise ValueProblem("a formula can't stand for all numbers at once here.", hint="Write one for each number.")
        value: tuple[Any, ...] = self.read(raw)
        return value

    def write(self, value: Any) -> Any:
        if isinstance(value, Formula):
            return super().write(value)
        return [self.of.write(v) for v in value]

    def plain(self, value: Any) -> Any:
        if isinstance(value, Formula):
            value = value.last
        return tuple([v.last if isinstance(v, Formula) else v for v in value])

    def schema(self) -> dict[str, Any]:
        n = len(self.labels)
        return or_formula({"type": "array", "items": self.of.schema(), "minItems": n, "maxItems": n})

    def describe(self) -> str:
        return f"{', '.join(self.labels)} ({self.of.unit or 'numbers'})"

    def formulas(self, value: Any) -> list[Formula]:
        return [value] if isinstance(value, Formula) else [v for v in value if isinstance(v, Formula)]


class Many(Value):
    """A list of values of one kind, of any length from `least` to `most`."""

    def __init__(self, of: Value, least: int = 0, most: int = 1_000_000, word: str = "values") -> None:
        self.of, self.least, self.most, self.word = of, least, most, word
        self.plainest = (of.plainest,) * least

    @property
    def each(self) -> tuple[str, ...]:
        return self.of.each

    def read(self, raw: Any) -> Any:
        if type(raw) is list and self.least <= len(raw) <= self.most:
            read = self.of.read
            try:
                return tuple(map(read, raw))
            except ValueProblem:
                pass  # said more exactly below
        return super().read(raw)

    def check(self, raw: Any) -> Any:
        if not isinstance(raw, list | tuple):
            raise ValueProblem(f"{shorten(raw)} is not a list of {self.word}.")
        if len(raw) < self.least:
            raise ValueProblem(f"{len(raw)} {self.word} are too few.", hint=f"At least {self.least}.")
        if len(raw) > self.most:
            raise ValueProblem(f"{len(raw)} {self.word} are too many.", hint=f"At most {self.most}.")
        out = []
        for i, v in enumerate(raw):
            try:
                out.append(self.of.read(v))
            except ValueProblem as problem:
                raise ValueProblem(f"{self.word} number {i + 1}: {problem.message}", hint=problem.hint) from None
        return tuple(out)

    def write(self, value: Any) -> Any:
        if type(value) is Formula:
            return super().write(value)
        write = self.of.write
        return [write(v) for v in value]

    def plain(self, value: Any) -> Any:
        if isinstance(value, Formula):
            value = value.last
        return tuple([self.of.plain(v) for v in value])

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": "array", "items": self.of.schema(), "minItems": self.least, "maxItems": self.most})

    def describe(self) -> str:
        return f"list of {self.word}"

    def formulas(self, value: Any) -> list[Formula]:
        return [value] if isinstance(value, Formula) else [f for v in value for f in self.of.formulas(v)]


class Corners(Many):
    """One radius for all corners (written as a number) or four, from the top left clockwise."""

    direct = False

    def __init__(self) -> None:
        radius = Number(low=0.0)
        radius.named = {"max": LIMIT}  # as large as fits: a pill
        self.words = tuple(radius.named)
        super().__init__(radius, 1, 4, "corner radii")

    def check(self, raw: Any) -> Any:
        if (isinstance(raw, int | float) and not isinstance(raw, bool)) or raw == "max":
            raw = [raw]
        value = super().check(raw)
        if len(value) not in (1, 4):
            raise ValueProblem(f"{len(value)} corner radii.", hint="Give one for all corners, or four.")
        return value

    def read(self, raw: Any) -> Any:
        if isinstance(raw, Formula) and isinstance(raw.last, tuple) and len(raw.last) == 1:
            raw = Formula(raw.text, raw.last[0])
        if isinstance(raw, dict | Formula):
            return (self.of.read(raw),)
        return self.check(raw)

    def write(self, value: Any) -> Any:
        return self.spelled(super().write(value))

    def spelled(self, value: Any) -> Any:
        out = ["max" if v == LIMIT else v for v in value]
        return out[0] if len(out) == 1 else out

    def schema(self) -> dict[str, Any]:
        radius = {"anyOf": [*self.of.schema()["anyOf"], {"enum": ["max"]}]}
        return {"anyOf": [radius, {"type": "array", "items": radius, "minItems": 1, "maxItems": 4}]}

    def describe(self) -> str:
        return "one radius (px), or four from the top left clockwise; max for as large as fits"


class Flag(Value):
    """Yes or no."""

    gives = SWITCH
    plainest = False

    def check(self, raw: Any) -> bool:
        if isinstance(raw, bool):
            return raw
        raise ValueProblem(f"{shorten(raw)} is neither true nor false.")

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": "boolean"})

    def describe(self) -> str:
        return "true or false"


class Choice(Value):
    """One of some words."""

    gives = TEXT

    def __init__(self, *words: str) -> None:
        self.words = words
        self.plainest = words[0]

    def read(self, raw: Any) -> Any:
        return raw if type(raw) is str and raw in self.words else super().read(raw)

    def check(self, raw: Any) -> str:
        if isinstance(raw, str) and raw in self.words:
            return raw
        raise ValueProblem(
            f"{shorten(raw)} is not a choice here.", hint=nearest(raw if isinstance(raw, str) else "", self.words)
        )

    def schema(self) -> dict[str, Any]:
        return or_formula({"enum": list(self.words)})

    def describe(self) -> str:
        return " | ".join(self.words)


class TextValue(Value):
    """Any text."""

    gives = TEXT
    plainest = ""

    def check(self, raw: Any) -> str:
        if not isinstance(raw, str):
            raise ValueProblem(f"{shorten(raw)} is not text.")
        return require_text(raw)

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": "string"})

    def describe(self) -> str:
        return "text"


class Ref(TextValue):
    """The id of a shape, or none. Renaming follows."""

    def check(self, raw: Any) -> str:
        if raw is None or raw == "none":
            return ""
        text = super().check(raw)
        if text and not text.isidentifier():
            raise ValueProblem(f"{shorten(text)} can't be the id of a shape.")
        return text

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": ["string", "null"]})

    def refers(self, value: Any) -> str:
        return value if isinstance(value, str) else ""

    def referring(self, value: Any, id: str) -> Any:
        return id

    def describe(self) -> str:
        return "id of a shape, or none"


ANCHORS: dict[str, tuple[float, float]] = {
    "top-left": (0.0, 0.0),
    "top": (0.5, 0.0),
    "top-right": (1.0, 0.0),
    "left": (0.0, 0.5),
    "center": (0.5, 0.5),
    "right": (1.0, 0.5),
    "bottom-left": (0.0, 1.0),
    "bottom": (0.5, 1.0),
    "bottom-right": (1.0, 1.0),
}
"""Places in a box as fractions of its width and height."""


class Anchor(Value):
    """A place in a shape's own box: a name, two fractions, or `origin` (where its own 0, 0 is)."""

    labels = ("across", "down")
    words = (*ANCHORS, "origin")
    gives = TEXT | POINT
    plainest = "origin"

    def read(self, raw: Any) -> Any:
        return raw if type(raw) is str and raw in self.words else super().read(raw)

    def check(self, raw: Any) -> Any:
        if isinstance(raw, str):
            if raw in self.words:
                return raw
            raise ValueProblem(f"{shorten(raw)} is not a place in a box.", hint=nearest(raw, self.words))
        if isinstance(raw, list | tuple) and len(raw) == 2:
            of = Number(-1000.0, 1000.0, "")
            return tuple(of.read(v) for v in raw)
        raise ValueProblem(f"{shorten(raw)} is not a place in a box.", hint="A name such as center, or two fractions.")

    def write(self, value: Any) -> Any:
        if isinstance(value, tuple):
            return [Value.write(self, v) for v in value]
        return super().write(value)

    def plain(self, value: Any) -> Any:
        if isinstance(value, Formula):
            value = value.last
        if isinstance(value, tuple):
            return tuple(v.last if isinstance(v, Formula) else v for v in value)
        return value

    def schema(self) -> dict[str, Any]:
        pair = {"type": "array", "items": Number(-1000, 1000).schema(), "minItems": 2, "maxItems": 2}
        return or_formula({"anyOf": [{"enum": list(self.words)}, pair]})

    def describe(self) -> str:
        return "center, top-left, ..., origin, or two fractions of the box"

    def formulas(self, value: Any) -> list[Formula]:
        if isinstance(value, tuple):
            return [v for v in value if isinstance(v, Formula)]
        return super().formulas(value)


def place_in(box: tuple[float, float, float, float], anchor: Any, up: bool = False) -> tuple[float, float]:
    """The point of a box that a plain anchor names; an empty box has only its origin. Fractions count from the left and
    from the top, which is where y is largest if it runs `up`."""
    if anchor == "center" and box[0] <= box[2]:
        return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2
    if anchor == "origin" or box[0] > box[2]:
        return 0.0, 0.0
    fx, fy = ANCHORS[anchor] if isinstance(anchor, str) else anchor
    return box[0] + (box[2] - box[0]) * fx, box[1] + (box[3] - box[1]) * (1.0 - fy if up else fy)


def same(a: Any, b: Any) -> bool:
    """Equality that tells 1 from True and keeps int and float apart no further."""
    if isinstance(a, bool) != isinstance(b, bool):
        return False
    if isinstance(a, Sequence) and isinstance(b, Sequence) and not isinstance(a, str):
        return len(a) == len(b) and all(same(x, y) for x, y in zip(a, b, strict=True))
    return bool(a == b)
