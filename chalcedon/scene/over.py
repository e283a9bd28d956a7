"""A scene stated anew for y to run the other way: the numbers change, the picture stays.

Fractions of a box count from its top either way, and so do anchors, pivots and the corners of a rect: they stay.
What goes along round shapes begins at the same place and runs the other way round, as their angles do: `run_y` names
it.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from chalcedon.formula import Formula, FormulaProblem
from chalcedon.formula.problem import span
from chalcedon.formula.relative import less, minus
from chalcedon.formula.syntax import parse
from chalcedon.scene.paints import Gradient, Shadow
from chalcedon.scene.scene import Scene
from chalcedon.scene.shape import Group, Shape, Unknown
from chalcedon.scene.steps import Step

Turn = Callable[[Any], Any]
"""What becomes of a y, a number or a formula."""
HEIGHT = "scene.height"
ROUND = ("circle", "ellipse", "annulus", "regular_polygon", "star")
"""Kinds whose outlines run the way that angles do."""
ALONG = ("dash", "mid_head")
"""What is seen of the way that an outline runs."""


def run_y(scene: Scene, way: str) -> list[str]:
    """Has y run "up" or "down" in a scene with everything where it is, as one undo step. Gives the names of what can't
    be restated, as `id.property`: a point or path that is one formula, what goes along round shapes, and shapes of
    unknown kinds. Raises ValueProblem for another word."""
    way = scene.declared("y_axis").read(way, "scene")
    if way == scene.y_axis:
        return []
    left: list[str] = []
    height = scene.size[1]

    def from_end(y: Any) -> Any:
        return less(height, HEIGHT, y)

    with scene.step(f"Let y run {way}"):
        scene.set(scene, "y_axis", way)
        _turn_formulas(scene)
        _set(scene, scene, "guides_y", tuple(from_end(y) for y in scene.guides_y))
        if scene.reference:
            _set(scene, scene, "reference_at", _point(scene.stated("reference_at"), from_end))
        _set(scene, scene, "background", _paint(scene.stated("background"), from_end))
        _set(
            scene,
            scene,
            "presets",
            tuple((name, tuple((n, _looks(v, from_end)) for n, v in values)) for name, values in scene.presets),
        )
        whole = {scene.top}  # groups in which places count as on the page
        for shape in scene.walk():
            on_page = shape.parent in whole
            if on_page and _is_page(shape):
                whole.add(shape)  # type: ignore[arg-type]
            else:
                left += _turn(scene, shape, from_end if on_page else minus, from_end)
    return left


PLACES = (("pointer", "y"), ("scene", "center", "y"))
"""Names of formulas that are places along y; so are .at.y, .center.y, .top and .bottom of shapes."""


def _turn_formulas(scene: Scene) -> None:
    """Has every formula come to what it did: the places along y that it reads count from the other end now."""
    whole = {scene.top}
    for shape in scene.walk():
        on_page = shape.parent in whole
        if on_page and _is_page(shape):
            whole.add(shape)  # type: ignore[arg-type]
        for name in sorted(shape._formulas or ()):
            before, after = (f"({HEIGHT} - ", ")") if on_page else ("(-", ")")
            _set(scene, shape, name, shape.rewrite_formulas(name, partial(_turn_names, before=before, after=after)))


def _turn_names(formula: Formula, before: str, after: str) -> Formula:
    """A formula with `before` and `after` around each place along y, or without them where they stand already."""
    try:
        named = parse(formula.text).named()
    except FormulaProblem:
        return formula
    text = formula.text
    for node, path in sorted(named, key=lambda np: -span(formula.text, np[0])[0]):
        if path not in PLACES and path[1:] not in (("at", "y"), ("center", "y"), ("top",), ("bottom",)):
            continue
        first, last = span(formula.text, node)
        if text[:first].endswith(before) and text[last:].startswith(after):
            text = text[: first - len(before)] + text[first:last] + text[last + len(after) :]
        else:
            text = text[:first] + before + text[first:last] + after + text[last:]
    return Formula(text, formula.last)


def _is_page(shape: Shape) -> bool:
    """Whether it is a group that leaves what it holds where it is: places in it are those of the page, and stay so."""
    return isinstance(shape, Group) and shape._values.keys().isdisjoint(("at", "anchor", "pivot", "steps", "shadow"))


def _turn(scene: Scene, shape: Shape, place: Turn, from_end: Turn) -> list[str]:
    """Restates one shape; what of it can't be. `place` turns a y of its parent's space, `from_end` one of the scene."""
    if isinstance(shape, Unknown):
        return [shape.id]
    new: dict[str, Any] = {"at": _point(shape.stated("at"), place), "steps": _steps(shape.stated("steps"), place)}
    if not isinstance(shape, Group):
        new |= shape.over()
    for name in ("fill", "stroke", "shadow"):
        if name in shape.properties:
            new[name] = _looks(shape.stated(name), from_end)
    if shape.kind == "text":
        new["runs"] = tuple(
            run._replace(values=tuple((n, _looks(v, from_end)) for n, v in run.values)) for run in shape.stated("runs")
        )
    for name, value in new.items():
        _set(scene, shape, name, value)
    stuck = [n for n in ("at", "steps", "to", "points") if isinstance(new.get(n), Formula)]
    stuck += [n for n in ("data",) if n in shape.properties and n not in new]
    if shape.kind in ROUND and shape.stated("stroke") is not None:
        stuck += [n for n in ALONG if shape.stated(n) != shape.properties[n].default]
    return [f"{shape.id}.{n}" for n in stuck]


def _set(scene: Scene, owner: Any, name: str, value: Any) -> None:
    if value != owner.stated(name):
        scene.set(owner, name, value)


def _point(point: Any, place: Turn) -> Any:
    return point if isinstance(point, Formula) else (point[0], place(point[1]))


def _steps(steps: Any, place: Turn) -> Any:
    return steps if isinstance(steps, Formula) else tuple(_step(s, place) for s in steps)


def _step(step: Step, place: Turn) -> Step:
    values = step.values
    if step.op == "rotate":
        values = (minus(values[0]),)
    elif step.op == "translate":
        values = (values[0], minus(values[1]))
    elif step.op == "skew":
        values = (minus(values[0]), minus(values[1]))
    elif step.op == "matrix":
        a, b, c, d, e, f = values
        values = (a, minus(b), minus(c), d, e, minus(f))
    return Step(step.op, values, None if step.about is None else _point(step.about, place), step.on)


def _looks(value: Any, from_end: Turn) -> Any:
    """A paint or a shadow; any other value stays."""
    if isinstance(value, Shadow):
        return value._replace(y=minus(value.y))
    return _paint(value, from_end)


def _paint(paint: Any, from_end: Turn) -> Any:
    if not isinstance(paint, Gradient) or paint.units != "scene":
        return paint
    line = list(paint.line)
    for i in (1, 3) if paint.kind == "linear" else (1, 4)[: 1 + (len(line) == 5)]:
        line[i] = from_end(line[i])
    return paint._replace(line=tuple(line))
