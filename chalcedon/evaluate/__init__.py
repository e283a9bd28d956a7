"""Document to display list: evaluated outlines with world transforms and paint, in paint order."""

from chalcedon.evaluate.displaylist import Changes, DisplayList
from chalcedon.evaluate.node import Node

__all__ = ["Changes", "DisplayList", "Node"]
