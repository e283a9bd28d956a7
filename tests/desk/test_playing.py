"""The picture of a scene alone, alive, and scenes that go to others of their folder."""

import pytest
from PySide6.QtCore import QCoreApplication, QPoint, Qt
from PySide6.QtTest import QTest

from chalcedon.desk.live.playwindow import PlayWindow
from chalcedon.files import open_scene, save_scene
from chalcedon.files.beside import scene_beside
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Scene
from tests.desk.test_living import alive

Key, Mod = Qt.Key, Qt.KeyboardModifier


def test_only_the_picture_alive(qapp, qtbot):
    scene = Scene([Circle(id="lamp", at=(100, 80), radius=30)], size=(200, 160))
    scene["lamp"].responses = [{"on": "click", "do": [{"set": "lamp.radius", "to": 40}]}]
    window = PlayWindow(scene, "lamp")
    qtbot.addWidget(window)
    window.player._timer.stop()
    window.fit()
    spot = QPoint(*(round(v) for v in window.view.to_widget(100, 80)))
    QTest.mouseClick(window, Qt.MouseButton.LeftButton, Mod.NoModifier, spot)
    QTest.keyClick(window, Key.Key_A)
    window.player.live.advance()
    assert window.player.live.value("lamp", "radius") == 40
    assert [e.key for e in window.player.live.log if e.name == "keydown"] == ["a"]
    QTest.keyClick(window, Key.Key_Escape)
    assert not window.isVisible() and window.player.live is None and scene["lamp"].radius == 30


def test_the_whole_page_stays_in_the_window_when_that_is_resized(qapp, qtbot):
    window = PlayWindow(Scene([Circle(at=(9, 9))], size=(200, 100)), "lamp")
    qtbot.addWidget(window)
    window.show()
    window.view.zoom = 3.0
    window._fits = False  # as after a zoom by hand
    window.fit()
    for width, height in ((500, 260), (300, 400)):
        window.resize(width, height)
        qtbot.waitUntil(lambda w=width, h=height: (window.width(), window.height()) == (w, h))
        left, top, right, bottom = window.area()
        assert window.view.zoom == pytest.approx(min((right - left) / 200, (bottom - top) / 100))
        x, y = window.view.to_widget(100, 50)
        assert (x, y) == pytest.approx(((left + right) / 2, (top + bottom) / 2), abs=1)


def test_what_goes_wrong_in_the_run_is_said_once_however_often_it_does(desk):
    player, said = desk.session.document.player, []
    desk.session.said.connect(lambda text, kind: said.append((kind, text)))
    fails = {"on": "step", "do": [{"set": "moon.radius", "to": {"formula": "1 / (time * 0)"}}]}
    changes = {"on": "step", "do": [{"set": "moon.opacity", "to": {"formula": "7 + time"}}]}
    desk["moon"].responses = [fails, changes]
    desk.session.flush()
    for _ in range(60):
        player.step()
    assert [kind for kind, _ in said] == ["problem", "problem"] and len(player.live.faults) == 2
    assert "divides by zero" in said[0][1] and "too large" in said[1][1] and "moon, on step" in desk.said
    said.clear()
    desk["moon"].responses = [changes]
    desk.session.flush()
    player.step()
    player.step()
    assert len(said) == 1, "it is wrong still, which is said again after an edit"
    player.leave()
    player.step()
    assert len(said) == 2 and player.live.faults, "and in the next run"
    player.leave()


def harbour_and_greenhouse(folder):
    """Two scenes of one folder, of which the first goes to the second when its lamp is clicked."""
    for name, radius, to in (("harbour", 30, "greenhouse"), ("greenhouse", 44, "hothouse")):
        scene = Scene([Circle(id="lamp", at=(100, 80), radius=radius)], size=(400, 300))
        scene["lamp"].responses = [{"on": "click", "do": [{"goto": to}]}]
        save_scene(scene, folder / f"{name}.chal")
    return folder / "harbour.chal"


def test_a_scene_goes_to_another_of_its_folder(desk, tmp_path):
    assert desk.w.files.open_path(harbour_and_greenhouse(tmp_path))
    first = live = alive(desk)
    for _ in range(2):
        live.click(100, 80)
        live.advance()
        desk.session.document.player._after()
        QCoreApplication.processEvents()
        desk.session.document.player._timer.stop()
        live = desk.session.document.player.live
    assert desk.session.path.name == "greenhouse.chal" and desk["lamp"].radius == 44
    assert live is not None and live is not first, "it lives as the first did"
    assert desk.said == "There is no scene hothouse in its folder. Known: harbour, greenhouse."


def test_the_picture_alone_goes_to_another_scene(qtbot, tmp_path, caplog):
    window = PlayWindow(open_scene(harbour_and_greenhouse(tmp_path)).scene, "harbour")
    qtbot.addWidget(window)
    for _ in range(2):
        window.player._timer.stop()
        window.player.live.click(100, 80)
        window.player.live.advance()
        window.player._after()
        QCoreApplication.processEvents()
    assert window.windowTitle().startswith("greenhouse") and window.player.live.value("lamp", "radius") == 44
    assert "no scene hothouse" in caplog.text
    window.close()


@pytest.mark.parametrize("name", ["../harbour", "/etc/passwd", "", ".chal", "a\0b"])
def test_a_scene_goes_nowhere_outside_of_its_folder(name, tmp_path):
    scene = open_scene(harbour_and_greenhouse(tmp_path)).scene
    with pytest.raises(ChalcedonError, match="not the name of a scene"):
        scene_beside(scene, name)
