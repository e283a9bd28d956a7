"""A shape read back in one plain sentence, to be held against what was meant."""

from __future__ import annotations

from chalcedon.geometry.pathdata import parse_path
from chalcedon.scene import (
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Image,
    Line,
    Path,
    Polyline,
    Rect,
    RegularPolygon,
    Shape,
    Star,
    Text,
)


def sentence(shape: Shape) -> str:
    """Such as: rect, twice as tall as wide, its top left at 40, 60 in quay; turned by 15 degrees."""
    parts = [_what(shape)]
    proportion = _proportion(shape)
    if proportion:
        parts.append(proportion)
    parts.append(_where(shape))
    text = ", ".join(parts)
    turned = _steps(shape)
    seen = _seen(shape)
    return text + (f"; {turned}" if turned else "") + (f"; {seen}" if seen else "")


def _what(shape: Shape) -> str:
    if isinstance(shape, Polyline):
        count = len(shape.points)
        if shape.closed:
            names = {3: "triangle", 4: "four-cornered polygon"}
            if shape.curve:
                return f"closed curve through {count} points"
            return names.get(count, f"polygon of {count} corners")
        if shape.curve:
            return f"curve through {count} points"
        return f"open polyline of {count} point{'' if count == 1 else 's'}"
    if isinstance(shape, Line):
        x, y = shape.to
        ways = [("down" if y > 0 else "up")] * (y != 0) + [("right" if x > 0 else "left")] * (x != 0)
        return f"line going {' and '.join(ways)}" if ways else "line of no length"
    if isinstance(shape, Arc):
        whole = abs(shape.sweep) >= 360
        name = {"open": "arc", "chord": "arc closed by a chord", "pie": "pie"}[shape.ends]
        return f"{name} of {'a whole turn' if whole else f'{_n(shape.sweep)}° from {_n(shape.start)}°'}"
    if isinstance(shape, Annulus):
        slice_of = "" if abs(shape.sweep) >= 360 else f"slice of {_n(shape.sweep)}° of a "
        return (
            f"{slice_of}ring {_n(abs(shape.outer - shape.inner))} wide, {_n(2 * max(shape.outer, shape.inner))} across"
        )
    if isinstance(shape, RegularPolygon):
        return f"regular polygon of {shape.sides} sides"
    if isinstance(shape, Star):
        return f"star of {shape.tips} tips"
    if isinstance(shape, Circle):
        return f"circle {_n(2 * shape.radius)} across"
    if isinstance(shape, Group):
        count = len(shape.children)
        return f"group of {count} shape{'' if count == 1 else 's'}"
    if isinstance(shape, Path):
        parsed = parse_path(shape.data)
        parts = sum(s.letter == "M" for s in parsed.segments)
        pieces = sum(s.letter not in "MZ" for s in parsed.segments)
        broken = f", broken off at character {parsed.position + 1}" if parsed.error else ""
        return (
            f"path of {pieces} segment{'' if pieces == 1 else 's'} in {parts} part{'' if parts == 1 else 's'}{broken}"
        )
    if isinstance(shape, Text):
        shown = shape.content if len(shape.content) <= 30 else shape.content[:29] + "…"
        return f"text “{' '.join(shown.split())}” of size {_n(shape.size)}"
    if isinstance(shape, Image):
        embedded = shape.source.startswith("data:")
        return "embedded image" if embedded else f"image {shape.source}" if shape.source else "image without a source"
    if isinstance(shape, Rect) and any(shape.corners):
        return "pill" if max(shape.corners) >= min(shape.size) / 2 > 0 else "rect with round corners"
    return shape.kind


def _proportion(shape: Shape) -> str:
    if isinstance(shape, Rect | Image):
        return _compare(*shape.size)
    if isinstance(shape, Ellipse):
        return _compare(*shape.radii)
    if isinstance(shape, Polyline) and len(shape.points) > 2:
        xs, ys = zip(*shape.points, strict=True)
        return _compare(max(xs) - min(xs), max(ys) - min(ys))
    return ""


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
    if isinstance(shape, Line):
        place = "starting"
    if isinstance(shape, Arc | Annulus | RegularPolygon | Star) and anchor == "origin":
        place = "its centre"
    if isinstance(shape, Text) and shape.inside:
        return f"in the middle of {shape.inside}"
    inside = f" in {shape.parent.id}" if shape.parent is not None and shape.parent.id else ""
    return f"{place} at {_n(x)}, {_n(y)}{inside}"


def _steps(shape: Shape) -> str:
    words = {
        "rotate": "turned by {}°",
        "scale": "scaled by {}",
        "translate": "moved by {}",
        "skew": "leaned by {}°",
        "matrix": "mapped by a matrix",
    }
    return ", then ".join(words[s.op].format(", ".join(_n(v) for v in s.values)) for s in shape.steps if s.on)


def _seen(shape: Shape) -> str:
    if not shape.visible:
        return "hidden"
    if shape.cuts:
        return "cuts out what is behind it in its group"
    paints = [shape.stated(n) for n in ("fill", "stroke") if n in shape.properties]
    if paints and not any(paints) and not isinstance(shape, Image):
        return "not seen: it has neither fill nor stroke"
    return "not seen: its opacity is 0" if shape.opacity == 0 else ""


def _n(value: float) -> str:
    return f"{round(value, 1):g}".replace("-", "−")
