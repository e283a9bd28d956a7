"""The outline of each kind, in its own space (before the anchor is taken into account).

Two functions a kind: `outline` makes the path, `box` gives its exact bounds without making it, so that a
large scene can be placed before anything is drawn. Tests hold them to each other.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from cachetools import LRUCache, cached

from chalcedon.geometry import EMPTY, Box, Path
from chalcedon.geometry import primitives as make
from chalcedon.geometry import round as about
from chalcedon.geometry.pathdata import REMEMBERED, outline_of, parse_path
from chalcedon.geometry.spline import through
from chalcedon.scene import shapes as kinds
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


def _polyline(points: tuple[tuple[float, float], ...], closed: bool, curve: float) -> Path:
    return through(points, closed, curve) if curve > 0.0 else make.polyline(points, closed)


_register(
    Polyline,
    "points",
    "closed",
    "curve",
    outline=_polyline,
    box=lambda p, closed, curve: through(p, closed, curve).bounds() if curve > 0.0 else _points_box(p),
)


def _rect(size: tuple[float, float], corners: tuple[float, ...], style: str = "round") -> Path:
    return make.smooth_rect(*size, corners) if style == "smooth" else make.rect(*size, corners)


def _rect_box(size: tuple[float, float], *_: object) -> Box:
    return (0.0, 0.0, *size)


_register(Rect, "size", "corners", "corner_style", outline=_rect, box=_rect_box)
_register(kinds.Image, "size", "corners", outline=_rect, box=_rect_box)
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


@cached(LRUCache(REMEMBERED, getsizeof=lambda path: 10 + len(path.verbs)))
def _path(data: str) -> Path:
    return outline_of(parse_path(data).segments)


_register_by_outline(kinds.Path, "data", outline=_path)


def _text_outline(values: Stored) -> Path:
    from chalcedon.evaluate.words import layout_of  # fonts and shaping are loaded by the first text

    return layout_of(values).outline()


def _text_box(values: Stored) -> Box:
    from chalcedon.evaluate.words import layout_of

    return layout_of(values).box


OUTLINES[kinds.Text.kind] = _text_outline, _text_box
