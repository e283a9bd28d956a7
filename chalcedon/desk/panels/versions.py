"""Earlier versions of the open scene, or the one that another program wrote: seen, compared, taken shape by shape."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QPoint, QSize, Qt, QTimer
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QHBoxLayout, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, cut
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.differences import LINE, DifferenceList
from chalcedon.desk.panels.panel import Panel
from chalcedon.desk.panels.previews import Previews
from chalcedon.desk.session import Session
from chalcedon.files.seen import Seen, open_seen
from chalcedon.files.versions import versions
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.scene.compare import compare
from chalcedon.scene.merge import take
from chalcedon.scene.net import Change
from chalcedon.source.told import tell

MOST_ROWS = 5
Spot = Callable[[QSize], QPoint]


@dataclass(slots=True)
class Entry:
    """A version in the list."""

    when: str
    open: Callable[[], Scene]
    seen: Seen | None = None
    """Of what the file holds now."""


class VersionsPanel(Panel):
    """A popup with the versions, the newest first. What is chosen is shown beside what is open."""

    def __init__(self, session: Session, owner: QWidget, open_copy: Callable[[Scene, str], object]) -> None:
        super().__init__("Versions", session, owner)
        self._open_copy = open_copy
        self._entries: list[Entry] = []
        self._scene: Scene | None = None
        self._changes: list[Change] = []
        self._previews: Previews | None = None
        self._ahead = QTimer(self)
        self._ahead.setInterval(0)
        self._ahead.timeout.connect(self._tell_next)
        self.list = QTreeWidget()
        self.list.setRootIsDecorated(False)
        self.list.setFont(font())
        self.list.setAccessibleName("Versions")
        self.list.setHeaderLabels(["Written", "What that changed"])
        self.list.setColumnWidth(0, 190)
        self.list.currentItemChanged.connect(lambda _now, _before: self._show())
        self.place = QVBoxLayout()
        self.differences = DifferenceList(lambda _number: self._take_chosen())
        self.note = Label("")
        self.note.setWordWrap(True)
        self.copy, self.some, self.all = Button(), Button(), Button()
        for button, text, act in (
            (self.copy, "Open it as a copy", self._copy),
            (self.some, "Take over the chosen shapes", self._take_chosen),
            (self.all, "Take over all of it", lambda: self._take(None)),
        ):
            button.setText(text)
            button.clicked.connect(lambda _=False, act=act: act())
        row = QHBoxLayout()
        for button in (self.some, self.all, self.copy):
            row.addWidget(button)
        row.addStretch()
        self.column.addWidget(self.list)
        self.column.addLayout(self.place)
        self.column.addWidget(self.differences)
        self.column.addWidget(self.note)
        self.column.addLayout(row)
        self.column.addWidget(self.complaint)

    def restyle(self) -> None:
        super().restyle()
        t = theme()
        self.note.setStyleSheet(f"color: {t.muted};")
        self.differences.restyle()
        self.list.setStyleSheet(self.differences.styleSheet())

    # what is shown

    def open_for(self, path: Path, spot: Spot, outside: bool = False) -> None:
        """Lists the versions of the open scene's file; `outside`: with what another program wrote there, first."""
        self._entries = [Entry(_told(v.when), v.open) for v in versions(path)]
        if outside:
            opened, seen = open_seen(path)
            self._entries.insert(0, Entry("in the file now", lambda: opened.scene, seen))
        self.head.setText(cut(f"Versions of {path.stem}", 80))
        self.list.clear()
        for number, entry in enumerate(self._entries):
            item = QTreeWidgetItem([entry.when, "…"])
            item.setData(0, Qt.ItemDataRole.UserRole, number)
            self.list.addTopLevelItem(item)
        self.list.setFixedHeight(min(max(len(self._entries), 1), MOST_ROWS) * LINE + LINE + 12)
        self.restyle()
        first = self.list.topLevelItem(0)
        if first is not None:
            self.list.setCurrentItem(first)  # which shows it
        else:
            self._show()
        self.layout().activate()  # type: ignore[union-attr]
        self.adjustSize()
        wrong = self.complaint.text()
        self.show_at(spot(self.size()))
        self._complain(wrong)
        self.list.setFocus()
        self._ahead.start()

    @property
    def _entry(self) -> Entry | None:
        item = self.list.currentItem()
        return None if item is None else self._entries[item.data(0, Qt.ItemDataRole.UserRole)]

    def _show(self) -> None:
        self._scene = None
        entry = self._entry
        if entry is not None:
            self.attempt(lambda: self._open(entry))
        self.refresh()

    def _open(self, entry: Entry) -> None:
        self._scene = entry.open()
        scene = self._scene
        self._drop_previews()
        mine = self.session.scene
        self._previews = Previews([("open here", lambda: mine), (entry.when, lambda: scene)])
        self.place.addWidget(self._previews)

    def refresh(self) -> None:
        """Compares what is open with the version that is chosen."""
        mine, other = self.session.scene, self._scene
        self._changes = compare(mine, other) if other is not None else []
        told = [tell(c, mine) for c in self._changes]
        self.differences.fill(["Shape", "What", "Open here", "That version"], told)
        for button in (self.some, self.all):
            button.setEnabled(bool(self._changes))
        self.copy.setEnabled(other is not None)
        if not self._entries:
            note = "None yet: each time this is saved, what the file held is kept."
        elif other is not None and not self._changes:
            note = "It is what is open here."
        else:
            note = "Enter on a line, or the button, makes the shapes of the chosen lines what they are in that version."
        self.note.setText(note)
        self.complaint.setVisible(bool(self.complaint.text()))

    def _tell_next(self) -> None:
        """Says of one more version what it changed: opening them takes time, so one at a turn of the event loop."""
        for number in range(self.list.topLevelItemCount()):
            item = self.list.topLevelItem(number)
            if item is not None and item.text(1) == "…":
                item.setText(1, self._changed_by(number))
                return
        self._ahead.stop()

    def _changed_by(self, number: int) -> str:
        if number + 1 >= len(self._entries):
            return "the first that is kept"
        try:
            before, after = self._entries[number + 1].open(), self._entries[number].open()
        except ChalcedonError as problem:
            return problem.sentence
        changes = compare(before, after)
        if not changes:
            return "nothing"
        first = tell(changes[0], after)
        return cut(f"{first}{f', and {len(changes) - 1} more' if changes[1:] else ''}", 90)

    # acts

    def _take_chosen(self) -> None:
        chosen = {self._changes[i].id for i in self.differences.chosen()}
        if chosen:
            self._take(chosen)
        else:
            self._complain("Choose lines first: Ctrl and a click chooses several.")

    def _take(self, ids: set[str] | None) -> None:
        other, entry = self._scene, self._entry
        if other is None or entry is None:
            return
        self.attempt(lambda: take(self.session.scene, other, ids))
        if entry.seen is not None:
            self.session.document.seen = entry.seen  # it was looked at: saving over it needs no question
        if ids is None:
            self.close()

    def _copy(self) -> None:
        scene, entry = self._scene, self._entry
        if scene is not None and entry is not None:
            self.close()
            self._open_copy(scene, f"{self.session.title}, {entry.when}")

    def _complain(self, text: str) -> None:
        self.complaint.setText(text)
        self.complaint.setVisible(bool(text))

    def _drop_previews(self) -> None:
        if self._previews is not None:
            self.place.removeWidget(self._previews)
            self._previews.go()
            self._previews = None

    def closeEvent(self, event: QCloseEvent) -> None:
        self._ahead.stop()
        self._drop_previews()
        super().closeEvent(event)


def _told(when: float) -> str:
    return time.strftime("%d %B, %H:%M:%S", time.localtime(when))
