"""The check-up of a whole scene, its images included."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.checkup import Remark, check_up
from chalcedon.evaluate.valuechecks import check_values
from chalcedon.files.images import load_image
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Image, Picture, Shape
from chalcedon.scene.paints import paints_of


def check_scene(display: DisplayList, shapes: Iterable[Shape] | None = None) -> list[Remark]:
    """All there is to say about the outlines, values and images of some shapes, or of all."""
    chosen = None if shapes is None else list(shapes)
    return [*check_links(display, chosen), *check_up(display, chosen)]


def check_links(display: DisplayList, shapes: list[Shape] | None = None) -> list[Remark]:
    """What can be said without looking at outlines: values that can't work, images that aren't there."""
    return [*check_values(display, shapes), *_images(display, shapes)]


def _images(display: DisplayList, shapes: list[Shape] | None) -> Iterator[Remark]:
    folder = display.scene.folder
    if shapes is None and display.scene.reference:
        try:
            load_image(display.scene.reference, folder)
        except ChalcedonError as problem:
            yield Remark(display.scene.top, "no image", f"reference: {problem}", "reference")
    for shape in display.scene.walk() if shapes is None else shapes:
        sources = [(n, p.source) for n, p in paints_of(shape) if isinstance(p, Picture)]
        if isinstance(shape, Image):
            sources.append(("source", shape.source))
        for name, source in sources:
            try:
                load_image(source, folder)
            except ChalcedonError as problem:
                yield Remark(shape, "no image", f"{name}: {problem}", name)

