"""Ids: valid identifiers, unique in a scene, never a name that formulas use."""

from __future__ import annotations

import keyword
import re
from collections.abc import Container

from chalcedon.problems import ValueProblem, shorten

LONGEST = 200
"""Characters of an id."""
RESERVED = frozenset(
    ("time", "frame", "pointer", "scene", "palette", "self", "parent", "event", "i", "n", "u", "row", "col")
)
"""Names that mean something else in a formula."""


def check_id(text: object) -> str:
    """The id, when it is one. Raises ValueProblem saying what would be."""
    if not isinstance(text, str) or not text.isidentifier():
        hint = "An id is letters, digits and _, and does not start with a digit."
        near = f" Try {id_from(text)}." if isinstance(text, str) and re.search(r"\w", text[:LONGEST]) else ""
        raise ValueProblem(f"{shorten(text)} can't be an id.", hint=hint + near)
    if len(text) > LONGEST:
        raise ValueProblem(f"that id is longer than {LONGEST} characters.", hint=f"It has {len(text)}.")
    if text in RESERVED or keyword.iskeyword(text):
        raise ValueProblem(f"{text} means something else in formulas.", hint=f"Try {text}_1.")
    return text


def id_from(name: str) -> str:
    """An id that a name of anything, such as a file, comes nearest to."""
    text = re.sub(r"\W+", "_", name).strip("_")[: LONGEST - 10]
    if not text or text[0].isdigit():
        text = f"shape_{text}".rstrip("_")
    return f"{text}_1" if text in RESERVED or keyword.iskeyword(text) or not text.isidentifier() else text


def stem_of(id: str) -> str:
    """The id without its number: buoy_3 -> buoy."""
    return re.sub(r"_\d+$", "", id)


def free_id(wanted: str, taken: Container[str]) -> str:
    """`wanted`, or the first of wanted_2, wanted_3, ... that isn't taken."""
    if wanted not in taken and wanted not in RESERVED:
        return wanted
    number = 2
    while f"{stem_of(wanted)}_{number}" in taken:
        number += 1
    return f"{stem_of(wanted)}_{number}"
