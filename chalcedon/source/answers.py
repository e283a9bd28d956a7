"""Responses as sentences: when clicked: lamp.fill becomes #fff2c4 over 0.3 s, ease-out; emit lit

What is printed here can be typed: `parse_response` reads what `print_response` writes.
"""

from __future__ import annotations

import ast
import re
from typing import Any

from chalcedon.formula import Formula
from chalcedon.formula.syntax import parse, parses
from chalcedon.geometry.digits import in_full
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.color import names as color_names
from chalcedon.scene.color import rgba
from chalcedon.scene.responses import Act, Response, Responses

HAPPENS = {
    "click": "clicked",
    "dblclick": "double-clicked",
    "enter": "entered",
    "leave": "left",
    "over": "pointed at",
    "out": "pointed away",
    "down": "pressed",
    "up": "released",
    "move": "moved over",
    "wheel": "wheeled",
    "dragstart": "drag begins",
    "drag": "dragged",
    "dragend": "drag ends",
    "focus": "focused",
    "blur": "blurred",
    "start": "the run starts",
    "step": "a step comes",
}
"""What is said of events that need no more."""
_WORDS = {said: on for on, said in HAPPENS.items()}
_NUMBER = r"(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?"
_DETAIL = (
    (re.compile(r"any key goes down$"), "keydown"),
    (re.compile(r"any key comes up$"), "keyup"),
    (re.compile(r"key (.+) goes down$"), "keydown"),
    (re.compile(r"key (.+) comes up$"), "keyup"),
    (re.compile(rf"({_NUMBER}) s have gone$"), "every"),
    (re.compile(r"it becomes true that (.+)$"), "when"),
    (re.compile(r"touching (\w+)$"), "contact"),
    (re.compile(r"parting from (\w+)$"), "parting"),
    (re.compile(r"(\w+) is told$"), "event"),
)
_DETAILS = {
    "keydown": "key {} goes down",
    "keyup": "key {} comes up",
    "every": "{} s have gone",
    "when": "it becomes true that {}",
    "contact": "touching {}",
    "parting": "parting from {}",
    "event": "{} is told",
}
EXAMPLE = "when clicked: self.opacity becomes 0.5 over 0.3 s, ease-out"
SCENE_EXAMPLE = "when 2 s have gone: tell bell"
EVENTS = (
    *_WORDS,
    "key a goes down",
    "2 s have gone",
    "it becomes true that tide > 0.5",
    "touching quay",
    "lit is told",
)
"""What can stand after `when`, with examples of what needs more."""


LONGEST = 5000
"""Characters of a response as a sentence."""


def print_response(response: Response) -> str:
    """A response as a sentence."""
    condition = f" if {response.condition}" if response.condition else ""
    return f"when {_happens(response)}{condition}: " + "; ".join(map(print_act, response.do))


def _happens(response: Response) -> str:
    on = response.on
    if on in HAPPENS:
        return HAPPENS[on]
    if on in ("keydown", "keyup") and not response.detail:
        return "any key goes down" if on == "keydown" else "any key comes up"
    return _DETAILS[on].format(in_full(response.detail) if on == "every" else response.detail)


def print_act(act: Act) -> str:
    """One thing that a response does, in words."""
    said = dict(act.said)
    tail = f" over {in_full(said['over'])} s" if said.get("over") else ""
    tail += f" after {in_full(said['delay'])} s" if said.get("delay") else ""
    tail += f", {said['ease']}" if said.get("ease") else ""
    words = {
        "set": lambda: f"{act.target} becomes {_value(said.get('to'))}",
        "add": lambda: f"add {_value(said.get('by', 1))} to {act.target}",
        "toggle": lambda: f"toggle {act.target}",
        "next": lambda: (
            f"{act.target} goes on" + (f" through {', '.join(map(_value, said['of']))}" if said.get("of") else "")
        ),
        "order": lambda: (
            f"{act.target} goes "
            + (
                "past " + said["to"]
                if said.get("to") not in ("front", "back", None)
                else f"to the {said.get('to', 'front')}"
            )
        ),
        "place": lambda: (
            f"put {act.target} at {_value(said.get('at'))}"
            + (f" every {in_full(said['spacing'])} px" if said.get("spacing") else "")
            + (f" at most {said['most']}" if said.get("most") else "")
        ),
        "remove": lambda: f"remove {act.target}",
        "emit": lambda: (
            f"tell {act.target}"
            + (" with " + ", ".join(f"{k} = {_value(v)}" for k, v in said["values"]) if said.get("values") else "")
        ),
        "run": lambda: f"clock {act.target}" + (f" {in_full(said['speed'])}" if act.target == "speed" else ""),
        "goto": lambda: f"go to {act.target}",
        "stop": lambda: "stop there",
    }
    return words[act.op]() + tail


def _value(value: Any) -> str:
    if isinstance(value, Formula):
        return value.text
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None:
        return "none"
    if isinstance(value, str):
        return value if _is_colour(value) else repr(value)
    if isinstance(value, tuple):
        return f"({', '.join(map(_value, value))})"
    return f"{value!r}"


def _is_colour(text: str) -> bool:
    if not re.fullmatch(r"#[0-9a-fA-F]{3,8}|[a-z]+|[a-z]+\([^;:]*\)", text) or text in ("yes", "no", "none"):
        return False
    try:
        rgba(text)
    except ValueProblem:
        return text.startswith("var(")
    return True


def parse_response(text: str) -> Response:
    """The response that a sentence says. Raises ValueProblem saying what would work."""
    if len(text) > LONGEST:
        raise ValueProblem(f"that response has {len(text)} characters.", hint=f"The most is {LONGEST}.")
    head, *rest = split(text.strip(), ":", 1)
    if not rest or not head.startswith("when "):
        raise ValueProblem(f"{shorten(text)} says no response.", hint=f"For example {EXAMPLE}.")
    when, *condition = re.split(r"\sif\s", head[5:].strip(), maxsplit=1)
    raw: dict[str, Any] = {"do": [_act(part) for part in split(rest[0], ";") if part.strip()]}
    raw.update(_event(when.strip()))
    if condition:
        raw["if"] = condition[0].strip()
    made: Response = Responses().read([raw])[0]
    return made


def _event(when: str) -> dict[str, Any]:
    if when in _WORDS:
        return {"on": _WORDS[when]}
    for pattern, on in _DETAIL:
        found = pattern.match(when)
        if found is None:
            continue
        name = {"keydown": "key", "keyup": "key", "every": "seconds", "when": "formula", "event": "name"}.get(
            on, "with"
        )
        if not found.groups():
            return {"on": on}
        return {"on": on, name: float(found[1]) if on == "every" else found[1]}
    key = re.match(r"(?:the )?key (\S+)", when)
    hint = f"For a key it is: key {key[1]} goes down, or comes up." if key is not None else nearest(when, EVENTS)
    raise ValueProblem(f"{shorten(when)} is nothing that happens.", hint=hint)


_ACTS: tuple[tuple[re.Pattern[str], str], ...] = (
    (re.compile(r"toggle (?P<target>[\w.]+)$"), "toggle"),
    (re.compile(r"remove (?P<target>\w+)$"), "remove"),
    (re.compile(r"stop there$"), "stop"),
    (re.compile(r"go to (?P<target>.+)$"), "goto"),
    (re.compile(r"clock (?P<target>start|stop|reset)$"), "run"),
    (re.compile(rf"clock (?P<target>speed) (?P<speed>{_NUMBER})$"), "run"),
    (re.compile(r"tell (?P<target>\w+)(?: with (?P<values>.+))?$"), "emit"),
    (re.compile(r"(?P<target>\w+) goes to the (?P<order>front|back)$"), "order"),
    (re.compile(r"(?P<target>\w+) goes past (?P<order>\w+)$"), "order"),
    (re.compile(r"(?P<target>[\w.]+) goes on(?: through (?P<of>.+))?$"), "next"),
    (
        re.compile(
            rf"put (?P<target>\w+) at (?P<at>.+?)(?: every (?P<spacing>{_NUMBER}) px)?"
            r"(?: at most (?P<most>\d{1,18}))?$"
        ),
        "place",
    ),
    (re.compile(r"add (?P<by>.+) to (?P<target>[\w.]+)$"), "add"),
    (re.compile(r"(?P<target>[\w.]+) becomes (?P<to>.+)$"), "set"),
)
_EASE = re.compile(r",\s*([a-z][a-z-]*(?:\([^)]*\))?)\s*$")
_OVER = re.compile(rf"\s+over ({_NUMBER}) s$")
_AFTER = re.compile(rf"\s+after ({_NUMBER}) s$")


def _act(text: str) -> dict[str, Any]:
    text = text.strip()
    out: dict[str, Any] = {}
    found = _EASE.search(text)
    if found is not None and not text.startswith(("tell", "put")) and " goes on through" not in text:
        out["ease"], text = found[1], text[: found.start()].rstrip()
    for pattern, name in ((_AFTER, "delay"), (_OVER, "over")):
        found = pattern.search(text)
        if found is not None:
            out[name], text = float(found[1]), text[: found.start()]
    for pattern, op in _ACTS:
        match = pattern.match(text)
        if match is not None:
            return {op: match.groupdict().get("target") or "", **_said(match.groupdict()), **out}
    hint = "For example lamp.fill becomes red, toggle lit, add 10 to boat.at.x, tell lit."
    raise ValueProblem(f"{shorten(text)} is nothing to do.", hint=hint)


def _said(found: dict[str, str | None]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for name, text in found.items():
        if text is None or name == "target":
            continue
        if name in ("speed", "spacing"):
            out[name] = float(text)
        elif name == "most":
            out[name] = int(text)
        elif name == "order":
            out["to"] = text
        elif name == "of":
            out[name] = [read_value(part) for part in split(text, ",")]
        elif name == "values":
            pairs = [part.split("=", 1) for part in split(text, ",")]
            if any(len(pair) != 2 for pair in pairs):
                raise ValueProblem(
                    f"{shorten(text)} are not values with names.", hint="Write tell lit with x = event.x."
                )
            out[name] = {k.strip(): read_value(v) for k, v in pairs}
        else:
            out[name] = read_value(text)
    return out


def read_value(text: str) -> Any:
    """A value as it is written in a response: a number, a colour, a text in quotes, yes or no; all else is a formula.
    Raises ValueProblem."""
    text = text.strip()
    if text in ("yes", "no", "none"):
        return {"yes": True, "no": False, "none": None}[text]
    if text in color_names() or text.startswith("#") or (_is_colour(text) and "(" in text and not parses(text)):
        rgba(text)
        return text
    if text.startswith("var("):
        return text
    try:
        value = ast.literal_eval(text)
    except (ValueError, TypeError, SyntaxError, MemoryError, RecursionError):
        parse(text)
        return Formula(text)
    if isinstance(value, tuple | str | int | float) and not isinstance(value, bool):
        return value
    return Formula(text)


def split(text: str, sign: str, most: int = -1) -> list[str]:
    """A text cut at a sign outside of quotes and brackets."""
    out, depth, quote = [""], 0, ""
    for c in text:
        if quote:
            quote = "" if c == quote else quote
        elif c in "\"'":
            quote = c
        elif c in "([{":
            depth += 1
        elif c in ")]}":
            depth -= 1
        elif c == sign and depth == 0 and (most < 0 or len(out) <= most):
            out.append("")
            continue
        out[-1] += c
    return out
