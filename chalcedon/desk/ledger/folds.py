"""Which values an opened row shows, and which wait as words in its quiet line. No Qt here."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from functools import cache
from typing import Any, NamedTuple

from chalcedon.craft.several import Several
from chalcedon.scene import KINDS, Shape
from chalcedon.scene.declare import Property
from chalcedon.scene.painted import STROKE_LOOKS, Painted
from chalcedon.scene.synonyms import number_meant, property_meant

SECTIONS = (
    ("geometry", "Geometry"),
    ("paint", "Paint"),
    ("effects", "Effects"),
    ("steps", "Steps"),
    ("pointer", "Pointer"),
    ("live", "Live"),
    ("notes", "Notes"),
)
ENDS = frozenset(("start_head", "end_head"))
HEADS = (*ENDS, "mid_head")
POINTED = ("polyline", "path", "rect", "regular_polygon", "star")
"""Kinds with points between segments."""
MARKS = ("visible", "locked")
"""Values that have a mark at the end of the row; no word offers them."""
SWITCHES = ("fill_on", "stroke_on")
"""Values that stand beside their paint."""
UNSAID = frozenset((*MARKS, *SWITCHES, "aspect_ratio"))
"""What no word of the quiet line offers, since something beside it does; typing finds it."""
ALSO = "also "
"""How the name of another description begins (craft/descriptions.py)."""
OR_AS = "or as"
"""The word for the other descriptions of a shape. It holds for every row."""

FOLD = "fold"
"""The word that folds away again what stands at its default."""


class Folds(NamedTuple):
    """What of a row is shown, by name, and the words for the rest, in reading order."""

    shown: frozenset[str]
    offered: tuple[tuple[str, str], ...]
    """Name and word of each value that isn't shown."""
    foldable: bool
    """Whether any is shown only because it was opened."""


def folds(shape: Shape, opened: Collection[str]) -> Folds:
    """Shown is what places and measures the shape, what was stated other than its default, and what was opened."""
    fit = [p for section, _ in SECTIONS for p in props_of(shape.kind, section) if _fits(shape, p.name)]
    return _folds(shape, fit, opened)


class Folding:
    """What `folds` gives, which is the same as before while nothing but the place of a shape is another: as long as it
    is dragged."""

    def __init__(self) -> None:
        self._last: tuple[object, Folds] | None = None

    def of(self, shape: Shape, opened: Collection[str]) -> Folds:
        rest = {n: v for n, v in shape._values.items() if n != "at"}
        state = shape, frozenset(opened), rest
        if self._last is None or self._last[0] != state:
            self._last = state, folds(shape, opened)
        return self._last[1]


def _folds(owner: Shape | Several, fit: list[Property[Any]], opened: Collection[str]) -> Folds:
    stated = {p.name for p in fit if _is_shown(owner, p)}
    shown = frozenset(p.name for p in fit if p.name in opened or p.name in stated)
    return Folds(shown, _offered(fit, shown), shown > stated)


def _offered(fit: list[Property[Any]], shown: Collection[str]) -> tuple[tuple[str, str], ...]:
    words = [p.word for p in fit]
    return tuple((p.name, _word(p, words)) for p in fit if p.name not in shown and p.name not in UNSAID)


def folds_of_several(several: Several, opened: Collection[str]) -> Folds:
    """The same for what several shapes have in common: shown is what is shown of any of them."""
    fit = [
        p
        for section, _ in SECTIONS
        for p in props_of(several.shapes[0].kind, section)
        if p.name in several.properties and all(_fits(s, p.name) for s in several.examples)
    ]
    return _folds(several, fit, opened)


@cache
def props_of(kind: str, section: str) -> list[Property[Any]]:
    """The properties that stand in a section."""
    own = KINDS[kind].properties
    also = MARKS if section == "pointer" else ()
    found = [p for p in own.values() if p.section == section]
    return sorted(found, key=lambda p: p.name == "opacity") + [own[n] for n in also]


def _word(prop: Property[Any], words: list[str]) -> str:
    if prop.name == "steps":
        return "step"
    return prop.word if words.count(prop.word) == 1 else prop.name.replace("_", " ")


def _is_shown(owner: Shape | Several, prop: Property[Any]) -> bool:
    if prop.name in SWITCHES:
        return False
    if prop.always or owner.stated(prop.name) != prop.default:
        return True
    return prop.name == "stroke_width" and owner.stated("stroke") is not None


def _fits(shape: Shape, name: str) -> bool:
    """Whether a value means anything for the shape as it is. What is stated is shown all the same."""
    if shape.stated(name) != shape.properties[name].default:
        return True
    if name in STROKE_LOOKS:
        return isinstance(shape, Painted) and shape.stated("stroke") is not None and _fits_stroke(shape, name)
    if name == "clip_by":
        return bool(shape.stated("clip"))
    if name == "drag_on":
        return shape.stated("dragging") in ("within", "along")
    if name == "drag_grid":
        return shape.stated("dragging") == "grid"
    return name != "pivot" or bool(shape.stated("steps"))


def _fits_stroke(shape: Painted, name: str) -> bool:
    if name in ENDS and not (shape.is_open or shape.kind == "path"):
        return False
    return {
        "head_size": any(shape.stated(n) != "none" for n in HEADS),
        "mid_head": shape.kind in POINTED,
        "paint_order": shape.stated("fill") is not None,
        "stroke_align": shape.kind != "line",
        "miter_limit": shape.join == "miter",
        "dash_offset": bool(shape.stated("dash")),
    }.get(name, True)


class Meant(NamedTuple):
    """A value that a typed text may mean, and which of its numbers."""

    name: str
    word: str
    number: int = 0


def called(shape: Shape, text: str, descriptions: Sequence[str] = ()) -> list[Meant]:
    """The values that a text may mean, the likeliest first: those whose word it is or begins, then those whose word has
    it further on. Words of the trade count, and those of the other descriptions."""
    text = text.strip().lower().replace("_", " ")
    if not text:
        return []
    words = [
        Meant(p.name, "step" if p.name == "steps" else p.word) for s, _ in SECTIONS for p in props_of(shape.kind, s)
    ]
    words += [Meant(ALSO + d, d) for d in descriptions]
    ranked = sorted((rank, i) for i, m in enumerate(words) if (rank := _rank(m, text)) < 3)
    found = [words[i] for _, i in ranked]
    word = text.replace(" ", "_")
    number, name = number_meant(word, type(shape)), property_meant(word, type(shape))
    if number is not None:
        found.insert(0, Meant(number[0], text, number[1]))
    elif name:
        found.insert(0, Meant(name, shape.properties[name].word))
    return list({m.name: m for m in reversed(found)}.values())[::-1]


def _rank(meant: Meant, text: str) -> int:
    """0 for the whole word, 1 for how it begins, 2 for a later part of it, 3 for nothing."""
    both = meant.word, meant.name.replace("_", " ")
    if text in both:
        return 0
    if any(w.startswith(text) for w in both):
        return 1
    return 2 if any(f" {text}" in w for w in both) else 3
