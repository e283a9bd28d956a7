"""The check-up of a whole scene, its images included."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from chalcedon.craft.checkup import Remark, check_up
from chalcedon.craft.formulachecks import check_formulas
from chalcedon.craft.nearly import check_nearly
from chalcedon.craft.valuechecks import check_values
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.kept import display_of
from chalcedon.files.images import image_size, load_image
from chalcedon.hit.tester import HitTester
from chalcedon.hit.where import HIDDEN, first_cause, where
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Group, Image, Picture, Scene, Shape
from chalcedon.scene.paints import paints_of
from chalcedon.scene.shapes import Unknown

FEW = 300
"""Shapes up to which each is asked about all others: what covers it, clips it, or is of its colour."""


def check_scene(
    scene: Scene | DisplayList, shapes: Iterable[Shape] | None = None, thorough: bool = True
) -> list[Remark]:
    """All there is to say about the outlines, values and images of some shapes, or of all. A `thorough` check reads
    images to their end, which may take a second each."""
    display = scene if isinstance(scene, DisplayList) else display_of(scene)
    chosen = None if shapes is None else list(shapes)
    found = [*check_links(display, chosen, thorough), *check_up(display, chosen)]
    if thorough:
        found += [*_unseen(display, chosen), *check_nearly(display, chosen)]
    return found


def _unseen(display: DisplayList, shapes: list[Shape] | None) -> Iterator[Remark]:
    """Shapes that can't be seen though they are not hidden. In a large scene only what can be told of each alone."""
    every = list(display.scene.walk()) if shapes is None else shapes
    leaves = [s for s in every if not isinstance(s, Group) and not isinstance(s, Unknown)]
    few = len(leaves) <= FEW
    tester = HitTester(display.scene, display)
    try:
        for shape in leaves:
            node = display.find(shape)
            if node is None or not node.visible or shape.pointer == "none" or node.cuts:
                continue
            if few or first_cause(display, node):
                yield from _first_reason(tester, shape)
    finally:
        display.readers.remove(tester.index.follow)


def _first_reason(tester: HitTester, shape: Shape) -> Iterator[Remark]:
    for reason in where(tester, shape)[:1]:
        if reason.share >= HIDDEN or reason.what == "same colour":
            yield Remark(shape, reason.what, reason.sentence.removeprefix(f"{shape.id} "), "", (), reason.repairs)


def check_links(display: DisplayList, shapes: list[Shape] | None = None, thorough: bool = False) -> list[Remark]:
    """What can be said without looking at outlines: values that can't work, images that aren't there."""
    return [*check_formulas(display, shapes), *check_values(display, shapes), *_images(display, shapes, thorough)]


def _images(display: DisplayList, shapes: list[Shape] | None, thorough: bool) -> Iterator[Remark]:
    scene = display.scene

    def problem_of(source: str) -> str:
        try:
            image_size(source, scene.folder)
            if thorough:
                load_image(source, scene.folder, 3)
        except ChalcedonError as problem:
            return str(problem)
        return ""

    if shapes is None:
        background = scene.background.source if isinstance(scene.background, Picture) else ""
        for name, source in (("reference", scene.reference), ("background", background)):
            if source and (text := problem_of(source)):
                yield Remark(scene.top, "no image", f"{name}: {text}", name)
    for shape in scene.walk() if shapes is None else shapes:
        sources = [(n, p.source) for n, p in paints_of(shape) if isinstance(p, Picture)]
        if isinstance(shape, Image):
            sources.append(("source", shape.source))
        for name, source in sources:
            if text := problem_of(source):
                yield Remark(shape, "no image", f"{name}: {text}", name)
