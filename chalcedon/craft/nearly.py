"""Numbers that are nearly equal and were surely meant to be: 199.8 beside 200. They are pointed out, never forced."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from itertools import pairwise
from typing import Any

from chalcedon.craft.checkup import Remark, Repair
from chalcedon.evaluate.displaylist import DisplayList
from chalcedon.scene import Shape
from chalcedon.scene.tidy import tidy

NEAR = 0.003
"""The share by which two numbers may differ to seem meant as one."""
SMALL = 8.0
"""Numbers below which a difference so small means nothing."""
MANY = 60
"""Different values of one property beyond which they are no numbers that somebody chose."""
NAMES = ("size", "radii", "radius", "inner", "outer", "stroke_width", "width", "height")


def check_nearly(display: DisplayList, shapes: Iterable[Shape] | None = None) -> Iterator[Remark]:
    """What there is to say about sizes of some shapes, or of all, that are nearly those of others of the scene."""
    wanted = None if shapes is None else {id(s) for s in shapes}
    found: dict[tuple[str, int], dict[float, list[Shape]]] = defaultdict(lambda: defaultdict(list))
    for shape in display.scene.walk():
        for name in NAMES:
            if name in shape._values and name in shape.properties:
                for i, number in enumerate(_numbers(shape.stated(name))):
                    found["size" if name == "radii" else name, i][number].append(shape)
    for (name, i), values in found.items():
        if len(values) > MANY:
            continue
        for a, b in pairwise(sorted(values)):
            if a < SMALL or not 0 < b - a <= NEAR * b:
                continue
            odd, round_ = (a, b) if _digits(a) > _digits(b) else (b, a)
            if _digits(odd) == _digits(round_):
                continue
            other = values[round_][0]
            for shape in values[odd]:
                own = name if name in shape.properties else "radii"
                if (wanted is None or id(shape) in wanted) and own in shape._values:
                    yield _remark(shape, own, i, odd, round_, other)


def _numbers(value: Any) -> tuple[float, ...]:
    parts = value if isinstance(value, tuple) else (value,)
    return tuple(p for p in parts if isinstance(p, int | float) and not isinstance(p, bool))


def _digits(number: float) -> int:
    """How many digits it takes to write a number: the fewer, the likelier it was chosen."""
    return len(f"{number:.6g}".replace(".", "").rstrip("0"))


def _remark(shape: Shape, name: str, i: int, odd: float, round_: float, other: Shape) -> Remark:
    word = shape.properties[name].word
    labels = getattr(shape.properties[name].kind, "labels", ())
    word = labels[i] if len(labels) > i and name == "size" else word
    beside = f"{other.id} has" if other is not shape else "another of its numbers is"

    def act(display: DisplayList) -> None:
        old = shape.stated(name)
        new = tuple(round_ if k == i else v for k, v in enumerate(old)) if isinstance(old, tuple) else round_
        with display.scene.step(f"Make the {word} of {shape.id} {round_:g}"):
            shape.assign(name, new)

    return Remark(
        shape,
        "nearly equal",
        f"a {word} of {tidy(odd, 6):g} is nearly {round_:g}, which {beside}; were they meant to be equal?",
        name,
        (),
        (Repair(f"Make it {round_:g}", act),),
    )
