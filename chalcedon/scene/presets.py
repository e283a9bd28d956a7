"""Presets: paint and text settings with a name, shared by the shapes that wear them and changed in one place.

A shape that wears a preset states its values itself, so that a scene is read, exported and copied without looking
anything up; `wears` remembers where they came from. A change of the preset goes to every wearer that still has the
value from before: what was given another value keeps it. Everything here is one undo step.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING, Any

from chalcedon.formula import Formula
from chalcedon.problems import ValueProblem, nearest, shorten, shorten_name
from chalcedon.scene.values import Many, TextValue, Value, same

if TYPE_CHECKING:
    from chalcedon.scene.declare import Property
    from chalcedon.scene.scene import Scene
    from chalcedon.scene.shape import Shape

TEXT = (
    "family",
    "size",
    "weight",
    "italic",
    "align",
    "line_height",
    "letter_spacing",
    "kerning",
    "ligatures",
    "direction",
)
"""What a preset can hold of a text; of any other shape these are no business of it."""
NO_PAINT = frozenset(("wears", "fill_on", "stroke_on"))
"""What stands beside the paint of a shape and is its own."""
MOST_WORN = 8

Pairs = tuple[tuple[str, Any], ...]


def presettable(owner: type[Shape]) -> list[str]:
    """What of a kind of shape a preset can hold, in the order in which it is declared."""
    paint = [n for n, p in owner.properties.items() if _is_paint(n, p)]
    return [*paint, *(TEXT if owner.kind == "text" else ())]


def _is_paint(name: str, prop: Property[Any]) -> bool:
    return (
        prop.section in ("paint", "effects")
        and name not in NO_PAINT
        and name not in ("clip", "clip_by", "isolate", "cuts")
    )


class PresetName(TextValue):
    """The name of a preset."""

    def check(self, raw: Any) -> str:
        if not isinstance(raw, str) or not re.fullmatch(r"[^\s,()\ud800-\udfff]{1,200}", raw):
            raise ValueProblem(f"{shorten(raw)} can't be the name of a preset.", hint="No spaces, commas or ().")
        return raw

    read = check
    """What is worn is named: no formula says it."""

    def describe(self) -> str:
        return "name of a preset"


class Names(Many):
    """The names of presets, the one that has the last word last."""

    def __init__(self) -> None:
        super().__init__(PresetName(), 0, MOST_WORN, "presets")

    read = Many.check

    def schema(self) -> dict[str, Any]:
        return {"type": "array", "items": {"type": "string"}, "maxItems": MOST_WORN}


def _pairs(raw: Any) -> list[Any] | None:
    """The pairs that a mapping or a list of pairs holds; None for anything else."""
    if isinstance(raw, Mapping):
        return list(raw.items())
    if isinstance(raw, list | tuple) and all(isinstance(pair, list | tuple) and len(pair) == 2 for pair in raw):
        return list(raw)
    return None


class Presets(Value):
    """Named values of the scene, in order. In JSON an object of objects; stored as pairs of a name and pairs."""

    direct = False

    def read(self, raw: Any) -> tuple[tuple[str, Pairs], ...]:
        pairs = _pairs(raw)
        found = None if pairs is None else [(name, _pairs(values)) for name, values in pairs]
        if found is None or any(values is None for _, values in found):
            hint = 'Write {"brass": {"fill": "#c9a227", "stroke_width": 2}}.'
            raise ValueProblem(f"{shorten(raw)} are no presets.", hint=hint)
        out: dict[str, Pairs] = {}
        for name, values in found:
            out[PresetName().check(name)] = tuple((n, _read(n, v)) for n, v in values or ())
        return tuple(out.items())

    check = read

    def write(self, value: Any) -> Any:
        return {name: {n: _property(n).kind.write(v) for n, v in pairs} for name, pairs in value}

    def plain(self, value: Any) -> Any:
        return value

    def formulas(self, value: Any) -> list[Formula]:
        return []

    def schema(self) -> dict[str, Any]:
        return {"type": "object", "additionalProperties": {"type": "object"}}

    def describe(self) -> str:
        return "names, each with values of paint or text"


def _property(name: str) -> Property[Any]:
    from chalcedon.scene.shape import KINDS  # the kinds are made after this

    text = KINDS["text"]
    if name not in presettable(text):
        raise ValueProblem(f"a preset has no {shorten_name(name)}.", hint=nearest(name, presettable(text)))
    return text.properties[name]


def _read(name: Any, raw: Any) -> Any:
    if not isinstance(name, str):
        raise ValueProblem(f"{shorten(name)} is not the name of a value.")
    prop = _property(name)
    value = prop.read(raw, "preset")
    if prop.kind.formulas(value):
        raise ValueProblem(f"{name}: a preset takes no formula.", hint="Give the value itself.")
    return value


# what there is


def preset(scene: Scene, name: str) -> dict[str, Any]:
    """The values of a preset. Raises ValueProblem for one that there isn't."""
    known = dict(scene.presets)
    if name not in known:
        raise ValueProblem(f"there is no preset {shorten_name(name)}.", hint=nearest(name, known))
    return dict(known[name])


def wearers(scene: Scene, name: str) -> list[Shape]:
    """The shapes that wear a preset, in paint order."""
    return [s for s in scene.walk() if name in s._values.get("wears", ())]


def departures(scene: Scene, shape: Shape) -> list[str]:
    """The properties in which a shape is other than the presets that it wears say."""
    return [n for n, v in _worn(scene, shape).items() if not same(shape.stated(n), v)]


def _worn(scene: Scene, shape: Shape) -> dict[str, Any]:
    """What the presets that a shape wears say together; the later ones have the last word."""
    known = dict(scene.presets)
    return {n: v for name in shape.stated("wears") for n, v in _fitting(shape, dict(known.get(name, ())))}


def _fitting(shape: Shape, values: Mapping[str, Any]) -> list[tuple[str, Any]]:
    able = presettable(type(shape))
    return [(n, v) for n, v in values.items() if n in able]


def able(shapes: Iterable[Shape]) -> list[Shape]:
    """Those of some shapes that can wear a preset."""
    return [s for s in shapes if "wears" in s.properties]


# changes


def make(scene: Scene, name: str, shape: Shape, what: Iterable[str] = ()) -> None:
    """Makes a preset of what a shape states, or of some of it, and has the shape wear it. A formula counts as what it
    comes to. Raises ValueProblem for a name that is taken, and for a shape that can't wear one."""
    _check_able(shape)
    if name in dict(scene.presets):
        raise ValueProblem(f"there is a preset {name} already.")
    wanted = list(what) or [n for n in presettable(type(shape)) if n in shape._values or shape.properties[n].always]
    values = {n: shape.properties[n].kind.plain(shape.stated(n)) for n in wanted}
    with scene.step(f"Make the preset {name}"):
        scene.set(scene, "presets", (*scene.presets, (name, tuple(values.items()))))
        scene.set(shape, "wears", (*shape.stated("wears"), name))


def wear(scene: Scene, shapes: Iterable[Shape], name: str) -> None:
    """Has shapes wear a preset, over those that they wear already."""
    values = preset(scene, name)
    todo = list(shapes)
    for shape in todo:
        _check_able(shape)
    with scene.step(f"Wear {name}"):
        for shape in todo:
            others = [n for n in shape.stated("wears") if n != name]
            scene.set(shape, "wears", (*others, name))
            _give(scene, shape, values)


def take_off(scene: Scene, shapes: Iterable[Shape], name: str) -> None:
    """Has shapes no longer follow a preset. What they state stays as it is."""
    with scene.step(f"Take off {name}"):
        for shape in shapes:
            if name in shape.stated("wears"):
                scene.set(shape, "wears", tuple(n for n in shape.stated("wears") if n != name))


def renew(scene: Scene, shapes: Iterable[Shape]) -> None:
    """Gives shapes again what the presets that they wear say."""
    with scene.step("Wear the presets as they are"):
        for shape in shapes:
            _give(scene, shape, _worn(scene, shape))


def change(scene: Scene, name: str, values: Mapping[str, Any], gesture: object = None) -> None:
    """Gives a preset other values: all that it holds from then on. Wearers follow in what they have as it was, and in
    what is new to it."""
    old = preset(scene, name)
    (made,) = Presets().read({name: values})
    new = dict(made[1])
    differ = {n: v for n, v in new.items() if n not in old or not same(old[n], v)}
    pairs = tuple((n, made[1] if n == name else p) for n, p in scene.presets)
    with scene.step(f"Change the preset {name}", gesture):
        scene.set(scene, "presets", pairs)
        for shape in wearers(scene, name):
            later = shape.stated("wears")[shape.stated("wears").index(name) + 1 :]
            beaten = {n for other in later for n in dict(dict(scene.presets).get(other, ()))}
            _give(
                scene,
                shape,
                {n: v for n, v in differ.items() if n not in beaten and (n not in old or _has(shape, n, old[n]))},
            )


def rename(scene: Scene, old: str, new: str) -> None:
    """Gives a preset another name; its wearers wear that."""
    preset(scene, old)
    new = PresetName().check(new)
    if new in dict(scene.presets) and new != old:
        raise ValueProblem(f"there is a preset {new} already.")
    with scene.step(f"Rename the preset {old} to {new}"):
        scene.set(scene, "presets", tuple((new if n == old else n, p) for n, p in scene.presets))
        for shape in wearers(scene, old):
            scene.set(shape, "wears", tuple(new if n == old else n for n in shape.stated("wears")))


def remove(scene: Scene, name: str) -> None:
    """Takes a preset away; its wearers keep what they state."""
    preset(scene, name)
    with scene.step(f"Take the preset {name} away"):
        take_off(scene, wearers(scene, name), name)
        scene.set(scene, "presets", tuple((n, p) for n, p in scene.presets if n != name))


def _check_able(shape: Shape) -> None:
    if "wears" not in shape.properties:
        raise ValueProblem(f"{shape.id or shape.kind} has no paint of its own, so it wears no preset.")


def _has(shape: Shape, name: str, value: Any) -> bool:
    return name in shape.properties and same(shape.stated(name), value)


def _give(scene: Scene, shape: Shape, values: Mapping[str, Any]) -> None:
    for name, value in _fitting(shape, values):
        if not same(shape.stated(name), value):
            scene.set(shape, name, value)
