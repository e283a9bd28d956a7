"""Outlines: subpaths of lines, quadratics and cubics, drawn through a small pen protocol."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, Protocol

from chalcedon.geometry.affine import Affine
from chalcedon.geometry.boxes import EMPTY, Box
from chalcedon.geometry.curves import cubic_extrema, cubic_point, quadratic_extrema, quadratic_point

COORDS = {"M": 2, "L": 2, "Q": 4, "C": 6, "Z": 0}
"""How many coordinates follow each verb."""

Command = tuple[str, tuple[float, ...]]


class OutlinePen(Protocol):
    """What a path can be drawn into: absolute coordinates, in order."""

    def move(self, x: float, y: float) -> None: ...
    def line(self, x: float, y: float) -> None: ...
    def quadratic(self, x1: float, y1: float, x: float, y: float) -> None: ...
    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None: ...
    def close(self) -> None: ...


class Outline:
    """An immutable outline. `verbs` is a string of M L Q C Z; `coords` the flat coordinates, in local px.

    Invariant: every subpath starts with M; Z ends a subpath and the next verb, if any, is M.
    """

    __slots__ = ("_bounds", "coords", "measured", "verbs")

    def __init__(self, verbs: str, coords: tuple[float, ...]) -> None:
        self.verbs = verbs
        self.coords = coords
        self._bounds: Box | None = None
        self.measured: Any = None  # for geometry/along.py: its lengths, which take long to be worked out

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Outline) and self.verbs == other.verbs and self.coords == other.coords

    def __hash__(self) -> int:
        return hash((self.verbs, self.coords))

    def segments(self) -> Iterator[Command]:
        """Each verb with its numbers: M and L a point, Q two, C three, Z none."""
        at, coords = 0, self.coords
        for verb in self.verbs:
            count = COORDS[verb]
            yield verb, coords[at : at + count]
            at += count

    def draw(self, pen: OutlinePen) -> None:
        """Draws itself with a pen."""
        calls: dict[str, Callable[..., None]] = {"M": pen.move, "L": pen.line, "Q": pen.quadratic, "C": pen.cubic}
        for verb, c in self.segments():
            if verb == "Z":
                pen.close()
            else:
                calls[verb](*c)

    def mapped(self, m: Affine) -> Outline:
        """The outline under an affine map."""
        a, b, c, d, e, f = m
        src = self.coords
        out = [0.0] * len(src)
        for i in range(0, len(src), 2):
            x, y = src[i], src[i + 1]
            out[i] = a * x + c * y + e
            out[i + 1] = b * x + d * y + f
        return Outline(self.verbs, tuple(out))

    def bounds(self) -> Box:
        """The exact box of the outline: curve extrema count, control points don't."""
        if self._bounds is None:
            self._bounds = _bounds(self)
        return self._bounds


class PathBuilder:
    """A pen that makes a Outline."""

    def __init__(self) -> None:
        self._verbs: list[str] = []
        self._coords: list[float] = []

    def move(self, x: float, y: float) -> None:
        self._verbs.append("M")
        self._coords += (x, y)

    def line(self, x: float, y: float) -> None:
        self._verbs.append("L")
        self._coords += (x, y)

    def quadratic(self, x1: float, y1: float, x: float, y: float) -> None:
        self._verbs.append("Q")
        self._coords += (x1, y1, x, y)

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        self._verbs.append("C")
        self._coords += (x1, y1, x2, y2, x, y)

    def close(self) -> None:
        self._verbs.append("Z")

    def path(self) -> Outline:
        """What was drawn so far."""
        return Outline("".join(self._verbs), tuple(self._coords))


def subpaths(path: Outline) -> list[Outline]:
    """The subpaths, each as a path of its own."""
    out = []
    verbs = ""
    coords: list[float] = []
    for verb, c in path.segments():
        if verb == "M" and verbs:
            out.append(Outline(verbs, tuple(coords)))
            verbs, coords = "", []
        verbs += verb
        coords += c
    if verbs:
        out.append(Outline(verbs, tuple(coords)))
    return out


def as_one(paths: Iterable[Outline]) -> Outline:
    """One outline of all the subpaths of several."""
    parts = list(paths)
    return Outline("".join(p.verbs for p in parts), tuple(v for p in parts for v in p.coords))


def _bounds(path: Outline) -> Box:
    xs, ys = list(path.coords[0::2]), list(path.coords[1::2])
    if not xs:
        return EMPTY
    if "Q" in path.verbs or "C" in path.verbs:
        xs, ys = [], []
        px = py = 0.0
        for verb, c in path.segments():
            if verb == "Z":
                continue
            if verb == "C":
                for t in cubic_extrema(px, c[0], c[2], c[4]):
                    xs.append(cubic_point(px, c[0], c[2], c[4], t))
                for t in cubic_extrema(py, c[1], c[3], c[5]):
                    ys.append(cubic_point(py, c[1], c[3], c[5], t))
            elif verb == "Q":
                for t in quadratic_extrema(px, c[0], c[2]):
                    xs.append(quadratic_point(px, c[0], c[2], t))
                for t in quadratic_extrema(py, c[1], c[3]):
                    ys.append(quadratic_point(py, c[1], c[3], t))
            px, py = c[-2], c[-1]
            xs.append(px)
            ys.append(py)
    return min(xs), min(ys), max(xs), max(ys)
