"""Proportions that are kept: where `aspect_ratio` is set, the two numbers of a size follow one another.

The ratio is stated by itself, so that it outlives a size of nothing and any number of changes. Whoever changes one
number by hand asks `following`; two numbers given at once stand as they are given, and the check-up says when they
don't fit.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any, ClassVar

from chalcedon.scene.declare import Property
from chalcedon.scene.facets import Flaw
from chalcedon.scene.grips import Point
from chalcedon.scene.painted import Painted
from chalcedon.scene.roles import one_factor
from chalcedon.scene.tidy import tidy
from chalcedon.scene.values import Number

if TYPE_CHECKING:
    from chalcedon.scene.scene import Scene

DIGITS = 4
CLOSE = 1e-3
"""How far a size may be off its ratio, in shares of itself: the digits that are kept are not told of."""


class Proportioned(Painted):
    """Kinds with two numbers for their size, which may keep their ratio."""

    __slots__ = ()
    pair: ClassVar[str] = "size"
    """The property with the two numbers."""

    aspect_ratio: Property[float] = Property(
        Number(low=0.0, high=1e6, unit="", step=0.01),
        0,
        "width by height, kept when either is changed; 0 leaves them free",
        word="ratio",
    )

    def stretched(self, sx: float, sy: float) -> dict[str, Any]:
        """As any kind; with a ratio both ways alike."""
        if self.aspect_ratio:
            sx = sy = one_factor(sx, sy)
        return super().stretched(sx, sy)

    def flaws(self) -> Iterator[Flaw]:
        """As any kind, and a size that isn't in its ratio."""
        yield from super().flaws()
        (w, h), ratio = getattr(self, self.pair), self.aspect_ratio
        if ratio and abs(w - ratio * h) > CLOSE * max(w, ratio * h):
            repairs: list[tuple[str, dict[str, Any]]] = [(f"Make the height {w / ratio:g}", _paired(self, 0, w))]
            if w > 0.0 and h > 0.0:
                repairs.append(("Keep this ratio", {"aspect_ratio": _ratio(w, h)}))
            yield Flaw(
                "not in its ratio", f"{w:g} × {h:g} isn't in the ratio {ratio:g}.", "aspect_ratio", tuple(repairs)
            )


def ratio_of(shape: Any) -> float:
    """Width by height of a shape, as it is to be kept; 0 where it is free."""
    return float(shape.aspect_ratio) if isinstance(shape, Proportioned) else 0.0


def following(shape: Any, name: str, value: Any) -> dict[str, Any]:
    """What a new value of one property comes to: itself, and what follows it where the shape keeps its ratio."""
    if not isinstance(shape, Proportioned) or name not in (shape.pair, "aspect_ratio"):
        return {name: value}
    old = shape.stated(shape.pair)
    if name == "aspect_ratio":
        ratio = _number(value)
        width = _number(old[0]) if isinstance(old, tuple) else 0.0
        if not ratio or not width or not _number(old[1]):
            return {name: value}
        return {name: value, shape.pair: (old[0], tidy(width / ratio, DIGITS))}
    if not shape.aspect_ratio or not isinstance(old, tuple) or not isinstance(value, tuple | list):
        return {name: value}
    differ = [i for i in range(2) if len(value) == 2 and value[i] != old[i]]
    if len(differ) != 1 or not all(isinstance(v, int | float) for v in (*value, *old)):
        return {name: value}
    return _paired(shape, differ[0], value[differ[0]])


def set_following(scene: Scene, shape: Any, name: str, value: Any) -> None:
    """Sets a property of a shape of a scene, and what follows it. Raises ValueProblem for one that has left it."""
    for each, new in following(shape, name, value).items():
        scene.set(shape, each, new)


def present_ratio(shape: Any) -> float:
    """Width by height of a shape as it is now; 0 for what has no two numbers for its size, or a 0 among them."""
    if not isinstance(shape, Proportioned):
        return 0.0
    w, h = getattr(shape, shape.pair)
    return _ratio(w, h)


def keep_ratios(shapes: Iterable[Any], keep: bool) -> list[Any]:
    """Has shapes keep the ratio that they have now, or leaves it free; those that it could be done for."""
    todo = [s for s in shapes if isinstance(s, Proportioned) and (present_ratio(s) or not keep)]
    for shape in todo:
        shape.aspect_ratio = present_ratio(shape) if keep else 0
    return todo


def refitted(shape: Any, values: dict[str, Any]) -> dict[str, Any]:
    """The ratio that goes with values which keep the picture, where a ratio is kept."""
    if not ratio_of(shape) or shape.pair not in values:
        return {}
    w, h = values[shape.pair]
    return {"aspect_ratio": _ratio(w, h)}


def held_to(ratio: float, width: float, height: float) -> Point:
    """The smallest size of a ratio that holds a width and a height; signs stay."""
    wide = max(abs(width), abs(height) * ratio)
    return (-wide if width < 0 else wide), (-wide if height < 0 else wide) / ratio


def proportion(width: float, height: float) -> float:
    """Width by height; 1 for what has none."""
    return width / height if width > 0.0 and height > 0.0 else 1.0


def _ratio(w: float, h: float) -> float:
    """To twelve digits, so that a number changed there and back is what it was; 0 for what has none."""
    return tidy(float(f"{w / h:.12g}"), 15) if w > 0.0 and h > 0.0 else 0.0


def _number(value: Any) -> float:
    return float(value) if isinstance(value, int | float) else 0.0


def _paired(shape: Proportioned, i: int, number: float) -> dict[str, Any]:
    """The pair in its ratio with a number given."""
    ratio = shape.aspect_ratio
    both = (number, tidy(number / ratio, DIGITS)) if i == 0 else (tidy(number * ratio, DIGITS), number)
    return {shape.pair: both}
