"""Text elements: a text for each stretch that has a place of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from lxml import etree

from chalcedon.files.svgin.inks import Place
from chalcedon.files.svgin.measures import length, numbers
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.texts import collapsed, keeps_space, values_of
from chalcedon.files.svgin.tree import tag_of
from chalcedon.geometry import Affine
from chalcedon.scene import Text

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader


class _Chunk(NamedTuple):
    """A stretch that is set from a point on."""

    x: float
    y: float
    text: str
    style: Style
    element: etree._Element


def texts(reader: Reader, element: etree._Element, style: Style, world: Affine, font: float) -> list[Text]:
    """The texts in a text element, in its own space."""
    chunks: list[_Chunk] = []
    pen = [0.0, 0.0]
    keeps = keeps_space(element, style)
    _walk(reader, element, style, chunks, pen, keeps, True)
    made = []
    for chunk in chunks:
        text = _text(reader, chunk, world)
        if text is not None:
            made.append(text)
    return made


def _walk(
    reader: Reader,
    element: etree._Element,
    style: Style,
    chunks: list[_Chunk],
    pen: list[float],
    keeps: bool,
    first: bool,
) -> None:
    size = reader.font(style)
    w, h = reader.viewport
    for k, (name, whole) in enumerate((("x", w), ("y", h))):
        found = numbers(element.get(name) or "")
        if found:
            pen[k] = length((element.get(name) or "").replace(",", " ").split()[0], pen[k], whole, size)
        shift = (element.get(f"d{name}") or "").replace(",", " ").split()
        if shift:
            pen[k] += length(shift[0], 0.0, whole, size)
    _say(reader, element.text, element, style, chunks, pen, keeps)
    for child in element:
        tag = tag_of(child)
        if tag in ("tspan", "a"):
            own = reader.styled(child, style)
            if own.get("display") != "none":
                _walk(reader, child, own, chunks, pen, keeps, False)
        _say(reader, child.tail, element, style, chunks, pen, keeps)


def _say(
    reader: Reader,
    text: str | None,
    element: etree._Element,
    style: Style,
    chunks: list[_Chunk],
    pen: list[float],
    keeps: bool,
) -> None:
    if not text:
        return
    text = collapsed(text, keeps)
    if not keeps and (not chunks or chunks[-1].text.endswith(" ") or chunks[-1].y != pen[1]):
        text = text.lstrip()
    if not text or (not text.strip() and not chunks):
        return
    chunks.append(_Chunk(pen[0], pen[1], text, style, element))
    pen[0] += _width(reader, text, style)


def _width(reader: Reader, text: str, style: Style) -> float:
    from chalcedon.scene.kinds.text import layout_of

    layout = layout_of({"content": text + "\u2060", **values_of(reader, style)})
    return layout.box[2] - layout.box[0]


def _text(reader: Reader, chunk: _Chunk, world: Affine) -> Text | None:
    content = chunk.text.rstrip() if chunk.text.strip() else ""
    if not content:
        return None
    values = values_of(reader, chunk.style)
    text = Text(at=(chunk.x, chunk.y), anchor="origin", content=content, **values)
    width = _width(reader, content, chunk.style)
    anchor = chunk.style.get("text-anchor", "start")
    if anchor in ("middle", "end"):
        text.at = (chunk.x - width / (2 if anchor == "middle" else 1), chunk.y)
    size = reader.font(chunk.style)
    x, y = text.at
    box = (x, y - size, x + max(width, 0.1), y + size / 4)
    reader.paint(text, chunk.element, chunk.style, Place(box, world, reader.viewport, size))
    return text
