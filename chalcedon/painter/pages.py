"""Pixmaps on which ready pictures lie side by side."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush, QPainter, QPainterPath, QPen, QPixmap, QTransform

PAGE = 1024
"""Px of a page's sides: all pictures of the largest look fit on one."""
MOST_PAGES = 16
"""Together 64 MB."""


class _Page:
    """A pixmap that is filled with blocks, in rows from the top."""

    def __init__(self) -> None:
        self.pixmap = QPixmap(PAGE, PAGE)
        self.pixmap.fill(Qt.GlobalColor.transparent)
        self.used = 0
        self._x = self._y = self._height = 0

    def place(self, width: int, height: int) -> tuple[int, int] | None:
        """Where a block goes; None when there is no room."""
        if self._x + width > PAGE:
            self._x, self._y, self._height = 0, self._y + self._height, 0
        if self._y + height > PAGE:
            return None
        at = self._x, self._y
        self._x, self._height = self._x + width, max(self._height, height)
        return at


class Plain(NamedTuple):
    """What paints a plain shape."""

    path: QPainterPath
    pen: QPen
    brush: QBrush


def draw(onto: QPixmap, area: tuple[int, int, int, int], matrix: QTransform, plain: Plain) -> None:
    """Paints a plain shape into an area (x, y, width, height) of a page; `matrix` maps its local space there."""
    painter = QPainter(onto)
    painter.setClipRect(*area)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setTransform(matrix)
    painter.setPen(plain.pen)
    painter.setBrush(plain.brush)
    painter.drawPath(plain.path)
    painter.end()


class Pages:
    """As many pages as are needed, up to a number."""

    def __init__(self) -> None:
        self._pages: list[_Page] = []
        self._refused = False
        self.frame = 0
        """The number of the frame."""

    @property
    def pixmaps(self) -> list[QPixmap]:
        """The pages, by their numbers."""
        return [page.pixmap for page in self._pages]

    def place(self, width: int, height: int) -> tuple[int, int, int] | None:
        """The page, and x and y on it, where there is room for a block. None when there is none."""
        for number in reversed(range(len(self._pages))):
            at = self._pages[number].place(width, height)
            if at is not None:
                return number, *at
        if len(self._pages) == MOST_PAGES:
            self._refused = True
            return None
        self._pages.append(_Page())
        at = self._pages[-1].place(width, height)
        return None if at is None else (len(self._pages) - 1, *at)

    def use(self, number: int) -> None:
        """To be called with each page that the frame shows something of."""
        self._pages[number].used = self.frame

    @property
    def worn(self) -> bool:
        """Whether there was no room, while pages are there that the last frames didn't use."""
        return self._refused and any(page.used < self.frame - 1 for page in self._pages)
