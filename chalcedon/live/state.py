"""All that a run is, besides the document and what came in: what a snapshot keeps."""

from __future__ import annotations

import copy
from dataclasses import dataclass, field
from typing import Any

Target = tuple[str, str]
"""An id and a property; ("", name) is an input."""


@dataclass(slots=True)
class Pointer:
    """One pointer of the run. Places are in px of the page."""

    id: int
    kind: str = "mouse"
    x: float = 0.0
    y: float = 0.0
    inside: bool = False
    buttons: int = 0
    pressure: float = 0.0
    path: tuple[str, ...] = ()
    """What it is on: the shape hit, and the groups around it, without the scene."""
    captured: str = ""
    down_x: float = 0.0
    down_y: float = 0.0
    down_path: tuple[str, ...] = ()
    drag: str = ""
    """The id of the shape that it may drag, or drags."""
    dragging: bool = False
    drag_from: tuple[float, float] = (0.0, 0.0)
    """Where the shape's `at` was when the drag began."""
    drag_inputs: dict[str, Any] = field(default_factory=dict)
    clicks: int = 0
    clicked_at: tuple[int, float, float] = (-1_000_000, 0.0, 0.0)
    """The frame and place of the last click."""


@dataclass(slots=True)
class Ease:
    """A value on its way to another."""

    target: Target
    start: Any
    end: Any
    first: int
    """The frame at which it sets off."""
    frames: int
    how: str


@dataclass(slots=True)
class Later:
    """An act that waits."""

    frame: int
    owner: str
    act: Any
    event: Any


@dataclass(slots=True)
class Placed:
    """A copy of a shape that a response put somewhere; `serial` is its number."""

    serial: int
    shape: str
    at: tuple[float, float]


@dataclass(slots=True)
class State:
    """A run at a step."""

    frame: int = 0
    pointers: dict[int, Pointer] = field(default_factory=dict)
    leading: int = 1
    """The pointer that formulas follow: the one that did something last, but none takes over while it is pressed."""
    keys: tuple[str, ...] = ()
    focus: str = ""
    inputs: dict[str, Any] = field(default_factory=dict)
    overrides: dict[Target, Any] = field(default_factory=dict)
    eases: list[Ease] = field(default_factory=list)
    later: list[Later] = field(default_factory=list)
    truths: dict[tuple[str, int], bool] = field(default_factory=dict)
    """Which conditions were true at the last step, by owner and number of the response."""
    placed: list[Placed] = field(default_factory=list)
    serial: int = 0
    orders: dict[str, float] = field(default_factory=dict)
    """Where shapes stand among their siblings that don't stand where they are stated; more is farther in front."""
    counter: int = 0

    def kept(self) -> State:
        """A copy that goes its own way."""
        return copy.deepcopy(self)
