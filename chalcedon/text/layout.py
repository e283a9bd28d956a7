"""Text laid out in lines. x goes right from the left edge of the block, y down from the first baseline."""

from __future__ import annotations

import bisect
import itertools
from collections.abc import Container, Sequence
from typing import NamedTuple

from cachetools import LRUCache, cached
from unicode_segmentation_rs import line_break_units

from chalcedon.geometry.boxes import Box
from chalcedon.geometry.path import Outline
from chalcedon.text.bidi import base_level, visual_order
from chalcedon.text.fonts import Face, choose
from chalcedon.text.shape import Run, Shaped, Span, Style, shape

LONGEST = 20_000
"""Characters that are laid out; what is beyond is kept, and said not to be shown."""

MANY = 300
"""Glyphs from which on their outlines are placed in one batch."""
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
    indent: float = 0.0
    spans: tuple[Span, ...] = ()
    """Stretches in a style of their own, one after the other."""


class Placed(NamedTuple):
    """A glyph on the page: its face, where its origin stands, its size, and the mark of its span."""

    face: Face
    glyph: int
    x: float
    y: float
    size: float
    mark: int


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
        return _outline(self.glyphs)

    def marked(self, marks: Container[int]) -> Outline:
        """The glyphs of some spans, by their marks; -1 is for those of none."""
        return _outline([g for g in self.glyphs if g.mark in marks])


def _outline(glyphs: Sequence[Placed]) -> Outline:
    if not glyphs:
        return Outline("", ())
    paths = [g.face.outline(g.glyph) for g in glyphs]
    verbs = "".join([p.verbs for p in paths])
    if len(glyphs) < MANY:
        out: list[float] = []
        for (_face, _glyph, x, y, size, _mark), path in zip(glyphs, paths, strict=True):
            placed = [0.0] * len(path.coords)
            placed[0::2] = [c * size + x for c in path.coords[0::2]]
            placed[1::2] = [c * size + y for c in path.coords[1::2]]
            out += placed
        return Outline(verbs, tuple(out))
    import numpy as np  # it takes longer to load than a few words to be set

    counts = [len(p.coords) // 2 for p in paths]
    points = np.concatenate([g.face.points(g.glyph) for g in glyphs])
    points = points * np.repeat([g.size for g in glyphs], counts)[:, None]
    points += np.repeat(np.array([(g.x, g.y) for g in glyphs]), counts, axis=0)
    return Outline(verbs, tuple(points.ravel().tolist()))


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
    indent: float


@cached(LRUCache(REMEMBERED, getsizeof=lambda layout: 20 + len(layout.glyphs)), info=True)
def lay_out(block: Block) -> Layout:
    """The layout of a block. Equal blocks give the same object while they are remembered."""
    style = block.style
    parts: list[_Part] = []
    offset = 0
    for text in block.content[:LONGEST].replace("\r\n", "\n").replace("\r", "\n").split("\n"):
        base = base_level(text, block.direction)
        shaped = shape(text, style, base, _spans_in(block.spans, offset, offset + len(text)))
        parts += _break(text, shaped, base, offset, block.width, block.indent)
        offset += len(text) + 1
    face = choose(style.family, style.weight, style.italic).face
    return _place(block, parts, face)


def _spans_in(spans: Sequence[Span], start: int, end: int) -> list[Span]:
    """What of the spans lies in characters [start, end), counted from `start`."""
    first = bisect.bisect_right(spans, start, key=lambda s: s.end)
    last = bisect.bisect_left(spans, end, key=lambda s: s.start)
    return [s._replace(start=max(s.start, start) - start, end=min(s.end, end) - start) for s in spans[first:last]]


def _break(text: str, shaped: Shaped, base: int, offset: int, width: float, indent: float) -> list[_Part]:
    """Greedy lines. Trailing spaces hang; a word longer than the line overflows it."""
    total = [0.0, *itertools.accumulate(shaped.widths)]
    if width <= 0.0:
        seen = len(text)
        return [_Part(shaped, offset, 0, len(text), seen, total[seen], True, base, indent)]
    out = []
    start = 0
    breaks = _breaks(text)
    while True:
        # the last opportunity whose text fits
        room = total[start] + width - indent + 1e-9
        low = bisect.bisect_right(breaks, start)
        best = len(text)
        for i in range(low, len(breaks)):
            if total[_trimmed(text, start, breaks[i])] > room:
                best = breaks[i - 1] if i > low else breaks[i]
                break
        seen = _trimmed(text, start, best)
        wide = total[seen] - total[start]
        out.append(_Part(shaped, offset, start, best, seen, wide, best == len(text), base, indent))
        if best == len(text):
            return out
        start, indent = best, 0.0


def _trimmed(text: str, start: int, end: int) -> int:
    while end > start and text[end - 1] in " \t\u3000":
        end -= 1
    return end


def _breaks(text: str) -> list[int]:
    """Where a line may end: the opportunities of the Unicode Line Breaking Algorithm (UAX #14)."""
    return list(itertools.accumulate(map(len, line_break_units(text)))) or [0]


def _place(block: Block, parts: list[_Part], face: Face) -> Layout:
    room = block.width or max((p.width + p.indent for p in parts), default=0.0)
    sizes = [_size_of(p, block.style.size) for p in parts]
    baselines, above, tall = _baselines(sizes, face, block.line_height)
    height = block.height or tall
    shift = {"top": 0.0, "middle": (height - tall) / 2, "bottom": height - tall}[block.vertical]
    glyphs: list[Placed] = []
    cells: list[Box] = []
    lines = []
    missing: set[str] = set()
    for i, part in enumerate(parts):
        baseline = baselines[i] + shift
        ascent, descent = face.ascent * sizes[i], face.descent * sizes[i]
        spare = room - part.width - part.indent
        align = block.align
        gaps = part.paragraph and _gaps(block, part)
        extra = spare / gaps if align == "justify" and gaps and not part.last and spare > 0.0 else 0.0
        if align == "justify":
            align = "right" if part.base else "left"
        left = 0.0 if extra else {"left": 0.0, "center": spare / 2, "right": spare}[align]
        left += 0.0 if part.base else part.indent  # where a line runs to the left, the room is at its right
        _set_line(block, part, left, baseline, extra, (baseline - ascent, baseline + descent), glyphs, cells)
        lines.append(
            TextLine(
                part.offset + part.start, part.offset + part.end, baseline, left, part.width + (spare if extra else 0.0)
            )
        )
        missing |= part.paragraph.missing
    substitute = next((p.paragraph.substitute for p in parts if p.paragraph.substitute), "")
    box = (min(0.0, room), -above, max(0.0, room), height - above)  # tight enough, letters run back over the start
    size = block.style.size
    return Layout(tuple(glyphs), tuple(lines), tuple(cells), box, size, frozenset(missing), substitute)


def _size_of(part: _Part, usual: float) -> float:
    """The largest size in a line; that of the style in an empty one."""
    return max((r.size for r in _runs_in(part.paragraph.runs, part.start, part.seen)), default=usual)


def _baselines(sizes: Sequence[float], face: Face, line_height: float) -> tuple[list[float], float, float]:
    """The baselines of lines of some sizes, the first at 0; how far the first reaches over it; how tall all are. Half
    the leading of a line lies over it (CSS 2, section 10.8.1)."""
    steps = [s * line_height for s in sizes]
    over = [
        (step - (face.ascent + face.descent) * s) / 2 + face.ascent * s for s, step in zip(sizes, steps, strict=True)
    ]
    if len(set(sizes)) == 1:
        return [i * steps[0] for i in range(len(sizes))], over[0], steps[0] * len(sizes)
    tops = [0.0, *itertools.accumulate(steps)]
    return [tops[i] + over[i] - over[0] for i in range(len(sizes))], over[0], tops[-1]


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
    tight = min(0.0, block.style.letter_spacing)
    for place in visual_order([r.level for r in runs]):
        run = runs[place]
        for glyph, start, advance, dx, dy in run.between(part.start, part.seen):
            glyphs.append(Placed(run.face, glyph, x + dx, baseline + dy, run.size, run.mark))
            if extra and content[offset + start] == " ":
                advance += extra
            if advance and advance > tight:  # letters set tightly are where they are seen, one over the other
                cells.append((x, cell[0], x + advance - tight, cell[1]))
            x += advance
