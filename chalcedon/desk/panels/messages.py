"""Sentences for the person, in the window: notes that fade, problems and questions that stay until answered."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from chalcedon.desk.looks.buttons import Button, ToolButton
from chalcedon.desk.looks.plain import Label, in_menu, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.previews import Previews, Version
from chalcedon.formula.arithmetic import calculate
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ChalcedonError
from chalcedon.view.guarded import Guarded

NOTE_MS = 5000

Answers = Sequence[tuple[str, Callable[[], object]]]


def always() -> bool:
    return True


@dataclass(slots=True)
class Question:
    """Something asked, and for how long it makes sense: it goes when `stands` says no.

    `shown` is called when its turn comes, `dropped` when it goes without one of its answers.
    """

    text: str
    answers: Answers
    stands: Callable[[], bool] = always
    dropped: Callable[[], object] = lambda: None
    number: tuple[float, Callable[[float], object]] | None = None
    """For a question about a number: what it starts with, and what is done with every one that is typed."""
    quiet: bool = False
    """It takes no focus from what somebody is doing, and goes when something else is asked."""
    focus: bool = True
    """Whether its first answer takes the focus."""
    versions: Sequence[Version] = ()
    """Scenes that it is about, shown as pictures."""


class MessageBar(Guarded, QWidget):
    """One strip along the foot of a host, over it, so that nothing in the window moves when it comes and goes.

    Questions wait for one another. What is said while one stands is shown under it, and after it.
    """

    posed = Signal()
    """A question is being asked."""

    def __init__(self, host: QWidget) -> None:
        super().__init__(host)
        self.host = host
        host.installEventFilter(self)
        self.kind = ""
        self.label, self.aside = Label(), Label()
        for label in (self.label, self.aside):
            label.setWordWrap(True)
            label.setFont(font())
            label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.close_button = ToolButton()
        self.close_button.setText("×")
        self.close_button.setAccessibleName("Dismiss the message")
        self.close_button.clicked.connect(self.dismiss)
        self._answers: list[QWidget] = []
        self._previews: Previews | None = None
        self._question: Question | None = None
        self._waiting: deque[Question] = deque()
        self._said: list[tuple[str, str]] = []  # while a question stands: text and kind
        self._layout = QHBoxLayout()
        self._layout.addWidget(self.label, 1)
        self._layout.addWidget(self.close_button)
        self._both = both = QVBoxLayout(self)
        both.setContentsMargins(16, 5, 10, 5)
        both.setSpacing(2)
        both.addLayout(self._layout)
        both.addWidget(self.aside)
        self.aside.hide()
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.dismiss)
        self.hide()

    @property
    def asking(self) -> bool:
        return self._question is not None

    def say(self, text: str, kind: str = "note") -> None:
        """Shows a note or a problem; an empty text takes a problem away."""
        if self._question is not None:
            if text:
                others = [s for s in self._said if s[0] != text]
                self._said = [*others[-MOST_ASIDE + 1 :], (text, kind)]
                self._show_aside()
            return
        if not text:
            if self.kind == "problem":
                self.dismiss()
            return
        self._show(text, kind)
        if kind == "note":
            self._timer.start(NOTE_MS)

    def ask(
        self,
        text: str,
        answers: Answers,
        stands: Callable[[], bool] = always,
        dropped: Callable[[], object] = lambda: None,
        focus: bool = True,
        versions: Sequence[Version] = (),
    ) -> None:
        """Asks a question with its answers as buttons; the first has the `focus`. × means none of them. `versions` are
        shown as pictures."""
        self._drop_quiet()
        self._queue(Question(text, answers, stands, dropped, focus=focus, versions=versions))

    @property
    def has_focus(self) -> bool:
        """Whether the keyboard is on one of its buttons."""
        return self.isAncestorOf(QApplication.focusWidget() or self.host)

    def offer(self, text: str, answers: Answers, stands: Callable[[], bool]) -> None:
        """Says something with what could be done about it, and takes no focus. It goes when anything is asked."""
        if self._question is None or self._question.quiet:
            self._drop_quiet()
            self._queue(Question(text, answers, stands, quiet=True))

    def _drop_quiet(self) -> None:
        if self._question is not None and self._question.quiet:
            self.dismiss()

    def ask_number(
        self,
        text: str,
        value: float,
        attempt: Callable[[float], object],
        drop: Callable[[], object],
        stands: Callable[[], bool] = always,
    ) -> None:
        """Asks for a number. `attempt` is called with every one that is typed, so that its effect shows; Enter keeps
        the last, Escape calls `drop`."""
        answers = [("Keep", lambda: None)]
        self._queue(Question(text, answers, stands, drop, (value, attempt)))

    def _queue(self, question: Question) -> None:
        self._waiting = deque(q for q in self._waiting if q.text != question.text)
        if self._question is not None and self._question.text == question.text:
            self._drop_question()
            self._waiting.appendleft(question)
        else:
            self._waiting.append(question)
        self._next()

    def recheck(self) -> None:
        """Lets questions go that no longer make sense: to be called when scene or file changed."""
        self._waiting = deque(q for q in self._waiting if q.stands())
        if self._question is not None and not self._question.stands():
            self.dismiss()

    def _next(self) -> None:
        """The next question that still makes sense, when none stands; after the last, what was said meanwhile."""
        while self._question is None and self._waiting:
            question = self._waiting.popleft()
            if question.stands():
                self._pose(question)
        if self._question is None and self._said:
            text = "  ".join(t for t, k in self._said if k == "problem") or self._said[-1][0]
            kind = "problem" if any(k == "problem" for _, k in self._said) else "note"
            self._said = []
            self.say(text, kind)

    def _pose(self, question: Question) -> None:
        self._show(question.text, "question")
        self._question = question
        self.posed.emit()
        if question.number is not None:
            self._add_entry(question.text, *question.number)
        if question.versions:
            self._previews = Previews(question.versions)
            self._both.insertWidget(0, self._previews)
            self._previews.show()
        for word, act in question.answers:
            self._add_button(word, partial(self._answer, act))
        if question.number is not None:
            self._add_button("Take back", self.dismiss)
        self._show_aside()
        if question.focus and not question.quiet:
            self._answers[0].setFocus()
        if question.number is not None:
            question.number[1](question.number[0])

    def _add_button(self, word: str, act: Callable[[], object]) -> None:
        button = Button(in_menu(word))
        button.clicked.connect(lambda _=False: act())
        self._insert(button)

    def _add_entry(self, text: str, value: float, attempt: Callable[[float], object]) -> None:
        entry = QLineEdit(in_full(value))
        entry.setFixedWidth(110)
        entry.setAccessibleName(text)
        entry.selectAll()

        def on_text(typed: str) -> None:
            try:
                number = calculate(typed)
            except ChalcedonError as problem:
                set_tip(entry, problem.sentence)
                return
            set_tip(entry, "")
            attempt(number)

        entry.textChanged.connect(on_text)
        entry.returnPressed.connect(lambda: self._answer(lambda: None))
        self._insert(entry)

    def _insert(self, widget: QWidget) -> None:
        self._layout.insertWidget(self._layout.count() - 1, widget)
        widget.show()  # what isn't shown takes no room when the height of the text is worked out
        self._answers.append(widget)

    def _answer(self, act: Callable[[], object]) -> None:
        self._put_away()
        act()
        self._next()

    def _show(self, text: str, kind: str) -> None:
        self._clear()
        self.kind = kind
        self.restyle()
        self.label.setText(text)
        self.setAccessibleName(self.label.text())
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self._place()
        self.show()
        self.raise_()

    def restyle(self) -> None:
        t = theme()
        ground = t.sunken if self.kind == "note" else t.warn
        self.setStyleSheet(
            f"MessageBar {{ background: {ground}; border-top: 1px solid {t.line}; }} "
            f"MessageBar QLabel {{ color: {t.ink}; }}"
        )

    def _show_aside(self) -> None:
        self.aside.setText("  ".join(t for t, _ in self._said))
        self.aside.setVisible(bool(self._said))
        self._place()

    def _place(self) -> None:
        width = self.host.width()
        self._both.activate()
        height = min(max(36, self._both.heightForWidth(width)), self.host.height())
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
            button.hide()
            button.deleteLater()
        self._answers.clear()
        if self._previews is not None:
            self._both.removeWidget(self._previews)
            self._previews.go()
            self._previews = None
        self.aside.hide()

    def _put_away(self) -> Question | None:
        """Ends what is shown; gives the question, if it was one."""
        if self.has_focus:
            self.host.setFocus()  # the keyboard must not be left on a button that goes away
        question, self._question = self._question, None
        self._clear()
        self.kind = ""
        self.hide()
        return question

    def _drop_question(self) -> None:
        question = self._put_away()
        if question is not None:
            question.dropped()

    def dismiss(self) -> None:
        """Puts a message away; a question then has none of its answers, and the next one comes."""
        self._drop_question()
        self._next()


MOST_ASIDE = 4
"""Sentences that are shown under a question."""
