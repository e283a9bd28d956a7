"""The new line: a statement typed at the foot of the ledger, with completion and a hint of what comes next."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPoint, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QListWidget, QVBoxLayout, QWidget

from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.session import Session
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Image, Shape
from chalcedon.scene.axes import is_up
from chalcedon.source import hint_at, parse_line, parse_text
from chalcedon.source.line import says
from chalcedon.view.guarded import Guarded

MOST_SHOWN = 7
LONGEST = 100_000
"""Characters of a line."""


class _Entry(Guarded, QLineEdit):
    """A line whose arrow keys and Tab go to the completion while it is shown."""

    def __init__(self, owner: NewLine) -> None:
        super().__init__()
        self.owner = owner

    def event(self, event: QEvent) -> bool:
        if (
            event.type() == QEvent.Type.KeyPress
            and isinstance(event, QKeyEvent)
            and event.key() == Qt.Key.Key_Tab
            and self.owner.complete()
        ):
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        shown = self.owner.list.isVisible()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            if shown:
                self.owner.move_choice(1 if key == Qt.Key.Key_Down else -1)
            else:
                self.owner.recall(-1 if key == Qt.Key.Key_Up else 1)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not (shown and self.owner.list.currentRow() >= 0 and self.owner.complete()):
                self.owner.enter()
        elif key == Qt.Key.Key_Escape:
            self.owner.escape()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.owner.refresh()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.owner.list.hide()
        self.owner.show_hint(False)


class NewLine(Guarded, QWidget):
    """Enter adds the shape in front of all, or of the row that was chosen. It wears the next shape's paint where
    the line names none."""

    left = Signal()
    """Escape in an empty line: the person is done here."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._past: list[str] = []
        self._at = 0
        self._start = 0
        self.entry = _Entry(self)
        self.entry.setAccessibleName("New line")
        self.entry.setPlaceholderText("circle 200 120 40 fill #d97b4a")
        self.entry.setFont(font(15))
        self.entry.setMinimumHeight(30)
        self.entry.setMaxLength(LONGEST)
        self.entry.inputRejected.connect(self._too_long)
        self.entry.textEdited.connect(self.refresh)
        self.entry.cursorPositionChanged.connect(lambda *_: self.refresh())
        self.where = Label("", self.entry)
        self.where.setFont(font(13))
        self.where.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.where.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.hint_title = Label("")
        self.hint_title.setFont(font(13, bold=True))
        self.hint = Label("")
        self.hint.setFont(font(13))
        self.hint.setWordWrap(True)
        self._wrong = False
        self.plus = Label("+")
        self.plus.setFont(font(20, bold=True))
        row = QHBoxLayout()
        row.setSpacing(9)
        row.addWidget(self.plus)
        row.addWidget(self.entry)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 7, 14, 7)
        layout.setSpacing(3)
        hints = QHBoxLayout()
        hints.setSpacing(5)
        hints.addWidget(self.hint_title, 0, Qt.AlignmentFlag.AlignTop)
        hints.addWidget(self.hint, 1)
        layout.addLayout(hints)
        layout.addLayout(row)
        self.show_hint(False)
        self.list = QListWidget(self)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setFont(font())
        self.list.itemPressed.connect(lambda _item: self.complete())
        self.list.hide()
        session.selection_changed.connect(self._tell_where)
        session.place_changed.connect(self._tell_where)
        session.replaced.connect(self._tell_where)
        self.restyle()

    def restyle(self) -> None:
        t = theme()
        self.setStyleSheet("")
        self.plus.setStyleSheet(f"color: {t.carnelian}")
        self.where.setStyleSheet(f"color: {t.muted}; background: transparent; padding-right: 9px")
        self.hint_title.setStyleSheet(f"color: {t.muted}")
        self.hint.setStyleSheet(f"color: {t.carnelian if self._wrong else t.muted}")
        self._tell_where()

    def resizeEvent(self, event: QEvent) -> None:
        self._tell_where()

    def _tell_where(self) -> None:
        before, group = self.session.chosen_place(), self.session.target_group()
        text = (
            f"Enter adds in front of {before.id}"
            if before is not None
            else f"Enter adds into {group.id}"
            if group.id
            else "Enter adds in front of all"
            if group.front is not None
            else "Enter adds the first shape"
        )
        metrics = self.entry.fontMetrics()
        room = self.entry.width() - metrics.horizontalAdvance(self.entry.text() or self.entry.placeholderText()) - 40
        self.where.setText(text)
        self.where.setVisible(room > self.where.fontMetrics().horizontalAdvance(text))
        self.where.setGeometry(0, 0, self.entry.width(), self.entry.height())

    # hint and completion

    def show_hint(self, on: bool) -> None:
        self.hint.setVisible(on and bool(self.hint.text()))
        self.hint_title.setVisible(on and bool(self.hint_title.text()))

    def _say(self, title: str, text: str, wrong: bool = False) -> None:
        self.hint_title.setText(f"{title}:" if title else "")
        self.hint.setText(text)
        if wrong != self._wrong:
            self._wrong = wrong
            self.restyle()

    def refresh(self, *_: object) -> None:
        text = self.entry.text()
        hint = hint_at(text, self.entry.cursorPosition())
        self._start = hint.start
        self._say(hint.title, hint.help)
        self.show_hint(self.entry.hasFocus())
        self._tell_where()
        typed = text[hint.start : self.entry.cursorPosition()]
        offered = hint.candidates if typed or (text.strip() and len(hint.candidates) <= 9) else ()
        self._offer(offered, chosen=bool(typed))

    def _offer(self, words: tuple[str, ...], chosen: bool) -> None:
        self.list.clear()
        if not words or not self.entry.hasFocus():
            self.list.hide()
            return
        self.list.addItems(list(words))
        self.list.setCurrentRow(0 if chosen and len(words) == 1 else -1)
        host = self.window()
        self.list.setParent(host)
        height = min(MOST_SHOWN, len(words)) * (self.list.sizeHintForRow(0)) + 4
        left = self.entry.cursorRect().left() + 8
        spot = self.entry.mapTo(host, QPoint(left, 0))
        top = self.mapTo(host, QPoint(0, 0)).y() - height - 2
        self.list.setGeometry(spot.x(), top, 190, height)
        self.list.show()
        self.list.raise_()

    def _too_long(self) -> None:
        if len(self.entry.text()) >= LONGEST:
            self.session.say(
                f"A line takes up to {LONGEST:,} characters; what is beyond was left out. Paste it onto the canvas "
                "instead: Ctrl+V there adds shapes of any length.",
                "problem",
            )

    def move_choice(self, way: int) -> None:
        count = self.list.count()
        row = self.list.currentRow()
        self.list.setCurrentRow((row + way) % count if row >= 0 else (0 if way > 0 else count - 1))

    def complete(self) -> bool:
        """Puts the chosen word in. False when none is offered."""
        if not self.list.isVisible() or not self.list.count():
            return False
        item = self.list.currentItem() or self.list.item(0)
        text, cursor = self.entry.text(), self.entry.cursorPosition()
        new = text[: self._start] + item.text() + " "
        self.entry.setText(new + text[cursor:].lstrip())
        self.entry.setCursorPosition(len(new))
        self.refresh()
        return True

    def recall(self, way: int) -> None:
        """An earlier line, as a shell would."""
        if self._past:
            self._at = max(0, min(len(self._past), self._at + way))
            self.entry.setText(self._past[self._at] if self._at < len(self._past) else "")

    # adding

    def escape(self) -> None:
        if self.list.isVisible():
            self.list.hide()
        elif self.entry.text():
            self.entry.clear()
            self.refresh()
        else:
            self.left.emit()

    def enter(self) -> None:
        """Adds what the line describes; when it can't be read, says why and keeps the line."""
        text = self.entry.text().strip()
        if not text:
            return
        up = is_up(self.session.scene)
        try:
            shapes = parse_text(text) if text.rstrip().endswith(")") and "=" in text else [parse_line(text, up)]
        except ChalcedonError as problem:
            self._say("", problem.sentence, wrong=True)
            self.show_hint(True)
            self.list.hide()
            return
        group, index = self.session.insertion_place()
        for i, shape in enumerate(shapes):
            self._dress(shape)
            self._size(shape, text)
            self.session.add(shape, group, index + i)
        if shapes[-1].scene is None:
            return  # refused, and said why: the line stays to be mended
        self._past.append(text)
        self._at = len(self._past)
        self.entry.clear()
        self.refresh()

    def _size(self, shape: Shape, text: str) -> None:
        """An image has its own size where the line says none."""
        if not isinstance(shape, Image) or not shape.source or "size" in shape._values or says(text, "size"):
            return
        from chalcedon.files.images import image_size, natural_size

        scene = self.session.scene
        try:
            shape.size = natural_size(image_size(shape.source, scene.folder), scene.size)
        except ChalcedonError:
            return  # the check-up says what is wrong with the file

    def _dress(self, shape: object) -> None:
        """The next shape's paint, where the line named none."""
        values = shape._values  # type: ignore[attr-defined]
        named = dict(values)
        self.session.dress(shape)  # type: ignore[arg-type]
        for name, value in named.items():
            shape.store(name, value)  # type: ignore[attr-defined]
