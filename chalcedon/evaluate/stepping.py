"""Steps one by one: the place after each, which of them commute, and steps baked into a shape's own numbers."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from chalcedon.evaluate.arrange import explicit_steps
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.hold import Change, Start
from chalcedon.evaluate.node import Node
from chalcedon.evaluate.tidy import tidy
from chalcedon.formula import Formula
from chalcedon.geometry import Affine
from chalcedon.geometry.contours import as_cubic, contours_of, segments_of
from chalcedon.geometry.pathdata import Segment, parse_path, print_path
from chalcedon.problems import ValueProblem
from chalcedon.scene import Group, Shape
from chalcedon.scene.steps import compose
from chalcedon.scene.values import place_in

EXACT = 1e-9


def after_each(node: Node) -> list[Affine]:
    """The maps from the shape's own space to its parent's: before any step, after the first, ..., after all."""
    shape = node.shape
    pivot = place_in(node.box, shape.pivot)
    shift = Affine.translate(*node.shift) if node.group else Affine()
    return [compose(shape.at, pivot, shape.steps[:i]).after(shift) for i in range(len(shape.steps) + 1)]


def swapped(node: Node, i: int) -> Affine:
    """The map that results when step `i` and the one after it change places."""
    shape = node.shape
    steps = list(shape.steps)
    steps[i], steps[i + 1] = steps[i + 1], steps[i]
    shift = Affine.translate(*node.shift) if node.group else Affine()
    return compose(shape.at, place_in(node.box, shape.pivot), tuple(steps)).after(shift)


def commute(node: Node, i: int) -> bool:
    """Whether step `i` and the one after it can change places without any effect on the picture."""
    now, then = after_each(node)[-1], swapped(node, i)
    box = node.box if node.box[0] <= node.box[2] else (0.0, 0.0, 1.0, 1.0)
    corners = [(box[0], box[1]), (box[2], box[1]), (box[0], box[3]), (box[2], box[3])]
    return all(math.dist(now.map(*c), then.map(*c)) < 1e-6 for c in corners)


def bake(display: DisplayList, shape: Shape) -> None:
    """Takes the steps into the shape's own numbers, without a change on the page. A group hands its steps down.

    Raises ValueProblem, and changes nothing, when the kind can't hold the result: a turned rect, a circle of two radii.
    """
    display.settle()
    if not shape.steps:
        raise ValueProblem(f"{shape.id} has no steps to bake.")
    if any(isinstance(v, Formula) for s in shape.stated("steps") for v in s.values):
        raise ValueProblem(f"the steps of {shape.id} have formulas; they are kept.")
    with display.scene.step(f"Bake the steps of {shape.id}"):
        if isinstance(shape, Group):
            _hand_down(display, shape)
            return
        if shape.kind not in _BAKED:
            raise ValueProblem(f"the steps of a {shape.kind} can't be baked.")
        node = display.node(shape)
        start = Start(node)
        linear = Affine(*node.local[:4], 0.0, 0.0)
        _check_stroke(shape, linear)
        values = _BAKED[shape.kind](shape, linear)
        raw = (0.0, 0.0)
        after = linear.map(*raw)
        if shape.kind in _BOXED:
            # the raw corner that becomes the new top left: boxes have their own origin there
            x0, y0, x1, y1 = start.box
            corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
            raw = min(corners, key=lambda c: sum(linear.map(*c)))
            after = (0.0, 0.0)
        width = shape.stated("stroke_width") if "stroke_width" in shape.properties else None
        scale = math.sqrt(abs(linear.a * linear.d - linear.b * linear.c))
        values |= {"steps": (), "pivot": type(shape).properties["pivot"].default}
        for name, value in start.settle(Change(values, raw, after, "")).items():
            shape.assign(name, value)
        if width is not None and not shape.steady and abs(scale - 1) > EXACT:  # type: ignore[attr-defined]
            shape.assign("stroke_width", tidy(width * scale, 4))
            if shape.stated("dash"):
                shape.assign("dash", tuple(tidy(v * scale, 4) for v in shape.dash))  # type: ignore[attr-defined]


def _check_stroke(shape: Shape, m: Affine) -> None:
    """A stroke stretched one way only isn't one of any width."""
    if getattr(shape, "stroke", None) is None or getattr(shape, "steady", False) or shape.kind == "image":
        return
    if not _uniform(m):
        raise ValueProblem(
            f"the steps stretch the stroke of {shape.id} one way more than the other; no stroke width does that.",
            hint="Take the outline of the stroke first, or make it steady.",
        )


def _uniform(m: Affine) -> bool:
    """Whether a map keeps shapes similar: rotation, one scale, perhaps a reflection."""
    size = max(abs(m.a), abs(m.b), abs(m.c), abs(m.d), 1e-300)
    across = abs(math.hypot(m.a, m.b) - math.hypot(m.c, m.d)) <= EXACT * size
    return across and abs(m.a * m.c + m.b * m.d) <= EXACT * size * size


def _straight(m: Affine) -> bool:
    """Whether a map keeps the axes, as axes."""
    size = max(abs(m.a), abs(m.b), abs(m.c), abs(m.d), 1e-300)
    along = abs(m.b) <= EXACT * size and abs(m.c) <= EXACT * size
    return along or (abs(m.a) <= EXACT * size and abs(m.d) <= EXACT * size)


def _hand_down(display: DisplayList, group: Group) -> None:
    steps = explicit_steps(display, group)
    x, y = display.node(group).local_origin()
    for child in group.children:
        moved = tuple(s._replace(about=None if s.about is None else (s.about[0] - x, s.about[1] - y)) for s in steps)
        child.steps = (*explicit_steps(display, child), *moved)
    group.steps = ()


def _similar(shape: Shape, m: Affine) -> tuple[float, float, bool]:
    """Scale, turn in degrees and whether a similar map reflects."""
    if not _uniform(m):
        raise ValueProblem(
            f"a {shape.kind} stretched one way more than the other is none any more.",
            hint="Make it a path first, then bake.",
        )
    return math.hypot(m.a, m.b), math.degrees(math.atan2(m.b, m.a)), m.a * m.d - m.b * m.c < 0


def _line(s: Any, m: Affine) -> dict[str, Any]:
    return {"to": _tidy(m.map(*s.to))}


def _polyline(s: Any, m: Affine) -> dict[str, Any]:
    return {"points": tuple(_tidy(m.map(*p)) for p in s.points)}


def _path(s: Any, m: Affine) -> dict[str, Any]:
    out = []
    for contour in contours_of(parse_path(s.data).segments):
        segments = [
            as_cubic(g, k) if g.letter == "A" else g for g, k in zip(contour.segments, contour.knots, strict=False)
        ]
        out.append(type(contour)(contour.knots, tuple(segments), contour.closed))
    mapped = []
    for g in segments_of(out):
        n = [v for i in range(0, len(g.numbers), 2) for v in _tidy(m.map(g.numbers[i], g.numbers[i + 1]))]
        mapped.append(Segment(g.letter, tuple(n)))
    return {"data": print_path(mapped)}


def _boxed(s: Any, m: Affine) -> dict[str, Any]:
    if not _straight(m):
        raise ValueProblem(f"a turned {s.kind} has no size of its own.", hint="Make it a path first, then bake.")
    w, h = s.size
    x, y = m.map(w, h)
    out: dict[str, Any] = {"size": _tidy((abs(x), abs(y)))}
    if s.kind == "image":
        if m.b or m.a < 0 or m.d < 0:
            raise ValueProblem("a picture can't be turned or mirrored without a step.")
        return out
    corners = s.corners * 4 if len(s.corners) == 1 else s.corners
    if len(set(corners)) > 1 or (any(corners) and not _uniform(m)):
        if not _uniform(m):
            raise ValueProblem("the corners would no longer be round.", hint="Make it a path first, then bake.")
        places = [(0, 0), (1, 0), (1, 1), (0, 1)]
        moved = {}
        for place, radius in zip(places, corners, strict=True):
            px, py = m.map(place[0] - 0.5, place[1] - 0.5)
            moved[(int(px > 0), int(py > 0))] = radius
        corners = tuple(moved[p] for p in places)
    scale = math.hypot(m.a, m.b)
    new = tuple(r if r >= 1e9 else tidy(r * scale, 4) for r in corners)
    out["corners"] = new[:1] if len(set(new)) == 1 else new
    return out


def _ellipse(s: Any, m: Affine) -> dict[str, Any]:
    if not _straight(m) and not (_uniform(m) and s.radii[0] == s.radii[1]):
        raise ValueProblem("a turned ellipse has no radii along the axes.", hint="Make it a path first, then bake.")
    rx, ry = s.radii
    if rx == ry and _uniform(m):
        k = math.hypot(m.a, m.b)
        return {"radii": _tidy((rx * k, ry * k))}
    x, y = m.map(rx, ry)
    return {"radii": _tidy((abs(x), abs(y)))}


def _circle(s: Any, m: Affine) -> dict[str, Any]:
    return {"radius": tidy(s.radius * _similar(s, m)[0], 4)}


def _angles(s: Any, turn: float, mirrored: bool) -> dict[str, Any]:
    start, sweep = (turn - s.start, -s.sweep) if mirrored else (turn + s.start, s.sweep)
    return {"start": tidy((start + 180) % 360 - 180, 6), "sweep": tidy(sweep, 6)}


def _arc(s: Any, m: Affine) -> dict[str, Any]:
    scale, turn, mirrored = _similar(s, m)
    if s.radii[0] != s.radii[1] and turn % 180 > EXACT:
        raise ValueProblem("an arc of a turned ellipse can't be given by radii.", hint="Make it a path first.")
    return {"radii": _tidy((s.radii[0] * scale, s.radii[1] * scale)), **_angles(s, turn, mirrored)}


def _annulus(s: Any, m: Affine) -> dict[str, Any]:
    scale, turn, mirrored = _similar(s, m)
    out = {"inner": tidy(s.inner * scale, 4), "outer": tidy(s.outer * scale, 4)}
    return out if abs(s.sweep) >= 360 else {**out, **_angles(s, turn, mirrored)}


def _facing(*names: str) -> Callable[[Any, Affine], dict[str, Any]]:
    def make(s: Any, m: Affine) -> dict[str, Any]:
        scale, turn, mirrored = _similar(s, m)
        facing = turn - s.facing if mirrored else turn + s.facing
        return {**{n: tidy(getattr(s, n) * scale, 4) for n in names}, "facing": tidy((facing + 180) % 360 - 180, 6)}

    return make


def _text(s: Any, m: Affine) -> dict[str, Any]:
    scale, turn, mirrored = _similar(s, m)
    if mirrored or abs(turn) > 1e-9:
        raise ValueProblem("turned letters need a step.", hint="Make it a path first, then bake.")
    names = ("size", "width", "height", "letter_spacing")
    return {n: tidy(getattr(s, n) * scale, 4) for n in names}


def _tidy(p: tuple[float, float]) -> tuple[float, float]:
    return tidy(p[0], 4), tidy(p[1], 4)


_BAKED: dict[str, Callable[[Any, Affine], dict[str, Any]]] = {
    "line": _line,
    "polyline": _polyline,
    "path": _path,
    "rect": _boxed,
    "image": _boxed,
    "circle": _circle,
    "ellipse": _ellipse,
    "arc": _arc,
    "annulus": _annulus,
    "regular_polygon": _facing("radius"),
    "star": _facing("outer", "inner"),
    "text": _text,
}
_BOXED = ("rect", "image", "text")
