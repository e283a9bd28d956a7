"""Has Qt ask the parts of the desk, when anything wants to know."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtGui import QAccessible, QAccessibleInterface

from chalcedon.desk.canvas.widget import Canvas
from chalcedon.desk.ledger.widget import Ledger

_made: dict[int, QAccessibleInterface] = {}
"""Qt frees an interface with its widget; until then something here must hold it."""


def install() -> None:
    """To be called once, before windows are made; a second call changes nothing."""
    if not _made:
        _made[0] = None  # type: ignore[assignment]
        QAccessible.installFactory(_interface)


def _interface(_name: str, widget: QObject) -> QAccessibleInterface | None:
    from chalcedon.desk.access.canvas import CanvasAccess
    from chalcedon.desk.access.ledger import LedgerAccess

    made: QAccessibleInterface | None = None
    if isinstance(widget, Ledger):
        made = LedgerAccess(widget)
    elif isinstance(widget, Canvas):
        made = CanvasAccess(widget)
    if made is not None:
        key = id(made)
        _made[key] = made
        widget.destroyed.connect(lambda: _made.pop(key, None))
    return made
