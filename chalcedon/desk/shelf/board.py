"""One board of the shelf: pictures of scenes that stand side by side, their names on the board's edge."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import (
    QAbstractListModel,
    QEvent,
    QItemSelectionModel,
    QModelIndex,
    QPersistentModelIndex,
    QRect,
    QRectF,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QFocusEvent, QKeyEvent, QPainter, QPaintEvent, QPen, QPixmap, QPixmapCache, QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem, QWidget

from chalcedon.desk.looks.plain import cut, tip_text
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.shelf.entries import Entry
from chalcedon.files.shelf import kept_file
from chalcedon.view.guarded import Guarded

CELL = QSize(236, 204)
WIDE, HIGH = 212, 132
"""Px of the largest picture."""
FOOT = 12 + HIGH
"""Where in a cell the board is."""
KEPT = 48_000
"""kB of pictures that are kept in memory."""
Index = QModelIndex | QPersistentModelIndex


class Entries(QAbstractListModel):
    """Entries as the list shows them, and as they are told."""

    def __init__(self) -> None:
        super().__init__()
        self.shown: list[Entry] = []

    def show(self, entries: Sequence[Entry]) -> None:
        self.beginResetModel()
        self.shown = list(entries)
        self.endResetModel()

    def rowCount(self, parent: Index | None = None) -> int:
        return 0 if parent is not None and parent.isValid() else len(self.shown)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        entry = self.shown[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return cut(entry.name, 200)
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip_text(entry.told())
        if role in (Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.AccessibleDescriptionRole):
            return f"{cut(entry.name, 200)}: {entry.told()}"
        return None


class Standing(Guarded, QStyledItemDelegate):
    """Paints an entry: its picture on the board, its name and a line about it below."""

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:
        return CELL

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        model = index.model()
        assert isinstance(model, Entries)
        entry, t, rect = model.shown[index.row()], theme(), option.rect
        state = option.state
        selected = bool(state & QStyle.StateFlag.State_Selected)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        plate = QRectF(rect.x() + 10, rect.y() + FOOT + 7, rect.width() - 20, 44)
        if selected or state & QStyle.StateFlag.State_MouseOver:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(t.color("selected" if selected else "sunken"))
            painter.drawRoundedRect(plate, 5, 5)
        if state & QStyle.StateFlag.State_HasFocus:
            painter.setPen(QPen(t.color("carnelian"), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(plate, 5, 5)
        self._picture(painter, entry, rect)
        quiet = entry.gone
        wrong = entry.summary is not None and bool(entry.summary.problem) and not entry.gone
        for text, face, ink, down in (
            (entry.name, font(14, bold=True), t.color("muted" if quiet else "ink"), 2),
            (entry.about(), font(12), t.color("carnelian" if wrong else "muted"), 22),
        ):
            painter.setFont(face)
            painter.setPen(ink)
            line = QRect(int(plate.x()) + 6, int(plate.y()) + down, int(plate.width()) - 12, 20)
            shown = painter.fontMetrics().elidedText(cut(text, 200), Qt.TextElideMode.ElideMiddle, line.width())
            painter.drawText(line, Qt.AlignmentFlag.AlignCenter, shown)
        painter.restore()

    def _picture(self, painter: QPainter, entry: Entry, rect: QRect) -> None:
        t = theme()
        picture = _pixmap(entry)
        size = _size(entry, picture)
        x, y = rect.x() + (rect.width() - size.width()) / 2, rect.y() + FOOT - size.height()
        place = QRectF(round(x), round(y), size.width(), size.height())
        painter.setPen(QPen(t.color("muted" if picture is None else "line"), 1.0))
        painter.setBrush(t.color("panel"))
        if picture is not None:
            painter.setOpacity(0.3 if entry.gone else 1.0)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            painter.drawPixmap(place, picture, QRectF(picture.rect()))
            painter.setOpacity(1.0)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        elif entry.kind != "new":
            painter.setPen(QPen(t.color("muted"), 1.0, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(place.adjusted(-0.5, -0.5, 0.5, 0.5))
        if entry.kind == "new":
            painter.setPen(QPen(t.color("carnelian"), 2.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            middle = place.center()
            painter.drawLine(middle.x() - 9, middle.y(), middle.x() + 9, middle.y())  # type: ignore[call-overload]
            painter.drawLine(middle.x(), middle.y() - 9, middle.x(), middle.y() + 9)  # type: ignore[call-overload]


def _pixmap(entry: Entry) -> QPixmap | None:
    if entry.kind == "new" or (entry.summary is not None and entry.summary.problem and not entry.gone):
        return None
    changed = entry.summary.changed if entry.summary is not None else 0
    key = f"shelf {changed} {entry.path}"
    picture = QPixmap()
    if QPixmapCache.find(key, picture):
        return picture
    if picture.load(str(kept_file(entry.path, ".png"))):
        QPixmapCache.insert(key, picture)
        return picture
    return None


def _size(entry: Entry, picture: QPixmap | None) -> QSize:
    if picture is not None:
        size = picture.size()
        return size.scaled(WIDE, HIGH, Qt.AspectRatioMode.KeepAspectRatio) if _larger(size) else size
    return QSize(HIGH * 4 // 3, HIGH) if entry.kind == "new" else QSize(HIGH, HIGH * 3 // 4)


def _larger(size: QSize) -> bool:
    return size.width() > WIDE or size.height() > HIGH


class Board(Guarded, QListView):
    """A list that is as high as what is in it. Beyond its first and last row the arrow keys leave it."""

    opened = Signal(object)
    chosen = Signal()
    left = Signal(int)
    """By an arrow key, upward (-1) or downward (1)."""
    typed = Signal(str)
    """A letter, which is for the search."""
    dropped = Signal(object)
    """The delete key was pressed on an entry."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        QPixmapCache.setCacheLimit(max(KEPT, QPixmapCache.cacheLimit()))
        self.entries = Entries()
        self.setModel(self.entries)
        self.setItemDelegate(Standing(self))
        self.setAccessibleName(name)
        self.setViewMode(QListView.ViewMode.IconMode)
        self.setMovement(QListView.Movement.Static)
        self.setResizeMode(QListView.ResizeMode.Adjust)
        self.setUniformItemSizes(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setMouseTracking(True)
        self.setFrameShape(QListView.Shape.NoFrame)
        for setting in (self.setHorizontalScrollBarPolicy, self.setVerticalScrollBarPolicy):
            setting(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setStyleSheet("QListView { background: transparent; border: none; }")
        self.doubleClicked.connect(lambda index: self.opened.emit(self.entries.shown[index.row()]))
        self.selectionModel().selectionChanged.connect(lambda *_: self.chosen.emit())
        self._columns = 1

    def show_entries(self, entries: Sequence[Entry]) -> None:
        """Shows entries. What of them was chosen stays so."""
        before = [e.path for e in self.selected()]
        current = self.current()
        self.entries.show(entries)
        self.selectionModel().blockSignals(True)  # nobody has chosen anything
        for row, entry in enumerate(self.entries.shown):
            index = self.entries.index(row)
            if entry.path in before and entry.kind != "new":
                self.selectionModel().select(index, QItemSelectionModel.SelectionFlag.Select)
            if current is not None and (entry.kind, entry.path) == (current.kind, current.path):
                self.selectionModel().setCurrentIndex(index, QItemSelectionModel.SelectionFlag.NoUpdate)
        self.selectionModel().blockSignals(False)
        self._fit()

    def selected(self) -> list[Entry]:
        """What is chosen, in order."""
        rows = sorted(i.row() for i in self.selectionModel().selectedIndexes())
        return [self.entries.shown[row] for row in rows]

    def current(self) -> Entry | None:
        row = self.currentIndex().row()
        return self.entries.shown[row] if 0 <= row < len(self.entries.shown) else None

    def enter(self, last: bool) -> None:
        """Goes to its first or last entry with the keys."""
        self.setFocus(Qt.FocusReason.TabFocusReason)
        self.setCurrentIndex(self.entries.index(len(self.entries.shown) - 1 if last else 0))

    def _fit(self) -> None:
        count = len(self.entries.shown)
        self._columns = max(1, (self.width() - 1) // CELL.width())
        self.setFixedHeight(-(-count // self._columns) * CELL.height() + 2)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        if self.entries.shown and event.reason() in (
            Qt.FocusReason.TabFocusReason,
            Qt.FocusReason.BacktabFocusReason,
        ):
            if not self.currentIndex().isValid():
                self.setCurrentIndex(self.entries.index(0))
            self.chosen.emit()

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and _is_own(event):
            event.accept()  # a letter is for the search, not for the command that has it as its key
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        row, count = self.currentIndex().row(), len(self.entries.shown)
        key = event.key()
        if key == Qt.Key.Key_Up and row < self._columns:
            self.left.emit(-1)
        elif key == Qt.Key.Key_Down and row // self._columns == (count - 1) // self._columns:
            self.left.emit(1)
        elif key == Qt.Key.Key_Left and row > 0:
            self.setCurrentIndex(self.entries.index(row - 1))
        elif key == Qt.Key.Key_Right and row < count - 1:
            self.setCurrentIndex(self.entries.index(row + 1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.current() is not None:
            self.opened.emit(self.current())
        elif key == Qt.Key.Key_Delete and self.current() is not None:
            self.dropped.emit(self.current())
        elif _is_letter(event):
            self.typed.emit(event.text())
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self.viewport())
        for row in range(-(-len(self.entries.shown) // self._columns)):
            edge = QRect(0, row * CELL.height() + FOOT + 1, self.viewport().width(), 3)
            painter.fillRect(edge, theme().color("desk"))
        painter.end()
        super().paintEvent(event)


def _is_letter(event: QKeyEvent) -> bool:
    plain = event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier)
    return plain and event.text().isprintable() and bool(event.text().strip())


def _is_own(event: QKeyEvent) -> bool:
    return _is_letter(event) or event.key() == Qt.Key.Key_Delete
