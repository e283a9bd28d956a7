"""Numbers typed while the pointer drags: they take the place of how far it has gone, until Enter or the release."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent

from chalcedon.formula import calculate
from chalcedon.problems import ChalcedonError
from chalcedon.scene.grips import Handle, Point

_FIRST = re.compile(r"[0-9.\-−]")
_LATER = re.compile(r"[0-9.,;x×*/+\-−() ]")
_BETWEEN = re.compile(r"\s*[,;x×]\s*|\s+")


class Typed:
    """What has been typed so far. Empty until the first digit."""

    def __init__(self) -> None:
        self.text = ""

    def wants(self, event: QKeyEvent) -> bool:
        """Whether a key belongs to a number, rather than to a command."""
        text = event.text()
        if event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier) or not text:
            return False
        if event.key() == Qt.Key.Key_Backspace:
            return bool(self.text)
        return bool((_LATER if self.text else _FIRST).fullmatch(text))

    def take(self, event: QKeyEvent) -> bool:
        if not self.wants(event):
            return False
        self.text = self.text[:-1] if event.key() == Qt.Key.Key_Backspace else self.text + event.text()
        return True

    def clear(self) -> None:
        self.text = ""

    @property
    def numbers(self) -> list[float]:
        """The numbers that can be read so far; at most two."""
        out = []
        for part in _BETWEEN.split(self.text.strip())[:2]:
            try:
                out.append(calculate(part))
            except ChalcedonError:
                break
        return out

    def word(self) -> str:
        """Shown beside the pointer while something is typed."""
        return f"{self.text}|"


def end_of(made_by: str, a: Point, b: Point, numbers: Sequence[float], from_centre: bool) -> Point:
    """Where the second point of a shape that is being made has to be for the typed numbers: size, radius, length."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    if made_by in ("box", "radii", "column"):
        half = 2.0 if from_centre else 1.0
        w = numbers[0] / half
        h = numbers[1] / half if len(numbers) > 1 else (w if made_by == "radii" else abs(dy))
        return a[0] + math.copysign(w, dx), a[1] + math.copysign(h, dy)
    if len(numbers) > 1:
        return a[0] + numbers[0], a[1] + numbers[1]
    return toward(a, b, numbers[0])


def toward(a: Point, b: Point, length: float) -> Point:
    """The point at a distance from `a` on the way to `b`; to the right when they are one."""
    size = math.dist(a, b)
    if size == 0.0:
        return a[0] + length, a[1]
    return a[0] + (b[0] - a[0]) / size * length, a[1] + (b[1] - a[1]) / size * length


def handle_at(handle: Handle, size: Point, numbers: Sequence[float], q: Point) -> Point:
    """The raw point a handle has to be dragged to for the typed numbers. `size` is that of the raw box, for the
    handles of a rect; `q` where the pointer is."""
    n = numbers[0]
    two = numbers[1] if len(numbers) > 1 else None
    if handle.typed is not None:
        return handle.typed(n)
    if handle.role == "size":
        w, h = size
        fixed = w - handle.raw[0], h - handle.raw[1]
        height = two if two is not None else abs(q[1] - fixed[1])
        return fixed[0] + math.copysign(n, q[0] - fixed[0]), fixed[1] + math.copysign(height, q[1] - fixed[1])
    if handle.role == "edge":
        w, h = size
        x = w - n if handle.raw[0] == 0.0 else n
        y = h - n if handle.raw[1] == 0.0 else n
        return x, y
    if handle.role in ("radius", "corner") and two is None:
        length = math.hypot(*handle.raw)
        if length == 0.0:
            return n, n
        if handle.role == "corner" and handle.raw[0] == handle.raw[1]:
            return n, n  # the corner radius of a rect
        return handle.raw[0] / length * n, handle.raw[1] / length * n
    if handle.role == "angle" and two is None:
        angle = math.radians(n)
        return math.cos(angle) * 1e4, math.sin(angle) * 1e4
    return n, two if two is not None else q[1]
