"""How each kind of value is read from the words of a line: which word may come next, and what all of them come to.

A kind that isn't listed takes one number, or whatever its labels ask for.
"""

from __future__ import annotations

from functools import singledispatch
from typing import Any, NamedTuple

from chalcedon.formula import Formula, FormulaProblem, calculate
from chalcedon.formula.program import compiled
from chalcedon.formula.syntax import looks_like_formula, parse
from chalcedon.formula.types import NUMBER, POINT, SHAPE, Type
from chalcedon.problems import ValueProblem
from chalcedon.scene import Step
from chalcedon.scene.paints import LINES, Gradient, Paint, Pattern, ShadowValue, evenly
from chalcedon.scene.presets import Names
from chalcedon.scene.values import Anchor, Choice, Corners, Flag, Many, TextValue, Value


class Token(NamedTuple):
    """A word, number or other piece of a line, at [start, end)."""

    kind: str
    text: str
    start: int
    end: int


class NoPlace(Exception):
    """A word that can't be part of the value being read."""


def formula_of(token: Token) -> Formula | None:
    """The formula that a token is: what stands in braces, or a name with its attribute, such as moon.radius*2."""
    if token.text[:1] == "{":
        text = token.text[1:].removesuffix("}").strip()
        parse(text)
        return Formula(text)
    named = token.kind == "number" or (token.kind == "word" and "." in token.text)
    if token.kind == "formula" or (named and looks_like_formula(token.text)):
        return Formula(token.text)
    return None


def number_of(token: Token) -> float | Formula:
    """The number that a token stands for; it may be a sum, or a formula. Raises NoPlace for a word."""
    formula = formula_of(token)
    if formula is not None:
        return formula
    if token.kind == "word":
        raise NoPlace
    return calculate(token.text)


class _Guess:
    """Names as far as they say by themselves what they are."""

    def kind(self, path: tuple[str, ...]) -> Type:
        return POINT if path == ("pointer",) or path[-1] in ("at", "center") else SHAPE if len(path) == 1 else NUMBER


def gives_point(formula: Formula) -> bool:
    """Whether a formula surely gives a point, so that it stands for both numbers."""
    try:
        return compiled(formula.text, _Guess()).type == POINT
    except FormulaProblem:
        return False


def text_of(token: Token) -> str:
    """A token as text, without the quotes around it."""
    text = token.text
    return text[1:].removesuffix(text[0]) if text[:1] in ("'", '"') else text


@singledispatch
def take(kind: Value, got: list[Any], token: Token) -> bool:
    """Adds a token to what there is of a value. Returns whether the value is complete with it.

    Raises NoPlace for a token that can't stand there, and ValueProblem for one that says something impossible.
    """
    number = number_of(token)
    got.append(number)
    if len(kind.labels) == 2 and len(got) == 1 and isinstance(number, Formula) and gives_point(number):
        return True
    return len(got) == max(1, len(kind.labels))


@take.register
def _(kind: Many, got: list[Any], token: Token) -> bool:
    got.append(number_of(token))
    return False


@take.register
def _(kind: Names, got: list[Any], token: Token) -> bool:
    got.append(text_of(token))
    return False


@take.register
def _(kind: Corners, got: list[Any], token: Token) -> bool:
    got.append(token.text if token.text in kind.words else number_of(token))
    return len(got) == 4


@take.register
def _(kind: Choice | TextValue, got: list[Any], token: Token) -> bool:
    got.append(formula_of(token) if token.text[:1] == "{" else text_of(token))
    return True


@take.register
def _(kind: Anchor, got: list[Any], token: Token) -> bool:
    if token.text[:1] == "{":
        got.append(formula_of(token))
        return len(got) == len(kind.labels)
    got.append(calculate(token.text) if token.kind == "number" else text_of(token))
    return isinstance(got[0], str) or len(got) == len(kind.labels)


@take.register
def _(kind: Flag, got: list[Any], token: Token) -> bool:
    word = token.text.lower()
    if word[:1] == "{":
        got.append(formula_of(token))
        return True
    if word not in _TRUTHS:
        raise ValueProblem(f"{token.text} is neither yes nor no.")
    got.append(_TRUTHS[word])
    return True


_TRUTHS = {"yes": True, "true": True, "on": True, "1": True, "no": False, "false": False, "off": False, "0": False}


@take.register
def _(kind: ShadowValue, got: list[Any], token: Token) -> bool:
    got.append(calculate(token.text) if token.kind == "number" else token.text)
    return len(got) == 4 or got[0] == "none"


@take.register
def _(kind: Paint, got: list[Any], token: Token) -> bool:
    """A colour, or the word for a gradient with an angle and colours: fill linear 90 #fff #000; or for a pattern with
    the id of its tile, an angle and a factor: fill pattern weave 45 0.5"""
    if not got:
        got.append(formula_of(token) if token.text[:1] == "{" else token.text.strip("\"'"))
    elif got[0] in LEADING:
        got.append(calculate(token.text) if token.kind == "number" else token.text)
    else:
        raise NoPlace
    return False  # a width may follow the colour of a stroke


def alone(kind: Value) -> list[Any]:
    """What the bare name of a property of a kind comes to; nothing where it takes a value."""
    return [True] if isinstance(kind, Flag) else []


@singledispatch
def value_of(kind: Value, got: list[Any], word: str) -> Any:
    """What the words of a value come to, to be read by its kind. Raises ValueProblem when some are lacking; `word` is
    the property's."""
    if not kind.labels or (len(got) == 1 and isinstance(got[0], Formula) and gives_point(got[0])):
        return got[0]
    if len(got) < len(kind.labels):
        raise ValueProblem(f"{word} has no {kind.labels[len(got)]}.", hint=f"It takes {kind.describe()}.")
    return got


@value_of.register
def _(kind: Many, got: list[Any], word: str) -> Any:
    size = len(kind.of.labels)
    if not size:
        return got
    if len(got) % size:
        last = got[-1].text if isinstance(got[-1], Formula) else f"{got[-1]:g}"
        raise ValueProblem(f"{word}: x {last} has no y.", hint="Points are pairs of numbers.")
    return [got[i : i + size] for i in range(0, len(got), size)]


@value_of.register
def _(kind: Corners, got: list[Any], word: str) -> Any:
    if len(got) not in (1, 4):
        raise ValueProblem(f"{word}: {len(got)} radii.", hint="Give one for all corners, or four.")
    return got


@value_of.register
def _(kind: Anchor | ShadowValue, got: list[Any], word: str) -> Any:
    return got if len(got) > 1 else got[0]


@value_of.register
def _(kind: Paint, got: list[Any], word: str) -> Any:
    if got[0] == "pattern":
        return _pattern(got[1:])
    return _gradient(got) if got[0] in LINES else got[0]


LEADING = (*LINES, "pattern")
"""Words that begin a paint of several."""


def _pattern(got: list[Any]) -> Pattern:
    """The id of the tile, perhaps an angle and a factor."""
    shape, *numbers = got or [0.0]
    if not isinstance(shape, str) or not all(isinstance(n, (int, float)) for n in numbers) or len(numbers) > 2:
        raise ValueProblem("the pattern names no shape.", hint="Write pattern weave, or pattern weave 45 0.5.")
    turned = [Step("rotate", n) for n in numbers[:1] if n]
    return Pattern(shape, (*turned, *(Step("scale", n, n) for n in numbers[1:])))


def _gradient(got: list[Any]) -> Gradient:
    """linear, perhaps an angle, colours; radial, colours."""
    kind, *rest = got
    angle = rest.pop(0) if rest and not isinstance(rest[0], str) else 0.0
    if not rest or not all(isinstance(c, str) for c in rest):
        raise ValueProblem("the gradient has no colours.", hint="Write linear 90 #f4b860 #b8482a.")
    return evenly(kind, rest, angle)
