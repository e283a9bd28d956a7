"""All kinds of shape. To add one, see ARCHITECTURE.md."""

from __future__ import annotations

from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene import kinds as _kinds  # noqa: F401  every file there registers its kind
from chalcedon.scene.kinds.annulus import Annulus
from chalcedon.scene.kinds.arc import Arc
from chalcedon.scene.kinds.circle import Circle
from chalcedon.scene.kinds.ellipse import Ellipse
from chalcedon.scene.kinds.image import Image
from chalcedon.scene.kinds.line import Line
from chalcedon.scene.kinds.path import Path
from chalcedon.scene.kinds.polyline import Polyline
from chalcedon.scene.kinds.rect import Rect
from chalcedon.scene.kinds.regular_polygon import RegularPolygon
from chalcedon.scene.kinds.star import Star
from chalcedon.scene.kinds.text import Text
from chalcedon.scene.painted import CLAY, INK, Centred, Painted, Stroked
from chalcedon.scene.shape import KINDS, Group, Shape, Unknown, ancestry

__all__ = [
    "CLASSES",
    "CLAY",
    "INK",
    "KINDS",
    "MADE",
    "OFFERED",
    "Annulus",
    "Arc",
    "Centred",
    "Circle",
    "Ellipse",
    "Group",
    "Image",
    "Line",
    "Painted",
    "Path",
    "Polyline",
    "Rect",
    "RegularPolygon",
    "Shape",
    "Star",
    "Stroked",
    "Text",
    "Unknown",
    "ancestry",
    "kind_named",
]


def kind_named(word: str) -> type[Shape]:
    """The class of a kind. Raises ValueProblem with the nearest valid word."""
    cls = KINDS.get(word)
    if cls is None or cls is Unknown:
        raise ValueProblem(f"{word} is not a kind of shape.", hint=nearest(word, OFFERED))
    return cls


MADE = tuple(sorted((k for k, cls in KINDS.items() if cls.rank), key=lambda k: KINDS[k].rank))
"""The kinds that are made by hand, in the order in which they are offered."""
CLASSES: dict[str, type[Shape]] = {cls.__name__: cls for cls in KINDS.values()}
"""Every class of shape by its name."""
OFFERED = (*MADE, "group")
"""The kinds a person can state."""
