"""Signals that ask the process to end, heard while Qt's event loop is waiting."""

from __future__ import annotations

import signal
import socket
from collections.abc import Callable

from PySide6.QtCore import QObject, QSocketNotifier

ENDING = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)


class Ending(QObject):
    """Calls `act`, in the event loop, when the first of these signals comes. Python's own handlers would wait until the
    next event: the byte that the interpreter writes for a signal wakes the loop."""

    def __init__(self, act: Callable[[], object]) -> None:
        super().__init__()
        self._act = act
        self._asked = False
        self._read, self._write = socket.socketpair()
        for end in (self._read, self._write):
            end.setblocking(False)
        signal.set_wakeup_fd(self._write.fileno(), warn_on_full_buffer=False)
        for number in ENDING:
            signal.signal(number, self._note)
        self._notifier = QSocketNotifier(self._read.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._woken)

    def _note(self, number: int, frame: object) -> None:
        self._asked = True

    def _woken(self) -> None:
        try:
            self._read.recv(64)
        except BlockingIOError:
            return
        if self._asked:
            self._notifier.setEnabled(False)
            self._act()
