"""Strokes that the toolkit would paint otherwise than SVG defines them, as areas of the project's own.

Qt's stroker leaves holes where an outline bends more tightly than half the pen is wide, cuts dashes of curves at odd
angles and never joins them at the closing point, leaves out subpaths without length, and joins open ends that touch.
A line with heads is one area, so that nothing shows twice when it is translucent.
"""

from __future__ import annotations

import math

from PySide6.QtGui import QPainterPath

from chalcedon.evaluate import Node
from chalcedon.evaluate.node import TOLERANCE
from chalcedon.evaluate.strokes import StrokeArea
from chalcedon.geometry import Affine, Outline
from chalcedon.geometry.bends import bends_within
from chalcedon.geometry.dash import MAX_DASHES
from chalcedon.geometry.flatten import affordable
from chalcedon.geometry.path import subpaths
from chalcedon.geometry.stroke import Pen, dashes_at_most
from chalcedon.painter.heaps import bunches
from chalcedon.painter.outlines import painter_path

FINE = 0.04
"""How far the painted edge may be from the true one, in device px."""
MOST_LEVELS = 12
KEPT = 3
"""Of how many levels the paths of a stroke are kept."""
MOST_EDGES = 20_000
"""Edges of a stroke that is painted as an area; more of them take too long to be made and filled."""


def needs_area(node: Node) -> bool:
    """Whether the toolkit's stroke of a node isn't the one that SVG defines. The node must have a pen."""
    pen = node.pen
    assert pen is not None
    outline = node.outline
    if node.manner.headed or _is_dashed(outline, pen) or _odd(outline):
        return True
    if "C" not in outline.verbs and "Q" not in outline.verbs:
        return False
    half = pen.width / 2
    if node.manner.steady:
        return bends_within(outline.mapped(node.world), half)
    low, high = sorted((node.box[2] - node.box[0], node.box[3] - node.box[1]))
    if node.kind.smooth and low > 0.0:  # the least radius of an ellipse: b² / a
        return low * low / high / 2 < half * 1.02
    return bends_within(outline, half)


def _is_dashed(path: Outline, pen: Pen) -> bool:
    """Whether a pattern leaves gaps: one with more dashes than can be told apart doesn't."""
    if sum(pen.dash) <= 0.0:
        return False
    simple = path.verbs.count("M") == 1 and not set(path.verbs) - set("MLZ")  # then its length is that of its controls
    return not simple or dashes_at_most(path, pen) <= MAX_DASHES


def _odd(path: Outline) -> bool:
    """Whether a subpath has no length, or is open and ends where it began."""
    verbs = path.verbs
    if not (verbs.count("M") > verbs.count("Z") or "MZ" in verbs or len(verbs) <= 4):
        return False
    for sub in subpaths(path) if verbs.count("M") > 1 else (path,):
        own = sub.coords
        if own[:2] == own[-2:] and (not sub.verbs.endswith("Z") or all(v == own[k % 2] for k, v in enumerate(own))):
            return True
    return False


class AreaPaths:
    """The area of one node's stroke as paths to be filled, as fine as it was needed lately: on the canvas, in the
    small picture of its row, where edges of a cut-out are painted finely."""

    __slots__ = ("_kept",)

    def __init__(self) -> None:
        self._kept: dict[tuple[int, Affine | None], list[QPainterPath]] = {}

    def of(self, node: Node, scale: float) -> list[QPainterPath]:
        """One path, or the bunches of a heap (painter/heaps.py) to be filled as one area.

        `scale` is how many device px a px of the paths takes. Those of a steady stroke are in scene px, any other in
        local px."""
        steady = node.manner.steady
        level = max(0, min(MOST_LEVELS, math.ceil(math.log2(scale)) + 3)) if scale > 0.0 else 0
        world = node.world if steady else None
        paths = self._kept.pop((level, world), None)
        if paths is None:
            paths = self._made(node, level)
        self._kept[level, world] = paths  # the last in the order
        if len(self._kept) > KEPT:
            del self._kept[next(iter(self._kept))]
        return paths

    @staticmethod
    def _made(node: Node, level: int) -> list[QPainterPath]:
        steady = node.manner.steady
        line = node.outline.mapped(node.world) if steady else node.outline
        assert node.pen is not None
        tolerance = FINE / 2.0 ** (level - 3)
        if any(node.pen.dash):
            # where dashes end on a bend depends on how its length is measured: no coarser than the hit test does
            tolerance = min(tolerance, TOLERANCE / (1.0 if steady else max(node.world.stretch, 1e-9)))
        tolerance = affordable(line, tolerance, MOST_EDGES)
        area = StrokeArea(line, node.pen, node.manner, tolerance, node.even_odd)
        paths = [painter_path(part) for part in bunches(area.band.outline())]
        if area.heads.verbs:
            heads = painter_path(area.heads)
            if len(paths) == 1:
                paths[0].addPath(heads)
            else:
                paths.append(heads)
        return paths
