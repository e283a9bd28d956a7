"""Fewer curves for the same outline: runs of smooth segments become single cubics, within a tolerance.

Least squares on the two control lengths with the end tangents held, reparametrised by Newton steps (P. J. Schneider,
"An algorithm for automatically fitting digitized curves", Graphics Gems, 1990); the samples come from the curves.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from chalcedon.geometry.curves import Cubic, raise_quadratic
from chalcedon.geometry.path import Outline, PathBuilder

_SMOOTH = math.cos(math.radians(2.0))
"""Segments that meet at less than two degrees are one curve."""
_GENTLE = math.cos(math.radians(8.0))
_SAMPLES = 9
"""Points taken of every segment."""


class _Curve(NamedTuple):
    xs: Cubic
    ys: Cubic
    straight: bool = False


def _line(px: float, py: float, x: float, y: float) -> _Curve:
    dx, dy = (x - px) / 3, (y - py) / 3
    return _Curve((px, px + dx, x - dx, x), (py, py + dy, y - dy, y), True)


def with_fewer_curves(path: Outline, tolerance: float, lines: bool = False) -> Outline:
    """The same outline with runs of curves joined, nowhere farther than `tolerance` px from what it was.

    With `lines`, runs of short lines that bend only a little are taken for curves, too.
    """
    pen = PathBuilder()
    run: list[_Curve] = []
    px = py = 0.0

    def finish() -> None:
        while run:
            count, cubic = _longest(run, tolerance)
            if count == 1 and cubic.straight:
                pen.line(cubic.xs[3], cubic.ys[3])
            else:
                pen.cubic(cubic.xs[1], cubic.ys[1], cubic.xs[2], cubic.ys[2], cubic.xs[3], cubic.ys[3])
            del run[:count]

    for verb, c in path.segments():
        if verb in "QC" or (lines and verb == "L"):
            if verb == "L":
                curve = _line(px, py, *c)
            elif verb == "Q":
                curve = _Curve(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3]))
            else:
                curve = _Curve((px, c[0], c[2], c[4]), (py, c[1], c[3], c[5]))
            if run and not _goes_on(run[-1], curve, _GENTLE if lines else _SMOOTH):
                finish()
            run.append(curve)
        else:
            finish()
            if verb == "M":
                pen.move(*c)
            elif verb == "L":
                pen.line(*c)
            else:
                pen.close()
        if c:
            px, py = c[-2], c[-1]
    finish()
    return pen.path()


def single_cubic(path: Outline) -> tuple[Cubic, Cubic] | None:
    """The one cubic nearest to an open outline of one subpath, with its ends and end directions, as the control values
    in x and in y; None when it has no direction."""
    curves = []
    px = py = 0.0
    for verb, c in path.segments():
        if verb == "C":
            curves.append(_Curve((px, c[0], c[2], c[4]), (py, c[1], c[3], c[5])))
        elif verb == "Q":
            curves.append(_Curve(raise_quadratic(px, c[0], c[2]), raise_quadratic(py, c[1], c[3])))
        elif verb == "L":
            curves.append(_line(px, py, *c))
        if c:
            px, py = c[-2], c[-1]
    found = _fit(curves, math.inf, 40) if curves else None
    return found and (found.xs, found.ys)


def _goes_on(a: _Curve, b: _Curve, least: float) -> bool:
    out, into = _direction(a, True), _direction(b, False)
    return out is not None and into is not None and out[0] * into[0] + out[1] * into[1] > least


def _direction(curve: _Curve, end: bool) -> tuple[float, float] | None:
    """The unit direction in which a curve leaves or arrives."""
    xs, ys = curve.xs, curve.ys
    for i in (2, 1, 0) if end else (1, 2, 3):
        dx, dy = (xs[3] - xs[i], ys[3] - ys[i]) if end else (xs[i] - xs[0], ys[i] - ys[0])
        size = math.hypot(dx, dy)
        if size > 1e-9:
            return dx / size, dy / size
    return None


def _longest(run: list[_Curve], tolerance: float) -> tuple[int, _Curve]:
    """How many curves from the first on fit into one cubic, and that cubic."""
    best = 1, run[0]
    low, high = 1, len(run)
    count = min(4, high)  # doubling, then halving: runs are short
    while low < high:
        cubic = _fit(run[:count], tolerance)
        if cubic is not None:
            low, best = count, (count, cubic)
            count = min(high, count * 2)
        else:
            high = count - 1
            count = (low + high + 1) // 2
        if count <= low:
            break
    return best


def _fit(curves: list[_Curve], tolerance: float, rounds: int = 6) -> _Curve | None:
    """One cubic for several, within a tolerance; without one, the best after some rounds."""
    start, end = _direction(curves[0], False), _direction(curves[-1], True)
    if start is None or end is None:
        return None
    points = _sampled(curves)
    steps = np.hypot(*np.diff(points, axis=0).T)
    way = np.concatenate(([0.0], np.cumsum(steps)))
    if way[-1] <= 0.0:
        return None
    t = way / way[-1]
    first, last = points[0], points[-1]
    out, into = np.array(start), -np.array(end)
    for i in range(rounds):
        lengths = control_lengths(points, t, first, last, out, into)
        if lengths is None:
            return None
        control = np.array([first, first + lengths[0] * out, last + lengths[1] * into, last])
        off = bernstein(t) @ control - points
        if i == rounds - 1 if tolerance == math.inf else np.hypot(*off.T).max() <= tolerance:
            (x, y) = control.T.tolist()
            return _Curve(tuple(x), tuple(y))
        t = nearer(control, t, off)
    return None


def _sampled(curves: list[_Curve]) -> np.ndarray:
    """Points along the curves, shape (n, 2)."""
    basis = bernstein(np.linspace(0.0, 1.0, _SAMPLES)[1:])
    parts = [np.array([[c.xs[0], c.ys[0]] for c in curves[:1]])]
    parts += [basis @ np.array([c.xs, c.ys]).T for c in curves]
    return np.concatenate(parts)


def bernstein(t: np.ndarray) -> np.ndarray:
    """The four Bernstein polynomials of a cubic at parameters, shape (n, 4)."""
    s = 1.0 - t
    return np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=1)


def control_lengths(
    points: np.ndarray, t: np.ndarray, first: np.ndarray, last: np.ndarray, out: np.ndarray, into: np.ndarray
) -> tuple[float, float] | None:
    """The control lengths of least squares; None when they turn out backward or run away."""
    b = bernstein(t)
    fixed = np.outer(b[:, 0] + b[:, 1], first) + np.outer(b[:, 2] + b[:, 3], last)
    columns = np.stack([np.outer(b[:, 1], out).ravel(), np.outer(b[:, 2], into).ravel()], axis=1)
    (one, two), *_ = np.linalg.lstsq(columns, (points - fixed).ravel(), rcond=None)
    size = float(np.hypot(*np.ptp(points, axis=0)))
    if not (0.0 < one < 3 * size and 0.0 < two < 3 * size):
        return None
    return float(one), float(two)


def nearer(control: np.ndarray, t: np.ndarray, off: np.ndarray) -> np.ndarray:
    """Parameters one Newton step nearer to the points."""
    one = 3 * np.diff(control, axis=0)
    two = 2 * np.diff(one, axis=0)
    s = 1.0 - t
    slope = np.outer(s * s, one[0]) + np.outer(2 * s * t, one[1]) + np.outer(t * t, one[2])
    bend = np.outer(s, two[0]) + np.outer(t, two[1])
    top = (off * slope).sum(axis=1)
    bottom = (slope * slope).sum(axis=1) + (off * bend).sum(axis=1)
    step = np.divide(top, bottom, out=np.zeros_like(top), where=np.abs(bottom) > 1e-12)
    return np.clip(t - step, 0.0, 1.0)
