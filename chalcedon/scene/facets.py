"""What a kind of shape says of itself beside its properties. It overrides what the roles of its values don't say."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import TYPE_CHECKING, Any, ClassVar, NamedTuple

from chalcedon.geometry import Affine, Box, Outline
from chalcedon.geometry.pathdata import Segment
from chalcedon.scene.declare import Property
from chalcedon.scene.given import Given
from chalcedon.scene.grips import CENTRE, Change, Handle, Point
from chalcedon.scene.roles import PLAIN, Gauge
from chalcedon.scene.similar import similar_map
from chalcedon.scene.tidy import tidy

Values = dict[str, Any]


class Also(NamedTuple):
    """Numbers under a word: another way to say what a shape is. `edit` takes the place of a number and its new value;
    None for what can only be read. Points (`labels` x, y) are in the parent's space, before the steps."""

    word: str
    labels: tuple[str, ...]
    numbers: tuple[float, ...]
    help: str
    edit: Callable[[int, float], Change] | None = None


class Flaw(NamedTuple):
    """Something to say about a value. `repairs` are words and the values they set."""

    rule: str
    text: str
    name: str
    repairs: tuple[tuple[str, Mapping[str, Any]], ...] = ()


class Facets:
    """For kinds that paint. `outline` and `box` are static functions whose parameters are named as properties, or one
    named `values` that takes all that are set; `box` is what `outline(...).bounds()` is, found faster."""

    __slots__ = ()

    properties: ClassVar[dict[str, Property[Any]]]
    kind: ClassVar[str] = ""

    rank: ClassVar[float] = 0
    """Where among the kinds it is offered: lower ones first. 0: it isn't made by hand."""
    key: ClassVar[str] = ""
    glyph: ClassVar[tuple[str, ...]] = ()
    """Lines of shapes on a square of 20, INK for the colour: the picture of the kind."""
    example: ClassVar[str] = ""
    """A line that makes one on a page of 280 x 130."""
    hint: ClassVar[str] = ""
    """What the pointer does to make one."""
    title: ClassVar[str] = ""
    """The command that makes one, where that isn't simply "Make a ..."."""
    made_by: ClassVar[str] = "centre"
    """How a drag makes one: from the `centre` out, to an `end`, as a `box`, as `radii`, as the width of a `column`; or
    by single `points` with a tool of its own."""
    words: ClassVar[Mapping[str, Given]] = {}
    """What it can be given by beside its own properties."""
    place_word: ClassVar[str] = ""
    """What its sentence says of `at` when the anchor is the usual one."""

    tight: ClassVar[bool] = False
    """Whether its stroke never reaches farther than half its width from the box: corners of 90 degrees."""
    smooth: ClassVar[bool] = False
    """Whether it is an ellipse: no corners, and its radii tell how tightly it bends."""
    equal_radii: ClassVar[str] = ""
    """What it comes to when its inner and outer radius are equal, if that is odd."""
    stretches: ClassVar[bool] = False
    """Whether an edge of its box can move alone."""
    upright: ClassVar[bool] = False
    """Whether raw space begins at the top left of its box and has y run down, whichever way it runs in the scene."""
    is_open: ClassVar[bool] = False
    """Whether it is seen by its stroke unless a fill is asked for."""

    if TYPE_CHECKING:
        outline: ClassVar[Callable[..., Outline]]
        box: ClassVar[Callable[..., Box]]

    def says(self) -> str:
        """What it is, in a few words."""
        return self.kind

    def proportion(self) -> tuple[float, float] | None:
        """Width and height, where their proportion is worth saying."""
        return None

    def arcs(self) -> list[Segment]:
        """Its outline as path segments in raw space, where it has arcs that are said better as such; else none."""
        return []

    def reach(self) -> tuple[float, float]:
        """The radii within which its angles are drawn."""
        radius = getattr(self, "outer", 0) or getattr(self, "radius", 0)
        return radius, radius

    def handles(self, box: Box) -> list[Handle]:
        """Its handles. `box` is that of the outline in raw space."""
        return [h for n, p in self.properties.items() for h in p.role.handles(self, n)]

    def gauge(self, name: str, path: tuple[int, ...], box: Box) -> Gauge | None:
        """What one of its numbers measures, in raw space."""
        return self.properties[name].role.gauge(self, name, path)

    def stretched(self, sx: float, sy: float) -> Values:
        """The values with which it is that much wider and taller, as far as the kind allows."""
        return self._changed(lambda p, v: p.role.stretched(v, sx, sy))

    def baked(self, m: Affine) -> Values:
        """The values with which it looks as it does after a linear map. Raises ValueProblem when there are none."""
        similar = similar_map(m, self.kind)
        return self._changed(lambda p, v: p.role.mapped(v, similar))

    def over(self) -> Values:
        """The values, as they are stated, with which it looks the same where y runs the other way."""
        said = {n: self.stated(n) for n, p in self.properties.items() if p.role is not PLAIN}  # type: ignore[attr-defined]
        return {n: self.properties[n].role.over(v) for n, v in said.items()}

    def _changed(self, change: Callable[[Property[Any], Any], Any]) -> Values:
        out = {}
        for name, prop in self.properties.items():
            old = getattr(self, name)
            new = change(prop, old)
            if new is not old and new != old:
                out[name] = new
        return out

    def drawn(self, radius: float, way: float) -> Values:
        """The values after a drag from the centre: how far, and in which direction in degrees."""
        found = {n: p.role.drawn(radius, way) for n, p in self.properties.items()}
        return {n: v for n, v in found.items() if v is not None}

    def also(self, offset: Point) -> Iterator[Also]:
        """Other ways to say what it is. `offset` leads from raw space to the parent's, before the steps."""
        return iter(())

    def flaws(self) -> Iterator[Flaw]:
        """What is wrong with its values taken together."""
        for name, prop in self.properties.items():
            within = getattr(prop.role, "within", "")
            if within and getattr(self, name) > getattr(self, within):
                swap = {within: self.stated(name), name: self.stated(within)}  # type: ignore[attr-defined]
                text = f"the {name} radius is larger than the {within} one."
                yield Flaw(f"{name} over {within}", text, name, (("Swap them", swap),))
            elif within and getattr(self, name) == getattr(self, within) > 0 and self.equal_radii:
                half = {name: tidy(getattr(self, within) / 2, 4)}
                text = f"the {name} radius is the {within} one: {self.equal_radii}."
                yield Flaw(f"{name} equals {within}", text, name, (("Half of it", half),))


def about_centre(values: Values) -> Change:
    """A change during which the centre stays."""
    return Change(values, CENTRE, CENTRE)
