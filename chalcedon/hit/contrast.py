"""Paint that is lost on what is behind it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from chalcedon.craft.checkup import Repair
from chalcedon.evaluate import DisplayList, Node
from chalcedon.hit.parts import part_at
from chalcedon.hit.tester import HitTester
from chalcedon.scene import Shape
from chalcedon.scene.color import rgba, to_hex
from chalcedon.scene.colorwords import tint_apart
from chalcedon.scene.painted import CLAY, INK
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture, look

FAINT = 1.15
"""The contrast (WCAG 2, relative luminance) below which a paint is lost on what is behind it; black on white has 21."""
TINTED = 0.04
"""How far apart in hue and chroma, in OKLab, two paints can be told from each other however equally light they are."""
Rgb = tuple[float, float, float]


class Sample(NamedTuple):
    """A point of what a shape paints, in scene px, and the paint there."""

    x: float
    y: float
    paint: Look | None


def set_value(shape: Shape, name: str, value: object, words: str) -> Repair:
    """A repair that gives a shape another value."""

    def act(display: DisplayList) -> None:
        with display.scene.step(f"{words}: {shape.id}"):
            shape.assign(name, value)

    return Repair(words, act)


def parents_of(node: Node) -> Iterator[Node]:
    """A node and the groups around it, without the scene's own."""
    step: Node | None = node
    while step is not None and step.parent is not None:
        yield step
        step = step.parent


def shows(paint: Look | None) -> bool:
    """Whether anything of a paint can be seen."""
    if paint is None:
        return False
    if isinstance(paint, GradientLook):
        return any(color[3] for _, color in paint.stops)
    return isinstance(paint, Pattern | Picture) or paint[3] > 0


def is_stroked(node: Node) -> bool:
    """Whether a stroke of it can be seen."""
    return shows(node.stroke) and node.pen is not None and node.pen.width > 0


def paint_at(node: Node, x: float, y: float) -> tuple[Look | None] | None:
    """The paint of a shape at a point in scene px, clips left aside; None where it has none."""
    inverse = node.inverse
    if inverse is None:
        return None
    lx, ly = inverse.map(x, y)
    if is_stroked(node) and node.in_stroke(x, y, (lx, ly)):
        return (node.stroke,)
    if (shows(node.fill) or node.picture is not None) and node.fill_region.contains(lx, ly):
        return (node.fill,)
    return None


def lost_in(tester: HitTester, shape: Shape, seen: Sequence[tuple[Node, Sample]]) -> tuple[str, Repair | None] | None:
    """That paint is everywhere of nearly the colour of what is behind it, and a repair; None when it isn't, or when
    other than plain colours meet."""
    best = 0.0
    behind: list[Rgb] = []
    for leaf, s in seen:
        own, back = _flat(s.paint), _behind(tester, leaf, s)
        if own is None or back is None or not _is_plain(leaf):
            return None
        mixed = _over(own, _opacity(leaf), back)
        best = max(best, _contrast(mixed, back))
        if best >= FAINT or tint_apart(mixed, back) >= TINTED:
            return None
        behind.append(back)
    middle = tuple(round(sum(c[i] for c in behind) / len(behind)) for i in range(3))
    other = max((INK, "#ffffff", CLAY), key=lambda c: _contrast(_rgb(c), middle))  # type: ignore[arg-type]
    name = "stroke" if shape.is_open or (shape.kind == "path" and shape.stated("fill") is None) else "fill"
    color = to_hex((middle[0], middle[1], middle[2], 255))
    text = f"{shape.id} has nearly the colour of what is behind it, {color}: contrast {best:.2f}."
    return text, set_value(shape, name, other, f"Paint it {other}") if name in shape.properties else None


def _flat(paint: Look | None) -> tuple[int, int, int, int] | None:
    """A plain colour; None for any other paint."""
    return paint if isinstance(paint, tuple) and not isinstance(paint, GradientLook | Pattern | Picture) else None


def _rgb(text: str) -> Rgb:
    return rgba(text)[:3]


def _behind(tester: HitTester, node: Node, s: Sample) -> Rgb | None:
    """The colour of all that is behind a point of a shape; None where something else than plain colours is."""
    display = tester.display
    rank = display.rank[node.slot]
    layers: list[tuple[tuple[int, int, int, int], float]] = []
    together = _fading(node)
    for other in tester.index.at(s.x, s.y):
        if display.rank[other.slot] >= rank or not other.visible or part_at(other, s.x, s.y, "painted") is None:
            continue
        found = paint_at(other, s.x, s.y)
        color = _flat(found[0]) if found is not None else None
        groups = _fading(other)
        if color is None or not _is_plain(other) or other.cuts or groups & together:
            return None  # what fades together is one picture before it does
        together |= groups
        opacity = _opacity(other)
        layers.append((color, opacity))
        if color[3] == 255 and opacity == 1:
            break
    base = _flat_of_page(display)
    if base is None:
        return None
    out = base
    for color, opacity in reversed(layers):
        out = _over(color, opacity, out)
    return out


def _opacity(node: Node) -> float:
    """How opaque a shape is with the groups around it."""
    return math.prod(step.value("opacity") for step in parents_of(node))


def _over(color: tuple[int, int, int, int], opacity: float, back: Rgb) -> Rgb:
    """What a colour, so opaque, over another comes to."""
    alpha = color[3] / 255 * opacity
    red, green, blue = (c * alpha + b * (1 - alpha) for c, b in zip(color[:3], back, strict=True))
    return red, green, blue


def _is_plain(node: Node) -> bool:
    """Whether its colour, by the opacity of what it is in, lies over what is behind it: no blending, no mask."""
    return all(step.blend == "normal" and not step.mask for step in parents_of(node))


def _fading(node: Node) -> set[int]:
    """The groups around a shape that are less than opaque, by their identity."""
    return {id(step) for step in parents_of(node) if step.group and step.value("opacity") < 1}


def _flat_of_page(display: DisplayList) -> Rgb | None:
    found = look(display.scene.stated("background"), display.palette)
    if found is None:
        return 255.0, 255.0, 255.0
    color = _flat(found)
    if color is None:
        return None
    return _over(color, 1.0, (255.0, 255.0, 255.0))


def _contrast(a: Rgb, b: Rgb) -> float:
    """WCAG 2.2, contrast ratio."""
    light, dark = sorted((_luminance(a), _luminance(b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _luminance(color: Rgb) -> float:
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in (v / 255 for v in color)]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
