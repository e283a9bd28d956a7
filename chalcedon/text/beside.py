"""Fonts that lie beside scenes, in a folder `fonts`: they are taken before those of the machine, so that a scene that
came with its fonts looks the same everywhere."""

from __future__ import annotations

import os
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple

FOLDER = "fonts"
SUFFIXES = (".otf", ".ttf", ".ttc", ".woff2")
MOST, HEAVIEST = 64, 64 << 20
"""Font files of one folder, and bytes of each."""


class About(NamedTuple):
    """What a face says of itself (OpenType: tables name, OS/2): its families, weight, slant, and whether its licence
    lets it be handed on with a document (fsType: installable or editable embedding)."""

    file: str
    number: int
    families: frozenset[str]
    weight: float
    italic: bool
    embeds: bool


_known: dict[str, list[About]] = {}
"""By folder."""


def look_beside(folder: str | os.PathLike[str]) -> bool:
    """Takes in the fonts beside a scene in a folder. Says whether there is anything new."""
    place = os.path.join(folder, FOLDER)
    found: list[About] = []
    if os.path.isdir(place):
        root = Path(place).resolve()
        for name in sorted(os.listdir(place))[:MOST]:
            file = (root / name).resolve()
            if file.suffix.lower() in SUFFIXES and file.is_relative_to(root):
                found += faces_in(str(file), os.stat(file).st_mtime_ns)
    if found == _known.get(place, []):
        return False
    _known[place] = found
    return True


def beside(family: str, weight: float, italic: bool) -> About | None:
    """The nearest face of a family among those that came with scenes."""
    wanted = family.casefold()
    faces = [a for known in _known.values() for a in known if wanted in a.families]
    return min(faces, key=lambda a: (a.italic is not italic, abs(a.weight - weight)), default=None)


def all_beside() -> list[About]:
    """All faces that came with scenes."""
    return [a for known in _known.values() for a in known]


@lru_cache(maxsize=512)
def faces_in(file: str, _changed: int = 0) -> tuple[About, ...]:
    """The faces in a font file; none when it can't be read."""
    from fontTools.ttLib import TTCollection, TTFont, TTLibError

    try:
        if os.path.getsize(file) > HEAVIEST:
            return ()
        if file.lower().endswith(".ttc"):
            with TTCollection(file, lazy=True) as fonts:
                return tuple(_about(font, file, i) for i, font in enumerate(fonts.fonts[:MOST]))
        with TTFont(file, lazy=True) as font:
            return (_about(font, file, 0),)
    except (OSError, TTLibError, KeyError, ValueError, AttributeError, IndexError, AssertionError, EOFError):
        return ()
    except Exception as error:  # a damaged table ends in whatever its reader stumbles over
        if isinstance(error, (MemoryError, RecursionError)):
            raise
        return ()


def _about(font: object, file: str, index: int) -> About:
    table, names = font["OS/2"], font["name"]  # type: ignore[index]
    families = {n for i in (1, 16) if (n := names.getDebugName(i))}
    bits = int(table.fsType)
    embeds = not bits & 0x0200 and bits & 0x000F in (0, 8)
    italic = bool(table.fsSelection & 1)
    return About(file, index, frozenset(n.casefold() for n in families), float(table.usWeightClass), italic, embeds)
