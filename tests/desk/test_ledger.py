"""The ledger by hand and from the keyboard."""

import gc
import itertools

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from chalcedon.desk.ledger.thumbs import Thumbs
from chalcedon.desk.ledger.tips import tip_of
from chalcedon.evaluate import DisplayList, Node
from chalcedon.formula import Formula
from chalcedon.scene import Circle, Group, Line, Rect, Scene

Key, Mod = Qt.Key, Qt.KeyboardModifier


def focus(desk, id, name, path=()):
    """Selects a shape and puts one of its numbers into focus from the keyboard."""
    desk.session.select([desk[id]])
    desk.w.ledger.setFocus()
    for _ in range(40):
        desk.key(Key.Key_Tab, widget=desk.w.ledger)
        if desk.w.ledger.focus_key == ("number", name, path):
            return
        if desk.w.ledger.editor is not None:
            desk.key(Key.Key_Escape, widget=desk.w.ledger.editor)
    raise AssertionError("never reached")


def test_numbers_are_dragged_turned_and_typed(desk):
    desk.session.select([desk["moon"]])
    desk.drag_cell("moon", "radius", 20)
    assert desk["moon"].radius == 70 and desk.session.scene.undo_name == "Change radius of moon"
    desk.drag_cell("moon", "radius", -4, mods=Mod.ShiftModifier)
    assert desk["moon"].radius == 30
    desk.drag_cell("moon", "radius", -200)
    assert desk["moon"].radius == 0, "a drag stops at the limit"
    desk.click_cell("moon", "number", "radius")
    desk.type("120*2", desk.w.ledger.editor)
    assert desk["moon"].radius == 240, "while it is typed"
    desk.type("+5")
    desk.key(Key.Key_Return)
    assert desk["moon"].radius == 245 and desk.w.ledger.editor is None
    assert len(desk.session.scene.history.done) == 4


def test_escape_and_mistakes_in_a_number(desk):
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "number", "radius")
    desk.type("99", desk.w.ledger.editor)
    desk.key(Key.Key_Escape)
    assert desk["moon"].radius == 50 and not desk.session.scene.undo_name
    desk.click_cell("moon", "number", "radius")
    editor = desk.w.ledger.editor
    right = editor.styleSheet()
    desk.type("-3", editor)
    assert "moon.radius: -3 is negative" in desk.said and editor.styleSheet() != right
    desk.key(Key.Key_A, Mod.ControlModifier)
    desk.type("8")
    assert desk.said == "" and editor.styleSheet() == right, "as it looked before"
    desk.key(Key.Key_A, Mod.ControlModifier)
    desk.type("big")
    assert "nothing called big" in desk.said and desk["moon"].radius == 50, "as before typing began"
    desk.key(Key.Key_Escape)
    assert desk.said == "" and desk["moon"].radius == 50


def test_keyboard_reaches_and_changes_every_number(desk):
    focus(desk, "moon", "at", (1,))
    assert desk.session.value_focus == (desk["moon"], "at", (1,)), "its measure is drawn"
    desk.key(Key.Key_Up, widget=desk.w.ledger)
    desk.key(Key.Key_Down, Mod.ShiftModifier, widget=desk.w.ledger)
    assert desk["moon"].at == (600, 91)
    desk.key(Key.Key_1, widget=desk.w.ledger)
    desk.type("2")
    desk.key(Key.Key_Tab, widget=desk.w.ledger.editor)
    assert desk["moon"].at == (600, 12)
    assert desk.w.ledger.focus_key[1] == "radius" and desk.w.ledger.editor is not None
    desk.key(Key.Key_Return)


def test_a_word_right_before_a_value_stands_for_it(desk):
    """As a label does. One that stands alone, before a gap or at a line's end stands for itself."""
    ledger = desk.w.ledger
    stood, alone = [], []
    for id in ("wall", "boat", "rope"):
        desk.session.select([desk[id]])
        desk.unfold_all(id)
        index = ledger.index_of(desk[id])
        top = ledger.top_of(index) - ledger.verticalScrollBar().value()
        laid = [c for c in ledger.row_cells(index) if c.role != "section" and c.y > 0]
        for word, after in itertools.pairwise(laid):
            if word.role != "word":
                continue
            _, found, _ = ledger.cell_at(word.x + word.w / 2, top + word.y + 14)
            beside = after.y == word.y and 0 <= after.x - word.x - word.w < 8
            (stood if found is after else alone).append(word.text)
            assert (found is after) == (beside and after.live) and found in (word, after), (id, word.text)
    assert {"opacity", "at", "size"} <= set(stood) and alone, (stood, alone)


def test_wheel_changes_the_number_in_focus(desk):
    from PySide6.QtCore import QPointF
    from PySide6.QtGui import QWheelEvent

    focus(desk, "moon", "radius")
    _cell, spot = desk.cell("moon", "number", "radius")
    wheel = QWheelEvent(
        QPointF(spot),
        QPointF(spot),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Mod.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(desk.w.ledger.viewport(), wheel)
    assert desk["moon"].radius == 52


def test_rows_from_the_keyboard(desk):
    ledger = desk.w.ledger
    ledger.setFocus()
    seen = []
    for _ in range(4):
        desk.key(Key.Key_Down, widget=ledger)
        seen += desk.chosen
    assert seen == ["sky", "wall", "boat", "hull"]
    desk.key(Key.Key_Left, widget=ledger)
    assert desk.chosen == ["boat"]
    desk.key(Key.Key_Left, widget=ledger)
    assert [r.shape.id for r in ledger.rows] == ["sky", "wall", "boat", "moon", "rope"], "folded"
    desk.key(Key.Key_Right, widget=ledger)
    desk.key(Key.Key_Down, Mod.ShiftModifier, widget=ledger)
    assert desk.chosen == ["boat", "hull"]


def test_rename_by_key_and_its_mistakes(desk):
    desk.session.select([desk["moon"]])
    desk.w.ledger.setFocus()
    desk.key(Key.Key_F2, widget=desk.w.ledger)
    desk.type("luna")
    desk.key(Key.Key_Return)
    assert "luna" in desk.session.scene and desk.session.scene.undo_name == "Rename moon to luna"
    desk.w.run_command("shape.rename")
    desk.type("wall")
    desk.key(Key.Key_Return)
    assert "taken" in desk.said and "luna" in desk.session.scene


def test_marks_hide_lock_and_unlock(desk):
    desk.click_cell("moon", "eye", opened=False)
    assert not desk["moon"].visible and desk.session.scene.undo_name == "Hide moon"
    desk.click_cell("sky", "lock", opened=False)
    assert not desk["sky"].locked


def test_rows_are_dragged_to_reorder_and_into_groups(desk):
    ledger = desk.w.ledger
    desk.drag_row("wall", ledger.top_of(ledger.index_of(desk["rope"])))
    assert desk.order == ["sky", "boat", "hull", "sail", "moon", "wall", "rope"]
    assert desk.session.scene.undo_name == "Bring wall in front of moon"
    desk.session.select([])
    before = desk.session.node(desk["moon"]).bounds()
    desk.drag_row("moon", ledger.top_of(ledger.index_of(desk["hull"])))
    assert desk["moon"].parent is desk["boat"] and desk.session.scene.undo_name == "Put moon into boat"
    assert desk.session.node(desk["moon"]).bounds() == before, "what is seen stays where it is"
    desk.w.run_command("edit.undo")
    assert desk.order == ["sky", "boat", "hull", "sail", "moon", "wall", "rope"]


def test_rows_are_dragged_where_the_list_is_scrolled_to(desk, qapp):
    desk.session.new(Scene([Circle(id=f"c{i}", at=(i, 0)) for i in range(80)]))
    desk.w.ledger.viewport().grab()
    qapp.processEvents()
    ledger = desk.w.ledger
    ledger.verticalScrollBar().setValue(int(ledger.top_of(30)))
    order = [s.id for s in ledger.rows.shapes(0, 80)]
    desk.drag_row(order[35], ledger.top_of(40))
    assert [s.id for s in ledger.rows.shapes(0, 80)] == [*order[:35], *order[36:40], order[35], *order[40:]]


def test_reordering_from_the_keyboard_in_both_directions(desk):
    desk.session.select([desk["wall"]])
    desk.key(Key.Key_Down, Mod.AltModifier, widget=desk.w.ledger)
    assert desk.order == ["sky", "boat", "hull", "sail", "wall", "moon", "rope"]
    desk.w.run_command("view.flip")
    assert [r.shape.id for r in desk.w.ledger.rows] == ["rope", "moon", "wall", "boat", "sail", "hull", "sky"]
    desk.key(Key.Key_Down, Mod.AltModifier, widget=desk.w.ledger)
    assert desk.order.index("wall") == 1
    desk.w.run_command("view.flip")
    desk.key(Key.Key_End, Mod.AltModifier, widget=desk.w.ledger)
    assert desk.order[-1] == "wall" and desk.session.scene.undo_name == "Bring wall to the front"
    desk.key(Key.Key_End, Mod.AltModifier, widget=desk.w.ledger)
    assert "is at the front already" in desk.said
    desk["wall"].at = (420, 280)
    desk.session.flush()
    desk.key(Key.Key_PageUp, Mod.AltModifier, widget=desk.w.ledger)
    assert desk.session.scene.undo_name == "Send wall behind boat", "past the rope and the moon, which it doesn't meet"


def test_colours_by_picker_and_text(desk):
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "paint", "fill")
    picker = desk.w.ledger.acts.picker
    picker.text.setText("")
    desk.type("lnen", picker.text)
    assert "Did you mean linen?" in picker.complaint.text() and desk["moon"].fill == "#f1e4bd"
    picker.text.clear()
    desk.type("linen", picker.text)
    assert desk["moon"].fill == "linen"
    picker.fields.plane.setFocus()
    QTest.mouseClick(picker.fields.plane, Qt.MouseButton.LeftButton, Mod.NoModifier, QPoint(231, 7))
    assert desk["moon"].fill.startswith("#") and desk["moon"].fill != "#f1e4bd"
    desk.key(Key.Key_Escape, widget=picker)
    assert len(desk.session.scene.history.done) == 1, "one step for the whole visit"
    desk.w.run_command("edit.undo")
    assert desk["moon"].fill == "#f1e4bd"


def test_choices_steps_and_switches(desk):
    def choose(word):
        menu = next(w for w in QApplication.topLevelWidgets() if isinstance(w, QMenu) and w.isVisible())
        next(a for a in menu.actions() if a.text() == word).trigger()
        menu.close()

    desk.session.select([desk["wall"]])
    desk.click_cell("wall", "choice", "anchor")
    choose("center")
    assert (desk["wall"].anchor, desk["wall"].at) == ("center", (200, 160)), "the shape stays, `at` is rewritten"
    desk.click_cell("wall", "offer", "steps")
    choose("rotate")
    desk.click_cell("wall", "add", "steps")
    choose("scale")
    assert [s.op for s in desk["wall"].steps] == ["rotate", "scale"]
    desk.click_cell("wall", "up", "steps", (1,))
    assert [s.op for s in desk["wall"].steps] == ["scale", "rotate"]
    desk.drag_cell("wall", "steps", 30, (1, 0))
    assert desk["wall"].steps[1].values == (45,)
    desk.click_cell("wall", "remove", "steps", (0,))
    assert [s.op for s in desk["wall"].steps] == ["rotate"]
    desk.w.ledger.acts.open_value(desk["wall"], "visible")
    desk.key(Key.Key_Space, widget=desk.w.ledger)
    assert desk["wall"].visible is False
    desk.click_cell("wall", "more", "corners")
    assert len(desk["wall"].corners) == 4


def test_a_formula_shows_what_it_comes_to(desk):
    desk["moon"].at = (Formula("pointer.x - 60", 600), 100)
    desk.session.flush()
    desk.session.select([desk["moon"]])
    cell, _spot = desk.cell("moon", "number", "at", (0,))
    middle = desk.session.scene.size[0] / 2
    assert cell.text == f"{middle - 60:g}" and tip_of(cell, desk.session) == "= pointer.x - 60" and not cell.wrong
    desk.drag_cell("moon", "at", 10, (0,))
    assert desk["moon"].stated("at")[0].text == "pointer.x - 50" and desk["moon"].at == (middle - 50, 100)


@pytest.mark.parametrize("name", ["size", "background"])
def test_the_page_has_a_row_of_its_own(desk, name):
    cell = next(c for c in desk.w.ledger.head_cells() if c.name == name)
    spot = QPoint(round(cell.x + cell.w / 2), 16)
    QTest.mouseClick(desk.w.ledger.viewport(), Qt.MouseButton.LeftButton, Mod.NoModifier, spot)
    if name == "size":
        desk.type("640", desk.w.ledger.editor)
        desk.key(Key.Key_Return)
        assert desk.session.scene.size == (640, 500)
    else:
        desk.w.ledger.acts.picker.text.setText("")
        desk.type("linen", desk.w.ledger.acts.picker.text)
        assert desk.session.scene.background == "linen"
        desk.w.ledger.acts.picker.close()


def test_an_editor_stays_over_its_value_or_ends(desk):
    """Rows move below the hand: by the wheel, by another window, by a command's keys."""
    ledger = desk.w.ledger
    desk.session.select([desk["moon"]])
    desk.click_cell("moon", "number", "radius")
    editor = ledger.editor

    def over_it():
        _cell, spot = desk.cell("moon", "number", "radius")
        return editor.geometry().adjusted(0, -3, 0, 3).contains(spot.x(), spot.y())

    assert over_it()
    with desk.session.step("Add"):
        desk.session.scene.add(Circle(id="buoy"), index=0)
    assert over_it(), "a row above came"
    desk.w.resize(1280, 420)
    QApplication.processEvents()
    ledger.verticalScrollBar().setValue(ledger.verticalScrollBar().value() + 20)
    assert over_it(), "it was scrolled"
    desk.type("77", editor)
    QTest.keyClick(editor, Key.Key_D, Mod.ControlModifier)
    assert ledger.editor is None and desk["moon"].radius == 77 and desk.chosen == ["moon_2"]
    desk.click_cell("moon_2", "number", "radius")
    desk.session.scene.remove(desk["moon_2"])
    desk.session.flush()
    QApplication.processEvents()
    assert ledger.editor is None


def test_what_is_selected_elsewhere_is_unfolded_and_what_is_not_stays_folded(desk):
    ledger = desk.w.ledger
    with desk.session.step("Group"):
        desk.session.scene.add(Group(id="pier", children=[Group(id="post", children=[Circle(id="ring")])]))
    ledger.folded |= {desk["boat"], desk["pier"], desk["post"]}
    ledger.rebuild()
    rows = [r.shape.id for r in ledger.rows]
    assert "hull" not in rows and "post" not in rows
    desk.session.select([desk["ring"]])
    rows = [r.shape.id for r in ledger.rows]
    assert rows[-3:] == ["pier", "post", "ring"] and "hull" not in rows
    assert [r.depth for r in ledger.rows][-3:] == [0, 1, 2] and ledger.index_of(desk["ring"]) == len(rows) - 1


def test_a_double_click_beside_the_values_of_a_group_folds_it(desk):
    ledger = desk.w.ledger
    top = ledger.top_of(ledger.index_of(desk["boat"])) - ledger.verticalScrollBar().value()
    free = QPoint(int(ledger.viewport().width() * 0.68), int(top) + 14)
    assert ledger.cell_at(free.x(), free.y())[1] is None
    rows = len(ledger.rows)
    QTest.mouseDClick(ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, free)
    assert desk["boat"] in ledger.folded and len(ledger.rows) == rows - 2
    QTest.mouseDClick(ledger.viewport(), Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, free)
    assert desk["boat"] not in ledger.folded and len(ledger.rows) == rows


def test_arrows_unfold_a_group_and_go_to_the_child_listed_first(desk):
    for first, last in (("hull", "sail"), ("sail", "hull")):
        desk.session.select([desk["boat"]])
        desk.w.ledger.setFocus()
        desk.key(Key.Key_Left, widget=desk.w.ledger)
        assert desk["boat"] in desk.w.ledger.folded
        desk.key(Key.Key_Right, widget=desk.w.ledger)
        assert desk["boat"] not in desk.w.ledger.folded and desk.chosen == ["boat"]
        desk.key(Key.Key_Right, widget=desk.w.ledger)
        assert desk.chosen == [first]
        desk.key(Key.Key_Down, widget=desk.w.ledger)
        assert desk.chosen == [last]
        desk.key(Key.Key_Left, widget=desk.w.ledger)
        assert desk.chosen == ["boat"]
        desk.w.run_command("view.flip")


def test_marks_of_a_row_are_steps_with_their_own_words(desk):
    acts, scene = desk.w.ledger.acts, desk.session.scene
    for name, words in (("visible", ("Hide", "Show")), ("locked", ("Lock", "Unlock"))):
        for word in words:
            acts.switch(desk["wall"], name)
            assert scene.undo_name == f"{word} wall"
    acts.switch(desk["rope"], "locked")
    desk.session.select([desk["wall"], desk["moon"]])
    acts.switch(desk["moon"], "locked")
    assert scene.undo_name == "Lock 2 shapes" and desk["wall"].locked and desk["moon"].locked
    acts.switch(desk["rope"], "locked")
    assert scene.undo_name == "Unlock rope" and desk["wall"].locked, "one that isn't among them is alone"


def test_the_menu_of_a_row_is_about_what_is_selected_with_it(desk):
    ledger = desk.w.ledger

    def ask(id):
        top = ledger.top_of(ledger.index_of(desk[id])) - ledger.verticalScrollBar().value()
        spot = QPoint(90, int(top) + 14)
        QApplication.sendEvent(
            ledger.viewport(),
            QContextMenuEvent(QContextMenuEvent.Reason.Mouse, spot, ledger.viewport().mapToGlobal(spot)),
        )

    asked = []
    ledger.asked_menu.disconnect()
    ledger.asked_menu.connect(lambda spot: asked.append(desk.chosen))
    desk.session.select([desk["wall"], desk["moon"]])
    ask("moon")
    ask("rope")
    assert asked == [["wall", "moon"], ["rope"]]


@pytest.mark.parametrize("x", [12345.678, 1234567.25, 0.125, -99.5])
def test_an_arrow_in_an_editor_keeps_every_digit(desk, x):
    desk["wall"].at = (x, 0)
    desk.session.select([desk["wall"]])
    desk.click_cell("wall", "number", "at", (0,))
    desk.key(Qt.Key.Key_Up, widget=desk.w.ledger.editor)
    assert desk.w.ledger.editor.text() == repr(x + 1) and desk["wall"].at == (x + 1, 0)
    desk.key(Qt.Key.Key_Return, widget=desk.w.ledger.editor)


def test_what_was_there_is_seen_until_a_formula_can_be_worked_out(desk):
    for role, name, path, text in (
        ("text", "fill", (), "mix(wall"),
        ("text", "label", (), "= 'a' +"),
        ("flag", "visible", (), "time > "),
        ("number", "at", (0,), "1 + time *"),
    ):
        before = desk["wall"].stated(name)
        desk.session.select([desk["wall"]])
        desk.w.ledger.unfold(desk["wall"], name)
        cell, _ = desk.cell("wall", role, name, path)
        desk.w.ledger.acts.open_editor(cell)
        desk.type(text, desk.w.ledger.editor)
        typed = desk["wall"].stated(name)
        assert (typed[0] if path else typed).last == (before[0] if path else before), name
        desk.key(Qt.Key.Key_Escape, widget=desk.w.ledger.editor)
        assert desk["wall"].stated(name) == before


def test_a_small_picture_is_of_the_shape_that_is_there_now(qapp):
    """Whatever stood in its place in memory before; and of shapes that are gone few are kept."""
    scene = Scene(size=(100, 100))
    display = DisplayList(scene)
    thumbs = Thumbs(display, 1.0)
    makers = (
        lambda: Circle(at=(50, 50), radius=20, fill="#b8482a"),
        lambda: Rect(at=(20, 40), size=(60, 20), fill="#2c5d8f"),
        lambda: Line(at=(10, 10), to=(60, 70), stroke="#3e7f65", stroke_width=9),
    )
    for i in range(9):
        shape = scene.add(makers[i % 3]())
        display.update()
        thumbs.begin(1.0)
        seen, fresh = (t.of(display.node(shape)).toImage() for t in (thumbs, Thumbs(display, 1.0)))
        assert seen == fresh, f"{i}: {shape.kind}"
        scene.remove(shape)
        display.update()
        gc.collect()
    for _ in range(900):
        shape = scene.add(Circle(radius=5))
        display.update()
        thumbs.begin(1.0)
        thumbs.of(display.node(shape))
        scene.remove(shape)
    display.update()
    gc.collect()
    assert sum(isinstance(o, Node) and o.shape.scene is None for o in gc.get_objects()) < 450
