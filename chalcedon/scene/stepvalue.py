"""Steps as a value: [{"rotate": 30}, {"scale": [2, 1], "about": [0, 0]}, {"skew": [8, 0], "off": true}]."""

from __future__ import annotations

from typing import Any

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.steps import OPS, Step
from chalcedon.scene.values import Many, Number, Tuple, Value

_POINT = Tuple("x", "y")


def numbers_of(op: str) -> Number:
    """How many numbers a kind of step has, as a value."""
    unit = {"translate": "px", "rotate": "deg", "scale": "times", "skew": "deg", "matrix": ""}[op]
    return Number(unit=unit, step=0.05 if op in ("scale", "matrix") else 1.0)


_NUMBERS = {op: Tuple(*labels, of=numbers_of(op)) for op, labels in OPS.items()}
_ROTATE = _NUMBERS["rotate"].of


class StepValue(Value):
    """One step. In JSON an object with one key naming it, and optionally `about` and `off`."""

    def read(self, raw: Any) -> Step:
        if type(raw) is dict and len(raw) == 1 and "rotate" in raw:  # by far the commonest in files
            angle = raw["rotate"]
            if (type(angle) is float or type(angle) is int) and _ROTATE.low <= angle <= _ROTATE.high:
                return tuple.__new__(Step, ("rotate", (angle,), None, True))  # as it would be made, without a look
        if isinstance(raw, Step):
            return self._make(raw.op, raw.values, raw.about, raw.on)
        if not isinstance(raw, dict):
            raise ValueProblem(f"{shorten(raw)} is not a step.", hint='Write {"rotate": 30} or the like.')
        ops = [k for k in raw if k not in ("about", "off")]
        if len(ops) != 1:
            raise ValueProblem("a step has exactly one transform.", hint="Known: " + ", ".join(OPS) + ".")
        op, values = ops[0], raw[ops[0]]
        if op not in OPS:
            raise ValueProblem(f"{shorten(op)} is not a step.", hint=nearest(op, OPS))
        if op == "scale" and isinstance(values, int | float):
            values = [values, values]
        if op == "rotate" and not isinstance(values, list | tuple):
            values = [values]  # a formula for the one number stands alone, too
        off = raw.get("off", False)
        if not isinstance(off, bool):
            raise ValueProblem("off is neither true nor false.")
        return self._make(op, values, raw.get("about"), not off)

    def _make(self, op: str, values: Any, about: Any, on: bool) -> Step:
        if not isinstance(op, str) or op not in OPS:
            raise ValueProblem(f"{shorten(op)} is not a step.", hint=nearest(str(op), OPS))
        if type(on) is not bool:
            raise ValueProblem(f"{shorten(on)} is neither true nor false.", hint="A step is on or off.")
        try:
            return Step(op, _NUMBERS[op].read_each(values), None if about is None else _POINT.read_each(about), on)
        except ValueProblem as problem:
            raise ValueProblem(f"{op}: {problem.message}", hint=problem.hint) from None

    check = read

    def write(self, value: Step) -> Any:
        number = _NUMBERS[value.op].of.write
        numbers = [number(v) for v in value.values]
        out: dict[str, Any] = {value.op: numbers[0] if value.op == "rotate" else numbers}
        if value.about is not None:
            out["about"] = _POINT.write(value.about)
        if not value.on:
            out["off"] = True
        return out

    def plain(self, value: Step) -> Step:
        def last(v: Any) -> Any:
            return v.last if isinstance(v, Formula) else v

        about = None if value.about is None else (last(value.about[0]), last(value.about[1]))
        return Step(value.op, tuple(last(v) for v in value.values), about, value.on)

    def schema(self) -> dict[str, Any]:
        kinds = []
        for op, labels in OPS.items():
            number = numbers_of(op).schema()
            numbers: dict[str, Any] = {
                "type": "array",
                "items": number,
                "minItems": len(labels),
                "maxItems": len(labels),
            }
            if op in ("rotate", "scale"):
                numbers = {"anyOf": [number, numbers]}
            kinds.append(
                {
                    "type": "object",
                    "required": [op],
                    "additionalProperties": False,
                    "properties": {op: numbers, "about": _POINT.schema(), "off": {"type": "boolean"}},
                }
            )
        return {"anyOf": kinds}

    def describe(self) -> str:
        return "step"

    def formulas(self, value: Step) -> list[Formula]:
        return [v for v in (*value.values, *(value.about or ())) if isinstance(v, Formula)]


class _Steps(Many):
    def write(self, value: Any) -> Any:
        if type(value) is tuple and len(value) == 1:
            op, values, about, on = value[0]
            if op == "rotate" and about is None and on and type(values[0]) is not Formula:  # by far the commonest
                return [{"rotate": values[0]}]
        return super().write(value)


def steps_value() -> Many:
    """The kind of value of a list of steps."""
    value = _Steps(StepValue(), 0, 1000, "steps")
    value.direct = False
    return value
