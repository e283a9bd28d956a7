"""The outline of each kind, in its own space (before the anchor is taken into account), as functions of plain values.

Two a kind: the first makes the path, the second gives its exact bounds, where the kind has a way without making it, so
that a large scene can be placed before anything is drawn. Tests hold them to each other.
"""

from __future__ import annotations

import inspect
from collections.abc import Callable
from typing import Any

from chalcedon.geometry import Box, Outline
from chalcedon.scene.declare import Stored
from chalcedon.scene.shapes import KINDS, Shape

Maker = tuple[Callable[[Stored], Outline], Callable[[Stored], Box]]


def _of_values(cls: type[Shape], function: Callable[..., Any]) -> Callable[[Stored], Any]:
    """A function of properties as one of all that is set, defaults filled in."""
    names = list(inspect.signature(function).parameters)
    if names == ["values"]:
        return function
    defaults = [(n, cls.properties[n].default) for n in names]
    if len(defaults) == 1:
        ((name, default),) = defaults
        return lambda v: function(v.get(name, default))
    if len(defaults) == 2:
        (first, usual), (second, other) = defaults
        return lambda v: function(v.get(first, usual), v.get(second, other))
    return lambda v: function(*[v.get(n, d) for n, d in defaults])


def _maker(cls: type[Shape]) -> Maker:
    outline = _of_values(cls, cls.outline)
    return outline, _of_values(cls, cls.box) if hasattr(cls, "box") else lambda v: outline(v).bounds()


OUTLINES: dict[str, Maker] = {kind: _maker(cls) for kind, cls in KINDS.items() if hasattr(cls, "outline")}
