"""A fault in Chalcedon's own code must not end it: it is written down and said, and the window goes on."""

from __future__ import annotations

import sys
import time
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

import platformdirs

MOST = 200_000
"""Bytes of the file of faults; it starts anew when it is longer."""


def faults_file() -> Path:
    return Path(platformdirs.user_state_dir("chalcedon")) / "faults.txt"


def install(say: Callable[[str, str], object]) -> None:
    """Has faults written to a file and said in the window, once each, instead of ending the program."""
    said: list[object] = []

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if not issubclass(kind, Exception):
            sys.__excepthook__(kind, error, trace)
            return
        text = "".join(traceback.format_exception(kind, error, trace))
        last = traceback.extract_tb(trace)[-1:]
        fault = kind, [(place.filename, place.lineno) for place in last] or text
        if fault in said:
            return  # one in painting would repeat at every frame
        said.append(fault)
        file = faults_file()
        try:
            file.parent.mkdir(parents=True, exist_ok=True)
            fresh = not file.exists() or file.stat().st_size > MOST
            with file.open("w" if fresh else "a") as out:
                out.write(f"{time.strftime('%Y-%m-%d %H:%M:%S')}\n{text}\n")
            where = f" It is written down in {file}."
        except OSError:
            where = ""
        say(f"A fault in Chalcedon itself: {kind.__name__}, {error}. Your scene is as it was.{where}", "problem")

    sys.excepthook = hook
