"""What all parts of one SVG file share: its definitions, free ids, and what could not be carried."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from chalcedon.geometry import Affine, Outline
from chalcedon.scene import Scene

_FORBIDDEN = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
Attributes = dict[str, str]


class Sheet:
    """The file in the making."""

    def __init__(self, scene: Scene, outlines: bool) -> None:
        self.scene, self.outlines = scene, outlines
        self.tile: Callable[[Any, Any, Any, bool], str] = lambda *_: "none"
        """Defines the pattern of a tile for a box, and gives its `url(#id)`."""
        self.defs = Element("defs")
        self._ids = {shape.id for shape in scene.walk()}
        self._numbers: Counter[str] = Counter()
        self._known: dict[object, str] = {}
        self._notes: Counter[str] = Counter()

    def define(self, element: Element, word: str, key: object = None) -> str:
        """Takes in a definition and gives `url(#id)` for it. With a `key`, an equal one is taken in once."""
        if key is not None and key in self._known:
            return self._known[key]
        self._numbers[word] += 1
        while f"{word}-{self._numbers[word]}" in self._ids:
            self._numbers[word] += 1
        id = f"{word}-{self._numbers[word]}"
        element.set("id", id)
        self.defs.append(element)
        if key is not None:
            self._known[key] = f"url(#{id})"
        return f"url(#{id})"

    def note(self, text: str) -> None:
        """Says that something can't be carried; what is said more often is counted."""
        self._notes[text] += 1

    @property
    def notes(self) -> list[str]:
        """What was said."""
        return [text if count == 1 else f"{text} ({count} times)" for text, count in self._notes.items()]


_FORMS = [" ".join(["%.8g"] * count) for count in range(7)]


def number(value: float) -> str:
    """A number as SVG writes it."""
    return "%.8g" % (value + 0.0)  # by a third faster, and there are many; -0 becomes 0


def numbers(*values: float) -> str:
    """Numbers with spaces between."""
    count = len(values)
    form = _FORMS[count] if count < len(_FORMS) else " ".join(["%.8g"] * count)
    return form % tuple([v + 0.0 for v in values])


def plain(text: str) -> str:
    """A text without the characters that XML can't hold."""
    return _FORBIDDEN.sub("\ufffd", text)


def matrix(m: Affine) -> str:
    """A map as a transform."""
    return f"matrix({numbers(*m)})"


def data(outline: Outline) -> str:
    """Path data."""
    out, coords, at = [], outline.coords, 0
    for verb in outline.verbs:
        count = {"M": 2, "L": 2, "Q": 4, "C": 6, "Z": 0}[verb]
        out.append(verb + numbers(*coords[at : at + count]))
        at += count
    return "".join(out)


def xml(root: Element) -> bytes:
    """A file of an element: each element in it on a line of its own, but for those in a text, where white space counts.
    Written here, since the library takes as long as all that is written."""
    out: list[str] = []
    _write(root, "\n", out)
    out.append("\n")
    return "".join(out).encode()


_SPECIAL = re.compile('[&<>"\n\r\t]')
_SPELLED = {"&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "\n": "&#10;", "\r": "&#13;", "\t": "&#9;"}


def _spelled(text: str) -> str:
    return _SPECIAL.sub(lambda match: _SPELLED[match[0]], text)


def _write(element: Element, line: str, out: list[str]) -> None:
    """`line` begins a new one as deep as the element; within a text it is empty."""
    tag, special = element.tag, _SPECIAL.search
    out.append(f"<{tag}")
    out += [f' {name}="{_spelled(value) if special(value) else value}"' for name, value in element.items()]
    text, inner = element.text, "" if tag == "text" or not line else line + " "
    if not len(element) and not text:
        out.append(" />")
        return
    out.append(">")
    if text:
        out.append(_spelled(text))
    for child in element:
        out.append(inner)
        _write(child, inner, out)
        if child.tail:
            out.append(_spelled(child.tail))
    if len(element) and inner:
        out.append(line)
    out.append(f"</{tag}>")
