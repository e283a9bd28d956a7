"""A list of differences, a line each: of what, what, before, after."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QTreeWidget, QTreeWidgetItem

from chalcedon.desk.looks.plain import cut
from chalcedon.desk.looks.theme import font, theme
from chalcedon.source.told import Told
from chalcedon.view.guarded import Guarded

MOST = 500
"""Lines of a list."""
MOST_SHOWN = 10
LINE, HEADER = 24, 34
"""Px of a line, and of the titles above them."""
WIDTHS = (120, 120, 170)
"""Px of the columns but the last."""


class DifferenceList(Guarded, QTreeWidget):
    """Enter or a double click on a line calls `chosen` with its number."""

    def __init__(self, chosen: Callable[[int], object]) -> None:
        super().__init__()
        self._chosen = chosen
        self.setRootIsDecorated(False)
        self.setUniformRowHeights(True)
        self.setFont(font())
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setMinimumWidth(560)
        self.setAccessibleName("Differences")
        self.itemDoubleClicked.connect(lambda item, _column: self._choose(item))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        item = self.currentItem()
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and item is not None:
            self._choose(item)
        else:
            super().keyPressEvent(event)

    def _choose(self, item: QTreeWidgetItem) -> None:
        number = item.data(0, Qt.ItemDataRole.UserRole)
        if number is not None:
            self._chosen(number)

    def fill(self, titles: Sequence[str], told: Sequence[Told]) -> None:
        """Shows differences under some titles. Without any, there is one empty line."""
        self.clear()
        self.setColumnCount(len(titles))
        self.setHeaderLabels([cut(t, 30) for t in titles])
        for i, width in enumerate(WIDTHS):
            self.setColumnWidth(i, width)
        for i, t in enumerate(told[:MOST]):
            item = QTreeWidgetItem([t.who, t.what, t.before, t.after])
            item.setData(0, Qt.ItemDataRole.UserRole, i)
            self.addTopLevelItem(item)
        if len(told) > MOST:
            self.addTopLevelItem(QTreeWidgetItem(["", f"and {len(told) - MOST} more"]))
        self.setFixedHeight(min(max(self.topLevelItemCount(), 1), MOST_SHOWN) * LINE + HEADER)

    def chosen(self) -> set[int]:
        """The numbers of the lines that are selected."""
        found = (item.data(0, Qt.ItemDataRole.UserRole) for item in self.selectedItems())
        return {number for number in found if number is not None}

    def restyle(self) -> None:
        """Takes the colours of the theme."""
        t = theme()
        self.setStyleSheet(
            f"QTreeWidget {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.line}; outline: 0; }}"
            f"QTreeWidget::item {{ height: {LINE}px; }}"
            f"QTreeWidget::item:selected {{ background: {t.selected}; color: {t.ink}; }}"
            f"QHeaderView::section {{ background: {t.paper}; color: {t.muted}; border: none; padding: 4px 3px; }}"
        )
