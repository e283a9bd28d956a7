"""A paragraph as glyphs: split into runs of one direction, face and script, and shaped by HarfBuzz."""

from __future__ import annotations

import bisect
import unicodedata
from collections.abc import Iterator, Sequence
from operator import attrgetter
from typing import NamedTuple

import uharfbuzz as hb
from fontTools import unicodedata as scripts

from chalcedon.text.bidi import levels
from chalcedon.text.fonts import Chosen, Face, choose, fallback


class Style(NamedTuple):
    """What shaping depends on. Sizes are in px."""

    family: str
    size: float
    weight: float = 400
    italic: bool = False
    letter_spacing: float = 0.0
    kerning: bool = True
    ligatures: bool = True


class Span(NamedTuple):
    """Characters [start, end) in a style of their own; `mark` is kept with their glyphs."""

    start: int
    end: int
    style: Style
    mark: int


class Glyph(NamedTuple):
    """A glyph of a run, in px: how far it moves the pen, and where it stands from it. `start` is the character it
    begins with."""

    glyph: int
    start: int
    advance: float
    dx: float
    dy: float


class Run(NamedTuple):
    """Characters [start, end) of a paragraph, in one face and direction; glyphs go from left to right.

    Invariant: the characters where glyphs begin rise along a run with an even level, and fall along an odd one.
    """

    start: int
    end: int
    level: int
    face: Face
    glyphs: tuple[Glyph, ...]
    size: float
    mark: int
    """The mark of its span; -1 for none."""

    def between(self, start: int, end: int) -> tuple[Glyph, ...]:
        """The glyphs that begin with the characters [start, end)."""
        if self.level & 1:
            first = bisect.bisect_right(self.glyphs, -end, key=lambda g: -g.start)
            return self.glyphs[first : bisect.bisect_right(self.glyphs, -start, key=lambda g: -g.start)]
        first = bisect.bisect_left(self.glyphs, start, key=lambda g: g.start)
        return self.glyphs[first : bisect.bisect_left(self.glyphs, end, key=lambda g: g.start)]


class Shaped(NamedTuple):
    """A shaped paragraph. `widths` are the advances by character (a ligature's stands at its first)."""

    runs: tuple[Run, ...]
    widths: tuple[float, ...]
    missing: frozenset[str]
    substitute: str


def shape(text: str, style: Style, base: int, spans: Sequence[Span] = ()) -> Shaped:
    """Shapes a paragraph: text without line breaks. Spans follow one another; between them the style holds."""
    missing: set[str] = set()
    runs = []
    widths = [0.0] * len(text)
    substitute = ""
    level_of = None if text.isascii() and base == 0 else levels(text, base)
    for span in _covering(len(text), style, spans):
        own = span.style
        chosen = choose(own.family, own.weight, own.italic)
        substitute = substitute or chosen.substitute
        for start, end, level, face, script in _split(text, span, level_of, chosen, missing):
            glyphs = _glyphs(text, start, end, level, face, script, own)
            for g in glyphs:
                widths[g.start] += g.advance
            runs.append(Run(start, end, level, face, glyphs, own.size, span.mark))
    return Shaped(tuple(runs), tuple(widths), frozenset(missing), substitute)


def _covering(length: int, style: Style, spans: Sequence[Span]) -> Iterator[Span]:
    """The spans, and between them spans of the style, up to a length."""
    at = 0
    for span in spans:
        if span.start > at:
            yield Span(at, span.start, style, -1)
        yield span
        at = span.end
    if at < length or not spans:
        yield Span(at, length, style, -1)


def _split(
    text: str, span: Span, level_of: Sequence[int] | None, chosen: Chosen, missing: set[str]
) -> list[tuple[int, int, int, Face, str]]:
    first, last, style = span.start, span.end, span.style
    plain = text.isascii()
    if level_of is None:
        missing |= {c for c in set(text[first:last]) if c.isprintable() and not chosen.face.has(c)}
        return [(first, last, 0, chosen.face, "Latn")] if last > first else []
    out: list[tuple[int, int, int, Face, str]] = []
    face, script = chosen.face, "Latn" if plain else ""
    for i, char in enumerate(text[first:last], first):
        if not plain:
            face = _face_for(char, face, style, chosen, missing)
            own = scripts.script(char)
            script = own if own not in ("Zyyy", "Zinh") else script
        elif not face.has(char) and char.isprintable():
            missing.add(char)
        if out and out[-1][2] == level_of[i] and out[-1][3] is face and out[-1][4] in (script, ""):
            out[-1] = (out[-1][0], i + 1, level_of[i], face, script)
        else:
            out.append((i, i + 1, level_of[i], face, script))
    return out


def _face_for(char: str, current: Face, style: Style, chosen: Chosen, missing: set[str]) -> Face:
    """The chosen face, or one that has what it lacks. Marks stay with the letter before them where they can."""
    if unicodedata.combining(char) and current.has(char):
        return current
    if chosen.face.has(char):
        return chosen.face
    if not char.isprintable() or unicodedata.category(char) in ("Cf", "Cc", "Zs"):
        return current  # nothing to see: no reason for another face
    found = fallback(char, style.weight, style.italic)
    if found is None:
        missing.add(char)
        return chosen.face
    return found


def _glyphs(text: str, start: int, end: int, level: int, face: Face, script: str, style: Style) -> tuple[Glyph, ...]:
    buffer = hb.Buffer()
    # what stands around is given as context: letters join across the ends of runs
    first = max(0, start - CONTEXT)
    around = [0x20 if c in "\t\v\f" else ord(c) for c in text[first : end + CONTEXT]]
    buffer.add_codepoints(around, start - first, end - start)
    buffer.direction = "rtl" if level & 1 else "ltr"
    if script:
        buffer.script = script
    buffer.guess_segment_properties()
    features = {"kern": style.kerning, "liga": style.ligatures, "clig": style.ligatures}
    if style.letter_spacing:
        features |= {"liga": False, "clig": False}  # CSS Text 3: spaced letters don't join
    hb.shape(face.font, buffer, features)
    k = style.size / face.em
    spacing = style.letter_spacing
    out = []
    for info, (dx, dy, advance, _) in zip(buffer.glyph_infos, map(_position, buffer.glyph_positions), strict=True):
        spaced = advance * k + spacing if spacing and advance else advance * k
        out.append(Glyph(info.codepoint, first + info.cluster, spaced, dx * k, -dy * k))
    return tuple(out)


CONTEXT = 8
"""Characters around a run that HarfBuzz is told of; it looks at five."""
_position = attrgetter("x_offset", "y_offset", "x_advance", "y_advance")
