from __future__ import annotations

from typing import TYPE_CHECKING, Any

from chalcedon.geometry import Affine, Box, Outline
from chalcedon.problems import ValueProblem
from chalcedon.scene.declare import Property, Stored
from chalcedon.scene.grips import Change, Handle, Point
from chalcedon.scene.painted import INK, Painted, positive
from chalcedon.scene.paints import Paint
from chalcedon.scene.roles import Gauge, Length, span
from chalcedon.scene.runs import Runs, stretches
from chalcedon.scene.similar import similar_map
from chalcedon.scene.tidy import spoken, tidy
from chalcedon.scene.values import Anchor, Choice, Flag, Number, Ref, TextValue

if TYPE_CHECKING:
    from chalcedon.text.layout import Layout


class Text(Painted):
    """Text, placed by the top left corner of its box unless the anchor says otherwise. The anchor `origin` is the
    start of the first baseline."""

    __slots__ = ()
    kind = "text"
    leading = ("at", "content", "size")
    anchor: Property[Any] = Property(Anchor(), "top-left", "which place of its own box sits at `at`")
    content: Property[str] = Property(TextValue(), "Text", "what it says; a line break begins a new line", always=True)
    family: Property[str] = Property(TextValue(), "Source Sans Pro", "font family", word="font")
    size: Property[float] = Property(
        Number(low=0.01, high=10_000.0), 32, "size of the font", always=True, role=Length()
    )
    weight: Property[float] = Property(
        Number(low=1.0, high=1000.0, unit="", step=100), 400, "400 regular, 700 bold (CSS font-weight)"
    )
    italic: Property[bool] = Property(Flag(), False, "italic or oblique")
    width: Property[float] = Property(
        positive, 0, "lines are broken to fit; 0: only where the text says", word="wrap at", role=Length()
    )
    height: Property[float] = Property(
        positive, 0, "room for the vertical place; 0: as tall as the text", role=Length()
    )
    align: Property[str] = Property(Choice("left", "center", "right", "justify"), "left", "where lines sit across")
    vertical: Property[str] = Property(Choice("top", "middle", "bottom"), "top", "where the text sits in its height")
    indent: Property[float] = Property(
        Number(low=0.0), 0, "how far in the first line of a paragraph begins", role=Length()
    )
    runs: Property[tuple[Any, ...]] = Property(
        Runs(), (), "stretches of characters with a colour, weight, size, slant or font of their own"
    )
    line_height: Property[float] = Property(
        Number(low=0.1, high=100.0, unit="", step=0.05), 1.25, "from baseline to baseline, in sizes"
    )
    letter_spacing: Property[float] = Property(Number(step=0.1), 0, "added between letters", role=Length())
    kerning: Property[bool] = Property(Flag(), True, "pairs of letters are moved together as the font says")
    ligatures: Property[bool] = Property(Flag(), True, "letters are joined as the font says")
    direction: Property[str] = Property(
        Choice("auto", "ltr", "rtl"), "auto", "which way lines run; auto: as the first letter with a direction does"
    )
    inside: Property[str] = Property(Ref(), "", "id of a shape in whose middle the text sits", affects="place")
    fill: Property[Any] = Property(Paint(), INK, "paint of the letters", affects="paint", section="paint", always=True)

    rank, key = 11, "T"
    glyph = ("line 4 4.5 12 0 stroke INK 2", "line 10 4.5 0 12 stroke INK 2", "line 7 16 6 0 stroke INK 1.4")
    example = "text 40 40 'Low water' 44 fill #22292e"
    hint = "Click where the text begins, or drag how wide its lines may be"
    made_by = "column"
    upright = True

    @staticmethod
    def outline(values: Stored) -> Outline:
        return layout_of(values).outline()

    @staticmethod
    def box(values: Stored) -> Box:
        return layout_of(values).box

    def says(self) -> str:
        shown = self.content if len(self.content) <= 30 else self.content[:29] + "…"
        return f"text “{' '.join(shown.split())}” of size {spoken(self.size)}"

    def gauge(self, name: str, path: tuple[int, ...], box: Box) -> Gauge | None:
        left, top = box[:2]
        return span((left, top), (left, top + self.size), f"size {self.size:g}") if name == "size" else None

    def handles(self, box: Box) -> list[Handle]:
        """The width at which lines are broken, at the right; the size of the font, at the lower right corner."""
        if self.inside:
            return []
        x0, y0, x1, y1 = box
        size, height = self.size, max(y1 - y0, 1e-6)

        def wrap(q: Point, digits: int, held: bool) -> Change:
            width = max(tidy(q[0] - x0, digits), 1)
            return Change({"width": width}, (x0, y0), (x0, y0), f"wraps at {width:g}")

        def scale(q: Point, digits: int, held: bool) -> Change:
            new = max(tidy(size * max((q[1] - y0) / height, 0.02), digits), 0.1)
            k = new / size
            values: dict[str, Any] = {"size": new}
            if self.width:
                values["width"] = tidy(self.width * k, digits)
            return Change(values, (x0, y0), (x0 * k, y0 * k), f"size {new:g}")

        def sized(number: float) -> Point:
            return x1, y0 + height * number / size

        return [Handle("edge", (x1, (y0 + y1) / 2), wrap), Handle("font", (x1, y1), scale, typed=sized)]

    def stretched(self, sx: float, sy: float) -> dict[str, Any]:
        return {"size": Length().stretched(self.size, sx, sy)}

    def baked(self, m: Affine) -> dict[str, Any]:
        similar = similar_map(m, self.kind)
        if similar.mirrored or abs(similar.turn) > 1e-9:
            raise ValueProblem("turned letters need a step.", hint="Make it a path first, then bake.")
        return super().baked(m)


_DEFAULTS = {n: p.default for n, p in Text.properties.items()}


def layout_of(values: Stored) -> Layout:
    """The layout for the plain values of a text; remembered while it is used."""
    from chalcedon.text.layout import Block, lay_out  # fonts and shaping are loaded by the first text
    from chalcedon.text.shape import Span, Style

    v = _DEFAULTS | values
    style = Style(v["family"], v["size"], v["weight"], v["italic"], v["letter_spacing"], v["kerning"], v["ligatures"])
    block = Block(
        v["content"], style, v["width"], v["height"], v["align"], v["vertical"], v["line_height"], v["direction"]
    )
    if v["indent"] or v["runs"]:
        spans = tuple(
            Span(s.first, s.last, style._replace(**{n: w for n, w in s.values.items() if n != "fill"}), i)
            for i, s in enumerate(stretches(v["runs"], len(v["content"])))
        )
        block = block._replace(indent=v["indent"], spans=spans)
    return lay_out(block)


def fills_of(values: Stored) -> list[tuple[int, Any]]:
    """The paints of runs that have one: the number of the span in the layout, and the paint as it is stated."""
    found = stretches(values.get("runs", ()), len(values.get("content", _DEFAULTS["content"])))
    return [(i, s.values["fill"]) for i, s in enumerate(found) if "fill" in s.values]
