"""Only the picture of a scene, alive: what `chalcedon play` opens."""

from __future__ import annotations

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QApplication

from chalcedon.desk.live.player import Player
from chalcedon.desk.live.playing import Playing
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.kept import keep
from chalcedon.hit import HitTester
from chalcedon.scene import Scene
from chalcedon.view.sceneview import Colors, SceneView

WHOLE = 0.2
"""Seconds that a frame may take: rather fewer frames than parts of two moments in one."""


class PlayWindow(SceneView):
    """The page of a scene as large as the window shows it, running. Escape leaves."""

    def __init__(self, scene: Scene, title: str, full: bool = False) -> None:
        self.scene_display = DisplayList(scene)
        keep(self.scene_display, scene)
        tester = HitTester(scene, self.scene_display)
        super().__init__(tester, colors=lambda: Colors("#000000", "#000000"))
        self.player = Player(self.scene_display, tester, self)
        self.playing = Playing(self, lambda: self.player)
        self.patience = WHOLE
        self.player.moved.connect(self._stepped)
        self.setWindowTitle(f"{title} · Chalcedon")
        width, height = scene.size
        screen = QApplication.primaryScreen().availableGeometry()
        scale = min(1.0, screen.width() * 0.9 / width, screen.height() * 0.9 / height)
        self.resize(round(width * scale), round(height * scale))
        self.player.enter()
        if full:
            self.showFullScreen()
        else:
            self.show()

    def fit(self) -> None:
        """Shows the whole page, as large as there is room for."""
        width, height = self.display.scene.size
        self.view.fit((0, 0, width, height), self.area(), margin=0, most=64.0)
        self._view_moved()
        self._fits = True

    def _stepped(self) -> None:
        cursor = self.playing.cursor()
        if cursor != self.cursor().shape():
            self.setCursor(cursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.playing.press(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.playing.press(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.playing.move(event)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self.playing.release(event)

    def leaveEvent(self, event: QEvent) -> None:
        self.playing.leave()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.playing.wheel(event)
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            self.playing.key(event, True)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        self.playing.key(event, False)

    def closeEvent(self, event: QCloseEvent) -> None:
        self.player.leave()
        self.shut()
        super().closeEvent(event)


def play(scene: Scene, title: str, full: bool) -> int:
    """Opens a scene alive, and runs until its window is closed."""
    from chalcedon.desk.app import make_app

    app = make_app()
    window = PlayWindow(scene, title, full)
    done: int = app.exec()
    del window
    return done
