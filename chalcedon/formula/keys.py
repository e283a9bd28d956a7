"""Keys of the keyboard, by the names of W3C UI Events KeyboardEvent key values."""

from __future__ import annotations

from typing import Any

from chalcedon.formula.table import function


@function("moment", needs=("keys",))
def key(keys: Any, name: str) -> bool:
    """Whether a key is down: "a", "ArrowLeft", "Shift", " "."""
    return name in keys
