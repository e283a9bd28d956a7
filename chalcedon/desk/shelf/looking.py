"""Asks the helper of the shelf what there is, without ever waiting for it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer

from chalcedon.desk.helper import Helper
from chalcedon.files import shelf

MODULE = "chalcedon.painter.shelving"
PATIENCE_MS = 20_000
"""How long one file may take."""


class Looking(QObject):
    """`found` is given each line that the helper says (`painter/shelving.py`), `ended` is called when it has said
    all."""

    def __init__(
        self, found: Callable[[dict[str, Any]], object], ended: Callable[[], object], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._found, self._ended = found, ended
        self._helper = Helper(self._said, self._over, self)
        self._asked: list[str] = []
        self._begun = ""
        self._refused: set[str] = set()
        self._watch = QTimer(self)
        self._watch.setSingleShot(True)
        self._watch.timeout.connect(self._helper.kill)

    @property
    def busy(self) -> bool:
        return self._helper.busy

    def begin(self, folders: Sequence[str], files: Sequence[str]) -> None:
        """Looks into folders, and at files; what was looked at before is dropped."""
        self._refused = set()
        self._asked = [*folders, "--", *files]
        self._start()

    def stop(self) -> None:
        """Looks no further."""
        self._watch.stop()
        self._helper.stop()

    def _start(self) -> None:
        self._begun = ""
        self._helper.start(MODULE, self._asked)
        self._watch.start(PATIENCE_MS)

    def _said(self, line: dict[str, Any]) -> None:
        self._begun = line.get("begun", "")
        if not self._begun:
            self._found(line)
        self._watch.start(PATIENCE_MS)

    def _over(self) -> None:
        """It is done, or it ended before that: then the file that it was at is left out, and it begins anew."""
        self._watch.stop()
        lost = self._begun
        if lost and lost not in self._refused:
            self._refused.add(lost)
            why = "it can't be shown: reading it takes too much memory or time."
            shelf.keep_summary(shelf.Summary(lost, *shelf.stamp(Path(lost)), problem=why), None)
            self._start()
        else:
            self._ended()
