"""Values that are kept but can't work as they stand: malformed path data, names that lead nowhere, what is missing.

What is said here takes the whole scene, or the fonts of the machine.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from chalcedon.evaluate.checkup import Remark, Repair
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.formula import Formula
from chalcedon.problems import nearest, shorten_name
from chalcedon.scene import Annulus, Rect, Shape, Star, Text
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


Hint = Callable[[str, Iterable[str]], str]


def check_shape(display: DisplayList, shape: Shape, hint: Hint = nearest) -> Iterator[Remark]:
    for name in shape._values:
        prop = shape.properties[name]
        text = prop.kind.remark(shape.stated(name))
        if text:
            yield Remark(shape, "malformed", f"{prop.word}, {text}", name)
        if isinstance(prop.kind, Ref):
            yield from _reference(display, shape, name, hint)
    yield from _paints(display, shape, hint)
    for kind, check in _CHECKS.items():
        if isinstance(shape, kind):
            yield from check(display, shape)


def _reference(display: DisplayList, shape: Shape, name: str, nearest_of: Hint) -> Iterator[Remark]:
    id = shape._values[name]
    if not id or isinstance(id, Formula):
        return
    scene = display.scene
    clear = Repair(f"No {name}", lambda d: d.scene.set(shape, name, ""))
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


def _paints(display: DisplayList, shape: Shape, nearest_of: Hint) -> Iterator[Remark]:
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


def _text(display: DisplayList, shape: Shape) -> Iterator[Remark]:
    from chalcedon.text.fonts import choose
    from chalcedon.text.layout import LONGEST

    assert isinstance(shape, Text)
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


def _rect(display: DisplayList, shape: Shape) -> Iterator[Remark]:
    assert isinstance(shape, Rect)
    w, h = shape.size
    corners = [c for c in shape.corners if c < 1e9]  # `max` is meant to be larger
    if corners and w > 0 and h > 0 and max(corners) > min(w, h) / 2 + 1e-9:
        yield Remark(
            shape,
            "corner too large",
            f"a corner radius of {max(corners):g} doesn't fit into {w:g} × {h:g}; all are made smaller in proportion.",
            "corners",
            (),
            (Repair("A pill", lambda d: d.scene.set(shape, "corners", ("max",))),),
        )


def _ring(display: DisplayList, shape: Shape) -> Iterator[Remark]:
    assert isinstance(shape, Annulus | Star)
    if shape.inner > shape.outer:

        def swap(d: DisplayList) -> None:
            inner, outer = shape.stated("inner"), shape.stated("outer")
            with d.scene.step(f"Swap the radii of {shape.id}"):
                shape.assign("outer", inner)
                shape.assign("inner", outer)

        yield Remark(
            shape,
            "inner over outer",
            "the inner radius is larger than the outer one.",
            "inner",
            (),
            (Repair("Swap them", swap),),
        )


_CHECKS: dict[type[Shape], Callable[[DisplayList, Shape], Iterator[Remark]]] = {
    Text: _text,
    Rect: _rect,
    Annulus: _ring,
    Star: _ring,
}
