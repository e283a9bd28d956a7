"""Outlines of the elementary figures, in local px."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

from chalcedon.geometry.path import Outline

QUARTER = 0.551915024494
"""Control length of a quarter circle as one cubic. It balances the radial error to 1.96e-4 on both sides,
within 1/4000 of the radius; the usual 4/3 (sqrt 2 - 1) reaches 2.73e-4 on one side (Goldapp 1991)."""


ROUGH = 20.0
"""Px of radius up to which a quarter turn is one cubic: then it is within 0.004 px of the circle."""
FINE = 1000.0
"""Px of radius up to which it is two (within 4e-6 of the radius); beyond, four (within 7e-8)."""


def cubics_a_quarter(radius: float) -> int:
    """How many cubics a quarter turn takes, to be within 0.005 px of the true one up to a radius of 70,000."""
    return 1 if radius <= ROUGH else 2 if radius <= FINE else 4


def quarter_turn(cx: float, cy: float, rx: float, ry: float, quarter: int) -> list[float]:
    """The coordinates of cubics along a quarter of an ellipse, from `quarter` times 90 degrees on."""
    count = cubics_a_quarter(max(rx, ry))
    k = QUARTER if count == 1 else 4 / 3 * math.tan(math.pi / 8 / count)
    spots = [_UNIT[quarter % 4]]
    spots += [(math.cos(t), math.sin(t)) for t in ((quarter + i / count) * math.pi / 2 for i in range(1, count))]
    spots.append(_UNIT[(quarter + 1) % 4])
    out = []
    for (x0, y0), (x1, y1) in itertools.pairwise(spots):
        out += [cx + (x0 - k * y0) * rx, cy + (y0 + k * x0) * ry, cx + (x1 + k * y1) * rx, cy + (y1 - k * x1) * ry]
        out += [cx + x1 * rx, cy + y1 * ry]
    return out


_UNIT = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))


def ellipse(rx: float, ry: float) -> Outline:
    """An ellipse about 0, 0, from the positive x axis toward the positive y axis. Without width or height it is
    nothing (SVG 2, sections 10.3 and 10.4)."""
    if rx <= 0.0 or ry <= 0.0:
        return Outline("", ())
    if max(rx, ry) <= ROUGH:  # nearly always, so in short
        kx, ky = rx * QUARTER, ry * QUARTER
        return Outline(
            "MCCCCZ",
            (
                *(rx, 0.0, rx, ky, kx, ry, 0.0, ry, -kx, ry, -rx, ky, -rx, 0.0),
                *(-rx, -ky, -kx, -ry, 0.0, -ry, kx, -ry, rx, -ky, rx, 0.0),
            ),
        )
    coords = [rx, 0.0]
    for quarter in range(4):
        coords += quarter_turn(0.0, 0.0, rx, ry, quarter)
    return Outline("M" + "C" * ((len(coords) - 2) // 6) + "Z", tuple(coords))


SHARP = 1e-9
"""Px below which a corner radius is none: its stroke would be joined as a curve is, by a round."""


def fit_corners(width: float, height: float, corners: Sequence[float]) -> tuple[float, float, float, float]:
    """Corner radii (top left, top right, bottom right, bottom left) scaled down together until no
    two on one side overlap (CSS Backgrounds 3, section 4.5). A radius that nobody could see makes a sharp corner."""
    r = [c if c > SHARP else 0.0 for c in (corners if len(corners) == 4 else [corners[0]] * 4)]
    factor = 1.0
    for side, total in ((width, r[0] + r[1]), (height, r[1] + r[2]), (width, r[2] + r[3]), (height, r[3] + r[0])):
        if total > side:
            factor = min(factor, side / total)
    return r[0] * factor, r[1] * factor, r[2] * factor, r[3] * factor


def rect(width: float, height: float, corners: Sequence[float] = (0.0,)) -> Outline:
    """A rectangle from 0, 0, clockwise on screen; `corners` is one radius or four. Without width or height it is
    nothing (SVG 2, section 10.2)."""
    if width <= 0.0 or height <= 0.0:
        return Outline("", ())
    if not any(corners):
        return Outline("MLLLZ", (0.0, 0.0, width, 0.0, width, height, 0.0, height))
    tl, tr, br, bl = fit_corners(width, height, corners)
    verbs, c = "M", [tl, 0.0]
    for radius, x, y, quarter in (
        (tr, width - tr, tr, 3),
        (br, width - br, height - br, 0),
        (bl, bl, height - bl, 1),
        (tl, tl, tl, 2),
    ):
        before = x + _UNIT[quarter][0] * radius, y + _UNIT[quarter][1] * radius
        if math.dist(before, c[-2:]) > SHARP:
            verbs += "L"
            c += before
        if radius > 0.0:
            turn = quarter_turn(x, y, radius, radius, quarter)
            verbs += "C" * (len(turn) // 6)
            c += turn
    if verbs.endswith("L") and tl == 0.0:  # the closing segment draws the last side
        verbs, c = verbs[:-1], c[:-2]
    return Outline(verbs + "Z", tuple(c))


REACH = 1.4
"""How far a smooth corner reaches along the side, in radii."""


def smooth_rect(width: float, height: float, corners: Sequence[float]) -> Outline:
    """A rectangle with corners whose curvature grows steadily from nothing at the side to 1.3/radius in the middle.

    Each corner is two cubics that meet where a round corner has its middle. The first three controls lie on the side,
    so the curvature there is 0.
    """
    if not any(corners) or width <= 0.0 or height <= 0.0:
        return rect(width, height)
    scaled = fit_corners(width, height, [r * REACH for r in (corners if len(corners) == 4 else [corners[0]] * 4)])
    tl, tr, br, bl = (r / REACH for r in scaled)
    verbs, c = "M", [tl * REACH, 0.0]
    for radius, x, y, dx, dy in (
        (tr, width, 0.0, 1, 0),
        (br, width, height, 0, 1),
        (bl, 0.0, height, -1, 0),
        (tl, 0.0, 0.0, 0, -1),
    ):
        # in the corner's own axes, u back along the side that arrives, v on along the side that leaves
        def at(u: float, v: float) -> tuple[float, float]:
            return x - dx * u * radius - dy * v * radius, y - dy * u * radius + dx * v * radius  # noqa: B023

        start = at(REACH, 0.0)
        if math.dist(start, c[-2:]) > SHARP:
            verbs += "L"
            c += start
        if radius > 0.0:
            verbs += "CC"
            for u, v in ((_NEAR, 0.0), (_BEND, 0.0), (_MIDDLE, _MIDDLE), (0.0, _BEND), (0.0, _NEAR), (0.0, REACH)):
                c += at(u, v)
    if verbs.endswith("L") and tl == 0.0:
        verbs, c = verbs[:-1], c[:-2]
    return Outline(verbs + "Z", tuple(c))


_MIDDLE = 1.0 - math.sqrt(0.5)
"""Where the middle of a round corner of radius 1 stands, from the corner, along both sides."""
_BEND = 2 * _MIDDLE
"""Where its tangent there meets the sides."""
_NEAR = _BEND + 1.3 * 1.5 * (_MIDDLE * math.sqrt(2.0)) ** 2 / math.sqrt(0.5)
"""The control before: the curvature at the end of a cubic is 2/3 of |P1P2| sin / |P2P3| squared. With less than 1.3 it
would swell on the way."""


def polyline(points: Sequence[tuple[float, float]], closed: bool = False) -> Outline:
    """Straight lines through points, closed or not."""
    if not points:
        return Outline("", ())
    flat = tuple(v for p in points for v in p)
    return Outline("M" + "L" * (len(points) - 1) + ("Z" if closed else ""), flat)
