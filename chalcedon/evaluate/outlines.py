"""The outline of each kind, in its own space (before the anchor is taken into account).

Two functions a kind: `outline` makes the path, `box` gives its exact bounds without making it, so that a
large scene can be placed before anything is drawn. Tests hold them to each other.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from chalcedon.geometry import EMPTY, Box, Path
from chalcedon.geometry import primitives as make
from chalcedon.geometry import round as about
from chalcedon.scene.declare import Stored
from chalcedon.scene.shapes import Annulus, Arc, Circle, Ellipse, Line, Polyline, Rect, RegularPolygon, Shape, Star

Maker = tuple[Callable[[Any], Path], Callable[[Any], Box]]
OUTLINES: dict[str, Maker] = {}


def _register(cls: type[Shape], *names: str, outline: Callable[..., Path], box: Callable[..., Box]) -> None:
    """The two functions get the plain values of the named properties, defaults filled in."""
    defaults = [(n, cls.properties[n].default) for n in names]

    def call(function: Callable[..., Any]) -> Callable[[Stored], Any]:
        if len(defaults) == 1:
            ((name, default),) = defaults
            return lambda v: function(v.get(name, default))
        return lambda v: function(*[v.get(n, d) for n, d in defaults])

    OUTLINES[cls.kind] = call(outline), call(box)


def _points_box(points: tuple[tuple[float, float], ...], closed: bool = False) -> Box:
    if not points:
        return EMPTY
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


_register(
    Line,
    "to",
    outline=lambda to: make.polyline([(0.0, 0.0), to]),
    box=lambda to: (min(0.0, to[0]), min(0.0, to[1]), max(0.0, to[0]), max(0.0, to[1])),
)
_register(Polyline, "points", "closed", outline=make.polyline, box=_points_box)
_register(
    Rect,
    "size",
    "corners",
    outline=lambda size, corners: make.rect(size[0], size[1], corners),
    box=lambda size, corners: (0.0, 0.0, *size),
)
_register(Circle, "radius", outline=lambda r: make.ellipse(r, r), box=lambda r: (-r, -r, r, r))
_register(
    Ellipse, "radii", outline=lambda radii: make.ellipse(*radii), box=lambda radii: (-radii[0], -radii[1], *radii)
)


def _register_by_outline(cls: type[Shape], *names: str, outline: Callable[..., Path]) -> None:
    """For kinds whose box has no shorter way than the outline's own."""
    _register(cls, *names, outline=outline, box=lambda *values: outline(*values).bounds())


_register_by_outline(
    Arc,
    "radii",
    "start",
    "sweep",
    "ends",
    outline=lambda radii, start, sweep, ends: about.arc(radii[0], radii[1], start, sweep, ends),
)
_register_by_outline(Annulus, "inner", "outer", "start", "sweep", outline=about.annulus)
_register_by_outline(RegularPolygon, "sides", "radius", "facing", outline=about.regular_polygon)
_register_by_outline(Star, "tips", "outer", "inner", "facing", outline=about.star)
