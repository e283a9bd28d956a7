"""Files of earlier versions of the format, brought to the present one step by step.

Format 1 is frozen: properties, kinds and words are added to it, and what it says never comes to mean something else
(`tests/files/test_frozen.py` holds that). Whatever can't be had so makes the version one more, and a step here, which
takes what the JSON of a file of the version before says, and changes it to say the same in the next.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

VERSION = 1
STEPS: dict[int, Callable[[dict[str, Any]], None]] = {}
"""By the version that each leads on from."""


def to_now(raw: dict[str, Any], version: int) -> None:
    """Changes the JSON of a file of an earlier version into that of the present one."""
    for before in range(version, VERSION):
        STEPS[before](raw)
    raw["chalcedon"] = max(version, VERSION)
