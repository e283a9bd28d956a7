"""Handles: the places on the canvas where a shape's own numbers are taken hold of. No Qt here.

A handle stands and is dragged in raw space (see evaluate/hold.py). Every change names a raw point that must
stay where it is on the page.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from chalcedon.desk.canvas.handle import Handle
from chalcedon.desk.canvas.pointhandles import path_handles
from chalcedon.evaluate.hold import Change, Point, Start
from chalcedon.evaluate.tidy import tidy
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import from_corners
from chalcedon.geometry.round import point_at, toward
from chalcedon.scene import Step
from chalcedon.scene.values import place_in


def handles_of(start: Start) -> list[Handle]:
    """The handles of a shape, those of its own numbers first, then rotation and pivot."""
    makers = {
        "line": _line,
        "polyline": _polyline,
        "rect": _rect,
        "image": _rect,
        "text": _text,
        "circle": _circle,
        "ellipse": _ellipse,
        "arc": _arc,
        "annulus": _annulus,
        "regular_polygon": _regular_polygon,
        "star": _star,
        "path": path_handles,
    }
    maker = makers.get(start.shape.kind)
    return maker(start) if maker else []


def rounded(value: float, digits: int) -> float:
    return tidy(value, digits)


def _line(s: Start) -> list[Handle]:
    to = s.shape.to  # type: ignore[attr-defined]

    def move_end(q: Point, digits: int, held: bool) -> Change:
        x, y = _held(q, held)
        new = rounded(x, digits), rounded(y, digits)
        return Change({"to": new}, (0, 0), (0, 0), f"to {new[0]:g}, {new[1]:g}")

    def move_start(q: Point, digits: int, held: bool) -> Change:
        x, y = _held((q[0] - to[0], q[1] - to[1]), held)
        new = rounded(-x, digits), rounded(-y, digits)
        return Change({"to": new}, to, new, f"to {new[0]:g}, {new[1]:g}")

    return [Handle("start", (0.0, 0.0), move_start), Handle("to", to, move_end)]


def _held(q: Point, held: bool) -> Point:
    """With `held`, the direction snaps to steps of 15 degrees."""
    if not held:
        return q
    length = math.hypot(*q)
    angle = math.radians(round(math.degrees(math.atan2(q[1], q[0])) / 15) * 15)
    return length * math.cos(angle), length * math.sin(angle)


def _polyline(s: Start) -> list[Handle]:
    points = s.shape.points  # type: ignore[attr-defined]
    stated = s.shape.stated("points")

    def mover(i: int) -> Callable[[Point, int, bool], Change]:
        def move(q: Point, digits: int, held: bool) -> Change:
            if held and len(points) > 1:
                before = points[i - 1]
                x, y = _held((q[0] - before[0], q[1] - before[1]), True)
                q = before[0] + x, before[1] + y
            new = rounded(q[0], digits), rounded(q[1], digits)
            return Change(
                {"points": (*stated[:i], new, *stated[i + 1 :])},
                (0, 0),
                (0, 0),
                f"point {i + 1}: {new[0]:g}, {new[1]:g}",
            )

        return move

    return [Handle("point", p, mover(i)) for i, p in enumerate(points)]


def _rect(s: Start) -> list[Handle]:
    w, h = s.shape.size  # type: ignore[attr-defined]

    def corner(cx: float, cy: float) -> Callable[[Point, int, bool], Change]:
        ox, oy = w - cx, h - cy  # the opposite corner stays

        def drag(q: Point, digits: int, held: bool) -> Change:
            dx, dy = q[0] - ox, q[1] - oy
            if held:
                side = max(abs(dx), abs(dy))
                dx, dy = math.copysign(side, dx), math.copysign(side, dy)
            dx, dy = rounded(dx, digits), rounded(dy, digits)
            box = from_corners(ox, oy, ox + dx, oy + dy)
            size = tidy(abs(dx)), tidy(abs(dy))
            return Change({"size": size}, (ox, oy), (ox - box[0], oy - box[1]), f"size {size[0]:g} × {size[1]:g}")

        return drag

    def edge(across: bool, far: bool) -> Callable[[Point, int, bool], Change]:
        def drag(q: Point, digits: int, held: bool) -> Change:
            at, full = (q[0], w) if across else (q[1], h)
            length = rounded(abs(at if far else full - at), digits)
            size = (length, h) if across else (w, length)
            fixed = (0.0, 0.0) if far else (w, h)
            return Change(
                {"size": size}, fixed, (0.0, 0.0) if far else size, f"{'width' if across else 'height'} {length:g}"
            )

        return drag

    def radius(q: Point, digits: int, held: bool) -> Change:
        r = min(max(0.0, rounded(min(q), digits)), w / 2, h / 2)
        stated = s.shape.stated("corners")
        corners = (r,) if len(stated) == 1 else (r, *stated[1:])
        return Change({"corners": corners}, (0, 0), (0, 0), f"corner radius {r:g}")

    sizes = [
        Handle("size", (0.0, 0.0), corner(0.0, 0.0)),
        Handle("size", (w, 0.0), corner(w, 0.0)),
        Handle("size", (w, h), corner(w, h)),
        Handle("size", (0.0, h), corner(0.0, h)),
        Handle("edge", (w, h / 2), edge(True, True)),
        Handle("edge", (0.0, h / 2), edge(True, False)),
        Handle("edge", (w / 2, h), edge(False, True)),
        Handle("edge", (w / 2, 0.0), edge(False, False)),
    ]
    if s.shape.kind == "image":
        return sizes
    first = s.shape.corners[0]  # type: ignore[attr-defined]
    inset = min(max(first, min(w, h) * 0.18), w / 2, h / 2)
    return [*sizes, Handle("corner", (inset, inset), radius)]


def _text(s: Start) -> list[Handle]:
    """The width at which lines are broken, at the right; the size of the font, at the lower right corner."""
    shape: Any = s.shape
    if shape.inside:
        return []
    x0, y0, x1, y1 = s.box
    size, height = shape.size, max(y1 - y0, 1e-6)

    def wrap(q: Point, digits: int, held: bool) -> Change:
        width = max(rounded(q[0] - x0, digits), 1)
        return Change({"width": width}, (x0, y0), (x0, y0), f"wraps at {width:g}")

    def scale(q: Point, digits: int, held: bool) -> Change:
        k = max((q[1] - y0) / height, 0.02)
        new = max(rounded(size * k, digits), 0.1)
        k = new / size
        values: dict[str, Any] = {"size": new}
        if shape.width:
            values["width"] = rounded(shape.width * k, digits)
        return Change(values, (x0, y0), (x0 * k, y0 * k), f"size {new:g}")

    return [Handle("edge", (x1, (y0 + y1) / 2), wrap), Handle("font", (x1, y1), scale)]


def _circle(s: Start) -> list[Handle]:
    r = s.shape.radius  # type: ignore[attr-defined]

    def drag(q: Point, digits: int, held: bool) -> Change:
        new = rounded(math.hypot(*q), digits)
        return Change({"radius": new}, (0, 0), (0, 0), f"radius {new:g}")

    return [Handle("radius", p, drag) for p in ((r, 0.0), (0.0, r), (-r, 0.0), (0.0, -r))]


def _ellipse(s: Start) -> list[Handle]:
    rx, ry = s.shape.radii  # type: ignore[attr-defined]

    def across(q: Point, digits: int, held: bool) -> Change:
        new = rounded(abs(q[0]), digits)
        return Change({"radii": (new, new if held else ry)}, (0, 0), (0, 0), f"rx {new:g}")

    def down(q: Point, digits: int, held: bool) -> Change:
        new = rounded(abs(q[1]), digits)
        return Change({"radii": (new if held else rx, new)}, (0, 0), (0, 0), f"ry {new:g}")

    return [
        Handle("radius", (rx, 0.0), across),
        Handle("radius", (-rx, 0.0), across),
        Handle("radius", (0.0, ry), down),
        Handle("radius", (0.0, -ry), down),
    ]


def _angle_of(q: Point, held: bool) -> float:
    """The direction of a point from the centre, in whole degrees; in steps of 15 when held."""
    angle = math.degrees(math.atan2(q[1], q[0]))
    return round(angle / 15) * 15 if held else round(angle)


def _turned_to(angle: float, near: float) -> float:
    """The same direction as `angle`, by the number of turns that is nearest to `near`."""
    return tidy(angle + 360 * round((near - angle) / 360))


def _angles(start: float, sweep: float, rx: float, ry: float) -> tuple[Handle, Handle]:
    """The two ends of an arc: dragging one leaves the other where it is."""

    def first(q: Point, digits: int, held: bool) -> Change:
        new = _turned_to(_angle_of(q, held), start)
        rest = tidy(max(-360.0, min(360.0, sweep + start - new)))
        return Change({"start": new, "sweep": rest}, (0, 0), (0, 0), f"start {new:g}°")

    def last(q: Point, digits: int, held: bool) -> Change:
        new = tidy(_turned_to(_angle_of(q, held) - start, sweep))
        new = max(-360, min(360, new))
        return Change({"sweep": new}, (0, 0), (0, 0), f"sweep {new:g}°")

    return (
        Handle("angle", toward(rx, ry, start), first),
        Handle("angle", toward(rx, ry, start + sweep), last),
    )


def _arc(s: Start) -> list[Handle]:
    rx, ry = s.shape.radii  # type: ignore[attr-defined]
    start, sweep = s.shape.start, s.shape.sweep  # type: ignore[attr-defined]
    return [*_angles(start, sweep, rx, ry), *(h for h in _ellipse(s) if h.raw in ((rx, 0.0), (0.0, ry)))]


def _to_edge(name: str, word: str, at: Point) -> Handle:
    def drag(q: Point, digits: int, held: bool) -> Change:
        new = rounded(math.hypot(*q), digits)
        return Change({name: new}, (0, 0), (0, 0), f"{word} {new:g}")

    return Handle("radius", at, drag)


def _annulus(s: Start) -> list[Handle]:
    shape: Any = s.shape
    whole = abs(shape.sweep) >= 360
    middle = 0.0 if whole else shape.start + shape.sweep / 2
    edges = [_to_edge(n, n, point_at(r, r, middle)) for n, r in (("outer", shape.outer), ("inner", shape.inner))]
    if whole:
        return edges
    between = (shape.outer + shape.inner) / 2
    return [*edges, *_angles(shape.start, shape.sweep, between, between)]


def _first_corner(name: str, radius: float, facing: float) -> Handle:
    """The first corner carries the radius and the direction."""

    def drag(q: Point, digits: int, held: bool) -> Change:
        new = rounded(math.hypot(*q), digits)
        way = _turned_to(_angle_of(q, held), facing)
        return Change({name: new, "facing": way}, (0, 0), (0, 0), f"{name} {new:g}, facing {way:g}°")

    return Handle("corner", point_at(radius, radius, facing), drag)


def _regular_polygon(s: Start) -> list[Handle]:
    shape: Any = s.shape
    return [_first_corner("radius", shape.radius, shape.facing)]


def _star(s: Start) -> list[Handle]:
    shape: Any = s.shape
    notch = point_at(shape.inner, shape.inner, shape.facing + 180 / shape.tips)
    return [_first_corner("outer", shape.outer, shape.facing), _to_edge("inner", "inner", notch)]


def pivot_point(start: Start) -> Point:
    """The pivot in raw space."""
    return start.shift if start.pivot == "origin" else place_in(start.box, start.pivot)


def turn(start: Start, grabbed: Point, now: Point, held: bool) -> Change:
    """Rotation about the pivot, by the angle between two points in the parent's space.

    A rotate step at the end of the steps is changed; otherwise one is added.
    """
    pivot = pivot_point(start)
    cx, cy = start.to_parent.map(*pivot)
    angle = math.degrees(math.atan2(now[1] - cy, now[0] - cx) - math.atan2(grabbed[1] - cy, grabbed[0] - cx))
    stated = start.shape.stated("steps") if start.shape.steps == start.steps else start.steps
    base, total = stated, angle
    if (
        stated
        and stated[-1].op == "rotate"
        and stated[-1].on
        and stated[-1].about is None
        and not isinstance(stated[-1].values[0], Formula)
    ):
        base, total = stated[:-1], stated[-1].values[0] + angle
    total = (total + 180.0) % 360.0 - 180.0
    total = round(total / 15) * 15 if held else tidy(total, 1)
    steps = base if total == 0 else (*base, Step("rotate", (total,)))
    return Change({"steps": steps}, pivot, pivot, f"rotate {total:g}°")


def turned_by(start: Start, degrees: float) -> tuple[Point, Point]:
    """Two points in the parent's space between which the shape is turned by an angle about its pivot."""
    cx, cy = start.to_parent.map(*pivot_point(start))
    angle = math.radians(degrees)
    return (cx + 100.0, cy), (cx + 100.0 * math.cos(angle), cy + 100.0 * math.sin(angle))


def move_pivot(start: Start, raw: Point) -> Change:
    """Another pivot, as fractions of the shape's box. The shape stays where it is."""
    left, top, right, bottom = start.box
    fx = (raw[0] - left) / (right - left) if right > left else 0.5
    fy = (raw[1] - top) / (bottom - top) if bottom > top else 0.5
    near = [round(f * 2) / 2 if abs(f - round(f * 2) / 2) < 0.04 else round(f, 3) for f in (fx, fy)]
    value: Any = tuple(tidy(f, 3) for f in near)
    if value == (0.5, 0.5):
        value = "center"
    fixed = raw
    return Change({"pivot": value}, fixed, fixed, f"pivot {near[0]:g}, {near[1]:g}")
