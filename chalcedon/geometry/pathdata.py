"""SVG path data (SVG 2, chapter 9): read into absolute segments, printed back, made into an outline.

Elliptical arcs stay arcs here, so that a path can be written as it was meant; the outline has them as cubics.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from typing import NamedTuple

from cachetools import LRUCache, cached

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.digits import in_full
from chalcedon.geometry.path import Outline, PathBuilder
from chalcedon.geometry.round import arc_to

NUMBERS = {"M": 2, "L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7, "Z": 0}
"""How many numbers follow each command letter."""

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_BETWEEN = re.compile(r"[ \t\n\f\r]*,?[ \t\n\f\r]*")
_BLANK = re.compile(r"[ \t\n\f\r]*")
LARGEST = 1e9
DECIMALS = 12
"""Of a px, to which relative commands are added up."""
REMEMBERED = 300_000
"""Segments of path data that are remembered."""


class Segment(NamedTuple):
    """One absolute segment: M, L, C, Q, A or Z with its numbers; A has rx, ry, turn, large, sweep, x, y."""

    letter: str
    numbers: tuple[float, ...]

    @property
    def end(self) -> tuple[float, float]:
        """The point where it ends; for a closing segment there is none."""
        return self.numbers[-2], self.numbers[-1]


class Parsed(NamedTuple):
    """What path data says. `error` is a sentence when it goes wrong, `position` the character (from 0) where; the
    segments are those before it, which SVG asks to be drawn."""

    segments: tuple[Segment, ...]
    error: str = ""
    position: int = 0


class _Wrong(Exception):
    def __init__(self, message: str, position: int) -> None:
        self.message, self.position = message, position


@cached(LRUCache(REMEMBERED, getsizeof=lambda parsed: 10 + len(parsed.segments)))
def parse_path(text: str) -> Parsed:
    """The segments of path data. Never raises: what precedes an error is given with it."""
    reader = _Reader(text)
    try:
        reader.read()
    except _Wrong as wrong:
        return Parsed(tuple(reader.out), wrong.message, wrong.position)
    return Parsed(tuple(reader.out))


class _Reader:
    """Follows the grammar of SVG 2, section 9.3.9."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.at = 0
        self.out: list[Segment] = []
        self.x = self.y = self.start_x = self.start_y = 0.0
        self.control: tuple[float, float] | None = None  # of the segment before, for S and T
        self.before = ""

    def read(self) -> None:
        text = self.text
        self._skip(_BLANK)
        while self.at < len(text):
            letter = text[self.at]
            if letter.upper() not in NUMBERS:
                what = "a number without a command" if letter in "+-.0123456789" else f"{letter!r} is not a command"
                raise _Wrong(f"{what}; the commands are M L H V C S Q T A Z", self.at)
            if not self.out and letter not in "Mm":
                raise _Wrong(f"a path begins with M, not with {letter}", self.at)
            self.at += 1
            self._command(letter)
            self._skip(_BLANK)

    def _command(self, letter: str) -> None:
        if letter in "Zz":
            self._add("Z", ())
            self.x, self.y = self.start_x, self.start_y
            return
        self._skip(_BLANK)
        once = True
        while once or self._number_follows():
            once = False
            numbers = self._numbers(letter)
            self._segment(letter, numbers)
            letter = {"M": "L", "m": "l"}.get(letter, letter)
            mark = self.at
            self._skip(_BETWEEN)
            if not self._number_follows():
                if self.text[mark : self.at].strip():
                    raise _Wrong("after the comma a number is missing", self.at)
                break

    def _number_follows(self) -> bool:
        return _NUMBER.match(self.text, self.at) is not None

    def _numbers(self, letter: str) -> list[float]:
        count = NUMBERS[letter.upper()]
        out: list[float] = []
        for i in range(count):
            if i:
                self._skip(_BETWEEN)
            if letter in "Aa" and i in (3, 4):
                out.append(self._flag())
                continue
            match = _NUMBER.match(self.text, self.at)
            if match is None:
                found = repr(self.text[self.at]) if self.at < len(self.text) else "the end"
                raise _Wrong(
                    f"{letter} takes {count} numbers; number {i + 1} is missing, {found} stands there", self.at
                )
            value = float(match.group())
            if not abs(value) <= LARGEST:
                raise _Wrong(f"{match.group()} is too large", self.at)
            out.append(value)
            self.at = match.end()
        return out

    def _flag(self) -> float:
        digit = self.text[self.at : self.at + 1]
        if digit not in ("0", "1"):
            raise _Wrong(
                f"a flag of an arc is 0 or 1, not {digit!r}" if digit else "a flag of an arc is missing", self.at
            )
        self.at += 1
        return float(digit)

    def _skip(self, pattern: re.Pattern[str]) -> None:
        match = pattern.match(self.text, self.at)
        assert match is not None
        self.at = match.end()

    def _segment(self, letter: str, n: list[float]) -> None:
        kind = letter.upper()
        ox, oy = (self.x, self.y) if letter.islower() else (0.0, 0.0)
        if kind == "H":
            kind, n = "L", [n[0] + ox, self.y]
        elif kind == "V":
            kind, n = "L", [self.x, n[0] + oy]
        elif kind == "A":
            n = [abs(n[0]), abs(n[1]), *n[2:5], n[5] + ox, n[6] + oy]
        else:
            n = [v + (oy if i % 2 else ox) for i, v in enumerate(n)]
        if kind in "ST":
            smooth = self.control is not None and self.before in ("CS" if kind == "S" else "QT")
            cx, cy = self.control if smooth and self.control else (self.x, self.y)
            n = [2 * self.x - cx, 2 * self.y - cy, *n]
        if letter.islower():
            # sums of decimals: what comes back to the start is to be there, not beside it by the noise of rounding
            n = [*n[:-2], *(round(v, DECIMALS) for v in n[-2:])] if kind == "A" else [round(v, DECIMALS) for v in n]
        self.before = kind
        self.control = (n[-4], n[-3]) if kind in "CSQT" else None
        self._add({"S": "C", "T": "Q"}.get(kind, kind), tuple(n))
        self.x, self.y = n[-2], n[-1]
        if kind == "M":
            self.start_x, self.start_y = self.x, self.y

    def _add(self, letter: str, numbers: tuple[float, ...]) -> None:
        if self.out and self.out[-1].letter == "Z" and letter not in "MZ":
            self.out.append(Segment("M", (self.start_x, self.start_y)))  # drawing goes on from the start
        if letter == "Z":
            self.before, self.control = "Z", None
            if self.out and self.out[-1].letter == "Z":
                return
        self.out.append(Segment(letter, numbers))


def print_path(segments: Iterable[Segment]) -> str:
    """Outline data with absolute commands; reading it gives the same segments."""
    return " ".join(s.letter + " ".join(in_full(v) for v in s.numbers) for s in segments)


def outline_of(segments: Iterable[Segment]) -> Outline:
    """The outline of segments, arcs as cubics. A move that nothing follows draws nothing, and isn't in it."""
    pen = PathBuilder()
    x = y = 0.0
    start: tuple[float, ...] | None = None
    for letter, n in segments:
        if letter == "M":
            start = n
            x, y = n
            continue
        if start is not None:
            pen.move(*start)
            start = None
        if letter == "L":
            pen.line(*n)
        elif letter == "Q":
            pen.quadratic(*n)
        elif letter == "C":
            pen.cubic(*n)
        elif letter == "A":
            _arc(pen, x, y, n)
        else:
            pen.close()
            continue
        x, y = n[-2], n[-1]
    return pen.path()


def from_outline(path: Outline) -> list[Segment]:
    """The segments of an outline."""
    return [Segment(verb, tuple(c)) for verb, c in path.segments()]


def without_arcs(segments: Iterable[Segment]) -> list[Segment]:
    """The same segments with as many cubics for every arc as keep to it."""
    out: list[Segment] = []
    pen = start = (0.0, 0.0)
    for s in segments:
        if s.letter == "A":
            out += from_outline(outline_of([Segment("M", pen), s]))[1:]
        else:
            out.append(s)
        if s.letter == "Z":
            pen = start
        else:
            pen = s.end
            start = pen if s.letter == "M" else start
    return out


def mapped_arc(s: Segment, m: Affine) -> Segment:
    """An arc under a map that keeps shapes similar."""
    rx, ry, turn, large, sweep, x, y = s.numbers
    scale, turned = math.hypot(m.a, m.b), math.degrees(math.atan2(m.b, m.a))
    mirrored = m.a * m.d < m.b * m.c
    if mirrored:
        turn, sweep = -turn, 1 - sweep
    return Segment("A", (rx * scale, ry * scale, (turn + turned) % 180, large, sweep, *m.map(x, y)))


class ArcEllipse(NamedTuple):
    """An arc by its centre: radii (scaled up where they were too small), turn, start and sweep in degrees."""

    cx: float
    cy: float
    rx: float
    ry: float
    turn: float
    start: float
    sweep: float


def arc_centre(x0: float, y0: float, n: tuple[float, ...]) -> ArcEllipse | None:
    """Centre form of an arc (SVG 2, appendix B.2.4 and B.2.5); None when it is a straight line or nothing."""
    rx, ry, turn, large, sweep, x, y = n
    if rx == 0.0 or ry == 0.0 or (x0 == x and y0 == y):
        return None
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    hx, hy = (x0 - x) / 2, (y0 - y) / 2
    px, py = c * hx + s * hy, -s * hx + c * hy
    excess = (px / rx) ** 2 + (py / ry) ** 2
    if excess > 1.0:
        rx, ry = rx * math.sqrt(excess), ry * math.sqrt(excess)
        factor = 0.0
    else:
        factor = math.sqrt(max(0.0, 1.0 / excess - 1.0))
    if large == sweep:
        factor = -factor
    qx, qy = factor * rx * py / ry, -factor * ry * px / rx
    first = math.atan2((py - qy) / ry, (px - qx) / rx)
    last = math.atan2((-py - qy) / ry, (-px - qx) / rx)
    angle = math.degrees(last - first) % 360.0
    if not sweep:
        angle -= 360.0
    return ArcEllipse(
        c * qx - s * qy + (x0 + x) / 2, s * qx + c * qy + (y0 + y) / 2, rx, ry, turn, math.degrees(first), angle
    )


def _arc(pen: PathBuilder, x0: float, y0: float, n: tuple[float, ...]) -> None:
    ellipse = arc_centre(x0, y0, n)
    if ellipse is None:
        pen.line(n[5], n[6])
        return
    cx, cy, rx, ry, turn, start, sweep = ellipse
    part = PathBuilder()
    arc_to(part, rx, ry, start, sweep)
    curves = part.path().mapped(Affine.translate(cx, cy).after(Affine.rotate(turn))).coords
    last = len(curves) - 6
    for i in range(0, len(curves), 6):
        a, b, c, d, ex, ey = curves[i : i + 6]
        pen.cubic(a, b, c, d, *((n[5], n[6]) if i == last else (ex, ey)))  # the end is the one that was given
