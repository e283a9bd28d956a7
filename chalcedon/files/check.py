"""What reading can't see: keys that stand twice in one JSON object, where only the last counts."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

from chalcedon.problems import Problem


def repeated_keys(path: str | os.PathLike[str]) -> list[Problem]:
    """A problem for every key that stands twice in one object of a file that has been opened before."""
    problems: list[Problem] = []

    def pairs(items: list[tuple[str, Any]]) -> dict[str, Any]:
        out = dict(items)
        if len(out) < len(items):
            keys = [k for k, _ in items]
            for key in dict.fromkeys(k for k in keys if keys.count(k) > 1):
                owner = str(out.get("id", "scene"))
                problems.append(
                    Problem("this key stands twice; only the last counts.", f"{os.fspath(path)}, {owner}.{key}")
                )
        return out

    try:
        json.loads(Path(path).read_bytes(), object_pairs_hook=pairs)
    except (ValueError, RecursionError):
        pass  # reading has said what is wrong with it
    return problems
