"""One picture of each main view, made from the demo scene in a window of 1280 x 800."""

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget


class Studio:
    """A window whose scene is the demo, and the folder its pictures go to."""

    def __init__(self, folder: Path) -> None:
        from chalcedon.desk.app import open_window, settings

        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)
        self.window = open_window(settings(), "plaster")
        self.window._sure = True
        self.window.resize(1280, 800)
        self.session = self.window.session
        self.window.show()

    def fresh(self) -> None:
        from chalcedon.demos import demo_scene

        self.session.new(demo_scene("harbour"), "harbour at night")
        self.window.messages.dismiss()
        QTest.qWait(250)

    def settle(self) -> None:
        """Waits until all of the picture is painted."""
        canvas = self.window.canvas
        QTest.qWait(150)
        self.window.ledger.thumbs.hurried = False
        canvas.tiles.refine(canvas.view, canvas.width(), canvas.height(), 30.0)

    def shoot(self, name: str) -> None:
        self.settle()
        self.window.grab().save(str(self.folder / f"{name}.png"))

    def shoot_with(self, panel: QWidget, name: str) -> None:
        """The window with a popup, which is a window of its own, and not in the picture of the other."""
        self.settle()
        shot = self.window.grab()
        painter = QPainter(shot)
        painter.drawPixmap(panel.pos() - self.window.pos(), panel.grab())
        painter.end()
        shot.save(str(self.folder / f"{name}.png"))
        panel.close()

    def focus(self, id: str, cell: tuple[str, str, tuple[int, ...]]) -> None:
        ledger = self.window.ledger
        self.session.select([self.session.scene[id]])
        ledger.setFocus()
        ledger.focus_key = cell
        ledger.keys.tell_focus()
        QTest.qWait(50)
        ledger.viewport().update()

    def click(self, x: float, y: float, press: bool = True) -> None:
        canvas = self.window.canvas
        wx, wy = canvas.view.to_widget(x, y)
        spot = QPoint(int(wx), int(wy))
        QTest.mouseMove(canvas, spot)
        if press:
            QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)


def main_window(s: Studio) -> None:
    s.focus("sail", ("number", "at", (0,)))
    s.window.probe.follow((518, 452))
    s.shoot("main-window")


def steps(s: Studio) -> None:
    deck = s.session.scene["deck"]
    deck.steps = [{"rotate": -12}, {"scale": [1.2, 1]}]
    deck.stroke, deck.stroke_width, deck.dash = "#22292e", 2, (6, 3)
    s.session.flush()
    s.window.canvas.view.fit((560, 360, 1000, 620), s.window.canvas.area())
    s.window.canvas.view_changed.emit()
    s.focus("deck", ("number", "steps", (0, 0)))
    s.window.probe.follow((760, 540))
    s.shoot("steps-and-measure")


def gradient(s: Studio) -> None:
    hull = s.session.scene["hull"]
    hull.steps = [{"rotate": -6}, {"scale": [1.1, 1]}]
    s.session.flush()
    s.window.canvas.view.fit((350, 330, 640, 560), s.window.canvas.area())
    s.window.canvas.view_changed.emit()
    s.focus("hull", ("paint", "fill", ()))
    s.window.probe.follow((470, 470))
    s.shoot("gradient-and-steps")


def points(s: Studio) -> None:
    s.window.canvas.view.fit((380, 330, 620, 520), s.window.canvas.area())
    s.window.canvas.view_changed.emit()
    s.window.canvas.edit_points(s.session.scene["sail"])
    x, y = s.session.node(s.session.scene["sail"]).world.map(66, -4)
    s.click(x, y)
    s.window.probe.follow((x, y))
    s.shoot("point-editing")
    s.window.canvas.set_kind("")


def checkup(s: Studio) -> None:
    from chalcedon.scene import Path

    pennant = Path(id="pennant_2", at=(560, 250), data="M0 -70 L41 57 L-66 -22 L66 -22 L-41 57 Z")
    pennant.fill, pennant.stroke, pennant.stroke_width = "#f1e4bd", "#b8482a", 5
    s.session.scene.add(pennant)
    s.session.flush()
    s.window.run_command("outline.check")
    s.shoot("check-up")
    s.window.messages.dismiss()


def palette(s: Studio) -> None:
    s.session.select([s.session.scene["hull"]])
    s.window.show_palette()
    s.shoot_with(s.window.palette_panel, "palette")


def versions(s: Studio) -> None:
    from chalcedon.files.versions import versions as kept_versions

    scene, files = s.session.scene, s.window.files
    path = Path(tempfile.mkdtemp()) / "harbour.chal"
    files._save(path)
    edits = (("beam", "visible", False), ("moon", "steps", [{"scale": 1.4}]), ("hull", "fill", "#3e7f65"))
    for id, name, value in edits:
        scene[id].assign(name, value)
        s.session.flush()
        files.save()
    os.environ["TZ"] = "UTC"
    time.tzset()
    for i, version in enumerate(reversed(kept_versions(path))):  # the picture is the same whenever it is made
        at = 1_764_151_200_000 + i * 1_870_000
        version.file.rename(version.file.with_name(f"{at}-{version.file.name.split('-')[1]}"))
    s.session.undo()
    scene["buoy"].at = (330, 500)
    s.session.flush()
    s.window.messages.dismiss()
    files.show_versions()
    QTest.qWait(1500)
    s.shoot_with(files.versions_panel, "versions")


def polyline(s: Studio) -> None:
    canvas = s.window.canvas
    canvas.set_kind("polyline")
    for x, y in ((500, 250), (700, 200), (820, 330), (640, 420)):
        s.click(x, y)
    s.click(530, 380, press=False)
    s.shoot("polyline-by-clicks")
    canvas.tool.points.clear()  # type: ignore[attr-defined]
    canvas.set_kind("")


def new_line(s: Studio) -> None:
    line = s.window.newline
    s.session.select([s.session.scene["quay"]])
    line.entry.setFocus()
    QTest.keyClicks(line.entry, "circle 200 120 40 ro")
    s.shoot("new-line")
    line.entry.clear()
    line.list.hide()


def living(s: Studio) -> None:
    player = s.session.document.player
    s.session.select([s.session.scene["lamp"]])
    s.window.ledger.reveal(s.session.scene["lamp"])
    player.enter()
    player._timer.stop()  # the clock is in our hands, so that the picture is the same every time
    assert player.live is not None
    player.live.inputs["tide"] = 0.5
    for i in range(150):
        player.live.pointer_move(480 + min(i * 3, 300), 300)
        if i == 120:
            player.live.click(912, 422)
        player.live.advance()
    player.moved.emit()
    s.window.living.log.refresh()
    s.shoot("living")
    player.leave()


def panel(s: Studio) -> None:
    s.window.files.open_demo("greenhouse")
    scene, player = s.session.scene, s.session.document.player
    s.session.select([scene["most_mark"]])
    s.window.ledger.reveal(scene["most_mark"])
    s.window.ledger.keys.focus_property("at")
    player.enter()
    player._timer.stop()
    assert player.live is not None
    player.live.inputs["sun"] = 90
    for i in range(160):
        if i == 20:
            player.live.click(686, 408)
        player.live.pointer_move(770, 408)
        player.live.advance()
    player.moved.emit()
    s.window.living.log.refresh()
    s.shoot("greenhouse-panel")
    player.leave()


def shelf(s: Studio) -> None:
    """The shelf with a folder of scenes, one of which is chosen; a file of late has gone."""
    home = os.environ["HOME"]
    os.environ["HOME"] = tempfile.mkdtemp()
    try:
        _shelf(s, Path(os.environ["HOME"]) / "scenes")
    finally:
        os.environ["HOME"] = home


def _shelf(s: Studio, folder: Path) -> None:
    from chalcedon import Rect, Scene, save_scene
    from chalcedon.demos import demo_scene

    folder.mkdir()
    os.environ["TZ"] = "UTC"
    time.tzset()
    harbour, greenhouse = demo_scene("harbour"), demo_scene("greenhouse")
    harbour.background = "#b8482a"
    save_scene(harbour, folder / "evening at the quay.chal")
    save_scene(greenhouse, folder / "house three.chal")
    inks = ["#b8482a", "#3e7f65", "#7fa3b8", "#efe6d4", "#22292e"]
    for name, width, height, step in (("runner", 300, 640, 20), ("twill", 600, 400, 25)):
        cloth = Scene(size=(width, height), background="#efe6d4")
        for y in range(0, height, step // 2):
            for x in range(0, width, step):
                at, ink = (x + y % step, y), inks[(x // step + 2 * y // step) % 5]
                cloth.add(Rect(at=at, size=(step * 0.8, step * 0.4), fill=ink))
        save_scene(cloth, folder / f"{name}.chal")
    for day, file in enumerate(sorted(folder.glob("*.chal"))):
        os.utime(file, (1.7e9 + 1e6 * day, 1.7e9 + 1e6 * day))
    s.window.settings.remove("recent")
    s.window.files.recent_files.put(str(folder / "lamp.chal"))
    s.window.files.recent_files.put(str(folder / "twill.chal"))
    s.window.show_shelf()
    page = s.window.shelving.page
    assert page is not None
    page.add_folder(str(folder))
    for _ in range(200):
        QTest.qWait(100)
        if not page.looking.busy:
            break
    board = page.sections[-1].board
    board.setFocus()
    board.setCurrentIndex(board.entries.index(1))
    page.area.verticalScrollBar().setValue(0)
    s.shoot("shelf")


def basalt(s: Studio) -> None:
    s.window.set_theme("basalt")
    s.session.select([s.session.scene["boat"]])
    s.window.probe.follow((470, 480))
    s.window.finder.open()
    QTest.keyClicks(s.window.finder.entry, "step")
    s.shoot("basalt-and-finder")


VIEWS: dict[str, Callable[[Studio], None]] = {
    "main-window": main_window,
    "steps-and-measure": steps,
    "gradient-and-steps": gradient,
    "point-editing": points,
    "check-up": checkup,
    "palette": palette,
    "versions": versions,
    "shelf": shelf,
    "polyline-by-clicks": polyline,
    "new-line": new_line,
    "living": living,
    "greenhouse-panel": panel,
    "basalt-and-finder": basalt,
}


def main(folder: Path) -> None:
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    for place in ("CONFIG", "STATE", "CACHE"):
        os.environ[f"XDG_{place}_HOME"] = tempfile.mkdtemp()
    for view in VIEWS.values():
        studio = Studio(folder)
        studio.fresh()
        view(studio)
        studio.window.finder.hide()
        studio.window.close()
