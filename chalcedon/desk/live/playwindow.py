"""Only the picture of a scene, alive: what `chalcedon play` opens."""

from __future__ import annotations

import logging

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QCloseEvent, QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QApplication

from chalcedon.desk.live.player import Player
from chalcedon.desk.live.playing import FELT, Playing
from chalcedon.evaluate import DisplayList
from chalcedon.evaluate.kept import keep
from chalcedon.files import open_scene
from chalcedon.files.beside import scene_beside
from chalcedon.hit import HitTester
from chalcedon.live.osc import OscDoor, OscTeller
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Scene
from chalcedon.view.sceneview import Colors, SceneView

log = logging.getLogger(__name__)


class PlayWindow(SceneView):
    """The page of a scene as large as the window shows it, running. Escape leaves."""

    def __init__(
        self, scene: Scene, title: str, full: bool = False, door: OscDoor | None = None, teller: OscTeller | None = None
    ) -> None:
        self.door, self.teller = door, teller
        tester = _tester(scene)
        super().__init__(tester, colors=lambda: Colors("#000000", "#000000"))
        self.playing = Playing(self, lambda: self.player)
        self.lively = True
        self._begin(tester, title)
        width, height = scene.size
        screen = QApplication.primaryScreen().availableGeometry()
        scale = min(1.0, screen.width() * 0.9 / width, screen.height() * 0.9 / height)
        self.resize(round(width * scale), round(height * scale))
        if full:
            self.showFullScreen()
        else:
            self.show()

    def _begin(self, tester: HitTester, title: str) -> None:
        self.player = player = Player(tester.display, tester, self)
        player.moved.connect(self._stepped)
        # in the next turn: the run that asks for it is in the middle of a step
        player.gone_to.connect(self._go_to, Qt.ConnectionType.QueuedConnection)
        if self.door is not None:
            player.sources.append(self.door.pour)
        if self.teller is not None:
            player.doors.append(self.teller.follow)
        self.setWindowTitle(f"{title} · Chalcedon")
        player.enter()

    def _go_to(self, name: str) -> None:
        """Plays another scene of the folder instead. What is wrong with it is written to the log, and this one goes
        on."""
        try:
            path = scene_beside(self.display.scene, name)
            scene = open_scene(path).scene
        except ChalcedonError as problem:
            log.warning("%s", problem)
            return
        old = self.player
        old.leave()
        tester = _tester(scene)
        self.show_scene(tester)
        self._begin(tester, path.stem)
        old.deleteLater()
        self.fit()

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

    def event(self, event: QEvent) -> bool:
        if event.type() in FELT and self.playing.other(event):
            event.accept()
            return True
        return super().event(event)

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


def _tester(scene: Scene) -> HitTester:
    display = DisplayList(scene)
    keep(display, scene)
    return HitTester(scene, display)


def play(scene: Scene, title: str, full: bool, door: OscDoor | None = None, teller: OscTeller | None = None) -> int:
    """Opens a scene alive, and runs until its window is closed; `door` and `teller` connect it to other programs."""
    from chalcedon.desk.app import make_app

    app = make_app()
    window = PlayWindow(scene, title, full, door, teller)
    done: int = app.exec()
    if door is not None:
        door.close()
    del window
    return done
