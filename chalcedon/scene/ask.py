"""What a shape or a scene is asked and only those above it can say: `shape.bounds()`.

The document knows nothing of its evaluation, so the answers are found by name when they are first asked for.
"""

from __future__ import annotations

import importlib
from typing import Any

HOME = "chalcedon.craft.measured"


def ask(question: str, *args: Any) -> Any:
    """The answer to a question, which is the name of a function there."""
    return getattr(importlib.import_module(HOME), question)(*args)
