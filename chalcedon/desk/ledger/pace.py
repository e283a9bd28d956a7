"""How often the list follows what changes."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer

from chalcedon.desk.session import Session
from chalcedon.evaluate import Changes

EVERY_MS = 30
"""Between two frames of the list while a hand drags on a canvas: numbers that run by faster can't be read, and the
picture under the hand comes first."""


class Pace(QObject):
    """Hands on what changed at once; while a hand drags, what came meanwhile together. Shapes that come and go never
    wait: the list would have rows of what there isn't."""

    def __init__(self, ledger: QObject, session: Session, follow: Callable[[Changes], object]) -> None:
        super().__init__(ledger)  # with which it ends
        self._session, self._follow = session, follow
        self._waiting: Changes | None = None
        self._pause = QTimer(self, singleShot=True, interval=EVERY_MS)
        self._pause.timeout.connect(self.catch_up)
        session.changed.connect(self._hear)
        session.let_go.connect(self.catch_up)
        session.replaced.connect(self._forget)

    @property
    def waits(self) -> bool:
        """Whether something isn't handed on yet."""
        return self._waiting is not None

    def _hear(self, changes: Changes) -> None:
        if self._waiting is None:
            self._waiting = Changes()
        self._waiting.add(changes)  # also where nothing looks different: a row says more than is seen
        if changes.order or changes.page or not (self._session.under_hand and self._pause.isActive()):
            self.catch_up()

    def _forget(self) -> None:
        self._waiting = None

    def catch_up(self) -> None:
        """Hands on what waits."""
        changes, self._waiting = self._waiting, None
        if changes is not None:
            self._follow(changes)
            if self._session.under_hand:
                self._pause.start()
