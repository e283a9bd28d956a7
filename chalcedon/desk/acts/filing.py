"""Opening and saving from the window: nothing is lost without a question, and no question blocks the window."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer
from PySide6.QtWidgets import QFileDialog

from chalcedon.demos import demo_names, demo_path
from chalcedon.desk.acts.proving import Proof
from chalcedon.desk.canvas.room import free_corner
from chalcedon.desk.looks.plain import cut
from chalcedon.desk.panels.asking import file_to_write
from chalcedon.desk.panels.versions import VersionsPanel
from chalcedon.desk.shelf.entries import Remembered
from chalcedon.files import open_scene, recovery
from chalcedon.files.anything import is_foreign, open_any
from chalcedon.files.beside import ZIP
from chalcedon.files.seen import stamp_of
from chalcedon.formula import Formula
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Image, Scene
from chalcedon.scene.tidy import tidy

if TYPE_CHECKING:
    from chalcedon.desk.window import Window

FILTER = "Chalcedon scenes (*.chal);;All files (*)"
OPENED = (
    "Scenes, SVG and bundles (*.chal *.svg *.zip);;Chalcedon scenes (*.chal);;"
    "SVG (*.svg);;Bundles (*.zip);;All files (*)"
)
IMAGES = "Images (*.png *.jpg *.jpeg *.webp *.gif);;All files (*)"
MOST_RECENT = 10
MOST_LISTED = 4
LOOK_MS = 2000


class Filing(QObject):
    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self.session = window.session
        self.recent_files = Remembered(window.settings, "recent", MOST_RECENT)
        self.session.last_folder = str(window.settings_value("folder", ""))
        self.versions_panel = VersionsPanel(self.session, window, self._open_copy)
        self.watcher = QFileSystemWatcher(self)
        self.watcher.fileChanged.connect(lambda _path: QTimer.singleShot(150, self._changed_outside))
        # not every file system tells of changes, so the file is also looked at now and then
        self.looking = QTimer(self)
        self.looking.setInterval(LOOK_MS)
        self.looking.timeout.connect(self._look)
        self.looking.start()
        self._dealt_with: object = None
        """The outside version of the file that was loaded or asked about last."""
        self._told = ""
        """Why no journal can be kept, as it was said last."""
        self._proof = Proof(self._proved)
        self.session.saved.connect(self.window.messages.recheck)
        self.session.replaced.connect(self.window.messages.recheck)
        self.session.changed.connect(lambda _changes: self.window.messages.recheck())

    # questions

    def _unless_unsaved(self, act: Callable[[], object]) -> None:
        """Does it at once when everything is saved, or another window shows it still; asks first otherwise."""
        if not self.session.unsaved or self.session.document.views > 1:
            act()
            return
        title = cut(self.session.title, 120)

        def save_then() -> None:
            if self.save():
                act()

        self.window.messages.ask(
            f"{title} has changes that are not saved."
            if self.session.scene.history.changed
            else f"The file of {title} was deleted or moved; what is open here is in no file.",
            [("Save", save_then), ("Discard them", act), ("Stay here", lambda: None)],
            self._while(lambda: self.session.unsaved),
        )

    def _while(self, reason: Callable[[], bool]) -> Callable[[], bool]:
        """Says yes as long as the scene and its file are the ones of now, and a reason holds."""
        scene, path = self.session.scene, self.session.path
        return lambda: self.session.scene is scene and self.session.path == path and reason()

    # commands

    def new(self) -> None:
        self._unless_unsaved(self._new)

    def _new(self) -> None:
        """A page as large as the last one. The next paint stays what the strip shows."""
        size = self.session.scene.stated("size")
        self.session.new(Scene(size=size))
        if size != Scene.properties["size"].default:
            width, height = size
            self.session.say(f"A new page, {width:g} × {height:g} as the last one; its size stands above the list.")

    def open(self) -> None:
        def ask() -> None:
            name, _ = QFileDialog.getOpenFileName(self.window, "Open a scene", str(self.session.folder), OPENED)
            if name:
                self.open_path(Path(name))

        self._unless_unsaved(ask)

    def open_recent(self, path: str) -> None:
        self._unless_unsaved(lambda: self.open_path(Path(path)))

    def open_demo(self, name: str) -> None:
        """A demo opens as an unsaved copy, so that the one that ships stays as it is."""
        self._unless_unsaved(lambda: self._open_demo(name))

    def _open_demo(self, name: str) -> None:
        try:
            self.session.new(open_scene(demo_path(name)).scene, name)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")

    def go_to(self, path: Path, then: Callable[[], object]) -> None:
        """Opens a file that the scene itself asked for, and does something once it is open. From a demo to another one
        that ships, as a copy again."""

        def act() -> None:
            if self.session.path is None and path.stem in demo_names() and path == demo_path(path.stem):
                self._open_demo(path.stem)
            else:
                self.open_path(path)
            then()

        self._unless_unsaved(act)

    def open_path(self, path: Path) -> bool:
        """Opens a file; when that can't be done, says why, and the open scene stays. What isn't a scene file
        opens as a scene that is in no file yet."""
        if is_foreign(path):
            return self._open_foreign(path.absolute())
        try:
            problems = self.session.open(path.absolute())
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return False
        self._remember(path.absolute())
        self._watch()
        self._say_open_elsewhere()
        self._say_problems(problems)
        return True

    def _open_foreign(self, path: Path) -> bool:
        try:
            opened = open_any(path)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return False
        self.session.new(opened.scene, path.stem)
        self._remember_folder(path)
        self._say_problems(opened.notices)
        return True

    def import_svg(self) -> None:
        """Asks for an SVG file, and adds what is in it to the active group."""
        start = str(self.session.folder)
        name, _ = QFileDialog.getOpenFileName(self.window, "Import an SVG", start, "SVG (*.svg);;All files (*)")
        if name:
            self.window.dropping.place_svg(Path(name), None)

    def _say_open_elsewhere(self) -> None:
        journal = self.session.document.journal
        others = journal.others() if journal is not None else 0
        if others:
            where = "another window" if others == 1 else f"{others} other windows"
            title = cut(self.session.title, 120)
            self.session.say(f"{title} is open in {where} too: each takes over what the other saves.")

    def save(self) -> bool:
        """Saves to the scene's own file. False when it wasn't saved (yet)."""
        if self.session.path is None:
            return self.save_as()
        if self.session.document.changed_underneath(thorough=True):
            path = self.session.path
            self.window.messages.ask(
                f"{path.name} was changed by another program since it was opened here.",
                [
                    ("Save over it", lambda: self._save(path)),
                    ("Compare them…", lambda: self.show_versions(outside=True)),
                    ("Save as…", self.save_as),
                    ("Load that version", self._reload),
                    ("Stay here", lambda: None),
                ],
                self._while(lambda: self.session.document.changed_underneath(thorough=True)),
            )
            return False
        return self._save(self.session.path)

    def save_as(self) -> bool:
        start = self.session.folder / f"{self.session.title}.chal"
        name, _ = QFileDialog.getSaveFileName(self.window, "Save the scene", str(start), FILTER)
        if not name:
            return False
        path = Path(name)
        if path.suffix:
            return self._save(path)
        path = path.with_suffix(".chal")
        if path.exists():  # the dialog asked about the name without its ending
            self.window.messages.ask(
                f"{path.name} exists already.",
                [
                    ("Replace it", lambda: self._save(path)),
                    ("Another name…", self.save_as),
                    ("Stay here", lambda: None),
                ],
                self._while(path.exists),
            )
            return False
        return self._save(path)

    def _save(self, path: Path) -> bool:
        self.window.ledger.acts.close_editor()
        try:
            kept = self.session.save(path)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return False
        self._remember(path)
        self._watch()
        self.window.show_title()
        lost = self.session.document.lost_links
        if lost or kept:
            links = f"From there, {lost[0]}" + (" And more." if lost[1:] else "") if lost else ""
            self.session.say(" ".join([f"Saved {path.name}.", *kept, links]).strip(), "problem")
        else:
            self.session.say(f"Saved {path.name}.")
        seen = self.session.document.seen
        if seen is not None:
            self._proof.begin(self.session.scene, path, seen.digest)
        return True

    def _proved(self, differs: str) -> None:
        """Says, of what was just saved, whether the file holds what is open."""
        name = self.session.path.name if self.session.path is not None else ""
        if differs:
            self.session.say(
                f"{name} was written, but read back it isn't what is open: {differs}. Save it under another name.",
                "problem",
            )
        elif self.window.messages.label.text() == f"Saved {name}.":
            self.session.say(f"Saved {name}. Verified.")

    def reload(self) -> None:
        if self.session.path is not None:
            self._unless_unsaved(self._reload)

    def _reload(self) -> None:
        """Takes over what the file says. What is selected, shown and done before stays."""
        try:
            problems = self.session.take_over()
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self._watch()
        self._say_problems(problems)

    def show_versions(self, outside: bool = False) -> None:
        """Opens the list of versions of the file; `outside`: with the one that another program wrote."""
        path = self.session.path
        if path is None:
            return
        try:
            self.versions_panel.open_for(path, free_corner(self.window.canvas, []), outside)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")

    def _open_copy(self, scene: Scene, name: str) -> None:
        self._unless_unsaved(lambda: self.session.new(scene, name))

    def pack(self) -> None:
        """Asks for a name, and writes the open scene as it is now with all it needs."""
        start = self.session.folder / f"{self.session.title}.zip"
        path = file_to_write(self.window, "Pack with all it needs", start, "Bundles (*.zip)", (ZIP,))
        if path is not None:
            self.pack_to(path)

    def pack_to(self, path: Path) -> None:
        """Writes the bundle to a path; says what could not be put in."""
        from chalcedon.files.packed import pack

        try:
            notes = pack(self.session.scene, self.session.title, path)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self.session.say(" ".join([f"Packed {path.name}.", *notes[:MOST_LISTED]]), "problem" if notes else "note")

    def _say_problems(self, problems: list[str]) -> None:
        if problems:
            more = [f"And {len(problems) - MOST_LISTED} more."] if len(problems) > MOST_LISTED else []
            places = (p.removeprefix(f"{self.session.path}, ") for p in problems[:MOST_LISTED])  # which file is plain
            lines = ["Opened, with things to look at:", *(p[:1].upper() + p[1:] for p in places), *more]
            self.session.say("\n".join(lines), "problem")

    def choose_image(self, image: Image) -> None:
        """Asks for the file of an image. In the scene's folder it is linked, elsewhere embedded."""
        scene = self.session.scene
        start = str(self.session.folder)
        name, _ = QFileDialog.getOpenFileName(self.window, f"Choose what {image.id} shows", start, IMAGES)
        if name and image.scene is scene:
            self.show_image(image, name)

    def show_image(self, image: Image, path: str) -> None:
        """Shows a file in an image, which keeps its width and takes the proportions of the file; one that was placed by
        a click takes the file's own size."""
        from chalcedon.files.images import image_size, natural_size, source_for

        scene = self.session.scene
        try:
            source = source_for(path, scene.folder)
            width, height = image_size(source, scene.folder)
        except ChalcedonError as problem:
            self.session.say(f"{image.id}: {problem}", "problem")
            return
        first = not image.source and image.stated("size") == Image.properties["size"].default
        with self.session.step(f"Show {Path(path).name} in {image.id}"):
            wide = image.size[0]
            scene.set(image, "source", source)
            if first:  # it was placed by a click, which says nothing of its size
                scene.set(image, "size", natural_size((width, height), scene.size))
            elif not isinstance(wide, Formula):
                scene.set(image, "size", (wide, tidy(wide * height / width)))
        how = "embedded in the scene" if source.startswith("data:") else "linked"
        self.session.say(f"{Path(path).name} ({width} × {height} px) is {how}.")

    def before_closing(self, act: Callable[[], object]) -> None:
        """Closes the window by `act`, unless something is unsaved, or is still being written beside it."""
        working = self.window.picturing.working
        if not working.name:
            self._unless_unsaved(act)
            return
        self.window.messages.ask(
            f"{cut(working.name, 120)} is still being written.",
            [("Wait for it", lambda: None), ("Close all the same", lambda: self._unless_unsaved(act))],
            lambda: bool(working.name),
        )

    # the file underneath

    def _watch(self) -> None:
        if self.watcher.files():
            self.watcher.removePaths(self.watcher.files())
        if self.session.path is not None and self.session.path.exists():
            self.watcher.addPath(str(self.session.path))

    def _look(self) -> None:
        self._look_for_file()
        self._look_at_journal()
        if self.session.document.changed_underneath():
            self._changed_outside()

    def _look_at_journal(self) -> None:
        """Says it, once, when what is done can't be kept for the next start any more."""
        journal = self.session.document.journal
        failed = journal.failed if journal is not None else ""
        if failed and failed != self._told:
            self.session.say(
                f"Should the program be killed, unsaved work would be lost: {failed} Save often.", "problem"
            )
        self._told = failed

    def _look_for_file(self) -> None:
        """Says it, once, when the file has gone or has come back."""
        if self.session.document.look_for_file():
            name = self.session.path.name if self.session.path is not None else ""
            if self.session.document.missing:
                self.session.say(
                    f"{name} was deleted or moved by another program. What is open here is in no file: save it again, "
                    "or close it.",
                    "problem",
                )
            else:
                self.session.say(f"{name} is back.")
            self.window.show_title()
            self.window.messages.recheck()

    def _changed_outside(self) -> None:
        """Another program wrote the file: load it when nothing here would be lost, ask otherwise. Once a version."""
        session = self.session
        version = stamp_of(session.path) if session.path is not None else None
        self._look_for_file()
        if not session.document.changed_underneath() or version == self._dealt_with:
            self._watch()
            return
        assert session.path is not None
        self._dealt_with = version
        name = session.path.name
        if not session.unsaved:
            self._reload()
            if not session.document.changed_underneath() and self.window.messages.kind != "problem":
                session.say(f"{name} was changed by another program and has been loaded again.")
            return
        self.window.messages.ask(
            f"{name} was changed by another program, and you have changes of your own.",
            [
                ("Compare them…", lambda: self.show_versions(outside=True)),
                ("Keep mine", lambda: None),
                ("Load that version", self._reload),
                ("Save mine as…", self.save_as),
            ],
            self._while(lambda: session.unsaved and session.document.changed_underneath()),
            self._no_changes_of_ones_own,
        )
        self._watch()

    def _no_changes_of_ones_own(self) -> None:
        """When they were taken back, the other version is loaded at the next look."""
        if not self.session.unsaved:
            self._dealt_with = None

    # work that was in no file

    def offer_recovered(self) -> None:
        """Asks what is to become of work that was in no file when an earlier run ended."""
        for entry in recovery.kept():
            when = time.strftime("%d %B, %H:%M", time.localtime(entry.when))
            steps = f" ({entry.steps} step{'s' * (entry.steps > 1)})" if entry.steps else ""
            versions = [("as you left it", lambda e=entry: e.open().scene)]
            path = entry.path
            if path is not None and path.exists():
                versions.append(("as it is in the file", lambda p=path: open_scene(p).scene))
            self.window.messages.ask(
                f"{cut(entry.name, 120)} had changes in no file{steps} when Chalcedon ended on {when}.",
                [
                    ("Open it", lambda e=entry: self._unless_unsaved(lambda: self._recover(e))),  # type: ignore[misc]
                    ("Keep it for later", lambda: None),
                    ("Throw it away", entry.remove),
                ],
                lambda e=entry: e.scene_file.exists() and not e.is_open,  # type: ignore[misc]
                versions=versions,
            )

    def _recover(self, entry: recovery.Recovered) -> None:
        try:
            problems = self.session.recover(entry)
        except ChalcedonError as problem:
            self.session.say(problem.sentence, "problem")
            return
        self._watch()
        what = "It" if entry.path is None else "What is new"
        text = f"{cut(entry.name, 120)} is open as it was. {what} is in no file yet: save it."
        self.session.say(" ".join([text, *problems[:MOST_LISTED]]), "problem" if problems else "note")

    def keep_unsaved(self) -> None:
        """Puts unsaved work where the next start finds it. Raises ChalcedonError, or OSError."""
        session = self.session
        if not session.unsaved:
            return
        document = session.document
        journal, document.kept = document.journal, True
        if journal is None or not journal.leave() or document.missing:
            recovery.keep(document.scene, document.path, document.title, document.seen)

    # recent files

    def _remember(self, path: Path) -> None:
        self.recent_files.put(str(path))
        self._remember_folder(path)

    def _remember_folder(self, path: Path) -> None:
        self.session.last_folder = str(path.parent)
        self.window.settings.setValue("folder", self.session.last_folder)
