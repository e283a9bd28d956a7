"""Buttons that Enter presses as the space does. The toolkit's own know Enter only in dialogs, which there are none of
here, so that the button with the focus would stay silent. Every button of the window is made here."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QPushButton, QToolButton, QWidget


class Button(QPushButton):
    """A button with words."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setAutoDefault(True)


class ToolButton(QToolButton):
    """A small button, with a picture or a word."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
        else:
            super().keyPressEvent(event)
