"""Is the picture what the hit test says? Every px of a small page is held against the topmost hits around it."""

import numpy as np
from PySide6.QtGui import QImage

from chalcedon.evaluate import DisplayList
from chalcedon.hit import HitTester
from chalcedon.painter import render_image
from chalcedon.painter.export import headless


def pixels(image):
    """Red, green, blue of every px, as an array (height, width, 3) of int."""
    image = image.convertToFormat(QImage.Format.Format_RGBA8888)
    raw = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.bytesPerLine() // 4, 4)
    return raw[:, : image.width(), :3].astype(int)


class Agreement:
    """Compares a scene's picture, at `scale` px a scene px, with its hits. `colors` gives what is painted for a hit,
    or None where that isn't known; `ground` is the colour of the page."""

    def __init__(self, scene, scale=1.0, ground=(255, 255, 255)):
        headless()
        self.display = DisplayList(scene)
        self.tester = HitTester(scene, self.display)
        self.picture = pixels(render_image(self.display, scale))
        self.scale, self.ground = scale, ground
        self._known = {}

    def color(self, i, j):
        """What is hit at a point, counted in eighths of a px."""
        found = self._known.get((i, j))
        if found is None:
            hits = self.tester.hit_test(i / 8 / self.scale, j / 8 / self.scale, first=True)
            found = self._known[i, j] = self.paint(hits[0]) if hits else self.ground
        return found

    def paint(self, hit):
        node = hit._node
        look = node.stroke if hit.part == "stroke" else node.fill
        return tuple(look[:3]) if isinstance(look, tuple) and len(look) == 4 and look[3] == 255 else None

    def wrong(self, tolerance=255 // 8):
        """The px, as (x, y, painted, hit), all of whose surroundings are one paint by the hits and another to see.

        What is thinner than an eighth of a px may show in the picture without being met by a point, so a px counts
        when it is off by more than such a sliver can be: an eighth of white.
        """
        height, width, _ = self.picture.shape
        out = []
        painted = self.picture.tolist()
        for y in range(1, height - 1):
            for x in range(1, width - 1):
                hit = self.color(8 * x + 4, 8 * y + 4)
                if hit is None or all(abs(p - h) <= tolerance for p, h in zip(painted[y][x], hit, strict=True)):
                    continue
                corners = (
                    (8 * x - 4, 8 * y - 4),
                    (8 * x + 12, 8 * y - 4),
                    (8 * x - 4, 8 * y + 12),
                    (8 * x + 12, 8 * y + 12),
                )
                if any(self.color(*c) != hit for c in corners):
                    continue
                around = ((i, j) for i in range(8 * x - 4, 8 * x + 13) for j in range(8 * y - 4, 8 * y + 13))
                if all(self.color(i, j) == hit for i, j in around):
                    out.append((x, y, tuple(painted[y][x]), hit))
        return out
