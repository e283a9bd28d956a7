"""The window: the ledger on the left, the picture on the right, always in step."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

from PySide6.QtCore import QPoint, QPointF, QSettings, Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QResizeEvent
from PySide6.QtWidgets import (
    QApplication,
    QMainWindow,
    QMenu,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

import chalcedon
from chalcedon.desk.acts.checking import Checking
from chalcedon.desk.acts.dropping import Dropping
from chalcedon.desk.acts.edits import Edits
from chalcedon.desk.acts.filing import Filing
from chalcedon.desk.acts.living import Living
from chalcedon.desk.acts.outlining import Outlining
from chalcedon.desk.acts.picturing import Picturing
from chalcedon.desk.acts.placing import Placing
from chalcedon.desk.acts.shelving import Shelving
from chalcedon.desk.canvas.room import free_corner
from chalcedon.desk.canvas.widget import Canvas
from chalcedon.desk.canvas.yardstick import MeasureTool
from chalcedon.desk.commands import COMMANDS, MENUS, Command
from chalcedon.desk.commands.command import several, two
from chalcedon.desk.document import Document
from chalcedon.desk.ledger.widget import Ledger
from chalcedon.desk.looks import theme as themes
from chalcedon.desk.looks.plain import LineLabel, cut, in_menu
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.changes import ChangesPanel
from chalcedon.desk.panels.finder import Finder
from chalcedon.desk.panels.head import Head
from chalcedon.desk.panels.messages import MessageBar
from chalcedon.desk.panels.newline import NewLine
from chalcedon.desk.panels.palettepanel import PalettePanel
from chalcedon.desk.panels.presetspanel import PresetsPanel
from chalcedon.desk.panels.probe import Probe
from chalcedon.desk.panels.referencepanel import ReferencePanel
from chalcedon.desk.panels.strip import Strip
from chalcedon.desk.session import Session
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Shape
from chalcedon.view.guarded import Guarded

LEDGER_WIDTH = 464
LEAST_LEDGER = 280
MOST_SHARE, SHARE = 0.45, 0.4
"""How much of a narrow window the ledger may have, and what it gets when it had more."""
SIZE = 1280, 800
"""What the window takes where the screen has room for it."""


others: list[Window] = []
"""Windows beside the first one: nobody else holds them."""


class Window(Guarded, QMainWindow):
    """Holds the parts together; each part follows the session by itself."""

    session: Session
    canvas: Canvas
    ledger: Ledger
    newline: NewLine
    probe: Probe
    strip: Strip
    messages: MessageBar
    edits: Edits
    outlining: Outlining
    placing: Placing
    checking: Checking
    files: Filing
    picturing: Picturing
    dropping: Dropping
    finder: Finder
    palette_panel: PalettePanel
    reference_panel: ReferencePanel
    changes_panel: ChangesPanel
    presets_panel: PresetsPanel
    living: Living
    shelving: Shelving
    theme_name: str

    def __init__(self, settings: QSettings, document: Document | None = None) -> None:
        super().__init__()
        self.settings = settings
        self.theme_name = theme().name
        self.session = Session(document)
        self.canvas = Canvas(self.session)
        self.ledger = Ledger(self.session)
        self.newline = NewLine(self.session)
        self.probe = Probe(self.session)
        self.strip = Strip(self.session, self.canvas)
        self.messages = MessageBar(self.canvas)
        self.picturing = Picturing(self)
        self.hint = LineLabel("")
        self.edits = Edits(self.session, lambda: self.ledger.front_first)
        self.outlining = Outlining(self.session, self.canvas, self.messages)
        self.checking = Checking(self.session, self.messages)
        self.placing = Placing(self.session, self.messages)
        self.palette_panel = PalettePanel(self.session, self)
        self.reference_panel = ReferencePanel(self.session, self._measured, self)
        self.changes_panel = ChangesPanel(self.session, self)
        self.presets_panel = PresetsPanel(self.session, self)
        self.living = Living(self)
        self.session.presets_asked.connect(self.show_presets)
        self.files = Filing(self)
        self.dropping = Dropping(self)
        self.setAcceptDrops(True)
        self.finder = Finder(self)
        self.ledger.repaired.connect(self.checking.repair)
        self.ledger.sought.connect(self.checking.where)
        self.ledger.palette_asked.connect(self.show_palette)
        self.session.choose_image.connect(self.files.choose_image)
        self._sure = self._ended = False
        self._titled: tuple[str, bool] | None = None
        self._build()
        self._build_menus()
        self._connect()
        self.restyle()
        self.show_title()
        self.resize(*SIZE)
        self.newline.entry.setText(str(self.settings.value("line", "") or ""))

    def _build(self) -> None:
        working = self.picturing.working
        self.head = Head(lambda: self.finder.open(), working.cancel)
        working.changed.connect(lambda: self.head.show_work(working.name, working.at, working.of))
        self.setMenuWidget(self.head)
        left = QWidget()
        column = QVBoxLayout(left)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.ledger, 1)
        self.foot = QWidget()
        self.foot.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        foot = QVBoxLayout(self.foot)
        foot.setContentsMargins(0, 0, 0, 0)
        foot.addWidget(self.newline)
        column.addWidget(self.foot)
        right = QWidget()
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.hint.setFixedHeight(27)  # the picture must not move when a theme measures its letters otherwise
        self.below = QStackedWidget()
        self.below.setFixedHeight(self.probe.height())
        self.below.addWidget(self.probe)
        self.below.addWidget(self.living.log)
        for part, stretch in ((self.strip, 0), (self.canvas, 1), (self.below, 0), (self.hint, 0)):
            column.addWidget(part, stretch)
        self.split = QSplitter(Qt.Orientation.Horizontal)
        self.split.addWidget(left)
        self.split.addWidget(right)
        self.split.setHandleWidth(1)
        self.split.setChildrenCollapsible(False)
        self.split.setStretchFactor(1, 1)
        self.split.setSizes([LEDGER_WIDTH, 1280 - LEDGER_WIDTH])
        left.setMinimumWidth(LEAST_LEDGER)
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.split, 1)
        column.addWidget(self.living.strip)
        self.shelving = Shelving(self, whole)
        self.setCentralWidget(self.shelving.places)
        self.setTabOrder(self.ledger, self.newline.entry)
        self.setTabOrder(self.newline.entry, self.canvas)
        self.setTabOrder(self.canvas, self.probe)

    def _build_menus(self) -> None:
        self.actions_by_name: dict[str, QAction] = {}
        menus = {name: self.head.menus.addMenu(name) for name in MENUS}
        for command in COMMANDS:
            menu = menus[command.menu]
            if command.rule:
                menu.addSeparator()
            action = QAction(command.title(self), self)
            action.setShortcuts([QKeySequence(k) for k in command.keys])
            action.setCheckable(command.checked is not None)
            action.triggered.connect(lambda _=False, n=command.name: self.run_command(n))
            menu.addAction(action)
            self.addAction(action)
            self.actions_by_name[command.name] = action
            if command.name == "file.demo_panel":
                self.recent_menu = menu.addMenu("Open recent")
        self.recent_menu.aboutToShow.connect(self._fill_recent)
        self._build_context_menu()
        self._menus = [*menus.values(), self.context]
        for menu in self._menus:  # it is still there while it says that it goes
            menu.aboutToShow.connect(self.refresh_actions)
            menu.aboutToHide.connect(lambda: QTimer.singleShot(0, self._enable_all))

    def _connect(self) -> None:
        self.session.changed.connect(lambda _changes: self.show_title())
        self.session.replaced.connect(self.show_title)
        self.session.saved.connect(self.show_title)
        self.session.said.connect(self.messages.say)
        self.canvas.pointed.connect(self._pointed)
        self.canvas.hint_changed.connect(self.hint.setText)
        self.canvas.view_changed.connect(lambda: setattr(self.probe, "zoom", self.canvas.view.zoom))
        self.ledger.hovered.connect(self.canvas.point_out)
        self.newline.left.connect(self.canvas.setFocus)
        self.ledger.asked_menu.connect(self._context_menu)
        self.canvas.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.canvas.customContextMenuRequested.connect(lambda p: self._context_menu(self.canvas.mapToGlobal(p)))
        self.hint.setText(self.canvas.tool.hint)

    def _pointed(self, point: tuple[float, float] | None) -> None:
        self.probe.zoom = self.canvas.view.zoom
        self.probe.follow(point)

    # what is dropped

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self.dropping.takes(event.mimeData()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        spot = self.canvas.mapFrom(self, event.position().toPoint())
        inside = self.canvas.rect().contains(spot)
        self.dropping.take(event.mimeData(), QPointF(spot) if inside else None)
        event.acceptProposedAction()

    # looks

    def restyle(self) -> None:
        t = theme()
        self.head.restyle()
        self.newline.restyle()
        self.strip.restyle()
        self.messages.restyle()
        self.living.strip.restyle()
        self.shelving.restyle()
        self.hint.setFont(font(13))
        self.hint.setStyleSheet(
            f"color: {t.muted}; background: {t.paper}; border-top: 1px solid {t.line}; padding: 4px 16px;"
        )
        self.foot.setStyleSheet(f"QWidget#foot {{ background: {t.paper}; border-top: 1px solid {t.line}; }}")
        self.foot.setObjectName("foot")
        self.canvas.tiles.forget()
        self.canvas.update()

    def set_theme(self, name: str) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        themes.apply(app, name)
        self.theme_name = name
        self.settings.setValue("theme", name)
        for window in [w for w in QApplication.topLevelWidgets() if isinstance(w, Window)]:
            window.theme_name = name
            window.restyle()
            window.ledger.viewport().update()

    def show_title(self) -> None:
        changed = self.session.unsaved
        if self._titled == (self.session.title, changed):
            return  # as after most changes: placing it takes a while
        self._titled = self.session.title, changed
        self.head.show_title(self.session.title, changed)
        self.setWindowTitle(cut(self.session.title, 120).replace("[*]", "[*][*]") + "[*] · Chalcedon")
        self.setWindowModified(changed)

    # commands

    def show_palette(self) -> None:
        """Opens the palette below the strip."""
        self.palette_panel.open_at(self.below_strip())

    def show_presets(self) -> None:
        """Opens the presets below the strip."""
        self.presets_panel.open_at(self.below_strip())

    def show_reference(self) -> None:
        """Opens the panel of the reference picture below the strip."""
        self.reference_panel.open_at(self.below_strip())

    def show_changes(self) -> None:
        """Says what the last step changed, here and on the canvas."""
        last = self.session.document.followed.last
        if last is None:
            self.session.say("Nothing has been changed since this was opened.")
            return
        self.session.flashed.emit(last.boxes)
        self.changes_panel.show_last(free_corner(self.canvas, last.boxes))

    def compare(self) -> None:
        """Lays the two selected shapes over each other and lists where they differ."""
        one, other = self.session.selection
        boxes = [self.session.node(s).bounds() for s in (one, other)]
        self.changes_panel.show_pair(one, other, free_corner(self.canvas, boxes))

    def below_strip(self) -> QPoint:
        return self.strip.mapToGlobal(QPoint(self.strip.width() // 2, self.strip.height() + 2))

    def _measured(self) -> tuple[tuple[float, float], float] | None:
        """The line measured last: its start and its length."""
        line = self.canvas.tool
        if isinstance(line, MeasureTool) and line.start and line.distance:
            return line.start, line.distance
        return None

    def run_command(self, name: str) -> None:
        """Runs a command by its name, as its menu entry does."""
        command = next(c for c in COMMANDS if c.name == name)
        self.ledger.acts.close_editor()  # what it does may move the row that is being written in
        if not self.shelving.let(command):
            return
        if command.when is not None and not command.when(self):
            self.session.say(_why_not(command, self), "note")
            return
        command.run(self)

    def refresh_actions(self) -> None:
        for command in COMMANDS:
            action = self.actions_by_name[command.name]
            action.setText(command.title(self))
            action.setEnabled(True)
            if command.checked is not None:
                action.setChecked(command.checked(self))
            usable = command.when is None or command.when(self)
            action.setProperty("usable", usable)
            action.setEnabled(usable)

    def _enable_all(self) -> None:
        """Shortcuts of commands that can't be used now explain themselves instead of doing nothing: only an open menu
        shows what can't be used."""
        if not any(m.isVisible() for m in self._menus):
            for action in self.actions_by_name.values():
                action.setEnabled(True)

    def _fill_recent(self) -> None:
        self.recent_menu.clear()
        for path in self.files.recent_files.there():
            self.recent_menu.addAction(in_menu(f"{Path(path).name}   {Path(path).parent}")).triggered.connect(
                lambda _=False, p=path: self.files.open_recent(p)
            )
        if self.recent_menu.isEmpty():
            self.recent_menu.addAction("Nothing yet").setEnabled(False)

    def _context_menu(self, spot: QPoint) -> None:
        self.context.popup(spot)

    def _build_context_menu(self) -> None:
        self.context = QMenu(self)
        for name in (
            "edit.cut",
            "edit.copy",
            "edit.paste",
            "edit.duplicate",
            "edit.delete",
            "",
            "shape.group",
            "shape.ungroup",
            "shape.rename",
            "shape.visible",
            "shape.locked",
            "",
            "order.up",
            "order.down",
            "order.past_up",
            "order.past_down",
            "order.top",
            "order.bottom",
            "",
            "edit.around",
        ):
            if name:
                self.context.addAction(self.actions_by_name[name])
            else:
                self.context.addSeparator()

    def show_shelf(self) -> None:
        """Shows the shelf, or the scene again."""
        if self.shelving.shown:
            self.shelving.leave()
        else:
            self.shelving.show()

    def rename(self) -> None:
        self.ledger.setFocus()
        self.ledger.keys.rename()

    def go_to(self, shape: Shape) -> None:
        """Selects a shape and shows its row."""
        self.session.select([shape])
        self.ledger.reveal(shape)
        self.ledger.setFocus()

    def flip(self) -> None:
        self.ledger.acts.set_direction(not self.ledger.front_first)

    def about(self) -> None:
        self.session.say(
            f"Chalcedon {chalcedon.__version__}: scenes of persistent shapes. Apache-2.0. Words are set in "
            "Source Sans (SIL Open Font License)."
        )

    def settings_value(self, name: str, default: Any) -> Any:
        return self.settings.value(name, default)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        width = self.width()
        if self.split.sizes()[0] > width * MOST_SHARE:  # a narrow window leaves more to the picture
            ledger = max(LEAST_LEDGER, int(width * SHARE))
            self.split.setSizes([ledger, width - ledger])

    def another(self) -> Window:
        """Opens a second window on the same scene: what is done in either shows in both."""
        other = Window(self.settings, self.session.document)
        others.append(other)
        other.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        other.destroyed.connect(lambda: others.remove(other))
        other.canvas.setFocus()
        other.show()
        other.resize(self.size())
        other.move(self.pos() + QPoint(40, 40))
        other.fit_on_screen()
        return other

    def fit_on_screen(self) -> None:
        """Makes the window, its frame included, no larger than what the screen has free, and moves it there."""
        free = self.screen().availableGeometry()
        frame = self.frameGeometry()
        extra = frame.size() - self.size()
        wanted = self.size().boundedTo(free.size() - extra)
        if wanted != self.size() and not (self.isMaximized() or self.isFullScreen()):
            self.resize(wanted)
        frame = self.frameGeometry()
        x = max(free.left(), min(frame.left(), free.right() + 1 - frame.width()))
        y = max(free.top(), min(frame.top(), free.bottom() + 1 - frame.height()))
        if (x, y) != (frame.left(), frame.top()):
            self.move(x, y)

    # closing

    def quit(self) -> None:
        self.close()

    def closeEvent(self, event: QCloseEvent) -> None:
        self.ledger.acts.close_editor()
        calm = not self.session.unsaved or self.session.document.views > 1
        if self._sure or (calm and not self.picturing.working.name):
            self._end()
            event.accept()
            return
        event.ignore()
        self.files.before_closing(self._close_now)

    def _end(self) -> None:
        self.settings.setValue("geometry", self.saveGeometry())
        self.settings.setValue("line", self.newline.entry.text())  # half typed: it is there again at the next start
        self.files.looking.stop()
        self.shelving.end()
        self.picturing.working.end()
        self.canvas.shut()
        if not self._ended:
            self._ended = True
            self.session.close()

    def end_now(self) -> None:
        """Ends without a question, as a signal from outside asks; unsaved work is kept for the next start."""
        self.ledger.acts.close_editor()
        if self.canvas.words is not None:
            self.canvas.words.finish(keep=True)
        try:
            self.files.keep_unsaved()
        except (ChalcedonError, OSError) as problem:
            print(f"chalcedon: unsaved work could not be kept: {problem}", file=sys.stderr)
        self._end()
        self._sure = True
        self.close()

    def _close_now(self) -> None:
        self._sure = True
        self.close()


def _why_not(command: Command, window: Window) -> str:
    title = command.title(window).strip().rstrip("…")
    if not window.session.selection:
        return f"{title}: nothing is selected. Click a shape or its row first."
    if command.when is two:
        return f"{title}: that takes exactly two shapes. Shift-click selects another."
    if command.when is several:
        return f"{title}: that takes two shapes or more. Shift-click selects another."
    return f"{title} doesn't fit what is selected."
