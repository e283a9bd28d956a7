"""Editing the points of polylines and paths: adding, deleting, smoothing, splitting, joining, closing, reversing.

A knot is named by the numbers of its contour and of the knot in it (geometry/contours.py), in the shape's own space.
Each function is one undo step, keeps the rest of the shape where it is on the page, and returns the shape that is
there afterwards: a polyline that gets a curved segment becomes a path under the same id.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Any

from chalcedon.craft.algebra import as_path
from chalcedon.craft.arrange import put_in_place
from chalcedon.craft.hold import Start, in_formulas
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.formula import Formula
from chalcedon.geometry import Outline
from chalcedon.geometry import contours as edit
from chalcedon.geometry.contours import Contour, contours_of, segments_of
from chalcedon.geometry.pathdata import Segment, outline_of, print_path, without_arcs
from chalcedon.problems import ValueProblem
from chalcedon.scene import Line, Path, Polyline, Shape
from chalcedon.scene.grips import Change
from chalcedon.scene.kinds.knots import DIGITS
from chalcedon.scene.order import names_of
from chalcedon.scene.tidy import article, tidy

Knot = tuple[int, int]
Point = tuple[float, float]


def contours(shape: Shape) -> list[Contour]:
    """The contours of a line, polyline or path in its own raw space. Raises ValueProblem for other kinds."""
    if not isinstance(shape, Line | Polyline | Path):
        raise ValueProblem(f"{article(shape.kind)} has no points of its own.", hint="Make it a path first.")
    return shape.contours()


def write(display: DisplayList, shape: Shape, new: Sequence[Contour], name: str) -> Shape:
    """Gives a polyline or path other contours. What it can't hold (a curve, a second contour) makes it a path."""
    with display.scene.step(name):
        shape, new = _able_to_hold(display, shape, new)
        values: dict[str, Any]
        if isinstance(shape, Line):
            values = {"to": _tidy(new[0].knots[1])}
        elif isinstance(shape, Polyline):
            values = {"points": tuple(map(_tidy, new[0].knots)), "closed": new[0].closed}
        else:
            values = {"data": print_path(_tidied(s) for s in segments_of(new))}
        for key in values:
            if isinstance(shape.stated(key), Formula):
                raise ValueProblem(f"{shape.id}.{key} is a formula; its points are not edited one by one.")
        start = Start(display.node(shape))
        settled = start.settle(Change(values, (0.0, 0.0), (0.0, 0.0), ""))
        if isinstance(shape, Polyline):
            settled["points"] = _kept(start.still.stated("points"), shape.points, new[0].knots)
        for key, value in settled.items():
            shape.assign(key, value)
    return shape


def _able_to_hold(display: DisplayList, shape: Shape, new: Sequence[Contour]) -> tuple[Shape, Sequence[Contour]]:
    """The shape as a kind that holds the contours, and these in its own space."""
    display.settle()
    straight = all(s.letter == "L" for c in new for s in c.segments)
    if isinstance(shape, Line | Polyline) and not (len(new) == 1 and straight):
        dx, dy = display.node(shape).shift  # the path has the space that anchor and pivot gave the shape
        shape = as_path(display.scene, display.node(shape))
        new = [_mapped(c, lambda x, y: (x + dx, y + dy)) for c in new]
    elif isinstance(shape, Line) and (len(new[0].knots) != 2 or new[0].closed or new[0].knots[0] != (0.0, 0.0)):
        shape = _as_polyline(display, shape)
    display.settle()
    return shape, new


def _kept(told: Sequence[Any], now: Sequence[Point], knots: Sequence[Point]) -> tuple[Any, ...]:
    """Points to be stated. Those that did not change keep their formulas, wherever in the order they are now; what is
    moved in its place moves along with them."""
    places: dict[Point, list[int]] = {}
    for i, point in enumerate(now):
        places.setdefault(point, []).append(i)
    kept = [places[k].pop(0) if places.get(k) else -1 for k in knots]
    free = set(range(len(told))) - set(kept) if len(knots) == len(told) else set()
    out = []
    for i, (k, place) in enumerate(zip(knots, kept, strict=True)):
        out.append(told[place] if place >= 0 else in_formulas(told[i], _tidy(k)) if i in free else _tidy(k))
    return tuple(out)


def _tidy(p: Point) -> Point:
    return tidy(p[0], DIGITS), tidy(p[1], DIGITS)


def _tidied(s: Segment) -> Segment:
    return Segment(s.letter, tuple(tidy(v, DIGITS) for v in s.numbers))


def _as_polyline(display: DisplayList, line: Line) -> Polyline:
    """The same line as a polyline, under the same id."""
    new = Polyline(points=[(0, 0), line.stated("to")])
    for name, value in line._values.items():
        if name in new.properties:
            new.assign(name, value)
    put_in_place(display.scene, line, new)
    return new


def _bent(shape: Polyline) -> Outline:
    """The curve that a smooth polyline's points stand for, in raw space."""
    return Polyline.outline(shape.points, shape.closed, shape.curve)


def nearest_segment(shape: Shape, x: float, y: float) -> tuple[Knot, float, float] | None:
    """The segment nearest to a point in raw space, named by its first knot, with the parameter and the distance."""
    from chalcedon.geometry.along import Along

    best: tuple[Knot, float, float] | None = None
    if isinstance(shape, Polyline) and shape.curve and len(shape.points) > 2:
        found = Along(_bent(shape)).nearest_parameter(x, y)
        return None if found is None else ((0, found[0]), found[1], found[2])
    for c, contour in enumerate(contours(shape)):
        for i, segment in enumerate(contour.segments):
            along = Along(outline_of([Segment("M", contour.knots[i]), segment]))
            found = along.nearest_parameter(x, y)
            if found is not None and (best is None or found[2] < best[2]):
                piece, t, away = found
                best = (c, i), (piece + t) / len(along.pieces), away
    return best


def point_on(shape: Shape, segment: Knot, t: float) -> Point:
    """The point of a segment at a parameter, in raw space."""
    from chalcedon.geometry.along import Along
    from chalcedon.geometry.curves import cubic_point

    if isinstance(shape, Polyline) and shape.curve and len(shape.points) > 2:
        pieces = Along(_bent(shape)).pieces[segment[1] : segment[1] + 1]
    else:
        contour = contours(shape)[segment[0]]
        outline = outline_of([Segment("M", contour.knots[segment[1]]), contour.segments[segment[1]]])
        pieces = Along(outline).pieces
    whole = min(int(t * len(pieces)), len(pieces) - 1)
    part = t * len(pieces) - whole
    return cubic_point(*pieces[whole].xs, part), cubic_point(*pieces[whole].ys, part)


def add_point(display: DisplayList, shape: Shape, segment: Knot, t: float) -> tuple[Shape, Knot]:
    """A knot more on a segment, at a parameter from 0 to 1. Returns the shape and the new knot."""
    c, i = segment
    if isinstance(shape, Polyline) and shape.curve:
        return _add_to_curve(display, shape, i, t)
    all_ = contours(shape)
    t = min(max(t, 0.001), 0.999)
    all_[c] = edit.inserted(all_[c], i, t)
    return write(display, shape, all_, f"Add a point to {shape.id}"), (c, i + 1)


def _add_to_curve(display: DisplayList, shape: Polyline, i: int, t: float) -> tuple[Shape, Knot]:
    """A point on a smooth curve; the curve then runs through it."""
    from chalcedon.geometry.along import Along
    from chalcedon.geometry.curves import cubic_point

    piece = Along(_bent(shape)).pieces[i]
    new = cubic_point(*piece.xs, t), cubic_point(*piece.ys, t)
    points = (*shape.points[: i + 1], new, *shape.points[i + 1 :])
    segments = [Segment("L", p) for p in points[1:]] + ([Segment("L", points[0])] if shape.closed else [])
    contour = Contour(points, tuple(segments), shape.closed)
    return write(display, shape, [contour], f"Add a point to {shape.id}"), (0, i + 1)


def delete_points(display: DisplayList, shape: Shape, knots: Iterable[Knot]) -> Shape | None:
    """Takes knots away. A shape left with fewer than two goes too; None is returned then."""
    todo = sorted(set(knots), reverse=True)
    all_: list[Contour | None] = list(contours(shape))
    for c, i in todo:
        contour = all_[c]
        if contour is not None:
            all_[c] = edit.deleted(contour, i)
    rest = [c for c in all_ if c is not None and len(c.knots) > 1]
    name = f"Delete {len(todo)} point{'s' if len(todo) > 1 else ''} of {shape.id}"
    if not rest:
        with display.scene.step(name):
            display.scene.remove(shape)
        return None
    return write(display, shape, rest, name)


def change_points(
    display: DisplayList, shape: Shape, knots: Iterable[Knot], change: Callable[[Contour, int], Contour], verb: str
) -> Shape:
    """Applies a change that keeps the number of knots (smoothed, cornered) to some of them."""
    todo = list(knots)
    count = f"{len(todo)} points" if len(todo) > 1 else "a point"
    name = f"{verb} {count} of {shape.id}"
    with display.scene.step(name):
        if isinstance(shape, Polyline) and shape.curve:
            shape = as_path(display.scene, display.node(shape))  # its points have no controls of their own
            display.settle()
        all_ = contours(shape)
        for c, i in todo:
            all_[c] = change(all_[c], i)
        return write(display, shape, all_, name)


def smooth(display: DisplayList, shape: Shape, knots: Iterable[Knot]) -> Shape:
    """The outline passes the knots without a corner. A polyline becomes a path."""
    return change_points(display, shape, knots, edit.smoothed, "Smooth")


def corner(display: DisplayList, shape: Shape, knots: Iterable[Knot]) -> Shape:
    """Corners at the knots."""
    return change_points(display, shape, knots, edit.cornered, "Make corners of")


def split(display: DisplayList, shape: Shape, knot: Knot) -> list[Shape]:
    """Opens a closed contour at a knot; parts an open one in two shapes, the second in front of the first."""
    c, i = knot
    all_ = contours(shape)
    parts = edit.split(all_[c], i)
    scene = display.scene
    name = f"Split {shape.id}"
    if len(parts) == 1 and parts[0] is all_[c]:
        raise ValueProblem(f"{shape.id} ends at this point, so there is nothing to split.")
    if len(parts) == 1:
        return [write(display, shape, [*all_[:c], parts[0], *all_[c + 1 :]], name)]
    with scene.step(name):
        parent = shape.parent
        assert parent is not None
        twin = shape.copy()
        first = write(display, shape, [*all_[:c], parts[0]], name)
        scene.add(twin, parent, parent.index_of(first) + 1)
        display.settle()
        second = write(display, twin, [parts[1], *all_[c + 1 :]], name)
    return [first, second]


def close(display: DisplayList, shape: Shape, within: float = 0.0) -> Shape:
    """Closes every open contour. Ends nearer to each other than `within` px become one point. Raises ValueProblem when
    none is open."""
    open_ones = contours(shape)
    if all(c.closed for c in open_ones):
        raise ValueProblem(f"{shape.id} is closed already.")
    all_ = [edit.closed(c, within) for c in open_ones]
    return write(display, shape, all_, f"Close {shape.id}")


def reverse(display: DisplayList, shapes: Sequence[Shape]) -> list[Shape]:
    """The same outlines drawn the other way round: what begins at the start (dashes, heads) begins at the end."""
    out: list[Shape] = []
    with display.scene.step(f"Reverse {names_of(shapes)}"):
        for shape in shapes:
            if isinstance(shape, Line):
                out.append(_reverse_line(display, shape))
            else:
                out.append(write(display, shape, [edit.reversed_(c) for c in contours(shape)], f"Reverse {shape.id}"))
    return out


def _reverse_line(display: DisplayList, line: Line) -> Line:
    display.settle()
    start = Start(display.node(line))
    to = line.to
    change = Change({"to": (tidy(-to[0]), tidy(-to[1]))}, to, (0.0, 0.0), "")
    for name, value in start.settle(change).items():
        line.assign(name, value)
    return line


def join(display: DisplayList, shapes: Sequence[Shape], within: float = 0.5) -> Shape:
    """Joins the open contours of lines, polylines and paths, at the ends that lie nearest, into one of them.

    The rearmost keeps its id and paint. Ends nearer than `within` scene px become one point; others get a line
    between them. Given a single shape, its own contours are joined. Raises ValueProblem when fewer than two open
    contours are there.
    """
    from chalcedon.scene.order import outermost

    todo = outermost(shapes)
    display.settle()
    first = todo[0] if todo else None
    if first is None:
        raise ValueProblem("there is nothing to join.")
    target = Start(display.node(first))
    if target.from_scene is None:
        raise ValueProblem(f"{first.id} is scaled to nothing.")
    opened: list[Contour] = []
    rest: list[Contour] = []
    for shape in todo:
        own = _with_curves(display, shape)
        if shape is not first:
            start = Start(display.node(shape))
            way = target.from_scene.after(start.parent.after(start.to_parent))
            own = [_mapped(c, way.map) for c in own]
        for c in own:
            (rest if c.closed else opened).append(c)
    if len(opened) < 2:
        raise ValueProblem("joining takes two open outlines.", hint="Select another with Shift, or close this one.")
    one = opened[0]
    for other in opened[1:]:
        one = edit.joined(one, other, within / max(target.parent.after(target.to_parent).stretch, 1e-9))
    name = f"Join {names_of(todo)}"
    with display.scene.step(name):
        for shape in todo[1:]:
            display.scene.remove(shape)
        return write(display, first, [one, *rest], name)


def _with_curves(display: DisplayList, shape: Shape) -> list[Contour]:
    """The contours of a shape, a smooth polyline's as the curves that they are."""
    if isinstance(shape, Polyline) and shape.curve:
        from chalcedon.geometry.pathdata import from_outline

        return contours_of(from_outline(_bent(shape)))
    return contours(shape)


def _mapped(c: Contour, to: Callable[[float, float], Point]) -> Contour:
    """A contour in another space; arcs become cubics."""
    (c,) = contours_of(without_arcs(segments_of([c])))
    segments = []
    for s in c.segments:
        n = [v for k in range(0, len(s.numbers), 2) for v in to(s.numbers[k], s.numbers[k + 1])]
        segments.append(Segment(s.letter, tuple(n)))
    return Contour(tuple(to(*k) for k in c.knots), tuple(segments), c.closed)
