"""Sentences for the person, in the window: notes that fade, problems and questions that stay until answered."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt, QTimer
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLabel, QLineEdit, QPushButton, QToolButton, QWidget

from chalcedon.desk.guard import Guarded
from chalcedon.desk.theme import font, theme
from chalcedon.formula.arithmetic import calculate
from chalcedon.problems import ChalcedonError

NOTE_MS = 5000


class MessageBar(Guarded, QWidget):
    """One strip along the foot of a host, over it, so that nothing in the window moves when it comes and goes.

    A question replaces what is shown; a note never replaces a question.
    """

    def __init__(self, host: QWidget) -> None:
        super().__init__(host)
        self.host = host
        host.installEventFilter(self)
        self.kind = ""
        self.label = QLabel("")
        self.label.setWordWrap(True)
        self.label.setFont(font())
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.close_button = QToolButton()
        self.close_button.setText("×")
        self.close_button.setAccessibleName("Dismiss the message")
        self.close_button.clicked.connect(self.dismiss)
        self._answers: list[QWidget] = []
        self._drop: Callable[[], object] | None = None
        self._layout = QHBoxLayout(self)
        self._layout.setContentsMargins(16, 5, 10, 5)
        self._layout.addWidget(self.label, 1)
        self._layout.addWidget(self.close_button)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.dismiss)
        self.hide()

    @property
    def asking(self) -> bool:
        return self.isVisible() and self.kind == "question"

    def say(self, text: str, kind: str = "note") -> None:
        """Shows a note or a problem; an empty text takes a problem away."""
        if self.asking:
            return
        if not text:
            if self.kind == "problem":
                self.dismiss()
            return
        self._show(text, kind)
        if kind == "note":
            self._timer.start(NOTE_MS)

    def ask(self, text: str, answers: list[tuple[str, Callable[[], object]]]) -> None:
        """Asks a question with its answers as buttons; the first has the focus. × means none of them."""
        self._show(text, "question")
        for word, act in answers:
            button = QPushButton(word)
            button.setAutoDefault(True)
            button.clicked.connect(lambda _=False, a=act: self._answer(a))
            self._insert(button)
        self._place()
        self._answers[0].setFocus()

    def ask_number(
        self, text: str, value: float, attempt: Callable[[float], object], drop: Callable[[], object]
    ) -> None:
        """Asks for a number. `attempt` is called with every one that is typed, so that its effect shows; Enter keeps
        the last, Escape calls `drop`."""
        entry = QLineEdit(f"{value:g}")
        entry.setFixedWidth(110)
        entry.setAccessibleName(text)
        entry.selectAll()

        def on_text(typed: str) -> None:
            try:
                number = calculate(typed)
            except ChalcedonError as problem:
                entry.setToolTip(str(problem))
                return
            entry.setToolTip("")
            attempt(number)

        self._show(text, "question")
        self._drop = drop
        entry.textChanged.connect(on_text)
        entry.returnPressed.connect(lambda: self._answer(lambda: None))
        keep, back = QPushButton("Keep"), QPushButton("Take back")
        keep.clicked.connect(lambda: self._answer(lambda: None))
        back.clicked.connect(self.dismiss)
        for widget in (entry, keep, back):
            self._insert(widget)
        self._place()
        entry.setFocus()
        attempt(value)

    def _insert(self, widget: QWidget) -> None:
        self._layout.insertWidget(self._layout.count() - 1, widget)
        widget.show()  # what isn't shown takes no room when the height of the text is worked out
        self._answers.append(widget)

    def _answer(self, act: Callable[[], object]) -> None:
        self._drop = None
        self.dismiss()
        act()

    def _show(self, text: str, kind: str) -> None:
        self._clear()
        t = theme()
        self.kind = kind
        ground = t.sunken if kind == "note" else t.warn
        self.setStyleSheet(
            f"MessageBar {{ background: {ground}; border-top: 1px solid {t.line}; }} "
            f"MessageBar QLabel {{ color: {t.ink}; }}"
        )
        self.label.setText(text)
        self.setAccessibleName(text)
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self._place()
        self.show()
        self.raise_()

    def _place(self) -> None:
        width = self.host.width()
        self._layout.activate()
        height = max(36, self._layout.heightForWidth(width))
        self.setGeometry(0, self.host.height() - height, width, height)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Resize and self.isVisible():
            self._place()
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.dismiss()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        event.accept()  # what lies under the strip is not meant

    def _clear(self) -> None:
        self._timer.stop()
        for button in self._answers:
            self._layout.removeWidget(button)
            button.deleteLater()
        self._answers.clear()

    def dismiss(self) -> None:
        if self.isAncestorOf(QApplication.focusWidget() or self.host):
            self.host.setFocus()  # the keyboard must not be left on a button that goes away
        drop, self._drop = self._drop, None
        self._clear()
        self.kind = ""
        self.hide()
        if drop is not None:
            drop()
