"""Writing text where it stands: an editor laid over the shape on the canvas."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QPlainTextEdit

from chalcedon.desk.canvas.wordsbar import BOLD, LARGER, ShownRuns, WordsBar, place_of
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.panel import dispose
from chalcedon.desk.picker.colorpicker import ColorPicker
from chalcedon.scene import Text
from chalcedon.scene.runs import after_edit, stretches, with_values, without
from chalcedon.scene.tidy import tidy
from chalcedon.view.guarded import Guarded

if TYPE_CHECKING:
    from chalcedon.desk.canvas.widget import Canvas

LEAST_WIDTH, LINE = 220, 22
SETTING = (Qt.Key.Key_B, Qt.Key.Key_I, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_C, Qt.Key.Key_Space)
"""Keys that, with Ctrl, set the chosen words or copy them."""


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
        self._shown = ShownRuns(self)
        self.bar = WordsBar(self)
        self.picker: ColorPicker | None = None
        self._edited_at: int | None = None
        self.document().contentsChange.connect(self._note_edit)
        self.textChanged.connect(self._write)
        self._place()
        self.show()
        self.bar.show()
        self.setFocus()

    def _place(self) -> None:
        """Under the text, or over it where there is no room."""
        node = self.canvas.session.display.find(self.shape)
        if node is None:  # taken back while it was written
            self.finish(keep=True)
            return
        box = node.painted_bounds()
        left, top = self.canvas.view.to_widget(box[0], box[1])
        _, bottom = self.canvas.view.to_widget(box[2], box[3])
        lines = min(8, max(2, self.toPlainText().count("\n") + 1))
        width, height = LEAST_WIDTH, lines * LINE + 14
        room = self.canvas.rect()
        x = min(max(8, int(left)), room.width() - width - 8)
        y = min(max(8, int(bottom) + 8), room.height() - height - 8)
        self.setGeometry(x, y, width, height)
        self.bar.place_over(x, min(int(top), y), room.width())

    def _note_edit(self, units: int, _gone: int, _put: int) -> None:
        self._edited_at = place_of(self.toPlainText(), units)

    def _write(self) -> None:
        session = self.canvas.session
        old, new = self.shape.content, self.toPlainText()
        if not self._over and self.shape.scene is session.scene and new != old:
            with session.step(f"Write {self.shape.id}", self._gesture) as scene:
                runs = after_edit(self.shape.runs, old, new, self._edited_at)
                scene.set(self.shape, "content", new)
                scene.set(self.shape, "runs", runs)
        if not self._over:
            self._place()

    # single words

    def chosen(self) -> tuple[int, int]:
        """The characters [first, last) that are chosen; without any, those of the word at the caret."""
        cursor = self.textCursor()
        if not cursor.hasSelection():
            cursor.select(cursor.SelectionType.WordUnderCursor)
        text = self.toPlainText()
        return place_of(text, cursor.selectionStart()), place_of(text, cursor.selectionEnd())

    def set_words(self, values: dict[str, Any]) -> None:
        """Sets the chosen words as said; None takes back what was said of them."""
        first, last = self.chosen()
        if first >= last:
            self.canvas.session.say("Choose some words first.")
            return
        with self.canvas.session.step(f"Set words of {self.shape.id}", self._gesture) as scene:
            scene.set(self.shape, "runs", with_values(self.shape.runs, first, last, values))
        self._shown.rehighlight()
        self._place()

    def _of_chosen(self, name: str) -> list[Any]:
        """What is stated of the chosen words, stretch by stretch; the text's own value where a run says nothing."""
        first, last = self.chosen()
        found = stretches(self.shape.runs, len(self.shape.content))
        inner = [s for s in found if s.first < last and s.last > first]
        values = [s.values.get(name, getattr(self.shape, name)) for s in inner]
        covered = sum(min(s.last, last) - max(s.first, first) for s in inner)
        return values if values and covered >= last - first else [*values, getattr(self.shape, name)]

    def toggle(self, name: str) -> None:
        """Makes the chosen words bold (`weight`) or `italic`, or takes that back."""
        now = self._of_chosen(name)
        if name == "weight":
            self.set_words({"weight": None if min(now) >= BOLD and self.shape.weight < BOLD else BOLD})
        else:
            self.set_words({"italic": None if all(now) and not self.shape.italic else True})

    def resize_words(self, factor: float) -> None:
        """Makes the chosen words larger or smaller."""
        size = max(self._of_chosen("size"))
        self.set_words({"size": tidy(size * factor, 1)})

    def plain(self) -> None:
        """Sets the chosen words as the rest of the text."""
        first, last = self.chosen()
        if first < last:
            with self.canvas.session.step(f"Set words of {self.shape.id}", self._gesture) as scene:
                scene.set(self.shape, "runs", without(self.shape.runs, first, last))
            self._shown.rehighlight()

    def pick_color(self) -> None:
        """Opens the picker for the chosen words."""
        now = self._of_chosen("fill")
        dispose(self.picker)
        self.picker = ColorPicker(self, self.canvas.session.scene, now[0], f"words of {self.shape.id}", False, True)
        self.picker.picked.connect(lambda paint: self.set_words({"fill": paint}))
        self.picker.closed.connect(self.setFocus)
        self.picker.open_at(self.mapToGlobal(self.rect().bottomLeft()))

    def finish(self, keep: bool) -> None:
        if self._over:
            return
        self._over = True
        session = self.canvas.session
        if not keep:
            session.take_back(self._gesture)
        session.end_gesture()
        self.canvas.setFocus()
        self.bar.hide()
        self.bar.deleteLater()
        self.hide()
        self.deleteLater()
        self.canvas.words = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        acts: dict[tuple[int, bool], Callable[[], object]] = {
            (Qt.Key.Key_B, False): lambda: self.toggle("weight"),
            (Qt.Key.Key_I, False): lambda: self.toggle("italic"),
            (Qt.Key.Key_Up, False): lambda: self.resize_words(LARGER),
            (Qt.Key.Key_Down, False): lambda: self.resize_words(1 / LARGER),
            (Qt.Key.Key_C, True): self.pick_color,
            (Qt.Key.Key_Space, False): self.plain,
        }
        if control and (act := acts.get((event.key(), shift))) is not None:
            act()
        elif event.key() == Qt.Key.Key_Escape:
            self.finish(keep=False)
        elif control and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finish(keep=True)
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.PopupFocusReason and not (self.picker and self.picker.isVisible()):
            self.finish(keep=True)

    def event(self, event: QEvent) -> bool:
        """Keys that set words are not for commands with those keys."""
        asks = event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent)
        if asks and event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.key() in SETTING:  # type: ignore[attr-defined]
            event.accept()
            return True
        return super().event(event)
