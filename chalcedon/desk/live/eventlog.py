"""What happens in the run, event by event, where the probe is while the scene lives."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from chalcedon.desk.ledger.formulacells import words
from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.session import Session
from chalcedon.live.events import Event
from chalcedon.view.guarded import Guarded

if TYPE_CHECKING:
    from chalcedon.live.live import Live

MOST = 300
"""Lines that are shown."""
EVERY_MS = 100
FREQUENT = frozenset(("move", "drag"))
"""Events that are left out until they are asked for by name."""


def line_of(event: Event) -> str:
    """An event in a line: its time, its name, what it happened to and the way up."""
    way = " → ".join(id or "scene" for id in event.path) or event.target or "scene"
    more = ""
    if event.key:
        more = f"   {event.key!r}"
    elif event.values:
        more = "   " + ", ".join(f"{k} {words(v)}" for k, v in event.values.items())
    elif event.path and event.name not in ("enter", "leave", "focus", "blur"):
        more = f"   {event.x:.1f}, {event.y:.1f}"
    return f"{event.time:.3f}\t{event.name}\t{way}{more}"


class EventLog(Guarded, QWidget):
    """The last events of the run: filtered by words, paused, copied."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.paused = False
        self._seen: tuple[object, int, str] = (None, -1, "")
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 4, 16, 4)
        column.setSpacing(2)
        head = QHBoxLayout()
        head.setSpacing(6)
        self.title = Label("Events")
        self.title.setFont(font(15, bold=True))
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("only those with…  (move, drag and names of shapes count)")
        self.filter.setAccessibleName("Filter of the events")
        self.filter.textChanged.connect(lambda _text: self.refresh())
        self.pause, self.copy = Button("Pause"), Button("Copy")
        set_tip(self.pause, "Stops the list; the run goes on")
        self.pause.clicked.connect(self.toggle)
        self.copy.clicked.connect(self.copy_all)
        for widget, stretch in ((self.title, 0), (self.filter, 1), (self.pause, 0), (self.copy, 0)):
            head.addWidget(widget, stretch)
        column.addLayout(head)
        self.list = QPlainTextEdit()
        self.list.setReadOnly(True)
        self.list.setFont(font(13))
        self.list.setAccessibleName("Events of the run")
        self.list.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.list.setUndoRedoEnabled(False)
        self.list.setTabStopDistance(84)
        column.addWidget(self.list, 1)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(EVERY_MS)
        self._soon.timeout.connect(self.refresh)

    def restyle(self) -> None:
        t = theme()
        self.list.setStyleSheet(f"QPlainTextEdit {{ background: {t.panel}; color: {t.ink}; border: none; }}")

    @property
    def live(self) -> Live | None:
        return self.session.document.player.live

    def later(self) -> None:
        """Shows what is new, soon."""
        if not self._soon.isActive() and self.isVisible():
            self._soon.start()

    def lines(self) -> list[str]:
        """The events that the filter lets through, oldest first."""
        live = self.live
        if live is None:
            return []
        words = self.filter.text().lower().split()
        out: list[str] = []
        for event in reversed(live.log):
            if not words and event.name in FREQUENT:
                continue
            line = line_of(event)
            if all(word in line.lower() for word in words):
                out.append(line)
                if len(out) >= MOST:
                    break
        return out[::-1]

    def refresh(self) -> None:
        """Shows the events as they are now, unless paused."""
        live = self.live
        state = (live, len(live.log) if live is not None else 0, self.filter.text())
        if self.paused or (state == self._seen and live is not None and len(live.log) < (live.log.maxlen or 0)):
            return
        self._seen = state
        text = "\n".join(self.lines())
        if text != self.list.toPlainText():
            self.list.setPlainText(text)
            bar = self.list.verticalScrollBar()
            bar.setValue(bar.maximum())
        if not text:
            self.list.setPlaceholderText("Nothing has happened yet that the list shows.")

    def toggle(self) -> None:
        """Stops the list, or has it go on."""
        self.paused = not self.paused
        self.pause.setText("Go on" if self.paused else "Pause")
        self.refresh()

    def copy_all(self) -> None:
        """Puts what is shown onto the clipboard."""
        QGuiApplication.clipboard().setText(self.list.toPlainText())
        self.session.say(f"Copied {self.list.blockCount()} lines of the log.")
