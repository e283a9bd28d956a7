"""Clips, masks and shadows of SVG elements."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from lxml import etree

from chalcedon.evaluate import DisplayList
from chalcedon.files.svgin.inks import color, faded, share
from chalcedon.files.svgin.measures import affine, length, matrix_step, numbers, rule, transform
from chalcedon.files.svgin.styles import Style
from chalcedon.files.svgin.tree import NOTHING, reference, tag_of
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.scene import Group, Rect, Scene, Shadow, Shape

if TYPE_CHECKING:
    from chalcedon.files.svgin.reading import Reader


def masked(reader: Reader, shape: Shape, element: etree._Element, style: Style, world: Affine) -> Shape:
    """A shape with the mask of its element: as a clip where that is no more than white shapes, as cut-outs where there
    are only black ones over a white ground, else as a mask."""
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
    by_alpha = own.get("mask-type") == "alpha"
    kind = "?" if by_alpha else "".join(_tone(tag_of(child), said) for child, said in children)
    fit = _of_box(shape) if source.get("maskContentUnits") == "objectBoundingBox" else IDENTITY
    made = [reader.element(child, tag_of(child), own, world.after(fit), 1) for child, _said in children]
    shapes = [m for m in made if m is not None]
    reader.used.pop()
    if not shapes:
        return clipped(reader, shape, [Rect(size=(0, 0))], "mask")
    if fit != IDENTITY:
        kind = "?"
    if re.fullmatch("w+", kind) and len(shapes) == len(kind):
        return clipped(reader, shape, shapes, "mask")
    if re.fullmatch("wb+", kind) and len(shapes) == len(kind):
        for cutter in shapes[1:]:  # the first is the white ground of it all
            cutter.assign("cuts", True)
        return Group(children=[shape, *shapes[1:]])
    whole = Group(children=shapes)
    if fit != IDENTITY:
        whole.steps = (matrix_step(fit),)
    group = clipped(reader, shape, [_within(reader, whole, source, shape)], "mask")
    group.clip_by = "alpha" if by_alpha else "luminance"
    return group


def _within(reader: Reader, content: Group, source: etree._Element, shape: Shape) -> Shape:
    """What is in a mask, clipped to its area where that is stated."""
    if not any(source.get(name) for name in ("x", "y", "width", "height")):
        return content  # a tenth more than the box on each side, which is all there is to see
    if source.get("maskUnits") == "userSpaceOnUse":
        (w, h), fit = reader.viewport, IDENTITY
    else:
        (w, h), fit = (1.0, 1.0), _of_box(shape)
    x, y = length(source.get("x"), -0.1 * w, w), length(source.get("y"), -0.1 * h, h)
    size = length(source.get("width"), 1.2 * w, w), length(source.get("height"), 1.2 * h, h)
    edge = Rect(at=(x, y), size=(max(0.0, size[0]), max(0.0, size[1])), fill="black")
    if fit != IDENTITY:
        edge.steps = (matrix_step(fit),)
    return clipped(reader, content, [edge], "area")


def painted_box(shape: Shape) -> Box:
    """The box of all that a shape paints in the space that it stands in."""
    display = DisplayList(Scene([shape.copy()]))
    box = display.root.painted_bounds()
    display.detach()
    return box


def _of_box(shape: Shape) -> Affine:
    """The map from fractions of a shape's box to the space that it stands in."""
    display = DisplayList(Scene([shape.copy()]))
    x0, y0, x1, y1 = display.root.bounds()
    display.detach()
    return Affine(max(0.0, x1 - x0), 0.0, 0.0, max(0.0, y1 - y0), x0, y0)


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


def clips(reader: Reader, shape: Shape, element: etree._Element, style: Style, world: Affine) -> list[Shape]:
    """The shapes of the clip path of an element that has become a shape, in the element's own space."""
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
    steps = transform(own.get("transform", "")) or []
    if source.get("clipPathUnits") == "objectBoundingBox":
        steps = [matrix_step(_of_box(shape)), *steps]
    made = []
    for child in source:
        tag = tag_of(child)
        inner = reader.element(child, tag, own, world.after(affine(steps)), 1) if tag and tag not in NOTHING else None
        if inner is None:
            continue
        for leaf in inner.walk() if isinstance(inner, Group) else (inner,):
            if "fill_rule" in leaf.properties:
                leaf.assign("fill_rule", rule(reader.styled(child, own).get("clip-rule")))
        made.append(inner)
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
    by.id = reader.named(word)
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
