"""Runs: stretches of a text that are set otherwise than the rest, by colour, weight, size or slant.

A run counts characters [first, last) of the content. Where runs overlap the later one has the last word. What lies
beyond the end of the content says nothing, and stays.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise
from typing import TYPE_CHECKING, Any, NamedTuple

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, nearest, shorten, shorten_name
from chalcedon.scene.paints import Pattern
from chalcedon.scene.values import Value

if TYPE_CHECKING:
    from chalcedon.scene.declare import Property

NAMES = ("fill", "weight", "size", "italic", "family")
"""What a run can say."""
FARTHEST = 1_000_000
MOST = 2000


class TextRun(NamedTuple):
    """Characters [first, last) and what is stated of them, as pairs."""

    first: int
    last: int
    values: tuple[tuple[str, Any], ...]


class Runs(Value):
    """A list of runs. In JSON {"first": 0, "last": 5, "weight": 700}; in Python also (0, 5, {"weight": 700})."""

    direct = False

    def read(self, raw: Any) -> tuple[TextRun, ...]:
        if not isinstance(raw, list | tuple):
            raise ValueProblem(f"{shorten(raw)} is not a list of runs.", hint='Write [(0, 5, {"weight": 700})].')
        if len(raw) > MOST:
            raise ValueProblem(f"{len(raw)} runs are too many.", hint=f"At most {MOST}.")
        out = []
        for i, one in enumerate(raw):
            try:
                out.append(_read(one))
            except ValueProblem as problem:
                raise ValueProblem(f"run {i + 1}: {problem.message}", hint=problem.hint) from None
        return tuple(out)

    check = read

    def write(self, value: Any) -> Any:
        return [
            {"first": r.first, "last": r.last, **{n: _property(n).kind.write(v) for n, v in r.values}} for r in value
        ]

    def plain(self, value: Any) -> Any:
        return value

    def formulas(self, value: Any) -> list[Formula]:
        return []

    def schema(self) -> dict[str, Any]:
        count = {"type": "integer", "minimum": 0, "maximum": FARTHEST}
        run = {"type": "object", "required": ["first", "last"], "properties": {"first": count, "last": count}}
        return {"type": "array", "items": run, "maxItems": MOST}

    def describe(self) -> str:
        return "characters, and what is said of them"


def _property(name: Any) -> Property[Any]:
    from chalcedon.scene.shape import KINDS  # the kinds are made after this

    if name not in NAMES:
        raise ValueProblem(f"a run has no {shorten_name(str(name))}.", hint=nearest(str(name), NAMES))
    return KINDS["text"].properties[name]


def _read(raw: Any) -> TextRun:
    if isinstance(raw, Mapping):
        values = {n: v for n, v in raw.items() if n not in ("first", "last")}
        first, last = raw.get("first"), raw.get("last")
    elif isinstance(raw, list | tuple) and len(raw) == 3:
        first, last, given = raw
        try:
            values = dict(given.items() if isinstance(given, Mapping) else given)
        except (TypeError, ValueError):
            raise ValueProblem(f"{shorten(given)} says nothing.", hint='Write {"weight": 700}.') from None
    else:
        raise ValueProblem(f"{shorten(raw)} is not a run.", hint='Write (0, 5, {"weight": 700}).')
    first, last = _place(first), _place(last)
    if first >= last:
        raise ValueProblem(
            f"it holds no character: {first} to {last}.", hint="The last is one more than the first, or more."
        )
    if not values:
        raise ValueProblem("it says nothing.", hint="Give a fill, weight, size, italic or family.")
    read = {n: _property(n).read(v, "run") for n, v in values.items()}
    for name, value in read.items():
        if isinstance(value, Pattern):
            raise ValueProblem("a pattern is laid on all of a text.", hint="Give the run a colour.")
        if _property(name).kind.formulas(value):
            raise ValueProblem(f"{name}: a run takes no formula.", hint="Give the value itself.")
    return TextRun(first, last, tuple(read.items()))


def _place(raw: Any) -> int:
    if type(raw) is not int or not 0 <= raw <= FARTHEST:
        raise ValueProblem(f"{shorten(raw)} is not a place between characters.", hint="They count from 0.")
    return raw


class Stretch(NamedTuple):
    """Characters [first, last) that are set alike, and how."""

    first: int
    last: int
    values: dict[str, Any]


def stretches(runs: Sequence[TextRun], length: int) -> list[Stretch]:
    """The runs without overlaps, in order, within a content of so many characters. What no run is about is left out."""
    begins: dict[int, list[int]] = {}
    ends: dict[int, list[int]] = {}
    for i, run in enumerate(runs):
        if run.first < length:
            begins.setdefault(run.first, []).append(i)
            ends.setdefault(min(run.last, length), []).append(i)
    out: list[Stretch] = []
    active: set[int] = set()
    for first, last in pairwise(sorted({*begins, *ends})):
        active.difference_update(ends.get(first, ()))
        active.update(begins.get(first, ()))
        values = {n: v for i in sorted(active) for n, v in runs[i].values}
        if values and out and out[-1].last == first and out[-1].values == values:
            out[-1] = out[-1]._replace(last=last)
        elif values:
            out.append(Stretch(first, last, values))
    return out


def after_edit(runs: Sequence[TextRun], old: str, new: str, at: int | None = None) -> tuple[TextRun, ...]:
    """The runs for a content that was edited in one place: they keep to their characters. Those whose characters are
    all gone go as well. What is written belongs to what the first character belonged to that it stands for; if it
    stands for none, to what the one before it does, at the very beginning the one behind. `at` is where the edit was,
    if that is known: of two equal letters in a row one can't see which is new."""
    start = 0
    while (at is None or start < at) and start < min(len(old), len(new)) and old[start] == new[start]:
        start += 1
    tail = 0
    while tail < min(len(old), len(new)) - start and old[-1 - tail] == new[-1 - tail]:
        tail += 1
    gone, shift = len(old) - tail, len(new) - len(old)  # characters [start, gone) became [start, gone + shift)
    like = start if gone > start else max(0, start - 1)
    out = []
    for run in runs:
        first, last = run.first, run.last
        written = first <= like < last
        if start <= first < len(old):
            first = start if written else max(first, gone) + shift
        if start <= last and run.first < len(old):
            last = last + shift if last > gone else gone + shift if written else start
        if first < last:
            out.append(run._replace(first=first, last=last))
    return tuple(out)


def without(runs: Sequence[TextRun], first: int, last: int) -> tuple[TextRun, ...]:
    """The runs with nothing said of characters [first, last)."""
    ends = [part for r in runs for part in (r._replace(last=min(r.last, first)), r._replace(first=max(r.first, last)))]
    return tuple(r for r in ends if r.first < r.last)


def with_values(runs: Sequence[TextRun], first: int, last: int, values: Mapping[str, Any]) -> tuple[TextRun, ...]:
    """The runs with characters [first, last) set as said, over what they were. None takes back what was said there of a
    weight, size, slant or font."""
    length = max([last, *(r.last for r in runs)])
    said = TextRun(first, last, tuple(values.items()))
    out: list[TextRun] = []
    for stretch in stretches([*runs, said], length):
        now = tuple((n, v) for n, v in stretch.values.items() if v is not None or n == "fill")
        if now and out and out[-1].last == stretch.first and out[-1].values == now:
            out[-1] = out[-1]._replace(last=stretch.last)
        elif now:
            out.append(TextRun(stretch.first, stretch.last, now))
    return tuple(out)
