"""Gestures that go on over many events, and what the window keeps in step meanwhile."""

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from chalcedon.scene import KINDS
from chalcedon.source import parse_line, print_shapes

Key, Mod = Qt.Key, Qt.KeyboardModifier


def wheel(desk, x, y, delta, mods=Mod.NoModifier):
    spot = QPointF(desk.spot(x, y))
    QApplication.sendEvent(
        desk.w.canvas,
        QWheelEvent(
            spot, spot, QPoint(), QPoint(0, delta), Qt.MouseButton.NoButton, mods, Qt.ScrollPhase.NoScrollPhase, False
        ),
    )


def test_the_wheel_zooms_about_the_pointer_and_pans(desk):
    view = desk.w.canvas.view
    before = view.to_widget(600, 100)
    wheel(desk, 600, 100, 240, Mod.ControlModifier)
    assert view.zoom > 1.3 and view.to_widget(600, 100) == pytest.approx(before, abs=1)
    y = view.y
    wheel(desk, 600, 100, -120)
    assert view.y < y and desk.w.strip.zoom.text().endswith("%")
    x = view.x
    wheel(desk, 600, 100, 120, Mod.ShiftModifier)
    assert view.x > x


def test_space_and_the_middle_button_pan(desk):
    canvas, view = desk.w.canvas, desk.w.canvas.view
    x = view.x
    QTest.keyPress(canvas, Key.Key_Space)
    desk.drag((150, 150), (170, 150), (200, 150))
    QTest.keyRelease(canvas, Key.Key_Space)
    assert view.x > x and desk["wall"].at == (100, 100), "the picture moved, not the shape"
    assert desk.chosen == []


def test_shift_holds_a_move_to_one_axis(desk):
    desk.click(150, 150)
    desk._drag(desk.w.canvas, [desk.spot(150, 150)], Mod.NoModifier)
    desk.drag((150, 150), (190, 155), (230, 170), mods=Mod.NoModifier)
    assert desk["wall"].at == (180, 120)


def test_every_part_shows_a_drag_while_it_goes_on(desk, qtbot):
    desk.drag((150, 150), (160, 150), (200, 170), release=False)
    qtbot.waitUntil(lambda: not desk.w.ledger.pace.waits)
    cell, _spot = desk.cell("wall", "number", "at", (0,))
    assert cell.text == "150" and desk.w.canvas.tool.word == "+50, +20"
    summary, _spot = desk.cell("wall", "number", "at", (0,), opened=False)
    assert summary.text == "150"
    assert {f.shape.id: f.part for f in desk.w.probe.findings}["wall"] == "fill"
    assert desk.w.isWindowModified() and desk.w.head.dot.isVisible()
    QTest.mouseRelease(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, desk.spot(200, 170))


def test_the_list_follows_a_drag_now_and_then_and_its_end_at_once(desk):
    ledger, canvas = desk.w.ledger, desk.w.canvas
    ledger.pace._pause.setInterval(10_000)  # as if all of this were done within a moment
    desk.drag((150, 150), (160, 150), release=False)
    for x in range(170, 190):
        desk._move(canvas, desk.spot(x, 150), Mod.NoModifier)
    assert desk["wall"].at == (139, 100) and ledger.pace.waits
    assert desk.cell("wall", "number", "at", (0,))[0].text in ("100", "110"), "where it was when it last followed"
    moon = desk["moon"]
    desk.session.scene.remove(moon)
    desk.session.flush()
    assert ledger.index_of(moon) == -1 and not ledger.pace.waits, "what goes is gone"
    assert desk.cell("wall", "number", "at", (0,))[0].text == "139"
    desk._move(canvas, desk.spot(250, 150), Mod.NoModifier)
    assert ledger.pace.waits
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, desk.spot(250, 150))
    assert not ledger.pace.waits and desk.cell("wall", "number", "at", (0,))[0].text == "200"
    desk["wall"].at = (7, 8)
    desk.session.flush()
    assert desk.cell("wall", "number", "at", (0,))[0].text == "7", "no hand holds it"


def test_escape_while_making_leaves_nothing(desk):
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((500, 400), (510, 410), (560, 440), release=False)
    assert "rect" in desk.order
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert "rect" not in desk.order and not desk.session.scene.undo_name and not desk.session.scene.redo_name


@pytest.mark.parametrize("held", ["move", "handle", "make", "point", "number", "row"])
def test_undo_while_the_button_is_down_takes_back_the_gesture_and_ends_it(desk, held):
    desk.line("circle 700 400 20")
    desk.session.select([desk["wall"]])
    widget, spots = desk.w.canvas, [desk.spot(150, 150), desk.spot(170, 160), desk.spot(190, 180), desk.spot(260, 200)]
    if held == "handle":
        spots = [desk.spot(300, 220), desk.spot(310, 230), desk.spot(330, 240), desk.spot(390, 260)]
    elif held == "make":
        desk.w.canvas.set_kind("star")
    elif held == "point":
        desk.w.canvas.edit_points(desk["sail"])
        spots = [desk.spot(480, 290), desk.spot(490, 300), desk.spot(500, 310), desk.spot(530, 320)]
    elif held == "number":
        spot = desk.cell("wall", "number", "at", (0,))[1]
        widget, spots = desk.w.ledger.viewport(), [spot + QPoint(x, 0) for x in (0, 10, 30, 60)]
    elif held == "row":
        y = int(desk.w.ledger.top_of(desk.w.ledger.index_of(desk["moon"]))) + 14
        widget, spots = desk.w.ledger.viewport(), [QPoint(90, y - d) for d in (0, 10, 60, 90)]
    before, done = print_shapes(desk.session.scene.shapes), desk.session.scene.undo_name
    desk._drag(widget, spots[:3], Mod.NoModifier, release=False)
    assert held == "row" or print_shapes(desk.session.scene.shapes) != before
    desk.w.run_command("edit.undo")
    assert print_shapes(desk.session.scene.shapes) == before and "under way" in desk.said
    desk._move(widget, spots[3], Mod.NoModifier)
    QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, Mod.NoModifier, spots[3])
    assert print_shapes(desk.session.scene.shapes) == before and desk.session.scene.undo_name == done
    desk.w.run_command("edit.undo")
    assert "circle" not in desk.order, "the next undo is for the step before"


def test_another_kind_chosen_in_the_middle_keeps_the_line_so_far(desk):
    desk.key(Key.Key_P, widget=desk.w.canvas)
    for p in ((500, 350), (600, 350), (700, 450)):
        desk.click(*p)
    desk.key(Key.Key_C, widget=desk.w.canvas)
    assert desk["polyline"].points == ((0, 0), (100, 0), (200, 100)) and not desk["polyline"].closed
    assert desk.w.canvas.kind == "circle"


def test_a_mere_click_makes_a_shape_of_the_usual_size(desk):
    desk.key(Key.Key_C, widget=desk.w.canvas)
    desk.click(500, 400)
    assert (desk["circle"].at, desk["circle"].radius) == ((500, 400), 40)


def test_modifiers_while_making(desk):
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((500, 400), (510, 410), (560, 430), mods=Mod.ShiftModifier)
    assert desk["rect"].size == (60, 60)
    desk.key(Key.Key_R, widget=desk.w.canvas)
    desk.drag((300, 400), (310, 410), (340, 420), mods=Mod.ControlModifier)
    assert (desk["rect_2"].at, desk["rect_2"].size) == ((260, 380), (80, 40)), "from its centre"
    desk.key(Key.Key_L, widget=desk.w.canvas)
    desk.drag((300, 300), (310, 300), (400, 308), mods=Mod.ShiftModifier)
    assert desk["line"].to == pytest.approx((100.32, 0), abs=0.01)


def test_handles_of_a_group_turn_it_about_its_origin(desk):
    desk.click(450, 320, Mod.ControlModifier)
    tool = desk.w.canvas.tool
    start, handles = tool.handles()
    assert handles == []
    x, y = desk.w.canvas.view.to_scene(*tool.turn_stalk(start)[1:])
    desk.drag((x, y), (x + 20, y + 5), (x + 120, y + 60), mods=Mod.ShiftModifier)
    (step,) = desk["boat"].steps
    assert step.op == "rotate" and step.values[0] % 15 == 0 and desk["boat"].at == (400, 300)
    desk.w.run_command("edit.undo")
    assert desk["boat"].steps == () and desk.chosen == ["boat"]


def test_the_pivot_is_dragged_once_there_are_steps(desk):
    desk["wall"].steps = [{"rotate": 30}]
    desk.session.flush()
    desk.click(200, 160)
    node = desk.session.node(desk["wall"])
    before = node.bounds()
    desk.drag(node.world.map(100, 60), (205, 165), node.world.map(0, 0))
    assert desk["wall"].pivot == (0, 0) or desk["wall"].pivot == "top-left"
    assert desk.session.node(desk["wall"]).bounds() == pytest.approx(before, abs=0.02)


def test_rows_hovered_are_pointed_out_on_the_picture(desk):
    _cell, spot = desk.cell("moon", "id", "id", opened=False)
    QTest.mouseMove(desk.w.ledger.viewport(), spot)
    assert desk.w.canvas.pointed_out is desk["moon"]
    desk.w.ledger.pointer.leave()
    assert desk.w.canvas.pointed_out is None


def test_chips_of_the_probe_from_the_keyboard(desk):
    for i in range(9):
        desk.line(f"rect 500 350 {90 + i} 90 id layer_with_a_name_{i}")
    desk.hover(540, 400)
    probe = desk.w.probe
    assert len(probe.findings) >= 9 and probe._left_out > 0
    probe.setFocus()
    for _ in range(8):
        desk.key(Key.Key_Right, widget=probe)
    assert probe._first > 0, "the chips go along with the focus"
    desk.key(Key.Key_Return, widget=probe)
    assert desk.chosen == ["layer_with_a_name_0"]
    for _ in range(12):
        desk.key(Key.Key_Left, widget=probe)
    assert probe._first == 0


def test_a_line_that_is_thin_on_the_screen_keeps_its_ends(desk):
    line = desk.session.scene.add(parse_line("line 500 500 60 0"))
    desk.session.flush()
    desk.session.select([line])
    desk.drag((560, 500), (570, 505), (580, 520))
    assert line.at == (500, 500) and line.to == pytest.approx((80, 20), abs=1.5)


@pytest.mark.parametrize("kind", sorted(k for k, cls in KINDS.items() if k not in ("group", "unknown")))
def test_what_is_small_on_the_screen_is_moved_from_wherever_it_is_held(desk, kind):
    """No handle and no pivot takes the place of the shape itself."""
    scene = desk.session.scene
    shape = scene.add(parse_line(KINDS[kind].example))
    shape.steps = ()
    desk.session.flush()
    x0, y0, x1, y1 = desk.session.node(shape).bounds()
    by = 14 / desk.w.canvas.view.zoom / max(x1 - x0, y1 - y0)
    shape.anchor, shape.at, shape.pivot = "center", (500, 500), "center"
    shape.steps = [{"scale": by}, {"rotate": 20}]
    shape.pointer = "box"
    desk.session.flush()
    before = {n: shape.stated(n) for n in shape.properties}
    x, y = shape.at
    for dx, dy in ((0, 0), (3, 2), (-4, 1)):
        desk.session.select([shape])
        desk.drag((x + dx, y + dy), (x + dx + 12, y + dy), (x + dx + 40, y + dy + 20))
        now = {n: shape.stated(n) for n in shape.properties}
        assert now.pop("at") == pytest.approx((x + 40, y + 20), abs=1.5), (dx, dy)
        assert now == {n: v for n, v in before.items() if n != "at"}
        desk.w.run_command("edit.undo")
