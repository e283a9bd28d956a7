"""Shapes that take more than one drawPath: images, aligned and steady strokes, arrow heads, opacity, effects."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QPoint, QRect, QRectF
from PySide6.QtGui import QImage, QPainter, QPainterPath, QTransform

from chalcedon.evaluate import Node
from chalcedon.geometry import Affine, Box
from chalcedon.geometry.boxes import inflate, is_empty, union
from chalcedon.painter.compose import Sheet, device_area, keep_inside, keep_outside, lay_down
from chalcedon.painter.convert import NO_BRUSH, NO_PEN, look_brush, make_pen, prepared
from chalcedon.painter.heaps import fill_heap
from chalcedon.painter.images import draw_picture
from chalcedon.painter.outlines import painter_path, transform
from chalcedon.painter.shadow import Caster, casting_area, coarseness, with_shadow
from chalcedon.painter.tiles import Draw, DrawNothing, tile_brush
from chalcedon.scene.paints import Look, Pattern, Picture


class Target:
    """A target being painted: its painter and image, the map from scene px to its px, where links lead, and what paints
    the tiles of patterns."""

    __slots__ = ("draw", "folder", "image", "painter", "view")

    def __init__(
        self, painter: QPainter, image: QImage, view: Affine, folder: str | None, draw: Draw | None = None
    ) -> None:
        self.painter, self.image, self.view, self.folder = painter, image, view, folder
        self.draw: Draw = draw or DrawNothing()

    def onto(self, sheet: Sheet) -> Target:
        """The canvas of a sheet that lies on this one."""
        shifted = Affine.translate(-sheet.origin.x(), -sheet.origin.y()).after(self.view)
        return Target(sheet.painter, sheet.image, shifted, self.folder, self.draw)


def paint_special(canvas: Target, node: Node) -> None:
    """Paints a shape that isn't plain, as one picture where its parts must fade, blend or cast a shadow together."""
    stroked = node.stroke is not None and node.pen is not None and node.pen.width > 0.0
    parts = (node.fill is not None) + stroked + (node.picture is not None)
    apart = node.shadow is not None or node.blend != "normal" or node.cuts or (node.opacity < 1.0 and parts > 1)
    if not apart:
        canvas.painter.setOpacity(node.opacity)
        _parts(canvas, node, stroked)
        canvas.painter.setOpacity(1.0)
        return
    area = device_area(extent_of(node), canvas.view, canvas.image.rect())
    if area.isEmpty():
        return
    sheet = Sheet(area)
    _parts(canvas.onto(sheet), node, stroked)
    sheet.end()
    caster = _caster(canvas, node, area, stroked) if node.shadow is not None else None
    lay(canvas, sheet, node, shadowed(canvas, sheet, node, caster))


def extent_of(node: Node) -> Box:
    """Where a shape may paint; hidden ones are painted as masks."""
    return node.cull if node.visible else node.extent()


def _caster(canvas: Target, node: Node, area: QRect, stroked: bool) -> Caster | None:
    """A picture of a shape where it casts a shadow into an area from, as coarse as the blur allows."""
    assert node.shadow is not None
    scale = canvas.view.stretch
    k = coarseness(node.shadow, scale)
    small = Affine.scale(1 / k, 1 / k).after(canvas.view)
    box = node.world.map_box(union([node.box, node.outline.bounds()]) if node.kind.overhangs else node.box)
    if stroked:
        box = union([box, _reach(node)])
    source = device_area(box, small, casting_area(area, node.shadow, scale, k))
    if source.isEmpty():
        return None
    sheet = Sheet(source)
    _parts(Target(canvas.painter, canvas.image, small, canvas.folder, canvas.draw).onto(sheet), node, stroked)
    sheet.end()
    return Caster(sheet.image, sheet.origin.x() * k, sheet.origin.y() * k, k, k)


def grown(area: QRect, group: Node, view: Affine) -> QRect:
    """The area of a group's picture: with room for what lies outside and casts a shadow into it, as far as the group
    reaches."""
    assert group.shadow is not None
    need = area.united(casting_area(area, group.shadow, view.stretch, 1))
    return area_of(group.shown_leaves(), need, view)


def area_of(nodes: Iterable[Node], within: QRect, view: Affine) -> QRect:
    """The whole px that some shapes may paint, of those within an area."""
    box = union([extent_of(n) for n in nodes])
    return QRect() if is_empty(box) else device_area(box, view, within)


def lay(canvas: Target, sheet: Sheet, node: Node, image: QImage) -> None:
    """Lays the picture of a shape or a group down, where its sheet was."""
    lay_down(canvas.painter, canvas.image, sheet.origin, image, node.opacity, node.blend, node.cuts)


def shadowed(canvas: Target, sheet: Sheet, node: Node, caster: Caster | None) -> QImage:
    """The picture on a sheet, with its shadow if it casts one."""
    if node.shadow is None or caster is None:
        return sheet.image
    return with_shadow(sheet.image, sheet.origin, caster, node.shadow, canvas.view.stretch)


def clip(image: QImage, view: Affine, by: Node) -> QImage:
    """Keeps what lies in the fill of the clipping shape, or of any shape in a clipping group. Gives the mask."""
    mask = Sheet(QRect(QPoint(0, 0), image.size()))
    mask.painter.setPen(NO_PEN)
    mask.painter.setBrush(look_brush((0, 0, 0, 255), by.box, by.world))
    for leaf in by.walk_leaves():
        mask.painter.setTransform(transform(view.after(leaf.world)))
        mask.painter.drawPath(prepared(leaf).path)
    mask.end()
    keep_inside(image, mask.image)
    return mask.image


def _parts(canvas: Target, node: Node, stroked: bool) -> None:
    filled = node.fill is not None or node.picture is not None or bool(node.letters)
    if not (stroked and filled and node.manner.align == "outside"):
        if stroked and node.manner.under:
            _stroke(canvas, node)
        _inside(canvas, node)
        if stroked and not node.manner.under:
            _stroke(canvas, node)
        return
    # along the outline a px is part fill, part stroke: laid over one another they would let a part of what is behind
    # through, so the parts are added up
    area = device_area(extent_of(node), canvas.view, canvas.image.rect())
    if area.isEmpty():
        return
    sheet = Sheet(area)
    both = canvas.onto(sheet)
    _inside(both, node)
    _stroke(both, node, QPainter.CompositionMode.CompositionMode_Plus)
    sheet.end()
    canvas.painter.resetTransform()
    canvas.painter.drawImage(sheet.origin, sheet.image)


def _inside(canvas: Target, node: Node) -> None:
    """The fill, and the picture of an image."""
    ready = prepared(node)
    painter = canvas.painter
    painter.setTransform(transform(canvas.view.after(node.world)))
    painter.setPen(NO_PEN)
    if node.letters:
        _letters(canvas, node)
    elif node.fill is not None:
        _fill(canvas, node, ready.path, node.fill)
    if node.picture is not None:
        scale = canvas.view.stretch * node.world.stretch
        draw_picture(painter, ready.path, node.box, node.picture.source, node.picture.fit, canvas.folder, scale)


def _letters(canvas: Target, node: Node) -> None:
    """A text some of whose letters have a paint of their own."""
    from chalcedon.scene.kinds.text import layout_of  # fonts are loaded by the first text

    layout = layout_of(node.values)
    own = dict(node.letters)
    others = {g.mark for g in layout.glyphs} - own.keys()
    for marks, paint in [(others, node.fill), *(({mark}, paint) for mark, paint in own.items())]:
        if paint is not None:
            outline = layout.marked(marks).mapped(Affine.translate(*node.shift))
            _fill(canvas, node, painter_path(outline), paint)


def _fill(canvas: Target, node: Node, path: QPainterPath, fill: Look) -> None:
    if isinstance(fill, Pattern | Picture):
        _lay(canvas, node, path, node.box, fill, node.tiles[0])
        return
    canvas.painter.setBrush(look_brush(fill, node.box, node.world))
    canvas.painter.drawPath(path)


def _lay(canvas: Target, node: Node, path: QPainterPath, box: Box, look: Pattern | Picture, tile: Node | None) -> None:
    """An image, or a pattern of a tile, in a path of a shape."""
    scale, over = canvas.view.stretch * node.world.stretch, node.kind.lie.up
    if isinstance(look, Picture):
        draw_picture(canvas.painter, path, box, look.source, look.fit, canvas.folder, scale, over)
        return
    brush = None if tile is None else tile_brush(tile, look, box, scale, canvas.draw, over)
    if brush is not None:
        canvas.painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        canvas.painter.fillPath(path, brush)


_OVER = QPainter.CompositionMode.CompositionMode_SourceOver


def _stroke(canvas: Target, node: Node, mode: QPainter.CompositionMode = _OVER) -> None:
    """The stroke and its heads. One that is aligned, or painted with an image, is made on a sheet and masked."""
    manner, look = node.manner, node.stroke
    picture = isinstance(look, Pattern | Picture)
    if manner.align == "center" and not picture:
        _draw_stroke(canvas, node, transform(canvas.view.after(node.world)))
        return
    area = device_area(_reach(node), canvas.view, canvas.image.rect())
    if area.isEmpty():
        return
    sheet = Sheet(area)
    on = canvas.onto(sheet)
    placed = transform(on.view.after(node.world))
    _draw_stroke(on, node, placed)
    sheet.end()
    if isinstance(look, Pattern | Picture):
        assert node.pen is not None
        box = inflate(node.box, node.pen.width / 2)
        reach = max(node.pen.reach(), node.manner.head)
        left, top, right, bottom = inflate(union([node.box, node.outline.bounds()]), reach)
        whole = QPainterPath()
        whole.addRect(QRectF(left, top, right - left, bottom - top))
        inks = Sheet(area)
        inks.painter.setTransform(placed)
        _lay(canvas.onto(inks), node, whole, box, look, node.tiles[1])
        inks.end()
        keep_inside(inks.image, sheet.image)
        sheet = inks
    if manner.align != "center":
        mask = Sheet(area)
        mask.painter.setTransform(placed)
        mask.painter.setPen(NO_PEN)
        mask.painter.setBrush(look_brush((0, 0, 0, 255), node.box, node.world))
        mask.painter.drawPath(prepared(node).path)
        mask.end()
        (keep_inside if manner.align == "inside" else keep_outside)(sheet.image, mask.image)
    canvas.painter.resetTransform()
    canvas.painter.setCompositionMode(mode)
    canvas.painter.drawImage(sheet.origin, sheet.image)
    canvas.painter.setCompositionMode(_OVER)


def _reach(node: Node) -> Box:
    """What the stroke can touch, shadows left out."""
    assert node.pen is not None
    reach = max(node.pen.reach(), node.manner.head)
    box = union([node.box, node.outline.bounds()]) if node.kind.overhangs else node.box
    if node.manner.steady:
        return inflate(node.world.map_box(box), reach)
    return node.world.map_box(inflate(box, reach))


def _draw_stroke(canvas: Target, node: Node, matrix: QTransform) -> None:
    painter, manner = canvas.painter, node.manner
    ready = prepared(node)
    world = node.world
    assert node.pen is not None
    brush = look_brush(node.stroke, node.box, world)
    if manner.steady:
        matrix = transform(canvas.view)
        # the paint keeps to the shape; only the width is that of the scene
        brush.setTransform(brush.transform() * transform(world))
    painter.setTransform(matrix)
    if ready.area is not None:
        scale = canvas.view.stretch * (1.0 if manner.steady else world.stretch)
        paths = ready.area.of(node, scale)
        if len(paths) > 1:
            fill_heap(painter, canvas.image, paths, brush, matrix)
            return
        painter.setPen(NO_PEN)
        painter.setBrush(brush)
        painter.drawPath(paths[0])
        return
    painter.setBrush(NO_BRUSH)
    painter.setPen(make_pen(brush, node.pen))
    painter.drawPath(painter_path(node.outline.mapped(world)) if manner.steady else ready.path)
