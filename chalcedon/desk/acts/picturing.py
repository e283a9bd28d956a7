"""Pictures out of the window: written, copied, the frames of a run, sheets of several scenes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject
from PySide6.QtGui import QGuiApplication

from chalcedon.desk.acts.working import Working, say_done
from chalcedon.desk.panels.framespanel import FramesPanel
from chalcedon.desk.panels.picturepanel import PicturePanel
from chalcedon.files import scene_bytes
from chalcedon.painter.frames import Take
from chalcedon.painter.pictures import Wanted, picture_bytes, picture_image, write_picture
from chalcedon.painter.working import order
from chalcedon.problems import ChalcedonError
from chalcedon.scene.order import names_of

if TYPE_CHECKING:
    from chalcedon.desk.window import Window

AT_ONCE, PX_AT_ONCE = 1500, 6_000_000
"""Paintings of shapes and px up to which a picture is written on the spot: a helper takes a second to begin."""


class Picturing(QObject):
    """What takes long goes to a helper (`working`)."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self.session = window.session
        self.working = Working(window.session)
        self.working.changed.connect(window.messages.recheck)
        self.panel = PicturePanel(self.session, window, self.write_picture)
        self.frames_panel = FramesPanel(self.session, window, self.write_frames)

    def picture(self) -> None:
        """Asks what is to be written, and where."""
        self.panel.open_at(self.window.below_strip())

    def frames(self) -> None:
        """Asks which frames of a run are to be written, and where."""
        self.frames_panel.open_at(self.window.below_strip())

    def write_picture(self, path: Path, wanted: Wanted) -> None:
        """Writes a picture of the open scene as it is now."""
        display = self.session.display
        width, height = self.session.scene.size
        if len(display.order) > AT_ONCE or width * height * wanted.scale**2 > PX_AT_ONCE:
            about = {f.name: getattr(wanted, f.name) for f in fields(wanted)} | {"only": [s.id for s in wanted.only]}
            self._hand_over("picture", path, wanted=about)
            return
        try:
            notes = write_picture(display, path, wanted)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        say_done(self.session, f"Wrote {path.name}.", notes)

    def write_frames(self, path: Path, take: Take, recording: str) -> None:
        """Writes the frames of a run that begins anew, with what the recording has come in, if one is named."""
        self._hand_over("frames", path, take=list(take), recording=recording)

    def write_sheet(self, files: Sequence[str], path: Path) -> None:
        """Writes a contact sheet of scene files."""
        self.working.begin(
            path.name, order("sheet", path.name, out=str(path), files=list(files), columns=0, cell=320.0)
        )

    def _hand_over(self, do: str, path: Path, **more: object) -> None:
        scene = self.session.scene
        data = order(do, path.name, scene_bytes(scene), out=str(path), folder=scene.folder, **more)
        self.working.begin(path.name, data)

    def copy_picture(self) -> None:
        """Puts a picture of what is selected, or of the page, on the clipboard."""
        only = tuple(self.session.selection)
        try:
            image = picture_image(self.session.display, Wanted(2.0, only))
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        QGuiApplication.clipboard().setImage(image)
        what = names_of(only) if only else "the page"
        self.session.say(f"Copied a picture of {what}, {image.width()} × {image.height()} px.")

    def copy_svg(self) -> None:
        """Puts the SVG text of what is selected, or of the page, on the clipboard."""
        only = tuple(self.session.selection)
        try:
            data, notes = picture_bytes(self.session.display, "SVG", Wanted(only=only))
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        QGuiApplication.clipboard().setText(data.decode())
        say_done(self.session, f"Copied {names_of(only) if only else 'the page'} as SVG.", notes)
