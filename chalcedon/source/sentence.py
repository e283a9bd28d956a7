"""A shape read back in one plain sentence, to be held against what was meant."""

from __future__ import annotations

from chalcedon.scene import Image, Shape, Text
from chalcedon.scene.tidy import spoken


def sentence(shape: Shape) -> str:
    """Such as: rect, twice as tall as wide, its top left at 40, 60 in quay; turned by 15 degrees."""
    parts = [shape.says()]
    proportion = shape.proportion()
    if proportion is not None:
        parts.append(_compare(*proportion))
    parts.append(_where(shape))
    text = ", ".join(parts)
    turned = _steps(shape)
    seen = _seen(shape)
    return text + (f"; {turned}" if turned else "") + (f"; {seen}" if seen else "")


def _compare(width: float, height: float) -> str:
    if width <= 0 or height <= 0:
        return "of no width" if width <= 0 else "of no height"
    ratio = width / height
    if abs(ratio - 1) < 0.01:
        return "as wide as tall"
    more, less, factor = ("wide", "tall", ratio) if ratio > 1 else ("tall", "wide", 1 / ratio)
    return f"{'twice' if abs(factor - 2) < 0.02 else f'{factor:.1f} times'} as {more} as {less}"


def _where(shape: Shape) -> str:
    x, y = shape.at
    anchor = shape.anchor
    if isinstance(anchor, str):
        place = {"origin": "its origin", "center": "centred"}.get(anchor, "its " + anchor.replace("-", " "))
    else:
        place = f"its {anchor[0]:g}, {anchor[1]:g} of the box"
    if shape.place_word and anchor == shape.properties["anchor"].default:
        place = shape.place_word
    if isinstance(shape, Text) and shape.inside:
        return f"in the middle of {shape.inside}"
    inside = f" in {shape.parent.id}" if shape.parent is not None and shape.parent.id else ""
    return f"{place} at {spoken(x)}, {spoken(y)}{inside}"


def _steps(shape: Shape) -> str:
    words = {
        "rotate": "turned by {}°",
        "scale": "scaled by {}",
        "translate": "moved by {}",
        "skew": "leaned by {}°",
        "matrix": "mapped by a matrix",
    }
    return ", then ".join(words[s.op].format(", ".join(spoken(v) for v in s.values)) for s in shape.steps if s.on)


def _seen(shape: Shape) -> str:
    if not shape.visible:
        return "hidden"
    if shape.cuts:
        return "cuts out what is behind it in its group"
    paints = [shape.stated(n) for n in ("fill", "stroke") if n in shape.properties]
    if any(paints) and not any(p and shape.stated(f"{n}_on") for p, n in zip(paints, ("fill", "stroke"), strict=True)):
        return "not seen: its paint is switched off"
    if paints and not any(paints) and not isinstance(shape, Image):
        return "not seen: it has neither fill nor stroke"
    return "not seen: its opacity is 0" if shape.opacity == 0 else ""
