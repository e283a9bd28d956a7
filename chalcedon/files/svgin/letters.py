"""Texts whose letters are placed one by one (lists of places, turned letters, a stated length, along a path): they
become outlines (SVG 2, chapter 11)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from lxml import etree

from chalcedon.files.svgin.inks import Place
from chalcedon.files.svgin.measures import affine, length, transform
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.texts import collapsed, keeps_space, values_of
from chalcedon.files.svgin.tree import href, reference, tag_of
from chalcedon.geometry import Affine, Outline
from chalcedon.geometry.along import Along
from chalcedon.geometry.path import PathBuilder
from chalcedon.geometry.pathdata import from_outline, outline_of, parse_path, print_path
from chalcedon.scene import Path, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader

MOST = 20_000
NEAR = 0.02
"""A stated length that differs by less than this share is that of another renderer's font: the text stays text."""
Lists = dict[str, list[str]]


@dataclass(slots=True)
class Letter:
    """A character with what is said of its place. `wide` is its advance, `outline` stands at its origin."""

    char: str
    element: etree._Element
    style: Style
    x: float | None = None
    y: float | None = None
    dx: float = 0.0
    dy: float = 0.0
    turn: float = 0.0
    path: etree._Element | None = None
    wide: float = 0.0
    outline: Outline = field(default_factory=lambda: Outline("", ()))
    stretch: float = 1.0


def is_placed(reader: Reader, element: etree._Element) -> bool:
    """Whether a text says more of its letters than a text of a scene can."""
    for part in element.iter():
        tag = tag_of(part)
        if tag == "textPath" or (tag in ("text", "tspan") and part.get("rotate")):
            return True
        if tag in ("text", "tspan") and any(len(_words(part.get(n))) > 1 for n in ("x", "y", "dx", "dy")):
            return True
        if tag in ("text", "tspan") and _stretched(reader, part):
            return True
    return False


def outlined(reader: Reader, element: etree._Element, style: Style, world: Affine) -> list[Shape]:
    """The letters of a text element as paths, one for each stretch of one style."""
    letters = list(_collect(reader, element, style, [], None))[:MOST]
    if not letters:
        return []
    _measure(reader, letters)
    _fit(reader, element, letters)
    made: list[Shape] = []
    run: list[tuple[Letter, Outline]] = []
    for letter, outline in _placed(reader, letters):
        if run and run[-1][0].element is not letter.element:
            made += _shape(reader, run, world)
            run = []
        run.append((letter, outline))
    return made + (_shape(reader, run, world) if run else [])


def _words(text: str | None) -> list[str]:
    return (text or "").replace(",", " ").split()


# what is said of each letter


class _Open:
    """An element around letters, with its lists and how many letters it has had."""

    def __init__(self, element: etree._Element) -> None:
        self.lists = {n: _words(element.get(n)) for n in ("x", "y", "dx", "dy", "rotate")}
        self.count = 0


def _collect(
    reader: Reader, element: etree._Element, style: Style, around: list[_Open], path: etree._Element | None
) -> Iterator[Letter]:
    opened = [*around, _Open(element)]
    yield from _letters(reader, element.text, element, style, opened, path)
    for child in element:
        tag = tag_of(child)
        if tag in ("tspan", "a", "textPath"):
            own = reader.styled(child, style)
            if own.get("display") != "none":
                yield from _collect(reader, child, own, opened, child if tag == "textPath" else path)
        yield from _letters(reader, child.tail, element, style, opened, path)


def _letters(
    reader: Reader,
    text: str | None,
    element: etree._Element,
    style: Style,
    opened: list[_Open],
    path: etree._Element | None,
) -> Iterator[Letter]:
    text = collapsed(text or "", keeps_space(element, style))
    if not opened[0].count:
        text = text.lstrip()
    w, h = reader.viewport
    size = reader.font(style)
    for char in text:
        letter = Letter(char, element, style, path=path)
        for name, whole in (("x", w), ("y", h), ("dx", w), ("dy", h)):
            found = next((o.lists[name][o.count] for o in reversed(opened) if o.count < len(o.lists[name])), None)
            if found is not None:
                setattr(letter, name, length(found, 0.0, whole, size))
        turns = next((o for o in reversed(opened) if o.lists["rotate"]), None)
        if turns is not None:
            said = turns.lists["rotate"]
            letter.turn = length(said[min(turns.count, len(said) - 1)], 0.0, 1.0)
        for one in opened:
            one.count += 1
        yield letter


# how wide they are


def _measure(reader: Reader, letters: list[Letter]) -> None:
    """Gives letters their outlines and advances, those that follow one another in one style together: letters are
    kerned."""
    first = 0
    for last in range(1, len(letters) + 1):
        if last == len(letters) or letters[last].style != letters[first].style or _starts(letters[last]):
            _set(reader, letters[first:last])
            first = last


def _starts(letter: Letter) -> bool:
    return letter.x is not None or letter.y is not None


def _set(reader: Reader, letters: list[Letter]) -> None:
    from chalcedon.text import bidi, shape

    text = "".join(letter.char for letter in letters)
    style = shape.Style(**values_of(reader, letters[0].style), ligatures=False)
    runs = shape.shape(text, style, bidi.base_level(text, "auto")).runs
    seen = [(runs[i], glyph) for i in bidi.visual_order([r.level for r in runs]) for glyph in runs[i].glyphs]
    starts = [glyph.start for _, glyph in seen]
    if starts != sorted(starts):  # from right to left: letters stand in the order in which they are seen
        order = list(dict.fromkeys(starts))
        starts = [order.index(start) for start in starts]
    inks: list[PathBuilder] = [PathBuilder() for _ in letters]
    for (run, glyph), at in zip(seen, starts, strict=True):
        letter = letters[at]
        place = Affine(run.size, 0.0, 0.0, run.size, letter.wide + glyph.dx, glyph.dy)
        run.face.outline(glyph.glyph).mapped(place).draw(inks[at])
        letter.wide += glyph.advance
    for letter, ink in zip(letters, inks, strict=True):
        letter.outline = ink.path()


def _stretched(reader: Reader, element: etree._Element) -> bool:
    """Whether a stated length differs from what the letters of an element come to."""
    if element.get("textLength") is None:
        return False
    wanted = length(element.get("textLength"), 0.0, reader.viewport[0])
    text = collapsed("".join(element.itertext()), False).strip()
    if wanted <= 0.0 or not text:
        return False
    from chalcedon.scene.kinds.text import layout_of

    box = layout_of({"content": text, **values_of(reader, reader.styled(element)), "ligatures": False}).box
    return abs(box[2] - box[0] - wanted) > NEAR * wanted


def _fit(reader: Reader, top: etree._Element, letters: list[Letter]) -> None:
    """Has the letters of elements with a stated length come to it: by the gaps between them, or with themselves."""
    for element in top.iter():
        if tag_of(element) not in ("text", "tspan", "textPath") or not _stretched(reader, element):
            continue
        inside = set(element.iter())
        mine = [letter for letter in letters if letter.element in inside]
        whole = sum(letter.wide + letter.dx for letter in mine)
        wanted = length(element.get("textLength"), whole, reader.viewport[0])
        if element.get("lengthAdjust") == "spacingAndGlyphs" and whole > 0.0:
            for letter in mine:
                letter.stretch = wanted / whole
                letter.wide *= letter.stretch
        elif len(mine) > 1:
            for letter in mine[:-1]:
                letter.wide += (wanted - whole) / (len(mine) - 1)


# where they stand


def _placed(reader: Reader, letters: list[Letter]) -> Iterator[tuple[Letter, Outline]]:
    """Letters with their outlines where they stand."""
    ways: dict[etree._Element, tuple[Along, float] | None] = {}
    for chunk in _chunks(letters):
        whole = sum(letter.wide + letter.dx for letter in chunk)
        anchor = chunk[0].style.get("text-anchor", "start")
        back = {"middle": whole / 2, "end": whole}.get(anchor, 0.0)
        x = (chunk[0].x or 0.0) - back
        y = chunk[0].y or 0.0
        run = -back
        for letter in chunk:
            x, y, run = x + letter.dx, y + letter.dy, run + letter.dx
            outline = (
                letter.outline.mapped(Affine.scale(letter.stretch, 1.0)) if letter.stretch != 1 else letter.outline
            )
            turned = Affine.rotate(letter.turn)
            if letter.path is None:
                yield letter, outline.mapped(Affine.translate(x, y).after(turned))
            else:
                if letter.path not in ways:
                    ways[letter.path] = _way(reader, letter.path)
                way = ways[letter.path]
                spot = None if way is None else _on(way, run + letter.wide / 2)
                if spot is not None:
                    across = Affine.translate(-letter.wide / 2, letter.dy).after(turned)
                    yield letter, outline.mapped(spot.after(across))
            x, run = x + letter.wide, run + letter.wide


def _chunks(letters: list[Letter]) -> Iterator[list[Letter]]:
    """Letters that are anchored together: a place of its own, or another path, begins the next ones."""
    first = 0
    pen = [0.0, 0.0]
    for last in range(1, len(letters) + 1):
        if last == len(letters) or _starts(letters[last]) or letters[last].path is not letters[first].path:
            chunk = letters[first:last]
            head = chunk[0]
            head.x, head.y = (pen[0] if head.x is None else head.x), (pen[1] if head.y is None else head.y)
            pen = [head.x + sum(c.wide + c.dx for c in chunk), head.y + sum(c.dy for c in chunk)]
            yield chunk
            first = last


def _way(reader: Reader, element: etree._Element) -> tuple[Along, float] | None:
    """The line that a text runs along, and where on it that begins."""
    target = reader.ids.get(reference(href(element)))
    text = target.get("d") if target is not None and tag_of(target) == "path" else element.get("path")
    if not text:
        reader.note("a text along something that is no path", element)
        return None
    steps = transform(target.get("transform") or "") if target is not None else None
    outline = outline_of(parse_path(text).segments).mapped(affine(steps or []))
    if not outline.verbs.strip("MZ"):
        return None
    along = Along(outline)
    said = length(target.get("pathLength"), 0.0, 1.0) if target is not None else 0.0
    begin = length(element.get("startOffset"), 0.0, said or along.length)
    percent = (element.get("startOffset") or "").strip().endswith("%")
    return along, begin * (along.length / said if said and not percent else 1.0)


def _on(way: tuple[Along, float], run: float) -> Affine | None:
    """The place on a line so far along it; None beyond its ends."""
    along, begin = way
    if not 0.0 <= begin + run <= along.length:
        return None
    spot = along.at(begin + run)
    if spot is None:
        return None
    c, s = spot.tangent
    return Affine(c, s, -s, c, spot.x, spot.y)


def _shape(reader: Reader, run: list[tuple[Letter, Outline]], world: Affine) -> list[Shape]:
    pen = PathBuilder()
    for _letter, outline in run:
        outline.draw(pen)
    whole = pen.path()
    if not whole.verbs:
        return []
    shape = Path(data=print_path(from_outline(whole)))
    shape.assign("label", "".join(letter.char for letter, _ in run).strip()[:1000])
    first = run[0][0]
    on = Place(whole.bounds(), world, reader.viewport, reader.font(first.style))
    reader.paint(shape, first.element, first.style, on)
    return [shape]
