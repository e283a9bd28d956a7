"""Where is it? Every reason why a shape can't be seen, or hardly, with what would bring it out.

Shares are by area: points spread over what the shape paints are asked, not boxes.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from chalcedon.craft.arrange import move_by
from chalcedon.craft.checkup import Repair
from chalcedon.craft.together import size
from chalcedon.evaluate import DisplayList, Node
from chalcedon.geometry import Box
from chalcedon.geometry.boxes import is_empty
from chalcedon.hit.contrast import Sample, is_stroked, lost_in, paint_at, parents_of, set_value, shows
from chalcedon.hit.parts import in_clip, part_at
from chalcedon.hit.probe import opaque
from chalcedon.hit.tester import HitTester, tester_of
from chalcedon.scene import Group, Scene, Shape, Text
from chalcedon.scene.order import place_of
from chalcedon.scene.painted import CLAY, INK

ACROSS = 16
"""Points a side of the grid that is spread over a shape."""
MOST = 320
"""Points that are asked for one shape."""
LEAST = 1.0
"""Scene px below which a shape is hardly seen."""
HIDDEN, MOSTLY = 0.995, 0.75
"""Shares from which on it is wholly, and mostly, covered."""


class Reason(NamedTuple):
    """Why a shape isn't seen. `what` is the kind of reason, `share` how much of it that hides (0 to 1), `by` the shapes
    that do."""

    what: str
    sentence: str
    repairs: tuple[Repair, ...] = ()
    share: float = 1.0
    by: tuple[Shape, ...] = ()


def where(of: Scene | HitTester, shape: Shape) -> list[Reason]:
    """The reasons why a shape isn't seen, the first to mend first; none for one that is. Of a group, those of all that
    is in it."""
    tester = of if isinstance(of, HitTester) else tester_of(of)
    tester.refresh()
    display = tester.display
    node = display.node(shape)
    found = list(_of_itself(display, node))
    if any(r.share >= 1.0 for r in found):
        return found
    return found + list(_by_others(tester, node))


def first_cause(display: DisplayList, node: Node) -> str:
    """The first reason that a look at the shape alone gives, in a few words; empty when there is none. Quick enough for
    every row of a list; of a group only what it states itself."""
    for step in parents_of(node):
        if not step.value("visible"):
            return "hidden"
        if step.value("opacity") == 0:
            return "an opacity of 0"
    if node.group or not (node.kind.paints or node.kind.image):
        return ""
    if not shows(node.fill) and not is_stroked(node) and node.picture is None:
        return "no paint"
    if node.inverse is None:
        return "scaled to nothing"
    left, top, right, bottom = node.cull
    width, height = display.scene.size
    if left > right:
        return "no outline"
    if max(right - left, bottom - top) < LEAST:
        return "smaller than a pixel"
    return "off the page" if right <= 0 or bottom <= 0 or left >= width or top >= height else ""


# what can be said of the shape alone


def _of_itself(display: DisplayList, node: Node) -> Iterator[Reason]:
    shape = node.shape
    yield from _switched_off(node)
    leaves = node.walk_leaves() if node.group else [node]
    if node.group and not leaves:
        yield Reason("empty", f"{shape.id} holds nothing.")
        return
    if all(leaf.kind.paints or leaf.kind.image for leaf in leaves):
        yield from _no_paint(node, leaves)
    box = node.bounds()
    if any(leaf.inverse is None for leaf in leaves):
        yield from _flattened(leaves)
    elif is_empty(box):
        yield Reason("no outline", f"{shape.id} has no outline: there is nothing to paint.")
    else:
        yield from _too_small(display, node, box)
        yield from _off_page(display, node)


def _switched_off(node: Node) -> Iterator[Reason]:
    shape = node.shape
    for level, step in enumerate(parents_of(node)):
        who = step.shape
        if not step.value("visible"):
            text = f"{shape.id} is hidden." if level == 0 else f"{shape.id} is in {who.id}, which is hidden."
            yield Reason(
                "hidden", text, (set_value(who, "visible", True, f"Show {who.id}"),), by=(who,) if level else ()
            )
        if step.value("opacity") == 0:
            text = (
                f"{shape.id} has an opacity of 0." if level == 0 else f"{who.id}, which it is in, has an opacity of 0."
            )
            yield Reason("clear", text, (set_value(who, "opacity", 1, "Opacity 1"),), by=(who,) if level else ())


def _no_paint(node: Node, leaves: Sequence[Node]) -> Iterator[Reason]:
    shape = node.shape
    if any(shows(leaf.fill) or is_stroked(leaf) or leaf.picture is not None for leaf in leaves):
        if isinstance(shape, Text) and not shape.content.strip():
            yield Reason("no words", f"{shape.id} says nothing.")
        return
    if node.group:
        yield Reason("no paint", f"nothing in {shape.id} has a fill or a stroke.")
    elif off := [n for n in ("fill", "stroke") if shape.stated(n) is not None and not shape.stated(f"{n}_on")]:
        repairs = tuple(set_value(shape, f"{n}_on", True, f"Switch the {n} on") for n in off)
        yield Reason("no paint", f"{' and '.join(off)} of {shape.id} {'are' if len(off) > 1 else 'is'} off.", repairs)
    elif shape.is_open:
        yield Reason("no paint", f"{shape.id} has no stroke.", (set_value(shape, "stroke", INK, "Stroke it"),))
    else:
        yield Reason(
            "no paint", f"{shape.id} has neither fill nor stroke.", (set_value(shape, "fill", CLAY, "Fill it"),)
        )


def _flattened(leaves: Sequence[Node]) -> Iterator[Reason]:
    leaf = next(n for n in leaves if n.inverse is None)
    for step in parents_of(leaf):
        steps = step.shape.stated("steps")
        flat = [
            i for i, s in enumerate(step.value("steps")) if s.on and s.op in ("scale", "matrix") and _is_flat(s.values)
        ]
        if flat:
            off = tuple(s._replace(on=False) if i in flat else s for i, s in enumerate(steps))
            yield Reason(
                "scaled to nothing",
                f"a step of {step.shape.id} scales it to nothing.",
                (set_value(step.shape, "steps", off, "Switch that step off"),),
            )
            return
    yield Reason("scaled to nothing", f"the steps of {leaf.shape.id} flatten it to nothing.")


def _is_flat(values: Sequence[float]) -> bool:
    if len(values) == 2:
        return values[0] * values[1] == 0
    return abs(values[0] * values[3] - values[1] * values[2]) < 1e-12


def _too_small(display: DisplayList, node: Node, box: Box) -> Iterator[Reason]:
    painted = node.painted_bounds()
    extent = max(painted[2] - painted[0], painted[3] - painted[1])
    if not extent < LEAST:
        return
    own = max(box[2] - box[0], box[3] - box[1])
    text = f"{node.shape.id} is smaller than a pixel: {painted[2] - painted[0]:.2g} × {painted[3] - painted[1]:.2g} px."
    larger = Repair("Make it 20 px large", lambda d: size(d, [node.shape], 20 / own))
    repairs = (larger,) if own > 0 else ()
    yield Reason("too small", text, repairs)


def _off_page(display: DisplayList, node: Node) -> Iterator[Reason]:
    width, height = display.scene.size
    left, top, right, bottom = node.painted_bounds()
    ways = [
        (-right, "left of", -left, 0.0),
        (left - width, "right of", width - right, 0.0),
        (-bottom, "above", 0.0, -top),
        (top - height, "below", 0.0, height - bottom),
    ]
    out = [w for w in ways if w[0] >= 0]
    if not out:
        return
    where_to = " and ".join(f"{f'{far:.4g} px' if far >= 0.001 else 'just'} {word}" for far, word, _, _ in out)
    dx, dy = sum(w[2] for w in out), sum(w[3] for w in out)
    shape = node.shape
    yield Reason(
        "off the page",
        f"{shape.id} is {where_to} the page.",
        (Repair("Move it onto the page", lambda d: move_by(d, [shape], dx, dy)),),
    )


# what other shapes do to it


def _by_others(tester: HitTester, node: Node) -> Iterator[Reason]:
    leaves = node.walk_leaves() if node.group else [node]
    share = max(1, MOST // len(leaves))
    own = set(map(id, leaves))
    samples = [(leaf, s) for leaf in leaves[:MOST] if leaf.visible for s in _samples(leaf, share)]
    if not samples:
        return
    count = len(samples)
    clipped, cut, covered = Counter[Shape](), Counter[Shape](), Counter[Shape]()
    seen: list[tuple[Node, Sample]] = []
    for leaf, s in samples:
        what, by = _fate(tester, leaf, s, own)
        if what == "clipped":
            clipped[by] += 1  # type: ignore[index]
        elif what == "cut":
            cut[by] += 1  # type: ignore[index]
        elif what == "covered":
            covered[by] += 1  # type: ignore[index]
        else:
            seen.append((leaf, s))
    yield from _told("clipped", node.shape, clipped, count, "clipped away by")
    yield from _told("cut out", node.shape, cut, count, "cut out by")
    yield from _told("covered", node.shape, covered, count, "covered by")
    if seen:
        lost = lost_in(tester, node.shape, seen)
        if lost is not None:
            yield Reason("same colour", lost[0], (lost[1],) if lost[1] is not None else (), 0.99)


def _samples(node: Node, most: int) -> list[Sample]:
    """Points of what a shape paints, spread evenly: over its inside, and along its outline where it is stroked."""
    left, top, right, bottom = node.cull
    if not left <= right:
        return []
    side = max(2, min(ACROSS, math.isqrt(most)))
    out = []
    for i in range(side):
        for k in range(side):
            x, y = left + (right - left) * (i + 0.5) / side, top + (bottom - top) * (k + 0.5) / side
            part = paint_at(node, x, y)
            if part is not None:
                out.append(Sample(x, y, part[0]))
    if is_stroked(node) or not out:
        edges = node.edges
        every = max(1, len(edges) // side)
        for x, y, x2, y2 in edges[::every]:
            part = paint_at(node, (x + x2) / 2, (y + y2) / 2)
            if part is not None:
                out.append(Sample((x + x2) / 2, (y + y2) / 2, part[0]))
    return out


def _fate(tester: HitTester, node: Node, s: Sample, own: set[int]) -> tuple[str, Shape | None]:
    """What becomes of a point of a shape: clipped, cut, covered, or seen; and by which shape."""
    for group in node.clips:
        if not in_clip(group, s.x, s.y):
            assert group.clip is not None
            return "clipped", group.clip.shape
    display = tester.display
    rank = display.rank[node.slot]
    cutters = {id(n): (a, b) for n, a, b in display.cutters}
    cover: Shape | None = None
    removed: list[tuple[int, int]] = []
    for other in tester.index.at(s.x, s.y):
        above = display.rank[other.slot]
        if above <= rank:
            break
        if id(other) in own or not other.visible or any(a <= above < b for a, b in removed):
            continue
        part = part_at(other, s.x, s.y, "painted")
        if part is None:
            continue
        if id(other) in cutters:
            low, high = cutters[id(other)]
            if low <= rank < high:
                return "cut", other.shape
            removed.append((low, high))
        elif cover is None and _covers(other, part[0]):
            cover = other.shape
    return ("covered", cover) if cover is not None else ("seen", None)


def _covers(node: Node, part: str) -> bool:
    """Whether nothing shows through what a shape paints."""
    paint = node.fill if part in ("fill", "text") else node.stroke if part == "stroke" else None
    solid = opaque(paint) and node.blend == "normal"
    return solid and all(step.value("opacity") >= 1 for step in parents_of(node))


def _told(what: str, shape: Shape, by: Counter[Shape], count: int, words: str) -> Iterator[Reason]:
    share = sum(by.values()) / count
    if share < MOSTLY:
        return
    names = ", ".join(f"{s.id} ({round(100 * n / count)} %)" for s, n in by.most_common(3))
    more = f" and {len(by) - 3} more" if len(by) > 3 else ""
    how = "" if share >= HIDDEN else f"to {round(100 * share)} % "
    others = tuple(s for s, _ in by.most_common())
    yield Reason(what, f"{shape.id} is {how}{words} {names}{more}.", tuple(_out_of(what, shape, others)), share, others)


def _out_of(what: str, shape: Shape, others: tuple[Shape, ...]) -> Iterator[Repair]:
    first = others[0]
    if what == "clipped":
        yield Repair("Take the clip away", lambda d: _unclip(d, shape))
        return
    yield Repair("Bring it in front", lambda d: bring_out(d, shape, others))
    if len(others) == 1:
        yield set_value(first, "visible", False, f"Hide {first.id}")


def _unclip(display: DisplayList, shape: Shape) -> None:
    group = shape if isinstance(shape, Group) else shape.parent
    with display.scene.step(f"Take the clip away from {shape.id}"):
        while group is not None:
            if group.stated("clip"):
                group.assign("clip", "")
            group = group.parent


def bring_out(display: DisplayList, shape: Shape, others: Iterable[Shape]) -> None:
    """Puts a shape right in front of all of others; of groups that hold it or them, the whole."""
    with display.scene.step(f"Bring {shape.id} in front"):
        for other in others:
            one, two = _siblings(shape, other)
            if one is None or two is None:
                continue
            group, at = place_of(two)
            _, mine = place_of(one)
            if mine < at:
                display.scene.move(one, group, at)


def _siblings(a: Shape, b: Shape) -> tuple[Shape | None, Shape | None]:
    """What of two shapes, or of the groups around them, lies in one and the same group."""
    chain = [a]
    while chain[-1].parent is not None:
        chain.append(chain[-1].parent)
    below: Shape | None = b
    while below is not None and below.parent not in chain:
        below = below.parent
    if below is None:
        return None, None
    above = next((s for s in chain if s.parent is below.parent), None)
    return above, below
