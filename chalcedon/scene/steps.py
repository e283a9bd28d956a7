"""Steps: the ordered transforms of a shape."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any, NamedTuple

from chalcedon.geometry import Affine

OPS: dict[str, tuple[str, ...]] = {
    "translate": ("x", "y"),
    "rotate": ("angle",),
    "scale": ("x", "y"),
    "skew": ("x", "y"),
    "matrix": ("a", "b", "c", "d", "e", "f"),
}
"""Each kind of step and the names of its numbers. Angles are degrees; translate is in the parent's px."""


class _Step(NamedTuple):
    op: str
    values: tuple[Any, ...]
    about: tuple[Any, Any] | None = None
    on: bool = True


class Step(_Step):
    """One transform: Step("rotate", 30), Step("scale", 2, 1, about=(40, 40)), or with its numbers as a tuple.

    `about` is the fixed point in the parent's space; None means the shape's pivot. A step that isn't `on` is skipped.
    """

    __slots__ = ()

    def __new__(cls, op: str, *values: Any, about: tuple[Any, Any] | None = None, on: bool = True) -> Step:
        if values and isinstance(values[0], tuple | list):
            numbers, *rest = values
            about = rest[0] if rest else about
            on = rest[1] if len(rest) > 1 else on
            values = tuple(numbers)
        return super().__new__(cls, op, values, about, on)


def step_matrix(op: str, values: tuple[float, ...]) -> Affine:
    """The linear part of a step, before its fixed point is taken into account."""
    if op == "translate":
        return Affine.translate(*values)
    if op == "rotate":
        return Affine.rotate(values[0])
    if op == "scale":
        return Affine.scale(*values)
    if op == "skew":
        return Affine.skew(*values)
    return Affine(*values)


_made = tuple.__new__  # an Affine without the detour by its names


def compose(at: tuple[float, float], pivot: tuple[float, float], steps: tuple[Step, ...]) -> Affine:
    """Local space (origin at `at`, unturned) to the parent's space.

    Steps apply in reading order in the parent's axes. Each turns about `pivot` (local px) as carried along
    by the steps before it, or about its own fixed point.
    """
    px, py = pivot
    e, f = at
    if len(steps) == 1:
        op, values, about, on = steps[0]
        if op == "rotate" and on and about is None and values[0] % 90.0 != 0.0:
            # by far the commonest: what the loop below comes to, to the last bit, without the parts that are 0 and 1
            angle = radians(values[0])
            a, b = cos(angle), sin(angle)
            x, y = px + e, py + f
            return _made(
                Affine, (a, b, -b, a, a * e - b * f + (x - a * x + b * y), b * e + a * f + (y - b * x - a * y))
            )
    a, b, c, d = 1.0, 0.0, 0.0, 1.0
    for op, values, about, on in steps:
        if not on:
            continue
        if op == "translate":
            e += values[0]
            f += values[1]
            continue
        sa, sb, sc, sd, se, sf = step_matrix(op, values)
        fx, fy = (a * px + c * py + e, b * px + d * py + f) if about is None else about
        # own about its fixed point, after what came before
        se += fx - sa * fx - sc * fy
        sf += fy - sb * fx - sd * fy
        a, b, c, d, e, f = (
            sa * a + sc * b,
            sb * a + sd * b,
            sa * c + sc * d,
            sb * c + sd * d,
            sa * e + sc * f + se,
            sb * e + sd * f + sf,
        )
    return Affine(a, b, c, d, e, f)
