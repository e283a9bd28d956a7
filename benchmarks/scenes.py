"""Scenes for measuring: mixed shapes of about 10 px, spread so that about five boxes lie over any point."""

import math
import random

from chalcedon.scene import Ellipse, Polyline, Rect, Scene

SIDE = 14.2
OVER = 5.0
"""Boxes over a point."""


def mixed(count, seed=1, turned=True, pen=1.0, page=None):
    """Thirds of rects, ellipses and polygons; a `page` of (width, height) or one that fits the count."""
    chance = random.Random(seed)
    if page is None:
        height = math.sqrt(count * SIDE * SIDE / OVER / 1.6)
        page = (round(height * 1.6), round(height))
    shapes = []
    for i in range(count):
        at = round(chance.uniform(0, page[0]), 2), round(chance.uniform(0, page[1]), 2)
        paint = {"fill": f"#{chance.randrange(16**6):06x}", "stroke": "#22292e", "stroke_width": pen}
        if turned:
            paint["steps"] = [{"rotate": round(chance.uniform(-180, 180), 1)}]
        if i % 3 == 0:
            shapes.append(Rect(id=f"r{i}", at=at, size=(10, 8), anchor="center", **paint))
        elif i % 3 == 1:
            shapes.append(Ellipse(id=f"e{i}", at=at, radii=(5, 4), **paint))
        else:
            shapes.append(Polyline(id=f"p{i}", at=at, points=[(-5, -4), (5, -3), (2, 5)], closed=True, **paint))
    return Scene(shapes, size=page)
