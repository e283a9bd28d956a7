"""What stands on the shelf, and what is remembered of it: the folders that were chosen, the files of late."""

from __future__ import annotations

import time
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSettings

from chalcedon.files.shelf import Summary


@dataclass(slots=True)
class Entry:
    """Something that can be opened. `kind` is "new", "demo" or "file"; a demo is in a file as well. `gone`: the file is
    not there any more."""

    kind: str
    name: str
    path: str = ""
    summary: Summary | None = None
    gone: bool = False

    def has(self, sought: str) -> bool:
        """Whether it is what is sought; see Summary."""
        if self.summary is not None:
            return self.summary.has(sought)
        return self.kind != "new" and all(word in self.name.casefold() for word in sought.casefold().split())

    def about(self) -> str:
        """One short line."""
        if self.kind == "new":
            return "an empty page"
        if self.gone:
            return "not there any more"
        found = self.summary
        if found is None:
            return "…"
        if found.problem:
            return "can't be read"
        count = f"{found.shapes:,} shape{'s' * (found.shapes != 1)}"
        return f"{count}, demo" if self.kind == "demo" else f"{count}, {day(found.changed)}"

    def told(self) -> str:
        """All of it, in a line."""
        if self.kind == "new":
            return "A new scene, with an empty page."
        if self.gone:
            return f"{from_home(self.path)} is not there any more."
        found = self.summary
        if found is None:
            return self.path
        if found.problem:
            return found.problem
        width, height = found.page
        shapes = f"{found.shapes:,} shape{'s' * (found.shapes != 1)}"
        if self.kind == "demo":
            return f"A demo: {width:g} × {height:g} px, {shapes}. It opens as a copy, which is in no file yet."
        when = time.strftime("%d %B %Y, %H:%M", time.localtime(found.changed / 1e9)).lstrip("0")
        return f"{width:g} × {height:g} px · {shapes} · {_bytes(found.size)} · {when} · {from_home(self.path)}"


def from_home(path: str) -> str:
    """A path, shorter where it lies in the home folder."""
    home = str(Path.home())
    return f"~{path[len(home) :]}" if path == home or path.startswith(f"{home}/") else path


def day(changed: int) -> str:
    """The day of a time in ns, as short as it is clear."""
    then, now = time.localtime(changed / 1e9), time.localtime()
    if then[:3] == now[:3]:
        return time.strftime("today, %H:%M", then)
    return time.strftime("%d %b" if then.tm_year == now.tm_year else "%d %b %Y", then).lstrip("0")


def _bytes(size: int) -> str:
    for unit, most in (("bytes", 1000), ("kB", 1e6), ("MB", 1e9)):
        if size < most:
            value = size / (most / 1000)
            return f"{value:.0f} {unit}" if value >= 10 or unit == "bytes" else f"{value:.1f} {unit}"
    return f"{size / 1e9:.1f} GB"


class Remembered:
    """Lists of paths in the settings of the desk, the newest first."""

    def __init__(self, settings: QSettings, name: str, most: int) -> None:
        self._settings, self._name, self._most = settings, name, most

    def all(self) -> list[str]:
        """As they were put, also those that are there no more."""
        raw: Any = self._settings.value(self._name, [])
        return [raw] if isinstance(raw, str) else [str(r) for r in raw or []]

    def there(self) -> list[str]:
        """Those that there are."""
        return [p for p in self.all() if Path(p).exists()]

    def put(self, path: str) -> None:
        """Puts one first."""
        self._settings.setValue(self._name, [path, *(p for p in self.all() if p != path)][: self._most])

    def drop(self, path: str) -> None:
        """Takes one off."""
        self._settings.setValue(self._name, [p for p in self.all() if p != path])

    def replace(self, path: str, other: str) -> None:
        """Puts another one in the place of one that has moved."""
        names = [other if p == path else p for p in self.all()]
        self._settings.setValue(self._name, list(dict.fromkeys(names)))
