"""The document: shapes, paint, steps, the tree and its order, edits and history."""

from chalcedon.scene.scene import Scene
from chalcedon.scene.shapes import (
    KINDS,
    OFFERED,
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Line,
    Polyline,
    Rect,
    RegularPolygon,
    Shape,
    Star,
)
from chalcedon.scene.steps import Step

__all__ = [
    "KINDS",
    "OFFERED",
    "Annulus",
    "Arc",
    "Circle",
    "Ellipse",
    "Group",
    "Line",
    "Polyline",
    "Rect",
    "RegularPolygon",
    "Scene",
    "Shape",
    "Star",
    "Step",
]
