from __future__ import annotations

from typing import Any

from chalcedon.geometry import Affine, Box, Outline, primitives
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property
from chalcedon.scene.grips import Handle, Point
from chalcedon.scene.kinds.rect import BOXED, CornerRole, baked_size, size_handles
from chalcedon.scene.painted import positive
from chalcedon.scene.paints import Paint
from chalcedon.scene.proportions import Proportioned, ratio_of
from chalcedon.scene.roles import Extent
from chalcedon.scene.values import Anchor, Choice, Corners, TextValue, Tuple


class Image(Proportioned):
    """A picture from a file beside the scene, or embedded as a data URL."""

    __slots__ = ()
    kind = "image"
    leading = ("at", "source", "size")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    source: Property[str] = Property(
        TextValue(), "", "a file in the folder of the scene, or a data: URL", affects="paint", always=True
    )
    size: Property[tuple[float, float]] = Property(
        Tuple("width", "height", of=positive), (160, 120), "width and height", always=True, role=Extent()
    )
    fit: Property[str] = Property(
        Choice("fill", "contain", "cover", "none", "scale-down"),
        "contain",
        "how the picture fills the size (CSS object-fit)",
        affects="paint",
    )
    corners: Property[tuple[float, ...]] = Property(
        Corners(), (0,), "corner radius: one, or four clockwise", role=CornerRole()
    )
    fill: Property[Any] = Property(Paint(), None, "paint behind the picture", affects="paint", section="paint")

    rank, key = 12, "M"
    glyph = (
        "rect 2.5 4 15 12 1.5 fill none stroke INK 1.6",
        "polyline 4 14 0 0 4 -5 6.5 -2 9 -4.5 12 0 closed fill INK stroke none",
        "circle 13.5 7.5 1.4 fill INK",
    )
    example = "image 80 20 buoy.png 120 90"
    hint = "Press at one corner, drag to the other, then choose a file · Shift makes a square"
    title = "Place an image"
    made_by = "box"
    tight = stretches = upright = True
    words = BOXED

    @staticmethod
    def outline(size: Point, corners: tuple[float, ...]) -> Outline:
        return primitives.rect(*size, corners)

    @staticmethod
    def box(size: Point) -> Box:
        return (0.0, 0.0, *size)

    def says(self) -> str:
        if self.source.startswith("data:"):
            return "embedded image"
        return f"image {self.source}" if self.source else "image without a source"

    def proportion(self) -> tuple[float, float]:
        return self.size

    def handles(self, box: Box) -> list[Handle]:
        return size_handles(*self.size, ratio_of(self))

    def baked(self, m: Affine) -> dict[str, Any]:
        size = baked_size(self, m)
        if m.b or m.a < 0 or m.d < 0:
            raise ValueProblem("a picture can't be turned or mirrored without a step.")
        return {"size": size}
