"""Paints: colours, gradients with what they take over from others, and what stands in for the rest."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from lxml import etree

from chalcedon.files.svgin.measures import affine, extent, length, transform
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.tree import href, reference, tag_of
from chalcedon.geometry import Affine, Box
from chalcedon.problems import ValueProblem
from chalcedon.scene import Gradient
from chalcedon.scene.color import RGBA, rgba, to_hex
from chalcedon.scene.paints import Pattern

LINKS = 20
"""Gradients that a gradient takes over from, one from the next."""


class Place(NamedTuple):
    """What a paint is laid on: the box of the shape in its own user space, the map from that to the page, the size of
    the viewport, and the size of the font."""

    box: Box
    world: Affine
    viewport: tuple[float, float]
    font: float


def color(text: str, style: Style, usual: RGBA | None = None) -> RGBA | None:
    """A colour; None for none. What is no colour counts as the `usual`."""
    text = text.strip()
    if text.lower() == "currentcolor":
        text = style.get("color", "black")
    if text.lower() in ("none", "", "currentcolor"):
        return None
    try:
        return rgba(text)
    except ValueProblem:
        return usual


def share(text: str | None, usual: float = 1.0) -> float:
    """A number from 0 to 1, or a percentage."""
    return max(0.0, min(1.0, length(text, usual, 1.0)))


def faded(found: RGBA, opacity: float) -> str:
    """A colour as CSS text, with its alpha made less."""
    r, g, b, a = found
    return to_hex((r, g, b, round(a * opacity)))


class Inks:
    """The paints of one file. `styled` gives the style of an element of it; `note` says what can't be carried; `tile`
    makes a shape of a pattern."""

    def __init__(
        self,
        ids: Mapping[str, etree._Element],
        styled: Callable[[etree._Element], Style],
        note: Callable[[str, etree._Element], object],
        tile: Callable[[etree._Element, float, Place, float], Pattern | None],
    ) -> None:
        self._ids, self._styled, self._note, self._tile = ids, styled, note, tile
        self._plain: dict[object, str | None] = {}
        """Colours that came before, with their opacity."""
        self.context: Style = {}
        """Of what a marker is set on."""

    def paint(self, word: str, style: Style, on: Place, element: etree._Element) -> str | Gradient | Pattern | None:
        """The `fill` or the `stroke` that a style says, with its opacity."""
        text = style.get(word, "black" if word == "fill" else "none")
        if text.startswith("context-"):
            text = self.context.get(text.removeprefix("context-"), "none")
        fading = style.get(f"{word}-opacity")
        opacity = 1.0 if fading is None else share(fading)
        id = reference(text) if "url(" in text else ""
        if not id:
            key = text, opacity, word == "fill", style.get("color")
            if key not in self._plain:
                found = color(text, style, (0, 0, 0, 255) if word == "fill" else None)
                self._plain[key] = None if found is None else faded(found, opacity)
            return self._plain[key]
        rest = text.partition(")")[2].strip()
        server = self._ids.get(id)
        tag = tag_of(server) if server is not None else ""
        if server is not None and tag in ("linearGradient", "radialGradient"):
            return self._gradient(server, tag == "radialGradient", opacity, on)
        if server is not None and tag == "pattern":
            across = math.hypot(*on.viewport) / math.sqrt(2)
            wide = extent(style.get("stroke-width"), 1.0, across, on.font) if word == "stroke" else 0.0
            made = self._tile(server, opacity, on, wide / 2)
            if made is not None:
                return made
        elif server is not None:
            self._note("a paint that is none", element)
        found = color(rest, style) if rest else None
        return None if found is None else faded(found, opacity)

    def _gradient(self, server: etree._Element, radial: bool, opacity: float, on: Place) -> str | Gradient | None:
        chain = list(chain_of(server, self._ids, ("linearGradient", "radialGradient")))

        def said(name: str) -> str | None:
            return next((e.get(name) for e in chain if e.get(name) is not None), None)

        stops = self._stops(chain, opacity)
        if not stops:
            return None
        if len(stops) == 1:
            return stops[0][1]
        own = said("gradientUnits") == "userSpaceOnUse"
        x0, y0, x1, y1 = on.box
        box = Affine(x1 - x0, 0.0, 0.0, y1 - y0, x0, y0)
        back = box.inverse()
        if back is None:
            return stops[-1][1] if own else None
        turned = affine(transform(said("gradientTransform") or "") or [])
        into = back.after(turned) if own else turned
        spread = said("spreadMethod") or "pad"
        spread = spread if spread in ("pad", "reflect", "repeat") else "pad"
        w, h = on.viewport if own else (1.0, 1.0)

        def at(name: str, usual: str, whole: float) -> float:
            return length(said(name) or usual, length(usual, 0.0, whole), whole, on.font)

        if not radial:
            ends = at("x1", "0%", w), at("y1", "0%", h), at("x2", "100%", w), at("y2", "0%", h)
            line = _line(into, *ends)
            return stops[-1][1] if line is None else Gradient("linear", line, tuple(stops), spread)
        whole = math.hypot(w, h) / math.sqrt(2)
        cx, cy, r = at("cx", "50%", w), at("cy", "50%", h), at("r", "50%", whole)
        focus = (at("fx", str(cx), w), at("fy", str(cy), h)) if said("fx") or said("fy") else ()
        if r <= 0:
            return stops[-1][1]
        units = "box"
        if not _similar(into):
            page = on.world.after(turned if own else box.after(turned))
            if _similar(page):
                into, units = page, "scene"
            else:
                self._note("a stretched radial gradient is round here", server)
        size = math.sqrt(abs(into.determinant))
        parts = (*into.map(cx, cy), r * size, *(into.map(*focus) if focus else ()))
        return Gradient("radial", tuple(round(v, 6) for v in parts), tuple(stops), spread, units)

    def _stops(self, chain: list[etree._Element], opacity: float) -> list[tuple[float, str]]:
        for server in chain:
            found = [child for child in server if tag_of(child) == "stop"]
            if found:
                break
        else:
            return []
        stops, last = [], 0.0
        for stop in found[:1000]:
            style = self._styled(stop)
            last = max(last, share(stop.get("offset"), 0.0))
            paint = color(style.get("stop-color", "black"), style) or (0, 0, 0, 255)
            stops.append((round(last, 6), faded(paint, share(style.get("stop-opacity")) * opacity)))
        return stops


def chain_of(
    server: etree._Element, ids: Mapping[str, etree._Element], tags: tuple[str, ...]
) -> Iterator[etree._Element]:
    """A paint server, and those that it takes over from what it doesn't say."""
    seen: set[int] = set()
    at: etree._Element | None = server
    while at is not None and id(at) not in seen and len(seen) < LINKS:
        yield at
        seen.add(id(at))
        at = ids.get(reference(href(at)))
        if at is not None and tag_of(at) not in tags:
            return


def _similar(m: Affine) -> bool:
    return abs(m.stretch - m.shrink) <= 1e-4 * m.stretch


def _line(m: Affine, x1: float, y1: float, x2: float, y2: float) -> tuple[float, ...] | None:
    """The ends of a linear gradient in a space into which its own is mapped: lines of one colour stay such lines, and
    are made to be across it. None when they are all one."""
    px, py = m.map(x1, y1)
    vx, vy = m.map_vector(x2 - x1, y2 - y1)
    nx, ny = m.map_vector(y2 - y1, x1 - x2)  # along a line of one colour
    size = nx * nx + ny * ny
    if size == 0.0:
        return None
    k = (vx * ny - vy * nx) / size
    wx, wy = ny * k, -nx * k
    return tuple(round(v, 6) for v in (px, py, px + wx, py + wy))
