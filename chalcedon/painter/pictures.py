"""Pictures of a scene, or of some of its shapes, as files: PNG and WebP of px, PDF and SVG of outlines."""

from __future__ import annotations

import math
import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtGui import QImage

from chalcedon.evaluate import DisplayList, Node
from chalcedon.files.safely import write_safely
from chalcedon.files.svgout import svg_bytes
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import is_empty, overlap, union
from chalcedon.painter.export import headless, image_bytes
from chalcedon.painter.render import render_area
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene, Shape

KINDS = {".png": "PNG", ".webp": "WebP", ".pdf": "PDF", ".svg": "SVG"}
"""The kinds of picture, by what their names end in."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What of a scene is written, and how. `scale` is px for each of the scene's, where px are written; `only` are the
    shapes that are shown, with their surroundings cut away; `clear` leaves the page's own paint out; `outlines` writes
    text as outlines where it would be text."""

    scale: float = 1.0
    only: Sequence[Shape] = ()
    clear: bool = False
    outlines: bool = False


WHOLE = Wanted()


def write_picture(source: Scene | DisplayList, path: str | os.PathLike[str], wanted: Wanted = WHOLE) -> list[str]:
    """Writes a picture of the kind that its name says; gives sentences about what it shows otherwise than the scene.
    Raises ChalcedonError; what was there is then untouched."""
    target = Path(path)
    kind = KINDS.get(target.suffix.lower())
    if kind is None:
        raise ChalcedonError(
            f"{target.suffix or 'no suffix'} is not a kind of picture that is written.",
            str(target),
            f"End the name in {', '.join(KINDS)}.",
        )
    data, notes = picture_bytes(source, kind, wanted)
    return [*notes, *write_safely(target, data, "picture", backup=False)]


def picture_bytes(source: Scene | DisplayList, kind: str, wanted: Wanted = WHOLE) -> tuple[bytes, list[str]]:
    """A picture of a kind (`KINDS`), and sentences about what it shows otherwise. Raises ChalcedonError."""
    app = headless()
    display = source if isinstance(source, DisplayList) else DisplayList(source)
    try:
        nodes = shown(display, wanted.only)
        area = area_of(display, nodes if wanted.only else None)
        page = not wanted.clear and not wanted.only
        if kind == "SVG":
            made = svg_bytes(display, wanted.outlines, nodes if wanted.only else None, area, page)
            return made.data, made.notes
        if kind == "PDF":
            from chalcedon.painter.pdf import pdf_bytes

            return pdf_bytes(display, nodes, area, page), []
        image = render_area(display, nodes, area, wanted.scale, page)
        return image_bytes(image, kind), []
    finally:
        if display is not source:
            display.detach()
        del app


def picture_image(display: DisplayList, wanted: Wanted = WHOLE) -> QImage:
    """The picture as an image in memory. Raises ChalcedonError."""
    nodes = shown(display, wanted.only)
    area = area_of(display, nodes if wanted.only else None)
    return render_area(display, nodes, area, wanted.scale, not wanted.clear and not wanted.only)


def shown(display: DisplayList, only: Sequence[Shape]) -> list[Node]:
    """What is painted, back to front: all of it, or some shapes with what is in them."""
    if not only:
        return display.order
    mine = {id(leaf) for shape in only for node in display.nodes(shape) for leaf in node.walk_leaves()}
    return [node for node in display.order if id(node) in mine]


def area_of(display: DisplayList, nodes: Sequence[Node] | None) -> Box:
    """The whole px of the page, or those around some nodes. Raises ChalcedonError when nothing of them shows."""
    if nodes is None:
        return (0.0, 0.0, *display.scene.size)
    boxes = [node.cull for node in nodes if not is_empty(node.cull)]
    if not boxes:
        raise ChalcedonError("nothing of that shows.", hint="Choose shapes that are visible and have a paint.")
    x0, y0, x1, y1 = union(boxes)
    return math.floor(x0 + 1e-6), math.floor(y0 + 1e-6), math.ceil(x1 - 1e-6), math.ceil(y1 - 1e-6)


def within(nodes: Sequence[Node], area: Box) -> list[Node]:
    """Those that may show in an area."""
    return [node for node in nodes if overlap(node.cull, area)]
