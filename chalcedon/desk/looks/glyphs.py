"""Kind glyphs and small marks, drawn by Chalcedon from its own shapes."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QIcon, QImage, QPixmap

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.scene import KINDS, Scene
from chalcedon.source import parse_line

SIDE = 20

MARKS = {
    "select": ["polyline 4 2 0 0 0 14 3.6 10.6 6.4 16 9 14.8 6.4 9.6 11 9.4 closed fill INK stroke none"],
    "freehand": [
        "path 2.5 14 'M0 0 C1 -8 5 -11 6.5 -7 S3 1 7 1 S10 -8 15 -9' fill none stroke INK 1.6 cap round",
        "circle 17.2 4.6 1.6 fill INK",
    ],
    "unknown": ["circle 10 10 6.5 fill none stroke INK 1.7 dash 3 2"],
    "eye": ["ellipse 10 10 7.5 4.6 fill none stroke INK 1.5", "circle 10 10 2.2 fill INK"],
    "closed eye": [
        "line 3 10 14 0 stroke INK 1.5 cap round",
        "line 5.5 12.5 1 1.6 stroke INK 1.4",
        "line 10 13.2 0 2 stroke INK 1.4",
        "line 14.5 12.5 -1 1.6 stroke INK 1.4",
    ],
    "lock": ["rect 5 9 10 7.5 1.5 fill INK", "polyline 6.8 9 0 0 0 -3 1.2 -4.6 5.2 -4.6 6.4 -3 6.4 0 stroke INK 1.6"],
    "open lock": [
        "rect 5 9 10 7.5 1.5 fill none stroke INK 1.4",
        "polyline 6.8 9 0 0 0 -3 1.2 -4.6 5.2 -4.6 6.4 -3 stroke INK 1.4",
    ],
    "no pointer": [
        "polyline 6 3 0 0 0 11 2.8 8.4 5 12.4 7 11.4 5 7.6 8.6 7.4 closed fill none stroke INK 1.3",
        "line 3 16.5 14 -13 stroke INK 1.6",
    ],
    "lost": [
        "circle 10 10 6.5 fill none stroke INK 1.3 dash 2.6 1.8",
        "circle 10 10 1.6 fill INK",
    ],
    "grip": [
        "circle 8 6 1.1 fill INK",
        "circle 12 6 1.1 fill INK",
        "circle 8 10 1.1 fill INK",
        "circle 12 10 1.1 fill INK",
        "circle 8 14 1.1 fill INK",
        "circle 12 14 1.1 fill INK",
    ],
    "play": ["polyline 6 4 0 0 10 6 0 12 closed fill INK stroke none"],
    "pause": ["rect 5.5 4.5 3 11 0.6 fill INK", "rect 11.5 4.5 3 11 0.6 fill INK"],
    "one step": ["rect 5 4.5 2.2 11 0.6 fill INK", "polyline 9 4.5 0 0 7.5 5.5 0 11 closed fill INK stroke none"],
    "to zero": ["rect 4 4.5 2.2 11 0.6 fill INK", "polyline 16 4.5 0 0 -8.5 5.5 0 11 closed fill INK stroke none"],
    "folded": ["polyline 7 5 0 0 7 5 0 10 closed fill INK stroke none"],
    "unfolded": ["polyline 5 7 0 0 10 0 5 7 closed fill INK stroke none"],
}


@lru_cache(maxsize=512)
def glyph(name: str, color: str, side: int = SIDE, ratio: float = 2.0) -> QPixmap:
    """A glyph in a colour, `side` widget px wide."""
    scene = Scene(size=(SIDE, SIDE), background=None)
    lines = MARKS.get(name) or KINDS[name].glyph
    for text in lines:
        line = text.replace("INK", color)
        if "stroke" not in line and text.startswith(("line", "polyline")):
            line += f" stroke {color} 1.7 cap round join round"
        scene.add(parse_line(line))
    display = DisplayList(scene)
    pixels = round(side * ratio)
    image = QImage(pixels, pixels, FORMAT)
    image.fill(Qt.GlobalColor.transparent)
    PaintJob(display, display.order, image, Affine.scale(pixels / SIDE, pixels / SIDE)).run()
    out = QPixmap.fromImage(image)
    out.setDevicePixelRatio(ratio)
    return out


def icon(name: str, color: str) -> QIcon:
    return QIcon(glyph(name, color, 22))
