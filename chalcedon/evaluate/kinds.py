"""What all nodes of one kind share."""

from __future__ import annotations

from typing import Any

from chalcedon.evaluate.outlines import OUTLINES
from chalcedon.evaluate.place import DOWN, TURNED, UPRIGHT
from chalcedon.geometry import EMPTY, Outline
from chalcedon.geometry.stroke import Pen
from chalcedon.scene.shapes import Shape


class Kind:
    """Outline functions and defaults of a kind in a scene with one way of y, looked up once."""

    def __init__(self, cls: type[Shape], axes_up: bool) -> None:
        self.axes_up = axes_up
        """Whether y runs up in the scene."""
        self.lie = (UPRIGHT if cls.upright else TURNED) if axes_up else DOWN
        self.outline, self.box = OUTLINES.get(cls.kind, (lambda v: Outline("", ()), lambda v: EMPTY))
        self.paints = cls.kind in OUTLINES
        self.tight, self.smooth = cls.tight, cls.smooth
        self.text, self.image = cls.kind == "text", cls.kind == "image"
        self.overhangs = self.text  # letters reach out of the box

        def default(name: str) -> Any:
            return cls.properties[name].default if name in cls.properties else None

        self.anchor, self.pivot = default("anchor"), default("pivot")
        self.fill, self.stroke, self.stroke_width = default("fill"), default("stroke"), default("stroke_width")
        self.usual_pen = Pen(self.stroke_width) if self.paints else None


_kinds: tuple[dict[type[Shape], Kind], dict[type[Shape], Kind]] = {}, {}


def kind_of(cls: type[Shape], up: bool) -> Kind:
    """What is shared by the nodes of a kind in scenes with y running up, or down."""
    kinds = _kinds[up]
    if cls not in kinds:
        kinds[cls] = Kind(cls, up)
    return kinds[cls]
