"""Completion and hints for the new line."""

from __future__ import annotations

from collections.abc import Sequence
from functools import singledispatch
from typing import NamedTuple

from chalcedon.problems import ValueProblem
from chalcedon.scene import OFFERED
from chalcedon.scene.color import names as color_names
from chalcedon.scene.paints import Paint
from chalcedon.scene.shapes import kind_named
from chalcedon.scene.steps import OPS
from chalcedon.scene.values import Anchor, Choice, Flag, Value
from chalcedon.source.line import LineParser

COMMON = ("fill", "stroke", "rotate", "scale")


class Hint(NamedTuple):
    """What could stand at the cursor. `title` names it, `help` explains it; `start` is where a chosen
    candidate replaces the text up to the cursor."""

    title: str
    help: str
    candidates: tuple[str, ...]
    start: int


def hint_at(text: str, cursor: int) -> Hint:
    """The hint for a line with the cursor after `cursor` characters."""
    before = text[:cursor]
    parser = LineParser(before)
    last = parser.tokens[-1] if parser.tokens and parser.tokens[-1].end == cursor else None
    partial = last.text if last is not None and last.kind in ("word", "color") else ""
    done = parser.tokens[:-1] if last is not None else parser.tokens
    start = last.start if last is not None and partial else cursor
    try:
        for token in done:
            parser.feed(token)
    except ValueProblem as problem:
        return Hint("", str(problem), (), start)
    if parser.shape_class is None:
        title, help = (partial, _summary(partial)) if partial in OFFERED else ("kind of shape", "what to add")
        return Hint(title, help, _matching(partial, OFFERED), start)
    slot = parser.slot()
    rare = (*COMMON, "fill_on", "stroke_on")  # these would stand in the way of what they are about
    names = [*COMMON, *(n for n in parser.shape_class.properties if n not in rare), *OPS, "id"]
    names += parser.shape_class.words
    if slot is None and parser.given:
        return Hint("that is", _conversion(parser), _matching(partial, names), start)
    if slot is None:
        return Hint("", "fill, stroke, rotate, ... or Enter to add it", _matching(partial, names), start)
    kind = slot.prop.kind if slot.prop is not None else None
    title = f"{slot.prop.word if slot.prop else slot.name}" + (f" {slot.component}" if slot.component else "")
    return Hint(title, slot.help, _matching(partial, words_for(kind, partial, names)), start)


@singledispatch
def words_for(kind: Value | None, partial: str, names: list[str]) -> Sequence[str]:
    """What may be written for a value: words of its own, or (once something is) what may come after it."""
    return names if partial else ()


@words_for.register(Choice)
@words_for.register(Anchor)
def _(kind: Choice | Anchor, partial: str, names: list[str]) -> Sequence[str]:
    return kind.words


@words_for.register
def _(kind: Flag, partial: str, names: list[str]) -> Sequence[str]:
    return ("yes", "no", *names)


@words_for.register
def _(kind: Paint, partial: str, names: list[str]) -> Sequence[str]:
    return ("none", *color_names()) if partial else ("none",)


def _conversion(parser: LineParser) -> str:
    """What another description comes to, in the shape's own properties."""
    assert parser.shape_class is not None
    try:
        values = parser.conversion()
    except ValueProblem as problem:
        return str(problem)
    words = []
    for name, value in values.items():
        numbers = value if isinstance(value, tuple) else (value,)
        text = ", ".join(f"{v:g}" if isinstance(v, int | float) else str(v) for v in numbers)
        words.append(f"{parser.shape_class.properties[name].word} {text}")
    return "  ".join(words)


def _matching(partial: str, words: Sequence[str]) -> tuple[str, ...]:
    low = partial.lower()
    found = [w for w in dict.fromkeys(words) if w.startswith(low)]
    found += [w for w in dict.fromkeys(words) if low and low in w and w not in found]
    return tuple(w for w in found[:40] if w != partial)


def _summary(kind: str) -> str:
    """What is due behind a kind, in the order in which it is typed: x y  radius."""
    cls, out = kind_named(kind), []
    for prop in (cls.properties[name] for name in cls.leading):
        labels = " ".join(prop.kind.labels)
        out.append(f"{prop.word} {labels}" if labels == "x y" and prop.name != "at" else labels or prop.word)
    return "  ".join(out)
