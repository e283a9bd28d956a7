"""A random walk over the window: commands, gestures, keys, typing, undo in the midst of it, reload. Nothing may be
recorded as a fault, and undoing everything must give the very bytes there were."""

import random
import sys
import time
import traceback

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QMouseEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog, QMenu

from chalcedon.desk import window as windows
from chalcedon.desk.app import open_window, settings
from chalcedon.desk.commands import COMMANDS
from chalcedon.files import scene_bytes
from fuzz.scenes import random_scene

M = Qt.KeyboardModifier
MODIFIERS = (M.NoModifier,) * 5 + (M.ShiftModifier, M.ControlModifier, M.AltModifier)
KEYS = (
    Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left,
    Qt.Key.Key_Right, Qt.Key.Key_Delete, Qt.Key.Key_Backspace, Qt.Key.Key_Space, Qt.Key.Key_F2, Qt.Key.Key_Home,
    Qt.Key.Key_7, Qt.Key.Key_Minus, Qt.Key.Key_A, Qt.Key.Key_PageDown,
)  # fmt: skip
TYPED = (
    "12", "7*", "300abc", "-5", "1e9", "0", "999999**64", "var(--tide)", "none", "linear(0,0,1,1)", "moon_7", "<b>x",
    "circle 20 30 40", "rect 1 2 3", "text hello", "star", "line 0 0 10 10 stroke red 3 rotate 20", "group", "oval 3",
    "unknown()", "circle(at=(1,2), radius=3)", "polyline 0 0 1 1 2 5 closed",
)  # fmt: skip
LEFT_OUT = {"file.quit", "file.open", "file.save_as", "file.picture", "shape.image"}
"""They ask for a file by a dialog of the system."""


class Walk:
    """`faults` holds the text of every exception that reached the guard."""

    def __init__(self, seed, folder):
        self.chance = random.Random(seed)
        self.faults = []
        self.log = []
        self._hook = sys.excepthook
        sys.excepthook = self._note
        self._dialogs = QFileDialog.getOpenFileName, QFileDialog.getSaveFileName
        QFileDialog.getOpenFileName = QFileDialog.getSaveFileName = staticmethod(lambda *a, **k: ("", ""))
        self.window = open_window(settings(), "plaster")
        self.window.resize(1100, 720)
        self.window.show()
        self.path = folder / "walk.chal"
        self.path.write_bytes(scene_bytes(random_scene(seed, 14, wild=0.03)))
        self.window.files.open_path(self.path)
        self._begun()
        self.window.session.replaced.connect(self._begun)  # the shelf opens other scenes
        self._rescue = QTimer(interval=300)
        self._rescue.timeout.connect(self._send_away)
        self._rescue.start()
        QApplication.processEvents()

    def _begun(self):
        self.base = scene_bytes(self.window.session.scene)

    @staticmethod
    def _send_away():
        """A menu of a button waits for its own answer, in which nothing else happens: it is closed, as by Escape."""
        if isinstance(QApplication.activePopupWidget(), QMenu):
            QApplication.activePopupWidget().close()

    def _note(self, kind, error, trace):
        self.faults.append("".join(traceback.format_exception(kind, error, trace)))

    def close(self):
        self._rescue.stop()
        sys.excepthook = self._hook
        QFileDialog.getOpenFileName, QFileDialog.getSaveFileName = self._dialogs
        for window in (*windows.others, self.window):
            window._sure = True
            window.close()
        self.window.deleteLater()
        QApplication.processEvents()

    # acts

    def spot(self, widget):
        return QPoint(self.chance.randrange(max(1, widget.width())), self.chance.randrange(max(1, widget.height())))

    def _mouse(self, widget, kind, at, button, buttons, mods):
        event = QMouseEvent(kind, QPointF(at), QPointF(widget.mapToGlobal(at)), button, buttons, mods)
        QApplication.sendEvent(widget, event)

    def gesture(self, widget):
        """A press, some moves, perhaps a key, a digit or an undo in the midst of it, and a release."""
        mods = self.chance.choice(MODIFIERS)
        at = self.spot(widget)
        left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
        self._mouse(widget, QEvent.Type.MouseMove, at, none, none, mods)
        self._mouse(widget, QEvent.Type.MouseButtonPress, at, left, left, mods)
        for _ in range(self.chance.choice([0, 0, 1, 3, 6])):
            at = at + QPoint(self.chance.randint(-60, 60), self.chance.randint(-40, 40))
            self._mouse(widget, QEvent.Type.MouseMove, at, none, left, mods)
            what = self.chance.random()
            if what < 0.06:
                self.command("edit.undo")
            elif what < 0.1:
                self.command("edit.delete")
            elif what < 0.14:
                QTest.keyClick(widget, self.chance.choice(KEYS))
            elif what < 0.16:
                self.command("edit.redo")
        self._mouse(widget, QEvent.Type.MouseButtonRelease, at, left, none, mods)
        if self.chance.random() < 0.15:
            self._mouse(widget, QEvent.Type.MouseButtonDblClick, at, left, left, mods)
            self._mouse(widget, QEvent.Type.MouseButtonRelease, at, left, none, mods)

    def cell(self):
        """Something is done to a cell of a row that is in view."""
        ledger = self.window.ledger
        if not ledger.rows:
            return
        index = self.chance.randrange(len(ledger.rows))
        ledger.reveal(ledger.rows[index].shape)
        cells = [c for c in ledger.row_cells(index) if c.role not in ("section", "word")]
        if not cells:
            return
        cell = self.chance.choice(cells)
        top = ledger.top_of(index) - ledger.verticalScrollBar().value()
        at = QPoint(int(cell.x + cell.w / 2), int(top + cell.y + cell.h / 2))
        left, none = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
        port = ledger.viewport()
        self._mouse(port, QEvent.Type.MouseMove, at, none, none, M.NoModifier)
        self._mouse(port, QEvent.Type.MouseButtonPress, at, left, left, M.NoModifier)
        QApplication.processEvents()
        if self.chance.random() < 0.4:
            for far in (2, 9, self.chance.randint(-200, 200)):
                if self.chance.random() < 0.08:
                    self.command("edit.undo")
                self._mouse(port, QEvent.Type.MouseMove, at + QPoint(far, 0), none, left, self.chance.choice(MODIFIERS))
        self._mouse(port, QEvent.Type.MouseButtonRelease, at, left, none, M.NoModifier)
        if ledger.editor is not None and self.chance.random() < 0.8:
            self.type(ledger.editor)

    def type(self, widget):
        QTest.keyClicks(widget, self.chance.choice(TYPED))
        if self.chance.random() < 0.1:
            self.command("edit.undo")
        focus = QApplication.focusWidget() or widget
        QTest.keyClick(focus, self.chance.choice([Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab]))

    def command(self, name):
        self.log.append(name)
        self.window.run_command(name)
        for other in windows.others[:-1]:  # one beside this follows along, for as long as it is the last
            other._sure = True
            other.close()

    def any_command(self):
        command = self.chance.choice(COMMANDS)
        name = command.name
        if name in LEFT_OUT:
            return
        if name in ("file.new", "file.demo", "file.save", "file.reload"):
            if self.chance.random() < 0.15:
                self.leave(name)
            return
        self.command(name)

    def leave(self, name):
        """Another scene, or this one from the file: what was undone before must have been right."""
        self.check_undo()
        self.window.session.scene.history.mark_saved()
        self.command(name)
        if name == "file.new":
            self.window.files.open_path(self.path)
        self.base = scene_bytes(self.window.session.scene) if not self.window.session.scene.history.done else self.base

    def answer(self):
        """A question, a popup or a menu is answered or sent away."""
        popup = QApplication.activePopupWidget()
        if popup is not None:
            children = [c for c in popup.findChildren(type(popup).__mro__[-3]) if hasattr(c, "click")]
            from PySide6.QtWidgets import QAbstractButton

            buttons = [b for b in popup.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
            if isinstance(popup, QMenu) and popup.actions() and self.chance.random() < 0.5:
                action = self.chance.choice(popup.actions())
                if action.isEnabled() and not action.menu() and action.text() and self._harmless(action):
                    popup.close()
                    action.trigger()
            elif buttons and self.chance.random() < 0.5:
                self.chance.choice(buttons).click()
            if self.chance.random() < 0.7:
                popup.close()
            del children
        messages = self.window.messages
        if messages.asking and self.chance.random() < 0.5:
            self.chance.choice(messages._answers).setFocus()
            QTest.keyClick(QApplication.focusWidget() or messages, Qt.Key.Key_Space)
        if self.window.finder.isVisible():
            QTest.keyClicks(self.window.finder.entry, self.chance.choice(["ci", "undo", "rad", "zzz"]))
            self.window.finder.close_finder()

    def _harmless(self, action):
        return action not in [
            self.window.actions_by_name[n] for n in (*LEFT_OUT, "file.new", "file.demo", "file.save", "file.reload")
        ]

    def step(self):
        w = self.window
        what = self.chance.random()
        if what < 0.28:
            self.gesture(w.canvas)
        elif what < 0.5:
            self.cell()
        elif what < 0.74:
            self.any_command()
        elif what < 0.8:
            self.gesture(self.chance.choice([w.ledger.viewport(), w.probe, w.strip]))
        elif what < 0.85:
            w.newline.entry.setFocus()
            w.newline.entry.clear()
            self.type(w.newline.entry)
        elif what < 0.9:
            QTest.keyClick(
                QApplication.focusWidget() or w.canvas, self.chance.choice(KEYS), self.chance.choice(MODIFIERS[:7])
            )
        elif what < 0.93:
            at = QPointF(self.spot(w.canvas))
            turn = QPoint(0, self.chance.choice([-120, 120]))
            event = QWheelEvent(
                at, QPointF(w.canvas.mapToGlobal(at.toPoint())), QPoint(), turn, Qt.MouseButton.NoButton,
                self.chance.choice(MODIFIERS), Qt.ScrollPhase.NoScrollPhase, False,
            )  # fmt: skip
            QApplication.sendEvent(w.canvas, event)
        else:
            (w.session.undo if self.chance.random() < 0.6 else w.session.redo)()
        self.answer()
        if self.chance.random() < 0.3:
            QApplication.processEvents()

    def check_undo(self):
        """Undo of everything gives the bytes there were, redo those there are."""
        w = self.window
        w.ledger.acts.close_editor()
        if w.canvas.words is not None:
            w.canvas.words.finish(keep=True)
        w.canvas.set_kind("")
        scene = w.session.scene
        now, undone = scene_bytes(scene), list(scene.history.undone)
        done = 0
        while scene.undo():
            done += 1
        if scene_bytes(scene) != self.base:
            self.faults.append("undo did not give the bytes there were")
        for _ in range(done):
            scene.redo()
        if scene_bytes(scene) != now or len(undone) != len(scene.history.undone):
            self.faults.append("redo did not give the bytes there were")
        w.session.flush()


def run(seed, steps, folder, seconds=float("inf")):
    """Walks; gives the faults, each with its step."""
    walk = Walk(seed, folder)
    start, found = time.monotonic(), []
    try:
        for step in range(steps):
            walk.step()
            if walk.faults:
                found += [f"seed {seed}, step {step}: {text}" for text in walk.faults]
                walk.faults.clear()
            if time.monotonic() - start > seconds or len(found) > 5:
                break
        walk.check_undo()
        found += [f"seed {seed}, at the end: {text}" for text in walk.faults]
    finally:
        walk.close()
    return found
