"""What happens in a run: events as they are dispatched, and what is written down of them."""

from __future__ import annotations

from typing import Any, NamedTuple

_POINTER = ("over", "out", "down", "move", "up", "click", "dblclick", "wheel")
BUBBLES = frozenset((*_POINTER, "dragstart", "drag", "dragend", "keydown", "keyup"))
"""Events that go on from a shape to the groups around it and to the scene; enter, leave, focus and blur don't."""


class Event(NamedTuple):
    """Something that happened. Places are in the scene's coordinates."""

    name: str
    target: str
    """The id of the shape that it happened to; "" for the scene."""
    path: tuple[str, ...] = ()
    """The way that it bubbles along: the target, the groups around it, "" for the scene at last."""
    time: float = 0.0
    frame: int = 0
    x: float = 0.0
    y: float = 0.0
    dx: float = 0.0
    dy: float = 0.0
    """Of wheels how far they turned, of moves and drags how far since the last."""
    button: int = 0
    buttons: int = 0
    pointer: int = 1
    kind: str = "mouse"
    """mouse, pen or touch."""
    pressure: float = 0.0
    key: str = ""
    values: dict[str, Any] | None = None
    """What a response that emitted it gave along."""

    def said(self) -> dict[str, Any]:
        """It as a line of the log."""
        out: dict[str, Any] = {"frame": self.frame, "event": self.name, "target": self.target}
        if self.path:
            out["path"] = list(self.path)
        if self.name in ("keydown", "keyup"):
            out["key"] = self.key
        elif self.values is not None:
            out["values"] = {name: round(v, 6) if isinstance(v, float) else v for name, v in self.values.items()}
        elif self.name not in ("start", "step", "every", "when", "contact", "parting", "focus", "blur"):
            out["x"], out["y"] = round(self.x, 6), round(self.y, 6)
            if self.dx or self.dy:
                out["dx"], out["dy"] = round(self.dx, 6), round(self.dy, 6)
        return out


class Item(NamedTuple):
    """What came in from outside, and at which step it is handled."""

    frame: int
    what: str
    """move, down, up, leave, cancel, wheel, keydown, keyup, focus, input, emit."""
    said: tuple[tuple[str, Any], ...]

    def get(self, name: str, default: Any = None) -> Any:
        """What is said of it under a name."""
        return dict(self.said).get(name, default)


NUMBERED = ("pointer", "button", "number")
"""What of an item counts: pointers, buttons, responses."""


def counts(value: object) -> bool:
    """Whether a value can be the number of a pointer, a button or a response."""
    return type(value) is int and 0 <= value <= 1000
