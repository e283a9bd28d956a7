"""The helper of the shelf, a program of its own: it reads scene files and makes their small pictures, so that a file
that is slow, large or broken never holds a window up.

    python -m chalcedon.painter.shelving FOLDER... -- FILE...

It writes one line of JSON for each thing it has found: {"folder", "files", "more", "problem"} for a folder, {"begun"}
before a file that has to be read, and a file's summary when that, and its picture, are kept (`files/shelf.py`).
"""

from __future__ import annotations

import sys
from dataclasses import asdict
from pathlib import Path
from typing import Any

import orjson

from chalcedon.files import shelf
from chalcedon.problems import ChalcedonError

WIDE, HIGH = 440, 264
"""Px of the largest picture that is kept."""
MOST_MEMORY = 4 << 30


def main(words: list[str]) -> None:
    """Does what the module says."""
    cut = words.index("--") if "--" in words else len(words)
    folders, files = words[:cut], words[cut + 1 :]
    _limit_memory()
    wanted = dict.fromkeys(files)
    for folder in folders:
        found, problem = shelf.Found([], False), ""
        try:
            found = shelf.scenes_in(folder)
        except ChalcedonError as error:
            problem = error.sentence
        names = [str(f) for f in found.files]
        _say({"folder": folder, "files": names, "more": found.more, "problem": problem})
        wanted.update(dict.fromkeys(names))
    later = []
    for file in wanted:
        kept = shelf.kept_summary(file)
        if kept is None:
            later.append(file)
        else:
            _say(asdict(kept))
    for file in later:
        if Path(file).exists():
            _say({"begun": file})
            _say(asdict(_make(file)))
    if later:
        shelf.thin_kept()


def _make(file: str) -> shelf.Summary:
    from chalcedon.painter.export import headless, image_bytes
    from chalcedon.painter.sheet import small_image

    picture, app = None, headless()
    try:
        summary, scene = shelf.opened_summary(file)
        if scene is not None:
            picture = image_bytes(small_image(scene, WIDE, HIGH), "PNG")
    except (ChalcedonError, MemoryError, RecursionError) as error:
        why = error.sentence if isinstance(error, ChalcedonError) else "it is too large to be shown."
        summary = shelf.Summary(file, *shelf.stamp(Path(file)), problem=why)
    del app
    shelf.keep_summary(summary, picture)
    return summary


def _say(line: dict[str, Any]) -> None:
    sys.stdout.buffer.write(orjson.dumps(line) + b"\n")
    sys.stdout.buffer.flush()


def _limit_memory() -> None:
    try:
        import resource

        most = resource.getrlimit(resource.RLIMIT_AS)[1]
        limit = MOST_MEMORY if most == resource.RLIM_INFINITY else min(MOST_MEMORY, most)
        resource.setrlimit(resource.RLIMIT_AS, (limit, most))
    except (ImportError, ValueError, OSError):
        pass  # then there is none


if __name__ == "__main__":
    main(sys.argv[1:])
