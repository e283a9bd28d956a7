"""The widget that shows a scene. What is drawn over the picture, and what the pointer does, is left to who uses it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QPoint, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QRegion, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from chalcedon.evaluate import Changes
from chalcedon.hit import Hit, HitTester
from chalcedon.hit.tester import tester_of
from chalcedon.scene import Scene
from chalcedon.scene.edits import Edit
from chalcedon.view.guarded import Guarded
from chalcedon.view.place import View
from chalcedon.view.pointer import Pointer
from chalcedon.view.tiles import Colors, Tiles

__all__ = ["Colors", "SceneView"]

FRAME = 0.006
"""Seconds of tile painting in one frame; the rest is refined between frames."""
WHOLE = 0.2
"""Seconds that a frame of a scene that lives may take: rather fewer frames than parts of two moments in one."""
REST_MS = 150
"""How long nothing has moved until it is painted as what rests."""
SLICE = 0.008
"""Seconds of one idle slice."""
MANY = 20
"""Changed areas from which on the whole widget is painted anew."""


class SceneView(Guarded, QWidget):
    """Shows a scene and follows its edits. The wheel pans and, with Ctrl, zooms; the middle button drags the picture.

    Given a scene, it follows every edit by itself, in the next turn of the event loop. Given a hit tester it shows the
    display list of that, and follows whoever updates it. Call `shut` before the program ends.
    """

    pointed = Signal(object)
    """The scene point under the pointer, or None when it has left."""
    pressed = Signal(Pointer)
    moved = Signal(Pointer)
    """The pointer moved, pressed or not."""
    released = Signal(Pointer)
    view_changed = Signal()

    def __init__(
        self, of: Scene | HitTester, parent: QWidget | None = None, colors: Callable[[], Colors] = Colors
    ) -> None:
        super().__init__(parent)
        self._colors = colors
        self.view = View()
        self.margin = 24.0
        """Widget px that stay free around the page where the whole of it is shown."""
        self._panning: QPoint | None = None
        self._fitted = False
        self._fits = True
        self._shut = False
        self._stale = False  # whether the last frame showed something old
        self.patience = FRAME
        """Seconds that a frame may take to bring the picture up to date. Of what moves by itself all parts should be of
        one moment; what a hand moves should follow it at once."""
        self._idle = QTimer(self)
        self._idle.setInterval(0)
        self._idle.timeout.connect(self._refine)
        self._resting = QTimer(self)
        self._resting.setSingleShot(True)
        self._resting.setInterval(REST_MS)
        self._resting.timeout.connect(self._rest)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._update_display)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setAccessibleName("Scene")
        self._followed: Scene | None = None
        self.tester: HitTester
        self._open(of)

    # what is shown

    def show_scene(self, of: Scene | HitTester) -> None:
        """Shows another scene instead."""
        self._close()
        self._open(of)
        self.update()

    def _open(self, of: Scene | HitTester) -> None:
        if isinstance(of, Scene):
            self._followed = of
            of.observers.append(self._note)
        self.tester = tester_of(of) if isinstance(of, Scene) else of
        self.display = self.tester.display
        self.display.readers.append(self.follow)
        self.tiles = Tiles(self.display, self.tester.index, self._colors)
        self._fitted = False
        self._first = True

    def _close(self) -> None:
        self.tiles.close()
        if self.follow in self.display.readers:
            self.display.readers.remove(self.follow)
        if self._followed is not None:
            self._followed.observers.remove(self._note)
            self._followed = None

    def _note(self, edit: Edit) -> None:
        self._soon.start()

    def _update_display(self) -> None:
        self.display.update()

    def follow(self, changes: Changes) -> None:
        """Takes in what an update of the display list changed."""
        region = self.touched(changes)
        if region is None:
            self.update()
        else:
            self.update(region)

    def touched(self, changes: Changes) -> QRegion | None:
        """Where in the widget the picture changed; None for everywhere."""
        areas = self.tiles.follow(changes, self.lively)
        if self.tiles.moving:
            self._resting.start()
        if changes.order or changes.page or len(areas) > MANY:
            return None
        region = QRegion()
        r = self.view.ratio
        for area in areas:
            place = QRectF(
                area.left() / r + self.view.x, area.top() / r + self.view.y, area.width() / r, area.height() / r
            )
            region |= QRegion(place.toAlignedRect().adjusted(-1, -1, 1, 1) & self.rect())
        return region

    @property
    def lively(self) -> bool:
        """Whether what moves does so by itself: a frame then takes the time it needs, and what only moves is shown by
        ready pictures until it rests."""
        return self.patience > FRAME

    @lively.setter
    def lively(self, lively: bool) -> None:
        self.patience = WHOLE if lively else FRAME

    def _rest(self) -> None:
        self.tiles.rest()
        self.update()

    def hits(self, x: float, y: float, radius: float = 0.0) -> list[Hit]:
        """The shapes at (x, y) in scene px, front to back; `radius` in widget px."""
        return self.tester.hit_test(x, y, radius=radius / self.view.zoom)

    def shut(self) -> None:
        """Ends all painting for good. A painter still at work when the process ends would crash it."""
        if not self._shut:
            self._shut = True
            self._idle.stop()
            self._soon.stop()
            self._close()

    # the view

    def area(self) -> tuple[float, float, float, float]:
        """Where in the widget the picture is shown: left, top, right, bottom."""
        return 0.0, 0.0, self.width(), self.height()

    def fit(self) -> None:
        """Shows the whole page, until something else is asked for."""
        width, height = self.display.scene.size
        self.view.fit((0, 0, width, height), self.area(), self.margin, most=8.0)
        self._view_moved()
        self._fits = True

    def zoom_to(self, zoom: float, x: float | None = None, y: float | None = None) -> None:
        """Zooms about a widget point; about the middle when none is given."""
        left, top, right, bottom = self.area()
        self.view.zoom_about(zoom, (left + right) / 2 if x is None else x, (top + bottom) / 2 if y is None else y)
        self._view_moved()

    def pan(self, dx: float, dy: float) -> None:
        """Moves the picture by widget px."""
        self.view.pan(dx, dy)
        self._view_moved()

    def _view_moved(self) -> None:
        self._fits = False
        self.view_changed.emit()
        self.update()

    # painting

    def paint_over(self, painter: QPainter) -> None:
        """What is drawn over the picture, in widget px. To be overridden."""

    def resizeEvent(self, event: QResizeEvent) -> None:
        if self._fits:  # the page was shown whole, so it stays whole
            self.fit()
        super().resizeEvent(event)

    def showEvent(self, event: QEvent) -> None:
        self.view.ratio = self.devicePixelRatioF()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._shut:
            return
        if not self._fitted and self.isVisible():
            self._fitted = True
            self.view.ratio = self.devicePixelRatioF()
            self.fit()
        self.tiles.zoom_to(self.view.zoom * self.view.ratio, self.view, self.width(), self.height())
        painter = QPainter(self)
        try:
            budget = self.patience * 5 if self._first else self.patience
            if not self.tiles.paint(painter, self.view, event.region(), self.size(), budget):
                self._stale = True
            self._first = False
            if not self._idle.isActive():
                self._idle.start()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.paint_over(painter)
        finally:
            painter.end()
        self._show_new()

    def _show_new(self) -> None:
        """Asks for what became new beside what was to be painted."""
        for place in self.tiles.unshown(self.view):
            self.update(place & self.rect())

    def _refine(self) -> None:
        """An idle slice: first the picture, then the index for hit tests at rest."""
        if self._first or self._shut:
            return
        done = self.tiles.refine(self.view, self.width(), self.height(), SLICE)
        self._show_new()
        if not done:
            return
        if self._stale:
            self._stale = False
            self.update()
        elif self.tester.index.settle(SLICE / 2):
            self._idle.stop()

    # the pointer

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if event.button() == Qt.MouseButton.MiddleButton:
            self.take_picture(event.position().toPoint())
        elif event.button() == Qt.MouseButton.LeftButton:
            self.pressed.emit(Pointer.of(event, self.view))

    def take_picture(self, at: QPoint) -> None:
        """The picture goes along with the pointer until the button is released."""
        self._panning = at
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def drag_picture(self, event: QMouseEvent) -> bool:
        """Moves the picture along, when it is held."""
        if self._panning is None:
            return False
        now = event.position().toPoint()
        step, self._panning = now - self._panning, now
        self.pan(step.x(), step.y())
        return True

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if not self.drag_picture(event):
            p = Pointer.of(event, self.view)
            self.moved.emit(p)
            self.pointed.emit((p.sx, p.sy))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._panning is not None:
            self._panning = None
            self.unsetCursor()
        elif event.button() == Qt.MouseButton.LeftButton:
            self.released.emit(Pointer.of(event, self.view))

    def leaveEvent(self, event: QEvent) -> None:
        self.pointed.emit(None)

    def wheelEvent(self, event: QWheelEvent) -> None:
        delta = event.pixelDelta() if not event.pixelDelta().isNull() else event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            at = event.position()
            self.zoom_to(self.view.zoom * 1.0015 ** event.angleDelta().y(), at.x(), at.y())
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.pan(delta.y() or delta.x(), 0)
        else:
            self.pan(delta.x() / 2, delta.y() / 2)
        event.accept()
