"""A scene in somebody's own window."""

import importlib.util
from pathlib import Path

import numpy as np
import pytest
from agree import pixels
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

import chalcedon
from chalcedon.evaluate import DisplayList
from chalcedon.formula import Formula
from chalcedon.hit import HitTester
from chalcedon.scene import Circle, Group, Rect, Scene, Star
from chalcedon.view import SceneView

ROOT = Path(__file__).resolve().parents[2]
Left, No = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


@pytest.fixture
def view(qtbot):
    scene = Scene([Rect(id="sea", size=(400, 300), fill="#204060"), Circle(200, 100, 50, id="moon", fill="#f0e0b0")])
    scene.size = (400, 300)
    view = SceneView(scene)
    qtbot.addWidget(view, before_close_func=lambda v: v.shut())
    view.resize(448, 348)
    view.show()
    qtbot.waitExposed(view)
    view.repaint()
    view.zoom_to(1.0)
    view.view.place(24, 24)
    return view


def settled(view, qtbot):
    qtbot.waitUntil(lambda: not view._soon.isActive())
    while not view.tiles.refine(view.view, view.width(), view.height(), 1.0):
        pass
    return pixels(view.grab().toImage())


def test_it_follows_edits_by_itself(view, qtbot):
    scene = view.display.scene
    assert tuple(settled(view, qtbot)[124, 224]) == (0xF0, 0xE0, 0xB0)
    scene["moon"].at = (300, 200)
    scene["sea"].fill = "#602040"
    picture = settled(view, qtbot)
    assert tuple(picture[124, 224]) == (0x60, 0x20, 0x40) and tuple(picture[224, 324]) == (0xF0, 0xE0, 0xB0)
    assert [h.id for h in view.hits(300, 200)] == ["moon", "sea"]
    scene.undo()
    scene.undo()
    assert tuple(settled(view, qtbot)[124, 224]) == (0xF0, 0xE0, 0xB0)


def test_a_radius_around_the_pointer_is_as_large_at_every_zoom(view):
    view.display.scene["sea"].pointer = "none"
    view.display.update()
    for zoom in (0.5, 1.0, 4.0):
        view.zoom_to(zoom)
        beside = 250 + 10 / zoom  # ten px of the screen from the moon
        assert [h.id for h in view.hits(beside, 100, 9)] == []
        assert [h.id for h in view.hits(beside, 100, 11)] == ["moon"]


def test_two_views_of_one_scene_follow_each_other_and_one_may_go(view, qtbot):
    scene = view.display.scene
    other = SceneView(scene)
    qtbot.addWidget(other, before_close_func=lambda v: v.shut())
    other.resize(448, 348)
    other.show()
    other.repaint()
    other.zoom_to(2.0)
    assert other.display is view.display and len(view.display.readers) == 3, "the hit tester is one as well"
    scene["moon"].radius = 90
    assert tuple(settled(view, qtbot)[124 - 80, 224]) == (0xF0, 0xE0, 0xB0)
    other.shut()
    other.shut()
    assert len(view.display.readers) == 2
    scene["moon"].radius = 10
    assert tuple(settled(view, qtbot)[124 - 80, 224]) == (0x20, 0x40, 0x60)


def test_the_pointer_is_told_in_scene_px(view):
    told = []
    for name in ("pressed", "moved", "released"):
        getattr(view, name).connect(lambda p, name=name: told.append((name, p.sx, p.sy, p.shift)))
    view.pointed.connect(lambda point: told.append(("pointed", point)))
    QTest.mouseMove(view, QPoint(124, 74))
    QTest.mousePress(view, Left, Qt.KeyboardModifier.ShiftModifier, QPoint(124, 74))
    QTest.mouseRelease(view, Left, No, QPoint(134, 74))
    assert ("pressed", 100, 50, True) in told and ("released", 110, 50, False) in told
    assert ("moved", 100, 50, False) in told and ("pointed", (100, 50)) in told


def test_it_zooms_about_the_pointer_and_pans(view):
    before = view.view.to_widget(100, 50)
    spot = QPointF(*before)
    none = Qt.MouseButton.NoButton
    for delta, mods in ((240, Qt.KeyboardModifier.ControlModifier), (-120, No)):
        event = QWheelEvent(spot, spot, QPoint(), QPoint(0, delta), none, mods, Qt.ScrollPhase.NoScrollPhase, False)
        QApplication.sendEvent(view, event)
        if delta > 0:
            assert view.view.zoom > 1.3 and view.view.to_widget(100, 50) == pytest.approx(before, abs=1)
    assert view.view.to_widget(100, 50)[1] == pytest.approx(before[1] - 60, abs=1)
    x = view.view.x
    QTest.mousePress(view, Qt.MouseButton.MiddleButton, No, QPoint(100, 100))
    QTest.mouseMove(view, QPoint(130, 100))
    QTest.mouseRelease(view, Qt.MouseButton.MiddleButton, No, QPoint(130, 100))
    assert view.view.x == x + 30


def test_another_scene_may_be_shown(view, qtbot):
    old = view.display.scene
    view.show_scene(Scene([Rect(size=(400, 300), fill="#123456")], size=(400, 300)))
    view.repaint()
    view.zoom_to(1.0)
    assert tuple(settled(view, qtbot)[170, 220]) == (0x12, 0x34, 0x56)
    assert not [o for o in old.observers if getattr(o, "__self__", None) is view], "the old one is let go"


def test_the_example_program_works(qtbot):
    spec = importlib.util.spec_from_file_location("own_window", ROOT / "examples" / "own_window.py")
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    window = module.Harbour(chalcedon.open(str(ROOT / "demo" / "harbour.chal")))
    qtbot.addWidget(window)
    window.show()
    qtbot.waitExposed(window)
    view, scene = window.view, window.scene
    view.repaint()
    box = scene["lamp"].bounds()
    spot = view.view.to_widget((box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    QTest.mouseClick(view, Left, No, QPoint(*map(round, spot)))
    assert scene["lamp"].fill == "#22292e"
    window.tide.setValue(12)
    assert scene["boat"].at[1] == 460 and settled(view, qtbot).any()
    assert window.close() and view._shut


def test_what_only_moves_is_an_eighth_of_a_px_from_its_place_and_exact_at_rest(view, qtbot):
    """In a view that lives; against the same moment in one that doesn't."""
    scene = view.display.scene
    with scene.step("Many"):
        veil = scene.add(Group(id="veil", opacity=0.6))
        for i in range(80):  # so many alike that they are carried together
            shape = Circle if i % 2 else Star
            more = {"radius": 12} if i % 2 else {"outer": 14, "inner": 6, "tips": 5}
            paint = {"fill": "#d97b4a" if i % 4 else "#7fa3b8", "stroke": "#22292e", "stroke_width": 1.5}
            if i % 4 == 0:  # turned now and then; in between they only move
                more["steps"] = [{"rotate": Formula("30 * floor(time * 2)")}]
            at = (Formula(f"{20 + i % 8 * 50} + 7.3 * sin(time * {50 + i})"), Formula(f"{30 + i // 8 * 27} + time * 5"))
            scene.add(shape(at=at, **more, **paint), veil if 20 < i < 60 else None)
            if i % 10 == 0:
                scene.add(Rect(id=f"still_{i}", at=(i * 4.3, 60.4), size=(30, 130), fill="#3e7f65"))
    plain = SceneView(HitTester(scene, DisplayList(scene)))
    qtbot.addWidget(plain, before_close_func=lambda v: v.shut())
    plain.resize(448, 348)
    plain.show()
    plain.zoom_to(1.0)
    plain.view.place(24, 24)
    view.lively = True
    settled(view, qtbot)
    for frame in range(1, 20):
        if frame == 15:
            scene["still_20"].fill, scene["still_40"].at, scene["still_50"].visible = "#ffffff", (150, 30), False
        for one in (view, plain):
            one.display.to(one.display.moment._replace(time=frame / 13, frame=frame))
            one.display.update()
            one.repaint()
    assert view.tiles.moving and not plain.tiles.moving
    now, exact = settled(view, qtbot), settled(plain, qtbot)
    off = np.abs(now - exact)
    assert off.max() > 0, "ready pictures were laid down"
    assert off.max() <= 60 and off.mean() < 0.6, "edges are an eighth of a px off at most"
    qtbot.waitUntil(lambda: not view.tiles.moving)
    assert np.array_equal(settled(view, qtbot), exact), "at rest every shape is painted itself"


def test_another_zoom_shows_the_old_picture_at_its_place_until_the_new_one_is_there(view, qtbot):
    rng = np.random.default_rng(5)
    for x, y in rng.uniform(20, 280, (40, 2)).round():
        view.display.scene.add(Circle(x + 60, y, 18, fill=f"#{rng.integers(1 << 24):06x}"))
    settled(view, qtbot)
    for zoom, left, top in ((1.5, -100, -60), (0.8, 60, 40), (1.1, -30, 30)):
        view.view.zoom = zoom
        view.view.place(left, top)
        view.patience, usual = -1.0, view.patience
        early, late = pixels(view.grab().toImage()), None
        missing = [t for t in view.tiles.tiles.values() if t.image is None]
        view.patience = usual
        late = settled(view, qtbot)
        x0, y0, x1, y1 = view.view.matrix.map_box((0, 0, 400, 300))
        part = np.s_[round(max(0, y0)) + 3 : round(y1) - 3, round(max(0, x0)) + 3 : round(x1) - 3]
        off = np.abs(early[part] - late[part]).max(axis=2) > 40
        assert missing and 0 < off.mean() < 0.06, "blurred, and not elsewhere"
