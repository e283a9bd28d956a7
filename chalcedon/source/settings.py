"""The values of a preset as a line of text: fill #c9a227 stroke black stroke_width 3"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from chalcedon.problems import ValueProblem, shorten
from chalcedon.scene.paints import Gradient, Pattern, Picture, Shadow
from chalcedon.scene.presets import presettable
from chalcedon.scene.runs import TextRun
from chalcedon.scene.shape import KINDS
from chalcedon.source.line import LineParser
from chalcedon.source.text import spelled

KEPT = "…"
"""Stands for a value that a line can't say: it is kept."""
_START = "text 0 0 'x' "


def print_settings(values: Mapping[str, Any]) -> str:
    """The values of a preset in a line that `parse_settings` reads."""
    return " ".join(f"{name} {_written(value)}" for name, value in values.items())


def _written(value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Gradient | Pattern | Picture):
        return KEPT
    if isinstance(value, Shadow):
        return f"{value.x:g} {value.y:g} {value.blur:g} {value.color}"
    if isinstance(value, tuple):
        return " ".join(map(_written, value)) or "()"
    return value if isinstance(value, str) and re.fullmatch(r"[\w#-]+|var\([^)]*\)", value) else spelled(value)


def print_run(run: TextRun) -> str:
    """A run in a line that `parse_run` reads: its characters, and how they are set."""
    return f"{run.first} {run.last} {print_settings(dict(run.values))}"


def parse_run(text: str, old: Mapping[str, Any]) -> tuple[int, int, dict[str, Any]]:
    """The run that a line says: 0 5 weight 700 fill red. Raises ValueProblem with a sentence."""
    found = re.match(r"\s*(\d+)\s*[-–, ]\s*(\d+)\s+(\S.*)", text)
    if found is None:
        raise ValueProblem(
            f"{shorten(text)} is no run.", hint="Write its characters and how they are set: 0 5 weight 700."
        )
    return int(found[1]), int(found[2]), parse_settings(found[3], old)


def parse_settings(text: str, old: Mapping[str, Any]) -> dict[str, Any]:
    """The values that a line says, those kept that it leaves as `…`. Raises ValueProblem with a sentence."""
    able = presettable(KINDS["text"])
    found: dict[str, Any] = {}
    for name in re.findall(rf"(\w+)\s+{KEPT}", text):
        if name not in old:
            raise ValueProblem(f"there is no {name} that could be kept.", hint="Say a value for it.")
        found[name] = old[name]
    rest = re.sub(rf"\w+\s+{KEPT}", " ", text)
    empty = set(re.findall(r"(\w+)\s+\(\)", rest))
    parser = LineParser(_START + re.sub(r"\w+\s+\(\)", " ", rest))
    shape = parser.parse()
    said = [n for n in parser.values if n not in ("at", "content")]
    for name in said:
        if name not in able:
            raise ValueProblem(f"a preset has no {name}.", hint="It holds paint and text: fill, stroke, family, size.")
        found[name] = shape.stated(name)
    if parser.steps or shape.id:
        raise ValueProblem("a preset has no steps and no id.", hint="It holds paint and text: fill, stroke, family.")
    return {**found, **dict.fromkeys(empty & set(able), ())}
