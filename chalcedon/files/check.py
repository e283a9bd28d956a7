"""The check-up of a whole scene, its images included; and what reading can't see: keys that stand twice."""

from __future__ import annotations

import json
import os
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.checkup import Remark, check_up
from chalcedon.evaluate.valuechecks import check_values
from chalcedon.files.images import load_image
from chalcedon.problems import ChalcedonError, Problem
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


def repeated_keys(path: str | os.PathLike[str]) -> list[Problem]:
    """A problem for every key that stands twice in one object of a file that has been opened before."""
    problems: list[Problem] = []

    def pairs(items: list[tuple[str, Any]]) -> dict[str, Any]:
        out = dict(items)
        if len(out) < len(items):
            keys = [k for k, _ in items]
            for key in dict.fromkeys(k for k in keys if keys.count(k) > 1):
                owner = str(out.get("id", "scene"))
                problems.append(
                    Problem("this key stands twice; only the last counts.", f"{os.fspath(path)}, {owner}.{key}")
                )
        return out

    try:
        json.loads(Path(path).read_bytes(), object_pairs_hook=pairs)
    except (ValueError, RecursionError):
        pass  # reading has said what is wrong with it
    return problems
