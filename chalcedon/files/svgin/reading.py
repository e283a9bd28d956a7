"""SVG elements as shapes."""

from __future__ import annotations

import math
import os
import re
from collections import Counter
from functools import partial
from pathlib import Path as File

from lxml import etree

from chalcedon.collector import collector_paused
from chalcedon.files.reader import Opened, read_file
from chalcedon.files.svgin.basic import basic, put, store
from chalcedon.files.svgin.effects import clipped, clips, masked, shadow_of
from chalcedon.files.svgin.inks import Inks, Place, share
from chalcedon.files.svgin.markers import has_markers, marked
from chalcedon.files.svgin.measures import (
    affine,
    box_of,
    extent,
    factor,
    length,
    matrix_step,
    numbers,
    transform,
    view_box,
)
from chalcedon.files.svgin.patterns import tile
from chalcedon.files.svgin.pictures import image_of
from chalcedon.files.svgin.styles import Sheets, Style, style_of
from chalcedon.files.svgin.tree import NOTHING, href, parse, place, reference, tag_of
from chalcedon.geometry import IDENTITY, Affine
from chalcedon.problems import ChalcedonError, ValueProblem
from chalcedon.scene import Group, Rect, Scene, Shape, Step
from chalcedon.scene.ids import check_id
from chalcedon.scene.limits import within
from chalcedon.scene.painted import Painted
from chalcedon.scene.values import LIMIT

DEEPEST = 200
MOST_STEPS, MOST_DASHES = (Painted.properties[name].kind.most for name in ("steps", "dash"))  # type: ignore[attr-defined]
LARGEST_PAGE = 30_000.0
"""Px along a side."""
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
BASIC = frozenset(("rect", "circle", "ellipse", "line", "polyline", "polygon", "path"))
STROKED = frozenset(
    "stroke-linecap stroke-linejoin stroke-miterlimit stroke-dasharray vector-effect paint-order".split()  # noqa: SIM905
)
DRESSED = frozenset(
    "mask clip-path opacity mix-blend-mode isolation visibility display pointer-events filter".split()  # noqa: SIM905
)
"""What an element may say beside its paint."""
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
        self._numbers: Counter[str] = Counter()
        self.viewport = (0.0, 0.0)

    def note(self, what: str, element: etree._Element) -> None:
        """Says that something of an element can't be carried."""
        self._first.setdefault(what, place(element))
        self.notes[what] += 1

    def named(self, word: str) -> str:
        """An id that is free, with a word."""
        self._numbers[word] += 1
        while f"{word}_{self._numbers[word]}" in self.taken:
            self._numbers[word] += 1
        self.taken.add(f"{word}_{self._numbers[word]}")
        return f"{word}_{self._numbers[word]}"

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
        box = box_of(root.get("viewBox")) or []  # a page is shown all the same
        width = extent(root.get("width"), box[2] if box else 300.0, box[2] if box else 300.0)
        height = extent(root.get("height"), box[3] if box else 150.0, box[3] if box else 150.0)
        if box and root.get("width") is None and root.get("height") is not None:
            width = height * box[2] / box[3]
        if box and root.get("height") is None and root.get("width") is not None:
            height = width * box[3] / box[2]
        size = min(max(width, 1.0), LARGEST_PAGE), min(max(height, 1.0), LARGEST_PAGE)
        if max(width, height) > LARGEST_PAGE:
            self.note(f"the page beyond {LARGEST_PAGE:,.0f} px", root)
        fit = view_box(box, width, height, root.get("preserveAspectRatio") or "") if box else IDENTITY
        fit = IDENTITY if not corner and fit[:4] == IDENTITY[:4] else fit
        self.viewport = (box[2], box[3]) if box else (width, height)
        made = self._children(root, self.styled(root), fit, 0)
        if fit != IDENTITY and made:
            group = Group(children=made)
            try:
                self.put(group, [matrix_step(fit)])
            except ValueProblem:
                self.note("the scale of a view box that is too large for a scene", root)
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

    def content(self, source: etree._Element, style: Style, world: Affine) -> list[Shape]:
        """What is in something that is painted elsewhere: a tile, a marker."""
        made = (self.element(c, t, style, world, 1) for c in source if (t := tag_of(c)) and t not in NOTHING)
        return [shape for shape in made if shape is not None]

    def element(self, element: etree._Element, tag: str, around: Style, world: Affine, depth: int) -> Shape | None:
        self.count += 1
        if depth > DEEPEST or self.count > MOST:
            where = place(element)
            if depth > DEEPEST:
                raise ChalcedonError(f"elements nest more than {DEEPEST} deep.", where)
            raise ChalcedonError(f"it comes to more than {MOST:,} shapes.", where, "`use` may multiply them.")
        if element.get("systemLanguage") == "" or element.get("requiredExtensions"):
            return None
        before = self.viewport, len(self.used)
        try:
            return self._element(element, tag, around, world, depth)
        except ValueProblem:  # numbers multiply: of view boxes, transforms, shadows
            self.viewport = before[0]
            del self.used[before[1] :]
            self.note("what is too large or too far away for a scene", element)
            return None

    def _element(self, element: etree._Element, tag: str, around: Style, world: Affine, depth: int) -> Shape | None:
        style = self.styled(element, around)
        id = self._free(element, tag)  # before those of what is in it
        steps = self._steps(element, style)
        plain = tag in BASIC and "url(" not in "".join(style.values())  # then nobody asks where it is on the page
        own = world if plain or not steps else world.after(affine(steps))
        font = self.font(style) if "font-size" in style else 16.0
        if tag in ("g", "a", "switch"):
            shape: Shape | None = Group(children=self._children(element, style, own, depth))
        elif tag == "svg":
            shape = self._nested(element, style, own, depth, font)
        elif tag == "use":
            shape = self._use(element, style, own, depth, font)
        elif tag == "text":
            shape = self._text(element, style, own, font)
        elif tag == "image":
            shape = image_of(self, element, font)
        else:
            shape = self._basic(element, tag, style, own, font)
        if shape is None:
            return None
        return self._dressed(shape, element, style, steps, own, id)

    def font(self, style: Style) -> float:
        """Px of the letters."""
        return float(style.get("font-size", 16.0))

    def _steps(self, element: etree._Element, style: Style) -> list[Step]:
        text = style.get("transform", "")
        if not text or text == "none":
            return []
        origin = numbers(style.get("transform-origin", ""))
        steps = transform(text, (origin[0], origin[1]) if len(origin) >= 2 else (0.0, 0.0))
        if steps is None or len(steps) > MOST_STEPS:
            self.note("a transform that can't be read" if steps is None else "a transform of too many steps", element)
            return []
        return steps

    def put(self, shape: Shape, steps: list[Step]) -> None:
        """Gives a shape the steps, those that only move it as its place where it has no others."""
        if not steps:
            return  # a viewport has some of its own
        if len(steps) == 1 and steps[0].op == "translate":
            x, y = shape.at
            to = x + steps[0].values[0], y + steps[0].values[1]
            if max(map(abs, to)) <= LIMIT:
                store(shape, "at", to)
                return
        if all(-LIMIT <= v <= LIMIT for step in steps for v in (*step.values, *(step.about or ()))):
            store(shape, "steps", tuple(steps))
        else:
            put(shape, "steps", steps)  # which says why not

    # kinds of element

    def _basic(self, element: etree._Element, tag: str, style: Style, world: Affine, font: float) -> Shape | None:
        found = basic(self, element, tag, style, font)
        if found is None:
            return None
        self.paint(found.shape, element, style, Place(found.box, world, self.viewport, font))
        if has_markers(style) and tag in ("line", "polyline", "polygon", "path"):
            return marked(self, found.shape, found.segments, element, style, world)
        return found.shape

    def paint(self, shape: Shape, element: etree._Element, style: Style, on: Place) -> None:
        stroke = None
        for word in ("fill", "stroke"):
            stroke = self.inks.paint(word, style, on, element)
            if stroke is None or type(stroke) is str:
                store(shape, word, stroke)
                continue
            try:
                put(shape, word, stroke)
            except ValueProblem:
                self.note("a paint laid out too far away", element)
        if stroke is None:
            return
        set_ = partial(store, shape)
        across = math.hypot(*on.viewport) / math.sqrt(2)
        set_("stroke_width", extent(style.get("stroke-width"), 1.0, across, on.font))
        if style.keys().isdisjoint(STROKED):
            return
        for name, word, values in (
            ("stroke-linecap", "cap", ("butt", "round", "square")),
            ("stroke-linejoin", "join", ("miter", "round", "bevel")),
        ):
            if style.get(name) in values:
                set_(word, style[name])
        if "stroke-miterlimit" in style:
            set_("miter_limit", within(Painted.miter_limit.kind, factor(style["stroke-miterlimit"], 4.0, 1.0, 1e9)))
        dash = style.get("stroke-dasharray", "none")
        lengths = [length(v, 0.0, across, on.font) for v in re.split(r"[\s,]+", dash.strip()) if v and v != "none"]
        if len(lengths) > MOST_DASHES:
            self.note("dashes of too many lengths", element)
        elif lengths and min(lengths) >= 0 and sum(lengths) > 0:
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
        box = box_of(element.get("viewBox"))
        if box is None:
            return Group()
        fit = IDENTITY
        before = self.viewport
        if box:
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
        edge = Rect(at=(x, y), size=(max(0.0, width), max(0.0, height)), fill="black")
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
        pointer = element.get("pointer-events") or style.get("pointer-events", "")
        if style.keys().isdisjoint(DRESSED) and not pointer:
            if shape.steps and steps:
                shape = Group(children=[shape])
            self.put(shape, steps)
            self._name(shape, element, id)
            return shape
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
        wanted = element.get("id") or ""
        if not wanted.isidentifier():
            wanted = re.sub(r"\W", "_", wanted)
        wanted = wanted.strip("_")
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
        for child in element if len(element) else ():
            tag = tag_of(child)
            if tag in ("title", "desc"):
                text = " ".join("".join(child.itertext()).split())
                if text:
                    shape.assign("label" if tag == "title" else "note", text[:1000])
