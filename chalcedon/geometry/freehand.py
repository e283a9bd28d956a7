"""A smooth outline through points drawn by hand: few cubics, none of the points farther away than a tolerance.

The line is divided at its corners; between them cubics are fitted, and divided where they are farthest off
(P. J. Schneider, "An algorithm for automatically fitting digitized curves", Graphics Gems, 1990).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from chalcedon.geometry.fit import bernstein, control_lengths, nearer
from chalcedon.geometry.path import Outline, PathBuilder

CORNER = math.radians(60.0)
"""A turn from which on a bend is a corner."""
ARM = 4.0
"""How far before and after a point its turn is looked at, in tolerances."""
ROUNDS = 8


def smooth_through(points: Sequence[tuple[float, float]], tolerance: float, closed: bool = False) -> Outline:
    """An outline along points in the order in which they were drawn. With `closed` it ends where it began.

    Points nearer to one another than half the tolerance are one; of fewer than two nothing is made. The ends are where
    the first and the last point are.
    """
    line = _thinned(points, tolerance / 2)
    if closed and len(line) > 2:
        line = np.concatenate([line, line[:1]])
    pen = PathBuilder()
    if len(line) < 2:
        return pen.path()
    pen.move(*map(float, line[0]))
    seam = _seam(line, tolerance) if closed else None
    stops = [0, *_corners(line, tolerance), len(line) - 1]
    for first, last in pairwise(stops):
        part = line[first : last + 1]
        start, end = _leaving(part, tolerance), _leaving(part[::-1], tolerance)
        if seam is not None:
            start = seam if first == 0 else start
            end = -seam if last == len(line) - 1 else end
        for control in _fitted(part, start, end, tolerance):
            if len(control) == 2:
                pen.line(*map(float, control[1]))
            else:
                pen.cubic(*(float(v) for p in control[1:] for v in p))
    if closed:
        pen.close()
    return pen.path()


def _thinned(points: Sequence[tuple[float, float]], least: float) -> np.ndarray:
    """The points without those that are too near to the one before; the last one stays."""
    out: list[tuple[float, float]] = []
    for point in points:
        if not out or math.dist(point, out[-1]) > least:
            out.append(point)
    if points and len(out) > 1 and out[-1] != points[-1]:
        out[-1] = points[-1]
    return np.array(out, float).reshape(-1, 2)


def _corners(line: np.ndarray, tolerance: float) -> list[int]:
    """The points in [1, len - 1) at which the line turns sharply, looked at over a little way, so that the tremor of a
    hand makes none."""
    way = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))))
    arm = ARM * tolerance
    turns = np.zeros(len(line))
    for i in range(1, len(line) - 1):
        if way[i] < arm or way[-1] - way[i] < arm:
            continue
        a, b = (_at(line, way, way[i] + d) - line[i] for d in (-arm, arm))
        size = math.hypot(*a) * math.hypot(*b)
        if size > 0.0:
            turns[i] = math.pi - math.acos(min(1.0, max(-1.0, float(a @ b) / size)))
    out: list[int] = []
    for i in np.argsort(-turns, kind="stable"):  # the sharpest first; none beside it
        if turns[i] < CORNER:
            break
        if all(abs(way[i] - way[j]) > arm for j in out):
            out.append(int(i))
    return sorted(out)


def _at(line: np.ndarray, way: np.ndarray, distance: float) -> np.ndarray:
    return np.array([np.interp(distance, way, line[:, 0]), np.interp(distance, way, line[:, 1])])


def _seam(line: np.ndarray, tolerance: float) -> np.ndarray | None:
    """The direction in which a closed line goes on where it began; None where that is a corner."""
    out, back = _leaving(line, tolerance), _leaving(line[::-1], tolerance)
    along = out - back
    size = math.hypot(*along)
    return along / size if size > 2.0 * math.cos(CORNER / 2) else None


def _fitted(line: np.ndarray, start: np.ndarray, end: np.ndarray, tolerance: float) -> list[np.ndarray]:
    """Cubics (4, 2), or one line (2, 2), along a line without corners, end to end, which leaves its ends in two
    directions."""
    if len(line) == 2 or _is_straight(line, tolerance):
        return [line[[0, -1]]]
    todo = [(0, len(line) - 1, start, end)]
    out: list[np.ndarray] = []
    while todo:
        first, last, start, end = todo.pop()
        part = line[first : last + 1]
        if last - first < 2:
            third = math.dist(part[0], part[1]) / 3
            out.append(np.array([part[0], part[0] + third * start, part[1] + third * end, part[1]]))
            continue
        control, worst = _one_cubic(part, start, end, tolerance)
        if control is not None:
            out.append(control)
            continue
        split = first + min(max(worst, 1), len(part) - 2)
        across = line[min(split + 1, last)] - line[max(split - 1, first)]
        size = math.hypot(*across)
        along = across / size if size > 0.0 else start
        todo.append((split, last, along, end))  # done after the other: a stack
        todo.append((first, split, start, -along))
    return out


def _leaving(line: np.ndarray, tolerance: float) -> np.ndarray:
    """The direction in which a line begins, over a little way."""
    away = np.hypot(*(line - line[0]).T)
    far = int(np.argmax(away >= 2.0 * tolerance)) or len(line) - 1
    direction = line[far] - line[0]
    size = math.hypot(*direction)
    return direction / size if size > 0.0 else np.array([1.0, 0.0])


def _is_straight(part: np.ndarray, tolerance: float) -> bool:
    direction = part[-1] - part[0]
    size = math.hypot(*direction)
    if size == 0.0:
        return False
    off = part - part[0]
    along = off @ direction / size
    across = np.abs(off[:, 0] * direction[1] - off[:, 1] * direction[0]) / size
    return bool(across.max() <= tolerance / 2 and along.min() >= -tolerance and along.max() <= size + tolerance)


def _one_cubic(part: np.ndarray, start: np.ndarray, end: np.ndarray, tolerance: float) -> tuple[np.ndarray | None, int]:
    """A cubic within the tolerance, or None and the point that is farthest off."""
    steps = np.hypot(*np.diff(part, axis=0).T)
    way = np.concatenate(([0.0], np.cumsum(steps)))
    t = way / way[-1]
    worst = len(part) // 2
    for _ in range(ROUNDS):
        lengths = control_lengths(part, t, part[0], part[-1], start, end)
        if lengths is None:
            return None, worst
        control = np.array([part[0], part[0] + lengths[0] * start, part[-1] + lengths[1] * end, part[-1]])
        off = bernstein(t) @ control - part
        distance = np.hypot(*off.T)
        if distance.max() <= tolerance:
            return control, worst
        worst = int(distance.argmax())
        t = nearer(control, t, off)
    return None, worst
