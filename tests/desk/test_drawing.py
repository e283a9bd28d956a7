"""Paths drawn by hand: a click a corner, press and drag for a curve."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.geometry.pathdata import parse_path
from chalcedon.scene import Group, Scene

Key, Mod = Qt.Key, Qt.KeyboardModifier


def upward(desk):
    return -1 if desk.session.scene.y_axis == "up" else 1


@pytest.fixture(params=["down", "up"])
def page(desk, request):
    desk.session.new(Scene(size=(800, 600), y_axis=request.param))
    QApplication.processEvents()  # keys reach a window once it is active
    desk.key(Key.Key_B, widget=desk.w.canvas)
    assert desk.w.canvas.kind == "path"
    return desk


def test_corners_and_curves_are_where_they_were_drawn(page):
    page.click(100, 100)
    page.drag((300, 100), (350, 140), (360, 160))
    page.click(300, 300)
    assert "closes" in page.w.hint.text()
    page.key(Key.Key_Return, widget=page.w.canvas)
    path = page.session.current
    assert path.kind == "path" and page.session.scene.undo_name == "Add path"
    assert path.bounds()[0] == pytest.approx(100, abs=1.5)
    assert [s.letter for s in parse_path(path.data).segments] == ["M", "C", "C", "Z"]
    first, second = (s.numbers for s in parse_path(path.data).segments[1:3])
    assert first == pytest.approx((0, 0, 140, -60 * upward(page), 200, 0), abs=1.5), "it arrives from the other side"
    assert second == pytest.approx((260, 60 * upward(page), 200, 200 * upward(page), 200, 200 * upward(page)), abs=1.5)


def test_a_hand_that_trembles_draws_corners(page):
    canvas, left = page.w.canvas, Qt.MouseButton.LeftButton
    for x, y in ((100, 100), (300, 120), (200, 300)):
        at = page.spot(x, y)
        QTest.mouseMove(canvas, at)
        QTest.mousePress(canvas, left, Mod.NoModifier, at)
        page._move(canvas, at + QPoint(1, 1), Mod.NoModifier)
        QTest.mouseRelease(canvas, left, Mod.NoModifier, at + QPoint(1, 1))
    page.click(100, 100)  # the first point closes
    assert [s.letter for s in parse_path(page.session.current.data).segments] == ["M", "L", "L", "Z"]


def test_a_curve_is_closed_by_a_drag_on_its_first_point(page):
    for x in (100, 300):
        page.drag((x, 200), (x, 250), (x, 260))
    page.drag((100, 200), (90, 180), (80, 120))
    segments = parse_path(page.session.current.data).segments
    assert [s.letter for s in segments] == ["M", "C", "C", "Z"] and segments[2].numbers[4:] == (0, 0)
    assert segments[1].numbers[:2] == pytest.approx((-20, -80 * upward(page)), abs=1.5)
    assert segments[2].numbers[2:4] == pytest.approx((20, 80 * upward(page)), abs=1.5)


def test_points_are_taken_back_and_one_alone_is_said(page):
    for x, y in ((100, 100), (300, 100), (300, 300)):
        page.click(x, y)
    page.key(Key.Key_Backspace, widget=page.w.canvas)
    page.key(Key.Key_Escape, widget=page.w.canvas)
    path = page.session.current
    assert [s.letter for s in parse_path(path.data).segments] == ["M", "L"] and path.stroke and path.fill is None
    page.key(Key.Key_B, widget=page.w.canvas)
    page.click(500, 100)
    page.key(Key.Key_Escape, widget=page.w.canvas)
    assert "A path needs two points" in page.said and len(page.session.scene) == 1


def test_shift_holds_a_curve_to_fifteen_degrees_and_a_group_takes_the_path(page):
    group = page.session.scene.add(Group(id="quay", at=(40, 30), steps=[{"rotate": 90}]))
    page.session.flush()
    page.session.select([group])
    page.key(Key.Key_B, widget=page.w.canvas)
    page.drag((300, 200), (380, 205), (400, 206), mods=Mod.ShiftModifier)
    page.click(500, 300)
    page.key(Key.Key_Escape, widget=page.w.canvas)
    path = page.session.current
    assert path.parent is group
    cubic = parse_path(path.data).segments[1].numbers
    world = page.session.node(path).world
    start, out, end = (world.map(*cubic[i : i + 2]) for i in (0, 0, 4))
    origin = world.map(0, 0)
    assert origin == pytest.approx((300, 200), abs=1.5) and end == pytest.approx((500, 300), abs=1.5)
    assert out[1] == pytest.approx(origin[1], abs=0.01) and out[0] == pytest.approx(400, abs=2) and start == out
