"""Which part of a shape is at a point: on its fill, on its stroke, through clips and masks of the groups around it."""

from __future__ import annotations

from chalcedon.evaluate import Node
from chalcedon.geometry.boxes import Box, holds
from chalcedon.geometry.contain import Region
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture


def has_fill(node: Node) -> bool:
    """Whether the inside of a shape is painted: a fill, letters with a stroke, or an image."""
    return (
        node.fill is not None
        or bool(node.letters)
        or node.picture is not None
        or (node.kind.text and node.stroke is not None)
    )


def part_at(node: Node, x: float, y: float, rule: str = "") -> tuple[str, tuple[float, float]] | None:
    """The part of a visible shape that its pointer rule lets be hit at (x, y) in scene px, and the local point.

    The rules are those of SVG 2 pointer-events: painted asks whether there is a paint, not how opaque it is. A `rule`
    given here takes the place of the shape's own.
    """
    rule = rule or node.pointer
    if rule == "none" or (node.clips and not all(in_clip(g, x, y) for g in node.clips)):
        return None
    return _part(node, x, y, rule)


def _part(node: Node, x: float, y: float, rule: str) -> tuple[str, tuple[float, float]] | None:
    """The same, whatever clips it."""
    inverse = node.inverse
    if inverse is None:
        return None
    a, b, c, d, e, f = inverse
    lx, ly = a * x + c * y + e, b * x + d * y + f
    if rule == "box":
        return ("box", (lx, ly)) if holds(node.box, lx, ly) else None
    under = node.manner.under
    if under and _in_fill(node, lx, ly, rule):
        return ("text" if node.kind.text else "fill"), (lx, ly)
    if (
        ((node.stroke is not None and rule == "painted") or rule in ("stroke", "all"))
        and node.pen is not None
        and node.pen.width > 0.0
        and node.in_stroke(x, y, (lx, ly))
    ):
        return "stroke", (lx, ly)
    if not under and _in_fill(node, lx, ly, rule):
        return ("text" if node.kind.text else "image" if node.picture is not None else "fill"), (lx, ly)
    return None


def _in_fill(node: Node, x: float, y: float, rule: str) -> bool:
    """Whether a local point is inside, as far as the rule lets that be hit."""
    return (
        ((has_fill(node) and rule == "painted") or rule in ("fill", "all"))
        and (node.kind.text or holds(node.box, x, y))  # characters reach out of the box of a text
        and node.fill_region.contains(x, y)
    )


def in_clip(group: Node, x: float, y: float, known: dict[int, bool] | None = None) -> bool:
    """Whether a point in scene px is let through by the clip of a group: lies on its fill, or, of a mask, on something
    of it that lets anything through. `known` are the masks that were asked for this point."""
    assert group.clip is not None
    if group.mask:
        known = {} if known is None else known
        if id(group) not in known:
            known[id(group)] = True  # while it is asked for: masks may lead back to one another
            known[id(group)] = _in_mask(group.clip, group.mask, x, y, known)
        return known[id(group)]
    for leaf in group.clip.walk_leaves():
        inverse = leaf.inverse
        if inverse is None:
            continue
        local = inverse.map(x, y)
        region = leaf.fill_region
        box: Box = leaf.box
        if (isinstance(region, Region) or box[0] <= local[0] <= box[2]) and region.contains(*local):
            return True
    return False


def _in_mask(by: Node, kind: str, x: float, y: float, known: dict[int, bool]) -> bool:
    """From the front: a paint of any opacity lets through, by luminance unless it is black; what is opaque and black,
    or a cut-out, lets nothing through."""
    for leaf in reversed(by.shown_leaves()):
        inner = leaf.clips[len(by.clips) :]
        part = _part(leaf, x, y, "painted")
        if part is None or leaf.opacity <= 0.0 or not all(in_clip(g, x, y, known) for g in inner):
            continue
        if leaf.cuts:
            return False
        paint = leaf.stroke if part[0] == "stroke" else leaf.fill
        if stops(paint, kind, leaf.opacity):
            return False
        if lets(paint, kind):
            return True
    return False


def stops(look: Look | None, kind: str, opacity: float) -> bool:
    """Whether a paint of a mask lets nothing through, nor anything behind it: by luminance, opaque black."""
    return kind == "luminance" and look == (0, 0, 0, 255) and opacity >= 1.0


def lets(look: Look | None, kind: str) -> bool:
    """Whether a paint of a mask lets anything through by itself."""
    if look is None or isinstance(look, GradientLook | Pattern | Picture):
        return True  # None: an image's own picture, or letters of several colours
    return look[3] > 0 and (kind == "alpha" or any(look[:3]))
