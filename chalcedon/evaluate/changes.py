"""What an update of a display list changed."""

from __future__ import annotations

from dataclasses import dataclass, field

from chalcedon.evaluate.carrying import Herd
from chalcedon.evaluate.node import Node
from chalcedon.geometry import Box


@dataclass(slots=True)
class Changes:
    """What an update changed. `boxes` are the scene px that may look different now."""

    boxes: list[Box] = field(default_factory=list)
    nodes: list[Node] = field(default_factory=list)
    """Shapes that paint, with another look or place."""
    herds: list[Herd] = field(default_factory=list)
    """Of those, the many that were carried at once; empty where that isn't known."""
    groups: list[Node] = field(default_factory=list)
    """Groups with other values of their own, or hidden, shown or locked with one around them."""
    order: bool = False
    """Shapes came, went or changed places."""
    moved: bool = False
    """Some changed places; otherwise `came` and `left` say all that `order` is about."""
    came: list[Node] = field(default_factory=list)
    """Nodes that are new, groups before what they hold."""
    left: list[Node] = field(default_factory=list)
    layers: bool = False
    """Other groups than before are painted by themselves, or other cut-outs cut."""
    page: bool = False

    def __bool__(self) -> bool:
        return bool(self.boxes or self.nodes or self.groups or self.order or self.layers or self.page)

    def add(self, more: Changes) -> None:
        """Takes in what a later evaluation changed."""
        self.boxes += more.boxes
        self.herds = more.herds if not self.nodes else []  # what was evaluated twice stands where it was put last
        self.nodes += more.nodes
        self.groups += more.groups
        self.order |= more.order
        self.moved |= more.moved
        self.came += more.came
        self.left += more.left
        self.layers |= more.layers
        self.page |= more.page
