"""What a file is by its first bytes, for one that isn't what was looked for."""

from __future__ import annotations

import re

from chalcedon.problems import ChalcedonError

_KINDS = (
    (rb"\x89PNG\r\n", "a PNG picture", "An image shape shows it."),
    (rb"\xff\xd8\xff", "a JPEG picture", "An image shape shows it."),
    (rb"GIF8[79]a", "a GIF picture", "An image shape shows it."),
    (rb"RIFF.{4}WEBP", "a WebP picture", "An image shape shows it."),
    (rb"%PDF-", "a PDF file", "Only SVG files are made into scenes."),
    (rb"PK\x03\x04", "a ZIP archive", "The name of a bundle ends in .zip."),
    (rb"\x1f\x8b", "a packed file (gzip)", "Unpack it first."),
    (rb"(?:\xef\xbb\xbf)?(?:\s|<\?xml[^>]*+>|<!--(?:(?!-->).)*+-->|<!DOCTYPE[^>]*+>)*+<(?:\w+:)?svg\b",
     "an SVG file", "The name of one ends in .svg."),
    (rb'(?:\xef\xbb\xbf)?\s*\{\s*"chalcedon"', "a scene file", "The name of one ends in .chal."),
)  # fmt: skip
_LOOKED_AT = 4096
"""Bytes that are looked at."""


def refuse_another(data: bytes, name: str, due: str) -> None:
    """Raises ChalcedonError for data that is known to be of another kind than `due`, one of the words above."""
    head = data[:_LOOKED_AT]
    for start, word, hint in _KINDS:
        if word != due and re.match(start, head, re.DOTALL):
            raise ChalcedonError(f"this is {word}, not {due}.", name, hint)
