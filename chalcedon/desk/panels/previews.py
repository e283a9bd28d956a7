"""Small pictures of scenes side by side, each with its caption: to tell versions apart."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from chalcedon.desk.looks.plain import Label
from chalcedon.desk.looks.theme import font, theme
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.view import SceneView
from chalcedon.view.guarded import Guarded
from chalcedon.view.tiles import Colors

WIDTH, HEIGHT = 210, 140

Version = tuple[str, Callable[[], Scene]]
"""A caption, and what opens the scene; that may raise ChalcedonError."""


class Previews(Guarded, QWidget):
    """The pictures come when the window has been shown: opening a scene takes a moment."""

    def __init__(self, versions: Sequence[Version]) -> None:
        super().__init__()
        self._views: list[SceneView] = []
        self._over = False
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 4, 0, 6)
        row.setSpacing(16)
        for caption, opens in versions:
            column = QVBoxLayout()
            column.setSpacing(4)
            place = QWidget()
            place.setFixedSize(WIDTH, HEIGHT)
            label = Label(caption)
            label.setFont(font(12))
            column.addWidget(place)
            column.addWidget(label)
            row.addLayout(column)
            QTimer.singleShot(0, self, lambda place=place, opens=opens: self._fill(place, opens))
        row.addStretch(1)

    def _fill(self, place: QWidget, opens: Callable[[], Scene]) -> None:
        if self._over:
            return
        try:
            scene = opens()
        except ChalcedonError as problem:
            why = Label(problem.sentence, place)
            why.setWordWrap(True)
            why.setGeometry(0, 0, WIDTH, HEIGHT)
            why.show()
            return
        view = SceneView(scene, place, _colors)
        view.margin = 4.0
        view.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        view.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        view.setGeometry(0, 0, WIDTH, HEIGHT)
        view.show()
        self._views.append(view)

    def go(self) -> None:
        """Takes it off what it stands in, and throws it away."""
        self._over = True
        for view in self._views:
            view.shut()
        self._views = []
        self.hide()
        self.deleteLater()


def _colors() -> Colors:
    return Colors(theme().sunken, "#ffffff")
