"""A real window on a real scene, driven by events."""

import os
import time

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from chalcedon.desk import window as windows
from chalcedon.desk.app import open_window, settings
from chalcedon.desk.ledger.folds import OR_AS
from chalcedon.scene import Circle, Group, Line, Polyline, Rect, Scene

SCENE = (
    Rect(id="sky", size=(800, 500), fill="#15213a", locked=True),
    Rect(id="wall", at=(100, 100), size=(200, 120), fill="#dca443"),
    Group(
        id="boat",
        at=(400, 300),
        children=[
            Rect(id="hull", at=(0, 0), size=(120, 40), fill="#b8482a"),
            Polyline(id="sail", at=(20, -10), points=[(0, 0), (60, 0), (0, -90)], closed=True, fill="#f3ecdc"),
        ],
    ),
    Circle(id="moon", at=(600, 100), radius=50, fill="#f1e4bd"),
    Line(id="rope", at=(120, 400), to=(100, 0), stroke="#ffffff", stroke_width=6),
)


class Driver:
    """Does to the window what a person does, in scene px on the canvas and by cell in the ledger."""

    def __init__(self, window):
        self.w = window
        self.session = window.session

    def __getitem__(self, id):
        return self.session.scene[id]

    def answer(self, word):
        """Presses the button of a question with a word."""
        buttons = self.w.messages.findChildren(QPushButton)
        next(b for b in buttons if word in b.text() and b.isVisible()).click()

    @staticmethod
    def outside(path, data):
        """Another program writes a file."""
        path.write_bytes(data)
        os.utime(path, ns=(time.time_ns(), time.time_ns()))

    @property
    def chosen(self):
        return [s.id for s in self.session.selection]

    @property
    def order(self):
        return [s.id for s in self.session.scene.walk()]

    def spot(self, x, y):
        wx, wy = self.w.canvas.view.to_widget(x, y)
        return QPoint(round(wx), round(wy))

    def click(self, x, y, mods=Qt.KeyboardModifier.NoModifier):
        self.hover(x, y)
        QTest.mouseClick(self.w.canvas, Qt.MouseButton.LeftButton, mods, self.spot(x, y))

    def hover(self, x, y):
        QTest.mouseMove(self.w.canvas, self.spot(x, y))

    def drag(self, *points, mods=Qt.KeyboardModifier.NoModifier, release=True):
        self._drag(self.w.canvas, [self.spot(*p) for p in points], mods, release)

    def _drag(self, widget, spots, mods, release=True):
        QTest.mouseMove(widget, spots[0])
        QTest.mousePress(widget, Qt.MouseButton.LeftButton, mods, spots[0])
        for spot in spots[1:]:
            self._move(widget, spot, mods)
        if release:
            QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, mods, spots[-1])

    def _move(self, widget, spot, mods):
        """A move with the left button held."""
        at, left = QPointF(spot), Qt.MouseButton.LeftButton
        none = Qt.MouseButton.NoButton
        event = QMouseEvent(QEvent.Type.MouseMove, at, QPointF(widget.mapToGlobal(spot)), none, left, mods)
        QApplication.sendEvent(widget, event)

    def key(self, key, mods=Qt.KeyboardModifier.NoModifier, widget=None):
        QTest.keyClick(widget or self.w.focusWidget(), key, mods)

    def type(self, text, widget=None):
        QTest.keyClicks(widget or self.w.focusWidget(), text)

    @staticmethod
    def enter(entry, text):
        """Types into a field instead of what is there, and presses Enter."""
        entry.setFocus()
        entry.selectAll()
        QTest.keyClick(entry, Qt.Key.Key_Delete)
        QTest.keyClicks(entry, text) if text.isascii() else entry.insert(text)
        QTest.keyClick(entry, Qt.Key.Key_Return)

    def cell(self, id, role, name="", path=(), opened=True):
        """The middle of a cell in the ledger's viewport. A value that is folded away is opened by its word."""
        ledger = self.w.ledger
        if opened and role != "offer" and self[id] is ledger.opened:
            self.unfold(id, name)
        index = ledger.index_of(self[id])
        ledger.reveal(self[id])
        found = [
            c for c in ledger.row_cells(index) if c.role == role and (not name or c.name == name) and c.path == path
        ]
        cell = next(c for c in found if (c.y > 0) == opened)
        top = ledger.top_of(index) - ledger.verticalScrollBar().value()
        return cell, QPoint(round(cell.x + cell.w / 2), round(top + cell.y + cell.h / 2))

    def unfold(self, id, name):
        """Clicks the word of a value in the quiet line of the opened row, if it stands there."""
        name = "or as" if name.startswith("also ") else name
        cells = self.w.ledger.row_cells(self.w.ledger.index_of(self[id]))
        if name and any(c.role == "offer" and c.name == name for c in cells) and name != "steps":
            self.click_cell(id, "offer", name)

    def unfold_all(self, id):
        """Opens every value of the opened row that is folded away, and the other descriptions."""
        for name in (*self[id].properties, OR_AS):
            self.w.ledger.unfold(self[id], name)

    def click_cell(self, id, role, name="", path=(), opened=True, double=False):
        _cell, spot = self.cell(id, role, name, path, opened)
        act = QTest.mouseDClick if double else QTest.mouseClick
        act(self.w.ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)

    def drag_cell(self, id, name, by, path=(), mods=Qt.KeyboardModifier.NoModifier):
        _cell, spot = self.cell(id, "number", name, path)
        steps = [spot + QPoint(by * i // 4, 0) for i in range(5)]
        self._drag(self.w.ledger.viewport(), steps, mods)

    def drag_row(self, id, to_row_top):
        ledger = self.w.ledger
        scroll = ledger.verticalScrollBar().value()
        y = ledger.top_of(ledger.index_of(self[id])) - scroll + 14
        self._drag(
            ledger.viewport(),
            [QPoint(90, int(y)), QPoint(90, int(y) + 6), QPoint(44, int(to_row_top - scroll) + 2)],
            Qt.KeyboardModifier.NoModifier,
        )

    def line(self, text):
        entry = self.w.newline.entry
        entry.setFocus()
        QTest.keyClicks(entry, text)
        self.w.newline.list.hide()
        QTest.keyClick(entry, Qt.Key.Key_Return)

    def close_others(self):
        """Closes the windows beside this one, unasked."""
        for window in list(windows.others):
            window._sure = True
            window.close()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    @property
    def said(self):
        return self.w.messages.label.text() if self.w.messages.isVisible() else ""


@pytest.fixture
def desk(qtbot, qapp):
    window = open_window(settings(), "plaster")
    qtbot.addWidget(window, before_close_func=lambda w: setattr(w, "_sure", True))
    window.session.new(Scene([s.copy() for s in SCENE], size=(800, 500), background="#ffffff"))
    window.resize(1280, 800)
    window.show()
    qtbot.waitExposed(window)
    qapp.setCursorFlashTime(0)  # a caret that blinks would be there in some pictures
    window.canvas.setFocus()
    window.canvas.repaint()
    window.canvas._fitted = True
    window.canvas.view.zoom = 1.0
    window.canvas.view.place(40, 40)
    window.session.snaps = False  # what is dragged ends where the pointer does
    driver = Driver(window)
    yield driver
    driver.close_others()
