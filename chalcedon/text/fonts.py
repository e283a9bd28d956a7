"""Faces: a font file opened for shaping and drawing."""

from __future__ import annotations

from functools import lru_cache
from os import PathLike
from pathlib import Path as File
from typing import TYPE_CHECKING, NamedTuple

import uharfbuzz as hb

from chalcedon.geometry.path import Outline, PathBuilder
from chalcedon.text import beside, fontconfig

if TYPE_CHECKING:
    import numpy as np

SHIPPED = "Source Sans Pro"
"""The family that comes with Chalcedon, so that scenes look the same everywhere."""
GENERIC = frozenset(("serif", "sans-serif", "monospace", "cursive", "fantasy", "system-ui"))
"""CSS names that stand for whatever the machine has."""

_WEIGHTS = {200: "ExtraLight", 300: "Light", 400: "Regular", 600: "Semibold", 700: "Bold", 900: "Black"}


class Face:
    """One face of a font. Measures are in ems; y goes down, the baseline is 0."""

    def __init__(self, file: str, index: int = 0, weight: float = 400) -> None:
        self.file = file
        blob = hb.Blob.from_file_path(file)
        self.face = hb.Face(blob, index)
        if self.face.glyph_count == 0:
            raise ValueError(f"{file} holds no glyphs")
        self.font = hb.Font(self.face)
        self.em = self.face.upem
        axes = {a.tag for a in self.face.axis_infos}
        if "wght" in axes:
            self.font.set_variations({"wght": weight})
        extents = self.font.get_font_extents("ltr")
        self.ascent, self.descent = extents.ascender / self.em, -extents.descender / self.em
        self._outlines: dict[int, Outline] = {}
        self._points: dict[int, np.ndarray] = {}

    def has(self, char: str) -> bool:
        """Whether the font has a glyph for a character."""
        return bool(self.font.get_nominal_glyph(ord(char)))

    def outline(self, glyph: int) -> Outline:
        """The outline of a glyph, in ems."""
        found = self._outlines.get(glyph)
        if found is None:
            pen = _Pen(1 / self.em)
            self.font.draw_glyph_with_pen(glyph, pen)
            found = self._outlines[glyph] = pen.out.path()
        return found

    def points(self, glyph: int) -> np.ndarray:
        """The coordinates of a glyph's outline, (n, 2), in ems."""
        found = self._points.get(glyph)
        if found is None:
            import numpy as np  # only where many glyphs are placed

            found = self._points[glyph] = np.array(self.outline(glyph).coords).reshape(-1, 2)
        return found


class _Pen:
    """Takes HarfBuzz's drawing and makes a Outline of it, y turned down."""

    def __init__(self, scale: float) -> None:
        self.out = PathBuilder()
        self.k = scale

    def moveTo(self, p: tuple[float, float]) -> None:
        self.out.move(p[0] * self.k, -p[1] * self.k)

    def lineTo(self, p: tuple[float, float]) -> None:
        self.out.line(p[0] * self.k, -p[1] * self.k)

    def qCurveTo(self, a: tuple[float, float], p: tuple[float, float]) -> None:
        k = self.k
        self.out.quadratic(a[0] * k, -a[1] * k, p[0] * k, -p[1] * k)

    def curveTo(self, a: tuple[float, float], b: tuple[float, float], p: tuple[float, float]) -> None:
        k = self.k
        self.out.cubic(a[0] * k, -a[1] * k, b[0] * k, -b[1] * k, p[0] * k, -p[1] * k)

    def closePath(self) -> None:
        self.out.close()

    def endPath(self) -> None:
        pass


class Chosen(NamedTuple):
    """The face for a request, and the family that stands in when the wanted one isn't there (else empty)."""

    face: Face
    substitute: str


@lru_cache(maxsize=256)
def choose(family: str, weight: float = 400, italic: bool = False) -> Chosen:
    """The face nearest to a family, weight and slant. A family that isn't installed is substituted."""
    if family.strip().casefold() in ("", SHIPPED.casefold()):
        return Chosen(_shipped(weight, italic), "")
    came = beside.beside(family, weight, italic)
    if came is not None:
        try:
            return Chosen(_opened(came.file, came.number, weight), "")
        except (OSError, ValueError, MemoryError, hb.HarfBuzzError):
            pass  # it has gone since
    found = fontconfig.match(family, weight, italic)
    if found is not None:
        wanted = family.casefold() in GENERIC or found.family.casefold() == family.casefold()
        if wanted:
            try:
                return Chosen(_opened(found.file, found.face, weight), "")
            except (OSError, ValueError, MemoryError, hb.HarfBuzzError):
                pass  # fontconfig's list is older than the folder: substitute
    return Chosen(_shipped(weight, italic), SHIPPED)


@lru_cache(maxsize=1024)
def fallback(char: str, weight: float = 400, italic: bool = False) -> Face | None:
    """A face that has a character which the chosen one lacks; None when no font has it."""
    shipped = _shipped(weight, italic)
    if shipped.has(char):
        return shipped
    for came in beside.all_beside():
        try:
            face = _opened(came.file, came.number, weight)
        except (OSError, ValueError, MemoryError, hb.HarfBuzzError):
            continue
        if face.has(char):
            return face
    found = fontconfig.match("sans-serif", weight, italic, char)
    if found is None:
        return None
    try:
        face = _opened(found.file, found.face, weight)
    except (OSError, ValueError, MemoryError, hb.HarfBuzzError):
        return None
    return face if face.has(char) else None


def look_beside(folder: str | PathLike[str]) -> None:
    """Takes in the fonts that lie beside a scene in a folder, for all texts that are set from now on."""
    if beside.look_beside(folder):
        choose.cache_clear()
        fallback.cache_clear()


@lru_cache(maxsize=256)
def _opened(file: str, index: int, weight: float) -> Face:
    return Face(file, index, weight)


def _shipped(weight: float, italic: bool) -> Face:
    near = _nearest_weight(weight)
    name = _WEIGHTS[near]
    slanted = "It" if name == "Regular" else name + "It"
    return _opened(str(shipped_folder() / f"SourceSansPro-{slanted if italic else name}.otf"), 0, near)


@lru_cache(maxsize=1)
def shipped_folder() -> File:
    """Where the fonts are that come with Chalcedon."""
    import font_source_sans_pro

    return File(font_source_sans_pro.__file__).parent / "files"


def _nearest_weight(weight: float) -> int:
    """The weight at hand that CSS Fonts 4, section 5.2, would take: there is none between 400 and 500."""
    if weight <= 500:
        return max((w for w in _WEIGHTS if w <= weight), default=min(_WEIGHTS))
    return min((w for w in _WEIGHTS if w >= weight), default=max(_WEIGHTS))
