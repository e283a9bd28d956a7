"""The canvas: the scene's picture with rulers, and the tool at work on it."""

from __future__ import annotations

import shiboken6
from PySide6.QtCore import QEvent, QRect, Qt, Signal
from PySide6.QtGui import QAccessible, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QRegion, QWheelEvent

from chalcedon.craft.arrange import move_by
from chalcedon.desk.access.part import tell
from chalcedon.desk.canvas import above, overlay, sought
from chalcedon.desk.canvas.drawpath import PathTool
from chalcedon.desk.canvas.editpoints import PointsTool
from chalcedon.desk.canvas.flash import Flash
from chalcedon.desk.canvas.freehand import FreehandTool
from chalcedon.desk.canvas.guides import Guides
from chalcedon.desk.canvas.hitview import HitView
from chalcedon.desk.canvas.make import MakeTool, PolylineTool
from chalcedon.desk.canvas.pointbar import PointBar
from chalcedon.desk.canvas.select import SelectTool
from chalcedon.desk.canvas.snapping import Snapping
from chalcedon.desk.canvas.tool import Tool
from chalcedon.desk.canvas.words import WordsEditor
from chalcedon.desk.canvas.yardstick import MeasureTool
from chalcedon.desk.live.player import Player
from chalcedon.desk.live.playing import FELT, Playing
from chalcedon.desk.looks.theme import theme
from chalcedon.desk.session import Session
from chalcedon.evaluate import Changes
from chalcedon.evaluate.names import readable
from chalcedon.scene import Group, Shape, Text
from chalcedon.scene.axes import is_up
from chalcedon.scene.order import names_of
from chalcedon.view import Colors, Pointer, SceneView

LIVE_HINT = "The scene lives: pointer and keys are its own. Hold Alt to edit meanwhile; F5 goes back to Build."
COMMANDS = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier


def _is_function(event: QKeyEvent) -> bool:
    return Qt.Key.Key_F1 <= event.key() <= Qt.Key.Key_F35


def _colors() -> Colors:
    return Colors(theme().desk, theme().panel)


class Canvas(SceneView):
    """Shows the session's scene. Follows its changes; asks the current tool what the pointer means."""

    tool_switched = Signal(str)
    """The kind that is being made; empty when selecting."""
    hint_changed = Signal(str)
    points_asked = Signal(str)
    """Something is to be done to the whole outline whose points are edited."""

    def __init__(self, session: Session) -> None:
        super().__init__(session.tester, colors=_colors)
        self.session = session
        self.kind = ""
        self.locked_on = False
        self.tool: Tool = SelectTool(self)
        self.pointer: tuple[float, float] | None = None
        self.words: WordsEditor | None = None
        self.point_bar = PointBar(self)
        self.snapping = Snapping(self)
        self.guides = Guides(self)
        self.flash = Flash(self)
        session.laid_changed.connect(self.update)
        self.hit_view = HitView(self)
        self.playing = Playing(self, lambda: session.document.player)
        self._player: Player | None = None
        self._follow_player()
        self._space = False
        self._rulers = overlay.Rulers()
        self._overlaid = QRect()  # what the overlay covered when it was painted last
        self.pointed_out: Shape | None = None
        self.setMinimumSize(240, 160)
        self.setAccessibleName("Canvas")
        session.hands.append(self._take_back)
        session.changed.connect(self._session_changed)
        session.replaced.connect(self._replace)
        session.edit_words.connect(self.write)
        session.selection_changed.connect(self.update)
        session.selection_changed.connect(lambda: tell(self, QAccessible.Event.Focus))
        session.focus_changed.connect(self.update)
        session.remarks_changed.connect(self.update)
        session.ghost_changed.connect(self.update)
        session.manners_changed.connect(self.update)

    def _take_back(self) -> bool:
        return self.guides.cancel() or (self.tool.held and self.tool.cancel())

    # following the session

    def _follow_player(self) -> None:
        """Shows which mode the scene is in, and what the pointer looks like on what lives."""
        if self._player is not None and shiboken6.isValid(self._player):
            self._player.switched.disconnect(self._switched)
            self._player.moved.disconnect(self._stepped)
        self._player = self.session.document.player
        self._player.switched.connect(self._switched)
        self._player.moved.connect(self._stepped)

    def _switched(self) -> None:
        live = self.playing.player.live is not None
        self.setCursor(self.playing.cursor() if live else self.tool.cursor)
        self.lively = live
        self.hint_changed.emit(LIVE_HINT if live else self.tool.hint)
        self.update()

    def _stepped(self) -> None:
        if self.playing.player.live is not None and not self._panning:
            cursor = self.playing.cursor()
            if cursor != self.cursor().shape():
                self.setCursor(cursor)

    def _replace(self) -> None:
        self._follow_player()
        if self.words is not None:
            self.words.finish(keep=True)
        self.show_scene(self.session.tester)
        self.set_kind("")

    def follow(self, changes: Changes) -> None:
        """The session says it when it has followed too."""

    def _session_changed(self, changes: Changes) -> None:
        region = self.touched(changes)
        self.tool.refresh()
        if self.words is not None and self.words.shape.scene is not self.session.scene:
            self.words.finish(keep=True)
        if region is None or isinstance(self.tool, PointsTool) or self.session.value_focus is not None:
            self.update()
        elif changes:
            now = above.covered(self)
            region |= QRegion(now | self._overlaid)
            self._overlaid = now
            self.update(region)

    def point_out(self, shape: Shape | None) -> None:
        """Draws the outline of a shape that is pointed at elsewhere; None for none."""
        if shape is not self.pointed_out:
            self.pointed_out = shape
            self.update()

    # the view

    def area(self) -> tuple[float, float, float, float]:
        return overlay.RULER, overlay.RULER, self.width(), self.height()

    def fit_selection(self) -> None:
        boxes = [b for s in self.session.selection if (b := self.session.node(s).painted_bounds())[0] <= b[2]]
        if not boxes:
            self.fit()
            return
        box = (min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes))
        self.view.fit(box, self.area(), margin=60, most=16.0)
        self._view_moved()

    def fit_sought(self) -> None:
        """Brings the shape that is looked for into view."""
        if self.session.sought is not None and (node := self.session.display.find(self.session.sought)) is not None:
            left, top, right, bottom = node.bounds()
            if left > right:
                left, top = right, bottom = node.world.map(0.0, 0.0)
            far = max(right - left, bottom - top, 40.0)
            self.view.fit((left - far, top - far, right + far, bottom + far), self.area(), margin=40, most=4.0)
            self._view_moved()

    # tools

    def set_kind(self, kind: str, lock: bool = False) -> None:
        """Chooses what the pointer makes; an empty kind selects. With `lock` it stays after one shape."""
        self.tool.leave()
        self.kind, self.locked_on = kind, lock and bool(kind)
        own = {"polyline": PolylineTool, "path": PathTool, "freehand": FreehandTool}
        self.tool = own[kind](self) if kind in own else MakeTool(self, kind) if kind else SelectTool(self)
        self.point_bar.hide()
        self.setCursor(self.tool.cursor)
        self.tool_switched.emit(kind)
        self.tool_changed()

    def edit_points(self, shape: Shape) -> None:
        """Begins to edit the points of a line, polyline or path."""
        self.session.select([shape])
        self.set_kind("")
        self.tool = PointsTool(self, shape)
        self.point_bar.show_for(self.tool)
        self.setFocus()
        self.tool_changed()

    def measure(self) -> None:
        """Begins to measure between points."""
        self.set_kind("")
        self.tool = MeasureTool(self)
        self.tool_switched.emit("measure")
        self.setCursor(self.tool.cursor)
        self.setFocus()
        self.tool_changed()

    def write(self, shape: Shape) -> None:
        """Opens the editor for what a text says."""
        if self.words is not None:
            self.words.finish(keep=True)
        if isinstance(shape, Text):
            self.words = WordsEditor(self, shape)

    def made(self) -> None:
        """A shape is done: back to selecting, unless locked on."""
        if not self.locked_on:
            self.set_kind("")
        else:
            self.tool_changed()

    def tool_changed(self) -> None:
        self.hint_changed.emit(self.tool.hint)
        self.update()

    def target_group(self) -> Group:
        """The group that new shapes go into."""
        return self.session.target_group()

    # painting

    def paintEvent(self, event: QPaintEvent) -> None:
        whole = QRegion(self.rect()).subtracted(event.region()).isEmpty()
        if whole and getattr(self.tool, "carried", None) is None:  # nothing is drawn round what is carried
            self._overlaid = above.covered(self)  # else it was told when that was asked for
        super().paintEvent(event)

    def paint_over(self, painter: QPainter) -> None:
        above.paint_overlay(self, painter)
        bottom = self.session.scene.size[1] if is_up(self.session.scene) else None
        self._rulers.draw(painter, self.view, self.size(), self.pointer, bottom)
        if self.playing.player.live is not None:
            overlay.live_edge(painter, self.size())
        if self.hasFocus():
            painter.fillRect(6, 6, overlay.RULER - 12, overlay.RULER - 12, theme().color("carnelian"))

    # pointer and keys

    def _picked(self, event: QMouseEvent) -> bool:
        """Whether what is pressed goes into the formula that is being written in the ledger."""
        if self.session.formula_editor is None or event.button() != Qt.MouseButton.LeftButton:
            return False
        p = Pointer.of(event, self.view)
        value = self.tool.value_at(p)
        if value is not None and value[1] in readable(value[0]) and self.session.pick_for_formula(*value):
            return True
        hits = self.session.tester.hit_test(p.sx, p.sy, first=True)
        if hits and self.session.pick_for_formula(hits[0].shape):
            return True
        self.session.end_formula()
        return False

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._picked(event):
            return
        self.setFocus()
        left = event.button() == Qt.MouseButton.LeftButton
        if self.playing.takes(event) and not self._space:
            self.playing.press(event)
        elif event.button() == Qt.MouseButton.MiddleButton or (self._space and left):
            self.take_picture(event.position().toPoint())
        elif left:
            self.session.under_hand = True
            p = Pointer.of(event, self.view)
            if sought.follow(self, p):
                return
            if not self.guides.press(p, lambda: self._is_free(p)):
                self.tool.press(p)
            self.update()

    def _is_free(self, p: Pointer) -> bool:
        """Whether a press there is for nothing of the scene."""
        busy = self.kind or self.tool.held
        return not busy and not self.session.tester.hit_test(p.sx, p.sy, first=True)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self.drag_picture(event):
            return
        p = Pointer.of(event, self.view)
        self.pointer = (p.sx, p.sy)
        if self.playing.takes(event) and not self.tool.held:
            self.playing.move(event)
        elif self.guides.axis is not None:
            self.guides.move(p)
            self.update()
        else:
            self.tool.move(p, bool(event.buttons() & Qt.MouseButton.LeftButton))
            if not event.buttons() and (shape := self.guides.cursor(p)) is not None:
                self.setCursor(shape)
        self.pointed.emit(self.pointer)
        self.update(0, 0, self.width(), overlay.RULER + 1)
        self.update(0, 0, overlay.RULER + 1, self.height())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._panning is not None:
            self._panning = None
            self.setCursor(Qt.CursorShape.OpenHandCursor if self._space else self.tool.cursor)
        elif self.playing.takes(event) and not self.tool.held:
            self.playing.release(event)
        elif event.button() == Qt.MouseButton.LeftButton:
            self.session.under_hand = False
            if self.guides.axis is not None:
                self.guides.release()
            else:
                self.tool.release(Pointer.of(event, self.view))
                self.snapping.end()
            self.session.let_go.emit()
            self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.playing.takes(event):
            self.playing.press(event)
        elif event.button() == Qt.MouseButton.LeftButton:
            # a quick second click with a modifier is still that: Alt goes on to what lies beneath
            if isinstance(self.tool, SelectTool | PointsTool) and not event.modifiers():
                self.tool.double(Pointer.of(event, self.view))
            else:
                self.tool.press(Pointer.of(event, self.view))

    def leaveEvent(self, event: QEvent) -> None:
        self.pointer = None
        self.playing.leave()
        self.snapping.end()
        self.pointed.emit(None)
        self.update()

    def event(self, event: QEvent) -> bool:
        """Digits typed during a drag are for the tool, not for a command with that key. Fingers and pens are the
        scene's, if it lives."""
        if event.type() in FELT and self.playing.other(event):
            event.accept()
            return True
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent):
            ends = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            if self.playing.takes(event) and not event.modifiers() & COMMANDS and not _is_function(event):
                event.accept()
                return True
            if self.tool.dragging and (ends or self.tool.typed.wants(event)):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.playing.takes(event):
            self.playing.key(event, True)
            return
        if self.tool.key(event):
            return
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        way = arrows.get(Qt.Key(event.key()))
        mods = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        plain = mods in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
        if way is not None and plain and self.session.selection:
            self._nudge(way, 10 if mods & Qt.KeyboardModifier.ShiftModifier else 1)
        elif event.key() == Qt.Key.Key_Escape:
            if not self.guides.cancel() and not self.tool.cancel():
                if self.kind:
                    self.set_kind("")
                else:
                    self.session.select([])
        elif event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if self.playing.takes(event):
            self.playing.key(event, False)
            return
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.setCursor(self.tool.cursor)
        super().keyReleaseEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.modifiers() or not self.playing.takes(event) or not self.playing.wheel(event):
            super().wheelEvent(event)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab goes through the shapes; at the end of them it goes on to the next part of the window."""
        if isinstance(self.tool, PointsTool):
            self.tool.next(1 if forward else -1)
            return True
        order = [n.shape for n in self.session.display.order if n.visible and not n.locked]
        if not order:
            return super().focusNextPrevChild(forward)
        current = self.session.current
        if current not in order:
            self.session.select([order[0] if forward else order[-1]])
            return True
        at = order.index(current) + (1 if forward else -1)
        if not 0 <= at < len(order):
            self.session.select([])
            return super().focusNextPrevChild(forward)
        self.session.select([order[at]])
        return True

    def _nudge(self, way: tuple[int, int], far: int) -> None:
        chosen = [s for s in self.session.selection if not self.session.node(s).locked]
        if not chosen:
            self.session.say("What is selected is locked; unlock it to move it.", "problem")
            return
        gesture = ("nudge", tuple(id(s) for s in chosen))
        with self.session.step(f"Move {names_of(chosen)}", gesture):
            move_by(self.session.display, chosen, way[0] * far, way[1] * far, gesture)
