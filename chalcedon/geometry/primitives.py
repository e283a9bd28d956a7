"""Outlines of the elementary figures, in local px."""

from __future__ import annotations

import math
from collections.abc import Sequence

from chalcedon.geometry.path import Path

QUARTER = 0.551915024494
"""Control length of a quarter circle as one cubic. It balances the radial error to 1.96e-4 on both sides,
within 1/4000 of the radius; the usual 4/3 (sqrt 2 - 1) reaches 2.73e-4 on one side (Goldapp 1991)."""


def ellipse(rx: float, ry: float, cx: float = 0.0, cy: float = 0.0) -> Path:
    """An ellipse as four cubics, from the positive x axis toward the positive y axis."""
    kx, ky = rx * QUARTER, ry * QUARTER
    left, top, right, bottom = cx - rx, cy - ry, cx + rx, cy + ry
    return Path(
        "MCCCCZ",
        (
            right,
            cy,
            right,
            cy + ky,
            cx + kx,
            bottom,
            cx,
            bottom,
            cx - kx,
            bottom,
            left,
            cy + ky,
            left,
            cy,
            left,
            cy - ky,
            cx - kx,
            top,
            cx,
            top,
            cx + kx,
            top,
            right,
            cy - ky,
            right,
            cy,
        ),
    )


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


def rect(width: float, height: float, corners: Sequence[float] = (0.0,), x: float = 0.0, y: float = 0.0) -> Path:
    """A rectangle from (x, y), clockwise on screen; `corners` is one radius or four."""
    right, bottom = x + width, y + height
    if not any(corners):
        return Path("MLLLZ", (x, y, right, y, right, bottom, x, bottom))
    tl, tr, br, bl = fit_corners(width, height, corners)
    verbs, c = "M", [x + tl, y]
    k = 1.0 - QUARTER
    for radius, before, after, control in (
        (tr, (right - tr, y), (right, y + tr), (right - tr * k, y, right, y + tr * k)),
        (br, (right, bottom - br), (right - br, bottom), (right, bottom - br * k, right - br * k, bottom)),
        (bl, (x + bl, bottom), (x, bottom - bl), (x + bl * k, bottom, x, bottom - bl * k)),
        (tl, (x, y + tl), (x + tl, y), (x, y + tl * k, x + tl * k, y)),
    ):
        if before != (c[-2], c[-1]):
            verbs += "L"
            c += before
        if radius > 0.0:
            verbs += "C"
            c += (*control, *after)
    if verbs.endswith("L") and tl == 0.0:  # the closing segment draws the last side
        verbs, c = verbs[:-1], c[:-2]
    return Path(verbs + "Z", tuple(c))


REACH = 1.4
"""How far a smooth corner reaches along the side, in radii."""


def smooth_rect(width: float, height: float, corners: Sequence[float]) -> Path:
    """A rectangle with corners whose curvature grows steadily from nothing at the side to 1.3/radius in the middle.

    Each corner is two cubics that meet where a round corner has its middle. The first three controls lie on the side,
    so the curvature there is 0.
    """
    if not any(corners):
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
        if start != (c[-2], c[-1]):
            verbs += "L"
            c += start
        if radius > 0.0:
            verbs += "CC"
            for u, v in ((_NEAR, 0.0), (_BEND, 0.0), (_MIDDLE, _MIDDLE), (0.0, _BEND), (0.0, _NEAR), (0.0, REACH)):
                c += at(u, v)
    if verbs.endswith("L") and tl == 0.0:
        verbs, c = verbs[:-1], c[:-2]
    return Path(verbs + "Z", tuple(c))


_MIDDLE = 1.0 - math.sqrt(0.5)
"""Where the middle of a round corner of radius 1 stands, from the corner, along both sides."""
_BEND = 2 * _MIDDLE
"""Where its tangent there meets the sides."""
_NEAR = _BEND + 1.3 * 1.5 * (_MIDDLE * math.sqrt(2.0)) ** 2 / math.sqrt(0.5)
"""The control before: the curvature at the end of a cubic is 2/3 of |P1P2| sin / |P2P3| squared. With less than 1.3 it
would swell on the way."""


def polyline(points: Sequence[tuple[float, float]], closed: bool = False) -> Path:
    if not points:
        return Path("", ())
    flat = tuple(v for p in points for v in p)
    return Path("M" + "L" * (len(points) - 1) + ("Z" if closed else ""), flat)
