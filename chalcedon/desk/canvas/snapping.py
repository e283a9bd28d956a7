"""Snapping on the canvas: what tools ask of it, and how what was snapped to is shown."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from chalcedon.desk.canvas import overlay
from chalcedon.desk.looks.theme import theme
from chalcedon.geometry import Box
from chalcedon.scene import Shape
from chalcedon.scene.axes import across
from chalcedon.scene.grips import Point
from chalcedon.scene.tidy import tidy
from chalcedon.view import Pointer

if TYPE_CHECKING:
    from chalcedon.craft.snap import Mark, Snapper
    from chalcedon.desk.canvas.widget import Canvas

REACH = 7.0
"""Widget px within which something snaps."""
GREEN = "#2F6B54"
"""What snapped, on any ground and in both themes: white words on it can be read."""
EXACT = 4
"""Decimals of a place that was snapped to."""


class Snapping:
    """Off while Alt is held, or when it is switched off. What can be snapped to is found when a gesture first asks."""

    def __init__(self, canvas: Canvas) -> None:
        self.canvas = canvas
        self.marks: tuple[Mark, ...] = ()
        self._without: list[Shape] = []
        self._snapper: tuple[object, Snapper] | None = None

    def begin(self, without: Iterable[Shape] = ()) -> None:
        """A gesture begins that changes these shapes."""
        self._without = list(without)
        self._snapper, self.marks = None, ()

    def end(self) -> None:
        self.begin()

    @property
    def on(self) -> bool:
        return self.canvas.session.snaps

    def _now(self) -> Snapper:
        """What can be snapped to; while no gesture is under way it follows the scene."""
        from chalcedon.craft.snap import Snapper  # NumPy, which would hold up the start

        canvas, session = self.canvas, self.canvas.session
        view = (*canvas.view.to_scene(0, 0), *canvas.view.to_scene(canvas.width(), canvas.height()))
        state = None if self._without else session.display.version
        if self._snapper is None or self._snapper[0] != (state, view):
            display = session.display
            nodes = [n for s in self._without for n in display.nodes(s)]
            scene = session.scene
            guides = scene.guides_x, [across(scene, 0.0, y)[1] for y in scene.guides_y]
            self._snapper = (state, view), Snapper(display, nodes, guides, session.grid, view)
        return self._snapper[1]

    def point(self, p: Pointer, fixed: Point | None = None, radial: bool = False) -> Pointer:
        """The pointer where it snaps to; unsnapped places have the decimals of the view."""
        x, y = self.place((p.sx, p.sy), p, fixed, radial)
        return replace(p, sx=x, sy=y, snapped=bool(self.marks))

    def place(self, at: Point, p: Pointer, fixed: Point | None = None, radial: bool = False) -> Point:
        """A place in scene px that is dragged with the pointer, where it snaps to."""
        self.marks = ()
        if not self.on or p.alt:
            return at
        found = self._now().point(*at, REACH / self.canvas.view.zoom, fixed, radial)
        self.marks = found.marks
        if not found.marks:
            return at
        digits = self.canvas.view.digits
        return (
            tidy(at[0] + found.dx, EXACT) if found.x else tidy(at[0], digits),
            tidy(at[1] + found.dy, EXACT) if found.y else tidy(at[1], digits),
        )

    def along(self, at: Point, down: Pointer, p: Pointer, fixed: Point | None = None) -> Pointer:
        """The pointer moved on as far as a place, which it took hold of when it was `down`, has to go to where that
        snaps to."""
        x, y = self.place((at[0] + p.sx - down.sx, at[1] + p.sy - down.sy), p, fixed)
        return replace(p, sx=down.sx + x - at[0], sy=down.sy + y - at[1], snapped=bool(self.marks))

    def box(self, box: Box, p: Pointer) -> tuple[Point, tuple[bool, bool]]:
        """How far a box that is moved with the pointer has to go to where it snaps to; and which way it was snapped."""
        self.marks = ()
        if not self.on or p.alt or box[0] > box[2]:
            return (0.0, 0.0), (False, False)
        found = self._now().box(box, REACH / self.canvas.view.zoom)
        self.marks = found.marks
        return (found.dx, found.dy), (found.x, found.y)

    # what is seen

    def draw(self, painter: QPainter) -> None:
        """What was snapped to: its lines, a ring on a point, and words."""
        to_widget = self.canvas.view.to_widget
        color = QColor(GREEN)
        bounds = QRectF(*self.canvas.area()).adjusted(0, 0, -overlay.RULER, -overlay.RULER)
        for i, mark in enumerate(self.marks):
            for a, b in mark.lines:
                for pen in (QPen(QColor(255, 255, 255, 200), 3), QPen(color, 1.2)):
                    painter.setPen(pen)
                    painter.drawLine(QPointF(*to_widget(*a)), QPointF(*to_widget(*b)))
            x, y = to_widget(*mark.spot)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if not mark.lines:
                painter.setPen(QPen(color, 2))
                painter.drawEllipse(QPointF(x, y), 6, 6)
            overlay.draw_tag(painter, x + 10, y - 28 - 22 * i * _near(self.marks), mark.words, bounds, GREEN)


def _near(marks: Sequence[Mark]) -> bool:
    """Whether the words of two marks would stand on each other."""
    return len(marks) > 1 and abs(marks[0].spot[0] - marks[1].spot[0]) < 200


def draw_guides(painter: QPainter, canvas: Canvas) -> None:
    """The guides and, when it is shown, the grid."""
    t, view, scene = theme(), canvas.view, canvas.session.scene
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    grid = canvas.session.grid
    if grid and grid * view.zoom >= 4:
        painter.setPen(QPen(t.color("muted", 50), 1))
        width, height = scene.size
        for i in range(int(width / grid) + 1):
            x, y = view.to_widget(i * grid, 0)
            painter.drawLine(QPointF(round(x), y), QPointF(round(x), view.to_widget(0, height)[1]))
        for i in range(int(height / grid) + 1):
            x, y = view.to_widget(*across(scene, 0.0, i * grid))
            painter.drawLine(QPointF(x, round(y)), QPointF(view.to_widget(width, 0)[0], round(y)))
    painter.setPen(QPen(t.color("chrysoprase", 190), 1))
    for gx in scene.guides_x:
        x, _ = view.to_widget(gx, 0)
        painter.drawLine(QPointF(round(x), overlay.RULER), QPointF(round(x), canvas.height()))
    for gy in scene.guides_y:
        _, y = view.to_widget(*across(scene, 0.0, gy))
        painter.drawLine(QPointF(overlay.RULER, round(y)), QPointF(canvas.width(), round(y)))
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
