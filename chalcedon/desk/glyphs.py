"""Kind glyphs and small marks, drawn by Chalcedon from its own shapes."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QIcon, QImage, QPixmap

from chalcedon.evaluate import DisplayList
from chalcedon.geometry import Affine
from chalcedon.painter.job import FORMAT, PaintJob
from chalcedon.scene import Scene
from chalcedon.source import parse_line

SIDE = 20

LINES = {
    "select": ["polyline 4 2 0 0 0 14 3.6 10.6 6.4 16 9 14.8 6.4 9.6 11 9.4 closed fill INK stroke none"],
    "line": ["line 4 15.5 12 -11", "circle 4 15.5 2 fill INK", "circle 16 4.5 2 fill INK"],
    "polyline": ["polyline 2.5 14 0 0 4.5 -8 8.5 4 14 -8"],
    "rect": ["rect 3 4.5 14 11 2 fill none stroke INK 1.7"],
    "circle": ["circle 10 10 7 fill none stroke INK 1.7"],
    "ellipse": ["ellipse 10 10 8 5 fill none stroke INK 1.7"],
    "arc": ["arc 10 10 7 7 -60 -250 pie fill none stroke INK 1.7 join round"],
    "annulus": ["annulus 10 10 3.4 7.2 fill none stroke INK 1.6"],
    "regular_polygon": ["regular_polygon 10 10.6 6 7.6 fill none stroke INK 1.7 join round"],
    "star": ["star 10 10.8 5 8.2 3.7 fill none stroke INK 1.6 join round"],
    "path": ["path 2.5 13.5 'M0 0 C3 -14 8 -14 8 -4 S12 6 15 -8' fill none stroke INK 1.7 cap round"],
    "text": ["line 4 4.5 12 0 stroke INK 2", "line 10 4.5 0 12 stroke INK 2", "line 7 16 6 0 stroke INK 1.4"],
    "image": [
        "rect 2.5 4 15 12 1.5 fill none stroke INK 1.6",
        "polyline 4 14 0 0 4 -5 6.5 -2 9 -4.5 12 0 closed fill INK stroke none",
        "circle 13.5 7.5 1.4 fill INK",
    ],
    "group": ["rect 3 3 9 9 1.5 fill none stroke INK 1.7", "rect 8 8 9 9 1.5 fill none stroke INK 1.7"],
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
    "grip": [
        "circle 8 6 1.1 fill INK",
        "circle 12 6 1.1 fill INK",
        "circle 8 10 1.1 fill INK",
        "circle 12 10 1.1 fill INK",
        "circle 8 14 1.1 fill INK",
        "circle 12 14 1.1 fill INK",
    ],
    "folded": ["polyline 7 5 0 0 7 5 0 10 closed fill INK stroke none"],
    "unfolded": ["polyline 5 7 0 0 10 0 5 7 closed fill INK stroke none"],
}


@lru_cache(maxsize=512)
def glyph(name: str, color: str, side: int = SIDE, ratio: float = 2.0) -> QPixmap:
    """A glyph in a colour, `side` widget px wide."""
    scene = Scene(size=(SIDE, SIDE), background=None)
    for text in LINES[name]:
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
