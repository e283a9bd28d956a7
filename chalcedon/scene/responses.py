"""Responses: when something happens to a shape or the scene, what then changes in the run.

In JSON {"on": "click", "if": "tide > 0.5", "do": [{"set": "lamp.fill", "to": "#fff2c4", "over": 0.3}]}. Conditions are
formulas; what is set is a value, or a formula {"formula": "..."}.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from chalcedon.exact import require_text
from chalcedon.formula import Formula
from chalcedon.formula.easing import easing
from chalcedon.formula.syntax import parse
from chalcedon.formula.value import UNKNOWN
from chalcedon.geometry.digits import told
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.values import Number, Value

POINTER = ("enter", "leave", "over", "out", "down", "move", "up", "click", "dblclick", "wheel")
DRAGS = ("dragstart", "drag", "dragend")
KEYS = ("keydown", "keyup")
PLAIN = (*POINTER, *DRAGS, *KEYS, "focus", "blur", "start", "step")
"""Events that need no more than their name; those of W3C Pointer Events and UI Events without `pointer`."""
WITH = {"every": "seconds", "when": "formula", "contact": "with", "parting": "with", "event": "name"}
"""Events that say more, and under what name."""
EVENTS = (*PLAIN, *WITH)
FACTS = {
    "x": "where the pointer is, in the space of who answers",
    "y": "the same along y",
    "dx": "how far the wheel or the drag went along x",
    "dy": "the same along y",
    "time": "seconds on the clock",
    "button": "0 the main one, 1 the middle one, 2 the other",
    "pressure": "of a pen, 0 to 1",
    "key": "the key, by its name",
    "target": "the shape that it happened to",
    "name": "what was told",
}
"""What the formulas of responses can read of an event, as event.x: numbers, and from `key` on texts."""

OPS: dict[str, tuple[str, ...]] = {
    "set": ("to", "over", "ease", "delay"),
    "add": ("by", "over", "ease", "delay"),
    "toggle": ("delay",),
    "next": ("of", "delay"),
    "order": ("to", "delay"),
    "place": ("at", "spacing", "most", "delay"),
    "remove": ("delay",),
    "emit": ("values", "delay"),
    "run": ("speed", "delay"),
    "goto": ("delay",),
    "stop": (),
}
"""What a response can do, and what else is said of each: its own word holds what it is done to."""
FARTHEST = 1e15
"""Numbers that a response gives are no larger."""
ORDERS = ("front", "back")
RUNS = ("start", "stop", "reset", "speed")
MOST = 200
"""Responses of a shape, and acts of a response."""


class Act(NamedTuple):
    """One thing that a response does. `said` holds what belongs to its `op`, by name."""

    op: str
    target: str
    said: tuple[tuple[str, Any], ...] = ()

    def get(self, name: str, default: Any = None) -> Any:
        """What is said of it under a name."""
        return dict(self.said).get(name, default)


class Response(NamedTuple):
    """One response. `detail` is what `on` needs: seconds, a formula, an id, a name, or of keys which one ("" for
    any)."""

    on: str
    do: tuple[Act, ...]
    condition: str = ""
    detail: Any = ""


class Responses(Value):
    """A list of responses."""

    direct = False
    plainest = ()
    _seconds = Number(low=0.0, high=1e6, unit="s")

    def read(self, raw: Any) -> Any:
        if not isinstance(raw, list | tuple):
            raise ValueProblem(f"{shorten(raw)} is not a list of responses.", hint='Write [{"on": "click", "do": []}].')
        if len(raw) > MOST:
            raise ValueProblem(f"{len(raw)} responses are too many.", hint=f"At most {MOST}.")
        out = []
        for i, one in enumerate(raw):
            try:
                out.append(self._response(one))
            except ValueProblem as problem:
                raise ValueProblem(f"response {i + 1}: {problem.message}", hint=problem.hint) from None
        return tuple(out)

    check = read

    def _response(self, raw: Any) -> Response:
        if isinstance(raw, Response):
            raw = self._written(raw)
        if not isinstance(raw, dict) or not isinstance(raw.get("do"), list | tuple):
            raise ValueProblem(f"{shorten(raw)} is not a response.", hint='Write {"on": "click", "do": []}.')
        on = raw.get("on")
        if on is None:
            raise ValueProblem("it doesn't say when.", hint='Write {"on": "click", "do": []}.')
        if on not in EVENTS:
            raise ValueProblem(f"{shorten(on)} is nothing that happens.", hint=nearest(str(on), EVENTS))
        detail_name = "key" if on in KEYS else WITH.get(on, "")
        unknown = [k for k in raw if k not in ("on", "if", "do", detail_name)]
        if unknown:
            raise ValueProblem(f"{shorten(unknown[0])} says nothing of {on}.", hint="Known: on, if, do.")
        if on in WITH and detail_name not in raw:
            raise ValueProblem(f"{on} lacks {detail_name}.", hint=f'Add "{detail_name}".')
        detail = self._detail(on, raw.get(detail_name, ""))
        condition = raw.get("if", "")
        if not isinstance(condition, str):
            raise ValueProblem(f"{shorten(condition)} is not the text of a formula.")
        if condition:
            parse(condition)
        if len(raw["do"]) > MOST:
            raise ValueProblem(f"{len(raw['do'])} acts are too many.", hint=f"At most {MOST}.")
        return Response(on, tuple(self._act(act) for act in raw["do"]), condition, detail)

    def _detail(self, on: str, raw: Any) -> Any:
        if on == "every":
            seconds = Number(low=1 / 60, high=1e6, unit="s").check(raw)
            return seconds
        if not isinstance(raw, str):
            raise ValueProblem(f"{shorten(raw)} is not text.")
        if on == "when":
            parse(raw)
        elif on in WITH and not raw.isidentifier():
            raise ValueProblem(f"{shorten(raw)} is not a name.", hint="A name is letters, digits and _.")
        return raw

    def _act(self, raw: Any) -> Act:
        hint = 'For example {"set": "lamp.fill", "to": "#fff2c4", "over": 0.3}.'
        if isinstance(raw, Act):
            raw = self._written_act(raw)
        if not isinstance(raw, dict):
            raise ValueProblem(f"{shorten(raw)} is nothing to do.", hint=hint)
        ops = [k for k in raw if k in OPS]
        if len(ops) != 1:
            raise ValueProblem(f"{shorten(raw)} does not say one thing to do.", hint=f"Known: {', '.join(OPS)}.")
        op, target = ops[0], raw[ops[0]]
        said = {k: v for k, v in raw.items() if k != op}
        unknown = [k for k in said if k not in OPS[op]]
        if unknown:
            raise ValueProblem(f"{shorten(unknown[0])} says nothing of {op}.", hint=nearest(unknown[0], OPS[op]))
        if not isinstance(target, str) or len(target) > 500:
            raise ValueProblem(f"{shorten(target)} is nothing that {op} can be done to.", hint=hint)
        self._check_target(op, target)
        return Act(op, target, tuple((name, self._said(op, name, said[name])) for name in OPS[op] if name in said))

    def _check_target(self, op: str, target: str) -> None:
        if op in ("set", "add", "toggle", "next"):
            parts = target.split(".")
            if not all(p.isidentifier() for p in parts) or len(parts) > 3:
                raise ValueProblem(f"{shorten(target)} is no value to change.", hint="Write lamp.fill, or an input.")
        elif op in ("order", "place", "remove", "emit"):
            if not target.isidentifier():
                raise ValueProblem(f"{shorten(target)} is not a name.", hint="A name is letters, digits and _.")
        elif op == "run" and target not in RUNS:
            raise ValueProblem(f"{shorten(target)} is nothing a run does.", hint=nearest(target, RUNS))

    def _said(self, op: str, name: str, raw: Any) -> Any:
        if name in ("over", "delay", "spacing"):
            return self._seconds.check(raw)
        if name == "speed":
            return Number(low=0.0, high=100.0, unit="").check(raw)
        if name == "most":
            return Number(low=1, high=10_000, unit="", whole=True).check(raw)
        if name == "ease":
            if not isinstance(raw, str):
                raise ValueProblem(f"{shorten(raw)} is no easing.")
            easing(raw)
            return raw
        if name == "to" and op == "order":
            if raw not in ORDERS and not (isinstance(raw, str) and raw.isidentifier()):
                raise ValueProblem(f"{shorten(raw)} is no place in the order.", hint="front, back, or the id to pass.")
            return raw
        if name in ("of", "values"):
            return self._several(name, raw)
        return _given(raw)

    def _several(self, name: str, raw: Any) -> Any:
        if name == "values":
            if isinstance(raw, tuple):
                raw = dict(raw)
            if not isinstance(raw, dict) or not all(isinstance(k, str) and k.isidentifier() for k in raw):
                raise ValueProblem(
                    f"{shorten(raw)} are not values with names.", hint='Write {"x": {"formula": "event.x"}}.'
                )
            return tuple((k, _given(v)) for k, v in raw.items())
        if not isinstance(raw, list | tuple) or not raw:
            raise ValueProblem(f"{shorten(raw)} is not a list to go through.", hint='Write ["red", "green"].')
        return tuple(_given(v) for v in raw)

    def write(self, value: Any) -> Any:
        return [self._written(one) for one in value]

    spelled = write

    def _written(self, one: Response) -> dict[str, Any]:
        out: dict[str, Any] = {"on": one.on}
        name = "key" if one.on in KEYS else WITH.get(one.on, "")
        if name and one.detail != "":
            out[name] = one.detail
        if one.condition:
            out["if"] = one.condition
        out["do"] = [self._written_act(act) for act in one.do]
        return out

    def _written_act(self, act: Act) -> dict[str, Any]:
        out: dict[str, Any] = {act.op: act.target}
        for name, value in act.said:
            if name == "values":
                out[name] = {k: _written(v) for k, v in value}
            else:
                out[name] = _written(value)
        return out

    def plain(self, value: Any) -> Any:
        return value

    def formulas(self, value: Any) -> list[Formula]:
        return []  # those of a response run when it does, and not before

    def schema(self) -> dict[str, Any]:
        act = {"type": "object", "minProperties": 1}
        one = {
            "type": "object",
            "required": ["on", "do"],
            "properties": {
                "on": {"enum": list(EVENTS)},
                "if": {"type": "string"},
                "do": {"type": "array", "items": act},
            },
        }
        return {"type": "array", "items": one, "maxItems": MOST}

    def describe(self) -> str:
        return "list of responses: on, if, do"


def _given(raw: Any) -> Any:
    """A value that a response gives: plain JSON, or a formula."""
    if isinstance(raw, dict) and set(raw) == {"formula"} and isinstance(raw["formula"], str):
        raw = Formula(raw["formula"], UNKNOWN)
    if isinstance(raw, Formula):
        parse(raw.text)
        return Formula(raw.text, UNKNOWN)
    if isinstance(raw, list | tuple):
        return tuple(_given(v) for v in raw)
    if isinstance(raw, str):
        return require_text(raw)
    if isinstance(raw, int | float) and not isinstance(raw, bool) and not abs(raw) <= FARTHEST:
        raise ValueProblem(f"{shorten(raw)} is too large.", hint=f"The most is {told(FARTHEST)}.")
    if raw is None or isinstance(raw, bool | int | float):
        return raw
    raise ValueProblem(f"{shorten(raw)} can't be given here.", hint='A value, or {"formula": "tide * 2"}.')


def _written(value: Any) -> Any:
    if isinstance(value, Formula):
        return {"formula": value.text}
    return [_written(v) for v in value] if isinstance(value, tuple) else value


def texts_in(response: Response) -> Iterator[str]:
    """Every formula in a response, as text."""
    if response.condition:
        yield response.condition
    if response.on == "when":
        yield response.detail
    for act in response.do:
        for _name, value in act.said:
            yield from _texts(value)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, Formula):
        yield value.text
    elif isinstance(value, tuple):
        for inner in value:
            yield from _texts(inner)


def renamed(response: Response, old: str, new: str) -> Response:
    """A response with a shape or an input called by another name."""
    from chalcedon.formula import rename_in

    def given(value: Any) -> Any:
        if isinstance(value, Formula):
            return Formula(rename_in(value.text, old, new), UNKNOWN)
        if isinstance(value, tuple):
            return tuple(given(v) for v in value)
        return value

    def target(act: Act) -> Act:
        first, *rest = act.target.split(".")
        named = act.op in ("set", "add", "toggle", "next", "order", "place", "remove")
        said = tuple(
            (n, (new if v == old else v) if act.op == "order" and n == "to" else given(v)) for n, v in act.said
        )
        return Act(act.op, ".".join([new, *rest]) if named and first == old else act.target, said)

    detail = response.detail
    if response.on == "when":
        detail = rename_in(detail, old, new)
    elif response.on in ("contact", "parting") and detail == old:
        detail = new
    condition = rename_in(response.condition, old, new) if response.condition else ""
    return Response(response.on, tuple(target(a) for a in response.do), condition, detail)
