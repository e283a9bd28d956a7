"""The values of a preset as a line of text: fill #c9a227 stroke black stroke_width 3"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from chalcedon.geometry.digits import in_full
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.paints import Gradient, Pattern, Picture, Shadow
from chalcedon.scene.presets import presettable
from chalcedon.scene.runs import TextRun
from chalcedon.scene.shape import KINDS
from chalcedon.source.line import LineParser
from chalcedon.source.linevalues import Token
from chalcedon.source.text import spelled

KEPT = "…"
"""Stands for a value that a line can't say: it is kept."""
HOLDS = "It holds paint and text: fill, stroke, family, size."


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
        return " ".join((*map(in_full, (value.x, value.y, value.blur)), value.color))
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
    found: dict[str, Any] = {}
    for name in re.findall(rf"(\w+)\s+{KEPT}", text):
        if name not in old:
            raise ValueProblem(f"there is no {name} that could be kept.", hint="Say a value for it.")
        found[name] = old[name]
    rest = re.sub(rf"\w+\s+{KEPT}", " ", text)
    parser = _Settings(re.sub(r"\w+\s+\(\)", " ", rest))
    empty = re.findall(r"(\w+)\s+\(\)", rest)
    for name in empty:
        parser.look_up(name)
    return {**found, **parser.settings(), **dict.fromkeys(empty, ())}


class _Settings(LineParser):
    """Reads a line that names no kind of shape: only what a preset can hold has a place in it."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.shape_class = KINDS["text"]
        self.able = {name: self.shape_class.properties[name] for name in presettable(self.shape_class)}

    def settings(self) -> dict[str, Any]:
        """The values, as they are stored. Raises ValueProblem."""
        for token in self.tokens:
            self.feed(token)
        self.finish()
        for name in (*self.values, *(name for name, _ in self._parts)):
            self.look_up(name)
        return {name: self._stored(name, value) for name, value in self.values.items()}

    def _stored(self, name: str, value: Any) -> Any:
        try:
            return self.able[name].read(value, "")
        except ValueProblem as problem:
            raise ValueProblem(problem.message, problem.where.removeprefix("."), problem.hint) from None

    def _switch(self, word: str) -> None:
        self.look_up(self.words().get(word, word))
        super()._switch(word)

    def look_up(self, name: str) -> None:
        """Raises ValueProblem unless a preset can hold a property of that name."""
        if name not in self.able:
            raise ValueProblem(f"a preset has no {name}.", hint=HOLDS)

    def _only_kind_so_far(self, token: Token) -> bool:
        return False

    def _suggest(self, token: Token) -> str:
        if token.kind == "word":
            return nearest(token.text, [*self.able, *(w for w, name in self.words().items() if name in self.able)])
        return "Name what it is for first, such as fill or stroke."
