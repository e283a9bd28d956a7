"""Scenes that live in the window: formulas typed into cells, the strip, inputs, responses, the run of a canvas."""

import math

import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QGuiApplication, QPointingDevice, QTabletEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QFileDialog

from chalcedon.desk.canvas.sources import sources_of
from chalcedon.desk.ledger.curvecell import Scale
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.desk.live.eventlog import EVERY_MS
from chalcedon.desk.live.strip import said_time
from chalcedon.formula import Formula
from chalcedon.live.recording import read_recording
from chalcedon.scene import Gradient, Step
from chalcedon.scene.color import rgba

Key, Mod = Qt.Key, Qt.KeyboardModifier


def steps(desk, count=1):
    """Has the clock go on without waiting for it."""
    player = desk.session.document.player
    player.play()
    player._timer.stop()
    for _ in range(count):
        player._feed()
        player.live.advance()
    player._after()


def alive(desk):
    """Goes to Live with the clock in our hands."""
    desk.w.run_command("live.mode")
    desk.session.document.player._timer.stop()
    return desk.session.document.player.live


def at_scene(desk, x, y):
    wx, wy = desk.w.canvas.view.to_widget(x, y)
    return QPoint(round(wx), round(wy))


def edit(desk, id, role, name, path=()):
    desk.session.select([desk[id]])
    cell, _spot = desk.cell(id, role, name, path)
    desk.w.ledger.acts.open_editor(cell)
    return desk.w.ledger.editor


def test_a_name_makes_a_formula_of_what_is_typed(desk):
    editor = edit(desk, "moon", "number", "radius")
    editor.selectAll()
    desk.type("hull.w", editor)
    assert editor.help.list.isVisible() and desk.said == "", "a name that is being typed isn't wrong"
    words = [editor.help.list.item(i).text().split()[0] for i in range(editor.help.list.count())]
    assert words[0] == "width"
    desk.key(Key.Key_Tab, widget=editor)
    desk.type(" / 4", editor)
    desk.key(Key.Key_Return, widget=editor)
    width = desk.session.node(desk["hull"]).bounds()
    assert desk["moon"].stated("radius").text == "hull.width / 4"
    assert desk["moon"].radius == pytest.approx((width[2] - width[0]) / 4)
    cell, _spot = desk.cell("moon", "number", "radius")
    assert tip_of(cell, desk.session) == "= hull.width / 4"
    desk.w.ledger.keys.focus_property("radius")
    assert "= hull.width / 4" in desk.w.ledger.formula_lines and desk.session.formula_focus == (desk["moon"], "radius")
    desk.session.select([desk["hull"]])
    desk.w.ledger.keys.focus_property("size")
    assert "used by moon.radius" in desk.w.ledger.formula_lines[0]
    desk.session.undo()
    assert desk["moon"].radius == 50 and desk["moon"]._formulas is None


def test_mistakes_are_kept_marked_and_said(desk):
    editor = edit(desk, "moon", "number", "radius")
    editor.selectAll()
    desk.type("hul.width", editor)
    desk.key(Key.Key_Return, widget=editor)
    assert "Did you mean hull?" in desk.said and desk["moon"].radius == 50
    cell, _spot = desk.cell("moon", "number", "radius")
    assert cell.value.text == "hul.width" and "Did you mean hull?" in cell.wrong
    desk.w.checking.look()
    remark = next(r for r in desk.session.remarks if r.what == "formula")
    remark.repairs[0].act(desk.session.display)
    assert desk["moon"].stated("radius") == 50, "the last value stands there again"


@pytest.mark.parametrize(
    ("role", "name", "typed", "expected"),
    [
        ("text", "fill", "lighter('#336699', 0.1)", "#"),
        ("number", "at", "pointer.x + 10", None),
        ("choice", "blend", "='screen' if pointer.down else 'normal'", "normal"),
        ("flag", "visible", "=not pointer.down", True),
    ],
)
def test_any_cell_takes_a_formula(desk, role, name, typed, expected):
    desk.session.select([desk["moon"]])
    desk.w.ledger.unfold(desk["moon"], name)
    editor = edit(desk, "moon", role, name, (0,) if name == "at" else ())
    editor.replace(typed)
    desk.key(Key.Key_Return, widget=editor)
    stated = desk["moon"].stated(name)
    stated = stated[0] if name == "at" else stated
    assert stated.text == typed.removeprefix("=").strip()
    value = getattr(desk["moon"], name)
    assert value[0] == desk.session.scene.size[0] / 2 + 10 if name == "at" else str(value).startswith(str(expected))


def test_colours_within_values_take_formulas(desk):
    moon, scene = desk["moon"], desk.session.scene
    moon.fill, moon.shadow = Gradient("linear", "#336699", "#ffffff"), (2, 2, 4, "#000000")
    desk.session.flush()
    editor = edit(desk, "moon", "text", "shadow", (3,))
    editor.replace("alpha('red', 0.5)")
    desk.key(Key.Key_Return, widget=editor)
    assert moon.stated("shadow").color.text == "alpha('red', 0.5)" and moon.shadow.color == "#ff000080"
    cell, _spot = desk.cell("moon", "text", "shadow", (3,))
    assert (cell.value.text, cell.text) == ("alpha('red', 0.5)", "#ff000080")
    cell, _spot = desk.cell("moon", "paint", "fill")
    desk.w.ledger.acts.pick_color(cell)
    picker = desk.w.ledger.acts.picker
    picker.fields.text.clear()
    desk.type("darker('#336699', 0.2)", picker.fields.text)
    picker.close()
    assert moon.stated("fill").stops[0][1].text == "darker('#336699', 0.2)"
    assert moon.fill.stops[0][1] not in ("#336699", "darker('#336699', 0.2)") and moon.fill.stops[1][1] == "#ffffff"
    scene.palette = {"sea": "#204060"}
    moon.stroke = "var(--sea)"
    desk.w.show_palette()
    entry = desk.w.palette_panel.rows["sea"]["text"]
    entry.setText("= mix('black', 'white', 0.5)")
    desk.key(Key.Key_Return, widget=entry)
    assert scene.stated("palette")[0][1].text == "mix('black', 'white', 0.5)"
    assert desk.session.node(moon).stroke == rgba(scene.palette[0][1]) != rgba("#204060")
    assert desk.w.palette_panel.rows["sea"]["text"].text() == "= mix('black', 'white', 0.5)"


def test_a_click_puts_a_reference_in(desk):
    editor = edit(desk, "moon", "number", "radius")
    editor.selectAll()
    desk.type("2 * ", editor)
    QTest.mouseClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, at_scene(desk, *middle(desk, "wall")))
    desk.session.formula_editor = editor
    desk.session.pick_for_formula(desk["wall"], "size", 1)
    assert editor.text().startswith("2 * ") and editor.text().endswith("wall.size.height")
    desk.key(Key.Key_Return, widget=editor)
    assert desk["moon"].stated("radius").text.endswith("wall.size.height")


def test_a_click_on_a_handle_puts_in_what_it_changes(desk):
    editor = edit(desk, "moon", "number", "at", (1,))
    editor.selectAll()
    desk.type("300 - ", editor)
    _start, handles = desk.w.canvas.tool.handles()
    handle = next(h for h in handles if h.role == "radius")
    spot = at_scene(desk, *_start.scene_of(handle.raw))
    QTest.mouseClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, spot)
    assert editor.text() == "300 - moon.radius"
    desk.key(Key.Key_Return, widget=editor)
    assert desk["moon"].at == (600, 250)


def middle(desk, id):
    box = desk.session.node(desk[id]).bounds()
    return (box[0] + box[2]) / 2, (box[1] + box[3]) / 2


def test_deleting_a_source_says_who_reads_it(desk):
    desk["moon"].radius = Formula("hull.width / 4", 1)
    desk.session.flush()
    radius = desk["moon"].radius
    desk.session.select([desk["hull"]])
    desk.w.run_command("edit.delete")
    assert "hull is read by moon.radius" in desk.said and desk["moon"].radius == radius
    buttons = desk.w.messages.findChildren(QAbstractButton)
    next(b for b in buttons if b.text() == "Put the last values there").click()
    assert desk["moon"].stated("radius") == radius
    desk.session.undo()
    desk.session.undo()
    assert desk["moon"].stated("radius") == Formula("hull.width / 4", 1) and desk["moon"].radius == radius


def test_a_circle_that_follows_the_pointer(desk):
    desk.line("circle dot {follow(pointer, 0.1)} 8")
    live = alive(desk)
    assert desk.w.below.currentIndex() == 1 and desk.w.living.strip.live.isChecked()
    QTest.mouseMove(desk.w.canvas, at_scene(desk, 100, 120))
    steps(desk, 2)
    QTest.mouseMove(desk.w.canvas, at_scene(desk, 300, 200))
    steps(desk, 120)
    at = live.value("dot", "at")
    assert at == pytest.approx((300, 200), abs=1.5)
    desk.w.run_command("live.mode")
    assert desk.session.document.player.live is None and desk.w.below.currentIndex() == 0
    width, height = desk.session.scene.size
    assert desk["dot"].at == (width / 2, height / 2), "in Build the pointer rests in the middle"


def test_responses_are_sentences_that_are_typed_and_tried(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.acts.open_value(desk["moon"], "responses")
    desk.click_cell("moon", "add", "responses")
    editor = desk.w.ledger.editor
    editor.replace("when key r is pressed: tell lit")
    desk.key(Key.Key_Return, widget=editor)
    assert "key r goes down" in desk.said and desk.w.ledger.editor is editor, "it can be mended"
    editor.replace("when clicked: self.fill becomes #ffffff over 0.2 s, linear; tell lit")
    desk.key(Key.Key_Return, widget=editor)
    assert desk["moon"].responses[0].do[0].target == "self.fill"
    before = desk["moon"].fill
    live = alive(desk)
    spot = at_scene(desk, *desk["moon"].at)
    QTest.mouseClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, spot)
    steps(desk, 20)
    assert live.value("moon", "fill") == "#ffffff" and desk["moon"].stated("fill") == before
    assert "lit" in "\n".join(desk.w.living.log.lines()) and "click" in desk.w.living.log.lines()[-2]
    desk.w.living.log.filter.setText("lit")
    assert len(desk.w.living.log.lines()) == 1
    desk.w.living.log.refresh()
    desk.w.living.log.copy_all()
    assert "lit" in QGuiApplication.clipboard().text()
    desk.w.run_command("live.keep")
    assert desk["moon"].fill == "#ffffff"
    desk.session.undo()
    assert desk["moon"].fill == before
    desk.w.run_command("live.zero")
    assert live.value("moon", "fill") == before and live.frame == 0
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "more", "responses", (0,))
    steps(desk, 20)
    assert live.value("moon", "fill") == "#ffffff", "it was tried in place"
    desk.w.run_command("live.mode")


def test_events_are_listed_soon_while_the_list_is_not_stopped(desk, qtbot):
    alive(desk)
    log = desk.w.living.log
    if not log.isVisible():
        desk.w.run_command("live.events")
    desk.click(600, 100)
    steps(desk)
    qtbot.waitUntil(lambda: "click" in log.list.toPlainText())
    before = log.list.toPlainText()
    log.pause.click()
    desk.click(600, 100)
    steps(desk)
    qtbot.wait(3 * EVERY_MS)
    assert log.list.toPlainText() == before and log.pause.text() == "Go on"
    log.pause.click()
    assert [log.list.toPlainText().count("\tclick\t"), before.count("\tclick\t")] == [2, 1]


def test_the_clock_goes_steps_and_is_dragged(desk, tmp_path, monkeypatch):
    desk["moon"].radius = Formula("20 + time * 10", 20)
    desk.session.flush()
    player, strip = desk.session.document.player, desk.w.living.strip
    player.seek(2.0)
    assert desk["moon"].radius == 40 and player.live is None and strip.time.text() == "0:02.00", "in Build it stands"
    player.zero()
    QTest.mouseClick(strip.line, Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(strip.line.width() // 2, 12))
    assert player.time == pytest.approx(5, abs=0.3)
    desk.w.run_command("live.zero")
    desk.w.run_command("live.step")
    assert player.live is not None and not player.playing and player.time == pytest.approx(1 / 60)
    QTest.mouseMove(desk.w.canvas, at_scene(desk, 100, 120))
    desk.w.run_command("live.clock")
    assert player.playing and strip.clock.accessibleName() == "Pause"
    QTest.mouseMove(desk.w.canvas, at_scene(desk, 200, 120))
    steps(desk, 30)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "run.jsonl"), ""))
    desk.w.run_command("live.record")
    assert read_recording(tmp_path / "run.jsonl").steps == player.live.frame
    desk.w.living.replay_from(str(tmp_path / "run.jsonl"))
    steps(desk, 10)
    desk.w.living.replay_from(str(tmp_path / "none.jsonl"))
    assert "can't be read" in desk.said
    assert said_time(63.25) == "1:03.25"
    desk.w.run_command("live.mode")
    assert desk["moon"].radius == 20


def test_it_goes_on_by_itself_and_late_frames_are_left_out(desk, qtbot):
    desk["moon"].radius = Formula("20 + time", 20)
    desk.session.flush()
    player = desk.session.document.player
    player.enter()
    qtbot.waitUntil(lambda: player.time > 0.1, timeout=5000)
    player.pause()
    frame = player.live.frame
    player.play()
    player._last -= 5.0  # the program was busy for five seconds
    player._tick()
    assert player.live.frame <= frame + 6 and player.dropped > 200
    player.leave()


def test_keys_go_to_what_listens(desk):
    desk["moon"].responses = [{"on": "keydown", "key": "ArrowUp", "do": [{"add": "moon.at.y", "by": -10}]}]
    desk.session.flush()
    live = alive(desk)
    y = desk["moon"].at[1]
    QTest.mouseClick(desk.w.canvas, Qt.MouseButton.LeftButton, Mod.NoModifier, at_scene(desk, *desk["moon"].at))
    steps(desk)
    desk.key(Key.Key_Up, widget=desk.w.canvas)
    steps(desk)
    assert live.value("moon", "at")[1] == y - 10 and desk["moon"].at[1] == y
    desk.key(Key.Key_C, widget=desk.w.canvas)
    assert desk.w.canvas.kind == "", "a key of the scene is no command"
    desk.w.run_command("live.mode")
    assert desk["moon"].at[1] == y


def test_another_scene_ends_the_run(desk):
    player = desk.session.document.player
    player.enter()
    desk.session.new()
    assert player.live is None and desk.session.document.player.live is None and desk.w.living.strip.build.isChecked()


def test_the_scene_itself_answers_and_its_sentence_is_written_by_choosing(desk):
    scene = desk.session.scene
    scene.inputs.add("lit", False)
    top = desk.w.ledger.top_of(0)
    desk.w.run_command("live.response")
    editor = desk.w.ledger.editor
    assert editor.text() == "when 2 s have gone: tell bell" and editor.hasFocus()
    editor.clear()
    for keys, chosen in (("w", "when "), ("cl", "clicked"), ("", ": "), ("tog", "toggle "), ("l", "lit")):
        desk.type(keys, editor)
        desk.key(Key.Key_Down, widget=editor)
        while editor.help.list.currentItem() is None or not editor.help.list.currentItem().text().startswith(chosen):
            desk.key(Key.Key_Down, widget=editor)
        desk.key(Key.Key_Return, widget=editor)
    assert editor.text() == "when clicked: toggle lit" and desk.said == ""
    desk.key(Key.Key_Return, widget=editor)
    assert [(r.on, r.do[0].op) for r in scene.responses] == [("click", "toggle")]
    assert desk.w.ledger.top_of(0) == top + 28, "the rows begin below its line"
    cells = {c.value: c for c in desk.w.ledger.head_cells() if c.role == "more"}
    desk.w.ledger.acts.activate(cells["try"])
    steps(desk)
    assert desk.session.document.player.live.inputs["lit"] is True
    desk.w.run_command("live.mode")
    desk.w.ledger.setFocus()
    desk.session.select([])
    for _ in range(30):
        desk.key(Key.Key_Tab, widget=desk.w.ledger)
        if desk.w.ledger.focus_key == ("remove", "responses", (0,)):
            break
    desk.key(Key.Key_Return, widget=desk.w.ledger)
    assert scene.responses == () and desk.w.ledger.top_of(0) == top, "by keys alone"
    desk.session.undo()
    assert len(scene.responses) == 1


def test_keyframes_are_drawn_below_the_row_and_dragged_there(desk):
    moon = desk["moon"]
    moon.radius = Formula("keyframes(time, (0, 20), (2, 60, 'ease-out'), (4, 20))", 20)
    desk.session.flush()
    desk.session.select([moon])
    desk.w.ledger.keys.focus_property("radius")
    cells, _height = desk.w.ledger._opened
    cell = next(c for c in cells if c.role == "curve")
    top = desk.w.ledger.top_of(desk.w.ledger.open_index())
    scale = Scale(cell.value, cell, top)
    frame, to = scale.at(2, 60).toPoint(), scale.at(3, 40).toPoint()
    view = desk.w.ledger.viewport()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, Mod.NoModifier, frame)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(view, frame + (to - frame) * share)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Mod.NoModifier, to)
    time, value = scale.back(to.x(), to.y())
    assert moon.stated("radius").text == f"keyframes(time, (0, 20), ({time}, {value:g}, 'ease-out'), (4, 20))"
    assert (time, value) == pytest.approx((3, 40), abs=0.6)
    cell = next(c for c in desk.w.ledger._opened[0] if c.role == "curve")
    between = Scale(cell.value, cell, top).at(1, 30).toPoint()
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Mod.NoModifier, between)
    assert '"ease-in-out")' in moon.stated("radius").text
    later = Scale(cell.value, cell, top).at(3.9, 30).toPoint()
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Mod.NoModifier, later)
    assert moon.stated("radius").text.endswith(', "ease-in-out"), (4, 20, "ease"))'), moon.stated("radius").text
    for _ in range(3):
        desk.session.undo()
    assert moon.stated("radius").text == "keyframes(time, (0, 20), (2, 60, 'ease-out'), (4, 20))", "a step each"


def test_what_the_run_has_set_stands_beside_what_is_stated(desk):
    moon = desk["moon"]
    moon.radius = Formula("25 * 2", 50)
    moon.responses = [{"on": "click", "do": [{"set": "self.radius", "to": 70}, {"set": "self.opacity", "to": 0.5}]}]
    desk.session.select([moon])
    live = alive(desk)
    live.click(600, 100)
    live.advance()
    said = [(c.name, c.text) for c in desk.w.ledger._opened[0] if c.role == "run"]
    assert said == [("radius", "now 70"), ("opacity", "now 0.5")]
    cell, _spot = desk.cell("moon", "number", "radius")
    assert cell.text == "50", "what is stated comes to this still"
    desk.w.run_command("live.mode")
    assert not any(c.role == "run" for c in desk.w.ledger._opened[0]) and moon.opacity == 1


def test_fingers_are_pointers_of_their_own_and_a_pen_says_how_hard(desk):
    for id in ("wall", "moon"):
        desk[id].dragging = "free"
    live = alive(desk)
    device = QTest.createTouchDevice()
    canvas = desk.w.canvas
    for act, one, two in (
        ("press", (200, 160), (600, 100)),
        ("move", (230, 180), (560, 140)),
        ("release", (230, 180), (560, 140)),
    ):
        fingers = QTest.touchEvent(canvas, device)
        for number, place in enumerate((one, two)):
            getattr(fingers, act)(number, at_scene(desk, *place), canvas)
        fingers.commit()
        live.advance()
    assert live.value("wall", "at") == pytest.approx((130, 120), abs=2), "two are dragged at once"
    assert live.value("moon", "at") == pytest.approx((560, 140), abs=2)
    assert {e.pointer for e in live.log if e.name == "down"} == {10, 11}
    assert {e.kind for e in live.log if e.name in ("down", "up")} == {"touch"}
    assert not any(p.inside for p in live.state.pointers.values())
    spot = QPointF(at_scene(desk, 600, 300))
    pen = QTabletEvent(
        QEvent.Type.TabletMove, QPointingDevice.primaryPointingDevice(), spot, QPointF(canvas.mapToGlobal(spot)),
        0.7, 0, 0, 0, 0, 0, Mod.NoModifier, Qt.MouseButton.NoButton, Qt.MouseButton.LeftButton,
    )  # fmt: skip
    QGuiApplication.sendEvent(canvas, pen)
    live.advance()
    assert live.state.pointers[2].pressure == 0.7 and live.display.moment.pressure == 0.7
    desk.w.run_command("live.mode")
    assert not canvas.playing.other(pen), "in Build it is the desk's mouse"


def test_a_handle_of_what_a_formula_gives_stands_where_it_is_and_changes_the_number_in_it(desk):
    moon, scene = desk["moon"], desk.session.scene
    scene.inputs.add("tide", 20.0, low=0, high=100)
    moon.radius = Formula("tide * 2", 7)
    moon.steps = [Step("rotate", Formula("tide"))]
    scene.inputs["tide"] = 30.0
    desk.session.flush()
    desk.session.select([moon])
    start, handles = desk.w.canvas.tool.handles()
    x, y = start.scene_of(next(h for h in handles if h.role == "radius").raw)
    assert math.hypot(x - 600, y - 100) == pytest.approx(60)
    far = 600 + (x - 600) * 70 / 60, 100 + (y - 100) * 70 / 60
    desk.drag((x, y), ((x + far[0]) / 2, (y + far[1]) / 2), far)
    stated = moon.stated("radius")
    by = float(stated.text.removeprefix("tide * 2 + "))
    assert by == pytest.approx(10, abs=1) and moon.radius == 60 + by
    assert moon.stated("steps")[0].values[0].text == "tide"
    desk.session.undo()
    assert moon.stated("radius").text == "tide * 2"


def test_what_is_said_of_a_value_is_said_at_once(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.keys.focus_property("radius")
    editor = edit(desk, "moon", "number", "radius")
    editor.selectAll()
    desk.type("hull.width/2+hull.top/9", editor)
    desk.key(Key.Key_Return, widget=editor)
    assert desk.w.ledger.formula_lines == ("= hull.width/2+hull.top/9",)
    assert [words for words, _node in sources_of(desk.w.canvas)] == ["hull.width, hull.top"]
    desk.session.undo()
    assert desk.w.ledger.formula_lines == ()
    desk.w.ledger.keys.focus_property("radius")
    desk.w.run_command("live.make_input")
    assert desk.w.ledger.formula_lines == ("= radius",)


def test_the_editor_grows_with_what_is_written(desk):
    editor = edit(desk, "moon", "number", "radius")
    before = editor.width()
    editor.selectAll()
    desk.type("max(hull.width, hull.height)", editor)
    needed = editor.fontMetrics().horizontalAdvance(editor.text())
    view = desk.w.ledger.viewport()
    assert before < needed < editor.width() and view.rect().contains(editor.geometry())
    desk.type(" + hull.width" * 30, editor)
    assert view.rect().contains(editor.geometry()), "no farther than there is room"
    desk.key(Key.Key_Escape, widget=editor)
