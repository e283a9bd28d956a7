"""The fonts of this machine, asked of fontconfig. Without the library only the fonts that ship are known."""

from __future__ import annotations

import ctypes
import ctypes.util
from functools import lru_cache
from typing import Any, NamedTuple

MATCH_PATTERN, RESULT_MATCH = 0, 0
SLANT_ITALIC = 100


class Found(NamedTuple):
    """A font file, the face in it, and the family it belongs to."""

    file: str
    face: int
    family: str


@lru_cache(maxsize=1)
def _library() -> tuple[Any, Any] | None:
    """The library and its configuration; None where there is none."""
    try:
        fc = ctypes.CDLL(ctypes.util.find_library("fontconfig") or "libfontconfig.so.1")
    except OSError:
        return None
    pointer, text, number = ctypes.c_void_p, ctypes.c_char_p, ctypes.c_int
    signatures: dict[str, tuple[Any, list[Any]]] = {
        "FcInitLoadConfigAndFonts": (pointer, []),
        "FcPatternCreate": (pointer, []),
        "FcPatternDestroy": (None, [pointer]),
        "FcPatternAddString": (number, [pointer, text, text]),
        "FcPatternAddInteger": (number, [pointer, text, number]),
        "FcPatternAddCharSet": (number, [pointer, text, pointer]),
        "FcPatternGetString": (number, [pointer, text, number, ctypes.POINTER(text)]),
        "FcPatternGetInteger": (number, [pointer, text, number, ctypes.POINTER(number)]),
        "FcCharSetCreate": (pointer, []),
        "FcCharSetAddChar": (number, [pointer, ctypes.c_uint32]),
        "FcCharSetDestroy": (None, [pointer]),
        "FcWeightFromOpenType": (number, [number]),
        "FcConfigSubstitute": (number, [pointer, pointer, number]),
        "FcDefaultSubstitute": (None, [pointer]),
        "FcFontMatch": (pointer, [pointer, pointer, ctypes.POINTER(number)]),
    }
    for name, (result, arguments) in signatures.items():
        function = getattr(fc, name)
        function.restype, function.argtypes = result, arguments
    config = fc.FcInitLoadConfigAndFonts()
    return (fc, config) if config else None


@lru_cache(maxsize=1024)
def match(family: str, weight: float = 400, italic: bool = False, char: str = "") -> Found | None:
    """The installed font nearest to what is asked, one that has `char` if there is one. None without any font."""
    library = _library()
    if library is None:
        return None
    fc, config = library
    pattern = fc.FcPatternCreate()
    charset = fc.FcCharSetCreate() if char else None
    found = None
    try:
        fc.FcPatternAddString(pattern, b"family", family.encode())
        fc.FcPatternAddInteger(pattern, b"weight", fc.FcWeightFromOpenType(round(weight)))
        if italic:
            fc.FcPatternAddInteger(pattern, b"slant", SLANT_ITALIC)
        if charset:
            fc.FcCharSetAddChar(charset, ord(char))
            fc.FcPatternAddCharSet(pattern, b"charset", charset)
        fc.FcConfigSubstitute(config, pattern, MATCH_PATTERN)
        fc.FcDefaultSubstitute(pattern)
        result = ctypes.c_int()
        found = fc.FcFontMatch(config, pattern, ctypes.byref(result))
        return _read(fc, found, family) if found else None
    finally:
        if found:
            fc.FcPatternDestroy(found)
        if charset:
            fc.FcCharSetDestroy(charset)
        fc.FcPatternDestroy(pattern)


def _read(fc: Any, found: Any, wanted: str) -> Found | None:
    text, number = ctypes.c_char_p(), ctypes.c_int()
    if fc.FcPatternGetString(found, b"file", 0, ctypes.byref(text)) != RESULT_MATCH or text.value is None:
        return None
    file = text.value.decode(errors="surrogateescape")
    index = number.value if fc.FcPatternGetInteger(found, b"index", 0, ctypes.byref(number)) == RESULT_MATCH else 0
    names: list[str] = []
    while fc.FcPatternGetString(found, b"family", len(names), ctypes.byref(text)) == RESULT_MATCH and text.value:
        names.append(text.value.decode(errors="replace"))
    same = [n for n in names if n.casefold() == wanted.casefold()]
    return Found(file, index & 0xFFFF, (same or names or [""])[0])
