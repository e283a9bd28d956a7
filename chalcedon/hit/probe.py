"""What is under the pointer, and why the rest is not: the probe's findings."""

from __future__ import annotations

from dataclasses import dataclass

from chalcedon.evaluate import Node
from chalcedon.geometry.boxes import holds, inflate
from chalcedon.geometry.flatten import distance_to_edges
from chalcedon.hit.parts import has_fill, in_clip, part_at
from chalcedon.hit.tester import HitTester, check_place, distance_to_paint, tester_of
from chalcedon.scene import Scene, Shape
from chalcedon.scene.axes import across
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture

NEAR = 30.0
"""How far a miss may be, in scene px, to be worth a word."""
LOOKED_AT = 60
"""How many of the shapes near a point are looked at for misses, from the front."""
FLAT = 2.0
"""How near, in scene px, one points at a shape that is scaled to nothing."""
MOST = 8
"""How many misses are listed."""


@dataclass(frozen=True, slots=True)
class Finding:
    """A shape at or near a point. `part` is empty for a miss; `reason` says why it is one, or what covers a hit."""

    shape: Shape
    part: str
    distance: float
    reason: str
    copy: tuple[int, ...] = ()
    """Which copy of the shape, as of a Hit."""


def probe(of: Scene | HitTester, x: float, y: float, near: float = NEAR, build: bool = True) -> list[Finding]:
    """Hits from front to back, then misses from near to far, at (x, y): in a scene's coordinates, of a hit tester in px
    of the page. With `build`, locked shapes count as misses. Raises ValueProblem for numbers that aren't finite."""
    check_place(x, y)
    if not isinstance(of, HitTester):
        x, y = across(of, x, y)
    tester = of if isinstance(of, HitTester) else tester_of(of)
    tester.refresh()
    hits: list[Finding] = []
    misses: list[Finding] = []
    cover = ""
    seen: set[Node] = set()
    cutters = {id(n): (n, a, b) for n, a, b in tester.display.cutters}
    removed: list[tuple[Node, int, int]] = []
    for node in tester.index.at(x, y):
        found = part_at(node, x, y, "painted" if id(node) in cutters else "")
        if found is None:
            continue
        seen.add(node)
        rank = tester.display.rank[node.slot]
        cutter = next((n for n, a, b in removed if a <= rank < b), None)
        if cutter is not None:
            misses.append(Finding(node.shape, "", 0.0, f"cut out by {cutter.shape.id}", node.copy))
            continue
        if id(node) in cutters:
            removed.append(cutters[id(node)])
            hits.append(Finding(node.shape, "cut", distance_to_edges(node.edges, x, y), "", node.copy))
            continue
        distance = distance_to_edges(node.edges, x, y)
        if build and node.locked:
            misses.append(Finding(node.shape, "", 0.0, "locked", node.copy))
        else:
            hits.append(Finding(node.shape, found[0], distance, f"covered by {cover}" if cover else "", node.copy))
        if not cover and _opaque(node, found[0]):
            cover = node.shape.id
    for node in tester.index.within((x - near, y - near, x + near, y + near))[:LOOKED_AT]:
        if node not in seen:
            miss = _miss(node, x, y, near)
            if miss is not None:
                misses.append(miss)
    misses += _hidden(tester, x, y)
    misses.sort(key=lambda m: m.distance)
    return hits + misses[:MOST]


def _opaque(node: Node, part: str) -> bool:
    paint = node.fill if part == "fill" else node.stroke if part == "stroke" else None
    return opaque(paint) and node.opacity >= 1.0 and node.blend == "normal" and part != "text"


def opaque(paint: Look | None) -> bool:
    """Whether nothing shows through a paint."""
    if isinstance(paint, GradientLook):
        return all(color[3] == 255 for _, color in paint.stops)
    return paint is not None and not isinstance(paint, Pattern | Picture) and paint[3] == 255


def _miss(node: Node, x: float, y: float, near: float) -> Finding | None:
    inverse = node.inverse
    assert inverse is not None
    if any(not in_clip(g, x, y) for g in node.clips):
        if not holds(node.cull, x, y) or distance_to_edges(node.edges, x, y) > near:
            return None
        return Finding(node.shape, "", 0.0, f"clipped by {_clip_of(node, x, y)}", node.copy)
    local = inverse.map(x, y)
    inside = holds(node.box, *local) and node.fill_region.contains(*local)
    if inside and node.pointer == "none":
        return Finding(node.shape, "", 0.0, "pointer none", node.copy)
    if inside and not has_fill(node) and node.pointer == "painted":
        return Finding(node.shape, "", 0.0, "no fill here", node.copy)
    if inside and node.pointer == "stroke":
        return Finding(node.shape, "", 0.0, "hit on stroke only", node.copy)
    away = distance_to_paint(node, x, y)
    if away is None:
        if not has_fill(node) and node.stroke is None and inside:
            return Finding(node.shape, "", 0.0, "no paint", node.copy)
        return None
    return Finding(node.shape, "", away[0], f"off by {away[0]:.1f}", node.copy) if 0.0 < away[0] <= near else None


def _clip_of(node: Node, x: float, y: float) -> str:
    group = next(g for g in node.clips if not in_clip(g, x, y))
    assert group.clip is not None
    return group.clip.shape.id


def _hidden(tester: HitTester, x: float, y: float) -> list[Finding]:
    out = []
    for node in tester.display.order:
        if node.box[0] > node.box[2] or (node.visible and node.inverse is not None):
            continue
        if node.inverse is None:
            if holds(inflate(node.world.map_box(node.box), FLAT), x, y):
                out.append(
                    Finding(node.shape, "", 0.0, "scaled to nothing" if node.visible else _why_hidden(node), node.copy)
                )
        elif holds(node.world.map_box(node.box), x, y) and node.fill_region.contains(*node.inverse.map(x, y)):
            out.append(Finding(node.shape, "", 0.0, _why_hidden(node), node.copy))
        if len(out) == MOST:
            break
    return out


def _why_hidden(node: Node) -> str:
    parent = node.parent
    if node.value("visible"):
        while parent is not None:
            if not parent.value("visible"):
                return f"hidden with {parent.shape.id}"
            parent = parent.parent
    return "hidden"
