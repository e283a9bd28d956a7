"""The shelf in the place of the scene: shown, left again, and what is opened from it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QStackedWidget, QWidget

from chalcedon.desk.looks.plain import cut
from chalcedon.desk.panels.asking import file_to_write
from chalcedon.painter.sheet import PX_KINDS

if TYPE_CHECKING:
    from chalcedon.desk.commands import Command
    from chalcedon.desk.shelf.page import ShelfPage
    from chalcedon.desk.window import Window

STAYS = frozenset(
    [
        "file.new",
        "file.open",
        "file.demo",
        "file.demo_panel",
        "file.save",
        "file.shelf",
        "file.quit",
        "view.plaster",
        "view.basalt",
        "view.window",
        "help.find",
        "help.keys",
    ]
)
"""Commands that leave the shelf as it is; what they open puts it away."""
CHANGES = ("Edit", "Shape", "Outline", "Place", "Order", "Live")
"""Menus whose commands change a scene that nobody sees while the shelf is shown."""


class Shelving(QObject):
    """What is open stays open behind the shelf."""

    def __init__(self, window: Window, desk: QWidget) -> None:
        super().__init__(window)
        self.window = window
        self.places = QStackedWidget()
        self.places.addWidget(desk)
        self._desk = desk
        self.page: ShelfPage | None = None
        session = window.session
        session.replaced.connect(self.leave)
        session.said.connect(self._said)
        window.messages.posed.connect(self.leave)

    @property
    def shown(self) -> bool:
        return self.page is not None and self.places.currentWidget() is self.page

    def show(self) -> None:
        """Shows the shelf."""
        page = self.page
        if page is None:
            from chalcedon.desk.shelf.page import ShelfPage  # what opens with a file does without

            files = self.window.files
            self.page = page = ShelfPage(self.window.settings, files.recent_files)
            page.left.connect(self.leave)
            page.new_asked.connect(self._new)
            page.demo_asked.connect(files.open_demo)
            page.file_asked.connect(files.open_recent)
            page.sheet_asked.connect(self._sheet)
            self.places.addWidget(page)
        self.places.setCurrentWidget(page)
        page.begin(self.window.session.title)

    def leave(self) -> None:
        """Shows the scene again."""
        if self.shown:
            self.places.setCurrentWidget(self._desk)
            self.window.canvas.setFocus()

    def then(self, act: Callable[[], object]) -> None:
        """Does something to the scene, where it is seen."""
        self.leave()
        act()

    def let(self, command: Command) -> bool:
        """Whether a command may run. What would change a scene that isn't seen shows it instead."""
        if not self.shown or command.name in STAYS:
            return True
        self.leave()
        if command.menu in CHANGES:
            title = cut(self.window.session.title, 80)
            self.window.session.say(f"{title} was behind the shelf, so nothing was done to it. Here it is.")
            return False
        return True

    def restyle(self) -> None:
        if self.page is not None:
            self.page.restyle()

    def end(self) -> None:
        """To be called before the window goes."""
        if self.page is not None:
            self.page.looking.stop()

    def _said(self, text: str, kind: str) -> None:
        if self.page is not None and self.shown and text:
            self.page.foot.say(text, kind == "problem")

    def _new(self) -> None:
        self.window.files.new()
        if self.shown and not self.window.messages.asking:
            self.leave()

    def _sheet(self, files: Sequence[str]) -> None:
        folder = Path(files[0]).parent
        filters = ";;".join(f"{kind} pictures (*{suffix})" for suffix, kind in PX_KINDS.items())
        path = file_to_write(self.window, "Write a contact sheet", folder / "sheet.png", filters, PX_KINDS)
        if path is not None:
            self.window.picturing.write_sheet(files, path)
