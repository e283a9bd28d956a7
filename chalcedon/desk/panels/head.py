"""The head of the window: menus, title and the way to the finder, in one line."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QMenuBar, QSizePolicy, QWidget

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.plain import Label, cut
from chalcedon.desk.looks.theme import font, theme
from chalcedon.view.guarded import Guarded


class Head(Guarded, QWidget):
    """Menus, title and the way to the finder, in one line."""

    def __init__(self, find: Callable[[], object], cancel: Callable[[], object]) -> None:
        super().__init__()
        self.work = Label("")
        self.cancel = Button("Cancel")
        self.cancel.setFixedHeight(23)
        self.cancel.clicked.connect(lambda: cancel())
        self._share = -1.0
        self.setFixedHeight(33)
        self.menus = QMenuBar()
        self.menus.setNativeMenuBar(False)
        self.title, self.dot = Label("", self), Label("●", self)
        for label in (self.title, self.dot):
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._name = ""
        self.search = Button("Find anything")
        self.search.setMinimumWidth(96)
        self.search.setMaximumWidth(246)
        self.search.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.search.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.search.setAccessibleName("Find anything, Ctrl+K")
        self.search.clicked.connect(lambda: find())
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 12, 0)
        layout.addWidget(self.menus, 0, Qt.AlignmentFlag.AlignVCenter)
        layout.addStretch(1)
        layout.addWidget(self.work)
        layout.addWidget(self.cancel)
        layout.addSpacing(6)
        layout.addWidget(self.search, 2)
        self.show_work("", 0, 0)
        self.key = Label("Ctrl+K", self.search)
        self.key.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.key.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def restyle(self) -> None:
        t = theme()
        self.menus.setFont(font())
        self.title.setFont(font(bold=True))
        self.title.setStyleSheet(f"color: {t.ink}")
        self.dot.setFont(font(bold=True))
        self.dot.setStyleSheet(f"color: {t.carnelian}")
        self.search.setStyleSheet(
            f"QPushButton {{ text-align: left; color: {t.muted}; background: {t.sunken};"
            f" border: 1px solid {t.line}; padding: 2px 10px; }}"
            f"QPushButton:hover {{ border-color: {t.muted}; }}"
        )
        self.work.setFont(font(12))
        self.work.setStyleSheet(f"color: {t.muted}")
        self.cancel.setFont(font(12))
        self.cancel.setStyleSheet("padding: 0 8px;")
        self.key.setFont(font(12))
        self.key.setStyleSheet(f"color: {t.muted}; background: transparent;")

    def show_title(self, name: str, changed: bool) -> None:
        """The name of the scene, and a dot while something of it isn't saved."""
        self._name = name
        self.dot.setVisible(changed)
        self._place_title()

    def show_work(self, name: str, at: int, of: int) -> None:
        """What is being written beside the window, and how far it is: a line along the foot of the head. No name:
        nothing is."""
        self.work.setText(f"{cut(name, 30)} {f'{at} of {of}' if of else '…'}" if name else "")
        self.work.setAccessibleName(f"Writing {self.work.text()}" if name else "")
        self.cancel.setAccessibleName(f"Cancel {cut(name, 60)}")
        for widget in (self.work, self.cancel):
            widget.setVisible(bool(name))
        self._share = (at - 1) / of if of else 0.0 if name else -1.0
        self.update()

    def _place_title(self) -> None:
        left = self.menus.sizeHint().width() + 12
        right = self.width() - self.search.width() - 16
        if self._share >= 0.0:
            right = self.work.x() - 12
        dot = self.dot.sizeHint().width() + 4
        room = max(0, min(320, right - left - dot))
        text = self.title.fontMetrics().elidedText(cut(self._name, 200), Qt.TextElideMode.ElideMiddle, room)
        self.title.setText(text)
        width = min(room, self.title.sizeHint().width())
        x = int(max(left, min((self.width() - width) / 2, right - width - dot)))
        self.title.setGeometry(x, 0, width, self.height())
        self.dot.setGeometry(x + width + 4, 0, dot, self.height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.layout().activate()  # type: ignore[union-attr]
        width = self.search.width()
        self.key.setVisible(width > 180)
        self.key.setGeometry(0, 0, width - 10, 23)
        self._place_title()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme().color("panel"))
        painter.setPen(theme().color("line"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        if self._share >= 0.0:
            painter.fillRect(
                0, self.height() - 3, max(24, int(self.width() * self._share)), 3, theme().color("chrysoprase")
            )
        painter.end()
