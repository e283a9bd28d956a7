"""Paints as attributes, with the gradients and patterns that they refer to."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple
from xml.etree.ElementTree import Element, SubElement

from chalcedon.evaluate import Node
from chalcedon.files.images import embed, fitted, image_size, linked_file
from chalcedon.files.svgout.sheet import Attributes, Sheet, matrix, number, numbers
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import inflate
from chalcedon.problems import ChalcedonError
from chalcedon.scene.color import RGBA
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture


class Ground(NamedTuple):
    """What a paint is laid on: its box in local px, the map from these to scene px, how wide its stroke is, whether
    the element has another box of its own, whether y runs up in its own space, and the tiles of its patterns."""

    box: Box
    world: Affine
    width: float = 0.0
    apart: bool = False
    up: bool = False
    tiles: tuple[Node | None, Node | None] = (None, None)


def ground(node: Node) -> Ground:
    """What the paint of a shape is laid on."""
    width = node.pen.width if node.pen is not None else 0.0
    return Ground(node.box, node.world, width, node.kind.text, node.kind.lie.up, node.tiles)


def color(rgba: RGBA, word: str, opacity: str, black: bool = False) -> Attributes:
    """A colour as two attributes; `black`: only its alpha counts."""
    return dict(_color(rgba, word, opacity, black))


@lru_cache(maxsize=4096)
def _color(rgba: RGBA, word: str, opacity: str, black: bool) -> Attributes:
    r, g, b, a = (0, 0, 0, rgba[3]) if black else rgba
    out = {word: f"#{r:02x}{g:02x}{b:02x}"}
    if a < 255:
        out[opacity] = number(round(a / 255, 4))
    return out


def ink_of(sheet: Sheet, node: Node, look: Look | None, word: str, at: tuple[float, float], black: bool) -> Attributes:
    """`fill` or `stroke` for a paint on a shape."""
    if type(look) is tuple:  # a plain colour, as most are, needs no ground
        return color(look, word, f"{word}-opacity", black)  # type: ignore[arg-type]
    return ink(sheet, ground(node), look, word, at, black)


def ink(sheet: Sheet, on: Ground, look: Look | None, word: str, at: tuple[float, float], black: bool) -> Attributes:
    """`fill` or `stroke` for a paint. `at` is where the local origin is in the element's own space."""
    if look is None:
        return {word: "none"}
    if isinstance(look, Pattern | Picture):
        box = moved(inflate(on.box, on.width / 2) if word == "stroke" else on.box, at)
        if isinstance(look, Picture):
            return {word: picture(sheet, look, box, on.up)}
        tile = on.tiles[word == "stroke"]
        return {word: "none" if tile is None else sheet.tile(tile, look, box, on.up)}
    if not isinstance(look, GradientLook):
        return color(look, word, f"{word}-opacity", black)
    empty = on.box[2] <= on.box[0] or on.box[3] <= on.box[1]
    if look.units == "box" and empty:
        return {word: "none"}
    line = look.line
    nothing = line[2] == 0 if look.kind == "radial" else line[:2] == line[2:]
    if len(look.stops) == 1 or nothing:
        return color(look.stops[-1][1], word, f"{word}-opacity", black)
    return {word: _gradient(sheet, on, look, at, black)}


def _gradient(sheet: Sheet, on: Ground, look: GradientLook, at: tuple[float, float], black: bool) -> str:
    names = ("x1", "y1", "x2", "y2") if look.kind == "linear" else ("cx", "cy", "r", "fx", "fy")
    attributes = dict(zip(names, map(number, look.line), strict=False))
    own = Affine.translate(*at)
    if look.units == "scene":
        back = on.world.inverse()
        attributes["gradientUnits"] = "userSpaceOnUse"
        if back is not None:
            attributes["gradientTransform"] = matrix(own.after(back))
    elif on.apart:
        x0, y0, x1, y1 = on.box
        attributes["gradientUnits"] = "userSpaceOnUse"
        attributes["gradientTransform"] = matrix(own.after(Affine(x1 - x0, 0.0, 0.0, y1 - y0, x0, y0)))
    if look.spread != "pad":
        attributes["spreadMethod"] = look.spread
    element = Element(f"{look.kind}Gradient", attributes)
    for offset, rgba in look.stops:
        SubElement(element, "stop", {"offset": number(offset), **color(rgba, "stop-color", "stop-opacity", black)})
    return sheet.define(element, "gradient", (tuple(sorted(attributes.items())), look.stops, black))


def moved(box: Box, by: tuple[float, float]) -> Box:
    """A box that stands elsewhere."""
    return box[0] + by[0], box[1] + by[1], box[2] + by[0], box[3] + by[1]


def picture(sheet: Sheet, paint: Picture, box: Box, over: bool = False) -> str:
    """A pattern that shows an image once in a box, or tiled from its top left; `over`: y runs up there."""
    found = image(sheet, paint.source)
    if found is None or box[2] <= box[0] or box[3] <= box[1]:
        return "none"
    href, size = found
    place = fitted(box, *size, paint.fit)
    whole = box
    if paint.fit == "tile":
        place = whole = (box[0], box[1], box[0] + size[0], box[1] + size[1])
        if over:
            place = whole = (box[0], box[3] - size[1], box[0] + size[0], box[3])
    corner = whole[0], whole[1]
    size_of = {"width": number(whole[2] - corner[0]), "height": number(whole[3] - corner[1])}
    # renderers differ in where the inside of a pattern begins: at 0, 0 all agree
    moves = {"patternTransform": f"translate({numbers(*corner)})"}
    pattern = Element("pattern", {"patternUnits": "userSpaceOnUse", **size_of, **moves})
    place = moved(place, (-corner[0], -corner[1]))
    inner = SubElement(pattern, "image", {"href": href, "preserveAspectRatio": "none", **_area(place)})
    if over:
        inner.set("transform", f"matrix({numbers(1, 0, 0, -1, 0, place[1] + place[3])})")
    return sheet.define(pattern, "picture")


def _area(box: Box) -> Attributes:
    names = ("x", "y", "width", "height")
    return dict(zip(names, map(number, (box[0], box[1], box[2] - box[0], box[3] - box[1])), strict=True))


def image(sheet: Sheet, source: str) -> tuple[str, tuple[int, int]] | None:
    """An image as a data URL, and its size in px; None, and a note, when it can't be had."""
    folder = sheet.scene.folder
    try:
        size = image_size(source, folder)
        return (source if source.startswith("data:") else embed(linked_file(source, folder))), size
    except ChalcedonError as problem:
        sheet.note(f"an image is left out: {problem.sentence}")
        return None


def image_element(sheet: Sheet, node: Node, at: tuple[float, float]) -> Element | None:
    """The element of an image that stands by itself."""
    assert node.picture is not None
    box = moved(node.box, at)
    found = image(sheet, node.picture.source)
    if found is None:
        return None
    fit = {"fill": "none", "contain": "xMidYMid meet", "cover": "xMidYMid slice"}.get(node.picture.fit)
    if fit is None:
        return Element("rect", {**_area(box), "fill": picture(sheet, node.picture, box)})
    return Element("image", {"href": found[0], "preserveAspectRatio": fit, **_area(box)})
