"""SVG elements as shapes."""

from __future__ import annotations

import os
import re
from collections import Counter
from functools import partial
from pathlib import Path as File
from typing import Any

from lxml import etree

from chalcedon.collector import collector_paused
from chalcedon.files.reader import Opened, read_file
from chalcedon.files.svgin.effects import clipped, clips, masked, shadow_of
from chalcedon.files.svgin.inks import Inks, Place, share
from chalcedon.files.svgin.markers import has_markers, marked
from chalcedon.files.svgin.measures import LARGEST, affine, length, matrix_step, numbers, rule, transform, view_box
from chalcedon.files.svgin.patterns import tile
from chalcedon.files.svgin.styles import Sheets, Style, style_of
from chalcedon.files.svgin.tree import NOTHING, href, parse, place, reference, tag_of
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.geometry.pathdata import Segment, outline_of, parse_path
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Circle, Ellipse, Group, Image, Line, Path, Polyline, Rect, Scene, Shape, Step
from chalcedon.scene.ids import check_id

DEEPEST = 200
MOST = 100_000
"""Shapes, with all that `use` copies."""
POINTER = {
    "none": "none",
    "fill": "fill",
    "visibleFill": "fill",
    "stroke": "stroke",
    "visibleStroke": "stroke",
    "all": "all",
    "visible": "all",
    "bounding-box": "box",
}
BLENDS = frozenset(
    """
    multiply screen overlay darken lighten color-dodge color-burn hard-light soft-light difference
    exclusion hue saturation color luminosity plus-lighter
    """.split()  # noqa: SIM905
)


def open_svg(path: str | os.PathLike[str]) -> Opened:
    """The scene in an SVG file, and sentences about what can't be carried. Raises ChalcedonError."""
    file = File(path)
    opened = read_svg(read_file(file), file.name)
    opened.scene.folder = str(file.absolute().parent)
    return opened


def read_svg(data: bytes, name: str = "SVG", corner: bool = True) -> Opened:
    """The scene in the bytes of an SVG file, and sentences about what can't be carried. Raises ChalcedonError. Without
    `corner`, a view box that only moves what is in it doesn't, so that all keeps its numbers."""
    with collector_paused():  # nothing of what is made here goes round, and much is made
        return Reader(parse(data, name)).scene(corner)


class Reader:
    def __init__(self, root: etree._Element) -> None:
        self.root = root
        self.sheets = Sheets(root)
        self.ids: dict[str, etree._Element] = {}
        for element in root.iter():
            id = element.get("id") if isinstance(element.tag, str) else None
            if id:
                self.ids.setdefault(id, element)
        self._styles: dict[etree._Element, Style] = {}
        self.notes: Counter[str] = Counter()
        self._first: dict[str, str] = {}
        self.inks = Inks(self.ids, self.styled, self.note, partial(tile, self))
        self.tiles: list[Shape] = []
        """Of patterns: hidden, behind all else."""
        self.tiled: dict[object, str] = {}
        self.count = 0
        self.used: list[etree._Element] = []
        self.taken: set[str] = set()
        self.viewport = (0.0, 0.0)

    def note(self, what: str, element: etree._Element) -> None:
        """Says that something of an element can't be carried."""
        self._first.setdefault(what, place(element))
        self.notes[what] += 1

    def styled(self, element: etree._Element, parent: Style | None = None) -> Style:
        """The style of an element where it stands, or as if in another one."""
        if parent is not None:
            return style_of(element, self.sheets, parent)
        found = self._styles.get(element)
        if found is None:
            above = element.getparent()
            around = self.styled(above) if above is not None and isinstance(above.tag, str) else {}
            found = self._styles[element] = style_of(element, self.sheets, around)
        return found

    # the page

    def scene(self, corner: bool) -> Opened:
        root = self.root
        box = numbers(root.get("viewBox") or "")
        box = box if len(box) == 4 and box[2] > 0 and box[3] > 0 else []
        width = length(root.get("width"), box[2] if box else 300.0, box[2] if box else 300.0)
        height = length(root.get("height"), box[3] if box else 150.0, box[3] if box else 150.0)
        if box and root.get("width") is None and root.get("height") is not None:
            width = height * box[2] / box[3]
        if box and root.get("height") is None and root.get("width") is not None:
            height = width * box[3] / box[2]
        size = min(max(width, 1.0), 30_000.0), min(max(height, 1.0), 30_000.0)
        fit = view_box(box, width, height, root.get("preserveAspectRatio") or "") if box else IDENTITY
        fit = IDENTITY if not corner and fit[:4] == IDENTITY[:4] else fit
        self.viewport = (box[2], box[3]) if box else (width, height)
        made = self._children(root, self.styled(root), fit, 0)
        if fit != IDENTITY and made:
            group = Group(children=made)
            self.put(group, [matrix_step(fit)])
            made = [group]
        made[:0] = self.tiles
        self._name_rest(made)
        scene = Scene(made, size=size, background=None)
        for unread in dict.fromkeys(self.sheets.unread):
            self.notes[f"the style rule {unread}"] += 1
        notices = [self._told(what, count) for what, count in self.notes.items()]
        return Opened(scene, [], notices)

    def _name_rest(self, made: list[Shape]) -> None:
        """Gives ids to the shapes without one, so that those that come later keep theirs."""
        numbers: Counter[str] = Counter()
        for top in made:
            for shape in top.walk():
                while not shape.id:
                    numbers[shape.kind] += 1
                    number = numbers[shape.kind]
                    id = shape.kind if number == 1 else f"{shape.kind}_{number}"
                    if id not in self.taken:
                        shape.id = id

    def _told(self, what: str, count: int) -> str:
        where = self._first.get(what)
        more = f", and {count - 1} more" if count > 1 else ""
        return f"Left out: {what}{f' ({where}{more})' if where else ''}."

    # elements

    def _children(self, element: etree._Element, style: Style, world: Affine, depth: int) -> list[Shape]:
        out: list[Shape] = []
        for child in element:
            tag = tag_of(child)
            if not tag or tag in NOTHING:
                if tag in ("script", "animate", "animateTransform", "animateMotion", "set"):
                    self.note(f"what <{tag}> does", child)
                continue
            made = self.element(child, tag, style, world, depth + 1)
            if made is not None:
                out.append(made)
            if tag_of(element) == "switch" and made is not None:
                break
        return out

    def element(self, element: etree._Element, tag: str, around: Style, world: Affine, depth: int) -> Shape | None:
        self.count += 1
        if depth > DEEPEST or self.count > MOST:
            where = place(element)
            if depth > DEEPEST:
                raise ChalcedonError(f"elements nest more than {DEEPEST} deep.", where)
            raise ChalcedonError(f"it comes to more than {MOST:,} shapes.", where, "`use` may multiply them.")
        if element.get("systemLanguage") == "" or element.get("requiredExtensions"):
            return None
        style = self.styled(element, around)
        id = self._free(element, tag)  # before those of what is in it
        steps = self._steps(element, style)
        own = world.after(affine(steps))
        font = self.font(style)
        if tag in ("g", "a", "switch"):
            shape: Shape | None = Group(children=self._children(element, style, own, depth))
        elif tag == "svg":
            shape = self._nested(element, style, own, depth, font)
        elif tag == "use":
            shape = self._use(element, style, own, depth, font)
        elif tag == "text":
            shape = self._text(element, style, own, font)
        elif tag == "image":
            shape = self._image(element, font)
        else:
            shape = self._basic(element, tag, style, own, font)
        if shape is None:
            return None
        return self._dressed(shape, element, style, steps, own, id)

    def font(self, style: Style) -> float:
        words = {"small": 13.0, "medium": 16.0, "large": 18.0, "x-large": 24.0, "xx-large": 32.0, "smaller": 13.0}
        text = style.get("font-size", "16")
        return words.get(text) or max(0.01, length(text, 16.0, 16.0))

    def _steps(self, element: etree._Element, style: Style) -> list[Step]:
        text = style.get("transform", "")
        if not text or text == "none":
            return []
        origin = numbers(style.get("transform-origin", ""))
        steps = transform(text, (origin[0], origin[1]) if len(origin) >= 2 else (0.0, 0.0))
        if steps is None:
            self.note("a transform that can't be read", element)
            return []
        return steps

    def put(self, shape: Shape, steps: list[Step]) -> None:
        """Gives a shape the steps, those that only move it as its place where it has no others."""
        if len(steps) == 1 and steps[0].op == "translate":
            x, y = shape.at
            shape.at = (x + steps[0].values[0], y + steps[0].values[1])
        elif steps:
            shape.steps = tuple(steps)

    # kinds of element

    def _basic(self, element: etree._Element, tag: str, style: Style, world: Affine, font: float) -> Shape | None:
        w, h = self.viewport

        def at(name: str, whole: float, usual: float = 0.0) -> float:
            return length(style.get(name) or element.get(name), usual, whole, font)

        across = ((w * w + h * h) / 2) ** 0.5
        shape: Shape
        parsed: list[Segment] = []
        if tag == "rect":
            x, y, width, height = at("x", w), at("y", h), at("width", w), at("height", h)
            if width <= 0 or height <= 0:
                return None
            box = (x, y, x + width, y + height)
            shape = _rect(box, at("rx", w, -1.0), at("ry", h, -1.0))
        elif tag == "circle":
            x, y, r = at("cx", w), at("cy", h), at("r", across)
            if r <= 0:
                return None
            shape, box = Circle(at=(x, y), radius=r), (x - r, y - r, x + r, y + r)
        elif tag == "ellipse":
            x, y, rx, ry = at("cx", w), at("cy", h), at("rx", w, -1.0), at("ry", h, -1.0)
            rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
            if rx <= 0 or ry <= 0:
                return None
            shape, box = Ellipse(at=(x, y), radii=(rx, ry)), (x - rx, y - ry, x + rx, y + ry)
        elif tag == "line":
            x, y, x2, y2 = at("x1", w), at("y1", h), at("x2", w), at("y2", h)
            shape, box = Line(at=(x, y), to=(x2 - x, y2 - y)), (min(x, x2), min(y, y2), max(x, x2), max(y, y2))
            parsed = _through([(x, y), (x2, y2)])
        elif tag in ("polyline", "polygon"):
            flat = [max(-LARGEST, min(LARGEST, v)) for v in numbers(element.get("points") or "")]
            points = list(zip(flat[::2], flat[1::2], strict=False))
            if not points:
                return None
            shape = Polyline(points=points, closed=tag == "polygon", fill_rule=rule(style.get("fill-rule")))
            box = _around(points)
            parsed = _through(points, tag == "polygon")
        elif tag == "path":
            data = style.get("d") or element.get("d") or ""
            data = data.removeprefix("path(").strip("\"')") if data.startswith("path(") else data
            found = parse_path(data)
            if found.error:
                self.note("path data after a mistake", element)
            if not found.segments:
                return None
            shape = Path(data=data.strip(), fill_rule=rule(style.get("fill-rule")))
            box = outline_of(found.segments).bounds()
            parsed = list(found.segments)
        else:
            self.note(f"<{tag}>", element)
            return None
        self.paint(shape, element, style, Place(box, world, self.viewport, font))
        if has_markers(style) and tag in ("line", "polyline", "polygon", "path"):
            return marked(self, shape, parsed, element, style, world)
        return shape

    def paint(self, shape: Shape, element: etree._Element, style: Style, on: Place) -> None:
        defaults = shape.properties

        def set_(name: str, value: Any) -> None:
            if value != defaults[name].default:
                shape.assign(name, value)

        fill, stroke = (self.inks.paint(word, style, on, element) for word in ("fill", "stroke"))
        set_("fill", fill)
        set_("stroke", stroke)
        if stroke is None:
            return
        across = ((on.viewport[0] ** 2 + on.viewport[1] ** 2) / 2) ** 0.5
        width = length(style.get("stroke-width"), 1.0, across, on.font)
        set_("stroke_width", max(0.0, width))
        for name, word, values in (
            ("stroke-linecap", "cap", ("butt", "round", "square")),
            ("stroke-linejoin", "join", ("miter", "round", "bevel")),
        ):
            if style.get(name) in values:
                set_(word, style[name])
        if "stroke-miterlimit" in style:
            set_("miter_limit", max(1.0, length(style["stroke-miterlimit"], 4.0, 1.0)))
        dash = style.get("stroke-dasharray", "none")
        lengths = [length(v, 0.0, across, on.font) for v in re.split(r"[\s,]+", dash.strip()) if v and v != "none"]
        if lengths and min(lengths) >= 0 and sum(lengths) > 0:
            set_("dash", tuple(lengths))
            set_("dash_offset", length(style.get("stroke-dashoffset"), 0.0, across, on.font))
        if style.get("vector-effect") == "non-scaling-stroke":
            set_("steady", True)
        order = style.get("paint-order", "normal").split()
        if "stroke" in order and "fill" not in order[: order.index("stroke")]:
            set_("paint_order", "stroke")

    def _nested(self, element: etree._Element, style: Style, world: Affine, depth: int, font: float) -> Shape:
        w, h = self.viewport
        x, y = length(element.get("x"), 0.0, w, font), length(element.get("y"), 0.0, h, font)
        width, height = length(element.get("width"), w, w, font), length(element.get("height"), h, h, font)
        return self._viewport(element, style, world, depth, (x, y, width, height))

    def _viewport(
        self, element: etree._Element, style: Style, world: Affine, depth: int, area: tuple[float, float, float, float]
    ) -> Shape:
        """What is in an element with a viewport of its own, clipped to that."""
        x, y, width, height = area
        box = numbers(element.get("viewBox") or "")
        fit = IDENTITY
        before = self.viewport
        if len(box) == 4 and box[2] > 0 and box[3] > 0:
            fit = view_box(box, width, height, element.get("preserveAspectRatio") or "")
            self.viewport = box[2], box[3]
        else:
            self.viewport = width, height
        inner = Affine.translate(x, y).after(fit)
        made = self._children(element, style, world.after(inner), depth)
        self.viewport = before
        group = Group(children=made)
        self.put(group, [matrix_step(inner)] if inner != IDENTITY else [])
        if style.get("overflow", "hidden") == "visible" or not made:
            return group
        edge = Rect(at=(x, y), size=(max(0.0, width), max(0.0, height)), fill="black", visible=False)
        return clipped(self, group, [edge], "view")

    def _use(self, element: etree._Element, style: Style, world: Affine, depth: int, font: float) -> Shape | None:
        target = self.ids.get(reference(href(element)))
        if target is None:
            what = (
                "a use of another file" if href(element) and not href(element).startswith("#") else "a use of nothing"
            )
            self.note(what, element)
            return None
        if target in self.used:
            self.note("a use of itself", element)
            return None
        w, h = self.viewport
        x, y = length(element.get("x"), 0.0, w, font), length(element.get("y"), 0.0, h, font)
        move = [Step("translate", x, y)] if x or y else []
        inside = world.after(affine(move))
        self.used.append(target)
        tag = tag_of(target)
        if tag in ("symbol", "svg"):
            own = self.styled(target, style)
            width = length(element.get("width") or target.get("width"), w, w, font)
            height = length(element.get("height") or target.get("height"), h, h, font)
            made: Shape | None = self._viewport(target, own, inside, depth + 1, (0.0, 0.0, width, height))
        else:
            made = self.element(target, tag, style, inside, depth + 1) if tag and tag not in NOTHING else None
        self.used.pop()
        if made is None:
            return None
        group = Group(children=[made])
        self.put(group, move)
        return group

    def _image(self, element: etree._Element, font: float) -> Shape | None:
        w, h = self.viewport
        source = href(element)
        x, y = length(element.get("x"), 0.0, w, font), length(element.get("y"), 0.0, h, font)
        width, height = length(element.get("width"), 0.0, w, font), length(element.get("height"), 0.0, h, font)
        if not source.startswith("data:image/"):
            if source.lower().endswith(".svg") or ":" in source or source.startswith(("/", "..")):
                self.note("an image that lies elsewhere", element)
                return None
        elif source.startswith("data:image/svg"):
            self.note("an image that is an SVG", element)
            return None
        if width <= 0 or height <= 0:
            from chalcedon.files.images import image_size

            try:
                natural = image_size(source, None)
            except ChalcedonError:
                return None
            width, height = width or natural[0], height or natural[1]
        ratio = (element.get("preserveAspectRatio") or "xMidYMid meet").split()
        fit = "fill" if ratio[:1] == ["none"] else "cover" if "slice" in ratio else "contain"
        try:
            return Image(at=(x, y), size=(width, height), source="".join(source.split()), fit=fit)
        except ValueProblem:
            self.note("an image that can't be read", element)
            return None

    def _text(self, element: etree._Element, style: Style, world: Affine, font: float) -> Shape | None:
        from chalcedon.files.svgin.letters import is_placed, outlined
        from chalcedon.files.svgin.words import texts

        made: list[Shape]
        if is_placed(self, element):
            made = outlined(self, element, style, world)
        else:
            made = [*texts(self, element, style, world, font)]
        if not made:
            return None
        return made[0] if len(made) == 1 else Group(children=made)

    # what all have in common

    def _dressed(
        self, shape: Shape, element: etree._Element, style: Style, steps: list[Step], world: Affine, id: str
    ) -> Shape:
        shape = masked(self, shape, element, style, world)
        by = clips(self, shape, element, style, world)
        if by:
            shape = clipped(self, shape, by, "clip")
        if shape.steps and steps:
            shape = Group(children=[shape])  # a viewport has a transform of its own
        self.put(shape, steps)
        self._name(shape, element, id)
        opacity = share(style.get("opacity"))
        if opacity < 1.0:
            shape.assign("opacity", opacity)
        if style.get("mix-blend-mode", "normal") in BLENDS:
            try:
                shape.assign("blend", style["mix-blend-mode"])
            except ValueProblem:
                self.note(f"the blend mode {style['mix-blend-mode']}", element)
        if style.get("isolation") == "isolate" and isinstance(shape, Group):
            shape.isolate = True
        hidden = style.get("visibility") in ("hidden", "collapse") and not isinstance(shape, Group)
        if style.get("display") == "none" or hidden:
            shape.visible = False
        pointer = element.get("pointer-events") or style.get("pointer-events", "")
        if pointer in POINTER and (not isinstance(shape, Group) or pointer == "none"):
            shape.assign("pointer", POINTER[pointer])
        text = style.get("filter", "none")
        if text != "none":
            shadow = shadow_of(self, text, world)
            if shadow is None:
                self.note("a filter", element)
            else:
                shape.assign("shadow", shadow)
        return shape

    def _free(self, element: etree._Element, tag: str) -> str:
        """An id for the shape of an element, that of the element as far as it can be; empty where it has none."""
        wanted = re.sub(r"\W", "_", element.get("id") or "").strip("_")
        if wanted[:1].isdigit():
            wanted = f"{tag}_{wanted}"
        if not wanted or wanted in self.taken:
            return ""
        try:
            check_id(wanted)
        except ValueProblem:
            wanted = f"{wanted[:100]}_1"
        if wanted in self.taken or not wanted.isidentifier():
            return ""
        self.taken.add(wanted)
        return wanted

    def _name(self, shape: Shape, element: etree._Element, id: str) -> None:
        if id:
            shape.id = id
        for child in element:
            tag = tag_of(child)
            if tag in ("title", "desc"):
                text = " ".join("".join(child.itertext()).split())
                if text:
                    shape.assign("label" if tag == "title" else "note", text[:1000])


def _through(points: list[tuple[float, float]], closed: bool = False) -> list[Segment]:
    lines = [Segment("M" if i == 0 else "L", p) for i, p in enumerate(points)]
    return [*lines, Segment("Z", ())] if closed else lines


def _around(points: list[tuple[float, float]]) -> Box:
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def _rect(box: Box, rx: float, ry: float) -> Shape:
    x0, y0, x1, y1 = box
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0.0), (x1 - x0) / 2), min(max(ry, 0.0), (y1 - y0) / 2)
    if rx == ry or not rx or not ry:
        radius = rx if rx and ry else 0.0
        return Rect(at=(x0, y0), size=(x1 - x0, y1 - y0), corners=(radius,))
    arc = f"A{rx} {ry} 0 0 1"
    return Path(
        data=f"M{x0 + rx} {y0}H{x1 - rx}{arc} {x1} {y0 + ry}V{y1 - ry}{arc} {x1 - rx} {y1}"
        f"H{x0 + rx}{arc} {x0} {y1 - ry}V{y0 + ry}{arc} {x0 + rx} {y0}Z"
    )
