"""Shapes as elements: which element, its geometry, its transform."""

from __future__ import annotations

from xml.etree.ElementTree import Element

from chalcedon.evaluate import Node
from chalcedon.evaluate.place import DOWN
from chalcedon.files.svgout.sheet import Attributes, data, matrix, number, numbers
from chalcedon.geometry import Affine
from chalcedon.scene.steps import Step, compose, step_matrix


def placed(node: Node) -> tuple[tuple[float, float], str]:
    """Where a shape's local origin is in the space in which its element's numbers are, and the transform of that."""
    if node.kind.lie is not DOWN:
        return (0.0, 0.0), matrix(node.local)
    return node.at, steps_transform(node.at, node.pivot, node.values.get("steps", ()))


def steps_transform(at: tuple[float, float], pivot: tuple[float, float], steps: tuple[Step, ...]) -> str:
    """Steps as a list of transforms. In SVG the last of a list comes first."""
    said = []
    for i, step in enumerate(steps):
        if step.on:
            fixed = step.about
            if fixed is None:
                moved = (at[0] + pivot[0], at[1] + pivot[1])
                fixed = compose(at, pivot, steps[:i]).map(*pivot) if i else moved
            said.append(_transform(step, *fixed))
    return " ".join(reversed(said))


def _transform(step: Step, x: float, y: float) -> str:
    values = step.values
    if step.op == "translate":
        return f"translate({numbers(*values)})"
    if step.op == "rotate":
        return "rotate(%.8g %.8g %.8g)" % (values[0] + 0.0, x + 0.0, y + 0.0)  # noqa: UP031  # as numbers() would
    if step.op == "scale":
        own = f"scale({numbers(*values)})"
    elif step.op == "skew" and values[1] == 0:
        own = f"skewX({number(values[0])})"
    else:
        own = matrix(step_matrix(step.op, values))
    if x == 0 and y == 0:
        return own
    return f"translate({numbers(x, y)}) {own} translate({numbers(-x, -y)})"


def form(node: Node, at: tuple[float, float]) -> Element:
    """The element of a shape with a geometry, whose local origin is at a point."""
    kind, values = node.shape.kind, node.values
    (x0, y0, x1, y1), (dx, dy) = node.box, at
    x0, y0, x1, y1 = x0 + dx, y0 + dy, x1 + dx, y1 + dy
    if kind == "rect":
        corners = node.value("corners")
        round_ = len(set(corners)) == 1 and (node.value("corner_style") == "round" or not corners[0])
        if round_:
            radius = min(corners[0], (x1 - x0) / 2, (y1 - y0) / 2)
            return _element("rect", x=x0, y=y0, width=x1 - x0, height=y1 - y0, **({"rx": radius} if radius else {}))
    elif kind == "circle":
        return _element("circle", cx=(x0 + x1) / 2, cy=(y0 + y1) / 2, r=(x1 - x0) / 2)
    elif kind == "ellipse":
        rx, ry = (x1 - x0) / 2, (y1 - y0) / 2
        return _element("ellipse", cx=(x0 + x1) / 2, cy=(y0 + y1) / 2, rx=rx, ry=ry)
    outline = node.outline.mapped(Affine.translate(*at))
    coords = outline.coords
    if kind == "line" and outline.verbs == "ML":
        return _element("line", **dict(zip(("x1", "y1", "x2", "y2"), coords, strict=True)))
    if kind == "polyline" and set(outline.verbs) <= set("MLZ") and values.get("curve", "straight") == "straight":
        points = " ".join(f"{number(x)},{number(y)}" for x, y in zip(coords[::2], coords[1::2], strict=True))
        return Element("polygon" if outline.verbs.endswith("Z") else "polyline", {"points": points})
    return Element("path", {"d": data(outline), **fill_rule(node)})


def fill_rule(node: Node, word: str = "fill-rule") -> Attributes:
    """The attribute for a shape whose inside isn't by the nonzero rule."""
    return {word: "evenodd"} if node.even_odd else {}


def _element(tag: str, **values: float) -> Element:
    return Element(tag, {name: number(v) for name, v in values.items()})
