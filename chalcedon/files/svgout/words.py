"""Text as text: a line of it for each line that is laid out, with stretches in a style of their own."""

from __future__ import annotations

from typing import Any
from xml.etree.ElementTree import Element, SubElement

from chalcedon.evaluate import Node
from chalcedon.files.svgout.inks import ink_of
from chalcedon.files.svgout.sheet import Attributes, Sheet, number, plain
from chalcedon.scene.kinds.text import layout_of
from chalcedon.scene.runs import Stretch, stretches


def is_simple(node: Node) -> bool:
    """Whether a text can be set again line by line: those that run from the right are written as outlines."""
    from chalcedon.text.bidi import base_level

    content = node.value("content")
    lines = content.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    return not any(base_level(line, node.value("direction")) for line in lines) and content.isprintable() | (
        "\n" in content
    )


def text_element(sheet: Sheet, node: Node, at: tuple[float, float], paints: Attributes, black: bool) -> Element:
    """A text, whose local origin is at a point."""
    values = node.values
    layout = layout_of(values)
    content = node.value("content").replace("\r\n", "\n").replace("\r", "\n")
    dx, dy = node.shift[0] + at[0], node.shift[1] + at[1]
    out = Element("text", {**_style(sheet, {n: node.value(n) for n in _WORDS}), **paints})
    out.set("style", "white-space:pre" + ("" if node.value("kerning") else ";font-kerning:none"))
    if not node.value("ligatures"):
        out.set("style", out.get("style", "") + ";font-variant-ligatures:none")
    if node.value("letter_spacing"):
        out.set("letter-spacing", number(node.value("letter_spacing")))
    found = stretches(values.get("runs", ()), len(content))
    own = dict(node.letters)
    for line in layout.lines:
        words = content[line.start : line.end].rstrip("\n")
        if not words.strip():
            continue
        x, y = number(line.left + dx), number(line.baseline + dy)
        tspan = SubElement(out, "tspan", {"x": x, "y": y})
        if line.width > 0:
            tspan.set("textLength", number(line.width))
        _fill_line(sheet, node, tspan, content, line.start, line.start + len(words.rstrip()), found, own, at, black)
    return out


def _fill_line(
    sheet: Sheet,
    node: Node,
    into: Element,
    content: str,
    start: int,
    end: int,
    found: list[Stretch],
    own: dict[int, Any],
    at: tuple[float, float],
    black: bool,
) -> None:
    """The characters [start, end), those of stretches in an element of their own."""
    last: Element | None = None
    for mark, stretch in [*enumerate(found), (-1, None)]:
        first = end if stretch is None else max(stretch.first, start)
        if first > start and first <= end:
            before = plain(content[start:first])
            if last is None:
                into.text = (into.text or "") + before
            else:
                last.tail = (last.tail or "") + before
            start = first
        if stretch is None or not start < stretch.last or first >= end:
            continue
        attributes = _style(sheet, {n: v for n, v in stretch.values.items() if n != "fill"})
        if mark in own:
            attributes |= ink_of(sheet, node, own[mark], "fill", at, black)
        last = SubElement(into, "tspan", attributes)
        start = min(stretch.last, end)
        last.text = plain(content[first:start])


_WORDS = {"family": "font-family", "size": "font-size", "weight": "font-weight", "italic": "font-style"}


def _style(sheet: Sheet, values: dict[str, Any]) -> Attributes:
    out: Attributes = {}
    for name, value in values.items():
        if name == "family":
            quoted = plain(value) if value.replace(" ", "").isalpha() else f"'{plain(value)}'"
            out[_WORDS[name]] = f"{quoted}, sans-serif"
        elif name == "italic":
            out |= {_WORDS[name]: "italic"} if value else {}
        elif name in _WORDS:
            out |= {_WORDS[name]: number(value)} if name != "weight" or value != 400 else {}
        else:
            sheet.note("a stretch of text has a style of its own that is left out")
    return out
