"""The canvas by hand: select, move, handles, making shapes, view, what is seen."""

import collections
import math

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.scene import Circle

Key, Mod = Qt.Key, Qt.KeyboardModifier


def test_click_shift_click_and_empty_ground(desk):
    desk.click(150, 150)
    assert desk.chosen == ["wall"]
    desk.click(600, 100, Mod.ShiftModifier)
    assert desk.chosen == ["wall", "moon"]
    desk.click(150, 150, Mod.ShiftModifier)
    assert desk.chosen == ["moon"]
    desk.click(50, 450)
    assert desk.chosen == [] and "sky is locked" in desk.said, "the locked sky is not picked"
    desk.click(170, 402.5)
    assert desk.chosen == ["rope"], "on its stroke"


def test_rubber_band_takes_what_is_inside(desk):
    desk.drag((80, 80), (200, 200), (320, 240))
    assert desk.chosen == ["wall"]
    desk.drag((530, 30), (600, 100), (670, 170), mods=Mod.ShiftModifier)
    assert desk.chosen == ["wall", "moon"]


def test_alt_click_reaches_beneath_and_tab_goes_round(desk):
    desk.line("circle 450 310 30 fill red")
    desk.click(450, 320)
    assert desk.chosen == ["circle"]
    desk.click(450, 320, Mod.AltModifier)
    assert desk.chosen == ["hull"]
    desk.click(450, 320, Mod.AltModifier)
    assert desk.chosen == ["circle"]
    QTest.mouseDClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.AltModifier, desk.spot(450, 320))
    assert desk.chosen == ["hull"], "quick clicks count one by one"
    QTest.mouseDClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, desk.spot(450, 320))
    assert desk.chosen == ["boat"], "a double click goes to the group around"
    desk.session.select([])
    desk.w.canvas.setFocus()
    seen = []
    for _ in range(3):
        desk.key(Key.Key_Tab, widget=desk.w.canvas)
        seen += desk.chosen
    assert seen == ["wall", "hull", "sail"]
    desk.key(Key.Key_Tab, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk.chosen == ["hull"]


def test_where_nothing_is_left_of_what_is_undone_what_was_selected_before_it_is_again(desk):
    desk.session.select([desk["moon"], desk["wall"]])
    desk.w.run_command("edit.duplicate")
    copies = desk.chosen
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["wall", "moon"] and set(copies).isdisjoint(desk.order)
    desk.key(Key.Key_C, widget=desk.w.canvas)
    desk.drag((500, 400), (510, 400), (530, 400), (540, 440))  # one step of several parts
    assert desk.chosen == ["circle"]
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["wall", "moon"], "not what was selected while it was drawn"
    desk.session.scene.remove(desk["moon"])
    desk.session.select([desk["wall"]])
    desk.line("circle 50 50 10")
    desk.session.select([])
    desk.w.run_command("edit.undo")
    assert desk.chosen == ["wall"]


def test_drag_moves_and_is_one_undo_step(desk):
    desk.drag((150, 150), (160, 150), (180, 160), (190, 170))
    assert desk["wall"].at == (140, 120)
    assert desk.session.scene.undo_name == "Move wall"
    desk.w.run_command("edit.undo")
    assert desk["wall"].at == (100, 100) and desk.said == "Took back: Move wall."
    desk.w.run_command("edit.redo")
    assert desk["wall"].at == (140, 120)


def test_a_selected_group_is_dragged_by_what_is_in_it(desk):
    desk.click(450, 320, Mod.ControlModifier)
    assert desk.chosen == ["boat"]
    desk.drag((450, 320), (460, 320), (480, 340))
    assert desk["boat"].at == (430, 320) and desk["hull"].at == (0, 0)
    desk.click(480, 340)
    assert desk.chosen == ["hull"], "a click without a drag goes to the shape itself"


def test_escape_takes_a_drag_back(desk):
    desk.drag((150, 150), (170, 150), (260, 300), release=False)
    assert desk["wall"].at != (100, 100)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk["wall"].at == (100, 100) and not desk.session.scene.undo_name
    assert not desk.session.scene.redo_name


def test_arrow_keys_nudge(desk):
    desk.click(600, 100)
    for _ in range(3):
        desk.key(Key.Key_Right, widget=desk.w.canvas)
    desk.key(Key.Key_Up, Mod.ShiftModifier, widget=desk.w.canvas)
    assert desk["moon"].at == (603, 90) and len(desk.session.scene.history.done) == 1


def test_radius_size_and_point_handles(desk):
    desk.click(600, 100)
    desk.drag((650, 100), (660, 100), (680, 100))
    assert (desk["moon"].radius, desk["moon"].at) == (80, (600, 100))
    desk.click(150, 150)
    desk.drag((100, 100), (90, 95), (60, 80))
    assert (desk["wall"].at, desk["wall"].size) == ((60, 80), (240, 140))
    desk.drag((300, 220), (290, 220), (20, 60))
    assert (desk["wall"].at, desk["wall"].size) == ((20, 60), (40, 20)), "dragged over itself it stays a proper rect"
    desk.click(440, 280)
    desk.drag((420, 200), (420, 190), (440, 180))
    assert desk["sail"].points[2] == (20, -110) and desk["sail"].at == (20, -10)


def test_handles_hold_the_other_side_of_a_turned_shape(desk):
    wall = desk["wall"]
    wall.steps = [{"rotate": 30}]
    desk.session.flush()
    desk.click(200, 160)
    node = desk.session.node(wall)
    corner, opposite = node.world.map(200, 120), node.world.map(0, 0)
    desk.drag(corner, (corner[0] + 5, corner[1] + 5), (corner[0] + 40, corner[1] + 10))
    assert wall.size != (200, 120)
    node = desk.session.node(wall)
    assert node.world.map(0, 0) == pytest.approx(opposite, abs=0.01)


def test_rotation_handle_turns_about_the_pivot(desk):
    desk.click(150, 150)
    tool = desk.w.canvas.tool
    start, _ = tool.handles()
    x, y = desk.w.canvas.view.to_scene(*tool.turn_stalk(start)[1:])
    desk.drag((x, y), (x + 10, y), (200 + (160 - y), 160), mods=Mod.ShiftModifier)
    (step,) = desk["wall"].steps
    assert (step.op, step.values) == ("rotate", (90,))
    assert desk.session.node(desk["wall"]).bounds() == pytest.approx((140, 60, 260, 260), abs=0.5)


@pytest.mark.parametrize(
    ("key", "path", "kind", "values"),
    [
        (Key.Key_R, ((500, 400), (520, 410), (560, 440)), "rect", {"at": (500, 400), "size": (60, 40)}),
        (Key.Key_R, ((560, 440), (520, 410), (500, 400)), "rect", {"at": (500, 400), "size": (60, 40)}),
        (Key.Key_C, ((500, 400), (510, 400), (530, 440)), "circle", {"at": (500, 400), "radius": 50}),
        (Key.Key_E, ((500, 400), (510, 400), (530, 420)), "ellipse", {"at": (500, 400), "radii": (30, 20)}),
        (Key.Key_A, ((500, 400), (510, 400), (500, 430)), "arc", {"at": (500, 400), "radii": (30, 30), "start": 90}),
        (Key.Key_N, ((500, 400), (510, 400), (540, 400)), "annulus", {"at": (500, 400), "outer": 40, "inner": 20}),
        (Key.Key_G, ((500, 400), (510, 400), (540, 400)), "regular_polygon", {"radius": 40, "facing": 0, "sides": 6}),
        (Key.Key_S, ((500, 400), (510, 400), (500, 360)), "star", {"outer": 40, "inner": 18, "facing": -90}),
        (Key.Key_L, ((500, 400), (510, 400), (530, 420)), "line", {"at": (500, 400), "to": (30, 20)}),
    ],
)
def test_a_shape_of_each_kind_by_one_drag(desk, key, path, kind, values):
    desk.key(key, widget=desk.w.canvas)
    assert desk.w.canvas.kind == kind
    desk.drag(*path)
    shape = desk.session.current
    assert shape.kind == kind and shape is desk.session.scene.shapes[-1]
    for name, value in values.items():
        assert getattr(shape, name) == pytest.approx(value, abs=1.01), name
    assert desk.session.scene.undo_name == f"Add {kind}" and len(desk.session.scene.history.done) == 1
    assert desk.w.canvas.kind == "", "back to selecting"
    desk.w.run_command("edit.undo")
    assert kind not in desk.order


def test_polyline_by_clicks(desk):
    desk.key(Key.Key_P, widget=desk.w.canvas)
    for p in ((500, 350), (600, 350), (700, 500), (600, 450)):
        desk.click(*p)
    desk.key(Key.Key_Backspace, widget=desk.w.canvas)
    desk.click(600, 450)
    assert "closes" in desk.w.hint.text()
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    line = desk.session.current
    assert line.closed and len(line.points) == 4 and line.points[0] == (0, 0)
    desk.key(Key.Key_P, widget=desk.w.canvas)
    for p in ((500, 350), (600, 350), (600, 450), (500, 350)):
        desk.click(*p)
    assert desk.session.current.closed and len(desk.session.current.points) == 3, "a click on the first point closes"
    desk.key(Key.Key_P, widget=desk.w.canvas)
    desk.click(50, 300)
    desk.click(90, 340)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert not desk.session.current.closed and len(desk.session.current.points) == 2, "Escape ends it open"


def test_new_shapes_go_into_the_selected_group(desk):
    boat = desk["boat"]
    boat.steps = [{"rotate": 90}]
    desk.session.flush()
    desk.session.select([boat])
    desk.key(Key.Key_C, widget=desk.w.canvas)
    desk.drag((500, 400), (510, 400), (520, 400))
    circle = desk.session.current
    assert circle.parent is boat
    box = desk.session.node(circle).bounds()
    assert ((box[0] + box[2]) / 2, (box[1] + box[3]) / 2) == pytest.approx((500, 400), abs=25)


def test_what_is_seen_follows_an_edit_at_once(desk):
    def color(x, y):
        desk.w.canvas.repaint()
        return desk.w.canvas.grab().toImage().pixelColor(desk.spot(x, y)).name()

    assert color(600, 60) == "#f1e4bd"
    desk["moon"].fill = "#00ff00"
    desk.session.flush()
    assert color(600, 60) == "#00ff00"
    desk["moon"].visible = False
    desk.session.flush()
    assert color(600, 60) == "#15213a"
    desk.session.undo()
    desk["moon"].at = (600, 300)
    desk.session.flush()
    assert (color(600, 60), color(600, 270)) == ("#15213a", "#00ff00")


def test_zoom_pan_fit(desk):
    canvas = desk.w.canvas
    x, y = canvas.view.to_widget(600, 100)
    canvas.zoom_to(8, x, y)
    assert canvas.view.to_widget(600, 100) == pytest.approx((x, y), abs=1)
    for _ in range(9):
        desk.w.run_command("view.in")
    assert canvas.view.zoom == 64
    desk.session.select([desk["moon"]])
    desk.w.run_command("view.selection")
    assert canvas.view.to_scene(canvas.width() / 2 + 10, canvas.height() / 2 + 10) == pytest.approx((600, 100), abs=3)
    desk.key(Key.Key_0, widget=canvas)
    assert 0.7 < canvas.view.zoom < 1.2
    canvas.repaint()


def test_that_a_place_is_chosen_or_no_longer_is_told_once(desk):
    told = []
    desk.session.place_changed.connect(lambda: told.append(desk.session.placed))
    moon, wall = desk["moon"], desk["wall"]
    for shapes, place, expected in (
        ([moon], False, []),
        ([moon], True, [moon]),
        ([moon], True, []),
        ([moon], False, [None]),
        ([moon], False, []),
        ([wall], True, []),
    ):
        told.clear()
        desk.session.select(shapes, place=place)
        assert told == expected, (shapes, place)
        assert desk.session.placed is (shapes[-1] if place else None)


def test_the_wheel_goes_through_what_the_probe_has_no_room_for(desk):
    with desk.session.step("Many") as scene:
        for i in range(30):
            scene.add(Circle(id=f"buoy_number_{i}", at=(440, 320), radius=30))
    desk.session.flush()
    desk.hover(430, 330)
    probe = desk.w.probe
    assert len(probe.findings) > 30

    def turn(by):
        spot = QPointF(20, 20)
        wheel = QWheelEvent(
            spot, probe.mapToGlobal(spot), QPoint(), QPoint(0, by), Qt.MouseButton.NoButton, Mod.NoModifier,
            Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(probe, wheel)
        return probe._first

    left_out = probe._left_out
    assert left_out > 3 and [turn(by) for by in (-120, -120, 120, 120, 120)] == [1, 2, 1, 0, 0]
    assert probe._left_out == left_out
    for _ in range(60):
        turn(-120)
    assert probe._left_out == 0 and probe._first < 34, "to the last, and no farther"


def test_probe_names_hits_and_reasons(desk):
    desk.hover(440, 320)
    found = {f.shape.id: (f.part, f.reason) for f in desk.w.probe.findings}
    assert found["hull"] == ("fill", "") and found["sky"] == ("", "locked")
    desk["moon"].visible = False
    desk["wall"].pointer = "none"
    desk.session.flush()
    desk.hover(600, 100)
    assert ("moon", "hidden") in [(f.shape.id, f.reason) for f in desk.w.probe.findings]
    desk.hover(150, 150)
    assert ("wall", "pointer none") in [(f.shape.id, f.reason) for f in desk.w.probe.findings]
    desk.hover(525, 320)
    assert ("hull", "off by 5.0") in [(f.shape.id, f.reason) for f in desk.w.probe.findings]
    desk.w.run_command("view.freeze")
    desk.hover(10, 10)
    assert ("hull", "off by 5.0") in [(f.shape.id, f.reason) for f in desk.w.probe.findings], "frozen"
    box = desk.w.probe._boxes[0]
    QTest.mouseClick(desk.w.probe, Qt.MouseButton.LeftButton, Mod.NoModifier, box.center().toPoint())
    assert desk.chosen == [desk.w.probe.findings[0].shape.id]


def test_shift_holds_the_next_point_to_steps_of_15_degrees(desk):
    desk.w.canvas.set_kind("polyline")
    desk.click(400, 400)
    desk.click(500, 352, mods=Qt.KeyboardModifier.ShiftModifier)
    desk.key(Qt.Key.Key_Return, widget=desk.w.canvas)
    (x0, y0), (x1, y1) = desk.session.current.points
    degrees = math.degrees(math.atan2(y1 - y0, x1 - x0))
    assert degrees == pytest.approx(-30, abs=0.1) and math.hypot(x1 - x0, y1 - y0) == pytest.approx(110.9, abs=1)


@pytest.mark.parametrize(
    ("side", "shown"),
    [(80, {"size": 4, "edge": 4, "corner": 1}), (40, {"size": 4}), (20, {"size": 1}), (10, {})],
)
def test_on_a_small_rect_are_only_the_handles_that_leave_it_to_be_moved(desk, side, shown):
    desk["wall"].size = (side, side)
    desk.session.select([desk["wall"]])
    _start, handles = desk.w.canvas.tool.handles()
    assert collections.Counter(h.role for h in handles) == shown
    if side == 20:
        assert handles[0].raw == (20, 20)
