"""Several shapes in hand: one row of what they have in common, one box with handles."""

import math

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit
from recorded import assert_as_recorded

from chalcedon import Circle, Rect, Scene
from chalcedon.craft.several import MIXED
from chalcedon.formula import Formula
from chalcedon.geometry.boxes import union
from chalcedon.scene import Group, Line, Star
from chalcedon.source import print_shapes
from tests.agree import pixels

Key, Mod = Qt.Key, Qt.KeyboardModifier


@pytest.fixture
def buoys(desk):
    scene = Scene(
        [
            Circle(id="red", at=(100, 100), radius=20, fill="#b8482a"),
            Circle(id="blue", at=(300, 100), radius=40, fill="#7fa3b8", stroke="#22292e", stroke_width=4),
            Rect(id="crate", at=(400, 60), size=(100, 80), fill="#dca443"),
            Group(id="rig", at=(200, 300), children=[Star(id="vane", outer=40, inner=16), Rect(size=(30, 10))]),
        ],
        size=(800, 500),
    )
    desk.session.new(scene, "buoys")
    desk.w.canvas.fit()
    QApplication.processEvents()
    return desk


def choose(desk, *ids):
    desk.session.select([desk[i] for i in ids])


def at_box(desk, kind, index=0):
    """Scene px of a handle of the box."""
    tool, view = desk.w.canvas.tool, desk.w.canvas.view
    return view.to_scene(*dict(tool.hold.spots())[kind, index])


def cells(desk):
    return {(c.name, c.path): c for c in desk.w.ledger.keys.focusable() if c.role != "offer"}


def test_a_row_shows_what_they_have_in_common(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    shown = cells(desk)
    assert shown["at", (0,)].text == "mixed" and shown["at", (1,)].text == "100"
    assert shown["radius", ()].value is MIXED and shown["fill", ()].value is MIXED
    texts = [c.text for c in desk.w.ledger.row_cells(desk.w.ledger.open_index())]
    assert "All 2" in texts and "2 circles" in texts
    choose(desk, "red", "crate")
    assert "radius" not in {name for name, _ in cells(desk)}
    choose(desk, "red")
    assert cells(desk)["radius", ()].text == "20"


def type_into(desk, name, path, text):
    ledger = desk.w.ledger
    ledger.setFocus()
    ledger.acts.open_value(ledger.several, name, path[0] if path else 0)
    desk.key(Key.Key_Return, widget=ledger)
    desk.type(text, ledger.editor)
    desk.key(Key.Key_Return, widget=ledger.editor)


def test_a_formula_for_all_is_worked_out_by_each(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    type_into(desk, "opacity", (), "self.radius / 100")
    assert (desk["red"].opacity, desk["blue"].opacity) == (0.2, 0.4)
    assert desk["red"].stated("opacity") == Formula("self.radius / 100", 1)
    cell = cells(desk)["opacity", ()]
    assert (cell.text, cell.value.text, cell.wrong) == ("mixed", "self.radius / 100", "")
    told = [c.text for c in desk.w.ledger.row_cells(desk.w.ledger.open_index()) if c.role == "told"]
    assert told == ["= self.radius / 100"]
    type_into(desk, "at", (1,), "= scene.height / 2")
    assert cells(desk)["at", (1,)].text == "250" and cells(desk)["at", (0,)].text == "mixed"
    desk["red"].radius = desk["blue"].radius = 50
    desk.session.flush()
    assert cells(desk)["opacity", ()].text == "0.5", "what it comes to is followed"
    fill = next(c for c in desk.w.ledger.keys.focusable() if c.key == ("text", "fill", ()))
    desk.w.ledger.acts.open_editor(fill, "mix('red'")
    desk.key(Key.Key_Return, widget=desk.w.ledger.editor)
    assert "A bracket is open" in desk.said and desk["blue"].fill == "#7fa3b8", "what was there is seen until then"
    assert cells(desk)["fill", ()].wrong
    for _ in range(5):
        desk.session.undo()
    assert [desk[i]._formulas for i in ("red", "blue")] == [None, None], "a step each"
    choose(desk, "red", "crate")
    type_into(desk, "opacity", (), "self.radius / 100")
    assert desk["red"].opacity == 0.2 and desk["crate"].opacity == 1, "none is kept from it by another"


def test_a_number_for_all_a_factor_and_an_offset(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    type_into(desk, "radius", (), "*1.5")
    assert (desk["red"].radius, desk["blue"].radius) == (30, 60), "each by what it was, not by what was half typed"
    type_into(desk, "at", (0,), "+10")
    assert (desk["red"].at, desk["blue"].at) == ((110, 100), (310, 100))
    type_into(desk, "radius", (), "25")
    assert (desk["red"].radius, desk["blue"].radius) == (25, 25)
    desk.session.undo()
    desk.session.undo()
    desk.session.undo()
    assert (desk["red"].radius, desk["red"].at) == (20, (100, 100)) and not desk.session.scene.history.done


def test_what_is_typed_wrong_changes_none(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    type_into(desk, "radius", (), "*x")
    assert (desk["red"].radius, desk["blue"].radius) == (20, 40) and "stays as it was" in desk.said
    ledger = desk.w.ledger
    ledger.acts.open_editor(next(c for c in ledger.keys.focusable() if c.key == ("text", "fill", ())), "")
    desk.type("blurple", ledger.editor)
    desk.key(Key.Key_Return, widget=ledger.editor)
    assert desk["red"].fill == "#b8482a" and "not a CSS colour" in desk.said


def test_a_number_dragged_moves_each_by_as_much(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    found = cells(desk)["radius", ()]
    top = desk.w.ledger.top_of(desk.w.ledger.open_index())
    spot = QPoint(round(found.x + 8), round(top + found.y + 14))
    desk._drag(desk.w.ledger.viewport(), [spot + QPoint(i * 5, 0) for i in range(3)], Mod.NoModifier)
    assert (desk["red"].radius, desk["blue"].radius) == (30, 50)
    assert desk.chosen == ["red", "blue"], "they stay selected"


def test_a_paint_is_picked_for_all_and_begins_with_that_of_the_first(buoys):
    desk = buoys
    acts = desk.w.ledger.acts
    choose(desk, "blue", "red")
    acts.pick_color(cells(desk)["fill", ()])
    first = desk.session.selection[0]
    assert acts.picker.text.text() == first.fill and desk["red"].fill != desk["blue"].fill
    acts.picker.kinds["linear"].click()
    acts.picker.units.activated.emit(1)
    acts.picker.close()
    line = first.fill.line
    x, y = first.at
    assert desk["red"].fill == desk["blue"].fill and first.fill.units == "scene"
    assert line == (x, y - first.radius, x, y + first.radius), "where it lay on the first"
    desk.session.undo()
    assert isinstance(desk["red"].fill, str) and isinstance(desk["blue"].fill, str), "one step"


def test_a_switch_and_a_choice_for_all(buoys):
    desk = buoys
    choose(desk, "red", "blue", "crate")
    desk.w.ledger.acts.open_value(desk.w.ledger.several, "cuts")
    desk.key(Key.Key_Space, widget=desk.w.ledger)
    assert all(desk[i].cuts for i in ("red", "blue", "crate"))
    desk.session.undo()
    cell = desk.w.ledger.keys.focused_cell()
    desk.w.ledger.acts.put(cell.owner, "pointer", "none")
    assert all(desk[i].pointer == "none" for i in ("red", "blue", "crate"))


def test_clicks_among_the_values_keep_the_selection(buoys):
    desk = buoys
    choose(desk, "red", "blue")
    ledger = desk.w.ledger
    top = ledger.top_of(ledger.open_index())
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(20, int(top) + 60))
    assert desk.chosen == ["red", "blue"]
    QTest.mouseClick(ledger.viewport(), Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(120, int(top) + 10))
    assert desk.chosen == ["blue"]


def test_the_box_sizes_all_and_back_is_where_it_was(buoys):
    desk = buoys
    choose(desk, "red", "blue", "crate")
    x, y = at_box(desk, "size", 4)
    desk.drag((x, y), (x + 50, y + 20), (x + 420, y + 80))
    assert desk["crate"].size[0] > 150 and desk["blue"].radius > 40 and desk["blue"].stroke_width == 4
    desk.session.undo()
    x, y = at_box(desk, "size", 4)
    desk.drag((x, y), (x + 420, y + 80), (x - 900, y - 700), (x, y))
    assert (desk["red"].at, desk["blue"].radius, desk["crate"].size) == ((100, 100), 40, (100, 80))


def test_shift_keeps_the_proportion_and_strokes_grow_when_asked(buoys):
    desk = buoys
    choose(desk, "red", "blue", "crate")
    desk.click(*at_box(desk, "strokes"))
    assert desk.session.strokes_grow and desk.chosen == ["red", "blue", "crate"]
    x, y = at_box(desk, "size", 4)
    desk.drag((x, y), (x + 100, y + 1), (x + 420, y + 1), mods=Mod.ShiftModifier)
    factor = desk["red"].radius / 20
    assert factor > 1.5
    assert desk["crate"].size == pytest.approx((100 * factor, 80 * factor), rel=1e-3)
    assert desk["blue"].stroke_width == pytest.approx(4 * factor, rel=1e-3)
    assert desk.session.scene.undo_name == "Size 3 shapes"
    desk.session.undo()
    assert desk["blue"].stroke_width == 4


def test_numbers_typed_while_the_box_is_dragged(buoys):
    desk = buoys
    choose(desk, "red", "crate")
    width = 420
    x, y = at_box(desk, "size", 3)
    desk.drag((x, y), (x + 10, y), release=False)
    desk.type(str(width * 2), desk.w.canvas)
    desk.key(Key.Key_Return, widget=desk.w.canvas)
    left, _, right, _ = desk.w.canvas.tool.hold.box
    assert right - left == pytest.approx(2 * width - 20, abs=0.01), "the circle keeps its radius: its side grew by none"
    assert desk["crate"].size == (200, 80)


def test_turned_and_mirrored_by_its_handles(buoys):
    desk = buoys
    choose(desk, "red", "crate")
    x, y = at_box(desk, "turn")
    cx, cy = 290, 100
    desk.drag((x, y), (x + 30, y + 5), (cx + (cy - y), cy), release=True)
    assert desk["crate"].steps[0].op == "rotate" and desk["crate"].steps[0].values[0] == pytest.approx(90, abs=1)
    assert desk["red"].steps == () and desk["red"].at[1] < 0
    desk.session.undo()
    desk.click(*at_box(desk, "mirror", 0))
    assert (desk["red"].at, desk["crate"].at) == ((480, 100), (80, 60)) and desk.chosen == ["red", "crate"]
    desk.click(*at_box(desk, "mirror", 0))
    assert (desk["red"].at, desk["crate"].at) == ((100, 100), (400, 60))
    desk.w.run_command("place.mirror_y")
    assert desk["red"].at == (100, 100) and desk.session.scene.undo_name == "Mirror 2 shapes"


def test_a_group_has_the_box_too(buoys):
    desk = buoys
    choose(desk, "rig")
    x, y = at_box(desk, "size", 4)
    left, top, *_ = desk.w.canvas.tool.hold.box
    desk.drag((x, y), (x + 5, y + 5), (left + 2 * (x - left), top + 2 * (y - top)))
    assert desk["vane"].outer == pytest.approx(80, rel=0.03) and desk["rig"].steps == ()


def test_sized_and_turned_by_typed_numbers(buoys):
    desk = buoys
    choose(desk, "red", "crate")
    desk.w.run_command("place.scale")
    field = desk.w.messages.findChild(QLineEdit)
    field.setText("0")
    QApplication.processEvents()
    assert desk["red"].radius == 20
    field.setText("2")
    desk.key(Key.Key_Return, widget=field)
    assert desk["red"].radius == 40 and desk["crate"].size == (200, 160)
    assert desk.session.scene.undo_name == "Size 2 shapes"


def test_escape_takes_a_drag_of_the_box_back(buoys):
    desk = buoys
    choose(desk, "red", "crate")
    x, y = at_box(desk, "size", 4)
    desk.drag((x, y), (x + 5, y + 5), (x + 100, y + 50), release=False)
    assert desk["red"].radius != 20
    desk.key(Key.Key_Escape, widget=desk.w.canvas)
    assert desk["red"].radius == 20 and not desk.session.scene.history.done


def test_many_shapes_are_carried_as_a_picture_and_put_down(desk):
    """Nothing in the scene changes until the release; the picture then is the one that was shown."""
    shapes = [Rect(id=f"r{i}", at=(20 * (i % 25), 15 * (i // 25)), size=(12, 9), fill="#7fa3b8") for i in range(450)]
    scene = Scene([Circle(id="moon", at=(700, 400), radius=50, fill="#dca443"), *shapes], size=(800, 500))
    desk.session.new(scene, "many")
    desk.w.canvas.fit()
    QApplication.processEvents()
    desk.session.select(shapes)
    desk.drag((6, 4), (60, 40), (106, 104), release=False)
    canvas, tool = desk.w.canvas, desk.w.canvas.tool
    assert tool.carried is not None and tool.word == "+100, +100" and shapes[0].at == (0, 0)
    x, y = map(int, canvas.view.to_widget(105, 104))
    canvas.repaint()
    shown = canvas.grab().toImage().pixelColor(x, y)
    assert shown.name() == "#7fa3b8"
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, desk.spot(106, 104))
    assert shapes[0].at == (100, 100) and shapes[-1].at[0] == 100 + 20 * (449 % 25) and tool.carried is None
    assert desk["moon"].at == (700, 400) and desk.session.scene.undo_name == "Move 450 shapes"
    desk.session.undo()
    assert shapes[0].at == (0, 0) and not desk.session.scene.history.done
    desk.session.select(shapes)
    desk.drag((6, 4), (60, 40), (106, 104), release=False)
    desk.key(Key.Key_Escape, widget=canvas)
    assert tool.carried is None and shapes[0].at == (0, 0) and not desk.session.scene.history.done


@pytest.mark.parametrize("kind", ["size", "turn"])
def test_many_shapes_are_sized_and_turned_as_a_picture_that_is_the_one_they_come_to(desk, kind):
    shapes = [Rect(id=f"r{i}", at=(20 * (i % 15), 15 * (i // 15)), size=(12, 9), fill="#7fa3b8") for i in range(150)]
    desk.session.new(Scene([Circle(id="moon", at=(700, 400), radius=50), *shapes], size=(800, 500)), "many")
    desk.w.canvas.fit()
    QApplication.processEvents()
    desk.session.select(shapes)
    canvas, tool = desk.w.canvas, desk.w.canvas.tool
    x, y = at_box(desk, kind, 4 if kind == "size" else 0)
    way = (x + 150, y + 75) if kind == "size" else (x + 80, y + 70)
    desk.drag((x, y), (x + 20, y + 20), way, release=False)
    assert tool.carried is not None and shapes[-1].size == (12, 9) and not shapes[-1].steps, "nothing is changed yet"
    canvas.repaint()
    shown = pixels(canvas.grab().toImage())
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, desk.spot(*way))
    assert tool.carried is None and desk.session.scene.undo_name.endswith("150 shapes")
    assert (shapes[-1].size[0] > 15) if kind == "size" else shapes[-1].steps
    desk.session.select([])
    canvas.repaint()
    QApplication.processEvents()
    now = pixels(canvas.grab().toImage())
    blue = [(abs(p - (127, 163, 184)).max(axis=2) < 40) for p in (shown, now)]
    both, any_of_them = (blue[0] & blue[1]).sum(), (blue[0] | blue[1]).sum()
    assert both > 0.75 * any_of_them, "what is seen lies where it was shown, but for soft edges"
    desk.session.undo()
    assert shapes[-1].size == (12, 9) and not shapes[-1].steps and not desk.session.scene.history.done
    desk.session.select(shapes)
    desk.drag((x, y), way, release=False)
    desk.key(Key.Key_Escape, widget=canvas)
    assert tool.carried is None and not desk.session.scene.history.done


def test_a_lock_of_proportions_holds_in_the_ledger_on_the_canvas_and_in_the_box(buoys):
    choose(buoys, "crate")
    buoys.key(Key.Key_P, Mod.AltModifier | Mod.ShiftModifier)
    assert buoys["crate"].aspect_ratio == 1.25 and buoys.said == "crate keeps its proportions."
    buoys.drag_cell("crate", "size", 25, (0,))
    assert buoys["crate"].size == (125, 100)
    buoys.drag((525, 160), (575, 160))  # a corner, straight to the side
    assert buoys["crate"].size == (175, 140)
    choose(buoys, "crate", "red")
    buoys.key(Key.Key_P, Mod.AltModifier | Mod.ShiftModifier)
    assert buoys["crate"].aspect_ratio == 0, "a circle has none to keep, so that all that could keep it did"
    buoys.session.scene.undo()
    assert buoys["crate"].aspect_ratio == 1.25


@pytest.mark.parametrize("chosen", [("rig",), ("red", "blue"), ("crate",)])
@pytest.mark.parametrize("edge", [(0, None), (1, None), (None, 0), (None, 1)])
def test_what_turns_and_mirrors_stays_on_the_canvas_where_the_selection_meets_its_edge(buoys, chosen, edge):
    desk = buoys
    choose(desk, *chosen)
    canvas, tool = desk.w.canvas, desk.w.canvas.tool
    box = canvas.view.matrix.map_box(union(desk.session.node(desk[i]).bounds() for i in chosen))
    left, top, right, bottom = area = canvas.area()
    way = [0.0 if e is None else area[i + 2 * e] + (3, -3)[e] - box[i + 2 * e] for i, e in enumerate(edge)]
    canvas.view.pan(*way)
    placed = dict(tool.hold.spots())
    sizes = [placed.pop(spot) for spot in sorted(placed) if spot[0] == "size"]
    if sizes:
        x0, y0, x1, y1 = canvas.view.matrix.map_box(tool.hold.box)
        corners = (x0 - 4, y0 - 4), (x1 + 4, y0 - 4), (x1 + 4, y1 + 4), (x0 - 4, y1 + 4)
        assert [v for p in sizes[::2] for v in p] == pytest.approx([v for p in corners for v in p])
    if len(chosen) == 1:
        placed["turn", 0] = tool.turn_stalk(tool.handles()[0])[1:]
    assert len(placed) == (1 if chosen == ("crate",) else 4)
    assert all(math.dist(a, b) >= 14 for a in placed.values() for b in sizes), "none on another"
    for (kind, _), (x, y) in placed.items():
        half = 70 if kind == "strokes" else 10  # the switch is in words
        assert left + half <= x <= right - half and top + 10 <= y <= bottom - 10, kind
    x, y = placed["turn", 0]
    desk.drag(canvas.view.to_scene(x, y), canvas.view.to_scene(x + 30, y + 30), canvas.view.to_scene(x + 60, y + 90))
    assert desk.session.scene.undo_name.startswith(("Rotate", "Turn")), "it can be taken there"


def test_what_each_handle_of_the_box_does(buoys):
    """Dragged freely, held by Shift and by Ctrl, and with numbers typed; of shapes side by side, and of a group."""
    desk = buoys
    tool, canvas = desk.w.canvas.tool, desk.w.canvas
    desk.session.scene.add(Line(id="rope", at=(500, 400), to=(120, 0)))
    desk.session.flush()
    lines = []
    for ids in (["red", "crate"], ["rope", "blue"], ["rig"]):
        choose(desk, *ids)
        places = {spot: at for spot, at in tool.hold.spots()}
        box = tool.hold.box
        lines.append(f"{' '.join(ids)} in {' '.join(f'{v:g}' for v in box)}:")
        for (kind, i), at in places.items():
            inside = [(at[k] - p) for k, p in zip((0, 1), canvas.view.to_widget(*box[:2]), strict=True)]
            lines.append(f"  {kind} {i} at {inside[0]:.1f}, {inside[1]:.1f} px")
            if kind not in ("size", "turn"):
                continue
            for mods in (Mod.NoModifier, Mod.ShiftModifier, Mod.ControlModifier):
                for typed in ("", "50", "90, 30") if mods == Mod.NoModifier else ("",):
                    spot = QPoint(*map(round, at))
                    desk._drag(canvas, [spot, spot + QPoint(9, 7), spot + QPoint(31, 17)], mods, release=False)
                    desk.type(typed, canvas)
                    values = "; ".join(line for id in ids for line in print_shapes([desk[id]]).splitlines())
                    lines.append(f"    {mods.name[:5]} {typed or '-'}: {tool.word}: {values}")
                    desk.key(Key.Key_Escape, widget=canvas)
                    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, mods, spot)
                    desk.session.flush()
                    assert tool.hold.box == pytest.approx(box), "given up"
    assert_as_recorded("box", lines, 0.011)
