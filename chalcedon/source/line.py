"""One statement, written loosely: circle 200 120 40 fill #d97b4a stroke black 3 rotate 15

Brackets, commas, = and quotes may be left out. Values without a name go to the leading properties of the
kind in their order; a word that names a property, or a step, says where the next values go.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

from chalcedon.formula import calculate
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene import OFFERED, Shape
from chalcedon.scene.declare import Property
from chalcedon.scene.given import Given, converted
from chalcedon.scene.ids import check_id
from chalcedon.scene.paints import LINES, Gradient, Paint, ShadowValue, evenly
from chalcedon.scene.shapes import kind_named
from chalcedon.scene.steps import OPS
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, Number, TextValue, Tuple

_TOKEN = re.compile(
    r"""(?P<string>"[^"]*"?|'[^']*'?)"""
    r"""|(?P<color>\#[0-9A-Za-z]*|(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|var)\([^)]*\)?)"""
    r"""|(?P<number>[-+−]?(?:\d[\w.]*|\.\d\w*)(?:[*/+−-][-−]?[\w.]+|\*\*[\w.]+)*)"""
    r"""|(?P<word>[^\W\d][\w-]*(?:[./][\w-]+)*)"""
    r"""|(?P<skip>[\s,=:;()\[\]]+)"""
    r"""|(?P<other>.)""",
    re.VERBOSE,
)


class Token(NamedTuple):
    """A word, number or other piece of a line, from `start` to before `end`."""

    kind: str
    text: str
    start: int
    end: int


def tokens(text: str) -> list[Token]:
    """The words, numbers, colours and strings of a line; punctuation is left out."""
    return [
        Token(str(m.lastgroup), m.group(), m.start(), m.end()) for m in _TOKEN.finditer(text) if m.lastgroup != "skip"
    ]


@dataclass(frozen=True, slots=True)
class Slot:
    """Where the next value goes: a property (or the numbers of a step) and which component of it."""

    name: str
    prop: Property[Any] | None
    component: str
    help: str


class LineParser:
    """Reads a line token by token. `slot` always says what the next value would be."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.tokens = tokens(text)
        self.values: dict[str, Any] = {}
        self.steps: list[dict[str, Any]] = []
        self.shape_class: type[Shape] | None = None
        self.id = ""
        self._queue: list[str] = []
        self._gradient = ""  # its kind, while its colours are read
        self._pending: list[Any] = []
        self._name = ""
        self._op = ""
        self.given: dict[str, list[float]] = {}
        """Other descriptions that were given (scene/given.py), with their numbers."""
        self._giving = ""

    # the whole line

    def parse(self) -> Shape:
        """The shape, in no scene. Raises ValueProblem with a sentence that names what is wrong."""
        for token in self.tokens:
            self.feed(token)
        self.finish()
        if self.shape_class is None:
            raise ValueProblem("a line starts with a kind of shape.", hint="Known: " + ", ".join(OFFERED) + ".")
        if self.steps:
            self.values["steps"] = [*self.values.get("steps", []), *self.steps]
        shape = self.shape_class()
        if self.id:
            shape.id = check_id(self.id)
        for name, value in self.values.items():
            shape.assign(name, value)
        for name, value in self.conversion().items():
            shape.assign(name, value)
        return shape

    def conversion(self) -> dict[str, Any]:
        """What the other descriptions come to, as properties."""
        if self.shape_class is None or not self.given:
            return {}
        return converted(self.shape_class.kind, self.shape_class.words, self.given, self.values)

    def feed(self, token: Token) -> None:
        """Takes in the next token. Raises ValueProblem when it can't stand there."""
        if self.shape_class is None:
            self._start(token)
        elif self._name == "id":
            self.id, self._name = token.text.strip("\"'"), ""
        elif token.kind == "word" and self._is_name(token.text):
            self._switch(token.text)
        elif token.kind == "other":
            raise ValueProblem(f"{token.text} can't stand here.", hint="Write numbers, words and colours.")
        else:
            self._take(token)

    def finish(self) -> None:
        """Ends the value being read; raises when it is incomplete."""
        if self._op:
            self._end_step()
        elif self._giving:
            form, got = self._forms()[self._giving], self.given[self._giving]
            raise ValueProblem(f"{self._giving} has no {form.labels[len(got)]}.", hint=f"It takes {form.help}.")
        elif self._name == "id":
            raise ValueProblem("id has no value.", hint="It takes a name: letters, digits and _.")
        elif self._name:
            self._end_value()

    # reading

    def _start(self, token: Token) -> None:
        if token.kind != "word":
            raise ValueProblem(f"{token.text} is not a kind of shape.", hint="Known: " + ", ".join(OFFERED) + ".")
        if token.text not in OFFERED and len(self.tokens) > 1 and self.tokens[1].text in OFFERED and not self.id:
            self.id = token.text  # moon = circle ...
            return
        self.shape_class = kind_named(token.text)
        self._queue = list(self.shape_class.leading)
        self._advance()

    def _is_name(self, word: str) -> bool:
        assert self.shape_class is not None
        kind = self._prop().kind if self._name else None
        if isinstance(kind, Choice | Anchor) and word in kind.words and not self._pending:
            return False
        return (
            word in self.shape_class.properties
            or word in OPS
            or word in self.words()
            or word in self._forms()
            or word in ("id", "steps")
        )

    def _forms(self) -> Mapping[str, Given]:
        assert self.shape_class is not None
        return self.shape_class.words

    def words(self) -> dict[str, str]:
        """Short words for properties: width for stroke_width."""
        assert self.shape_class is not None
        return {p.word: n for n, p in self.shape_class.properties.items() if " " not in p.word}

    def _switch(self, word: str) -> None:
        self.finish()
        self._queue = []
        assert self.shape_class is not None
        if word == "steps":
            self._name = ""
        elif word in OPS and word not in self.shape_class.properties:
            self._op, self._pending, self._name = word, [], ""
        elif word == "id":
            self._name, self._pending = "id", []
        elif word in self._forms():
            self._name, self._giving, self.given[word] = "", word, []
        else:
            self._name = word if word in self.shape_class.properties else self.words()[word]
            self._pending = []

    def _prop(self) -> Property[Any]:
        assert self.shape_class is not None
        return self.shape_class.properties[self._name]

    def _advance(self) -> None:
        self._name = self._queue.pop(0) if self._queue else ""
        self._pending = []

    def _take(self, token: Token) -> None:
        if self._op:
            self._pending.append(calculate(token.text))
            if len(self._pending) == len(OPS[self._op]):
                self._end_step()
            return
        if self._giving:
            got = self.given[self._giving]
            got.append(calculate(token.text))
            if len(got) == len(self._forms()[self._giving].labels):
                self._giving = ""
            return
        if token.kind == "word" and not self.id and not self._pending and self._only_kind_so_far(token):
            self.id = token.text  # circle moon 200 120 40
            return
        if not self._name:
            raise ValueProblem(f"{token.text} has no place here.", hint=self._suggest(token))
        self._take_value(token)

    def _only_kind_so_far(self, token: Token) -> bool:
        return len(self.tokens) > 1 and self.tokens[1] is token and token.text.isidentifier()

    def _take_value(self, token: Token) -> None:
        kind = self._prop().kind
        if isinstance(kind, Paint):
            if self._gradient:  # fill linear 90 #fff #000
                self._pending.append(calculate(token.text) if token.kind == "number" else token.text)
                return
            if self._pending:  # stroke black 3: the width may follow
                if self._name != "stroke" or token.kind != "number":
                    raise ValueProblem(f"{token.text} has no place here.", hint=self._suggest(token))
                self.values["stroke_width"] = calculate(token.text)
                self._end_value()
                return
            self._pending.append(token.text.strip("\"'"))
            if token.text in LINES:
                self._gradient = token.text
        elif isinstance(kind, ShadowValue):
            self._pending.append(calculate(token.text) if token.kind == "number" else token.text)
            if len(self._pending) == 4 or self._pending[0] == "none":
                self._end_value()
        elif isinstance(kind, Flag):
            self._pending.append(_truth(token.text))
            self._end_value()
        elif isinstance(kind, Choice | TextValue) or (isinstance(kind, Anchor) and token.kind != "number"):
            self._pending.append(_string(token.text))
            self._end_value()
        elif isinstance(kind, Corners) and token.text in kind.of.words:  # type: ignore[attr-defined]
            self._pending.append(token.text)
        elif token.kind == "word":
            raise ValueProblem(f"{token.text} has no place here.", self._where(), self._suggest(token))
        else:
            try:
                self._pending.append(calculate(token.text))
            except ValueProblem as problem:
                problem.where = self._where()
                raise
            if self._full():
                self._end_value()

    def _full(self) -> bool:
        kind = self._prop().kind
        if isinstance(kind, Number):
            return True
        if isinstance(kind, Corners):
            return len(self._pending) == 4
        return isinstance(kind, Tuple | Anchor) and len(self._pending) == len(kind.labels)

    def _end_value(self) -> None:
        name, got = self._name, self._pending
        prop = self._prop()
        kind = prop.kind
        if not got:
            if isinstance(kind, Flag):
                got = [True]
            elif self._queue or name in (self.shape_class.leading if self.shape_class else ()):
                self._name = ""
                return
            else:
                raise ValueProblem(f"{prop.word} has no value.", hint=f"It takes {kind.describe()}.")
        if isinstance(kind, Many) and isinstance(kind.of, Tuple):
            if len(got) % 2:
                raise ValueProblem(f"{prop.word}: x {got[-1]:g} has no y.", hint="Points are pairs of numbers.")
            self.values[name] = [got[i : i + 2] for i in range(0, len(got), 2)]
        elif isinstance(kind, Many):
            if isinstance(kind, Corners) and len(got) not in (1, 4):
                raise ValueProblem(f"{prop.word}: {len(got)} radii.", hint="Give one for all corners, or four.")
            self.values[name] = got
        elif isinstance(kind, Tuple) and len(got) < len(kind.labels):
            raise ValueProblem(f"{prop.word} has no {kind.labels[len(got)]}.", hint=f"It takes {kind.describe()}.")
        elif isinstance(kind, Tuple) or (isinstance(kind, Anchor) and len(got) == 2):
            self.values[name] = got
        elif self._gradient:
            self.values[name] = _gradient(got)
            self._gradient = ""
        elif isinstance(kind, ShadowValue) and len(got) > 1:
            self.values[name] = got
        else:
            self.values[name] = got[0]
        self._advance()

    def _end_step(self) -> None:
        op, got = self._op, self._pending
        if op == "scale" and len(got) == 1:
            got = [got[0], got[0]]
        if len(got) < len(OPS[op]):
            raise ValueProblem(f"{op} has no {OPS[op][len(got)]}.", hint=f"It takes {', '.join(OPS[op])}.")
        self.steps.append({op: got[0] if op == "rotate" else got})
        self._op, self._pending, self._name = "", [], ""

    # explaining

    def slot(self) -> Slot | None:
        """What the next value would be; None when only a name can follow."""
        if self._op:
            labels = OPS[self._op]
            return Slot(self._op, None, labels[min(len(self._pending), len(labels) - 1)], "step")
        if self._giving:
            form = self._forms()[self._giving]
            return Slot(self._giving, None, form.labels[len(self.given[self._giving])], form.help)
        if not self._name:
            return None
        if self._name == "id":
            return Slot("id", None, "", "a name of its own: letters, digits, _")
        prop = self._prop()
        labels = prop.kind.labels
        if isinstance(prop.kind, Many) and isinstance(prop.kind.of, Tuple):
            labels = prop.kind.of.labels
        component = labels[len(self._pending) % len(labels)] if labels else ""
        return Slot(self._name, prop, component, prop.help)

    def _where(self) -> str:
        return self._prop().word if self._name else ""

    def _suggest(self, token: Token) -> str:
        assert self.shape_class is not None
        if token.kind == "word":
            return nearest(token.text, [*self.shape_class.properties, *self.words(), *self._forms(), *OPS])
        return "Name a property first, such as fill or rotate."


def parse_line(text: str) -> Shape:
    """The shape that a loosely written statement describes. Raises ValueProblem with a sentence."""
    return LineParser(text).parse()


def _gradient(got: list[Any]) -> Gradient:
    """linear, perhaps an angle, colours; radial, colours."""
    kind, *rest = got
    angle = rest.pop(0) if rest and not isinstance(rest[0], str) else 0.0
    if not rest or not all(isinstance(c, str) for c in rest):
        raise ValueProblem("the gradient has no colours.", hint="Write linear 90 #f4b860 #b8482a.")
    return evenly(kind, rest, angle)


def _truth(text: str) -> bool:
    word = text.lower()
    if word in ("yes", "true", "on", "1"):
        return True
    if word in ("no", "false", "off", "0"):
        return False
    raise ValueProblem(f"{text} is neither yes nor no.")


def _string(text: str) -> str:
    return text[1:].removesuffix(text[0]) if text[:1] in ("'", '"') else text
