"""Paths, texts, images, gradients, palette, other descriptions and steps, by hand in a real window."""

import math

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from chalcedon.desk.canvas.words import WordsEditor
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.picker.bars import StopBar
from chalcedon.desk.picker.colorpicker import ColorPicker
from chalcedon.scene import Gradient
from chalcedon.scene.paints import evenly

Key, Mod = Qt.Key, Qt.KeyboardModifier


def settle(ms=30):
    QTest.qWait(ms)


# made by hand


def test_a_path_is_drawn_by_clicks_and_drags(desk):
    desk.key(Key.Key_B, widget=desk.w.canvas)
    desk.click(500, 400)
    desk.drag((560, 360), (575, 360), (590, 360))
    desk.click(620, 400)
    desk.key(Key.Key_Backspace, widget=desk.w.canvas)
    desk.click(640, 400)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    path = desk["path"]
    assert path.data.startswith("M0 0 C0 0 30 -40 60 -40 C90 -40") and path.data.endswith("Z")
    assert desk.w.canvas.kind == "" and desk.chosen == ["path"]
    desk.session.undo()
    assert "path" not in desk.session.scene


def test_a_path_takes_typed_distances(desk):
    desk.key(Key.Key_B, widget=desk.w.canvas)
    desk.click(500, 400)
    desk.type("60,-20", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    desk.hover(700, 380)
    desk.type("30", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    desk.hover(590, 300)  # above it
    desk.type("40", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    desk.hover(590, 340)  # on it
    desk.type("5", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk["path"].data == "M0 0 L60 -20 L90 -20 L90 -60 L95 -60"


@pytest.mark.parametrize(
    ("key", "kind", "typed", "values"),
    [
        (Key.Key_C, "circle", "75", {"radius": 75}),
        (Key.Key_R, "rect", "120x40", {"size": (120, 40)}),
        (Key.Key_E, "ellipse", "30*2,10", {"radii": (60, 10)}),
        (Key.Key_L, "line", "40,-10", {"to": (40, -10)}),
        (Key.Key_S, "star", "50", {"outer": 50}),
    ],
)
def test_numbers_typed_during_a_drag_are_the_size(desk, key, kind, typed, values):
    desk.key(key, widget=desk.w.canvas)
    desk.drag((400, 400), (410, 402), (430, 410), release=False)
    desk.type(typed, desk.w.canvas)
    assert desk.w.canvas.tool.word == f"{typed}|"
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert {n: getattr(desk[kind], n) for n in values} == values
    assert desk.w.canvas.view.zoom == 1.0, "digits went to the drag, not to the zoom"


def test_numbers_typed_are_not_held_to_the_grid(desk):
    desk.w.run_command("view.grid")
    desk.key(Key.Key_C, widget=desk.w.canvas)
    desk.drag((400, 400), (410, 402), (430, 410), release=False)
    desk.type("73", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert desk["circle"].radius == 73


def test_numbers_typed_while_moving_and_on_a_handle(desk):
    desk.drag((600, 80), (610, 85), (640, 90), release=False)
    desk.type("-30,5", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert desk["moon"].at == (570, 105)
    desk.drag((620, 105), (630, 105), (660, 105), release=False)
    desk.type("33", desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    assert desk["moon"].radius == 33 and desk["moon"].at == (570, 105)


def test_a_text_is_made_written_and_wrapped(desk):
    desk.key(Key.Key_T, widget=desk.w.canvas)
    desk.drag((450, 400), (500, 405), (600, 410))
    settle()
    editor = desk.w.canvas.words
    assert isinstance(editor, WordsEditor) and editor.hasFocus()
    QTest.keyClicks(editor, "Low water at noon")
    assert desk["text"].content == "Low water at noon" and desk["text"].width == 150
    QTest.keyClick(editor, Key.Key_Return, Mod.ControlModifier)
    assert desk.w.canvas.words is None and desk.session.scene.undo_name == "Write text"
    desk.w.canvas.write(desk["text"])
    QTest.keyClicks(desk.w.canvas.words, "gone")
    QTest.keyClick(desk.w.canvas.words, Key.Key_Escape)
    assert desk["text"].content == "Low water at noon"
    desk.line("text 600 300 Ebb id ebb")
    desk.w.canvas.write(desk["text"])
    QTest.keyClicks(desk.w.canvas.words, "High water")
    desk.w.canvas.write(desk["ebb"])
    assert desk["text"].content == "High water" and desk.w.canvas.words.shape is desk["ebb"], "the first is kept"
    QTest.keyClick(desk.w.canvas.words, Key.Key_Escape)
    assert desk["ebb"].content == "Ebb"
    desk.session.select([desk["text"]])
    box = desk.session.node(desk["text"]).bounds()
    assert box[0] >= 450 and box[2] <= 605
    start, handles = desk.w.canvas.tool.handles()
    wrap = next(h for h in handles if h.role == "edge")
    x, y = start.scene_of(wrap.raw)
    desk.drag((x, y), (x + 20, y), (x + 60, y))
    assert desk["text"].width == pytest.approx(210, abs=1)


def test_an_image_is_placed_linked_or_embedded_and_a_bad_file_is_said(desk, tmp_path, monkeypatch):
    from PIL import Image

    Image.new("RGB", (40, 20), "teal").save(tmp_path / "net.png")
    (tmp_path / "bad.png").write_text("no picture")
    desk.session.scene.folder = str(tmp_path)
    monkeypatch.setattr(
        "chalcedon.desk.acts.filing.QFileDialog.getOpenFileName", lambda *a: (str(tmp_path / "net.png"), "")
    )
    desk.key(Key.Key_M, widget=desk.w.canvas)
    desk.drag((450, 350), (500, 380), (550, 400))
    assert desk["image"].source == "net.png" and desk["image"].size == (100, 50) and "linked" in desk.said
    desk.w.files.show_image(desk["image"], str(tmp_path / "bad.png"))
    assert "is not a PNG" in desk.said and desk["image"].source == "net.png"
    desk.session.scene.folder = None
    desk.w.files.show_image(desk["image"], str(tmp_path / "net.png"))
    assert desk["image"].source.startswith("data:image/png;base64,") and "embedded" in desk.said


# paint


def test_a_gradient_is_edited_on_the_canvas(desk):
    desk["wall"].fill = evenly("linear", ["#ff0000", "#00ff00", "#0000ff"])
    desk.session.flush()
    desk.session.select([desk["wall"]])
    desk.w.ledger.keys.focus_property("fill")
    _start, handles = desk.w.canvas.tool.handles()
    assert [h.role for h in handles] == ["gradient", "gradient", "stop 0", "stop 1", "stop 2"]
    desk.drag((200, 160), (210, 160), (250, 160))
    assert desk["wall"].fill.stops[1][0] == pytest.approx(0.75)
    desk.drag((300, 160), (300, 180), (300, 220))
    assert desk["wall"].fill.line == (0, 0.5, 1, 1)
    assert desk["wall"].size == (200, 120), "the rect's own handles rest meanwhile"
    desk.session.undo()
    desk.session.undo()
    assert desk["wall"].fill.stops[1][0] == 0.5
    desk.drag((200, 160), (210, 160), (223, 160), mods=Mod.ShiftModifier)
    assert desk["wall"].fill.stops[1][0] == 0.6, "held to twentieths"
    desk.w.ledger.keys.focus_property("size")
    assert any(h.role == "size" for h in desk.w.canvas.tool.handles()[1])


def test_shift_holds_the_direction_of_a_gradient(desk):
    desk["wall"].fill = {"linear": [0, 0, 1, 0], "stops": [[0, "#fff"], [1, "#000"]], "units": "scene"}
    desk["wall"].fill = desk["wall"].fill._replace(line=(120, 160, 220, 160))
    desk.session.flush()
    desk.session.select([desk["wall"]])
    desk.session.focus_paint((desk["wall"], "fill"))
    desk.drag((220, 160), (240, 185), (260, 250), mods=Qt.KeyboardModifier.ShiftModifier)
    x1, y1, x2, y2 = desk["wall"].fill.line
    assert (x1, y1) == (120, 160) and x2 > 200
    angle = math.degrees(math.atan2(y2 - y1, x2 - x1))
    assert abs(angle - 30) < 0.5 or abs(angle - 45) < 0.5 or abs(angle - 15) < 0.5


def test_numbers_typed_while_a_corner_is_dragged_are_the_size(desk):
    desk.session.select([desk["wall"]])
    desk.drag((300, 220), (330, 240), release=False)
    desk.type("150", desk.w.canvas)
    desk.key(Qt.Key.Key_Comma, widget=desk.w.canvas)
    desk.type("90", desk.w.canvas)
    desk.key(Qt.Key.Key_Return, widget=desk.w.canvas)
    assert desk["wall"].size == (150, 90) and desk["wall"].at == (100, 100)


def test_an_edge_handle_moves_its_edge_and_no_other(desk):
    desk.session.select([desk["wall"]])
    desk.drag((300, 160), (310, 175), (340, 190))
    assert desk["wall"].at == (100, 100) and desk["wall"].size[0] == pytest.approx(240, abs=1)
    assert desk["wall"].size[1] == 120


def test_only_a_colour_becomes_one_of_the_palette_and_stays_one(desk):
    panel = desk.w.palette_panel
    desk["moon"].fill = Gradient("linear", "red", "blue")
    desk.session.flush()
    desk.session.select([desk["moon"]])
    desk.w.show_palette()
    panel._gather()
    assert "not painted with a colour" in panel.complaint.text() and not desk.session.scene.palette
    picker = ColorPicker(desk.w, desk.session.scene, "#123456", "ink", False, True)
    taken = []
    picker.picked.connect(taken.append)
    picker.fields.none.emit()
    assert taken == [] and picker.complaint.text() == "A colour belongs here."


def test_the_picker_makes_gradients_and_names_colours(desk):
    desk.session.select([desk["wall"]])
    desk.click_cell("wall", "paint", "fill")
    picker = desk.w.ledger.acts.picker
    picker.kinds["radial"].click()
    assert isinstance(desk["wall"].fill, Gradient) and desk["wall"].fill.kind == "radial"
    picker.stops.added.emit(0.4)
    assert len(desk["wall"].fill.stops) == 3
    picker.kinds["colour"].click()
    picker.name.setText("brass")
    picker.keep.click()
    assert desk["wall"].fill == "var(--brass)" and dict(desk.session.scene.palette)["brass"] == "#dca443"
    picker.close()


def test_stops_are_moved_added_and_taken_away_by_keys_and_pointer(desk):
    desk.session.select([desk["wall"]])
    desk.click_cell("wall", "paint", "fill")
    picker = desk.w.ledger.acts.picker
    assert "none" in picker.kinds, "a fill may be none"
    picker.kinds["linear"].click()
    bar = picker.findChild(StopBar)

    def offsets():
        return [o for o, _color in desk["wall"].fill.stops]

    def press(offset):
        QTest.mouseClick(bar, Qt.MouseButton.LeftButton, pos=QPoint(round(bar._x(offset)), 20))

    before = list(desk["wall"].fill.stops)
    bar.setFocus()
    assert offsets() == [0, 1] and bar.current == 0
    QTest.keyClick(bar, Key.Key_Right)
    QTest.keyClick(bar, Key.Key_Right)
    QTest.keyClick(bar, Key.Key_Left)
    assert offsets() == [0.01, 1]
    QTest.keyClick(bar, Key.Key_Left)
    QTest.keyClick(bar, Key.Key_Left)
    assert offsets() == [0, 1] and list(desk["wall"].fill.stops) == before, "no farther than the end"
    QTest.keyClick(bar, Key.Key_PageDown)
    assert bar.current == 1
    QTest.keyClick(bar, Key.Key_Right)
    QTest.keyClick(bar, Key.Key_Left)
    assert offsets() == [0, 0.99]
    QTest.keyClick(bar, Key.Key_PageDown)
    assert bar.current == 0, "after the last comes the first"
    QTest.keyClick(bar, Key.Key_PageUp)
    assert bar.current == 1
    press(0.5)
    assert len(offsets()) == 3 and sorted(offsets())[1] == pytest.approx(0.5, abs=0.01)
    press(0.0)
    assert bar.stops[bar.current][0] == 0
    QTest.keyClick(bar, Key.Key_Delete)
    assert 0 not in offsets() and len(offsets()) == 2
    line = desk["wall"].fill.line
    turn = next(b for b in picker.findChildren(QPushButton) if "turn" in b.text())
    for _ in range(8):
        turn.click()
        assert desk["wall"].fill.line != line or _ == 7
    assert desk["wall"].fill.line == pytest.approx(line, abs=1e-5), "eight times 45 degrees"


def test_the_palette_shows_users_and_changes_go_to_them(desk):
    desk.session.select([desk["wall"]])
    desk.key(Key.Key_P, Mod.ControlModifier, widget=desk.w.canvas)
    panel = desk.w.palette_panel
    panel.gather.click()
    assert desk["wall"].fill == "var(--wall)"
    panel.rows["wall"]["name"].setText("brass")
    panel.rows["wall"]["name"].editingFinished.emit()
    desk["moon"].stroke = "var(--brass)"
    panel.refresh()
    assert panel.rows["brass"]["used"].text() == "used by 2"
    panel.rows["brass"]["text"].setText("#123456")
    panel.rows["brass"]["text"].editingFinished.emit()
    assert desk.session.node(desk["wall"]).fill[:3] == (0x12, 0x34, 0x56)
    panel.rows["brass"]["text"].setText("nonsense")
    panel.rows["brass"]["text"].editingFinished.emit()
    assert "nonsense" in panel.complaint.text() and dict(desk.session.scene.palette)["brass"] == "#123456"
    panel.rows["brass"]["remove"].click()
    assert desk["wall"].fill == "#123456" == desk["moon"].stroke and not desk.session.scene.palette
    desk.session.undo()
    assert desk["wall"].fill == "var(--brass)"
    panel.refresh()
    panel.rows["brass"]["used"].click()
    assert set(desk.chosen) == {"wall", "moon"}


def test_the_paint_of_the_next_shape_is_picked_up_on_demand_only(desk):
    assert desk.session.next_fill != "#f1e4bd"
    desk.click(600, 100)
    assert desk.session.next_fill != "#f1e4bd", "selecting doesn't change it"
    desk.key(Key.Key_I, widget=desk.w.canvas)
    assert desk.session.next_fill == "#f1e4bd"


# other descriptions and steps


def test_another_description_is_typed_dragged_and_measured(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.acts.open_value(desk["moon"], "also diameter")
    cell = desk.w.ledger.keys.focused_cell()
    desk.w.ledger.acts.open_editor(cell, "90")
    assert desk["moon"].radius == 45
    desk.key(Key.Key_Return, widget=desk.w.ledger.editor)
    assert desk.session.scene.undo_name == "Change diameter of moon"
    desk.drag_cell("moon", "also edges", 12, (2,))
    assert desk["moon"].radius == pytest.approx(45) and desk["moon"].at[0] > 600
    assert desk.w.ledger.keys.focus_property("also edges")
    assert desk.session.value_focus[1] == "also edges"
    desk.w.canvas.repaint()
    cell = desk.w.ledger.keys.focused_cell()
    assert "edges of its box" in tip_of(cell, desk.session)


def test_a_new_line_takes_two_corners_and_shows_the_conversion(desk):
    entry = desk.w.newline.entry
    entry.setFocus()
    QTest.keyClicks(entry, "rect hatch between 90 60 10 20 ")
    assert "at 10, 20  size 80, 40" in desk.w.newline.hint.text()
    desk.w.newline.list.hide()
    QTest.keyClick(entry, Key.Key_Return)
    assert (desk["hatch"].at, desk["hatch"].size) == ((10, 20), (80, 40))


def test_steps_show_ghosts_switch_off_and_bake(desk):
    desk["wall"].steps = [{"rotate": 90}, {"scale": [2, 1]}]
    desk.session.flush()
    desk.session.select([desk["wall"]])
    settle()
    cells = [c for c in desk.w.ledger.row_cells(desk.w.ledger.open_index()) if c.role in ("stage", "between")]
    assert [c.role for c in cells] == ["stage", "stage", "between", "stage"]
    for role, ghost in (("stage", ("after", 1)), ("between", ("swap", 0))):
        path = (1,) if role == "stage" else (0,)
        _cell, spot = desk.cell("wall", role, "steps", path)
        QTest.mouseMove(desk.w.ledger.viewport(), spot + QPoint(2, 2))
        assert desk.session.ghost == (desk["wall"], *ghost)
        desk.w.canvas.repaint()
    desk.click_cell("wall", "switch", "steps", (1,))
    assert not desk["wall"].steps[1].on
    before = desk.session.node(desk["wall"]).bounds()
    desk.key(Key.Key_B, Mod.ControlModifier, widget=desk.w.canvas)
    assert desk["wall"].steps == () and desk["wall"].size == (120, 200)
    assert desk.session.node(desk["wall"]).bounds() == pytest.approx(before)
    desk["wall"].steps = [{"rotate": 30}]
    desk.session.flush()
    desk.w.run_command("shape.bake")
    assert "turned rect" in desk.said and desk["wall"].steps


def test_a_handle_under_the_pointer_lights_up_its_value(desk):
    desk.session.select([desk["moon"]])
    desk.hover(650, 100)
    assert desk.session.lit == (desk["moon"], "radius")
    desk.hover(700, 300)
    assert desk.session.lit is None


@pytest.mark.parametrize(
    ("id", "name", "text", "words"),
    [
        ("wave", "data", "M0 0 L10 nonsense", "character 10"),
        ("sign", "size", "-5", "0.01"),
        ("moon", "fill", "not a colour", "not a colour"),
        ("moon", "fill", "linear(0, 0, 1, 1)", "no stops"),
        ("gear", "tips", "0", "The least is 2"),
        ("gear", "tips", "1000000", "1,000"),
    ],
)
def test_bad_input_is_said_and_the_last_good_picture_stays(desk, id, name, text, words):
    desk.line("path wave 100 400 'M0 0 L50 0 L20 40 Z'")
    desk.line("text sign 300 400 'Low water' 30")
    desk.line("star gear 400 300 7 40 20")
    desk.session.select([desk[id]])
    desk.w.ledger.keys.focus_property(name)
    cell = desk.w.ledger.keys.focused_cell()
    if cell.role == "paint":
        desk.w.ledger.keys.go(1)
        cell = desk.w.ledger.keys.focused_cell()
    good = desk[id].stated(name)
    desk.w.ledger.acts.open_editor(cell)
    desk.w.ledger.editor.setText(text)
    desk.w.ledger.editor.textEdited.emit(text)
    if name == "data":  # kept as written, drawn up to there, and remarked upon
        desk.w.checking.look()
        assert any(words in r.sentence for r in desk.session.remarks)
        return
    assert words in desk.said, desk.said
    assert desk[id].stated(name) == good
    desk.w.canvas.repaint()


def test_a_handle_far_from_the_pointer_is_repainted_as_it_turns(desk, monkeypatch):
    """The control across a smooth point can be far from the curve and the pointer; a frame repaints no more than it
    must."""
    from PySide6.QtCore import QEvent, QPointF
    from PySide6.QtGui import QMouseEvent, QRegion
    from PySide6.QtWidgets import QApplication

    desk.line("path wave 500 60 'M0 0 C0 0 -350 0 50 0 C80 0 90 0 90 0' fill none stroke black 2")
    desk.session.select([desk["wave"]])
    desk.w.canvas.setFocus()
    desk.drag((580, 60), (575, 40), (560, 30), release=False)
    canvas, asked = desk.w.canvas, []
    monkeypatch.setattr(canvas, "update", lambda *what: asked.append(what))
    spot, left = QPointF(desk.spot(550, 30)), Qt.MouseButton.LeftButton
    moved = QMouseEvent(
        QEvent.Type.MouseMove, spot, canvas.mapToGlobal(spot), Qt.MouseButton.NoButton, left, Mod.NoModifier
    )
    QApplication.sendEvent(canvas, moved)
    _start, handles = canvas.tool.handles()
    across = max((h for h in handles if h.role == "control"), key=lambda h: h.raw[1])
    assert across.raw == pytest.approx((50, 400), abs=1)
    assert () not in asked, "the whole canvas is not asked for"
    regions = [what[0] for what in asked if isinstance(what[0], QRegion)]
    assert any(r.contains(desk.spot(550, 460)) for r in regions)
