"""Outlines of the elementary figures, in local px."""

from __future__ import annotations

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


def fit_corners(width: float, height: float, corners: Sequence[float]) -> tuple[float, float, float, float]:
    """Corner radii (top left, top right, bottom right, bottom left) scaled down together until no
    two on one side overlap (CSS Backgrounds 3, section 4.5)."""
    r = [max(0.0, c) for c in (corners if len(corners) == 4 else [corners[0]] * 4)]
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


def polyline(points: Sequence[tuple[float, float]], closed: bool = False) -> Path:
    if not points:
        return Path("", ())
    flat = tuple(v for p in points for v in p)
    return Path("M" + "L" * (len(points) - 1) + ("Z" if closed else ""), flat)
