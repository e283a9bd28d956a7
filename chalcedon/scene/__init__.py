"""The document: shapes, paint, steps, the tree and its order, edits and history."""

from chalcedon.scene import colorwords as colorwords  # lists its functions
from chalcedon.scene.paints import Gradient, Picture, Shadow
from chalcedon.scene.scene import Scene
from chalcedon.scene.shapes import (
    KINDS,
    OFFERED,
    Annulus,
    Arc,
    Circle,
    Ellipse,
    Group,
    Image,
    Line,
    Path,
    Polyline,
    Rect,
    RegularPolygon,
    Shape,
    Star,
    Text,
)
from chalcedon.scene.steps import Step

__all__ = [
    "KINDS",
    "OFFERED",
    "Annulus",
    "Arc",
    "Circle",
    "Ellipse",
    "Gradient",
    "Group",
    "Image",
    "Line",
    "Path",
    "Picture",
    "Polyline",
    "Rect",
    "RegularPolygon",
    "Scene",
    "Shadow",
    "Shape",
    "Star",
    "Step",
    "Text",
]
