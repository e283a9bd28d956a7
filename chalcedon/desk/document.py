"""A scene that is open: its evaluation, its file, what is unsaved. Any number of windows show it, each by a session."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from chalcedon.desk.followed import Followed
from chalcedon.desk.live.player import Player
from chalcedon.evaluate import Changes, DisplayList
from chalcedon.evaluate.kept import keep
from chalcedon.files.journal import Journal
from chalcedon.files.recovery import Recovered
from chalcedon.files.seen import Seen
from chalcedon.hit import HitTester
from chalcedon.scene import Scene


class Document(QObject):
    """What all windows on one scene share."""

    changed = Signal(object)
    """The scene was changed and evaluated; with the Changes."""
    saved = Signal()
    """It was written to a file, or taken from it again."""

    def __init__(self, scene: Scene) -> None:
        super().__init__()
        self.scene = scene
        self.display = DisplayList(scene)
        keep(self.display, scene)
        self.tester = HitTester(scene, self.display)
        self.player = Player(self.display, self.tester, self)
        self.path: Path | None = None
        self.name = "untitled"
        """What the scene is called while it is in no file."""
        self.seen: Seen | None = None
        """What the file held when it was read or written last."""
        self.missing = False
        """Whether the file was deleted or moved by another program since."""
        self.journal: Journal | None = None
        """Where what is done is written for the next start, should this one be killed."""
        self.lost_links: list[str] = []
        """What the last saving, to another folder, left without its image."""
        self.kept = False
        """Whether what is unsaved was put there for the next start, since the program has to end."""
        self.views = 0
        """How many sessions show it."""
        self.followed = Followed(scene, self.display)
        self.saved.connect(self.followed.saved)
        self.display.readers.append(self.changed.emit)

    def flush(self) -> None:
        """Evaluates what changed and tells every session, also when nothing looks different."""
        changes: Changes = self.display.update()
        if not changes:
            self.changed.emit(changes)

    def leave(self) -> None:
        """One session less; without any, the scene is let go."""
        self.views -= 1
        if self.views == 0:
            self.player.leave()
            keep(None, self.scene)
            self.display.detach()
            if not self.kept and self.journal is not None:
                self.journal.discard()  # it was saved, or the person said that it may go

    def begin_journal(self, entry: Recovered | None = None) -> None:
        """To be called when it is known what the scene belongs to; `entry` is what it was recovered from."""
        self.journal = Journal(self.scene, self.path, self.title, self.seen, entry)

    def mark_saved(self) -> None:
        """To be called when the scene is what its file holds."""
        self.scene.history.mark_saved()
        if self.journal is not None and self.path is not None and self.seen is not None:
            self.journal.mark_saved(self.path, self.seen)

    @property
    def title(self) -> str:
        return self.path.stem if self.path else self.name

    @property
    def unsaved(self) -> bool:
        """Whether something of the scene is in no file."""
        return self.scene.history.changed or self.missing

    def changed_underneath(self, thorough: bool = False) -> bool:
        """Whether another program wrote the file since it was read or written here. A `thorough` look compares what
        it holds, whatever its size and time say."""
        return self.path is not None and self.seen is not None and self.seen.differs(self.path, thorough)

    def look_for_file(self) -> bool:
        """Notes whether the file is still there. Gives whether that is other than before."""
        missing = self.path is not None and self.seen is not None and not self.path.exists()
        changed, self.missing = missing != self.missing, missing
        return changed
