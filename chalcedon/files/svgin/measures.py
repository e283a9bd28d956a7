"""Lengths, lists of numbers, transforms and view boxes (SVG 2, sections 8 and 9; CSS Values 3)."""

from __future__ import annotations

import math
import re

from chalcedon.geometry import IDENTITY, Affine
from chalcedon.scene import Step
from chalcedon.scene.values import LIMIT

_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z%]*)\s*$")
PX = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "in": 96.0, "cm": 96 / 2.54, "mm": 96 / 25.4, "q": 96 / 101.6}
LARGEST = 1e7
"""Px beyond which nothing is placed."""


def numbers(text: str) -> list[float]:
    """The numbers in a list of them, which may touch as in path data."""
    return [float(v) for v in re.findall(_NUMBER, text)]


def length(text: str | None, usual: float, whole: float, size: float = 16.0) -> float:
    """A length in px. `whole` is what 100 % are, `size` that of the font. What isn't one is the `usual`."""
    try:  # as nearly all are
        value = float(text)  # type: ignore[arg-type]
        if -LARGEST <= value <= LARGEST and "_" not in text:  # type: ignore[operator]
            return value
    except (ValueError, TypeError):
        pass
    match = _LENGTH.match(text or "")
    if match is None:
        return usual
    value, unit = float(match[1]), match[2].lower()
    if unit == "%":
        value *= whole / 100
    elif unit in ("em", "rem"):
        value *= size
    elif unit in ("ex", "ch"):
        value *= size / 2
    elif unit in PX:
        value *= PX[unit]
    else:
        return usual
    return max(-LARGEST, min(LARGEST, value)) if math.isfinite(value) else usual


def extent(text: str | None, usual: float, whole: float, size: float = 16.0) -> float:
    """A length that can't be negative, as `length`: one that is counts for nothing."""
    value = length(text, usual, whole, size)
    return value if value >= 0.0 else usual


def factor(text: str | None, usual: float, low: float, high: float) -> float:
    """A number without a unit; the `usual` for what is none, or isn't between two others."""
    match = _LENGTH.match(text or "")
    value = float(match[1]) if match is not None and not match[2] else usual
    return value if low <= value <= high else usual


_CALL = re.compile(r"\s*,?\s*(matrix|translate[XY]?|scale[XY]?|rotate|skew[XY]?)\s*\(([^)]*)\)")


def transform(text: str, origin: tuple[float, float] = (0.0, 0.0)) -> list[Step] | None:
    """A list of transforms as steps, which come in the other order. None when it isn't one, and then counts for
    nothing."""
    steps: list[Step] = []
    at = 0
    while at < len(text.rstrip()):
        match = _CALL.match(text, at)
        found = None if match is None else _step(match[1], _angles(match[2]), origin)
        if found is None or match is None:
            return None
        steps.append(found)
        at = match.end()
    return steps[::-1]


def _angles(text: str) -> list[float]:
    """Numbers, with CSS units of angles and px turned into SVG's."""
    try:
        return [float(v) for v in text.replace(",", " ").split()]
    except ValueError:
        pass  # with units, or touching one another
    units = {"rad": 180 / math.pi, "turn": 360.0, "grad": 0.9}
    out = []
    for value, unit in re.findall(rf"({_NUMBER})\s*([a-z]*)", text):
        out.append(float(value) * units.get(unit, 1.0))
    return out


def _step(name: str, n: list[float], origin: tuple[float, float]) -> Step | None:
    if not all(math.isfinite(v) and abs(v) < LIMIT for v in n):
        return None
    if name == "translate" and len(n) in (1, 2):
        return Step("translate", n[0], n[1] if len(n) == 2 else 0.0)
    if name == "scale" and len(n) in (1, 2):
        return Step("scale", n[0], n[-1], about=origin)
    if name == "rotate" and len(n) in (1, 3):
        about = (n[1] + origin[0], n[2] + origin[1]) if len(n) == 3 else origin
        return Step("rotate", n[0], about=about)
    if name == "matrix" and len(n) == 6:
        return Step("matrix", *n, about=origin)
    if name[:-1] in ("translate", "scale", "skew") and len(n) == 1:  # along one axis (CSS Transforms 1, section 12)
        rest = 1.0 if name[:-1] == "scale" else 0.0
        return _step(name[:-1], [n[0], rest] if name[-1] == "X" else [rest, n[0]], origin)
    if name == "skew" and len(n) in (1, 2) and all(v % 180 != 90 for v in n):
        return Step("skew", n[0], n[1] if len(n) == 2 else 0.0, about=origin)
    return None


def affine(steps: list[Step]) -> Affine:
    """The map that steps come to, all of which have a fixed point."""
    from chalcedon.scene.steps import compose

    return compose((0.0, 0.0), (0.0, 0.0), tuple(steps)) if steps else IDENTITY


def box_of(text: str | None) -> list[float] | None:
    """The four numbers of a view box; empty where none stands, or none that can be; None for one without an extent,
    which is of what isn't shown (SVG 2, section 8.6)."""
    box = numbers(text or "")
    if len(box) != 4 or min(box[2:]) < 0.0 or max(map(abs, box)) > LIMIT:
        return []
    return box if min(box[2:]) > 0.0 else None


def view_box(box: list[float], width: float, height: float, align: str) -> Affine:
    """The map from a view box into a viewport (SVG 2, section 8.2)."""
    x, y, w, h = box
    words = align.split()
    words = words[1:] if words[:1] == ["defer"] else words
    where = words[0] if words else "xMidYMid"
    sx, sy = width / w, height / h
    if where == "none":
        return Affine(sx, 0.0, 0.0, sy, -x * sx, -y * sy)
    k = max(sx, sy) if "slice" in words[1:] else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    fx, fy = share.get(where[1:4], 0.5), share.get(where[5:8], 0.5)
    return Affine(k, 0.0, 0.0, k, (width - w * k) * fx - x * k, (height - h * k) * fy - y * k)


def rule(text: str | None) -> str:
    """A fill rule."""
    return "evenodd" if text == "evenodd" else "nonzero"


def matrix_step(m: Affine) -> Step:
    """A map as one step."""
    if m[:4] == (1.0, 0.0, 0.0, 1.0):
        return Step("translate", m.e, m.f)
    return Step("matrix", *m, about=(0.0, 0.0))
