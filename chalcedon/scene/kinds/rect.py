from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

from chalcedon.geometry import Affine, Box, Outline, arcdata, primitives
from chalcedon.geometry.boxes import from_corners
from chalcedon.geometry.pathdata import Segment
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Facets, Flaw
from chalcedon.scene.given import FOUR, Given, corners_of
from chalcedon.scene.grips import Change, Drag, Handle, Point, rounded_point
from chalcedon.scene.painted import positive
from chalcedon.scene.proportions import DIGITS, Proportioned, held_to, proportion, ratio_of
from chalcedon.scene.roles import Extent, Gauge, Role, span
from chalcedon.scene.similar import is_straight, is_uniform
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Anchor, Choice, Corners, Tuple

BOXED = {
    "between": Given(FOUR, "two opposite corners, in any order", lambda n, _: _between(n), hangs=True),
    "around": Given(
        ("x", "y", "width", "height"),
        "its centre and its size",
        lambda n, _: {"at": (n[0], n[1]), "size": (n[2], n[3]), "anchor": "center"},
    ),
}
"""What a shape with a size can be given by."""


def _between(n: Any) -> dict[str, Any]:
    left, top, right, bottom = corners_of(n)
    return {"at": (left, top), "size": (right - left, bottom - top), "anchor": "top-left"}


class CornerRole(Role):
    """Radii of corners, clockwise from the top left."""

    def gauge(self, shape: Any, name: str, path: tuple[int, ...]) -> Gauge:
        (w, h), corners = shape.size, shape.corners
        i = path[0] if path else 0
        r = corners[i] if i < len(corners) else corners[0]
        fitted = min(r, w / 2, h / 2)
        cx = fitted if i in (0, 3) else w - fitted
        cy = fitted if i in (0, 1) else h - fitted
        ring = [(cx + fitted * math.cos(t / 24 * math.pi), cy + fitted * math.sin(t / 24 * math.pi)) for t in range(49)]
        return span((cx, cy), (0 if i in (0, 3) else w, cy), f"radius {r:g}", ring)


class Rect(Proportioned):
    """A rectangle, placed by its top left corner unless the anchor says otherwise."""

    __slots__ = ()
    kind = "rect"
    leading = ("at", "size", "corners")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=positive), (120, 80), "width and height", always=True, role=Extent()
    )
    corners: Property[tuple[float, ...]] = Property(
        Corners(), (0,), "corner radius: one, or four clockwise", role=CornerRole()
    )
    corner_style: Property[str] = Property(
        Choice("round", "smooth"), "round", "smooth: no jump in curvature where the corner begins", word="style"
    )

    rank, key = 3, "R"
    glyph = ("rect 3 4.5 14 11 2 fill none stroke INK 1.7",)
    example = "rect 50 30 180 70 18 fill #7fa3b8"
    hint = "Press at one corner, drag to the other · Shift makes a square · Ctrl from the centre"
    made_by = "box"
    tight = stretches = upright = True
    words = BOXED

    @staticmethod
    def outline(size: Point, corners: tuple[float, ...], corner_style: str) -> Outline:
        return (primitives.smooth_rect if corner_style == "smooth" else primitives.rect)(*size, corners)

    @staticmethod
    def box(size: Point) -> Box:
        return (0.0, 0.0, *size)

    def arcs(self) -> list[Segment]:
        round_ones = any(self.corners) and self.corner_style == "round" and min(self.size) > 0.0
        return arcdata.rounded(*self.size, self.corners) if round_ones else []

    def says(self) -> str:
        if not any(self.corners):
            return "rect"
        return "pill" if max(self.corners) >= min(self.size) / 2 > 0 else "rect with round corners"

    def proportion(self) -> tuple[float, float]:
        return self.size

    def handles(self, box: Box) -> list[Handle]:
        w, h = self.size
        stated = self.stated("corners")

        def radius(q: Point, digits: int, held: bool) -> Change:
            # of a small radius the handle stands farther in than the corner's centre: it counts from where it is taken
            r = min(max(0.0, tidy(self.corners[0] + min(q) - inset, digits)), w / 2, h / 2)
            return Change({"corners": (r,) if len(stated) == 1 else (r, *stated[1:])}, word=f"corner radius {r:g}")

        inset = min(max(self.corners[0], min(w, h) * 0.18), w / 2, h / 2)
        return [*size_handles(w, h, ratio_of(self)), Handle("corner", (inset, inset), radius)]

    def baked(self, m: Affine) -> dict[str, Any]:
        out: dict[str, Any] = {"size": baked_size(self, m)}
        corners = self.corners
        if any(corners) and not is_uniform(m):
            raise ValueProblem("the corners would no longer be round.", hint="Make it a path first, then bake.")
        if len(set(corners)) > 1:
            places = [(0, 0), (1, 0), (1, 1), (0, 1)]
            moved = {}
            for place, r in zip(places, corners, strict=True):
                px, py = m.map(place[0] - 0.5, place[1] - 0.5)
                moved[(int(px > 0), int(py > 0))] = r
            corners = tuple(moved[p] for p in places)
        scale = math.hypot(m.a, m.b)
        new = tuple(r if r >= 1e9 else tidy(r * scale, 4) for r in corners)
        out["corners"] = new[:1] if len(set(new)) == 1 else new
        return out

    def flaws(self) -> Iterator[Flaw]:
        yield from super().flaws()
        w, h = self.size
        corners = [c for c in self.corners if c < 1e9]  # `max` is meant to be larger
        if corners and w > 0 and h > 0 and max(corners) > min(w, h) / 2 + 1e-9:
            yield Flaw(
                "corner too large",
                f"a corner radius of {max(corners):g} doesn't fit into {w:g} × {h:g}; "
                "all are made smaller in proportion.",
                "corners",
                (("A pill", {"corners": ("max",)}),),
            )


def baked_size(shape: Facets, m: Affine) -> Point:
    """The size that a shape with one has after a map that keeps the axes. Raises ValueProblem for any other map."""
    if not is_straight(m):
        raise ValueProblem(f"a turned {shape.kind} has no size of its own.", hint="Make it a path first, then bake.")
    x, y = m.map(*shape.size)  # type: ignore[attr-defined]
    return rounded_point((abs(x), abs(y)), 4)


def size_handles(w: float, h: float, ratio: float = 0.0) -> list[Handle]:
    """Handles at the corners and edges of a size, which keeps a ratio if that isn't 0."""
    places = ((0.0, 0.0), (w, 0.0), (w, h), (0.0, h))
    corners = [Handle("size", (x, y), _corner(w, h, x, y, ratio)) for x, y in places]
    return [
        *corners,
        Handle("edge", (w, h / 2), _edge(w, h, True, True, ratio)),
        Handle("edge", (0.0, h / 2), _edge(w, h, True, False, ratio)),
        Handle("edge", (w / 2, h), _edge(w, h, False, True, ratio)),
        Handle("edge", (w / 2, 0.0), _edge(w, h, False, False, ratio)),
    ]


def _corner(w: float, h: float, cx: float, cy: float, ratio: float) -> Drag:
    ox, oy = w - cx, h - cy  # the opposite corner stays

    def drag(q: Point, digits: int, held: bool) -> Change:
        dx, dy = q[0] - ox, q[1] - oy
        if held or ratio:
            dx, dy = held_to(ratio or proportion(w, h), dx, dy)
        dx, dy = rounded_point((dx, dy), digits)
        if ratio:
            dy = math.copysign(tidy(abs(dx) / ratio, DIGITS), dy)
        box = from_corners(ox, oy, ox + dx, oy + dy)
        size = tidy(abs(dx)), tidy(abs(dy))
        return Change({"size": size}, (ox, oy), (ox - box[0], oy - box[1]), f"size {size[0]:g} × {size[1]:g}")

    return drag


def _edge(w: float, h: float, across: bool, far: bool, ratio: float) -> Drag:
    def drag(q: Point, digits: int, held: bool) -> Change:
        at, full = (q[0], w) if across else (q[1], h)
        length = tidy(abs(at if far else full - at), digits)
        size = (length, h) if across else (w, length)
        word = f"{'width' if across else 'height'} {length:g}"
        if not held and not ratio:
            return Change({"size": size}, (0.0, 0.0) if far else (w, h), (0.0, 0.0) if far else size, word)
        ratio_now = ratio or proportion(w, h)
        size = (length, tidy(length / ratio_now, DIGITS)) if across else (tidy(length * ratio_now, DIGITS), length)
        share = (0.0 if far else 1.0, 0.5) if across else (0.5, 0.0 if far else 1.0)  # the middle of the other edge
        before, after = ((s[0] * share[0], s[1] * share[1]) for s in ((w, h), size))
        return Change({"size": size}, before, after, word)

    return drag
