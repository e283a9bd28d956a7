"""What scene files hold, in short, and which there are in a folder: for finding one again without opening it."""

from __future__ import annotations

import contextlib
import hashlib
import os
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any, NamedTuple

import orjson
import platformdirs

from chalcedon.files.reader import read_file, read_scene
from chalcedon.files.safely import write_safely
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene

SUFFIX = ".chal"
DEEPEST, MOST_FOLDERS, MOST_FILES = 6, 5_000, 2_000
"""How far below a folder it is looked, in how many folders, for how many scenes."""
MOST_WORDS = 20_000
"""Characters of a scene's words that are kept."""
MOST_KEPT = 4_000
"""Summaries that are kept between runs."""
_WORDED = ("label", "note", "content")


class Found(NamedTuple):
    """The scene files in a folder and below it; `more` when it was not looked any further."""

    files: list[Path]
    more: bool


@dataclass(frozen=True, slots=True)
class Summary:
    """A scene file in short. `changed` is its time in ns since 1970, `size` its bytes, `page` the px of its page,
    `shapes` their number with those in groups, `words` the ids, names and texts in it. With a `problem` it couldn't be
    read."""

    path: str
    changed: int
    size: int
    page: tuple[float, float] = (0.0, 0.0)
    shapes: int = 0
    words: str = ""
    problem: str = ""

    @property
    def name(self) -> str:
        return Path(self.path).stem

    def has(self, sought: str) -> bool:
        """Whether every word that is sought stands in the name of the file or in its words, whatever the case."""
        text = f"{self.name} {self.words}".casefold()
        return all(word in text for word in sought.casefold().split())


def scenes_in(folder: str | os.PathLike[str]) -> Found:
    """The scene files in a folder and the folders below it, by name. Hidden folders and linked ones are left out.
    Raises ChalcedonError when the folder can't be read."""
    top = Path(folder)
    files: list[Path] = []
    try:
        os.scandir(top).close()
    except OSError as error:
        raise ChalcedonError(f"the folder can't be read: {error.strerror}.", str(top)) from None
    for seen, (place, below, names) in enumerate(os.walk(top)):
        depth = len(Path(place).relative_to(top).parts)
        below[:] = sorted(b for b in below if not b.startswith(".")) if depth < DEEPEST else []
        files += [Path(place, n) for n in sorted(names) if n.endswith(SUFFIX) and not n.startswith(".")]
        if len(files) > MOST_FILES or seen > MOST_FOLDERS:
            return Found(files[:MOST_FILES], True)
    return Found(files, False)


def summary_of(path: str | os.PathLike[str]) -> Summary:
    """What is in a scene file. A file that can't be read gets a summary that says why."""
    return _summed(Path(path))[0]


def opened_summary(path: str | os.PathLike[str]) -> tuple[Summary, Scene | None]:
    """The same, and the scene itself, which had to be read for it; None where that wasn't possible."""
    return _summed(Path(path))


def _summed(path: Path) -> tuple[Summary, Scene | None]:
    changed, size = stamp(path)
    try:
        scene = read_scene(read_file(path), str(path)).scene
    except ChalcedonError as problem:
        return Summary(str(path), changed, size, problem=problem.sentence), None
    scene.folder = str(path.absolute().parent)
    words = " ".join(_words(scene))[:MOST_WORDS]
    width, height = scene.size
    return Summary(str(path), changed, size, (width, height), len(scene), words), scene


def stamp(path: Path) -> tuple[int, int]:
    """When a file was written, in ns, and its bytes; zeros when it is not there."""
    try:
        about = path.stat()
    except OSError:
        return 0, 0
    return about.st_mtime_ns, about.st_size


def _words(scene: Scene) -> Iterator[str]:
    yield from scene.inputs
    for shape in scene.walk():
        yield shape.id
        for name in _WORDED:
            value = shape._values.get(name)
            if isinstance(value, str):  # not a formula
                yield value


# what is kept between runs


def cache_folder() -> Path:
    """Where summaries and pictures of scene files are kept. It may be thrown away at any time."""
    return Path(platformdirs.user_cache_dir("chalcedon")) / "shelf"


def kept_file(path: str | os.PathLike[str], suffix: str) -> Path:
    """Where what belongs to a scene file is kept: its summary (.json), its picture (.png)."""
    name = hashlib.blake2b(os.fsencode(os.path.abspath(path)), digest_size=16).hexdigest()
    return cache_folder() / f"{name}{suffix}"


def kept_summary(path: str | os.PathLike[str], stale: bool = False) -> Summary | None:
    """The summary that was kept of a file, if the file is still as it was then; with `stale`, also when it isn't."""
    with contextlib.suppress(OSError, ValueError, TypeError, KeyError):
        raw: dict[str, Any] = orjson.loads(kept_file(path, ".json").read_bytes())
        raw["page"] = (float(raw["page"][0]), float(raw["page"][1]))
        raw["path"] = os.fspath(path)
        summary = Summary(**raw)
        if stale or (summary.changed, summary.size) == stamp(Path(path)):
            return summary
    return None


def keep_summary(summary: Summary, picture: bytes | None) -> None:
    """Keeps a summary, and a picture as a PNG, for the next time. What can't be kept is made again then."""
    with contextlib.suppress(OSError, ChalcedonError):
        cache_folder().mkdir(parents=True, mode=0o700, exist_ok=True)
        if picture is not None:
            write_safely(kept_file(summary.path, ".png"), picture, "picture", backup=False)
        write_safely(kept_file(summary.path, ".json"), orjson.dumps(asdict(summary)), "summary", backup=False)


def thin_kept() -> None:
    """Lets go of what was kept longest ago, when there is too much."""
    with contextlib.suppress(OSError):
        files = sorted(cache_folder().glob("*.json"), key=lambda f: f.stat().st_mtime, reverse=True)
        for file in files[MOST_KEPT:]:
            file.unlink(missing_ok=True)
            file.with_suffix(".png").unlink(missing_ok=True)
