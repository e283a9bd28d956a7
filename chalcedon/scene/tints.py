"""Many colours at once: tints of one, and colours that are easily told apart."""

from __future__ import annotations

import itertools
import math
from functools import lru_cache

from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene.color import rgba, to_hex
from chalcedon.scene.mixing import of_rgba

MOST = 256
CANDIDATES = (0, 38, 77, 115, 153, 191, 217, 242)
"""Red, green and blue values that colours told apart are chosen from."""


def tints(color: str, count: int = 5) -> list[str]:
    """Tints and shades of a colour from light to dark, evenly spaced in lightness (OKLab), as hex. The colour's alpha
    stays."""
    from coloraide import Color

    _check_count(count)
    value = rgba(color)
    base = of_rgba(Color, value).convert("oklch")
    out = []
    for i in range(count):
        light = 0.95 - 0.75 * (i + 0.5) / count
        part = base.clone().set("lightness", light).convert("srgb").fit(method="oklch-chroma").coords()
        r, g, b = (round(min(1.0, max(0.0, v)) * 255) for v in part)
        out.append(to_hex((r, g, b, value[3])))
    return out


@lru_cache(maxsize=16)
def _told_apart(count: int) -> tuple[str, ...]:
    from coloraide import Color

    found = [
        (c, Color("srgb", [v / 255 for v in c]).convert("oklab").coords())
        for c in itertools.product(CANDIDATES, repeat=3)
    ]
    found = [(c, lab) for c, lab in found if 0.35 <= lab[0] <= 0.85]  # seen on white and on black
    start = min(range(len(found)), key=lambda i: math.dist(found[i][1], (0.62, 0.14, 0.09)))
    away = [math.inf] * len(found)
    out: list[str] = []
    while len(out) < count:
        out.append("#" + "".join(f"{v:02x}" for v in found[start][0]))
        away = [min(a, math.dist(lab, found[start][1])) for a, (_, lab) in zip(away, found, strict=True)]
        start = max(range(len(found)), key=away.__getitem__)
    return tuple(out)


def told_apart(count: int) -> list[str]:
    """So many colours that are as easily told apart as so many can be, as hex, the same every time: each is the one
    farthest from those before it (OKLab), none too light or too dark to be seen on a page."""
    _check_count(count)
    return list(_told_apart(count))


def _check_count(count: int) -> None:
    if isinstance(count, bool) or not isinstance(count, int) or not 1 <= count <= MOST:
        raise ValueProblem(f"{shorten(count)} colours can't be made.", hint=f"From 1 to {MOST}.")
