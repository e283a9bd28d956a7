"""Points, affine maps, paths, strokes. Knows nothing of scenes; plain Python, no Qt."""

from chalcedon.geometry.affine import IDENTITY, MIRROR, Affine
from chalcedon.geometry.boxes import EMPTY, Box
from chalcedon.geometry.path import Outline, PathBuilder

__all__ = ["EMPTY", "IDENTITY", "MIRROR", "Affine", "Box", "Outline", "PathBuilder"]
