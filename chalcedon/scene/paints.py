"""Paints: none, a CSS colour, a colour of the scene's palette, a gradient, an image, a pattern of another shape.

A palette colour is referred to as CSS refers to a custom property: var(--tide), or var(--tide, #446) with a
colour to fall back on. Gradients mean what SVG 2, chapter 14, says, with two kinds of units: fractions of the
shape's box, or px of the scene.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, NamedTuple

from chalcedon.exact import require_text
from chalcedon.formula import Formula
from chalcedon.formula.types import TEXT
from chalcedon.problems import ValueProblem, nearest, shorten
from chalcedon.scene.color import RGBA, is_hex, rgba
from chalcedon.scene.mixing import spelled
from chalcedon.scene.steps import Step
from chalcedon.scene.stepvalue import steps_value
from chalcedon.scene.values import Number, Value, or_formula

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene
    from chalcedon.scene.shape import Shape

SPREADS = ("pad", "reflect", "repeat")
UNITS = ("box", "scene")
FITS = ("fill", "contain", "cover", "none", "scale-down", "tile")

_VAR = re.compile(r"var\(\s*--([^\s,()]+)\s*(?:,\s*(.+?)\s*)?\)$", re.DOTALL)
_NUMBER = Number()
_OFFSET = Number(0.0, 1.0, "", 0.01)
_STEPS = steps_value()
LINES = {"linear": (4,), "radial": (3, 5)}
"""How many numbers a gradient has: linear x1, y1, x2, y2; radial cx, cy, r and optionally the focus fx, fy."""


class _Gradient(NamedTuple):
    kind: str
    line: tuple[Any, ...]
    stops: tuple[tuple[Any, Any], ...]
    spread: str = "pad"
    units: str = "box"


class Gradient(_Gradient):
    """A linear or radial gradient: Gradient("linear", "#d97b4a", "#22292e") through colours at equal distances, or
    Gradient("linear", (x1, y1, x2, y2), stops) with `stops` as (offset, colour), each offset 0 to 1."""

    __slots__ = ()

    def __new__(cls, kind: str, *values: Any, **more: Any) -> Gradient:
        if values and isinstance(values[0], str):
            return evenly(kind, values)._replace(**more)
        return super().__new__(cls, kind, *values, **more)


class Picture(NamedTuple):
    """An image as a paint, fitted to the shape's box as CSS object-fit says; tile repeats it at its own size."""

    source: str
    fit: str = "cover"


class Pattern(NamedTuple):
    """Another shape as a tile that is repeated, from the top left of the painted shape's box on, as large as the tile's
    own box, or as that of its clip. The `steps` then turn, size and move the tiles about that corner."""

    shape: str
    steps: tuple[Step, ...] = ()


class GradientLook(NamedTuple):
    """A gradient ready to be painted: plain numbers, resolved colours, offsets that never fall."""

    kind: str
    line: tuple[float, ...]
    stops: tuple[tuple[float, RGBA], ...]
    spread: str
    units: str


Look = RGBA | GradientLook | Picture | Pattern
"""A resolved paint."""


def color(text: Any) -> str:
    """The colour text, when it is one. Raises ValueProblem."""
    if isinstance(text, int | tuple | list) and not isinstance(text, bool):
        return spelled(text)
    if not isinstance(text, str):
        raise ValueProblem(f"{shorten(text)} is not a colour.", hint="A CSS colour such as #d97b4a, or none.")
    match = _VAR.match(require_text(text))
    if match is None:
        rgba(text)
    elif match[2]:
        rgba(match[2])
    return text


def palette_name(paint: Any) -> str:
    """The palette name a colour refers to; empty when it refers to none."""
    match = _VAR.match(paint) if isinstance(paint, str) else None
    return match[1] if match else ""


def resolve(text: str, palette: Mapping[str, str]) -> RGBA | None:
    """The colour a checked text stands for; None when the palette lacks it and there is nothing to fall back on."""
    if not text.startswith("var("):
        return rgba(text)
    match = _VAR.match(text)
    assert match is not None
    found = palette.get(match[1], match[2])
    return rgba(found) if found else None


def look(paint: Any, palette: Mapping[str, str]) -> Look | None:
    """A plain stored paint, resolved."""
    if paint is None or isinstance(paint, Picture | Pattern):
        return paint
    if isinstance(paint, str):
        return resolve(paint, palette)
    stops, last = [], 0.0
    for offset, text in paint.stops:
        last = max(last, offset)  # SVG 2, section 14.2.4: each offset is at least the one before
        stops.append((last, resolve(text, palette) or (0, 0, 0, 0)))
    return GradientLook(paint.kind, paint.line, tuple(stops), paint.spread, paint.units)


def turned_over(found: GradientLook, height: float) -> GradientLook:
    """A gradient whose numbers count from the other end of a height."""
    line = found.line
    if found.kind == "linear":
        return found._replace(line=(line[0], height - line[1], line[2], height - line[3]))
    focus = (line[3], height - line[4]) if len(line) == 5 else ()
    return found._replace(line=(line[0], height - line[1], line[2], *focus))


def evenly(kind: str, colors: Sequence[str], angle: float = 0.0) -> Gradient:
    """A gradient through colours at equal distances, over the whole box. A linear one runs at an angle in degrees."""
    last = max(1, len(colors) - 1)
    stops = tuple((round(i / last, 6), c) for i, c in enumerate(colors))
    if kind == "radial":
        return Gradient("radial", (0.5, 0.5, 0.5), stops)
    c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    reach = (abs(c) + abs(s)) / 2
    ends = (0.5 - c * reach, 0.5 - s * reach, 0.5 + c * reach, 0.5 + s * reach)
    return Gradient("linear", tuple(round(v, 6) + 0.0 for v in ends), stops)


class Color(Value):
    """A colour, or a name of the palette."""

    gives = TEXT
    plainest = "black"

    def check(self, raw: Any) -> str:
        return color(raw)

    def schema(self) -> dict[str, Any]:
        return or_formula({"type": "string"})

    def describe(self) -> str:
        return "CSS colour or var(--name) of the palette"


COLOR = Color()


class Paint(Value):
    """A colour, a name of the palette, a gradient, an image, a pattern, or none. Without `patterns`, what it paints is
    no shape of its own."""

    names: ClassVar[dict[str, Any]] = {}

    def __init__(self, patterns: bool = True) -> None:
        self._patterns = patterns

    def read(self, raw: Any) -> Any:
        if type(raw) is str and raw != "none":
            return raw if is_hex(raw) else color(raw)
        if isinstance(raw, Gradient):
            if not isinstance(raw.kind, str):
                raise ValueProblem(f"{shorten(raw.kind)} is not a kind of gradient.", hint=nearest("", LINES))
            return self._gradient({raw.kind: raw.line, "stops": raw.stops, "spread": raw.spread, "units": raw.units})
        if isinstance(raw, Picture):
            return self._picture({"image": raw.source, "fit": raw.fit})
        if isinstance(raw, Pattern):
            return self._pattern({"pattern": raw.shape, "steps": raw.steps})
        return super().read(raw)

    def check(self, raw: Any) -> Any:
        if raw is None or raw == "none":
            return None
        if isinstance(raw, dict):
            if "image" in raw:
                return self._picture(raw)
            return self._pattern(raw) if "pattern" in raw else self._gradient(raw)
        return self.read(raw) if isinstance(raw, Gradient | Picture | Pattern) else color(raw)

    def _gradient(self, raw: dict[str, Any]) -> Gradient:
        kinds = [k for k in LINES if k in raw]
        unknown = [k for k in raw if k not in (*LINES, "stops", "spread", "units")]
        if len(kinds) != 1 or unknown:
            wrong = "a gradient is linear or radial" + (", not both" if kinds else "")
            if unknown:
                wrong = f"{shorten(unknown[0])} does not belong into a paint"
            raise ValueProblem(
                f"{wrong}.",
                hint='Write {"linear": [0, 0, 1, 0], "stops": [[0, "#fff"], [1, "#000"]]}.',
            )
        kind = kinds[0]
        line = raw[kind]
        if not isinstance(line, list | tuple) or len(line) not in LINES[kind]:
            wanted = "x1, y1, x2, y2" if kind == "linear" else "cx, cy, r (and the focus fx, fy)"
            raise ValueProblem(f"a {kind} gradient takes {wanted}.", hint=f"{shorten(line)} stands there.")
        numbers = tuple(_NUMBER.read(v) for v in line)
        if kind == "radial" and not isinstance(numbers[2], Formula) and numbers[2] < 0:
            raise ValueProblem("the radius of a gradient is negative.", hint="It must be 0 or more.")
        spread, units = raw.get("spread", "pad"), raw.get("units", "box")
        for word, words, name in ((spread, SPREADS, "spread"), (units, UNITS, "units")):
            if word not in words:
                raise ValueProblem(f"{name} is not {shorten(word)}.", hint=nearest(str(word), words))
        return Gradient(kind, numbers, self._stops(raw.get("stops")), spread, units)

    def _stops(self, raw: Any) -> tuple[tuple[Any, Any], ...]:
        if not isinstance(raw, list | tuple) or not raw:
            raise ValueProblem("the gradient has no stops.", hint='Give at least one: [[0, "#fff"], [1, "#000"]].')
        if len(raw) > 1000:
            raise ValueProblem(f"{len(raw)} stops are too many.", hint="At most 1000.")
        out = []
        for i, stop in enumerate(raw):
            if not isinstance(stop, list | tuple) or len(stop) != 2:
                raise ValueProblem(f"stop {i + 1} is not an offset and a colour.", hint='Write [0.5, "#d97b4a"].')
            try:
                out.append((_OFFSET.read(stop[0]), COLOR.read(stop[1])))
            except ValueProblem as problem:
                raise ValueProblem(f"stop {i + 1}: {problem.message}", hint=problem.hint) from None
        return tuple(out)

    def _picture(self, raw: dict[str, Any]) -> Picture:
        source, fit = raw["image"], raw.get("fit", "cover")
        unknown = [k for k in raw if k not in ("image", "fit")]
        if unknown or not isinstance(source, str):
            raise ValueProblem(f"{shorten(unknown[0] if unknown else source)} does not belong into an image paint.")
        if fit not in FITS:
            raise ValueProblem(f"{shorten(fit)} is not a way to fit.", hint=nearest(str(fit), FITS))
        return Picture(require_text(source), fit)

    def _pattern(self, raw: dict[str, Any]) -> Pattern:
        unknown = [k for k in raw if k not in ("pattern", "steps")]
        if unknown:
            raise ValueProblem(f"{shorten(unknown[0])} does not belong into a pattern.", hint="It has steps.")
        if not self._patterns:
            raise ValueProblem("a pattern can only be laid on a shape.", hint="Give a shape of that size one.")
        shape = raw["pattern"]
        if not isinstance(shape, str) or not shape.isidentifier():
            raise ValueProblem(f"{shorten(shape)} can't be the id of a shape.", hint='Write {"pattern": "weave"}.')
        steps = _STEPS.read(raw.get("steps", ()))
        if _STEPS.formulas(steps):
            raise ValueProblem("the steps of a pattern take no formulas.", hint="The shape that is the tile may.")
        return Pattern(require_text(shape), steps)

    def refers(self, value: Any) -> str:
        return value.shape if isinstance(value, Pattern) else ""

    def referring(self, value: Any, id: str) -> Any:
        return value._replace(shape=id)

    def write(self, value: Any) -> Any:
        if isinstance(value, Pattern):
            return {"pattern": value.shape} | ({"steps": _STEPS.write(value.steps)} if value.steps else {})
        if isinstance(value, Picture):
            return {"image": value.source, "fit": value.fit}
        if isinstance(value, Gradient):
            number = _NUMBER.write
            out: dict[str, Any] = {
                value.kind: [number(v) for v in value.line],
                "stops": [[number(o), COLOR.write(c)] for o, c in value.stops],
            }
            return out | {
                k: v for k, v in (("spread", value.spread), ("units", value.units)) if v not in ("pad", "box")
            }
        return super().write(value)

    direct = False
    gives = TEXT
    plainest = None

    def plain(self, value: Any) -> Any:
        value = super().plain(value)
        if isinstance(value, Gradient):
            last = _NUMBER.plain
            return value._replace(line=tuple(last(v) for v in value.line), stops=plain_stops(value))
        return value

    def formulas(self, value: Any) -> list[Formula]:
        if isinstance(value, Gradient):
            inner = (*value.line, *(part for stop in value.stops for part in stop))
            return [v for v in inner if isinstance(v, Formula)]
        return super().formulas(value)

    def schema(self) -> dict[str, Any]:
        text = {"type": ["string", "null"]}
        stop = {"type": "array", "prefixItems": [_OFFSET.schema(), COLOR.schema()], "minItems": 2, "maxItems": 2}
        common = {
            "stops": {"type": "array", "items": stop, "minItems": 1, "maxItems": 1000},
            "spread": {"enum": list(SPREADS)},
            "units": {"enum": list(UNITS)},
        }
        gradients = [
            {
                "type": "object",
                "required": [kind, "stops"],
                "additionalProperties": False,
                "properties": {
                    kind: {
                        "type": "array",
                        "items": _NUMBER.schema(),
                        "minItems": counts[0],
                        "maxItems": counts[-1],
                    },
                    **common,
                },
            }
            for kind, counts in LINES.items()
        ]
        picture = {
            "type": "object",
            "required": ["image"],
            "additionalProperties": False,
            "properties": {"image": {"type": "string"}, "fit": {"enum": list(FITS)}},
        }
        pattern = {
            "type": "object",
            "required": ["pattern"],
            "additionalProperties": False,
            "properties": {"pattern": {"type": "string"}, "steps": _STEPS.schema()},
        }
        formula = or_formula(text)
        return {"anyOf": [*formula["anyOf"], *gradients, picture, *([pattern] if self._patterns else ())]}

    def describe(self) -> str:
        return "CSS colour, var(--name) of the palette, gradient, image, pattern, or none"


PAINT = Paint()


class Palette(Value):
    """Named colours of the scene, in order. In JSON an object; stored as pairs."""

    direct = False

    def read(self, raw: Any) -> tuple[tuple[str, Any], ...]:
        pairs = list(raw.items()) if isinstance(raw, Mapping) else raw
        if not isinstance(pairs, list | tuple) or not all(isinstance(p, list | tuple) and len(p) == 2 for p in pairs):
            raise ValueProblem(f"{shorten(raw)} is not a palette.", hint='Write {"tide": "#3e7f8b"}.')
        out: dict[str, Any] = {}
        for name, text in pairs:
            if not isinstance(name, str) or not re.fullmatch(r"[^\s,()\ud800-\udfff]{1,200}", name):
                raise ValueProblem(f"{shorten(name)} can't be the name of a colour.", hint="No spaces, commas or ().")
            try:
                if palette_name(text):
                    raise ValueProblem("a palette colour can't refer to another.")
                out[name] = COLOR.read(text)
            except ValueProblem as problem:
                raise ValueProblem(f"{name}: {problem.message}", hint=problem.hint) from None
        return tuple(out.items())

    check = read

    def write(self, value: Any) -> Any:
        return {name: COLOR.write(c) for name, c in value}

    def plain(self, value: Any) -> Any:
        return tuple((name, COLOR.plain(c)) for name, c in value)

    def formulas(self, value: Any) -> list[Formula]:
        return [c for _name, c in value if isinstance(c, Formula)]

    def schema(self) -> dict[str, Any]:
        return {"type": "object", "additionalProperties": COLOR.schema()}

    def describe(self) -> str:
        return "names and CSS colours"


def plain_stops(paint: Gradient) -> tuple[tuple[float, str], ...]:
    """The stops of a gradient, with what their formulas came to last."""
    return tuple((_OFFSET.plain(o), COLOR.plain(c)) for o, c in paint.stops)


def names_in(paint: Any) -> set[str]:
    """The palette names that a stored paint refers to."""
    if isinstance(paint, Formula):
        paint = paint.last
    if isinstance(paint, Gradient):
        return {palette_name(c) for _, c in plain_stops(paint)} - {""}
    return {palette_name(paint)} - {""}


def paints_of(shape: Shape) -> Iterator[tuple[str, Any]]:
    """The properties of a shape that hold a paint or a colour, and what is stated there."""
    for name in ("fill", "stroke"):
        if name in shape.properties:
            yield name, shape.stated(name)
    for _first, _last, values in shape._values.get("runs", ()):
        yield from (("runs", v) for n, v in values if n == "fill")
    shadow = shape.stated("shadow")
    if shadow is not None and not isinstance(shadow, Formula):
        yield "shadow", shadow.color


def names_used(values: Mapping[str, Any]) -> set[str]:
    """The palette names in the paints among plain values."""
    out = names_in(values.get("fill")) | names_in(values.get("stroke"))
    for _first, _last, said in values.get("runs", ()):
        out |= names_in(dict(said).get("fill"))
    shadow = values.get("shadow")
    return out if shadow is None else out | names_in(shadow.color)


def users_of(scene: Scene, name: str) -> list[Shape]:
    """The shapes that use a colour of the palette, in paint order."""
    return [s for s in scene.walk() if any(name in names_in(p) for _, p in paints_of(s))]


def with_colors(paint: Any, change: Callable[[str], str]) -> Any:
    """A stored paint with every colour in it passed through `change`; formulas stay."""
    if isinstance(paint, Gradient):
        return paint._replace(stops=tuple((o, with_colors(c, change)) for o, c in paint.stops))
    return change(paint) if isinstance(paint, str) else paint


class Shadow(NamedTuple):
    """A drop shadow, as in CSS filter effects: offsets and blur in px of the scene, colour."""

    x: Any
    y: Any
    blur: Any
    color: Any


class ShadowValue(Value):
    """None, or offset x, offset y, blur and colour."""

    labels = ("x", "y", "blur")
    direct = False
    plainest = None
    _blur = Number(0.0, 1000.0)

    def read(self, raw: Any) -> Any:
        if raw is None or raw == "none":
            return None
        if isinstance(raw, Formula) or (isinstance(raw, dict) and "formula" in raw):
            return super().read(raw)
        if not isinstance(raw, list | tuple) or len(raw) != 4:
            raise ValueProblem(f"{shorten(raw)} is not a shadow.", hint='Write [dx, dy, blur, "#00000080"], or none.')
        return Shadow(_NUMBER.read(raw[0]), _NUMBER.read(raw[1]), self._blur.read(raw[2]), COLOR.read(raw[3]))

    check = read

    def write(self, value: Any) -> Any:
        if isinstance(value, Shadow):
            return [*(_NUMBER.write(v) for v in value[:3]), COLOR.write(value.color)]
        return super().write(value)

    def plain(self, value: Any) -> Any:
        value = super().plain(value)
        return Shadow(*(_NUMBER.plain(v) for v in value)) if isinstance(value, Shadow) else value

    def formulas(self, value: Any) -> list[Formula]:
        if isinstance(value, Shadow):
            return [v for v in value if isinstance(v, Formula)]
        return super().formulas(value)

    def schema(self) -> dict[str, Any]:
        number = _NUMBER.schema()
        items = [number, number, self._blur.schema(), COLOR.schema()]
        shadow = {"type": "array", "prefixItems": items, "minItems": 4, "maxItems": 4}
        return {"anyOf": [*or_formula({"type": "null"})["anyOf"], shadow]}

    def describe(self) -> str:
        return "offset x, offset y, blur (px) and a colour, or none"
