"""Text laid out in lines. x goes right from the left edge of the block, y down from the first baseline."""

from __future__ import annotations

import bisect
import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from cachetools import LRUCache, cached
from unicode_segmentation_rs import line_break_units

from chalcedon.geometry.boxes import Box
from chalcedon.geometry.path import Outline
from chalcedon.text.bidi import base_level, visual_order
from chalcedon.text.fonts import Face, choose
from chalcedon.text.shape import Run, Shaped, Style, shape

LONGEST = 20_000
"""Characters that are laid out; what is beyond is kept, and said not to be shown."""


REMEMBERED = 300_000
"""Glyphs of layouts that are remembered."""


class Block(NamedTuple):
    """A text and how it is set. Lengths in px; a width of 0 doesn't wrap, a height of 0 is that of the lines."""

    content: str
    style: Style
    width: float = 0.0
    height: float = 0.0
    align: str = "left"
    vertical: str = "top"
    line_height: float = 1.25
    direction: str = "auto"


class Placed(NamedTuple):
    """A glyph on the page: its face, and where its origin stands."""

    face: Face
    glyph: int
    x: float
    y: float


class TextLine(NamedTuple):
    """A line: characters [start, end) of the content, its baseline, left edge and width without trailing space."""

    start: int
    end: int
    baseline: float
    left: float
    width: float


class Layout(NamedTuple):
    """Glyphs, lines, character cells, the block's box, and what could not be done as asked."""

    glyphs: tuple[Placed, ...]
    lines: tuple[TextLine, ...]
    cells: tuple[Box, ...]
    box: Box
    size: float
    missing: frozenset[str]
    substitute: str

    def outline(self) -> Outline:
        """All glyphs as one outline. It is filled by the nonzero rule."""
        if not self.glyphs:
            return Outline("", ())
        paths = [g.face.outline(g.glyph) for g in self.glyphs]
        points = np.concatenate([g.face.points(g.glyph) for g in self.glyphs]) * self.size
        where = np.array([(g.x, g.y) for g in self.glyphs])
        points += np.repeat(where, [len(p.coords) // 2 for p in paths], axis=0)
        return Outline("".join([p.verbs for p in paths]), tuple(points.ravel().tolist()))


class _Part(NamedTuple):
    """A line before it is placed."""

    paragraph: Shaped
    offset: int
    start: int
    end: int
    seen: int
    """Where trailing white space begins."""
    width: float
    last: bool
    base: int


@cached(LRUCache(REMEMBERED, getsizeof=lambda layout: 20 + len(layout.glyphs)), info=True)
def lay_out(block: Block) -> Layout:
    """The layout of a block. Equal blocks give the same object while they are remembered."""
    style = block.style
    parts: list[_Part] = []
    offset = 0
    for text in block.content[:LONGEST].replace("\r\n", "\n").replace("\r", "\n").split("\n"):
        base = base_level(text, block.direction)
        shaped = shape(text, style, base)
        parts += _break(text, shaped, base, offset, block.width)
        offset += len(text) + 1
    face = choose(style.family, style.weight, style.italic).face
    return _place(block, parts, face)


def _break(text: str, shaped: Shaped, base: int, offset: int, width: float) -> list[_Part]:
    """Greedy lines. Trailing spaces hang; a word longer than the line overflows it."""
    total = [0.0, *itertools.accumulate(shaped.widths)]
    if width <= 0.0:
        seen = len(text)
        return [_Part(shaped, offset, 0, len(text), seen, total[seen], True, base)]
    out = []
    start = 0
    breaks = _breaks(text)
    while True:
        # the last opportunity whose text fits
        room = total[start] + width + 1e-9
        low = bisect.bisect_right(breaks, start)
        best = len(text)
        for i in range(low, len(breaks)):
            if total[_trimmed(text, start, breaks[i])] > room:
                best = breaks[i - 1] if i > low else breaks[i]
                break
        seen = _trimmed(text, start, best)
        out.append(_Part(shaped, offset, start, best, seen, total[seen] - total[start], best == len(text), base))
        if best == len(text):
            return out
        start = best


def _trimmed(text: str, start: int, end: int) -> int:
    while end > start and text[end - 1] in " \t\u3000":
        end -= 1
    return end


def _breaks(text: str) -> list[int]:
    """Where a line may end: the opportunities of the Unicode Line Breaking Algorithm (UAX #14)."""
    return list(itertools.accumulate(map(len, line_break_units(text)))) or [0]


def _place(block: Block, parts: list[_Part], face: Face) -> Layout:
    size = block.style.size
    step = size * block.line_height
    ascent, descent = face.ascent * size, face.descent * size
    room = block.width or max((p.width for p in parts), default=0.0)
    above = (step - ascent - descent) / 2 + ascent  # half the leading lies over the line (CSS 2, section 10.8.1)
    tall = step * len(parts)
    height = block.height or tall
    shift = {"top": 0.0, "middle": (height - tall) / 2, "bottom": height - tall}[block.vertical]
    glyphs: list[Placed] = []
    cells: list[Box] = []
    lines = []
    missing: set[str] = set()
    for i, part in enumerate(parts):
        baseline = i * step + shift
        spare = room - part.width
        align = block.align
        gaps = part.paragraph and _gaps(block, part)
        extra = spare / gaps if align == "justify" and gaps and not part.last and spare > 0.0 else 0.0
        if align == "justify":
            align = "right" if part.base else "left"
        left = 0.0 if extra else {"left": 0.0, "center": spare / 2, "right": spare}[align]
        _set_line(block, part, left, baseline, extra, (baseline - ascent, baseline + descent), glyphs, cells)
        lines.append(
            TextLine(part.offset + part.start, part.offset + part.end, baseline, left, room if extra else part.width)
        )
        missing |= part.paragraph.missing
    substitute = next((p.paragraph.substitute for p in parts if p.paragraph.substitute), "")
    box = (0.0, -above, room, height - above)
    return Layout(tuple(glyphs), tuple(lines), tuple(cells), box, size, frozenset(missing), substitute)


def _runs_in(runs: Sequence[Run], start: int, end: int) -> list[Run]:
    """The runs that hold characters [start, end); runs follow one another without gaps."""
    first = bisect.bisect_right(runs, start, key=lambda r: r.end)
    return list(runs[first : bisect.bisect_left(runs, end, key=lambda r: r.start)])


def _gaps(block: Block, part: _Part) -> int:
    text = block.content[part.offset + part.start : part.offset + part.seen]
    return text.count(" ") if block.align == "justify" else 0


def _set_line(
    block: Block,
    part: _Part,
    left: float,
    baseline: float,
    extra: float,
    cell: tuple[float, float],
    glyphs: list[Placed],
    cells: list[Box],
) -> None:
    """Puts the glyphs of a line, run by run in visual order, and a cell for each."""
    runs = _runs_in(part.paragraph.runs, part.start, part.seen)
    x = left
    content, offset = block.content, part.offset
    for place in visual_order([r.level for r in runs]):
        run = runs[place]
        for glyph, start, advance, dx, dy in run.between(part.start, part.seen):
            glyphs.append(Placed(run.face, glyph, x + dx, baseline + dy))
            if extra and content[offset + start] == " ":
                advance += extra
            if advance > 0.0:
                cells.append((x, cell[0], x + advance, cell[1]))
            x += advance
