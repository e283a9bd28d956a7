"""What a command is, and when it can be used."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from chalcedon.desk.window import Window

Act = Callable[["Window"], object]
Test = Callable[["Window"], bool]

MENUS = ("File", "Edit", "Shape", "Outline", "Place", "Order", "Live", "View", "Help")


@dataclass(frozen=True, slots=True)
class Command:
    """`text` may be made from the state of the window. A command with `rule` starts a new part of its menu."""

    name: str
    text: str | Callable[[Window], str]
    menu: str
    run: Act
    keys: tuple[str, ...] = ()
    when: Test | None = None
    rule: bool = False
    checked: Test | None = None

    def title(self, window: Window) -> str:
        return self.text if isinstance(self.text, str) else self.text(window)


def some(w: Window) -> bool:
    """Something is selected."""
    return bool(w.session.selection)


def one(w: Window) -> bool:
    """Exactly one shape is selected."""
    return len(w.session.selection) == 1


def several(w: Window) -> bool:
    """Two shapes or more are selected."""
    return len(w.session.selection) > 1


def two(w: Window) -> bool:
    """Exactly two shapes are selected."""
    return len(w.session.selection) == 2
