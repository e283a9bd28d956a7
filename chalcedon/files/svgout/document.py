"""The whole file: elements in the order and structure of the scene, with clips, masks and shadows."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple
from xml.etree.ElementTree import Element, SubElement

from chalcedon.collector import collector_paused
from chalcedon.evaluate import DisplayList, Node
from chalcedon.evaluate.edges import upward
from chalcedon.evaluate.rare import NONE_RARE
from chalcedon.evaluate.strokes import PLAIN, StrokeArea
from chalcedon.evaluate.tiles import around, cell_of, upright
from chalcedon.evaluate.tiles import placed as placed_at
from chalcedon.files.svgout.forms import fill_rule, form, placed
from chalcedon.files.svgout.inks import Ground, color, ground, image_element, ink, ink_of, moved
from chalcedon.files.svgout.sheet import Attributes, Sheet, data, matrix, number, numbers, plain, xml
from chalcedon.files.svgout.words import is_simple, text_element
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.geometry.bends import bends_within
from chalcedon.geometry.boxes import inflate, is_empty, union
from chalcedon.geometry.flatten import affordable
from chalcedon.geometry.heads import with_heads
from chalcedon.geometry.stroke import Pen
from chalcedon.scene import Scene
from chalcedon.scene.axes import is_up
from chalcedon.scene.paints import GradientLook, Look, Pattern, Picture, look, turned_over

POINTER = {"fill": "visibleFill", "stroke": "visibleStroke", "all": "visible", "box": "bounding-box", "none": "none"}
USUAL_PEN = Pen()
_DRESS = frozenset(("visible", "pointer", "note", "label"))
FAR = 1e6
DEEPEST, MOST_REPEATED = 12, 100_000
"""Masks and tiles in one another, and elements that are written again in them."""
FINE = 0.01
"""How far the edge of a stroke that is written as an area may be from the true one, in local px."""


class Written(NamedTuple):
    """An SVG file, UTF-8, and sentences about what it says otherwise than the scene."""

    data: bytes
    notes: list[str]


def svg_bytes(
    source: Scene | DisplayList,
    outlines: bool = False,
    only: Sequence[Node] | None = None,
    area: Box | None = None,
    page: bool = True,
) -> Written:
    """A scene, or a display list at its moment, as SVG 2. With `outlines`, text is written as paths, which look the
    same where its fonts are missing. `only` are the shapes that are written, of an `area` in scene px; the `page` has a
    paint of its own."""
    display = source if isinstance(source, DisplayList) else DisplayList(source)
    try:
        with collector_paused():
            return _Writer(display, outlines, only).written(area or (0.0, 0.0, *display.scene.size), page)
    finally:
        if display is not source:
            display.detach()


class _Writer:
    def __init__(self, display: DisplayList, outlines: bool, only: Sequence[Node] | None) -> None:
        self.display = display
        self._only = None if only is None else {id(n) for leaf in only for n in upward(leaf)}
        self.sheet = Sheet(display.scene, outlines)
        self.sheet.tile = self._tile
        self._masking: list[Node] = []
        self._repeated = 0

    def written(self, area: Box, has_page: bool) -> Written:
        display = self.display
        place = area[0], area[1], area[2] - area[0], area[3] - area[1]
        size = {"width": number(place[2]), "height": number(place[3]), "viewBox": numbers(*place)}
        svg = Element("svg", {"xmlns": "http://www.w3.org/2000/svg", **size})
        body = self._inside(display.root)
        page = self._page() if has_page else None
        if len(self.sheet.defs):
            svg.append(self.sheet.defs)
        if page is not None:
            svg.append(page)
        root = display.root
        if root.kind.axes_up or root.opacity < 1.0 or root.clip is not None or root.values.get("isolate"):
            group = SubElement(svg, "g")
            self._dress(group, root, matrix(root.world) if root.kind.axes_up else "", root.world)
            group.extend(body)
        else:
            svg.extend(body)
        count = sum(len(cell.parts) for cell in display.formulas.every() if self._is_written(cell.node, has_page))
        if count:
            what = f"{count} formulas stand as what they come" if count > 1 else "1 formula stands as what it comes"
            self.sheet.note(f"{what} to now")
        return Written(xml(svg), self.sheet.notes)

    def _is_written(self, node: Node, has_page: bool) -> bool:
        return has_page if node is self.display.root else self._only is None or id(node) in self._only

    def _page(self) -> Element | None:
        width, height = self.display.scene.size
        paint = look(self.display.page.get("background", Scene.background.default), self.display.palette)
        if paint is None:
            return None
        out = Element("rect", {"width": number(width), "height": number(height)})
        box = 0.0, 0.0, width, height
        if is_up(self.display.scene) and isinstance(paint, GradientLook) and paint.units == "scene":
            paint = turned_over(paint, height)
        out.attrib |= ink(self.sheet, Ground(box, IDENTITY), paint, "fill", (0.0, 0.0), False)
        return out

    # the tree

    def _inside(self, group: Node, black: bool = False) -> list[Element]:
        """The elements of what is in a group. A cut-out masks those before it. `black`: for a mask, without colours."""
        out: list[Element] = []
        done: list[Node] = []
        for child in group.children:
            if self._only is not None and id(child) not in self._only:
                continue
            if child.cuts and child.visible:
                if out:
                    masked = Element("g", {"mask": self._cut_mask(group, done, child)})
                    masked.extend(out)
                    out = [masked]
                continue
            if child.visible or not black:
                out.append(self._element(child, black))
                done.append(child)
        return out

    def _element(self, node: Node, black: bool = False) -> Element:
        if not node.group:
            return self._leaf(node, black)
        group = Element("g")
        group.extend(self._inside(node, black))
        if black:
            group.set("transform", matrix(node.local))
            self._dim(group, node, node.world)
            return group
        x, y = node.local[4:]
        plain_move = node.local[:4] == IDENTITY[:4]
        transform = (f"translate({numbers(x, y)})" if x or y else "") if plain_move else matrix(node.local)
        return self._dressed(group, node, transform, node.world)

    def _leaf(self, node: Node, black: bool) -> Element:
        at, transform = placed(node)
        parts = list(self._parts(node, at, black))
        element = parts[0] if len(parts) == 1 else Element("g")
        if len(parts) != 1:
            element.extend(parts)
        if not black:
            space = node.world
            if node.shadow is not None:  # nothing else of a leaf asks for it
                space = space.after(Affine.translate(-at[0], -at[1]))
            return self._dressed(element, node, transform, space)
        if transform:
            element.set("transform", transform)
        self._dim(element, node, node.world)
        return element

    def _dressed(self, element: Element, node: Node, transform: str, space: Affine) -> Element:
        """An element with the transform, id and effects of a shape; `space` is the map from its own space to scene
        px. What casts a shadow and is transformed gets an element around it: shadows aren't turned."""
        if node.shadow is None or not transform or node.parent is None:
            self._dress(element, node, transform, space)
            return element
        element.set("transform", transform)
        around = Element("g")
        around.append(element)
        self._dress(around, node, "", node.parent.world)
        return around

    def _parts(self, node: Node, at: tuple[float, float], black: bool) -> Iterator[Element]:
        """What paints a shape: one element, or several for what SVG has no word for."""
        sheet = self.sheet
        if node.kind.image:
            found = image_element(sheet, node, at)
            if found is not None:
                yield found
            return
        fill = ink_of(sheet, node, node.fill, "fill", at, black)
        if fill == {"fill": "#000000"}:
            fill = {}  # which it is when nothing is said
        stroke = self._stroke(node, at, black)
        if node.kind.text:
            if sheet.outlines or not is_simple(node):
                yield from self._letters(node, at, fill, stroke, black)
            else:
                yield text_element(sheet, node, at, fill | stroke, black)
            return
        manner, tight = node.manner, bool(stroke) and self._bends_tightly(node)
        if stroke and (manner.align != "center" or manner.headed or tight):
            inner = form(node, at)
            inner.attrib |= fill
            if manner.align == "outside" and _covers(node.fill):  # over the stroke it leaves no seam
                yield self._line(node, at, stroke, tight, black)
                yield inner
                return
            if node.fill is not None and not manner.under:
                yield inner
            if manner.headed:
                yield from self._headed(node, at, stroke)
            else:
                line = self._line(node, at, stroke, tight, black)
                if manner.align != "center":
                    self._keep_side(node, at, line)
                yield line
            if node.fill is not None and manner.under:
                yield inner
            return
        whole = form(node, at)
        whole.attrib |= fill | stroke
        yield whole

    def _letters(
        self, node: Node, at: tuple[float, float], fill: Attributes, stroke: Attributes, black: bool
    ) -> Iterator[Element]:
        from chalcedon.scene.kinds.text import layout_of

        own = dict(node.letters or ())
        layout = layout_of(node.values)
        others = {g.mark for g in layout.glyphs} - own.keys()
        place = Affine.translate(node.shift[0] + at[0], node.shift[1] + at[1])
        for marks, paint in [(others, None), *(({mark}, p) for mark, p in own.items())]:
            outline = layout.marked(marks).mapped(place)
            if outline.verbs:
                inks = fill if marks is others else ink_of(self.sheet, node, paint, "fill", at, black)
                yield Element("path", {"d": data(outline), **inks, **stroke})

    def _stroke(self, node: Node, at: tuple[float, float], black: bool) -> Attributes:
        pen = node.pen
        if node.stroke is None or pen is None or pen.width <= 0.0:
            return {}
        out = ink_of(self.sheet, node, node.stroke, "stroke", at, black)
        if pen.width != 1.0:
            out["stroke-width"] = number(pen.width)
        if pen[1:] == USUAL_PEN[1:] and node.manner is PLAIN:
            return out
        for name, value, usual in (
            ("stroke-linecap", pen.cap, "butt"),
            ("stroke-linejoin", pen.join, "miter"),
            ("stroke-miterlimit", number(pen.miter_limit), "4"),
            ("stroke-dasharray", numbers(*pen.dash) if sum(pen.dash) > 0.0 else "", ""),
            ("stroke-dashoffset", number(pen.dash_offset) if sum(pen.dash) > 0.0 else "0", "0"),
            ("vector-effect", "non-scaling-stroke" if node.manner.steady else "", ""),
            ("paint-order", "stroke" if node.manner.under else "", ""),
        ):
            if value != usual:
                out[name] = value
        return out

    def _headed(self, node: Node, at: tuple[float, float], stroke: Attributes) -> Iterator[Element]:
        manner = node.manner
        line, heads = with_heads(
            node.outline.mapped(Affine.translate(*at)), manner.head, manner.start, manner.end, manner.mid
        )
        opacity = stroke.pop("stroke-opacity", "")
        group = Element("g", {"opacity": opacity} if opacity else {})  # else they would show where they overlap
        SubElement(group, "path", {"d": data(line), "fill": "none", **stroke})
        SubElement(group, "path", {"d": data(heads), "fill": stroke["stroke"]})
        if manner.steady:
            self.sheet.note("heads of strokes that keep their width grow with their shapes")
        yield group

    def _bends_tightly(self, node: Node) -> bool:
        """Whether a stroke is so wide that its inner edge would run back: renderers leave holes in it."""
        outline, pen = node.outline, node.pen
        if pen is None or node.manner.steady or not ("C" in outline.verbs or "Q" in outline.verbs):
            return False
        low, high = sorted((node.box[2] - node.box[0], node.box[3] - node.box[1]))
        if node.kind.smooth and low > 0.0:  # the least radius of an ellipse: b² / a
            return low * low / high < pen.width
        return bends_within(outline, pen.width / 2)

    def _line(self, node: Node, at: tuple[float, float], stroke: Attributes, tight: bool, black: bool) -> Element:
        """A stroke by itself."""
        if tight:
            return self._area(node, at, black)
        line = form(node, at)
        line.attrib |= {"fill": "none", **stroke}
        return line

    def _area(self, node: Node, at: tuple[float, float], black: bool) -> Element:
        """A stroke as a filled area."""
        self.sheet.note("a stroke wider than its line bends is written as an area")
        assert node.pen is not None
        fine = affordable(node.outline, FINE)
        area = StrokeArea(node.outline, node.pen, node.manner, fine, node.even_odd).outline()
        inks = ink(self.sheet, ground(node)._replace(apart=True), node.stroke, "fill", at, black)
        return Element("path", {"d": data(area.mapped(Affine.translate(*at))), **inks})

    def _keep_side(self, node: Node, at: tuple[float, float], line: Element) -> None:
        """Takes one side away of a stroke of twice the width."""
        shape = form(node, at)
        if node.manner.align == "inside":
            clip = Element("clipPath")
            clip.append(shape)
            shape.attrib |= fill_rule(node, "clip-rule")
            line.set("clip-path", self.sheet.define(clip, "clip"))
            return
        assert node.pen is not None
        area = inflate(moved(union([node.box, node.outline.bounds()]), at), node.pen.reach() + 1.0)
        mask = self._mask(area)
        mask.append(shape)
        line.set("mask", self.sheet.define(mask, "mask"))

    def _mask(self, area: Box) -> Element:
        """A mask that keeps all of an area."""
        place = _placed(area)
        mask = Element("mask", {"maskUnits": "userSpaceOnUse", **place})
        SubElement(mask, "rect", {**place, "fill": "#fff"})
        return mask

    def _cut_mask(self, group: Node, done: list[Node], cutter: Node) -> str:
        back = group.world.inverse()
        boxes = [leaf.cull for child in done for leaf in child.walk_leaves() if not is_empty(leaf.cull)]
        area = union(boxes) if boxes else (0.0, 0.0, 1.0, 1.0)
        area = tuple(max(-FAR, min(FAR, v)) for v in area)  # type: ignore[assignment]
        mask = self._mask(inflate(back.map_box(area), 2.0) if back is not None else area)
        mask.append(self._element(cutter, True))
        return self.sheet.define(mask, "cut")

    # what groups and shapes have in common

    def _dress(self, element: Element, node: Node, transform: str, space: Affine) -> None:
        """Gives an element the id, words, transform and effects of a shape."""
        shape, get = node.shape, node.values.get
        if shape.id:
            element.attrib = {"id": shape.id, **element.attrib}
        if transform:
            element.set("transform", transform)
        self._dim(element, node, space)
        if node.rare is NONE_RARE and node.values.keys().isdisjoint(_DRESS) and not node.group:
            return  # as most are
        if not get("visible", True):
            element.set("display", "none")
        pointer = get("pointer", "painted")
        if pointer in POINTER:
            element.set("pointer-events", POINTER[pointer])
        styles = [element.get("style", "")] if element.get("style") else []
        if node.blend != "normal":
            styles.append(f"mix-blend-mode:{node.blend}")
        if node.group and (get("isolate") or any(c.cuts for c in node.children)):
            styles.append("isolation:isolate")
        if styles:
            element.set("style", ";".join(styles))
        if node.shadow is not None:
            element.set("filter", self._shadow(node, space))
        for tag, text in (("desc", get("note", "")), ("title", get("label", ""))):
            if text:
                told = Element(tag)
                told.text = plain(text)
                element.insert(0, told)

    def _dim(self, element: Element, node: Node, space: Affine) -> None:
        """Says how much of a shape is seen: its opacity, and its clip."""
        if node.opacity < 1.0:
            element.set("opacity", number(node.opacity))
        if node.clip is not None and node.mask:
            element.set("mask", self._mask_by(space, node, node.clip))
        elif node.clip is not None:
            element.set("clip-path", self._clip(space, node.clip))

    def _mask_by(self, space: Affine, node: Node, by: Node) -> str:
        """A mask of what another shape paints, seen whether that is visible or not."""
        back = space.inverse()
        if back is None or by in self._masking or self._is_too_much():
            return "none"
        self._masking.append(by)
        culls = [leaf.cull for leaf in node.walk_leaves() if not is_empty(leaf.cull)]
        area = back.map_box(inflate(union(culls), 2.0)) if culls else (0.0, 0.0, 1.0, 1.0)
        mask = Element("mask", {"maskUnits": "userSpaceOnUse", **_placed(area)})
        if node.mask == "alpha":
            mask.set("style", "mask-type:alpha")
        self._again(mask, by, back.after(around(by)))
        self._masking.pop()
        return self.sheet.define(mask, "mask")

    def _again(self, into: Element, node: Node, place: Affine) -> None:
        """Writes a shape once more, seen whether it is visible or not, its space mapped by `place`."""
        holder = SubElement(into, "g", {"transform": matrix(place)})
        top = self._element(node)
        top.attrib.pop("display", None)
        holder.append(top)
        self._repeated += sum(1 for _ in holder.iter())
        for inner in holder.iter():
            inner.attrib.pop("id", None)  # which the shape itself has

    def _is_too_much(self) -> bool:
        """Whether masks and tiles in one another come to more than a file can be expected to hold."""
        if len(self._masking) < DEEPEST and self._repeated < MOST_REPEATED:
            return False
        self.sheet.note("masks and patterns within one another are left out where they multiply")
        return True

    def _tile(self, tile: Node, paint: Pattern, box: Box, over: bool) -> str:
        """The pattern that repeats a shape."""
        cell, place = cell_of(tile), placed_at(paint, box, over)
        if tile in self._masking or is_empty(cell) or self._is_too_much():
            return "none"
        self._masking.append(tile)
        size = {"width": number(cell[2] - cell[0]), "height": number(cell[3] - cell[1])}
        # renderers differ in where the inside of a pattern begins: at 0, 0 all agree
        pattern = Element("pattern", {"patternUnits": "userSpaceOnUse", **size, "patternTransform": matrix(place)})
        self._again(pattern, tile, upright(tile, cell))
        self._masking.pop()
        return self.sheet.define(pattern, "pattern")

    def _clip(self, space: Affine, by: Node) -> str:
        clip = Element("clipPath")
        back = space.inverse()
        for leaf in by.walk_leaves() if back is not None else ():
            assert back is not None
            transform = matrix(back.after(leaf.world))
            rule = fill_rule(leaf, "clip-rule")
            SubElement(clip, "path", {"d": data(leaf.outline), "transform": transform, **rule})
        return self.sheet.define(clip, "clip")

    def _shadow(self, node: Node, world: Affine) -> str:
        shadow = node.shadow
        assert shadow is not None
        back = Affine(*world[:4]).inverse()
        if back is None:
            return "none"
        if abs(world.stretch - world.shrink) > 1e-6 * world.stretch:
            self.sheet.note(f"the shadow of {node.shape.id} is stretched with it")
        dx, dy = back.map_vector(shadow.x, shadow.y)
        deviation = shadow.blur / 2 / math.sqrt(abs(world.determinant))
        reach = 1.6 * shadow.blur + math.hypot(shadow.x, shadow.y)
        culls = [leaf.cull for leaf in node.walk_leaves() if not is_empty(leaf.cull)]
        space = world.inverse()
        if not culls or space is None:
            return "none"
        x0, y0, x1, y1 = space.map_box(inflate(union(culls), reach))
        place = _placed((x0, y0, x1, y1))
        srgb = {"color-interpolation-filters": "sRGB"}
        element = Element("filter", {"filterUnits": "userSpaceOnUse", **place, **srgb})
        inks = color(shadow.color, "flood-color", "flood-opacity")
        SubElement(
            element, "feDropShadow", {"dx": number(dx), "dy": number(dy), "stdDeviation": number(deviation), **inks}
        )
        return self.sheet.define(element, "shadow")


def _placed(area: Box) -> Attributes:
    x0, y0, x1, y1 = area
    return {"x": number(x0), "y": number(y0), "width": number(x1 - x0), "height": number(y1 - y0)}


def _covers(fill: Look | None) -> bool:
    """Whether nothing shows through a paint."""
    if isinstance(fill, GradientLook):
        return all(rgba[3] == 255 for _offset, rgba in fill.stops)
    return fill is not None and not isinstance(fill, Pattern | Picture) and fill[3] == 255
