"""Linear maps that keep shapes similar, and those that keep the axes."""

from __future__ import annotations

import math

from chalcedon.geometry import Affine
from chalcedon.problems import ValueProblem
from chalcedon.scene.roles import Similar
from chalcedon.scene.tidy import article

EXACT = 1e-9


def is_uniform(m: Affine) -> bool:
    """Whether a map keeps shapes similar: rotation, one scale, perhaps a reflection."""
    size = max(abs(m.a), abs(m.b), abs(m.c), abs(m.d), 1e-300)
    across = abs(math.hypot(m.a, m.b) - math.hypot(m.c, m.d)) <= EXACT * size
    return across and abs(m.a * m.c + m.b * m.d) <= EXACT * size * size


def is_straight(m: Affine) -> bool:
    """Whether a map keeps the axes, as axes."""
    size = max(abs(m.a), abs(m.b), abs(m.c), abs(m.d), 1e-300)
    along = abs(m.b) <= EXACT * size and abs(m.c) <= EXACT * size
    return along or (abs(m.a) <= EXACT * size and abs(m.d) <= EXACT * size)


def similar_map(m: Affine, kind: str) -> Similar:
    """A map taken apart. Raises ValueProblem when it stretches one way more than the other."""
    if not is_uniform(m):
        raise ValueProblem(
            f"{article(kind)} stretched one way more than the other is none any more.",
            hint="Make it a path first, then bake.",
        )
    return Similar(math.hypot(m.a, m.b), math.degrees(math.atan2(m.b, m.a)), m.a * m.d - m.b * m.c < 0)
