"""Files and pictures that are dropped on the window or pasted: scenes are opened, pictures placed."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMimeData, QObject, QPointF
from PySide6.QtGui import QGuiApplication, QImage

from chalcedon.craft import arrange
from chalcedon.desk.looks.plain import cut
from chalcedon.files.anything import is_svg, open_any
from chalcedon.files.images import embedded, image_size, natural_size, source_for
from chalcedon.files.reader import Opened
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Group, Image
from chalcedon.scene.ids import free_id, id_from
from chalcedon.scene.tidy import tidy

if TYPE_CHECKING:
    from chalcedon.desk.window import Window

SCENE = ".chal"
GAP = 16.0
"""Scene px between pictures that are placed together."""
UNASKED = 100
"""Files that are placed without a question."""
MOST_NAMED = 3

Point = tuple[float, float]


class Dropping(QObject):
    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window, self.session = window, window.session

    def takes(self, mime: QMimeData) -> bool:
        """Whether anything can be made of it."""
        return bool(_files(mime)) or mime.hasImage() or mime.hasText()

    def paste(self) -> None:
        """Takes what is on the clipboard: files, a picture, or text that describes shapes."""
        clipboard = QGuiApplication.clipboard().mimeData()
        if clipboard is not None and (_files(clipboard) or clipboard.hasImage()):
            self.take(clipboard, None)
        else:
            self.paste_text(QGuiApplication.clipboard().text())

    def take(self, mime: QMimeData, spot: QPointF | None) -> None:
        """Takes what was dropped at a place in px of the canvas; None for the middle of what is seen."""
        canvas = self.window.canvas
        place = spot if spot is not None else QPointF(canvas.width() / 2, canvas.height() / 2)
        at = canvas.view.to_scene(place.x(), place.y())
        files = _files(mime)
        if len(files) == 1 and files[0].suffix.lower() == SCENE:
            self.window.files.open_recent(str(files[0]))
        elif len(files) == 1 and is_svg(files[0]):
            self.place_svg(files[0], at)
        elif len(files) > UNASKED:
            self.window.messages.ask(
                f"Place {len(files):,} pictures?",
                [
                    (f"The first {UNASKED}", lambda: self.place(files[:UNASKED], at)),
                    ("All of them", lambda: self.place(files, at)),
                    ("None", lambda: None),
                ],
            )
        elif files:
            self.place(files, at)
        elif mime.hasImage():
            self._place_pixels(mime.imageData(), at)
        else:
            self.paste_text(mime.text())

    def paste_text(self, text: str) -> None:
        """Adds what a text describes: shapes, or an SVG."""
        if not text.lstrip()[:200].startswith(("<svg", "<?xml", "<!DOCTYPE svg", "<!--")):
            self.window.edits.paste_text(text)
            return
        from chalcedon.files.svgin import read_svg  # parsers that few need

        try:
            opened = read_svg(text.encode("utf-8", "replace"), "the clipboard", corner=False)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self.add_svg(opened, "pasted", said="what was on the clipboard")

    def place_svg(self, file: Path, at: Point | None) -> None:
        """Adds what is in an SVG file as a group, with its middle at a point in scene px."""
        try:
            opened = open_any(file)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self.add_svg(opened, file.stem, at)

    def add_svg(self, opened: Opened, name: str, at: Point | None = None, said: str = "") -> None:
        """Adds what an SVG holds as one group, where the next shape goes, and says what it could not hold. `said` is
        what it is called, if that isn't its name."""
        said = said or cut(name, 80)
        session, shapes = self.session, list(opened.scene.top.children)
        if not shapes:
            why = " ".join(opened.notices[:MOST_NAMED])
            session.say(f"There is nothing to see in {said}. {why}", "problem")
            return
        width, height = opened.scene.size
        x, y = (0.0, 0.0) if at is None else (tidy(at[0] - width / 2), tidy(at[1] - height / 2))
        for shape in shapes:
            shape.remove()
        group = Group(id=id_from(name) or "svg", at=(x, y), children=shapes)
        into, index = session.paste_place()
        with session.step(f"Import {cut(said, 40)}"):
            arrange.paste(session.display, [group], into, index)
        session.select([group])
        more = f" And {len(opened.notices) - MOST_NAMED} more." if len(opened.notices) > MOST_NAMED else ""
        told = " ".join(opened.notices[:MOST_NAMED]) + more
        session.say(f"Imported {said}. {told}".strip(), "problem" if told else "note")

    def place(self, files: Sequence[Path], at: Point) -> None:
        """Places pictures, the first with its middle at a point in scene px, others beside it, as one undo step."""
        folder = self.session.scene.folder
        found: list[tuple[str, str, Point]] = []
        refused: list[str] = []
        reason = ""
        for file in files:
            try:
                source = source_for(file, folder)
                found.append((file.stem, source, self._size(source)))
            except ChalcedonError as problem:
                refused.append(cut(file.name, 40))
                reason = reason or problem.sentence
        self._add(found, at)
        if refused:
            names = ", ".join(refused[:MOST_NAMED]) + (" …" if len(refused) > MOST_NAMED else "")
            many = f"{len(refused)} of {len(files)} files are not placed: {names}. "
            self.session.say((many if len(refused) > 1 else "") + reason, "problem")  # a reason names its file

    def _place_pixels(self, picture: object, at: Point) -> None:
        if not isinstance(picture, QImage) or picture.isNull():
            self.session.say("What is on the clipboard is no picture that can be read.", "problem")
            return
        data = QByteArray()
        buffer = QBuffer(data)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        picture.save(buffer, "PNG")  # type: ignore[call-overload]
        source = embedded(bytes(data.data()), "png")
        self._add([("picture", source, self._size(source))], at)

    def _size(self, source: str) -> Point:
        scene = self.session.scene
        return natural_size(image_size(source, scene.folder), scene.size)

    def _add(self, found: Sequence[tuple[str, str, Point]], at: Point) -> None:
        if not found:
            return
        scene, group = self.session.scene, self.session.target_group()
        back = self.session.node(group).world.inverse()
        x, y = back.map(*at) if back is not None else at
        made: list[Image] = []
        row = 0.0
        left, x, y = x - found[0][2][0] / 2, x - found[0][2][0] / 2, y - found[0][2][1] / 2
        taken = {s.id for s in scene.walk()}
        for name, source, (width, height) in found:
            if made and x + width > max(scene.size[0], left + width):
                x, y, row = left, y + row + GAP, 0.0
            id = free_id(id_from(name), taken)
            taken.add(id)
            made.append(Image(id=id, at=(tidy(x, 2), tidy(y, 2)), source=source, size=(width, height)))
            x, row = x + width + GAP, max(row, height)
        what = made[0].id if len(made) == 1 else f"{len(made)} pictures"
        with self.session.step(f"Place {what}"):
            for image in made:
                scene.add(image, group, len(group._children))
        placed = [image for image in made if image.scene is scene]
        if placed:
            self.session.select(placed)
            linked = sum(not i.source.startswith("data:") for i in placed)
            how = "linked" if linked == len(placed) else "embedded" if not linked else f"{linked} of them linked"
            self.session.say(f"Placed {what}, {how}.")


def _files(mime: QMimeData) -> list[Path]:
    """The files of this machine that are named."""
    return [Path(u.toLocalFile()) for u in mime.urls() if u.isLocalFile()] if mime.hasUrls() else []
