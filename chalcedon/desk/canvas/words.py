"""Writing text where it stands: an editor laid over the shape on the canvas."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QPlainTextEdit

from chalcedon.desk.looks.theme import font, theme
from chalcedon.scene import Text
from chalcedon.view.guarded import Guarded

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

LEAST_WIDTH, LINE = 220, 22


class WordsEditor(Guarded, QPlainTextEdit):
    """The scene follows while it is written. Escape takes everything back, Ctrl+Enter or a click elsewhere keeps it."""

    def __init__(self, canvas: Canvas, shape: Text) -> None:
        super().__init__(canvas)
        self.canvas, self.shape = canvas, shape
        self._gesture = object()
        self._over = False
        t = theme()
        self.setFont(font(15))
        self.setAccessibleName(f"What {shape.id} says")
        self.setStyleSheet(
            f"QPlainTextEdit {{ background: {t.panel}; color: {t.ink}; border: 1.5px solid {t.carnelian};"
            " border-radius: 4px; padding: 3px; }"
        )
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setPlainText(shape.content)
        self.selectAll()
        self.textChanged.connect(self._write)
        self._place()
        self.show()
        self.setFocus()

    def _place(self) -> None:
        """Under the text, or over it where there is no room."""
        node = self.canvas.session.display.find(self.shape)
        if node is None:  # taken back while it was written
            self.finish(keep=True)
            return
        box = node.painted_bounds()
        left, _ = self.canvas.view.to_widget(box[0], box[1])
        _, bottom = self.canvas.view.to_widget(box[2], box[3])
        lines = min(8, max(2, self.toPlainText().count("\n") + 1))
        width, height = LEAST_WIDTH, lines * LINE + 14
        room = self.canvas.rect()
        x = min(max(8, int(left)), room.width() - width - 8)
        y = min(max(8, int(bottom) + 8), room.height() - height - 8)
        self.setGeometry(x, y, width, height)

    def _write(self) -> None:
        session = self.canvas.session
        if not self._over and self.shape.scene is session.scene:
            with session.step(f"Write {self.shape.id}", self._gesture) as scene:
                scene.set(self.shape, "content", self.toPlainText())
        if not self._over:
            self._place()

    def finish(self, keep: bool) -> None:
        if self._over:
            return
        self._over = True
        session = self.canvas.session
        if not keep:
            session.take_back(self._gesture)
        session.end_gesture()
        self.canvas.setFocus()
        self.hide()
        self.deleteLater()
        self.canvas.words = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if event.key() == Qt.Key.Key_Escape:
            self.finish(keep=False)
        elif control and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finish(keep=True)
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.finish(keep=True)
