"""What sets single words of a text otherwise: a small bar over the editor, and the words shown as they are set."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor, QFont, QSyntaxHighlighter, QTextCharFormat
from PySide6.QtWidgets import QFrame, QHBoxLayout

from chalcedon.desk.looks.buttons import ToolButton
from chalcedon.desk.looks.plain import set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.scene.paints import resolve
from chalcedon.scene.runs import stretches

if TYPE_CHECKING:
    from chalcedon.desk.canvas.words import WordsEditor

BOLD = 700
LARGER = 1.2


class WordsBar(QFrame):
    """Buttons that take no focus from the editor. With no words chosen they act on the word at the caret."""

    def __init__(self, editor: WordsEditor) -> None:
        super().__init__(editor.canvas)
        self.setObjectName("wordsbar")
        # a click that no button takes the focus for goes up to the next that would: not to the canvas, but back
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setFocusProxy(editor)
        self.setAccessibleName("How the chosen words are set")
        t = theme()
        self.setStyleSheet(
            f"QFrame#wordsbar {{ background: {t.panel}; border: 1px solid {t.line}; border-radius: 4px; }}"
            f"QToolButton {{ color: {t.ink}; background: transparent; border: none; padding: 3px 8px; }}"
            f"QToolButton:hover {{ background: {t.sunken}; }}"
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(4, 2, 4, 2)
        row.setSpacing(2)
        self.buttons: dict[str, ToolButton] = {}
        acts: list[tuple[str, str, Callable[[], object]]] = [
            ("bold", "Ctrl+B", partial(editor.toggle, "weight")),
            ("italic", "Ctrl+I", partial(editor.toggle, "italic")),
            ("larger", "Ctrl+Up", partial(editor.resize_words, LARGER)),
            ("smaller", "Ctrl+Down", partial(editor.resize_words, 1 / LARGER)),
            ("colour…", "Ctrl+Shift+C", editor.pick_color),
            ("as the rest", "Ctrl+Space", editor.plain),
        ]
        for text, key, act in acts:
            button = ToolButton()
            button.setText(text)
            button.setFont(font(13, bold=text == "bold", italic=text == "italic"))
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.setAccessibleName(f"{text.rstrip('…')}: the chosen words")
            set_tip(button, f"The chosen words {text.rstrip('…')} ({key})")
            button.clicked.connect(lambda _=False, a=act: a())
            row.addWidget(button)
            self.buttons[text] = button
        self.adjustSize()

    def place_over(self, x: int, y: int, room: int) -> None:
        """Stands over a place in px of the canvas."""
        self.move(QPoint(max(8, min(x, room - self.width() - 8)), max(4, y - self.height() - 4)))


class ShownRuns(QSyntaxHighlighter):
    """Shows words in the editor as their runs say, as far as an editor's line can; not part of what is undone."""

    def __init__(self, editor: WordsEditor) -> None:
        super().__init__(editor.document())
        self.editor = editor

    def highlightBlock(self, text: str) -> None:
        shape = self.editor.shape
        content, offset = self.editor.toPlainText(), self.currentBlock().position()
        palette = dict(shape.scene.palette) if shape.scene is not None else {}
        for stretch in stretches(shape.runs, len(content)):
            first, last = (qt_place(content, p) - offset for p in (stretch.first, stretch.last))
            first, last = max(0, first), min(len(text.encode("utf-16-le")) // 2, last)
            if first < last:
                self.setFormat(first, last - first, _format(stretch.values, palette))


def _format(values: dict[str, Any], palette: dict[str, str]) -> QTextCharFormat:
    out = QTextCharFormat()
    if values.get("weight", 400) >= 600:
        out.setFontWeight(QFont.Weight.Bold)
    if values.get("italic"):
        out.setFontItalic(True)
    color = resolve(values["fill"], palette) if isinstance(values.get("fill"), str) else None
    if color is not None:
        out.setForeground(QColor(*color))
    return out


def qt_place(text: str, place: int) -> int:
    """A place between characters as the toolkit counts it, in units of UTF-16."""
    return len(text[:place].encode("utf-16-le", "surrogatepass")) // 2


def place_of(text: str, units: int) -> int:
    """A place between characters, from the toolkit's count."""
    return len(text.encode("utf-16-le", "surrogatepass")[: 2 * units].decode("utf-16-le", "ignore"))
