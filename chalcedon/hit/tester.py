"""Hit testing: exact, on the fills and the true stroke outlines, front to back."""

from __future__ import annotations

import math
from collections.abc import Container
from typing import Any

from chalcedon.evaluate import DisplayList, Node
from chalcedon.evaluate.kept import display_of
from chalcedon.geometry import Box
from chalcedon.geometry.flatten import distance_to_edges
from chalcedon.hit.index import HitIndex
from chalcedon.hit.parts import has_fill, part_at
from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene import Scene, Shape
from chalcedon.scene.axes import across


class Hit:
    """A shape at a point. `part` is fill, stroke, text, image, box, or cut for a cut-out; `point` is in scene px,
    `local` in the shape's space."""

    __slots__ = ("_distance", "_node", "_page", "local", "part", "point", "shape")

    def __init__(self, node: Node, part: str, point: tuple[float, float], local: tuple[float, float]) -> None:
        self.shape: Shape = node.shape
        self.part = part
        self.point = self._page = point
        self.local = local
        self._node = node
        self._distance: float | None = None

    @property
    def id(self) -> str:
        """The id of the shape."""
        return self.shape.id

    @property
    def copy(self) -> tuple[int, ...]:
        """Which copy of the shape: the number of it in every copied group around; () when there is one."""
        return self._node.copy

    @property
    def distance(self) -> float:
        """Scene px from the point to the shape's outline, as it stands when first asked for."""
        if self._distance is None:
            self._distance = distance_to_edges(self._node.edges, *self._page)
        return self._distance

    def __repr__(self) -> str:
        return f"<Hit {self.id}{list(self.copy) if self.copy else ''} {self.part}>"


class HitTester:
    """Hit tests of one scene, with everything derived kept between calls."""

    def __init__(self, scene: Scene, display: DisplayList | None = None) -> None:
        self.display = display or DisplayList(scene)
        self._owns = display is None
        self.index = HitIndex(self.display)
        self.display.readers.append(self.index.follow)

    def refresh(self) -> None:
        """Takes in what changed since the last call, when the display list is this tester's own."""
        if self._owns:
            self.display.update()

    def hit_test(
        self,
        x: float,
        y: float,
        *,
        first: bool = False,
        only: Container[Shape] | None = None,
        unlocked: bool = False,
        radius: float = 0.0,
        cuts: bool = False,
    ) -> list[Hit]:
        """The hits at (x, y) in scene px, front to back.

        `first` stops at the frontmost; `only` limits the test to some shapes; `unlocked` leaves locked shapes
        out. With a `radius`, when nothing is hit exactly, the shape nearest within it is. A cut-out takes what it
        removes out of the hits, and is one itself only with `cuts`. Raises ValueProblem for numbers that aren't finite.
        """
        check_place(x, y)
        self.refresh()
        hits = []
        cutters = {id(n): (a, b) for n, a, b in self.display.cutters}
        removed: list[tuple[int, int]] = []
        for node in self.index.at(x, y):
            if removed:
                rank = self.display.rank[node.slot]
                if any(a <= rank < b for a, b in removed):
                    continue
            if cutters and id(node) in cutters:
                part = part_at(node, x, y, "painted")  # it cuts where it would be painted, whatever may be hit
                if part is not None:
                    removed.append(cutters[id(node)])
                    if cuts and not (unlocked and node.locked) and (only is None or node.shape in only):
                        hits.append(Hit(node, "cut", (x, y), part[1]))
                        if first:
                            break
                continue
            if (only is not None and node.shape not in only) or (unlocked and node.locked):
                continue
            found = part_at(node, x, y)
            if found is not None:
                hits.append(Hit(node, found[0], (x, y), found[1]))
                if first:
                    break
        if not hits and radius > 0.0:
            near = self._nearest(x, y, radius, only, unlocked)
            return [near] if near is not None else []
        return hits

    def _nearest(self, x: float, y: float, radius: float, only: Container[Shape] | None, unlocked: bool) -> Hit | None:
        best: tuple[float, Hit] | None = None
        for node in self.index.within((x - radius, y - radius, x + radius, y + radius)):
            if (only is not None and node.shape not in only) or (unlocked and node.locked) or node.inverse is None:
                continue
            away = distance_to_paint(node, x, y)
            if away is not None and away[0] <= radius and (best is None or away[0] < best[0]):
                best = away[0], Hit(node, away[1], (x, y), node.inverse.map(x, y))
        return best[1] if best else None

    def inside(self, box: Box, *, unlocked: bool = False) -> list[Shape]:
        """The visible shapes whose outline lies wholly in `box` (scene px), back to front."""
        self.refresh()
        out = []
        for node in reversed(self.index.within(box)):
            if unlocked and node.locked:
                continue
            a, b, c, d = node.bounds()
            if a >= box[0] and b >= box[1] and c <= box[2] and d <= box[3]:
                out.append(node.shape)
        return out


def distance_to_paint(node: Node, x: float, y: float) -> tuple[float, str] | None:
    """How far (x, y) is outside what the pointer rule lets be hit, in scene px, and the part nearest.

    None when nothing of the shape can be hit. For strokes the distance is to the band along the outline.
    """
    rule = node.pointer
    if rule == "none" or node.box[0] > node.box[2]:
        return None
    away = distance_to_edges(node.edges, x, y)
    if rule == "box":
        return away, "box"
    pen = node.pen
    if ((node.stroke is not None and rule == "painted") or rule in ("stroke", "all")) and pen and pen.width > 0.0:
        return max(0.0, away - pen.width / 2 * (1.0 if node.manner.steady else node.world.stretch)), "stroke"
    if (has_fill(node) and rule == "painted") or rule in ("fill", "all"):
        return away, "fill"
    return None


def check_place(x: float, y: float) -> None:
    """Raises ValueProblem for what is no place."""
    try:
        found = math.isfinite(x) and math.isfinite(y)
    except (TypeError, OverflowError):
        found = False
    if not found:
        raise ValueProblem(f"{shorten(x)}, {shorten(y)} is no place.", hint="Give two finite numbers.")


def hit_test(scene: Scene, x: float, y: float, **options: Any) -> list[Hit]:
    """The shapes at (x, y) in the scene's coordinates, front to back. Options as in HitTester.hit_test.

    What is derived from the scene is kept as long as the scene lives, so repeated calls are fast.
    """
    hits = tester_of(scene).hit_test(*across(scene, x, y), **options)
    for hit in hits:
        hit.point = x, y
    return hits


def tester_of(scene: Scene) -> HitTester:
    """The hit tester that is kept with a scene, up to date."""
    display = display_of(scene)
    found: HitTester | None = scene.kept.get("hit tester")
    if found is None:
        found = scene.kept["hit tester"] = HitTester(scene, display)
    return found
