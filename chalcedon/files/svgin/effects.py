"""Clips, masks and shadows of SVG elements."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from lxml import etree

from chalcedon.files.svgin.inks import color, faded, share
from chalcedon.files.svgin.measures import affine, length, numbers, rule, transform
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.tree import NOTHING, reference, tag_of
from chalcedon.geometry import Affine
from chalcedon.scene import Group, Rect, Shadow, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader


def masked(reader: Reader, shape: Shape, element: etree._Element, style: Style, world: Affine) -> Shape:
    """A shape with the mask of its element, where that is no more than white shapes, with black ones over them."""
    text = style.get("mask", "none")
    if text == "none":
        return shape
    source = reader.ids.get(reference(text))
    if source is None or tag_of(source) != "mask" or source in reader.used:
        reader.note("a mask that is none", element)
        return shape
    reader.used.append(source)
    own = reader.styled(source)
    children = [(c, reader.styled(c, own)) for c in source if tag_of(c) and tag_of(c) not in NOTHING]
    tones = [_tone(tag_of(child), said) for child, said in children]
    kind = "".join(tones)
    made: list[Shape | None] = []
    if re.fullmatch("w+|wb+", kind) and source.get("maskContentUnits") != "objectBoundingBox":
        made = [reader.element(child, tag_of(child), own, world, 1) for child, _said in children]
    reader.used.pop()
    shapes = [m for m in made if m is not None]
    if not shapes or len(shapes) != len(kind):
        reader.note("a mask", element)
        return shape
    if "b" not in kind:
        return clipped(reader, shape, shapes, "mask")
    for cutter in shapes[1:]:  # the first is the white ground of it all
        cutter.assign("cuts", True)
    return Group(children=[shape, *shapes[1:]])


def shadow_of(reader: Reader, text: str, world: Affine) -> Shadow | None:
    """A filter that is nothing but a drop shadow."""
    source = reader.ids.get(reference(text))
    effects = [e for e in source if tag_of(e)] if source is not None else []
    if len(effects) != 1 or tag_of(effects[0]) != "feDropShadow":
        return None
    effect = effects[0]
    style = reader.styled(effect)
    dx, dy = (length(effect.get(name), 2.0, 1.0) for name in ("dx", "dy"))
    blur = (numbers(effect.get("stdDeviation") or "2") or [2.0])[0] * 2
    paint = color(effect.get("flood-color") or "black", style) or (0, 0, 0, 255)
    x, y = world.map_vector(dx, dy)
    size = abs(world.determinant) ** 0.5
    return Shadow(x, y, blur * size, faded(paint, share(effect.get("flood-opacity"))))


def clips(reader: Reader, element: etree._Element, style: Style, world: Affine) -> list[Shape]:
    """The shapes of a clip path, in the element's own space."""
    text = style.get("clip-path", "none")
    source = reader.ids.get(reference(text)) if text != "none" else None
    if source is None or tag_of(source) != "clipPath":
        if text not in ("none", ""):
            reader.note("a clip-path that is none", element)
        return []
    if source in reader.used:
        return []
    reader.used.append(source)
    own = reader.styled(source)
    if own.get("clip-path", "none") != "none":
        reader.note("a clip path of a clip path", source)
    if source.get("clipPathUnits") == "objectBoundingBox":
        reader.note("a clip path in fractions of the box", source)
        reader.used.pop()
        return []
    steps = transform(own.get("transform", "")) or []
    made = []
    for child in source:
        tag = tag_of(child)
        shape = reader.element(child, tag, own, world.after(affine(steps)), 1) if tag and tag not in NOTHING else None
        if shape is None:
            continue
        for leaf in shape.walk() if isinstance(shape, Group) else (shape,):
            if "fill_rule" in leaf.properties:
                leaf.assign("fill_rule", rule(reader.styled(child, own).get("clip-rule")))
        made.append(shape)
    reader.used.pop()
    if steps and made:
        group = Group(children=made)
        reader.put(group, steps)
        made = [group]
    return made or [Rect(size=(0, 0))]


def clipped(reader: Reader, shape: Shape, clips: list[Shape], word: str) -> Group:
    """A group that shows a shape through others."""
    by = clips[0] if len(clips) == 1 else Group(children=clips)
    by.visible = False
    number = 1
    while f"{word}_{number}" in reader.taken:
        number += 1
    by.id = f"{word}_{number}"
    reader.taken.add(by.id)
    group = Group(children=[by, shape])
    group.clip = by.id
    return group


def _tone(tag: str, style: Style) -> str:
    """What an element of a mask is: w for one that keeps, b for one that takes away, ? for anything between."""
    if tag not in ("rect", "circle", "ellipse", "path", "polygon", "polyline", "line"):
        return "?"
    fill, stroke = color(style.get("fill", "black"), style), color(style.get("stroke", "none"), style)
    found = {paint for paint in (fill, stroke) if paint is not None}
    faint = any(share(style.get(name)) < 1.0 for name in ("opacity", "fill-opacity", "stroke-opacity"))
    if not found or found == {(0, 0, 0, 255)}:
        return "b"  # one that is faint takes as much less away
    return "w" if found == {(255, 255, 255, 255)} and stroke is None and not faint else "?"
