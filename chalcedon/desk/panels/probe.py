"""The probe: where the pointer is, what it is on from front to back, and why the rest is missed."""

from __future__ import annotations

from PySide6.QtCore import QElapsedTimer, QEvent, QRectF, Qt, QTimer
from PySide6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from chalcedon.desk.ledger.parts import show
from chalcedon.desk.looks.chips import chip_brush, palette_of
from chalcedon.desk.looks.plain import show_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.session import Session
from chalcedon.hit import Finding, probe
from chalcedon.scene import Shape
from chalcedon.scene.axes import across, is_up
from chalcedon.view.guarded import Guarded

HEIGHT = 92
CHIP = 27
EVERY_MS = 30
LONGEST_MS = 300

ALONG = 8.0
"""Widget px from an outline within which its own measure is shown."""
LONG = 400
"""Segments of an outline that is measured while the pointer moves."""


class Probe(Guarded, QWidget):
    """A strip under the canvas. Its chips can be clicked, and walked with the arrow keys."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.point: tuple[float, float] | None = None
        self.frozen = False
        self._found: list[Finding] = []
        self._along = ""
        self._stale = False
        self._soon = QTimer(self)  # while things move, a look every so often is enough
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.refresh)
        self._since = QElapsedTimer()
        self._since.start()
        self.zoom = 1.0
        self._hot = -1
        self._focus = 0
        self._boxes: list[QRectF] = []
        self._first = 0
        """The first finding that is shown; the wheel and the arrow keys move it."""
        self._left_out = 0
        self.setFixedHeight(HEIGHT)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Probe")
        session.changed.connect(lambda changes: self._later(edited=True) if changes else None)
        session.replaced.connect(self._clear)
        session.selection_changed.connect(self.update)

    def _clear(self) -> None:
        self.point, self.frozen, self._found, self._boxes = None, False, [], []
        self.update()

    def follow(self, point: tuple[float, float] | None) -> None:
        """The pointer is at a scene point; None when it has left. A frozen probe stays."""
        if not self.frozen:
            if point is not None:
                self.point = point
            self._later()

    def _later(self, edited: bool = False) -> None:
        """Looks again soon: while the pointer moves every so often, while the scene changes once it rests."""
        if not self._stale:
            self._since.start()
        self._stale = True
        # what goes on changing is looked at now and then all the same
        if (edited and self._since.elapsed() < LONGEST_MS) or not self._soon.isActive():
            self._soon.start(EVERY_MS * 2 if edited else EVERY_MS)

    @property
    def findings(self) -> list[Finding]:
        """What is at the point now, the newest changes included."""
        if self._stale:
            self.refresh()
        return self._found

    def toggle_frozen(self) -> None:
        self.frozen = not self.frozen and self.point is not None
        self.update()

    def refresh(self) -> None:
        """Looks again, and lays the chips out."""
        self._stale = False
        if self.point is not None:
            self._first = 0
            self._found = probe(self.session.tester, *self.point, near=30 / max(self.zoom, 0.05))
        self._along = self._along_selected()
        self._lay_out()
        names = ", ".join(f"{f.shape.id} {f.part or f.reason}" for f in self._found)
        self.setAccessibleDescription(names or "nothing here")
        self.update()

    # layout and painting

    def _texts(self, f: Finding) -> str:
        if not f.part:
            return f.reason
        text = f"{f.part} {show(round(f.distance, 1))} in" if f.part == "fill" else f.part
        return f"{text} · {f.reason}" if f.reason else text

    def _lay_out(self) -> None:
        bold, plain = QFontMetricsF(font(bold=True)), QFontMetricsF(font(13))
        x = 16.0
        self._boxes = []
        self._first = max(0, min(self._first, len(self._found) - 1))
        for f in self._found[self._first :]:
            width = 30 + bold.horizontalAdvance(f.shape.id) + 7 + plain.horizontalAdvance(self._texts(f)) + 12
            if x + width > self.width() - 16:
                break
            self._boxes.append(QRectF(x, 34, width, CHIP))
            x += width + 7
        self._left_out = len(self._found) - len(self._boxes) - self._first

    def resizeEvent(self, event: QEvent) -> None:
        self._lay_out()

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme()
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), t.color("panel"))
        self._paint_head(painter)
        for i, box in enumerate(self._boxes):
            self._paint_chip(painter, i, box)
        painter.setFont(font(13, italic=True))
        painter.setPen(t.color("muted"))
        hits = sum(1 for f in self._found if f.part)
        if self.point is None:
            painter.setFont(font(14))
            painter.drawText(
                QRectF(16, 36, self.width() - 32, HEIGHT - 40),
                Qt.TextFlag.TextWordWrap,
                "Point at the picture: what lies there is listed here, front to back, and why the rest is not hit.",
            )
        elif not self._found:
            painter.setFont(font(14))
            painter.drawText(16, 52, "Nothing here, and nothing within reach.")
        else:
            before = f"‹ {self._first} more" if self._first else "front" if hits else "no hit"
            painter.drawText(16, 80, before)
            more = f"{self._left_out} more ›  ·  " if self._left_out else ""
            tail = "back, then near misses" if hits else "near misses"
            painter.drawText(QRectF(0, 66, self.width() - 16, 20), Qt.AlignmentFlag.AlignRight, more + tail)
        painter.end()

    def _paint_head(self, painter: QPainter) -> None:
        t = theme()
        painter.setFont(font(bold=True))
        painter.setPen(t.color("ink"))
        painter.drawText(16, 22, "Probe")
        x = 16 + painter.fontMetrics().horizontalAdvance("Probe") + 16
        painter.setFont(font(13))
        painter.setPen(t.color("muted"))
        painter.drawText(x, 22, "    ".join(self.places()))
        right = "F  freeze" if not self.frozen else "F  follow again"
        painter.setPen(t.color("carnelian") if self.frozen else t.color("muted"))
        painter.drawText(QRectF(0, 8, self.width() - 16, 20), Qt.AlignmentFlag.AlignRight, right)

    def places(self) -> list[str]:
        """Where the pointer is, in the scene, in the spaces of shapes, and along an outline."""
        if self.point is None:
            return []
        parts = [f"scene {_pair(across(self.session.scene, *self.point))}"]
        for shape in self._spaces():
            back = self.session.node(shape).inverse
            if back is not None:
                parts.append(f"in {shape.id} {_pair(back.map(*self.point))}")
        return [*parts, self._along] if self._along else parts

    def _along_selected(self) -> str:
        """How far along the outline of the selected shape the point is, and which way it runs there."""
        current = self.session.current
        node = self.session.display.find(current) if current is not None else None
        if self.point is None or node is None or node.group or node.kind.text or len(node.outline.verbs) > LONG:
            return ""
        from chalcedon.geometry.along import Along  # NumPy

        along = Along(node.outline.mapped(node.world))
        found = along.nearest(*self.point)
        if found is None or found[1] > ALONG / max(self.zoom, 0.05) or along.length == 0.0:
            return ""
        spot = found[0]
        share = 100 * spot.distance / along.length
        angle = -spot.angle if is_up(self.session.scene) else spot.angle
        return f"{show(round(spot.distance, 1))} along ({share:.0f} %), tangent {show(round(angle, 1))}°"

    def _spaces(self) -> list[Shape]:
        """Whose spaces the coordinates are given in: the selected shape and its group, else the front hit's."""
        current = self.session.current
        hit = next((f.shape for f in self._found if f.part), None)
        shape = current if current is not None else hit
        if shape is None or self.session.display.find(shape) is None:
            return []
        parent = shape.parent
        return [shape] if parent is None or not parent.id else [parent, shape]

    def _paint_chip(self, painter: QPainter, index: int, box: QRectF) -> None:
        t = theme()
        f = self._found[self._first + index]
        chosen = self.session.is_selected(f.shape)
        hit = bool(f.part)
        painter.setBrush(t.color("panel") if hit else t.color("sunken"))
        edge = t.color("chalcedony") if chosen else t.color("muted") if index == self._hot else t.color("line")
        painter.setPen(QPen(edge, 2 if chosen else 1))
        painter.drawRoundedRect(box, CHIP / 2, CHIP / 2)
        if self.hasFocus() and index == self._focus:
            painter.setPen(QPen(t.color("carnelian"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-2, -2, 2, 2), CHIP / 2 + 2, CHIP / 2 + 2)
        values = f.shape.plain_values()
        paint = values.get("stroke" if f.part == "stroke" else "fill", None)
        if "fill" in f.shape.properties and paint is None:
            paint = f.shape.fill or f.shape.stroke  # type: ignore[attr-defined]
        painter.setPen(QPen(t.color("line"), 1))
        painter.setBrush(
            chip_brush(paint, palette_of(f.shape), box.left() + 8, box.center().y() - 8)
            if hit and paint is not None
            else t.color("muted", 130)
        )
        painter.drawEllipse(QRectF(box.left() + 11, box.center().y() - 5, 10, 10))
        painter.setFont(font(bold=True))
        painter.setPen(t.color("ink") if hit else t.color("muted"))
        x = box.left() + 28
        painter.drawText(QRectF(x, box.top(), 400, CHIP), Qt.AlignmentFlag.AlignVCenter, f.shape.id)
        x += painter.fontMetrics().horizontalAdvance(f.shape.id) + 7
        painter.setFont(font(13))
        painter.setPen(t.color("muted"))
        painter.drawText(QRectF(x, box.top(), 400, CHIP), Qt.AlignmentFlag.AlignVCenter, self._texts(f))

    # input

    def _at(self, event: QMouseEvent) -> int:
        return next((i for i, b in enumerate(self._boxes) if b.contains(event.position())), -1)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        hot = self._at(event)
        if hot != self._hot:
            self._hot = hot
            self.setCursor(Qt.CursorShape.PointingHandCursor if hot >= 0 else Qt.CursorShape.ArrowCursor)
            if hot >= 0:
                who = self._found[self._first + hot].shape.id
                show_tip(event.globalPosition().toPoint(), f"Select {who}", self)
            self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        at = self._at(event)
        if at >= 0:
            self._focus = at
            self._choose(bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def leaveEvent(self, event: QEvent) -> None:
        self._hot = -1
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self._boxes:
            self._step(1 if event.key() == Qt.Key.Key_Right else -1)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self._boxes:
            self._focus = min(self._focus, len(self._boxes) - 1)
            self._choose(bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            super().keyPressEvent(event)

    def _step(self, way: int) -> None:
        """The focus goes to the next chip, and the chips along with it at the ends."""
        target = max(0, min(len(self._found) - 1, self._first + self._focus + way))
        while target >= self._first + len(self._boxes) and self._left_out:
            self._scroll(1)
        while target < self._first:
            self._scroll(-1)
        self._focus = target - self._first
        self.update()

    def _scroll(self, way: int) -> None:
        if way < 0 or self._left_out:
            self._first = max(0, self._first + way)
            self._lay_out()
            self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        delta = event.angleDelta()
        self._scroll(-1 if (delta.y() or delta.x()) > 0 else 1)
        event.accept()

    def _choose(self, more: bool) -> None:
        shape = self._found[self._first + self._focus].shape
        if more:
            self.session.toggle(shape)
        else:
            self.session.select([shape])


def _pair(point: tuple[float, float]) -> str:
    return f"{show(round(point[0], 1))}, {show(round(point[1], 1))}"
