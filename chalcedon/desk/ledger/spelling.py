"""Texts of cells as they are typed, in one line."""

from __future__ import annotations

import re
from functools import singledispatch
from typing import Any

from chalcedon.formula import calculate
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene import Scene
from chalcedon.scene.color import names as color_names
from chalcedon.scene.paints import Paint
from chalcedon.scene.values import Anchor, Flag, Ref, Value
from chalcedon.source.text import parse_paint

SWITCHED = {"yes": True, "true": True, "on": True, "no": False, "false": False, "off": False}
"""What is typed for a switch."""
PAIR = re.compile(r"(-?[\d.]+)\s*,\s*(-?[\d.]+)")
_SPELLED = {"\\": "\\\\", "\n": "\\n", "\r": "\\r", "\t": "\\t"}


def one_line(text: str) -> str:
    """The text as it is edited in one line: line breaks and tabs are spelled out."""
    return "".join(_SPELLED.get(c, c) for c in text)


def from_one_line(text: str) -> str:
    """What `one_line` was given, or the person meant: \\n is a line break."""
    back = {v: k for k, v in _SPELLED.items()}
    return re.sub(r"\\[\\nrt]", lambda m: back[m.group()], text)


@singledispatch
def plainly(kind: Value, text: str, scene: Scene) -> Any:
    """What a text that is no formula says for a property that isn't a number. Raises ValueProblem."""
    return from_one_line(text)


@plainly.register
def _(kind: Flag, text: str, scene: Scene) -> Any:
    if (switched := SWITCHED.get(text.strip().lower())) is not None:
        return switched
    raise ValueProblem(f"{shorten(text)} is neither yes nor no.", hint="Or write a formula, such as time > 2.")


@plainly.register
def _(kind: Anchor, text: str, scene: Scene) -> Any:
    if (pair := PAIR.fullmatch(text.strip())) is not None:
        return tuple(calculate(number) for number in pair.groups())
    return "-".join(text.split())  # the list shows it with a space


@plainly.register
def _(kind: Paint, text: str, scene: Scene) -> Any:
    paint = text.strip()
    if paint in dict(scene.palette) and paint not in color_names():
        return f"var(--{paint})"
    return None if paint in ("", "none") else parse_paint(paint)


@plainly.register
def _(kind: Ref, text: str, scene: Scene) -> Any:
    id = text.strip()
    if id.isidentifier() and id != "none" and id not in scene:
        raise ValueProblem(f"there is no shape called {shorten(id)}.", hint=nearest(id, (s.id for s in scene.walk())))
    return id
