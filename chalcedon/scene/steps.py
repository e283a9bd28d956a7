"""Steps: the ordered transforms of a shape."""

from __future__ import annotations

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


class Step(NamedTuple):
    """One transform. `about` is the fixed point in the parent's space; None means the shape's pivot."""

    op: str
    values: tuple[Any, ...]
    about: tuple[Any, Any] | None = None
    on: bool = True


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


def compose(at: tuple[float, float], pivot: tuple[float, float], steps: tuple[Step, ...]) -> Affine:
    """Local space (origin at `at`, unturned) to the parent's space.

    Steps apply in reading order in the parent's axes. Each turns about `pivot` (local px) as carried along
    by the steps before it, or about its own fixed point.
    """
    m = Affine.translate(*at)
    for step in steps:
        if not step.on:
            continue
        own = step_matrix(step.op, step.values)
        if step.op != "translate":
            own = own.about(*(m.map(*pivot) if step.about is None else step.about))
        m = own.after(m)
    return m
