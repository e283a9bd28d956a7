"""The document: shapes, paint, steps, the tree and its order, edits and history."""

from chalcedon.scene.scene import Scene
from chalcedon.scene.shapes import KINDS, OFFERED, Circle, Ellipse, Group, Line, Polyline, Rect, Shape
from chalcedon.scene.steps import Step

__all__ = ["KINDS", "OFFERED", "Circle", "Ellipse", "Group", "Line", "Polyline", "Rect", "Scene", "Shape", "Step"]
