"""Points, affine maps, paths, strokes. Knows nothing of scenes; plain Python, no Qt."""

from chalcedon.geometry.affine import IDENTITY, Affine
from chalcedon.geometry.boxes import EMPTY, Box
from chalcedon.geometry.path import Outline, PathBuilder

__all__ = ["EMPTY", "IDENTITY", "Affine", "Box", "Outline", "PathBuilder"]
