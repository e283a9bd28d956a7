"""Values that are kept but can't work as they stand: malformed path data, names that lead nowhere, what is missing.

What is said here takes the whole scene, or the fonts of the machine.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any

from chalcedon.craft.checkup import Remark, Repair
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.problems import nearest, shorten_name
from chalcedon.scene import Shape, Text
from chalcedon.scene.painted import INK, STROKE_LOOKS, Painted
from chalcedon.scene.paints import names_in, paints_of
from chalcedon.scene.shapes import ancestry
from chalcedon.scene.values import Ref

MOST_HINTS = 100
"""Names that lead nowhere for which the nearest name is looked for in one check-up: each is compared with all."""


def check_values(display: DisplayList, shapes: Iterable[Shape] | None = None) -> list[Remark]:
    """What there is to say about the values of some shapes, or of all, in paint order."""
    display.settle()
    left = iter(range(MOST_HINTS))

    def hint(word: str, known: Iterable[str]) -> str:
        return nearest(word, known) if next(left, None) is not None else ""

    return [r for s in (display.scene.walk() if shapes is None else shapes) for r in check_shape(display, s, hint)]


Nearest = Callable[[str, Iterable[str]], str]


def check_shape(display: DisplayList, shape: Shape, hint: Nearest = nearest) -> Iterator[Remark]:
    """What there is to say about the values of one shape."""
    for name in shape._values:
        prop = shape.properties[name]
        text = prop.kind.remark(shape.stated(name))
        if text:
            yield Remark(shape, "malformed", f"{prop.word}, {text}", name)
        if prop.kind.refers(shape._values[name]):
            yield from _reference(display, shape, name, hint)
    yield from _paints(display, shape, hint)
    if isinstance(shape, Painted):
        yield from _lone_strokes(shape)
        if "wears" in shape._values:
            yield from _preset(display, shape, hint)
    for flaw in shape.flaws():
        yield Remark(shape, flaw.rule, flaw.text, flaw.name, (), tuple(_repair(shape, *r) for r in flaw.repairs))
    if isinstance(shape, Text):
        yield from _text(shape)


def _repair(shape: Shape, word: str, values: Mapping[str, Any]) -> Repair:
    def act(display: DisplayList) -> None:
        with display.scene.step(f"{word}: {shape.id}"):
            for name, value in values.items():
                shape.assign(name, value)

    return Repair(word, act)


def _reference(display: DisplayList, shape: Shape, name: str, nearest_of: Nearest) -> Iterator[Remark]:
    prop = shape.properties[name]
    id = prop.kind.refers(shape._values[name])
    scene = display.scene
    none = "" if isinstance(prop.kind, Ref) else None
    clear = Repair(f"No {name}", lambda d: d.scene.set(shape, name, none))
    if id not in scene:
        hint = nearest_of(id, (s.id for s in scene.walk()))
        yield Remark(
            shape,
            "no such shape",
            f"{name} names {shorten_name(id)}, and there is no such shape. {hint}",
            name,
            (),
            (clear,),
        )
    elif any(s is scene[id] for s in ancestry(shape)):
        yield Remark(
            shape,
            "no such shape",
            f"{name} names {id}, which is the shape itself or a group that holds it.",
            name,
            (),
            (clear,),
        )
    elif name == "inside":
        for loop in display.edges.loops:
            if loop[0] == shape.id:
                way = " → ".join(loop)
                yield Remark(shape, "in a circle", f"inside leads back to itself: {way}.", name, (), (clear,))
                break


def _paints(display: DisplayList, shape: Shape, nearest_of: Nearest) -> Iterator[Remark]:
    palette = [n for n, _ in display.scene.palette]
    for name, paint in paints_of(shape):
        for lacking in sorted(names_in(paint) - set(palette)):
            hint = nearest_of(lacking, palette) if palette else "The palette is empty."
            yield Remark(
                shape,
                "no such colour",
                f"{name} names {shorten_name(lacking)}, and the palette has no such colour. {hint}",
                name,
            )


def _preset(display: DisplayList, shape: Painted, nearest_of: Nearest) -> Iterator[Remark]:
    known = dict(display.scene.presets)
    for name in shape.wears:
        if name not in known:
            there = nearest_of(name, known) if known else "There are none in this scene."
            off = _repair(shape, "Take it off", {"wears": tuple(n for n in shape.wears if n != name)})
            text = f"it wears {shorten_name(name)}, and there is no such preset. {there}"
            yield Remark(shape, "no such preset", text, "wears", (), (off,))


def _lone_strokes(shape: Painted) -> Iterator[Remark]:
    """Looks of a stroke that there isn't."""
    looks = [n for n in STROKE_LOOKS if n in shape._values]
    if shape.stated("stroke") is not None or not looks:
        return
    words = " and ".join(shape.properties[n].word if n != "stroke_width" else "a width" for n in looks[:3])
    back = {n: shape.properties[n].default for n in looks}
    yield Remark(
        shape,
        "no stroke",
        f"{words} {'is' if len(looks) == 1 else 'are'} given for the stroke, and there is none.",
        looks[0],
        (),
        (_repair(shape, "Stroke it", {"stroke": INK}), _repair(shape, "Forget that", back)),
    )


def _runs(shape: Text) -> Iterator[Remark]:
    count = len(shape.content)
    beyond = [r for r in shape.runs if r.last > count]
    if beyond:
        inner = tuple(r._replace(last=min(r.last, count)) for r in shape.runs if r.first < count)
        first = beyond[0]
        text = f"a run is about characters {first.first} to {first.last}, and there are {count}."
        yield Remark(shape, "run beyond the text", text, "runs", (), (_repair(shape, "End it there", {"runs": inner}),))


def _text(shape: Text) -> Iterator[Remark]:
    yield from _runs(shape)
    from chalcedon.text.fonts import choose
    from chalcedon.text.layout import LONGEST

    if len(shape.content) > LONGEST:
        yield Remark(
            shape,
            "too long",
            f"the text has {len(shape.content):,} characters; the first {LONGEST:,} are shown. All of it is kept.",
            "content",
        )
    instead = choose(shape.family, shape.weight, shape.italic).substitute
    if instead:
        yield Remark(
            shape,
            "no such font",
            f"the font {shape.family} isn't on this machine; {instead} stands in. The scene keeps the name.",
            "family",
        )
