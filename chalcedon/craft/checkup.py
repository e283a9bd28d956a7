"""The check-up: what is wrong with the outlines and values of shapes, or without effect, and how to repair it.

Nothing is changed here; every remark has a sentence, the places that it speaks of in scene px, and repairs that can
be carried out, each one undo step.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import partial
from itertools import pairwise, takewhile

from chalcedon.craft import points as edit
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.evaluate.node import Node
from chalcedon.geometry import Outline
from chalcedon.geometry.boxes import is_empty
from chalcedon.geometry.contours import Contour
from chalcedon.geometry.path import subpaths
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Line, Path, Polyline, Shape
from chalcedon.scene.painted import STROKE_LOOKS, Painted
from chalcedon.scene.tidy import tidy

GAP = 3.0
"""Scene px between two ends that were probably meant to meet."""
TOUCH = 0.01
"""Scene px at which two points are one."""
LEAST_AREA, LEAST_WIDTH = 0.5, 0.25
"""Square px and mean px from which on a region can be seen."""


GRAVE = frozenset(("formula", "malformed", "no such shape", "no such colour", "no image"))


@dataclass(frozen=True, slots=True)
class Repair:
    """Something that would mend what a remark speaks of: a word for it, and what does it, as one undo step."""

    words: str
    act: Callable[[DisplayList], object]


@dataclass(frozen=True, slots=True)
class Remark:
    """`name` is the property to look at; `spots` are the places on the page, possibly none."""

    shape: Shape
    what: str
    sentence: str
    name: str = ""
    spots: tuple[tuple[float, float], ...] = ()
    repairs: tuple[Repair, ...] = ()
    area: Outline | None = None
    """An area in scene px that the remark speaks of."""

    @property
    def grave(self) -> bool:
        """Whether something that is asked for can't be shown, rather than looks odd."""
        return self.what in GRAVE

    def __str__(self) -> str:
        return f"{self.shape.id or 'scene'}: {self.sentence}"


def check_up(display: DisplayList, shapes: Iterable[Shape] | None = None) -> list[Remark]:
    """What there is to say about the outlines of some shapes, or of all, in paint order. `check_values` says what
    there is about other values."""
    display.settle()
    wanted = None if shapes is None else {id(n) for s in shapes for n in display.node(s).walk_leaves()}
    out: list[Remark] = []
    for node in display.order:
        if (wanted is None or id(node) in wanted) and isinstance(node.shape, Painted):
            out += check_node(node)
    return out


def check_node(node: Node) -> list[Remark]:
    """What there is to say about the outline of one shape that paints."""
    out: list[Remark] = []
    if isinstance(node.shape, Line | Polyline | Path):
        out += _ends(node)
        out += _nothings(node)
    if not node.kind.text:
        out += _fill(node)
        out += _crossings(node)
    out += _stroke(node)
    out += _miters(node)
    return out


def _place(node: Node, point: tuple[float, float]) -> tuple[float, float]:
    """A point in raw space on the page."""
    return node.world.map(point[0] + node.shift[0], point[1] + node.shift[1])


def _ends(node: Node) -> Iterator[Remark]:
    """Ends that touch without closing, gaps that were probably not meant, a last point that repeats the first."""
    shape = node.shape
    opened: list[tuple[int, Contour]] = []
    for i, contour in enumerate(edit.contours(shape)):
        knots = contour.knots
        if contour.closed:
            if len(knots) > 2 and knots[0] == knots[-1] and isinstance(shape, Polyline):
                same = list(takewhile(lambda k, knots=knots: knots[k] == knots[0], range(len(knots) - 1, 1, -1)))  # type: ignore[misc]
                yield Remark(
                    shape,
                    "repeated point",
                    "the last point repeats the first; the outline is closed anyway.",
                    "points",
                    (_place(node, knots[0]),),
                    (_repair("Take the last point away", _deleter(shape, *((i, k) for k in same))),),
                )
            continue
        if len(knots) < 2:
            continue
        opened.append((i, contour))
        first, last = _place(node, knots[0]), _place(node, knots[-1])
        apart = math.dist(first, last)
        if len(knots) > 2 and apart <= GAP:
            touching = apart <= TOUCH
            text = (
                "its ends touch but it isn't closed, so the corner there isn't joined."
                if touching
                else f"its ends are {apart:.2g} px apart; was it meant to be closed?"
            )
            within = GAP / max(node.world.stretch, 1e-9)
            yield Remark(
                shape,
                "touching ends" if touching else "gap",
                text,
                "closed" if isinstance(shape, Polyline) else "data",
                (first, last)[: 1 if touching else 2],
                (_repair("Close it", partial(edit.close, shape=shape, within=within)),),
            )
    yield from _between(node, opened)


def _between(node: Node, opened: list[tuple[int, Contour]]) -> Iterator[Remark]:
    """Ends of different open contours that nearly meet."""
    for k, (_, a) in enumerate(opened):
        for _, b in opened[k + 1 :]:
            pairs = [(_place(node, p), _place(node, q)) for p in _tips(a) for q in _tips(b)]
            near = [(p, q) for p, q in pairs if math.dist(p, q) <= GAP]
            if near:
                yield Remark(
                    node.shape,
                    "gap",
                    "two of its parts end at the same place without being joined.",
                    "data",
                    near[0],
                    (_repair("Join them", partial(edit.join, shapes=[node.shape], within=GAP)),),
                )
                return


def _tips(c: Contour) -> tuple[tuple[float, float], tuple[float, float]]:
    return c.knots[0], c.knots[-1]


def _nothings(node: Node) -> Iterator[Remark]:
    """Segments without length, and moves that draw nothing."""
    shape = node.shape
    empty: list[tuple[int, int]] = []
    lone: list[int] = []
    all_ = edit.contours(shape)
    for c, contour in enumerate(all_):
        if len(contour.knots) == 1 and not contour.segments:
            lone.append(c)
        ring = [*contour.knots, contour.knots[0]] if contour.closed else list(contour.knots)
        for i, (a, b) in enumerate(pairwise(ring)):
            straight = contour.segments[i].letter == "L"
            last = contour.closed and i == len(contour.knots) - 1
            if a == b and straight and not last and len(contour.knots) > 1:
                empty.append((c, i + 1))
    if empty:
        count = "a segment has" if len(empty) == 1 else f"{len(empty)} segments have"
        yield Remark(
            shape,
            "no length",
            f"{count} no length: a point stands twice.",
            "data" if isinstance(shape, Path) else "points",
            tuple(_place(node, all_[c].knots[i]) for c, i in empty),
            () if isinstance(shape, Line) else (_repair("Take it out", _deleter(shape, *empty)),),
        )
    if lone and (len(lone) < len(all_) or isinstance(shape, Path)):
        rest = [c for k, c in enumerate(all_) if k not in lone]
        repair = _repair("Take it out", partial(edit.write, shape=shape, new=rest, name=f"Tidy {shape.id}"))
        yield Remark(
            shape,
            "lone move",
            "a move draws nothing: no segment follows it.",
            "data",
            tuple(_place(node, all_[c].knots[0]) for c in lone),
            (repair,) if rest else (),
        )
    if isinstance(shape, Polyline) and len(shape.points) == 1:
        yield Remark(
            shape, "one point", "a polyline of one point shows nothing.", "points", (_place(node, shape.points[0]),)
        )


def _deleter(shape: Shape, *knots: tuple[int, int]) -> Callable[[DisplayList], object]:
    return lambda display: edit.delete_points(display, shape, knots)


def _repair(words: str, act: Callable[[DisplayList], object]) -> Repair:
    return Repair(words, act)


def _setter(shape: Shape, name: str, value: object) -> Callable[[DisplayList], object]:
    return lambda display: display.scene.set(shape, name, value)


def _without_stroke(display: DisplayList, shape: Painted) -> None:
    """Takes a stroke away, with what was said of its looks."""
    with display.scene.step(f"No stroke of {shape.id}"):
        for name in ("stroke", *STROKE_LOOKS):
            default = None if name == "stroke" else type(shape).properties[name].default
            if shape.stated(name) != default:
                shape.assign(name, default)


def _fill(node: Node) -> Iterator[Remark]:
    """A fill that covers nothing."""
    if node.fill is None:
        return
    box = node.outline.bounds()
    thin = not is_empty(box) and (box[0] == box[2] or box[1] == box[3] or _collinear(node))
    if is_empty(box) or thin:
        why = "all its points lie on one line" if thin else "it has no outline"
        yield Remark(
            node.shape,
            "fill without effect",
            f"the fill has no effect: {why}.",
            "fill",
            (),
            (_repair("No fill", _setter(node.shape, "fill", None)),),
        )


def _collinear(node: Node) -> bool:
    path = node.outline
    if set(path.verbs) - set("MLZ"):
        return False
    points = [tuple(c) for _, c in path.segments() if c]
    if len(points) < 3:
        return True
    (ax, ay), far = points[0], max(points, key=lambda p: math.dist(p, points[0]))
    dx, dy = far[0] - ax, far[1] - ay
    size = math.hypot(dx, dy)
    return all(abs((x - ax) * dy - (y - ay) * dx) <= 1e-9 * size * size for x, y in points)


def _crossings(node: Node) -> Iterator[Remark]:
    """Self-crossings, where the two fill rules may differ."""
    if node.fill is None or not isinstance(node.shape, Polyline | Path):
        return
    from chalcedon.geometry.crossings import crossings  # NumPy

    found = crossings(node.outline, 0.1 / max(node.world.stretch, 1e-9))
    disputed = _disputed(node) if found else None
    if not found or (disputed is not None and not _can_be_seen(disputed)):
        return  # a bow tie is filled the same by both
    other = "nonzero" if node.even_odd else "evenodd"
    times = "once" if len(found) == 1 else f"{len(found)} times"
    shape = node.shape

    def simple(display: DisplayList) -> object:
        from chalcedon.craft.algebra import as_one_area

        return as_one_area(display, shape)

    yield Remark(
        shape,
        "crosses itself",
        f"the outline crosses itself {times}; the fill rule ({shape.stated('fill_rule')}) decides what is inside.",
        "fill_rule",
        tuple(node.world.map(*p) for p in found),
        (
            _repair(f"Fill by {other}", _setter(shape, "fill_rule", other)),
            _repair("Keep only its edge", simple),
        ),
        disputed,
    )


def _disputed(node: Node) -> Outline | None:
    """The area that one fill rule fills and the other doesn't, in scene px."""
    from chalcedon.geometry.booleans import Filled, combine

    try:
        return combine("exclusion", [Filled(node.outline, True), Filled(node.outline)]).mapped(node.world)
    except ChalcedonError:
        return None


def _can_be_seen(region: Outline) -> bool:
    """Whether a region in scene px is anywhere more than a thread."""
    from chalcedon.geometry.along import Along, area

    sizes = ((abs(area(part)), part) for part in subpaths(region))
    return any(size > LEAST_AREA and 2 * size > LEAST_WIDTH * Along(part).length for size, part in sizes)


def _stroke(node: Node) -> Iterator[Remark]:
    """A stroke that can't be seen: no width, the fill's own colour, a side that an open outline lacks."""
    shape = node.shape
    if node.stroke is None or not isinstance(shape, Painted):
        return
    unstroked = _repair("No stroke", partial(_without_stroke, shape=shape))
    if shape.stroke_width == 0:
        usual = type(shape).properties["stroke_width"].default
        yield Remark(
            shape,
            "no width",
            "the stroke has no width, so it isn't seen.",
            "stroke_width",
            (),
            (_repair(f"Width {usual:g}", _setter(shape, "stroke_width", usual)), unstroked),
        )
    elif node.fill is not None and shape.stated("fill") == shape.stated("stroke") and not node.manner.headed:
        yield Remark(
            shape,
            "hidden stroke",
            "the stroke has the same paint as the fill, so it is lost in it; the shape only looks larger.",
            "stroke",
            (),
            (unstroked,),
        )
    if shape.stroke_align != "center" and node.manner.align == "center":
        yield Remark(
            shape,
            "align without effect",
            f"an open outline has no {shape.stroke_align}; its stroke lies on the middle.",
            "stroke_align",
            (),
            (_repair("Align to the middle", _setter(shape, "stroke_align", "center")),),
        )
    if (shape.start_head != "none" or shape.end_head != "none") and node.manner.start == node.manner.end == "none":
        yield Remark(shape, "heads without effect", "a closed outline has no ends to put heads on.", "end_head")


def _miters(node: Node) -> Iterator[Remark]:
    """Corners so sharp that their miter is cut off."""
    shape = node.shape
    if node.stroke is None or node.pen is None or node.pen.width <= 0.0 or not isinstance(shape, Painted):
        return
    if shape.join != "miter" or shape.dash or node.kind.text:
        return
    over: list[tuple[float, float]] = []
    needed = 0.0
    for point, ratio in _corners(node):
        if ratio > shape.miter_limit:
            over.append(node.world.map(*point))
            needed = max(needed, ratio)
    if not over:
        return
    limit = tidy(math.ceil(needed * 10) / 10)
    corners = "a corner is" if len(over) == 1 else f"{len(over)} corners are"
    repairs = [_repair("Round joins", _setter(shape, "join", "round"))]
    if limit <= 1000:
        repairs.insert(0, _repair(f"Limit {limit:g}", _setter(shape, "miter_limit", limit)))
    yield Remark(
        shape,
        "miter over its limit",
        f"{corners} sharper than the miter limit {shape.miter_limit:g} allows, so the tip is cut off.",
        "miter_limit",
        tuple(over),
        tuple(repairs),
    )


def _corners(node: Node) -> Iterator[tuple[tuple[float, float], float]]:
    """Each corner of the outline in local space, and how long its miter is, in widths (SVG 2, section 13.5.5)."""
    from chalcedon.geometry.contours import contours_of
    from chalcedon.geometry.pathdata import from_outline

    for contour in contours_of(from_outline(node.outline)):
        for i, knot in enumerate(contour.knots):
            before, after = contour.arriving(i), contour.leaving(i)
            if before is None or after is None:
                continue
            one, two = contour.controls(i)
            a, b = _off(one, contour.knots[before], knot), _off(two, contour.end_of(after), knot)
            la, lb = math.hypot(*a), math.hypot(*b)
            if la == 0.0 or lb == 0.0:
                continue
            cosine = a[0] / la * (b[0] / lb) + a[1] / la * (b[1] / lb)
            half = math.sqrt(max(0.0, (1.0 - cosine) / 2))  # sine of half the angle between the segments
            if half > 1e-6:
                yield knot, 1.0 / half


def _off(control: tuple[float, float] | None, end: tuple[float, float], knot: tuple[float, float]):  # type: ignore[no-untyped-def]
    """From a knot toward its control, or to the other end where the control lies in the knot."""
    to = control if control is not None and control != knot else end
    return to[0] - knot[0], to[1] - knot[1]
