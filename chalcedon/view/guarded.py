"""Widgets whose faults don't end the process.

The binding crashes on some exceptions that leave a method which Qt calls. So they go to `sys.excepthook` instead.
"""

from __future__ import annotations

import functools
import sys
from collections.abc import Callable
from typing import Any

CALLED_BY_QT = ("event", "eventFilter", "focusNextPrevChild", "paint", "sizeHint", "viewportEvent")


class Guarded:
    """To be the first base of a widget that overrides what Qt calls."""

    def __init_subclass__(cls, **more: Any) -> None:
        super().__init_subclass__(**more)
        for name, method in list(vars(cls).items()):
            if callable(method) and (name.endswith("Event") or name in CALLED_BY_QT):
                setattr(cls, name, _guarded(method))


def _guarded(method: Callable[..., Any]) -> Callable[..., Any]:
    @functools.wraps(method)
    def call(*args: Any) -> Any:
        try:
            return method(*args)
        except Exception:
            sys.excepthook(*sys.exc_info())
            return False if method.__name__ in CALLED_BY_QT else None

    return call
