"""Inputs: the named values of a scene that a person or a program sets. Formulas read them by their names."""

from __future__ import annotations

from collections.abc import Callable, Iterator, MutableMapping
from typing import TYPE_CHECKING, Any, NamedTuple

from chalcedon.formula import Formula
from chalcedon.formula.types import NUMBER, POINT, SWITCH, TEXT, Type
from chalcedon.formula.value import UNKNOWN
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.declare import Declared, Property
from chalcedon.scene.foreign import as_plain
from chalcedon.scene.ids import check_id
from chalcedon.scene.paints import color
from chalcedon.scene.values import LIMIT, Choice, Flag, Number, TextValue, Tuple, Value, or_formula

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene

KINDS: dict[str, Type] = {
    "number": NUMBER,
    "switch": SWITCH,
    "choice": TEXT,
    "colour": TEXT,
    "text": TEXT,
    "point": POINT,
}
"""What an input can be, and what a formula gets of it."""
MOST = 500
"""Inputs of a scene."""


class Input(NamedTuple):
    """One input. `low`, `high` and `step` are those of a number, and may be formulas; None is no limit."""

    name: str
    kind: str
    value: Any
    low: Any = None
    high: Any = None
    step: Any = None
    unit: str = ""
    choices: tuple[str, ...] = ()
    label: str = ""
    group: str = ""
    """The heading that it is shown under."""

    @property
    def title(self) -> str:
        """What it is called on the screen."""
        return self.label or self.name.replace("_", " ")

    def read(self, raw: Any) -> Any:
        """A value for it. Raises ValueProblem for what it can't have. Limits given by formulas count as they were."""
        raw = as_plain(raw)
        try:
            return self._value().check(raw if not isinstance(raw, list) else tuple(raw))
        except ValueProblem as problem:
            raise ValueProblem(problem.message, f"input {self.name}", problem.hint) from None

    def _value(self) -> Value:
        if self.kind == "number":
            usual = Number()
            low = usual.low if self.low is None else _plain(self.low)
            high = usual.high if self.high is None else _plain(self.high)
            return Number(min(low, high), high, self.unit, self.step or 1.0)
        if self.kind == "choice":
            return Choice(*self.choices)
        return {"switch": Flag, "colour": _Colour, "text": TextValue, "point": lambda: Tuple("x", "y")}[self.kind]()


class _Colour(TextValue):
    def check(self, raw: Any) -> str:
        return color(raw)


def _begun(limit: Any, last: float) -> Any:
    """A limit; one by a formula that has no value yet doesn't limit until it is worked out."""
    return Formula(limit.text, last) if isinstance(limit, Formula) and limit.last is UNKNOWN else limit


def _plain(value: Any) -> Any:
    return value.last if isinstance(value, Formula) else value


def kind_of(value: Any) -> str:
    """The kind of input that a value suggests: a text that CSS knows as a colour is one."""
    if isinstance(value, bool):
        return "switch"
    if isinstance(value, int | float):
        return "number"
    if isinstance(value, str):
        try:
            color(value)
        except ValueProblem:
            return "text"
        return "colour"
    if isinstance(value, tuple | list) and len(value) == 2:
        return "point"
    raise ValueProblem(f"{shorten(value)} can't be an input.", hint=f"An input is one of {', '.join(KINDS)}.")


class Inputs(Value):
    """All inputs of a scene in order. In JSON {"tide": {"number": 0.4, "low": 0, "high": 1}, ...}: the word for the
    kind holds the value."""

    direct = False
    _limit = Number()

    def read(self, raw: Any) -> Any:
        if isinstance(raw, tuple) and all(isinstance(v, Input) for v in raw):
            made = [self._checked(v) for v in raw]
        elif isinstance(raw, dict):
            made = [self._one(name, said) for name, said in raw.items()]
        else:
            raise ValueProblem(f"{shorten(raw)} are not inputs.", hint='Write {"tide": {"number": 0.4}}.')
        if len(made) > MOST:
            raise ValueProblem(f"{len(made)} inputs are too many.", hint=f"At most {MOST}.")
        names = [v.name for v in made]
        for name in names:
            if names.count(name) > 1:
                raise ValueProblem(f"there are two inputs called {name}.")
        return tuple(made)

    check = read

    def _one(self, name: Any, said: Any) -> Input:
        hint = f'For example {{"{shorten(name).strip(chr(39))}": {{"number": 0.4, "low": 0, "high": 1}}}}.'
        if not isinstance(said, dict):
            raise ValueProblem(f"{shorten(said)} is not an input.", hint=hint)
        kinds = [k for k in said if k in KINDS]
        if len(kinds) != 1:
            raise ValueProblem(f"input {shorten(name)} has no kind.", hint=f"One of {', '.join(KINDS)}. {hint}")
        rest = {k: v for k, v in said.items() if k != kinds[0]}
        unknown = [k for k in rest if k not in Input._fields[3:]]
        if unknown:
            raise ValueProblem(
                f"{shorten(unknown[0])} says nothing of an input.", hint=nearest(unknown[0], Input._fields[3:])
            )
        if isinstance(rest.get("choices"), list):
            rest["choices"] = tuple(rest["choices"])
        return self._checked(Input(name, kinds[0], said[kinds[0]], **rest))

    def _checked(self, one: Input) -> Input:
        check_id(one.name)
        where = f"input {one.name}"
        if one.kind not in KINDS:
            raise ValueProblem(f"{shorten(one.kind)} is no kind of input.", where, nearest(str(one.kind), KINDS))
        words = TextValue()
        for name in ("unit", "label", "group"):
            words.check(getattr(one, name))
        choices = one.choices
        if one.kind == "choice":
            if not isinstance(choices, tuple) or not choices or len(choices) > 200:
                raise ValueProblem("a choice needs words to choose from.", where, 'Give choices=("low", "high").')
            for word in choices:
                words.check(word)
        low = None if one.low is None else self._limit.read(_begun(one.low, -LIMIT))
        high = None if one.high is None else self._limit.read(_begun(one.high, LIMIT))
        step = None if one.step is None else Number(low=0.0).check(one.step)
        if isinstance(low, int | float) and isinstance(high, int | float) and low > high:
            raise ValueProblem(f"its least value, {low:g}, is more than its largest, {high:g}.", where)
        made = one._replace(low=low, high=high, step=step)
        return made._replace(value=made.read(one.value))

    def write(self, value: Any) -> Any:
        return {one.name: self._written(one) for one in value}

    def _written(self, one: Input) -> dict[str, Any]:
        out: dict[str, Any] = {one.kind: list(one.value) if isinstance(one.value, tuple) else one.value}
        for name in ("low", "high"):
            if getattr(one, name) is not None:
                out[name] = self._limit.write(getattr(one, name))
        if one.step is not None:
            out["step"] = one.step
        if one.choices:
            out["choices"] = list(one.choices)
        out.update({n: getattr(one, n) for n in ("unit", "label", "group") if getattr(one, n)})
        return out

    def plain(self, value: Any) -> Any:
        return tuple(v._replace(low=_plain(v.low), high=_plain(v.high)) for v in value)

    def formulas(self, value: Any) -> list[Formula]:
        return [limit for v in value for limit in (v.low, v.high) if isinstance(limit, Formula)]

    def schema(self) -> dict[str, Any]:
        number = {"type": "number"}
        pair = {"type": "array", "items": number, "minItems": 2, "maxItems": 2}
        text = {"type": "string"}
        kinds = {"number": number, "switch": {"type": "boolean"}, "point": pair}
        said = {
            "low": or_formula(number),
            "high": or_formula(number),
            "step": number,
            "choices": {"type": "array", "items": text},
            **dict.fromkeys(("unit", "label", "group"), text),
        }
        one = [
            {
                "type": "object",
                "required": [kind],
                "additionalProperties": False,
                "properties": {kind: kinds.get(kind, text), **said},
            }
            for kind in KINDS
        ]
        return {"type": "object", "additionalProperties": {"anyOf": one}}

    def describe(self) -> str:
        return "named values that a person or a program sets"


class InputsOf(MutableMapping[str, Any]):
    """The inputs of a scene by name: scene.inputs["tide"] = 0.4. Each change is an undo step."""

    def __init__(self, scene: Scene) -> None:
        self._scene = scene

    def _all(self) -> tuple[Input, ...]:
        found: tuple[Input, ...] = self._scene.stated("inputs")
        return found

    def spec(self, name: str) -> Input:
        """All that is said of an input. Raises ValueProblem when there is none of that name."""
        for one in self._all():
            if one.name == name:
                return one
        raise ValueProblem(
            f"there is no input {shorten(name)}.", hint=nearest(str(name), [v.name for v in self._all()])
        )

    def worked_out(self, name: str) -> Input:
        """All that is said of an input, with what its limits come to in the place of formulas."""
        self.spec(name)
        plain: tuple[Input, ...] = self._scene.comes_to("inputs") if self._scene._formulas else self._all()
        return next(one for one in plain if one.name == name)

    def specs(self) -> tuple[Input, ...]:
        """All of them, in order."""
        return self._all()

    def __getitem__(self, name: str) -> Any:
        return self.spec(name).value

    def __contains__(self, name: object) -> bool:
        return any(one.name == name for one in self._all())

    def __iter__(self) -> Iterator[str]:
        return iter([one.name for one in self._all()])

    def __len__(self) -> int:
        return len(self._all())

    def __repr__(self) -> str:
        return f"<inputs {dict(self)}>"

    def __setitem__(self, name: str, value: Any) -> None:
        self.set(name, value)

    def set(self, name: str, value: Any, gesture: object = None) -> None:
        """Gives an input a value. Changes of one `gesture` are one undo step. Raises ValueProblem."""
        new = self.worked_out(name).read(value)
        self.change(name, gesture=gesture, value=new)

    def change(self, name: str, gesture: object = None, **said: Any) -> None:
        """Says something else of an input: its value, limits, label, ..."""
        old = self.spec(name)
        unknown = [n for n in said if n not in Input._fields[1:]]
        if unknown:
            raise ValueProblem(f"{unknown[0]} says nothing of an input.", hint=nearest(unknown[0], Input._fields[1:]))
        new = old._replace(**said)
        self._put(lambda one: new if one.name == name else one, f"Set {name}", gesture)

    def _put(self, change: Callable[[Input], Input], name: str, gesture: object = None) -> None:
        scene = self._scene
        with scene.step(name, gesture):
            scene.set(scene, "inputs", tuple(change(one) for one in self._all()))

    def add(self, name: str, value: Any, kind: str = "", **said: Any) -> Input:
        """Makes an input; its kind is that of its value unless said: scene.inputs.add("tide", 0.4, low=0, high=1).
        Raises ValueProblem when a shape or an input has the name."""
        scene = self._scene
        check_id(name)
        if name in self or name in scene:
            what = "an input" if name in self else "a shape"
            raise ValueProblem(f"the name {name} is taken by {what}.", hint=f"Try {name}_2.")
        kind = kind or ("choice" if said.get("choices") else kind_of(value))
        if "choices" in said:
            said["choices"] = tuple(said["choices"])
        one = Input(name, kind, value, **said)
        with scene.step(f"Add input {name}"):
            scene.set(scene, "inputs", (*self._all(), one))
        return self.spec(name)

    def __delitem__(self, name: str) -> None:
        self.spec(name)
        scene = self._scene
        with scene.step(f"Delete input {name}"):
            scene.set(scene, "inputs", tuple(one for one in self._all() if one.name != name))

    def move(self, name: str, index: int) -> None:
        """Gives an input another place in the order."""
        one = self.spec(name)
        rest = [v for v in self._all() if v.name != name]
        rest.insert(min(max(index, 0), len(rest)), one)
        with self._scene.step(f"Reorder input {name}"):
            self._scene.set(self._scene, "inputs", tuple(rest))

    def rename(self, old: str, new: str) -> None:
        """Gives an input another name, in formulas too."""
        self.spec(old)
        if new == old:
            return
        check_id(new)
        if new in self or new in self._scene:
            raise ValueProblem(f"the name {new} is taken.", hint=f"Try {new}_2.")
        with self._scene.step(f"Rename input {old} to {new}"):
            self._put(lambda one: one._replace(name=new) if one.name == old else one, "")
            self._scene.rename_in_formulas(old, new)


class InputsProperty(Property[InputsOf]):
    """The property of a scene that holds its inputs; read, it is the mapping of them."""

    def __get__(self, obj: Declared | None, owner: type) -> Any:
        return self if obj is None else InputsOf(obj)  # type: ignore[arg-type]
