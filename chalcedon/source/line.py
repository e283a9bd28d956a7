"""One statement, written loosely: circle 200 120 40 fill #d97b4a stroke black 3 rotate 15

A formula stands in braces, or is a name with an attribute: circle pointer.x {scene.height / 2} 40.

Brackets, commas, = and quotes may be left out. Values without a name go to the leading properties of the
kind in their order; a word that names a property, or a step, says where the next values go.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from chalcedon.formula import Formula, calculate
from chalcedon.formula.table import FUNCTIONS
from chalcedon.problems import ValueProblem, nearest
from chalcedon.scene import OFFERED, Shape, synonyms
from chalcedon.scene.color import names as color_names
from chalcedon.scene.declare import Property
from chalcedon.scene.given import Given, converted
from chalcedon.scene.ids import check_id
from chalcedon.scene.paints import Paint
from chalcedon.scene.roles import usual
from chalcedon.scene.shapes import kind_named
from chalcedon.scene.steps import OPS
from chalcedon.source.linevalues import LEADING, NoPlace, Token, alone, formula_of, take, value_of

_TOKEN = re.compile(
    r"""(?P<string>"[^"]*"?|'[^']*'?)"""
    r"""|(?P<formula>\{(?:[^{}]|\{[^{}]*\})*\}?|[^\W\d]\w*(?:\.[^\W\d]\w*)+(?:[-+*/]+[\w.]+)+)"""
    r"""|(?P<color>\#[0-9A-Za-z]*|(?:rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|var)\([^)]*\)?)"""
    r"""|(?P<number>[-+−]?(?:\d[\w.]*|\.\d\w*)(?:[*/+−-][-−]?[\w.]+|\*\*[\w.]+)*)"""
    r"""|(?P<word>[^\W\d][\w-]*(?:[./][\w-]+)*)"""
    r"""|(?P<skip>[\s,=:;()\[\]]+)"""
    r"""|(?P<other>.)""",
    re.VERBOSE,
)


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

    def __init__(self, text: str, up: bool = False) -> None:
        self.text = text
        self.up = up
        """Whether it is for a scene in which y runs up."""
        self.tokens = tokens(text)
        self.values: dict[str, Any] = {}
        self.steps: list[dict[str, Any]] = []
        self.shape_class: type[Shape] | None = None
        self.id = ""
        self._queue: list[str] = []
        self._pending: list[Any] = []
        self._name = ""
        self._op = ""
        self.given: dict[str, list[float]] = {}
        """Other descriptions that were given (scene/given.py), with their numbers."""
        self._giving = ""
        self._parts: dict[tuple[str, int], float | Formula] = {}
        """Single numbers of pairs that were given by a word of their own, such as x."""
        self._part: tuple[str, int] | None = None
        self._equal = ""

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
        for name, value in {**usual(self.shape_class, self.up), **self.values}.items():
            shape.assign(name, value)
        for (name, index), number in self._parts.items():
            pair = list(shape.stated(name))
            pair[index] = number
            shape.assign(name, tuple(pair))
        for name, value in self.conversion().items():
            shape.assign(name, value)
        return shape

    def conversion(self) -> dict[str, Any]:
        """What the other descriptions come to, as properties."""
        if self.shape_class is None or not self.given:
            return {}
        return converted(self.shape_class.kind, self.shape_class.words, self.given, self.values, self.up)

    def feed(self, token: Token) -> None:
        """Takes in the next token. Raises ValueProblem when it can't stand there."""
        if self.shape_class is None:
            self._start(token)
        elif self._name == "id":
            self.id, self._name = token.text.strip("\"'"), ""
        elif token.kind == "word" and self._is_name(token.text):
            self._switch(token.text)
        elif token.kind == "word" and self._is_synonym(token):
            pass
        elif token.kind == "other":
            raise ValueProblem(f"{token.text} can't stand here.", hint="Write numbers, words and colours.")
        else:
            self._take(token)

    def finish(self) -> None:
        """Ends the value being read; raises when it is incomplete."""
        if self._op:
            self._end_step()
        elif self._part is not None:
            raise ValueProblem(f"{self._part[0]} has a number missing.", hint="It takes one number here.")
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
        meant = synonyms.KINDS.get(token.text.lower(), synonyms.Kind(token.text.lower()))
        self.shape_class = kind_named(meant.kind)
        self.values.update(meant.values)
        self._equal = meant.equal
        self._queue = list(meant.leading or self.shape_class.leading)
        for name, _value in meant.values:
            if name in self._queue:
                self._queue.remove(name)
        self._advance()

    def _is_name(self, word: str) -> bool:
        assert self.shape_class is not None
        if self._name and not self._pending and word in self._prop().kind.words:
            return False
        if word == "width" and self._means_size():
            return False
        return (
            word in self.shape_class.properties
            or word in OPS
            or word in self.words()
            or word in self._forms()
            or word in ("id", "steps")
        )

    def _means_size(self) -> bool:
        """Whether `width` is that of the shape: with a stroke or a size it is the stroke's, unless a height is said."""
        assert self.shape_class is not None
        if synonyms.number_meant("width", self.shape_class) is None:
            return False
        said = self._name == "stroke" or not self.values.keys().isdisjoint(("stroke", "size"))
        return not said or any(t.text.lower() in ("height", "h") for t in self.tokens)

    def _is_synonym(self, token: Token) -> bool:
        """Takes a word of the trade for the property, or the number of one, that it means."""
        assert self.shape_class is not None
        if self._name and not self._pending and (token.text in self._prop().kind.words or self._name == "content"):
            return False
        found = synonyms.number_meant(token.text, self.shape_class)
        name = "" if found is not None else synonyms.property_meant(token.text, self.shape_class)
        if found is None and not name:
            return False
        self.finish()
        self._queue, self._name, self._pending, self._part = [], name, [], found
        if found is not None:
            self._once(*found)
        return True

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
            self._pending.append(_number(token))
            if len(self._pending) == len(OPS[self._op]):
                self._end_step()
            return
        if self._giving:
            got = self.given[self._giving]
            got.append(calculate(token.text))
            if len(got) == len(self._forms()[self._giving].labels):
                self._giving = ""
            return
        if self._part is not None:
            self._parts[self._part], self._part = _number(token), None
            return
        if token.kind == "word" and not self.id and not self._pending and self._only_kind_so_far(token):
            self._name_it(token)  # circle moon 200 120 40
            return
        if not self._name:
            raise ValueProblem(f"{token.text} has no place here.", hint=self._suggest(token))
        self._take_value(token)

    def _name_it(self, token: Token) -> None:
        """Takes the word after the kind for the id, unless it is surely meant as something else."""
        word = token.text
        if self.text[token.end : token.end + 1] == "(":
            hint = (
                f"A formula stands in braces: {{{word}(...)}}."
                if word in FUNCTIONS
                else "A line takes numbers and sums."
            )
            raise ValueProblem(f"{word}(...) can't stand here.", hint=hint)
        if word.lower() in synonyms.NOT_NAMES:
            raise ValueProblem(f"{word} can't stand here.", hint="It is neither a number of a shape nor a name.")
        if word.lower() in color_names():
            raise ValueProblem(f"{word} is a colour.", hint=f"Write fill {word}, or id {word} for a name.")
        self.id = word

    def _only_kind_so_far(self, token: Token) -> bool:
        return token in self.tokens[1:2] and token.text.isidentifier()

    def _take_value(self, token: Token) -> None:
        if (
            self._name == "stroke"
            and token.kind in ("number", "formula")
            and self._pending
            and self._pending[0] not in LEADING
        ):
            self._once("stroke_width")
            self.values["stroke_width"] = _number(token)  # stroke black 3
            self._end_value()
            return
        try:
            full = take(self._prop().kind, self._pending, token)
        except NoPlace:
            if "content" in self.values and self._name == "size" and not self._pending:
                hint = f'Put words that belong together in quotes: "{self.values["content"]} {token.text}".'
                raise ValueProblem(f"{token.text} has no place here.", hint=hint) from None
            raise ValueProblem(f"{token.text} has no place here.", self._where(), self._suggest(token)) from None
        except ValueProblem as problem:
            problem.where = problem.where or self._where()
            raise
        if self._name == self._equal:
            self._pending, full = self._pending * 2, True  # one number for both sides
        if full:
            self._end_value()

    def _end_value(self) -> None:
        prop = self._prop()
        got = self._pending or alone(prop.kind)
        if got:
            self._once(self._name)
            self.values[self._name] = value_of(prop.kind, got, prop.word)
            self._advance()
        elif self._queue or (self.shape_class is not None and self._name in self.shape_class.leading):
            self._name = ""
        else:
            raise ValueProblem(f"{prop.word} has no value.", hint=f"It takes {prop.kind.describe()}.")

    def _once(self, name: str, index: int | None = None) -> None:
        """Refuses a property, or one number of it, that the line said before."""
        if name in self.values or any(name == n and index in (None, i) for n, i in self._parts):
            assert self.shape_class is not None
            hint = "A value without a name may have been taken for it: name what is meant."
            raise ValueProblem(f"{self.shape_class.properties[name].word} is given twice.", hint=hint)

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
        if self._part is not None:
            name, index = self._part
            assert self.shape_class is not None
            prop = self.shape_class.properties[name]
            return Slot(name, prop, prop.kind.labels[index], prop.help)
        if not self._name:
            return None
        if self._name == "id":
            return Slot("id", None, "", "a name of its own: letters, digits, _")
        prop = self._prop()
        if isinstance(prop.kind, Paint) and self._pending and self._pending[0] not in LEADING:  # the colour is there
            assert self.shape_class is not None
            width = self.shape_class.properties["stroke_width"]
            return Slot("stroke_width", width, "", width.help) if self._name == "stroke" else None
        labels = prop.kind.each
        component = labels[len(self._pending) % len(labels)] if labels else ""
        return Slot(self._name, prop, component, prop.help)

    def _where(self) -> str:
        return self._prop().word if self._name else ""

    def _suggest(self, token: Token) -> str:
        assert self.shape_class is not None
        if token.text in FUNCTIONS:
            return f"A formula stands in braces: {{{token.text}(...)}}."
        if token.kind == "word":
            known = [*self.shape_class.properties, *self.words(), *self._forms(), *OPS]
            return synonyms.word_for(token.text, self.shape_class) or nearest(token.text, known)
        return "Name a property first, such as fill or rotate."


def _number(token: Token) -> float | Formula:
    """The number or the formula that a token is. Raises ValueProblem for a word."""
    formula = formula_of(token)
    return calculate(token.text) if formula is None else formula


def says(text: str, name: str) -> bool:
    """Whether a line that can be read says a value for a property, be it the usual one."""
    parser = LineParser(text)
    parser.parse()
    return name in parser.values or any(n == name for n, _ in parser._parts) or name in parser.conversion()


def parse_line(text: str, up: bool = False) -> Shape:
    """The shape that a loosely written statement describes, `up` for a scene in which y runs up. Raises ValueProblem
    with a sentence."""
    return LineParser(text, up).parse()
