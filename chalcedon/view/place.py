"""Scene px to widget px and back: zoom, pan, fit."""

from __future__ import annotations

from chalcedon.geometry import Affine, Box

LEAST, MOST = 0.02, 64.0
"""Zoom: 2 % to 6400 %."""
STEPS = (0.02, 0.05, 0.1, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0, 6.0, 8.0, 16.0, 32.0, 64.0)


class View:
    """`zoom` is device px per scene px divided by the device ratio; `x`, `y` the widget px of scene 0, 0.

    Invariant: x and y lie on whole device px, so that tiles are shown unsmoothed.
    """

    def __init__(self) -> None:
        self.zoom = 1.0
        self.x = 0.0
        self.y = 0.0
        self.ratio = 1.0

    @property
    def matrix(self) -> Affine:
        """The map from scene px to widget px."""
        return Affine(self.zoom, 0.0, 0.0, self.zoom, self.x, self.y)

    def to_widget(self, x: float, y: float) -> tuple[float, float]:
        """Scene px to widget px."""
        return x * self.zoom + self.x, y * self.zoom + self.y

    def to_scene(self, x: float, y: float) -> tuple[float, float]:
        """Widget px to scene px."""
        return (x - self.x) / self.zoom, (y - self.y) / self.zoom

    def place(self, x: float, y: float) -> None:
        """Puts scene 0, 0 at a widget px, rounded to whole device px."""
        self.x = round(x * self.ratio) / self.ratio
        self.y = round(y * self.ratio) / self.ratio

    def pan(self, dx: float, dy: float) -> None:
        """Moves the picture by widget px."""
        self.place(self.x + dx, self.y + dy)

    def zoom_about(self, zoom: float, x: float, y: float) -> None:
        """Changes the zoom, keeping the scene point under widget (x, y) there."""
        sx, sy = self.to_scene(x, y)
        self.zoom = min(MOST, max(LEAST, zoom))
        self.place(x - sx * self.zoom, y - sy * self.zoom)

    def fit(self, box: Box, area: Box, margin: float = 24.0, most: float = MOST) -> None:
        """Shows `box` (scene px) as large as it goes in `area` (widget px)."""
        w, h = max(box[2] - box[0], 1e-6), max(box[3] - box[1], 1e-6)
        aw, ah = max(20.0, area[2] - area[0] - 2 * margin), max(20.0, area[3] - area[1] - 2 * margin)
        self.zoom = min(MOST, most, max(LEAST, min(aw / w, ah / h)))
        cx, cy = (area[0] + area[2]) / 2, (area[1] + area[3]) / 2
        self.place(cx - (box[0] + box[2]) / 2 * self.zoom, cy - (box[1] + box[3]) / 2 * self.zoom)

    def step(self, way: int) -> float:
        """The next zoom of the usual ones, in or out."""
        if way > 0:
            return next((s for s in STEPS if s > self.zoom * 1.001), MOST)
        return next((s for s in reversed(STEPS) if s < self.zoom * 0.999), LEAST)

    @property
    def digits(self) -> int:
        """Decimals worth keeping when a number comes from the hand at this zoom."""
        return 0 if self.zoom < 1.5 else 1 if self.zoom < 12 else 2
