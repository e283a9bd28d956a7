"""The shelf, in the place of the picture and its ledger: what can be opened, board by board, and where to begin."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PySide6.QtCore import QEvent, QFileSystemWatcher, QSettings, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QHBoxLayout, QLineEdit, QScrollArea, QVBoxLayout, QWidget

from chalcedon.demos import demo_names, demo_path
from chalcedon.desk.looks.buttons import Button, Switch
from chalcedon.desk.looks.plain import Label, cut, in_menu
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.shelf.board import Board
from chalcedon.desk.shelf.entries import Entry, Remembered
from chalcedon.desk.shelf.foot import Foot
from chalcedon.desk.shelf.looking import Looking
from chalcedon.desk.shelf.section import Section
from chalcedon.files.shelf import Summary, kept_summary
from chalcedon.view.guarded import Guarded

MOST_FOLDERS = 24
MANY = "There are more scenes in it than are shown: choose folders further down."


class ShelfPage(Guarded, QWidget):
    """Says what is wanted by its signals; what is open it neither knows nor touches."""

    new_asked = Signal()
    demo_asked = Signal(str)
    file_asked = Signal(str)
    left = Signal()
    sheet_asked = Signal(object)
    """The files of a contact sheet."""

    def __init__(self, settings: QSettings, recent: Remembered) -> None:
        super().__init__()
        self.recent = recent
        self.folders = Remembered(settings, "shelf", MOST_FOLDERS)
        self.looking = Looking(self._found, self._ended, self)
        self._summaries: dict[str, Summary] = {}
        self._files: dict[str, list[str]] = {}
        """By folder, once it was looked into."""
        self._remarks: dict[str, str] = {}
        self._sections: dict[str, Section] = {}
        self._watcher = QFileSystemWatcher(self)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(400)
        self._soon.timeout.connect(self.look)
        self._watcher.directoryChanged.connect(lambda _folder: self._soon.start())
        self._fill_soon = QTimer(self)
        self._fill_soon.setSingleShot(True)
        self._fill_soon.setInterval(60)
        self._fill_soon.timeout.connect(self._fill)
        self._build()

    def _build(self) -> None:
        self.title = Label("Shelf")
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search in names and in what is written in scenes")
        self.search.setAccessibleName("Search the shelf")
        self.search.setClearButtonEnabled(True)
        self.search.setMinimumWidth(340)
        self.search.textChanged.connect(lambda _text: self._fill())
        self.search.returnPressed.connect(self._open_first)
        self.newest = Switch("Newest first")
        self.newest.toggled.connect(lambda _on: self._fill())
        self.add = Button("Add a folder…")
        self.add.clicked.connect(lambda: self.choose_folder())
        self.back = Button("Back")
        self.back.clicked.connect(lambda: self.left.emit())
        head = QHBoxLayout()
        head.setContentsMargins(24, 14, 24, 12)
        head.setSpacing(10)
        head.addWidget(self.title)
        head.addSpacing(14)
        head.addWidget(self.search)
        head.addSpacing(8)
        head.addWidget(self.newest)
        head.addStretch(1)
        head.addWidget(self.add)
        head.addWidget(self.back)
        self._build_boards()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self.area, 1)
        column.addWidget(self.foot)

    def _build_boards(self) -> None:
        self.boards = QWidget()
        self.stack = QVBoxLayout(self.boards)
        self.stack.setContentsMargins(24, 4, 24, 24)
        self.stack.setSpacing(6)
        self.empty = Label("")
        self.empty.setWordWrap(True)
        self.stack.addWidget(self.empty)
        self.stack.addStretch(1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QScrollArea.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidget(self.boards)
        self.foot = Foot(self._elsewhere)
        self.foot.opened.connect(lambda: self._open(self.chosen[0]))
        self.foot.moved.connect(self._moved)
        self.foot.sought.connect(self._find)
        self.foot.forgotten.connect(self._forget)
        self.foot.sheet.connect(lambda: self.sheet_asked.emit([e.path for e in self.chosen]))

    def restyle(self) -> None:
        """Takes the colours of the theme."""
        t = theme()
        self.title.setFont(font(20, bold=True))
        self.boards.setStyleSheet(f"QWidget {{ background: {t.paper}; }}")
        self.foot.restyle()
        self.empty.setStyleSheet(f"color: {t.muted};")
        for section in self._sections.values():
            section.restyle()

    # looking

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.restyle()
        self.look()

    def hideEvent(self, event: QHideEvent) -> None:
        self.looking.stop()
        super().hideEvent(event)

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isVisible() and self.isActiveWindow():
            self._soon.start()  # files may have come and gone meanwhile

    def look(self) -> None:
        """Looks at all there is, anew."""
        folders = self.folders.all()
        for gone in set(self._files) - set(folders):
            self._files.pop(gone)
        if self._watcher.directories():
            self._watcher.removePaths(self._watcher.directories())
        there = [f for f in folders if Path(f).is_dir()]
        if there:
            self._watcher.addPaths(there)
        for path in self.recent.all():  # what is gone is shown as it was
            summary = kept_summary(path, stale=True)
            if summary is not None:
                self._summaries.setdefault(path, summary)
        self._fill()
        loose = [*self.recent.all(), *(str(demo_path(n)) for n in demo_names())]
        self.looking.begin(folders, loose)

    def _found(self, line: dict[str, Any]) -> None:
        if "folder" in line:
            self._files[line["folder"]] = line["files"]
            self._remarks[line["folder"]] = line["problem"] or (MANY if line["more"] else "")
        else:
            width, height = line.pop("page")
            self._summaries[line["path"]] = Summary(page=(width, height), **line)
        self._fill_soon.start()

    def _ended(self) -> None:
        self._fill()

    # what is shown

    def _fill(self) -> None:
        """Shows all that fits the search."""
        sought = self.search.text().strip()
        boards: list[tuple[str, str, str, list[Entry]]] = []
        demos = [self._entry("demo", str(demo_path(n)), n) for n in demo_names()]
        boards.append(("begin", "Begin", "", [Entry("new", "New scene"), *demos]))
        recent = [self._entry("file", p) for p in self.recent.all()]
        if recent:
            boards.append(("recent", "Of late", "", recent))
        for folder in self.folders.all():
            files = [self._entry("file", f) for f in self._files.get(folder, [])]
            if self.newest.isChecked():
                files.sort(key=lambda e: -(e.summary.changed if e.summary else 0))
            boards.append((f"folder {folder}", Path(folder).name or folder, folder, files))
        found = 0
        for number, (key, name, folder, entries) in enumerate(boards):
            shown = [e for e in entries if not sought or e.has(sought)]
            found += len(shown)
            section = self._sections.get(key) or self._make(key, name, folder)
            remark = self._remark(folder, entries) if folder else ""
            section.show_entries(shown, len(entries), remark, missing=bool(folder) and not Path(folder).is_dir())
            section.setVisible(bool(shown) or (not sought and bool(folder)))
            if self.stack.indexOf(section) != number:
                self.stack.insertWidget(number, section)
        for key in set(self._sections) - {b[0] for b in boards}:
            section = self._sections.pop(key)
            self.stack.removeWidget(section)
            section.hide()
            section.deleteLater()
        self._say_empty(sought, found)
        self.foot.show_chosen(self.chosen)

    def _entry(self, kind: str, path: str, name: str = "") -> Entry:
        return Entry(kind, name or Path(path).stem, path, self._summaries.get(path), not Path(path).exists())

    def _remark(self, folder: str, entries: list[Entry]) -> str:
        if folder not in self._files:
            return "Looking…"
        return self._remarks.get(folder, "") or ("" if entries else "No scenes in it yet.")

    def _say_empty(self, sought: str, found: int) -> None:
        text = ""
        if sought and not found:
            text = f"Nothing here has “{cut(sought, 60)}” in its name or in what is written in it."
            if self.looking.busy:
                text = "Looking…"
        elif not sought and not self.folders.all():
            text = "Add a folder, and all scenes in it stand here as pictures, and are searched."
        self.empty.setText(text)
        self.empty.setVisible(bool(text))

    def _make(self, key: str, name: str, folder: str) -> Section:
        section = Section(name, folder)
        self._sections[key] = section
        section.dropped.connect(lambda: self._drop_folder(folder))
        section.sought.connect(lambda: self._find_folder(folder))
        board = section.board
        board.opened.connect(self._open)
        board.chosen.connect(lambda: self._chose(board))
        board.left.connect(lambda way: self._step(section, way))
        board.typed.connect(self._type)
        board.dropped.connect(lambda entry: self._forget() if entry.gone else None)
        return section

    # choosing

    @property
    def sections(self) -> list[Section]:
        """Those that are shown, from the top."""
        items = (self.stack.itemAt(i) for i in range(self.stack.count()))
        widgets = (item.widget() for item in items if item is not None)
        return [w for w in widgets if isinstance(w, Section) and not w.isHidden()]

    @property
    def chosen(self) -> list[Entry]:
        """What is chosen, on all boards."""
        return [e for s in self.sections for e in s.board.selected()]

    def _chose(self, board: Board) -> None:
        """One board at a time, unless Ctrl or Shift is held."""
        held = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        if board.selected() and not QApplication.keyboardModifiers() & held:
            for other in self.sections:
                if other.board is not board:
                    other.board.clearSelection()
        if board.hasFocus():
            spot = board.visualRect(board.currentIndex()).center()
            self.area.ensureVisible(0, board.mapTo(self.boards, spot).y(), 0, 130)
        self.foot.show_chosen(self.chosen)

    def _elsewhere(self, entry: Entry) -> str:
        """The file of the same name that stands on the shelf, when there is just one."""
        name = Path(entry.path).name
        found = {f for files in self._files.values() for f in files if Path(f).name == name and Path(f).exists()}
        return found.pop() if len(found) == 1 else ""

    def _step(self, section: Section, way: int) -> None:
        """Goes on to the next board by the arrow keys; from the first one upward to the search."""
        sections = [s for s in self.sections if s.board.entries.shown]
        at = sections.index(section) + way
        if at < 0:
            self.search.setFocus(Qt.FocusReason.TabFocusReason)
        elif at < len(sections):
            sections[at].board.enter(last=way < 0)

    def _type(self, text: str) -> None:
        self.search.setFocus(Qt.FocusReason.TabFocusReason)
        self.search.setText(self.search.text() + text)

    @property
    def _first(self) -> Board | None:
        return next((s.board for s in self.sections if s.board.entries.shown), None)

    def _open_first(self) -> None:
        """Opens the first that was found."""
        if self.search.text() and self._first is not None:
            self._open(self._first.entries.shown[0])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        first = self._first
        if event.key() == Qt.Key.Key_Escape:
            if self.search.text():
                self.search.clear()
            else:
                self.left.emit()
        elif self.focusWidget() is self.search and first is not None and event.key() == Qt.Key.Key_Down:
            first.enter(last=False)
        else:
            super().keyPressEvent(event)

    def begin(self, back_to: str) -> None:
        """To be called when the shelf is shown: puts the keys where they are wanted."""
        self.back.setText(in_menu(cut(f"Back to {back_to}", 60)))
        self.search.setFocus()
        self.search.selectAll()

    # acts

    def _open(self, entry: Entry) -> None:
        if entry.kind == "new":
            self.new_asked.emit()
        elif entry.gone:
            self.foot.show_chosen(self.chosen)
        elif entry.kind == "demo":
            self.demo_asked.emit(entry.name)
        else:
            self.file_asked.emit(entry.path)

    def choose_folder(self) -> None:
        """Asks for a folder to stand on the shelf."""
        start = self.folders.there()
        name = QFileDialog.getExistingDirectory(self, "A folder for the shelf", start[0] if start else str(Path.home()))
        if name:
            self.add_folder(name)

    def add_folder(self, folder: str) -> None:
        """Puts a folder on the shelf."""
        self.folders.put(str(Path(folder).absolute()))
        self.look()

    def _drop_folder(self, folder: str) -> None:
        self.folders.drop(folder)
        self.look()

    def _find_folder(self, folder: str) -> None:
        name = QFileDialog.getExistingDirectory(self, f"Where is {Path(folder).name} now?", str(Path.home()))
        if name:
            self.folders.replace(folder, name)
            self.look()

    def _gone(self) -> Entry | None:
        return next((e for e in self.chosen if e.gone), None)

    def _find(self) -> None:
        entry = self._gone()
        if entry is None:
            return
        start = next((str(p) for p in Path(entry.path).parents if p.is_dir()), "")
        scenes = "Chalcedon scenes (*.chal);;All files (*)"
        name, _ = QFileDialog.getOpenFileName(self, f"Where is {entry.name} now?", start, scenes)
        if name:
            self._moved(name)

    def _moved(self, now: str) -> None:
        """What is chosen and has gone is in another file now."""
        entry = self._gone()
        if entry is not None:
            self.recent.replace(entry.path, now)
            self._fill()
            self.file_asked.emit(now)

    def _forget(self) -> None:
        entry = self._gone()
        if entry is not None:
            self.recent.drop(entry.path)
            self._fill()
