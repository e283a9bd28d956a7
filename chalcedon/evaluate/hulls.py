"""The outlines of shapes as formulas ask for them, in the space of whoever asks."""

from __future__ import annotations

from functools import cached_property

from chalcedon.evaluate.node import Node
from chalcedon.geometry import Affine, Outline
from chalcedon.geometry.along import Along, area, measured
from chalcedon.geometry.boxes import is_empty
from chalcedon.geometry.contain import Region
from chalcedon.geometry.flatten import edges, flatten
from chalcedon.geometry.path import as_one
from chalcedon.problems import ValueProblem

TOLERANCE = 0.01
"""How far flattened outlines may run from the true ones where distances are asked for, in px."""

Point = tuple[float, float]


class NodeHull:
    """The outline of a node, mapped into a space. A group has the outlines of all that it holds."""

    def __init__(self, node: Node, m: Affine) -> None:
        self.node = node
        leaves = node.walk_leaves()
        if node.group:
            back = node.inverse
            to = m if back is None else m.after(back)
            parts = [leaf.outline.mapped(to.after(leaf.world)) for leaf in leaves]
            self.path = as_one(parts)
        else:
            self.path = node.outline.mapped(m)

    @cached_property
    def _along(self) -> Along:
        along = measured(self.path)
        if along.length <= 0:
            raise ValueProblem(f"{self.node.shape.id} has no outline with a length.")
        return along

    @cached_property
    def _region(self) -> Region:
        return Region(self.path, self.node.even_odd)

    @cached_property
    def _edges(self) -> list[tuple[float, float, float, float]]:
        return edges(flatten(self.path, TOLERANCE))

    def _spot(self, t: float):  # type: ignore[no-untyped-def]
        share = t % 1.0 if t != 1.0 else 1.0
        spot = self._along.at(share * self._along.length)
        assert spot is not None
        return spot

    def along(self, t: float) -> Point:
        spot = self._spot(t)
        return spot.x, spot.y

    def heading(self, t: float) -> float:
        angle: float = self._spot(t).angle
        return angle

    def nearest(self, p: Point) -> Point | None:
        """The place of the outline that is nearest to a point; None where there is no outline."""
        found = measured(self.path).nearest(*p)
        return None if found is None else (found[0].x, found[0].y)

    def inside(self, p: Point) -> bool:
        return self._region.contains(*p)

    def length(self) -> float:
        return self._along.length

    def area(self) -> float:
        return abs(area(self.path))

    def overlaps(self, other: NodeHull) -> bool:
        a, b = self.path.bounds(), other.path.bounds()
        if is_empty(a) or is_empty(b) or a[2] < b[0] or b[2] < a[0] or a[3] < b[1] or b[3] < a[1]:
            return False
        return self.gap(other) == 0.0 or self.inside(_first(other.path)) or other.inside(_first(self.path))

    def gap(self, other: NodeHull) -> float:
        return apart(self._edges, other._edges)


def _first(path: Outline) -> Point:
    return (path.coords[0], path.coords[1]) if path.coords else (float("nan"), 0.0)


def apart(a: list[tuple[float, float, float, float]], b: list[tuple[float, float, float, float]]) -> float:
    """The least distance of two sets of edges; 0 where any cross. Raises ValueProblem where there are none."""
    import numpy as np

    if not a or not b:
        raise ValueProblem("there is no outline to measure to.")
    best = np.inf
    others = np.array(b)
    for x0, y0, x1, y1 in a:
        best = min(best, _edge_to_edges(x0, y0, x1, y1, others))
        if best == 0.0:
            break
    return float(best)


def _edge_to_edges(x0: float, y0: float, x1: float, y1: float, others) -> float:  # type: ignore[no-untyped-def]
    import numpy as np

    ax, ay, bx, by = others.T
    dx, dy, ex, ey = x1 - x0, y1 - y0, bx - ax, by - ay
    cross = dx * ey - dy * ex
    with np.errstate(divide="ignore", invalid="ignore"):
        s = ((ax - x0) * ey - (ay - y0) * ex) / cross
        t = ((ax - x0) * dy - (ay - y0) * dx) / cross
    if bool(np.any((s >= 0) & (s <= 1) & (t >= 0) & (t <= 1))):
        return 0.0
    ends = [
        _to_edge(ax, ay, x0, y0, dx, dy),
        _to_edge(bx, by, x0, y0, dx, dy),
        _to_edge(x0, y0, ax, ay, ex, ey),
        _to_edge(x1, y1, ax, ay, ex, ey),
    ]
    return float(np.sqrt(min(np.min(d) for d in ends)))


def _to_edge(px, py, x, y, dx, dy):  # type: ignore[no-untyped-def]
    """The squares of distances of points from edges from x, y along dx, dy."""
    import numpy as np

    size = dx * dx + dy * dy
    t = np.clip(((px - x) * dx + (py - y) * dy) / np.where(size == 0, 1, size), 0, 1)
    return (px - x - t * dx) ** 2 + (py - y - t * dy) ** 2
