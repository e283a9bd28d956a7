"""Where the tiles of a pattern lie."""

from __future__ import annotations

from chalcedon.evaluate.node import Node, bounds_under
from chalcedon.geometry import IDENTITY, Affine, Box
from chalcedon.scene.paints import Pattern
from chalcedon.scene.steps import compose


def cell_of(tile: Node) -> Box:
    """The box of a tile in the space it stands in: its own, or of a group that of its clip."""
    if tile.group and tile.clip is not None and not tile.mask:
        back = around(tile).inverse()
        if back is not None:
            return bounds_under(tile.clip, back.after(tile.clip.world))
    return bounds_under(tile, tile.local)


def around(tile: Node) -> Affine:
    """The map from the space that a tile stands in to scene px."""
    return tile.parent.world if tile.parent is not None else IDENTITY


def upright(tile: Node, cell: Box) -> Affine:
    """The map from the space that a tile stands in to one with its cell's top left corner, as it is seen, at 0, 0 and y
    running down."""
    if tile.kind.axes_up:
        return Affine(1.0, 0.0, 0.0, -1.0, -cell[0], cell[3])
    return Affine.translate(-cell[0], -cell[1])


def placed(pattern: Pattern, box: Box, over: bool = False) -> Affine:
    """The map from the space of the tiles, with the corner of the first at 0, 0, to that of a box that they fill; with
    `over`, y runs up in it."""
    corner = Affine(1.0, 0.0, 0.0, -1.0, box[0], box[3]) if over else Affine.translate(box[0], box[1])
    return corner.after(compose((0.0, 0.0), (0.0, 0.0), pattern.steps))
