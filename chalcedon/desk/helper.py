"""Work in a process of its own: it neither holds the window up nor takes it along when it fails, and can be ended."""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from typing import Any

import orjson
from PySide6.QtCore import QObject, QProcess, QProcessEnvironment


class Helper(QObject):
    """Runs a module of the package with words, and data on its standard input. `said` is given each line of JSON that
    it writes; `over` is called once when it has ended by itself, however that was, and not after `stop`."""

    def __init__(
        self, said: Callable[[dict[str, Any]], object], over: Callable[[], object], parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self._said, self._over = said, over
        self._process: QProcess | None = None
        self._rest = b""

    @property
    def busy(self) -> bool:
        return self._process is not None

    def start(self, module: str, words: Sequence[str] = (), data: bytes = b"") -> None:
        """Begins; what ran before is ended."""
        self.stop()
        self._rest = b""
        self._process = process = QProcess(self)
        environment = QProcessEnvironment.systemEnvironment()
        environment.insert("QT_QPA_PLATFORM", "offscreen")
        process.setProcessEnvironment(environment)
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(lambda *_: self._ended())
        process.errorOccurred.connect(lambda *_: self._ended())
        process.start(sys.executable, ["-m", module, *words])
        if data:
            process.write(data)
        process.closeWriteChannel()

    def stop(self) -> None:
        """Ends it, whatever it is doing."""
        process, self._process = self._process, None
        if process is not None:
            process.blockSignals(True)
            process.kill()
            process.waitForFinished(1000)
            process.deleteLater()

    def kill(self) -> None:
        """Ends it as something from outside would: `over` is called."""
        if self._process is not None:
            self._process.kill()

    def _read(self) -> None:
        if self._process is None:
            return
        *lines, self._rest = (self._rest + bytes(self._process.readAllStandardOutput().data())).split(b"\n")
        for line in lines:
            self._said(orjson.loads(line))

    def _ended(self) -> None:
        if self._process is not None:
            self._read()
            self.stop()
            self._over()
