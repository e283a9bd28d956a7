"""Text shown as the text it is. What a file or a hand gave may look like markup, and a toolkit that takes it for that
opens files and pipes which it names. So every label and tip of the window is made here."""

from __future__ import annotations

import html

from PySide6.QtCore import QEvent, QPoint, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QLabel, QSizePolicy, QToolTip, QWidget

LONGEST = 1200
"""Characters that are shown of one text; it takes time to break it into lines."""


def cut(text: str, most: int = LONGEST) -> str:
    """The text, or its beginning and a remark of how much there is."""
    return text if len(text) <= most else f"{text[: most - 40]}… ({len(text):,} characters)"


class Label(QLabel):
    """A label of plain text."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)

    def setText(self, text: str) -> None:
        super().setText(cut(text))


class LineLabel(Label):
    """A label of one line that asks for no width: what doesn't fit is cut short, and told by the tip."""

    def __init__(self, text: str = "") -> None:
        self._whole = ""
        super().__init__(text)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def text(self) -> str:
        """The whole text."""
        return self._whole

    def setText(self, text: str) -> None:
        self._whole = cut(text)
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._fit()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() in (QEvent.Type.StyleChange, QEvent.Type.FontChange):  # other letters, other margins
            self._fit()

    def _fit(self) -> None:
        room = self.contentsRect().width()
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, max(0, room))
        QLabel.setText(self, shown)
        set_tip(self, self._whole if shown != self._whole else "")


def tip_text(text: str) -> str:
    """Text for a tooltip, which has no plain format: markup that shows the text as it is, when it looks like any."""
    text = cut(text, 600)
    if "<" in text or "&" in text:
        return f"<span>{html.escape(text, quote=False)}</span>".replace("\n", "<br>")
    return text


def set_tip(widget: QWidget, text: str) -> None:
    widget.setToolTip(tip_text(text))


def show_tip(spot: QPoint, text: str, widget: QWidget) -> None:
    """Shows a tip at a screen point; an empty text hides it."""
    QToolTip.showText(spot, tip_text(text), widget)


def in_menu(text: str) -> str:
    """Text for a menu entry or a button, where & would underline a letter."""
    return cut(text, 200).replace("&", "&&")
